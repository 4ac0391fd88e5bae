import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chordsOfSegments, computeRevolvedEnvelope, dropHidden, SEGMENT_SIZE, sweptSegments, upperEnvelope } from '#core/envelope';
import { loadKernel, sampleStep } from '#core/kernel';
import { normalize } from '#core/math';
import { type BenchRow, medianMs } from './measure.ts';

/** The revolved envelope of the sleeve (20,000 triangles) about its own axis and about a skew one, and what hiding saves. */
export async function benchEnvelope(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../demo/models/sleeve-32-16.step')));
  const sampled = sampleStep(kernel, bytes, 'sleeve', { chordTolerance: 0.01 });
  if (!sampled.ok) throw new Error('the sleeve did not open');
  const bodies = sampled.value;
  const own = { origin: [0, 70, 300] as const, direction: [0, 1, 0] as const };
  const skew = { origin: [0, 70, 300] as const, direction: normalize([0.2, 1, -0.1]) };
  const triangles = bodies.reduce((n, b) => n + b.mesh.triangles.length / 3, 0);
  const rows: BenchRow[] = [{ what: 'envelope: triangles of the sleeve', value: triangles, unit: '' }];
  rows.push({ what: 'envelope about its own axis, with proof', value: await medianMs(() => computeRevolvedEnvelope(bodies, own, 0.02)), unit: 'ms' });
  rows.push({ what: 'envelope about a skew axis, with proof', value: await medianMs(() => computeRevolvedEnvelope(bodies, skew, 0.02)), unit: 'ms' });
  const segments = Float64Array.from(bodies.flatMap((b) => sweptSegments(b, skew).segments));
  const slow = await medianMs(() => upperEnvelope(chordsOfSegments(segments, SEGMENT_SIZE, 0.001).pieces));
  const fast = await medianMs(() => upperEnvelope(chordsOfSegments(dropHidden(segments, SEGMENT_SIZE), SEGMENT_SIZE, 0.001).pieces));
  rows.push({ what: 'upper envelope: hidden edges dropped first, against all', value: fast / slow, unit: 'x' });
  return rows;
}
