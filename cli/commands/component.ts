import { basename, extname } from 'node:path';
import { type ComponentSpec, looseSpecSchema, type MadePart, makeComponent, type PlacedConnection, readWords, sayUnmade, VALUES } from '#core/components';
import { AS_USUAL, type ToolUse } from '#core/cutting';
import { type Issue, IssueError, issue, say, unwrap } from '#core/issues';
import { type Kernel, readModelFile } from '#core/kernel';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { type KnownUse, readText, useOf } from '#core/records';
import { componentOfSpec, writeShapeFile } from '#core/sources';
import { sayConnection } from '#core/standards';
import type { CommandOutput, CommandRequest } from '../request.ts';
import { table } from '../table.ts';
import { tellBodies } from './bodies.ts';
import { number, readInput, vector, writeOutput } from './io.ts';

/** A component of data: from a specification's file, or from words as they stand on a box. */
export async function component(kernel: () => Promise<Kernel>, request: CommandRequest & { command: 'component' }): Promise<CommandOutput> {
  const { file, texts, out, factsOnly } = request;
  if (texts.length > 1) return ofSeveral(kernel, texts, factsOnly);
  const parts = [file === undefined ? fromWords(texts[0]) : await fromFile(file)];
  const results = [];
  for (const named of parts) results.push({ ...answer(named), ...(factsOnly ? {} : { bodies: await bodiesOf(await kernel(), named.part) }) });
  if (out) {
    const format = (['step', 'stl', 'glb', '3mf'] as const).find((k) => extname(out).toLowerCase() === `.${k}`);
    if (!format) throw new IssueError([issue('outline.no-solid', { kind: extname(out) })]);
    await writeOutput(out, unwrap(await writeShapeFile(kernel, parts[0].part.shape, parts[0].part.name, format)));
  }
  return {
    json: results[0],
    text: parts.map(said).join('\n\n') + (out ? `\nwrote ${out}` : ''),
    warnings: parts.flatMap(({ part }) => part.warnings),
    checkFailed: false,
  };
}

// Each of several lines for itself: one that says nothing does not hold up the others.
async function ofSeveral(kernel: () => Promise<Kernel>, texts: readonly string[], factsOnly: boolean): Promise<CommandOutput> {
  const results = [];
  const lines: string[] = [];
  let failed = 0;
  for (const text of texts)
    try {
      const named = fromWords(text);
      results.push({ text, ok: true, ...answer(named), ...(factsOnly ? {} : { bodies: await bodiesOf(await kernel(), named.part) }) });
      lines.push(said(named));
    } catch (error) {
      if (!(error instanceof IssueError)) throw error;
      failed++;
      results.push({ text, ok: false, error: { message: error.issues.map(say).join(' '), ...placeIn(error.issues) } });
      lines.push(`${text}: ${error.issues.map(say).join(' ')}`);
    }
  return { json: { results }, text: lines.join('\n\n'), warnings: [], checkFailed: failed > 0 };
}

// Which characters of a line an issue is about, from 1.
function placeIn([{ values }]: readonly Issue[]): { readonly from?: number; readonly to?: number } {
  const [at, text] = [Number(values.at), String(values.text ?? '')];
  return Number.isFinite(at) ? { from: at, to: at + text.length - 1 } : {};
}

interface Named {
  readonly kind: string;
  readonly part: MadePart;
  /** How it is used: what was said, and what is usual; of what holds tools there is none. */
  readonly use: KnownUse | null;
}

async function fromFile(file: string): Promise<Named> {
  const name = basename(file);
  const spec = unwrap(readText(looseSpecSchema, new TextDecoder().decode(await readInput(file)), name, 'specification'));
  return made(spec, AS_USUAL, name);
}

function fromWords(text: string): Named {
  const { spec, use, unknown } = readWords(text);
  const [odd] = unknown;
  if (odd) throw new IssueError([issue('component.odd-word', { text: odd.text, at: odd.at + 1, why: odd.why })]);
  if (!spec) throw new IssueError([issue('component.no-kind', { text: text.slice(0, 60) || 'nothing' })]);
  return made(spec, use, text);
}

function made(spec: ComponentSpec, use: ToolUse, name: string): Named {
  const m = makeComponent(spec);
  if (!m.ok) throw new IssueError(sayUnmade(m).map((text) => issue('component.unmade', { name, text })));
  return { kind: spec.kind, part: m.part, use: useOf(componentOfSpec(spec, m.part, { id: name, name, now: '', use })) };
}

const flat = ({ frame, connection, evidence }: PlacedConnection) => ({ ...frame, connection, evidence });

function answer({ part, kind, use }: Named) {
  return {
    kind,
    name: part.name,
    facts: part.values,
    derived: part.derived,
    assumed: part.assumed,
    ...(part.mount ? { mount: flat(part.mount) } : {}),
    seats: part.seats.map(flat),
    ...(use ? { use: tellUse(use) } : {}),
    tips: part.tips.map(({ noseRadius, noseCentre, towards }) => ({ noseRadius, noseCentre, ...(towards ? { towards } : {}) })),
    warnings: part.warnings,
  };
}

// Surface speed in m/min, feed in mm for a tooth or a revolution, depth in mm.
const tellUse = ({ usual, cuttingMaterial, sense, coolant, groups }: KnownUse) => ({
  cuttingMaterial,
  ...(sense ? { sense } : {}),
  coolant,
  feedPer: usual.feedPerTooth ? 'tooth' : 'revolution',
  groups,
});

async function bodiesOf(kernel: Kernel, part: MadePart) {
  const { model } = unwrap(await readModelFile(kernel, writeSolidShape(part.shape), shapeFileName(part.name), { exactProperties: true }));
  return tellBodies(model);
}

function said({ part, kind, use }: Named): string {
  const from = (name: string): string =>
    part.derived.find((d) => d.name === name)?.formula ??
    (part.assumed.find((a) => a.name === name) ? `assumed: ${part.assumed.find((a) => a.name === name)?.why}` : 'given');
  const rows = (Object.entries(part.values) as [keyof typeof VALUES, number][]).map(([name, value]) => [name, VALUES[name].meaning, number(value), from(name)]);
  const marks = [
    ...(part.mount ? [['mount', sayConnection(part.mount.connection), `at ${vector(part.mount.frame.origin)}`, part.mount.evidence]] : []),
    ...part.seats.map((s) => ['seat', sayConnection(s.connection), `at ${vector(s.frame.origin)}`, s.evidence]),
    ...(use
      ? [
          [
            'use',
            [use.cuttingMaterial, use.sense ?? '', use.coolant].filter(Boolean).join(', '),
            `${use.groups.P?.surfaceSpeed ?? '–'} m/min in steel`,
            use.usual.operation,
          ],
        ]
      : []),
    ...part.tips.map((t) => ['tip', `radius ${number(t.noseRadius)}`, `at ${vector(t.noseCentre)}`, t.evidence]),
  ];
  return `${part.name}: ${kind}\n${table(['name', 'meaning', 'value', 'from'], [...rows, ...marks])}${part.without ? `\nnot drawn: ${part.without}` : ''}`;
}
