import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { chordsOfSegments, computePlanOutline, computeRevolvedEnvelope, dropHidden, SEGMENT_SIZE, sweptSegments, upperEnvelope } from '#core/envelope';
import { type Kernel, loadFlatBooleans, loadKernel, type SampledBody, sampleSolids, writeRevolvedStep } from '#core/kernel';
import { fromZAndX, normalize } from '#core/math';
import { joinMeshes } from '#core/mesh';
import { listPieces } from '#core/outline';
import { knownHolder } from './known-holders.ts';
import { type BenchRow, medianMs } from './measure.ts';

const HOLDERS = 40;

/** Revolved envelopes about an own and a skew axis, by size; pieces against profiles that are known; plan outlines. */
export async function benchEnvelope(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const rows: BenchRow[] = [];
  const own = { origin: [0, 70, 300] as const, direction: [0, 1, 0] as const };
  const skew = { origin: [0, 70, 300] as const, direction: normalize([0.2, 1, -0.1]) };
  const perTriangle: number[] = [];
  for (const chordTolerance of [0.01, 0.0004]) {
    const bodies = sampled(kernel, 'sleeve-32-16.step', chordTolerance);
    const triangles = bodies.reduce((n, b) => n + b.mesh.triangles.length / 3, 0);
    const name = `${Math.round(triangles / 1000)},000 triangles`;
    const ms = await medianMs(() => computeRevolvedEnvelope(bodies, own, 0.02));
    perTriangle.push(ms / (triangles * Math.log(triangles)));
    const what = `revolved envelope of ${name} about their own axis`;
    // Of few triangles what costs the same for any number is most.
    if (triangles < 100_000) rows.push({ what, value: ms, unit: 'ms' });
    else rows.push({ what: `${what}, per 100,000`, value: (ms * 100_000) / triangles, unit: 'ms', limit: 80 });
    const tree = await medianMs(() => new MeshBVH(geometryOf(bodies)));
    rows.push({ what: 'the same against three-mesh-bvh building its tree over the same triangles', value: ms / tree, unit: 'x' });
    rows.push({
      what: `about a skew axis`,
      value: await medianMs(() => computeRevolvedEnvelope(bodies, skew, 0.02), { rounds: 3, warm: 1 }),
      unit: 'ms',
    });
  }
  rows.push({ what: 'growth of its time with size, against n log n', value: perTriangle[1] / perTriangle[0], unit: 'x', limit: 1.2 });
  const bodies = sampled(kernel, 'sleeve-32-16.step', 0.01);
  const segments = Float64Array.from(bodies.flatMap((b) => [...sweptSegments(b, skew).segments]));
  const slow = await medianMs(() => upperEnvelope(chordsOfSegments({ segments }, SEGMENT_SIZE, 0.001).pieces));
  const fast = await medianMs(() => upperEnvelope(chordsOfSegments(dropHidden(segments, SEGMENT_SIZE), SEGMENT_SIZE, 0.001).pieces));
  rows.push({ what: 'upper envelope: hidden edges dropped first, against all', value: fast / slow, unit: 'x' });
  rows.push(benchKnownHolders(kernel));
  rows.push(...(await benchPlan(kernel)));
  return rows;
}

function geometryOf(bodies: readonly SampledBody[]): BufferGeometry {
  const { positions, triangles } = joinMeshes(bodies.map((b) => b.mesh));
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(positions), 3));
  geometry.setIndex(new BufferAttribute(triangles, 1));
  return geometry;
}

function sampled(kernel: Kernel, file: string, chordTolerance: number): SampledBody[] {
  const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../demo/models', file)));
  const made = sampleSolids(kernel, bytes, file, { chordTolerance });
  if (!made.ok) throw new Error(`${file} did not open`);
  return made.value;
}

// How many pieces the profiles have, against what the holders were made from.
function benchKnownHolders(kernel: Kernel): BenchRow {
  const frame = fromZAndX([5, -3, 8], normalize([0.3, 0.5, 0.8]));
  const axis = { origin: frame.origin, direction: frame.z };
  let [found, known] = [0, 0];
  for (let seed = 1; seed <= HOLDERS; seed++) {
    const { profile, surfaces } = knownHolder(seed);
    const made = sampleSolids(kernel, writeRevolvedStep(kernel, profile, frame, 'holder'), 'holder.step', { chordTolerance: 0.01 });
    const envelope = made.ok ? computeRevolvedEnvelope(made.value, axis, 0.02) : made;
    if (!envelope.ok) throw new Error(`holder ${seed}: ${envelope.issues[0].code}`);
    found += listPieces(envelope.value.profile).length;
    known += surfaces;
  }
  return { what: `pieces of ${HOLDERS} turned holders, against the profiles they were made from`, value: found / known, unit: 'x', limit: 1.15 };
}

async function benchPlan(kernel: Kernel): Promise<BenchRow[]> {
  const flat = await loadFlatBooleans(kernel);
  const bodies = sampled(kernel, 'hub-face-holder-25.step', 0.0002);
  const triangles = bodies.reduce((n, b) => n + b.mesh.triangles.length / 3, 0);
  const frame = fromZAndX([0, 0, 0], [0, 0, 1], [1, 0, 0]);
  const ms = await medianMs(() => computePlanOutline(bodies, frame, { tolerance: 0.05, flat }), { rounds: 3, warm: 1 });
  return [{ what: `plan outline of ${Math.round(triangles / 1000)},000 triangles, per 100,000`, value: (ms * 100_000) / triangles, unit: 'ms', limit: 400 }];
}
