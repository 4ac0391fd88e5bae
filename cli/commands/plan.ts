import { basename, extname } from 'node:path';
import { IssueError, issue, unwrap } from '#core/issues';
import { type Kernel, loadFlatBooleans, sampleModelFile } from '#core/kernel';
import { PLAN_CHORDS, provenPlan } from '#core/making';
import { ENCLOSURE_SLACK, type Frame } from '#core/math';
import { triangleCount, writeGlb, writeStl, writeThreeMf } from '#core/mesh';
import { safeFileName } from '#core/records';
import type { CommandOutput, Say } from '../request.ts';
import { table } from '../table.ts';
import { number, writeOutput } from './io.ts';

// The plan outline: its lines and arcs in (z, x) of the frame, and as a solid over the bodies' height.
export async function planOutline(
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
