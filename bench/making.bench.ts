// One press on ordinary models: what `auto` takes against its winning forms alone, against opening the file, and what sampling takes against the kernel's own
// tessellation. Medians over models of all kinds, in one run.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type GeometryPart, makeGeometry } from '#core/making';
import { type Kernel, loadKernel, OpenModel, readModelFile } from '#core/kernel';
import { DISPLAY_ANGLE_RAD } from '#core/math';
import { proposeReading, spinsAsRead } from '#core/reading';
import { threadCrew } from '../cli/thread-crew.ts';
import { type BenchRow, medianMs } from './measure.ts';
import { ODD_MODELS, oddModel } from './odd-models.ts';

const TOLERANCE = 0.05;
const CHORD = 0.2 * TOLERANCE;
const DEMO = ['collet-chuck-63-32', 'sleeve-32-16', 'station-block-40', 'hub-face-holder-25', 'hub-bore-bar-16-inch'];
const CORPUS = ['holder-3', 'holder-12', 'adapter-3', 'cutter-b3', 'block-7', 'boring-7', 'grooving-1', 'threading-1', 'turning-9'];

interface Measured {
  readonly name: string;
  readonly importMs: number;
  readonly autoMs: number;
  readonly winnerMs: number;
  readonly makingMs: number;
  readonly proofMs: number;
  readonly samplingMs: number;
  readonly kernelMs: number;
  readonly triangles: number;
}

export async function benchMaking(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const read = (folder: string, name: string) => ({
    bytes: new Uint8Array(readFileSync(join(import.meta.dirname, '../demo', folder, `${name}.step`))),
    file: `${name}.step`,
  });
  const models = [...DEMO.map((n) => read('models', n)), ...CORPUS.map((n) => read('corpus/models', n)), ...(await Promise.all(ODD_MODELS.map(oddModel)))];
  const all: Measured[] = [];
  for (const { bytes, file } of models) all.push(await measure(kernel, bytes, file));
  for (const m of all)
    console.log(
      `${m.name.padEnd(28)} ${String(m.triangles).padStart(6)} tri  open ${ms(m.importMs)}  auto ${ms(m.autoMs)}  winner ${ms(m.winnerMs)} (sampling ${ms(m.samplingMs)}, kernel's ${ms(m.kernelMs)}; making ${ms(m.makingMs)}, proof ${ms(m.proofMs)})`,
    );
  const ratio = (what: string, of: (m: Measured) => number, limit: number): BenchRow => ({ what, value: median(all.map(of)), unit: 'x', limit });
  return [
    ratio('auto against its winning forms alone, median of 17 models', (m) => m.autoMs / m.winnerMs, 1.5),
    ratio("sampling against the kernel's own tessellation", (m) => m.samplingMs / m.kernelMs, 1.5),
    ratio('making and proof of the winner against opening the file', (m) => m.winnerMs / m.importMs, 2),
    ratio('proof against sampling and making', (m) => m.proofMs / (m.samplingMs + m.makingMs), 1),
    { what: 'auto, median', value: median(all.map((m) => m.autoMs)), unit: 'ms', limit: 3000 },
    { what: 'auto, longest', value: Math.max(...all.map((m) => m.autoMs)), unit: 'ms', limit: 6000 },
    ...(await benchHeavy(kernel)),
  ];
}

const ms = (v: number): string => `${String(Math.round(v)).padStart(5)} ms`;
const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)];
const sum = (parts: readonly GeometryPart[], of: (s: GeometryPart['spent']) => number): number => parts.reduce((s, p) => s + of(p.spent), 0);

