import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import {
  type FlatBooleans,
  type Kernel,
  loadFlatBooleans,
  loadKernel,
  NO_WORK,
  type PlainSolid,
  readModelFile,
  type SampledBody,
  sampleModelFile,
  sampleSolids,
  writePlainStep,
} from '#core/kernel';
import { compose, type Frame, frameFromWorld, IDENTITY, type Motion, moveFrame, normalize, rotationAbout, translation, worldFromFrame } from '#core/math';
import { eachPlace, isClosedMesh, meshVolume, moveMesh, type TriMesh, validateMesh, weld } from '#core/mesh';
import { areaOfPolygon, flattenPath, PathDistance, sweepOfArc } from '#core/outline';
import { proposeReading } from '#core/reading';
import { nominalInsertOf } from '#core/standards';
import { computePlanOutline, proveEnclosure, type PlanOutline, silhouetteOf } from '../index.ts';

let kernel: Kernel;
let flat: FlatBooleans;
beforeAll(async () => {
  kernel = await loadKernel();
  flat = await loadFlatBooleans(kernel);
});
const plain: Frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] };
function sampled(solids: { solid: PlainSolid; at: Motion }[], chordTolerance = 0.02): SampledBody[] {
  const r = sampleSolids(
    kernel,
    writePlainStep(
      kernel,
      solids.map(({ solid, at }, i) => ({ solid, name: `s${i}`, fileFromSolid: at })),
    ),
    'x',
    { chordTolerance },
  );
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value;
}
function planOf(bodies: SampledBody[], frame = plain, tolerance = 0.05, holes = false): PlanOutline {
  const r = computePlanOutline(bodies, frame, { tolerance, flat, holes });
  if (!r.ok) throw new Error(r.issues[0].code);
  expect(r.value.growth.min).toBeGreaterThanOrEqual(0);
  expect(r.value.growth.max).toBeLessThanOrEqual(tolerance);
  expect(isClosedMesh(validateMesh(weld(r.value.mesh, 1e-9)))).toBe(true);
  return r.value;
}
// The least depth of places of a mesh under the outline.
function leastDepthOf(plan: PlanOutline, mesh: TriMesh, frame: Frame): number {
  const paths = new PathDistance(plan.loops.map((l) => l.pieces));
  let least = Infinity;
  eachPlace(moveMesh(frameFromWorld(frame), mesh), 20_000, (x, _, z) => {
    least = Math.min(least, paths.depth(z, x));
  });
  return least;
}
const kinds = (plan: PlanOutline) => plan.loops.map((l) => l.pieces.map((p) => p.kind).join());
const area = (plan: PlanOutline) => plan.loops.reduce((a, l) => a + areaOfPolygon(flattenPath(l.pieces, 1e-6, false)), 0);

