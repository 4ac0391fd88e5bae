import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { basename, dirname, extname, join, resolve } from 'node:path';
import { readFileSync } from 'node:fs';
import { placeTips } from '#core/assembly';
import { cookRecipe, packAssembly, readRecipe, verifyPackage } from '#core/handover';
import { type GeometryMode, makeGeometry, PLAN_CHORDS, provenPlan } from '#core/making';
import { type Issue, IssueError, issue, say, unwrap } from '#core/issues';
import { type FoundConnection, proposeReading, type ReadingKind } from '#core/reading';
import { readDesignation, sayConnection } from '#core/standards';
import { hasBrep, type Kernel, loadFlatBooleans, loadKernel, readModelFile, sampleModelFile, writeRevolvedStep, writeStepPart } from '#core/kernel';
import { ENCLOSURE_SLACK, type Frame, fromZAndX, IDENTITY, type Vec3, roundTo } from '#core/math';
import { triangleCount, writeGlb, writeStl, writeThreeMf } from '#core/mesh';
import { type BoreChoice, listPieces } from '#core/outline';
import { type Check, safeFileName } from '#core/records';
import { table } from './table.ts';

/** What one command is asked to do; plain data, it crosses to the worker. */
export type CommandRequest =
  | { command: 'inspect'; file: string }
  | { command: 'propose'; file: string; kind: ReadingKind }
  | {
      command: 'envelope';
      file: string;
      mode: GeometryMode | 'plan';
      tolerance: number;
      axis?: number[];
      bodies?: string[];
      triangles?: number;
      closeBelow?: number;
      bores?: BoreChoice;
      bridge?: number;
      out: string;
    }
  | { command: 'assemble'; file: string; out: string }
  | { command: 'designation'; code: string }
  | { command: 'verify'; file: string };

export interface CommandOutput {
  readonly json: unknown;
  readonly text: string;
  readonly warnings: readonly string[];
  /** True where a check failed: exit code 4. */
  readonly checkFailed: boolean;
}

/** How a command ended. */
export type Outcome = { kind: 'done'; output: CommandOutput } | { kind: 'failed'; issues: readonly Issue[] } | { kind: 'crashed'; text: string };

type Say = (text: string) => void;

/** Runs a command, whatever comes of it. */
export async function answer(request: CommandRequest, progress: Say): Promise<Outcome> {
  try {
    return { kind: 'done', output: await runCommand(request, progress) };
  } catch (error) {
    if (error instanceof IssueError) return { kind: 'failed', issues: error.issues };
    return { kind: 'crashed', text: error instanceof Error ? `${error.name}: ${error.message}` : String(error) };
  }
}

// Throws an IssueError where its input cannot be used.
async function runCommand(request: CommandRequest, progress: Say): Promise<CommandOutput> {
  if (request.command === 'designation') return designation(request.code);
  const bytes = await readInput(request.file);
  const kernel = await loadKernel();
  switch (request.command) {
    case 'inspect':
      return inspect(kernel, bytes, basename(request.file), progress);
    case 'propose':
      return propose(kernel, bytes, request, progress);
    case 'envelope':
      return envelope(kernel, bytes, request, progress);
    case 'assemble':
      return assemble(kernel, bytes, request, progress);
    case 'verify':
      return verify(kernel, bytes, basename(request.file));
  }
}

// The words of a designation's fields, with their units.
const FIELD_WORDS: Record<string, [words: string, unit: '' | 'mm' | 'deg']> = {
  standard: ['standard', ''],
  insertShape: ['insert shape', ''],
  includedAngle: ['included angle EPSR', 'deg'],
  clearance: ['clearance', 'deg'],
  inscribedCircle: ['inscribed circle IC', 'mm'],
  edgeLength: ['edge length', 'mm'],
  thickness: ['thickness S', 'mm'],
  noseRadius: ['nose radius RE', 'mm'],
  enteringAngle: ['entering angle KAPR', 'deg'],
  facing: ['for facing', ''],
  hand: ['hand', ''],
  shankHeight: ['shank height', 'mm'],
  shankWidth: ['shank width', 'mm'],
  shankDiameter: ['shank diameter', 'mm'],
  toolLength: ['tool length', 'mm'],
  functionalWidth: ['usual functional width WF', 'mm'],
};

