import { basename, extname } from 'node:path';
import { looseSpecSchema, type MadePart, makeComponent, type PlacedConnection, readWords, sayUnmade, VALUES } from '#core/components';
import { IssueError, issue, unwrap } from '#core/issues';
import { type Kernel, readModelFile } from '#core/kernel';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { readText } from '#core/records';
import { writeShapeFile } from '#core/sources';
import { sayConnection } from '#core/standards';
import type { CommandOutput, CommandRequest } from '../request.ts';
import { table } from '../table.ts';
import { tellBodies } from './bodies.ts';
import { number, readInput, vector, writeOutput } from './io.ts';

/** A component of data: from a specification's file, or from words as they stand on a box. */
export async function component(kernel: () => Promise<Kernel>, request: CommandRequest & { command: 'component' }): Promise<CommandOutput> {
  const { file, texts, out, factsOnly } = request;
  const parts = file === undefined ? texts.map((t) => fromWords(t)) : [await fromFile(file)];
  const several = texts.length > 1;
  const results = [];
  for (const { part, kind } of parts)
    results.push({ ...answer(part, kind), ...(several || factsOnly ? {} : { bodies: await bodiesOf(await kernel(), part) }) });
  if (out) {
    const format = (['step', 'stl', 'glb', '3mf'] as const).find((k) => extname(out).toLowerCase() === `.${k}`);
    if (!format) throw new IssueError([issue('outline.no-solid', { kind: extname(out) })]);
    await writeOutput(out, unwrap(await writeShapeFile(kernel, parts[0].part.shape, parts[0].part.name, format)));
  }
  return {
    json: several ? { results } : results[0],
    text: parts.map(({ part, kind }) => said(part, kind)).join('\n\n') + (out ? `\nwrote ${out}` : ''),
    warnings: parts.flatMap(({ part }) => part.warnings),
    checkFailed: false,
  };
}

interface Named {
  readonly kind: string;
  readonly part: MadePart;
}

async function fromFile(file: string): Promise<Named> {
  const name = basename(file);
  const spec = unwrap(readText(looseSpecSchema, new TextDecoder().decode(await readInput(file)), name, 'specification'));
  return made(spec.kind, makeComponent(spec), name);
}

function fromWords(text: string): Named {
  const { spec, unknown } = readWords(text);
  const [odd] = unknown;
  if (odd) throw new IssueError([issue('component.odd-word', { text: odd.text, at: odd.at + 1, why: odd.why })]);
  if (!spec) throw new IssueError([issue('component.no-kind', { text: text.slice(0, 60) || 'nothing' })]);
  return made(spec.kind, makeComponent(spec), text);
}

function made(kind: string, m: ReturnType<typeof makeComponent>, name: string): Named {
  if (m.ok) return { kind, part: m.part };
  throw new IssueError(sayUnmade(m).map((text) => issue('component.unmade', { name, text })));
}

const flat = ({ frame, connection, evidence }: PlacedConnection) => ({ ...frame, connection, evidence });

function answer(part: MadePart, kind: string) {
  return {
    kind,
    name: part.name,
    facts: part.values,
    derived: part.derived,
    assumed: part.assumed,
    ...(part.mount ? { mount: flat(part.mount) } : {}),
    seats: part.seats.map(flat),
    tips: part.tips.map(({ noseRadius, noseCentre, towards }) => ({ noseRadius, noseCentre, ...(towards ? { towards } : {}) })),
    warnings: part.warnings,
  };
}

async function bodiesOf(kernel: Kernel, part: MadePart) {
  const { model } = unwrap(await readModelFile(kernel, writeSolidShape(part.shape), shapeFileName(part.name), { exactProperties: true }));
  return tellBodies(model);
}

function said(part: MadePart, kind: string): string {
  const from = (name: string): string =>
    part.derived.find((d) => d.name === name)?.formula ??
    (part.assumed.find((a) => a.name === name) ? `assumed: ${part.assumed.find((a) => a.name === name)?.why}` : 'given');
  const rows = (Object.entries(part.values) as [keyof typeof VALUES, number][]).map(([name, value]) => [name, VALUES[name].meaning, number(value), from(name)]);
  const marks = [
    ...(part.mount ? [['mount', sayConnection(part.mount.connection), `at ${vector(part.mount.frame.origin)}`, part.mount.evidence]] : []),
    ...part.seats.map((s) => ['seat', sayConnection(s.connection), `at ${vector(s.frame.origin)}`, s.evidence]),
    ...part.tips.map((t) => ['tip', `radius ${number(t.noseRadius)}`, `at ${vector(t.noseCentre)}`, t.evidence]),
  ];
  return `${part.name}: ${kind}\n${table(['name', 'meaning', 'value', 'from'], [...rows, ...marks])}${part.without ? `\nnot drawn: ${part.without}` : ''}`;
}