async function measure(kernel: Kernel, bytes: Uint8Array, file: string): Promise<Measured> {
  const importMs = await medianMs(() => readModelFile(kernel, bytes, file), { rounds: 3, warm: 1 });
  const model = await readModelFile(kernel, bytes, file);
  if (!model.ok) throw new Error(`${file} did not open`);
  const bodies = model.value.model.bodies.map((b) => b.id);
  const reading = proposeReading(model.value.model);
  const frame = reading.mount?.frame ?? { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] };
  const spins = spinsAsRead(reading);
  // The file is open, as it is in the application; nothing is sampled yet.
  const run = async (overrides: Record<string, GeometryPart['mode']>) => {
    const opened = await OpenModel.open(kernel, bytes, file);
    if (!opened.ok) throw new Error(`${file} did not open`);
    const from = performance.now();
    const made = await makeGeometry(kernel, {
      bytes,
      file,
      opened: opened.value,
      bodies,
      mode: 'auto',
      tolerance: TOLERANCE,
      overrides,
      frame,
      spins,
      crew: threadCrew(),
    });
    const took = performance.now() - from;
    opened.value.close();
    if (!made.ok) throw new Error(`${file}: ${made.issues[0].code}`);
    return { took, parts: made.value.parts, triangles: made.value.trianglesIn };
  };
  await run({});
  const runs = [await run({}), await run({}), await run({})];
  const auto = runs.sort((a, b) => a.took - b.took)[1];
  const winners = Object.fromEntries(auto.parts.flatMap((p) => p.bodies.map((b) => [b, p.mode])));
  // Bodies that lie in others go with them here too.
  const alone = [await run(winners), await run(winners), await run(winners)].sort((a, b) => a.took - b.took)[1];
  const samplings = [];
  const bare = [];
  for (let i = 0; i < 6; i++) {
    samplings.push(await sampling(kernel, bytes, file));
    bare.push(bareTessellation(kernel, bytes));
  }
  return {
    name: file,
    importMs,
    autoMs: auto.took,
    winnerMs: alone.took,
    samplingMs: median(samplings.slice(1)),
    makingMs: sum(alone.parts, (s) => s.making),
    proofMs: sum(alone.parts, (s) => s.proof),
    kernelMs: median(bare.slice(1)),
    triangles: auto.triangles,
  };
}

// All its bodies, and nothing else at the same time; the file being open.
async function sampling(kernel: Kernel, bytes: Uint8Array, file: string): Promise<number> {
  const opened = await OpenModel.open(kernel, bytes, file);
  if (!opened.ok) throw new Error(`${file} did not open`);
  const from = performance.now();
  const sampled = opened.value.sample({ chordTolerance: CHORD });
  const took = performance.now() - from;
  opened.value.close();
  if (!sampled.ok) throw new Error(`${file}: ${sampled.issues[0].code}`);
  return took;
}

// What the kernel itself takes for the same chords, the file being open.
function bareTessellation({ oc }: Kernel, bytes: Uint8Array): number {
  const reader = new oc.STEPControl_Reader();
  oc.FS.writeFile('/bare.step', bytes);
  reader.ReadFile('/bare.step');
  const progress = new oc.Message_ProgressRange();
  reader.TransferRoots(progress);
  const shape = reader.OneShape();
  const from = performance.now();
  const mesher = new oc.BRepMesh_IncrementalMesh(shape, CHORD, false, DISPLAY_ANGLE_RAD, false);
  const took = performance.now() - from;
  oc.BRepTools.Clean(shape, true);
  const session = reader.WS();
  for (const mode of [1, 5, 6, 7]) session.ClearData(mode);
  for (const handle of [session, mesher, shape, progress, reader]) handle.delete();
  oc.FS.unlink('/bare.step');
  return took;
}

// Ten bodies of 200,000 triangles together.
// Here, where everything is warm; and in a process of its own, because the kernel keeps what memory it once had.
async function benchHeavy(kernel: Kernel): Promise<BenchRow[]> {
  const { bytes, file } = await oddModel('tenBodies');
  const bodies = Array.from({ length: 10 }, (_, i) => `b${i + 1}`);
  const frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as const;
  const from = performance.now();
  const made = await makeGeometry(kernel, { bytes, file, bodies, mode: 'auto', tolerance: TOLERANCE, frame, crew: threadCrew() });
  const warm = performance.now() - from;
  if (!made.ok) throw new Error(`${file}: ${made.issues[0].code}`);
  const path = join(mkdtempSync(join(tmpdir(), 'ruota-bench-')), file);
  writeFileSync(path, bytes);
  const child = spawnSync(process.execPath, [fileURLToPath(new URL('./heavy-child.js', import.meta.url)), path], { encoding: 'utf8' });
  if (child.status !== 0) throw new Error(child.stderr);
  const { triangles, milliseconds, megabytes } = JSON.parse(child.stdout) as Record<string, number>;
  return [
    { what: `ten bodies of ${triangles.toLocaleString('en')} triangles, opened and made`, value: warm, unit: 'ms', limit: 20_000 },
    { what: 'the same from a cold start', value: milliseconds, unit: 'ms' },
    { what: 'greatest memory of its process', value: megabytes, unit: 'MB', limit: 1000 },
  ];
}