describe('the plan outline, known answers', () => {
  it('of a box is its rectangle, its heights and its volume, in any pose of box and frame', () => {
    for (const at of [IDENTITY, compose(translation([31, -12, 25]), rotationAbout([5, 6, 7], normalize([1, -2, 0.5]), 1.234))]) {
      const plan = planOf(sampled([{ solid: { kind: 'box', size: [20, 30, 40] }, at }]), moveFrame(at, plain));
      expect(kinds(plan)).toEqual(['line,line,line,line']);
      expect(area(plan)).toBeCloseTo(800, 5);
      expect(plan.low).toBeCloseTo(0, 6);
      expect(plan.high).toBeCloseTo(30, 6);
      expect(meshVolume(plan.mesh)).toBeCloseTo(24000, 3);
    }
  });
  it('of a box about its diagonal is a regular hexagon', () => {
    const z = normalize([1, -1, 0]);
    const frame: Frame = { origin: [0, 0, 0], z, x: normalize([1, 1, -2]) };
    const plan = planOf(sampled([{ solid: { kind: 'box', size: [10, 10, 10] }, at: IDENTITY }]), frame);
    expect(plan.loops[0].pieces).toHaveLength(6);
    expect(area(plan)).toBeCloseTo(Math.sqrt(3) * 100, 2);
  });
  it('of a cylinder that stands on the plane is its circle, exactly; of one that lies in it its rectangle', () => {
    const upright = rotationAbout([0, 0, 0], [1, 0, 0], -Math.PI / 2);
    const plan = planOf(sampled([{ solid: { kind: 'cylinder', radius: 8, height: 20 }, at: upright }]));
    expect(plan.loops[0].pieces.every((p) => p.kind === 'arc')).toBe(true);
    const sweep = plan.loops[0].pieces.reduce((s, p) => s + (p.kind === 'arc' ? sweepOfArc(p) : 0), 0);
    expect(sweep).toBeCloseTo(2 * Math.PI, 9);
    expect(area(plan)).toBeCloseTo(Math.PI * 64, 3);
    expect(plan.growth.max).toBeLessThan(0.021);
    const lying = planOf(sampled([{ solid: { kind: 'cylinder', radius: 8, height: 20 }, at: IDENTITY }]));
    expect(area(lying)).toBeGreaterThanOrEqual(16 * 20 - 1e-6);
    expect(area(lying)).toBeLessThan(16.1 * 20.1);
  });
  it('of a ring seen along its axis keeps its hole where that is asked for', () => {
    const upright = rotationAbout([0, 0, 0], [1, 0, 0], -Math.PI / 2);
    const ring = sampled([{ solid: { kind: 'torus', major: 20, minor: 4 }, at: upright }], 0.08);
    expect(planOf(ring, plain, 0.3).loops).toHaveLength(1);
    const kept = planOf(ring, plain, 0.3, true);
    expect(kept.loops.map((l) => l.hole).sort()).toEqual([false, true]);
    expect(area(kept)).toBeGreaterThan(Math.PI * (24 * 24 - 16 * 16) - 1e-3);
    expect(area(kept)).toBeLessThan(Math.PI * (24.3 * 24.3 - 15.7 * 15.7));
  });
  it('of two boxes that overlap in it is one outline, of two apart two', () => {
    const box: PlainSolid = { kind: 'box', size: [10, 10, 10] };
    const loopsWith = (at: Motion) =>
      planOf(
        sampled([
          { solid: box, at: IDENTITY },
          { solid: box, at },
        ]),
      ).loops;
    expect(loopsWith(translation([5, 30, 5]))).toHaveLength(1);
    expect(loopsWith(translation([50, 0, 5]))).toHaveLength(2);
  });
  it('of a nominal insert has its four edges and its nose radius', () => {
    const insert = nominalInsertOf('CNMG 120408');
    if (!insert.ok) throw new Error('no insert');
    const frame: Frame = { origin: [0, 0, 0], z: [0, 1, 0], x: [1, 0, 0] };
    const bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [1, 1, 1] }, name: 'b', fileFromSolid: translation([90, 0, 0]) }]);
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.01, ids: ['b2'], work: { ...NO_WORK, inserts: [{ insert: insert.value, frame }] } });
    if (!r.ok) throw new Error(r.issues[0].code);
    const plan = planOf(r.value, plain, 0.01);
    const { pieces } = plan.loops[0];
    expect(
      pieces
        .map((p) => p.kind)
        .sort()
        .join(),
    ).toBe('arc,arc,arc,arc,line,line,line,line');
    for (const p of pieces) if (p.kind === 'arc') expect(Math.hypot(p.from[0] - p.centre[0], p.from[1] - p.centre[1])).toBeCloseTo(0.8, 3);
  });
});

describe('the solid of a plan outline', () => {
  const at = (x: number, y: number, z: number) => translation([x, y, z]);
  const box = (x: number, y: number, z: number): PlainSolid => ({ kind: 'box', size: [x, y, z] });
  const judged = (bodies: SampledBody[], tolerance = 0.05, frame = plain) => {
    const made = computePlanOutline(bodies, frame, { tolerance, flat, steps: true });
    if (!made.ok) throw new Error(made.issues[0].code);
    const plan = made.value;
    const proof = proveEnclosure({ bodies }, plan.mesh);
    expect(proof.least).toBeGreaterThan(-1e-6);
    expect([proof.closed, proof.crossings]).toEqual([true, 0]);
    return { plan, proof };
  };

  const leaning: Frame = { origin: [3, -40, 12], z: normalize([1, 2, 2]), x: normalize([2, 1, -2]) };
  it.each([plain, leaning])('has a step for each height of a shank with a head that stands over it and a low nose (pose %#)', (frame) => {
    const there = worldFromFrame(frame);
    const bodies = sampled([
      { solid: box(25, 25, 100), at: compose(there, at(0, 0, 0)) },
      { solid: box(32, 20, 30), at: compose(there, at(0, 12, 100)) },
      { solid: box(32, 6, 12), at: compose(there, at(0, 12, 130)) },
    ]);
    const { plan, proof } = judged(bodies, 0.05, frame);
    expect(plan.steps.length).toBe(4);
    expect(plan.steps.map((s) => Math.round(s.low))).toEqual([0, 12, 18, 25]);
    const volume = 25 * 25 * 100 + 32 * 20 * 30 + 32 * 6 * 12;
    expect(proof.volumeAfter).toBeGreaterThan(volume);
    expect(proof.volumeAfter).toBeLessThan(1.0005 * volume);
    // Each step has only what is in it.
    expect(plan.steps.map((s) => s.loops.flatMap((l) => l.pieces).length)).toEqual([4, 6, 6, 4]);
  });
  it('of a flat plate has one step, and of a bar that lies in the plane as many as come near its roundness', () => {
    expect(judged(sampled([{ solid: box(40, 5, 90), at: IDENTITY }])).plan.steps.length).toBe(1);
    const { plan, proof } = judged(sampled([{ solid: { kind: 'cylinder', radius: 16, height: 120 }, at: IDENTITY }]));
    expect(plan.steps.length).toBeGreaterThan(2);
    expect(proof.volumeAfter).toBeLessThan(0.95 * 32 * 32 * 120);
    expect(plan.steps.every((s, i) => i === 0 || s.low === plan.steps[i - 1].high)).toBe(true);
  });
  it('is one where bodies have nothing between them', () => {
    const { plan, proof } = judged(
      sampled([
        { solid: box(20, 10, 20), at: IDENTITY },
        { solid: box(20, 10, 50), at: at(0, 40, 0) },
      ]),
    );
    expect(plan.steps.length).toBe(3);
    expect(plan.steps[1].loops).toEqual([]);
    expect(Math.abs(proof.volumeAfter - 20 * 10 * 70)).toBeLessThan(1);
  });
});