function designation(code: string): CommandOutput {
  const said = unwrap(readDesignation(code));
  const rows = Object.entries(FIELD_WORDS).flatMap(([key, [words, unit]]) => {
    const value = said[key as keyof typeof said];
    return value === undefined ? [] : [[words, `${typeof value === 'boolean' ? (value ? 'yes' : 'no') : value}${unit ? ` ${unit}` : ''}`]];
  });
  return { json: said, text: `${said.code}\n${table(['field', 'value'], rows)}`, warnings: [], checkFailed: false };
}

async function readInput(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file);
  } catch (error) {
    const text = (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'it does not exist' : error instanceof Error ? error.message : String(error);
    throw new IssueError([issue('mesh.broken', { file, text })]);
  }
}

async function writeOutput(path: string, bytes: Uint8Array): Promise<void> {
  await mkdir(dirname(resolve(path)), { recursive: true });
  await writeFile(path, bytes);
}

const number = (v: number, digits = 3) => roundTo(v, digits).toFixed(digits);
const vector = (v: Vec3) => v.map((c) => number(c)).join(', ');

async function inspect(kernel: Kernel, bytes: Uint8Array, file: string, progress: Say): Promise<CommandOutput> {
  const { model, warnings } = unwrap(await readModelFile(kernel, bytes, file, { exactProperties: true, onProgress: (_, text) => progress(text) }));
  const bodies = model.bodies.map((b) => ({
    id: b.id,
    name: b.name,
    ...(b.colour ? { colour: b.colour } : {}),
    volume: b.volume,
    area: b.area,
    bbox: b.bbox,
    centroid: b.centroid,
    faces: b.faces.length,
    edges: b.edges.length,
    triangles: triangleCount(b.mesh),
    closed: b.closed,
  }));
  const rows = bodies.map((b) => [
    b.id,
    b.name,
    number(b.volume, 1),
    number(b.area, 1),
    String(b.faces),
    String(b.edges),
    String(b.triangles),
    b.closed ? 'yes' : 'NO',
    `${vector(b.bbox.min)} to ${vector(b.bbox.max)}`,
  ]);
  return {
    json: { format: model.format, unit: model.unit, unitScale: model.unitScale, bodies },
    text: `${file}: ${model.format}, ${model.unit} (1 = ${model.unitScale} mm)\n${table(['body', 'name', 'volume mm3', 'area mm2', 'faces', 'edges', 'triangles', 'closed', 'box mm'], rows)}`,
    warnings: warnings.map(say),
    checkFailed: false,
  };
}

async function propose(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'propose' }, progress: Say): Promise<CommandOutput> {
  const file = basename(request.file);
  const { model, warnings } = unwrap(await readModelFile(kernel, bytes, file, { onProgress: (_, text) => progress(text) }));
  const reading = proposeReading(model, request.kind);
  const flat = ({ frame, faces: _, ...rest }: FoundConnection) => ({ ...frame, ...rest });
  const { kind, roles, axis, mount, seats } = reading;
  const tips = reading.tips.map(({ body: _, towards: __, rake: ___, faces: ____, ...tip }) => tip);
  const rows = [
    ...roles.map((r) => [r.body, r.role, r.confidence.toFixed(2), r.evidence]),
    ...(mount ? [['mount', sayConnection(mount.connection), mount.confidence.toFixed(2), `at ${vector(mount.frame.origin)}; ${mount.evidence}`]] : []),
    ...seats.map((s) => ['seat', sayConnection(s.connection), s.confidence.toFixed(2), `at ${vector(s.frame.origin)}; ${s.evidence}`]),
    ...tips.map((t) => [
      'tip',
      `RE ${number(t.noseRadius)}, KAPR ${t.enteringAngle}, ${t.hand}`,
      t.confidence.toFixed(2),
      `at ${vector(t.virtualTip)}; ${t.evidence}`,
    ]),
  ];
  return {
    json: { kind, roles, ...(axis ? { axis } : {}), ...(mount ? { mount: flat(mount) } : {}), seats: seats.map(flat), tips, warnings: reading.warnings },
    text: `${file}: ${kind}\n${table(['what', 'proposed', 'sure', 'evidence'], rows)}`,
    warnings: [...warnings.map(say), ...reading.warnings.map((w) => w.message)],
    checkFailed: false,
  };
}

async function envelope(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'envelope' }, progress: Say): Promise<CommandOutput> {
  const file = basename(request.file);
  const { model } = unwrap(await readModelFile(kernel, bytes, file));
  const ids = request.bodies ?? model.bodies.map((b) => b.id);
  const a = request.axis ?? [0, 0, 0, 0, 0, 1];
  const frame = fromZAndX([a[0], a[1], a[2]], [a[3], a[4], a[5]]);
  if (request.mode === 'plan')
    return planOutline(kernel, bytes, { ...request, bodies: ids }, request.axis ? frame : (proposeReading(model).mount?.frame ?? frame), progress);
  const made = unwrap(
    await makeGeometry(kernel, {
      bytes,
      file,
      bodies: ids,
      mode: request.mode,
      tolerance: request.tolerance,
      ...(request.closeBelow === undefined ? {} : { closeBelow: request.closeBelow }),
      ...(request.triangles === undefined ? {} : { triangles: request.triangles }),
      ...(request.bores ? { bores: request.bores } : {}),
      ...(request.bridge === undefined ? {} : { bridge: request.bridge }),
      frame,
      // An axis that is given is one that the tool spins about.
      spins: request.axis !== undefined,
      onProgress: (_, text) => progress(text),
    }),
  );
  const name = safeFileName(basename(request.out, extname(request.out)));
  const kind = extname(request.out).toLowerCase();
  const named = [{ name, colour: '#59626b', mesh: made.mesh }];
  if (kind === '.stl') await writeOutput(request.out, writeStl(made.mesh));
  else if (kind === '.glb') await writeOutput(request.out, await writeGlb(named));
  else if (kind === '.3mf') await writeOutput(request.out, writeThreeMf(named));
  else if (made.profile) {
    await writeOutput(request.out, writeRevolvedStep(kernel, made.profile, frame, name));
  } else if (!hasBrep(bytes, file) || made.parts.some((p) => p.mode !== 'exact')) {
    throw new IssueError([issue('mesh.no-step', { file })]);
  } else {
    const parts = ids.map((id) => ({ id, name: model.bodies.find((b) => b.id === id)?.name ?? id }));
    await writeOutput(request.out, unwrap(writeStepPart(kernel, { bytes, file, bodies: parts, targetFromFile: IDENTITY })));
  }
  const profile = made.profile ? listPieces(made.profile) : undefined;
  const { trianglesIn, trianglesOut, volumeIn, volumeOut, growth, closed } = made;
  const rows = [
    ['triangles', String(trianglesIn), String(trianglesOut)],
    ['volume mm3', number(volumeIn, 1), number(volumeOut, 1)],
  ];
  return {
    json: { trianglesIn, trianglesOut, volumeIn, volumeOut, growth, closed, ...(profile ? { profile } : {}), milliseconds: Math.round(made.milliseconds) },
    text: `${table(['', 'before', 'after'], rows)}\ngrowth ${number(growth.min, 4)} to ${number(growth.max, 4)} mm, mean ${number(growth.mean, 4)}; ${closed ? 'closed' : 'NOT CLOSED'}${profile ? `; ${profile.length} pieces` : ''}\n${made.parts.map((p) => `${p.bodies.join(', ')}: ${p.why}${p.inside.length > 0 ? `; ${p.inside.join(', ')} in it` : ''}`).join('\n')}\nwrote ${request.out}`,
    warnings: [],
    checkFailed: growth.min < -ENCLOSURE_SLACK || !closed,
  };
}