describe('the plan outline of vendors’ tools', () => {
  it.each(['turning-10.step', 'turning-5.stl'])('%s: nothing of it is outside, by another sampling', async (file) => {
    const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../../demo/corpus/models', file)));
    const read = await readModelFile(kernel, bytes, file);
    if (!read.ok) throw new Error(read.issues[0].code);
    const frame = proposeReading(read.value.model).mount?.frame ?? plain;
    const coarse = await sampleModelFile(kernel, bytes, file, { chordTolerance: 0.02 });
    const fine = await sampleModelFile(kernel, bytes, file, { chordTolerance: 0.004 });
    if (!coarse.ok || !fine.ok) throw new Error('not sampled');
    const plan = planOf(coarse.value, frame, 0.1);
    for (const body of fine.value) expect(leastDepthOf(plan, body.mesh, frame)).toBeGreaterThan(-2e-6);
    expect(proveEnclosure({ bodies: coarse.value }, plan.mesh).least).toBeGreaterThan(-2e-6);
    // A light outline: a tool has some dozen edges.
    expect(plan.loops.reduce((n, l) => n + l.pieces.length, 0)).toBeLessThan(90);
  });
  // A shank whose engraving has walls square to the plane, and a bar whose screw all but touches the rim of its pocket.
  it.each(['turning-9.step', 'boring-1.step'])('%s: the holder alone, with what is engraved in it and sits in it', async (file) => {
    const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../../demo/corpus/models', file)));
    const read = await readModelFile(kernel, bytes, file);
    if (!read.ok) throw new Error('not read');
    const { roles, mount } = proposeReading(read.value.model);
    const ids = roles.filter((r) => r.role !== 'cutting').map((r) => r.body);
    const holder = await sampleModelFile(kernel, bytes, file, { chordTolerance: 0.01, ids });
    if (!holder.ok) throw new Error('not sampled');
    const plan = planOf(holder.value, mount?.frame ?? plain, 0.05);
    expect(plan.loops.filter((l) => !l.hole)).toHaveLength(1);
    expect(plan.loops[0].pieces.length).toBeLessThan(16);
  });
  it('the silhouette of a slab is what of a body is in it: a ball’s, a ring’s, a block’s with a hole', () => {
    const area = (loops: readonly (readonly (readonly [number, number])[])[]) => loops.reduce((sum, l) => sum + areaOfPolygon([...l] as never), 0);
    const [ball] = sampled([{ solid: { kind: 'sphere', radius: 10 }, at: IDENTITY }], 0.02).map((b) => weld(b.mesh));
    // Over a slab of a ball the widest circle counts: its equator where that is in it, else the end nearer to it.
    for (const [low, high, radius] of [
      [-3, 4, 10],
      [2.01, 9, Math.sqrt(100 - 2.01 ** 2)],
      [-9, -6.01, Math.sqrt(100 - 6.01 ** 2)],
      [9.5, 30, Math.sqrt(100 - 9.5 ** 2)],
    ]) {
      const covered = area(silhouetteOf([ball], plain, flat, { low, high }));
      expect(covered / (Math.PI * radius * radius)).toBeGreaterThan(0.97);
      expect(covered / (Math.PI * radius * radius)).toBeLessThan(1.0001);
    }
    expect(silhouetteOf([ball], plain, flat, { low: 10.5, high: 12 })).toEqual([]);
    // A ring that lies in the plane, cut above its middle: the hole is as wide as it is there, on both sides of the tube.
    const upright = rotationAbout([0, 0, 0], [1, 0, 0], -Math.PI / 2);
    const [ring] = sampled([{ solid: { kind: 'torus', major: 20, minor: 5 }, at: upright }], 0.02).map((b) => weld(b.mesh));
    const half = Math.sqrt(25 - 3.001 ** 2);
    expect(area(silhouetteOf([ring], plain, flat, { low: 3.001, high: 9 })) / (Math.PI * ((20 + half) ** 2 - (20 - half) ** 2))).toBeCloseTo(1, 1);
    // Two bodies over each other are there once.
    expect(area(silhouetteOf([ball, ball], plain, flat, { low: -3, high: 4 })) / (Math.PI * 100)).toBeCloseTo(1, 1);
  });
  it('the silhouette covers exactly what the triangles do', () => {
    const [body] = sampled([{ solid: { kind: 'sphere', radius: 10 }, at: translation([3, 4, 5]) }], 0.1);
    const [loop] = silhouetteOf([weld(body.mesh)], plain, flat);
    const polygon = areaOfPolygon(loop);
    expect(polygon).toBeLessThan(Math.PI * 100);
    expect(polygon).toBeGreaterThan(Math.PI * 100 * 0.97);
  });
});