// The plan outline: its lines and arcs in (z, x) of the frame, and as a solid over the bodies' height.
async function planOutline(
  kernel: Kernel,
  bytes: Uint8Array,
  { file, bodies, tolerance, out }: { file: string; bodies: readonly string[]; tolerance: number; out: string },
  frame: Frame,
  progress: Say,
): Promise<CommandOutput> {
  const start = performance.now();
  const kind = extname(out).toLowerCase();
  if (kind === '.step') throw new IssueError([issue('mesh.no-step', { file: basename(file) })]);
  const sampled = unwrap(
    await sampleModelFile(kernel, bytes, basename(file), { chordTolerance: PLAN_CHORDS * tolerance, ids: bodies, onProgress: (_, text) => progress(text) }),
  );
  progress('Finding the outline');
  const { loops, growth, low, high, steps, mesh, proof } = unwrap(provenPlan(sampled, frame, { tolerance, flat: await loadFlatBooleans(kernel), steps: true }));
  const named = [{ name: safeFileName(basename(out, extname(out))), colour: '#59626b', mesh }];
  await writeOutput(out, kind === '.stl' ? writeStl(mesh) : kind === '.3mf' ? writeThreeMf(named) : await writeGlb(named));
  const [largest] = [...loops].sort((a, b) => b.pieces.length - a.pieces.length);
  const trianglesIn = sampled.reduce((n, b) => n + triangleCount(b.mesh), 0);
  const json = {
    trianglesIn,
    trianglesOut: triangleCount(mesh),
    volumeIn: proof.volumeBefore,
    volumeOut: proof.volumeAfter,
    growth,
    closed: proof.closed,
    profile: largest.pieces,
    outlines: loops,
    low,
    high,
    steps: steps.map((s) => ({ low: s.low, high: s.high, outlines: s.loops })),
    frame,
    milliseconds: Math.round(performance.now() - start),
  };
  const rows = loops.map((l, i) => [
    String(i + 1),
    l.hole ? 'hole' : 'material',
    String(l.pieces.filter((p) => p.kind === 'line').length),
    String(l.pieces.filter((p) => p.kind === 'arc').length),
  ]);
  return {
    json,
    text: `${table(['outline', '', 'lines', 'arcs'], rows)}\ngrowth ${number(growth.min, 4)} to ${number(growth.max, 4)} mm across the outline; height ${number(low)} to ${number(high)} in ${steps.length} ${steps.length === 1 ? 'step' : 'steps'}\nwrote ${out}`,
    warnings: [],
    checkFailed: growth.min < -ENCLOSURE_SLACK || !proof.closed,
  };
}

async function assemble(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'assemble' }, progress: Say): Promise<CommandOutput> {
  const whole = unwrap(readRecipe(new TextDecoder().decode(bytes), basename(request.file)));
  // A recipe may describe more components than this assembly has pieces of.
  const recipe = { ...whole, components: whole.components.filter((c) => whole.pieces.some((p) => p.component === c.key)) };
  const folder = dirname(resolve(request.file));
  const now = new Date().toISOString();
  const cooked = unwrap(
    await cookRecipe(
      kernel,
      recipe,
      (name) => {
        try {
          return readFileSync(resolve(folder, name));
        } catch {
          throw new IssueError([issue('recipe.missing', { file: basename(request.file), field: 'file', text: name })]);
        }
      },
      { now, onProgress: (_, text) => progress(text) },
    ),
  );
  const packed = unwrap(await packAssembly(kernel, { ...cooked, now, onProgress: (_, text) => progress(text) }));
  const { manifest } = packed;
  const path = join(request.out, `${safeFileName(recipe.name)}.zip`);
  await writeOutput(path, packed.bytes);
  const tips = placeTips(cooked.assembly, cooked.components);
  const pieces = manifest.pieces.map((p) => ({
    piece: p.piece,
    name: p.name,
    component: p.componentId,
    mountInGauge: p.mountInGauge,
    parts: p.parts.map(({ profile: _, ...rest }) => rest),
  }));
  return {
    json: { gaugeLength: manifest.gaugeLength, tips, pieces, checks: manifest.checks, package: path },
    text: `${tipTable(tips)}\n${checkTable(manifest.checks)}\nwrote ${path}`,
    warnings: cooked.warnings.map(say),
    checkFailed: manifest.checks.some((c) => c.state === 'fail'),
  };
}

async function verify(kernel: Kernel, bytes: Uint8Array, file: string): Promise<CommandOutput> {
  const { name, checks } = unwrap(await verifyPackage(kernel, bytes, file));
  return { json: { name, checks }, text: `${name}\n${checkTable(checks)}`, warnings: [], checkFailed: checks.some((c) => c.state === 'fail') };
}

const tipTable = (tips: ReturnType<typeof placeTips>) =>
  table(
    ['piece', 'tip', 'L', 'Q', 'Y', 'nose radius'],
    tips.map((t) => [t.piece, t.name, number(t.L), number(t.Q), number(t.Y), number(t.noseRadius)]),
  );
const checkTable = (checks: readonly Check[]) =>
  table(
    ['state', 'check', ''],
    checks.map((c) => [c.state.toUpperCase(), c.code, c.message]),
  );
