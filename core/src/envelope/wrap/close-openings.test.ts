import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, NO_WORK, type SampledBody, sampleSolids, writePlainStep } from '#core/kernel';
import { dot, normalize, translation, type Vec3 } from '#core/math';
import { eachPlace, isClosedMesh, meshVolume, SignedDistance, TriangleTree, validateMesh, weld } from '#core/mesh';
import { closeOpenings, computeExactGeometry, computeWrap, proveEnclosure } from '../index.ts';
import { corpusBody, pocketedPlate } from './bodies-for-tests.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const bodyOf = (file: string, id: string, chordTolerance: number): Promise<SampledBody> => corpusBody(kernel, file, id, chordTolerance);
const plate = (pockets: Parameters<typeof pocketedPlate>[1]): SampledBody => pocketedPlate(kernel, pockets);

function closed(body: SampledBody, below: number) {
  const wrap = computeWrap(body, { tolerance: 0.05, closeBelow: below });
  if (!wrap.ok) throw new Error(wrap.issues[0].code);
  return wrap.value;
}

describe('openings', () => {
  it('a through hole, a pocket and a wide pocket: those that are narrow enough are filled, exactly', () => {
    const body = plate([
      { x: 5, y: 5, size: 6, from: -1, to: 11 },
      { x: 20, y: 5, size: 4, from: 7, to: 11 },
      { x: 35, y: 10, size: 20, from: 4, to: 11 },
    ]);
    const holes = 6 * 6 * 10 + 4 * 4 * 3 + 20 * 20 * 6;
    expect(body.volume).toBeCloseTo(60 * 40 * 10 - holes, 6);
    const some = closed(body, 10);
    // A square of 6 is 8.49 across; the through hole has two openings.
    expect([some.openings, some.widest.toFixed(3)]).toEqual([3, (6 * Math.SQRT2).toFixed(3)]);
    expect(meshVolume(some.around)).toBeCloseTo(24000 - 20 * 20 * 6, 6);
    expect(meshVolume(some.mesh)).toBeCloseTo(24000 - 20 * 20 * 6, 4);
    const all = closed(body, 30);
    expect([all.openings, all.mesh.triangles.length / 3]).toEqual([4, 12]);
    expect(meshVolume(all.mesh)).toBeCloseTo(24000, 4);
    expect(closed(body, 0).openings).toBe(0);
  });
  it('a hole in the floor of a pocket: filled on its own where the pocket is too wide', () => {
    const body = plate([
      { x: 20, y: 10, size: 20, from: 4, to: 11 },
      { x: 28, y: 18, size: 4, from: -1, to: 5 },
    ]);
    const some = closed(body, 8);
    expect(some.openings).toBe(2);
    expect(meshVolume(some.around)).toBeCloseTo(24000 - 20 * 20 * 6, 6);
    expect(meshVolume(closed(body, 30).around)).toBeCloseTo(24000, 6);
  });
  it('a boss on a face is no hole, however narrow its foot is', () => {
    // A pin on a plate: the rest of the plate after most of its top was cut off around the pin.
    const bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [60, 40, 10] }, name: 'p', fileFromSolid: translation([0, 0, 0]) }]);
    const frame = { origin: [0, 0, 0] as Vec3, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 };
    const strip = (x0: number, x1: number, y0: number, y1: number) => ({
      body: 'b1',
      frame,
      outline: [
        [x0, y0],
        [x1, y0],
        [x1, y1],
        [x0, y1],
      ] as [number, number][],
      from: 6,
      to: 11,
    });
    const work = { ...NO_WORK, cuts: [strip(-1, 28, -1, 41), strip(32, 61, -1, 41), strip(27, 33, -1, 18), strip(27, 33, 22, 41)] };
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.02, ids: ['b1'], work });
    if (!r.ok) throw new Error(r.issues[0].code);
    const wrap = closed(r.value[0], 30);
    expect(wrap.openings).toBe(0);
    expect(meshVolume(wrap.around)).toBeCloseTo(60 * 40 * 6 + 4 * 4 * 4, 4);
  });
  it.each([
    ['ball', { kind: 'sphere', radius: 20 } as const, [0, 0, 0] as Vec3, (4 / 3) * Math.PI * 8000],
    ['torus', { kind: 'torus', major: 30, minor: 12 } as const, [30, 0, 0] as Vec3, 2 * Math.PI ** 2 * 30 * 144],
  ])('of a hole through a %s: its caps go straight across, the face keeps its shape around them', (_, solid, at, whole) => {
    const bytes = writePlainStep(kernel, [{ solid, name: 'body', fileFromSolid: translation([0, 0, 0]) }]);
    const hole = {
      body: 'b1',
      frame: { origin: at, z: normalize([0.2, 0.1, 1]), x: normalize([1, 0, -0.2]) },
      outline: [
        [-3, -3],
        [3, -3],
        [3, 3],
        [-3, 3],
      ] as [number, number][],
      from: -30,
      to: 30,
    };
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.02, ids: ['b1'], work: { ...NO_WORK, cuts: [hole] } });
    if (!r.ok) throw new Error(r.issues[0].code);
    const [body] = r.value;
    expect(body.volume).toBeLessThan(whole - 500);
    expect(closed(body, 7).openings).toBe(0);
    const { openings, widest, around, mesh } = closed(body, 10);
    expect(openings).toBe(2);
    expect(widest).toBeGreaterThan(8);
    expect(isClosedMesh(validateMesh(around))).toBe(true);
    // All of the hole but for the two low domes over its ends.
    expect(meshVolume(around)).toBeGreaterThan(whole * 0.995);
    expect(meshVolume(around)).toBeLessThan(whole * 1.003);
    const proof = proveEnclosure({ bodies: r.value, closedMesh: around }, mesh);
    expect(proof.least).toBeGreaterThan(-1e-6);
    expect([proof.closed, proof.crossings]).toEqual([true, 0]);
  });
  it('of a hole on the edge of a chamfer: its cap goes straight across', () => {
    const bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [60, 40, 30] }, name: 'block', fileFromSolid: translation([0, 0, 0]) }]);
    const prism = (z: Vec3, at: Vec3, x: Vec3, outline: [number, number][], from: number, to: number) => ({
      body: 'b1',
      frame: { origin: at, z, x },
      outline,
      from,
      to,
    });
    const chamfer = prism(
      [1, 0, 0],
      [0, 40, 30],
      [0, 1, 0],
      [
        [0.1, 0.1],
        [-10, 0.1],
        [-10, 0],
        [0, -10],
        [0.1, -10],
      ],
      -1,
      61,
    );
    const lean = Math.PI / 8;
    const square: [number, number][] = [
      [-2, -2],
      [2, -2],
      [2, 2],
      [-2, 2],
    ];
    const hole = prism([0, Math.sin(lean), Math.cos(lean)], [30, 30, 30], [1, 0, 0], square, -8, 5);
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.02, ids: ['b1'], work: { ...NO_WORK, cuts: [chamfer, hole] } });
    if (!r.ok) throw new Error(r.issues[0].code);
    const whole = 60 * 40 * 30 - (60 * 100) / 2;
    expect(r.value[0].volume).toBeLessThan(whole - 100);
    const { openings, around, mesh } = closed(r.value[0], 8);
    expect(openings).toBe(1);
    // Of the hole no more is left than what is below the ridge over it.
    expect(meshVolume(around)).toBeGreaterThan(whole - 4 * 2 * 2 * Math.tan(lean) - 1e-6);
    expect(meshVolume(around)).toBeLessThan(whole + 1e-6);
    expect(proveEnclosure({ bodies: r.value, closedMesh: around }, mesh)).toMatchObject({ closed: true, crossings: 0, least: 0 });
  });
  it('of a cross hole in a round shank: its caps follow the shank', () => {
    // A square hole of 6 through a shank of 40, beside its middle and turned in it, and one that is too wide.
    const bytes = writePlainStep(kernel, [{ solid: { kind: 'cylinder', radius: 20, height: 60 }, name: 'shank', fileFromSolid: translation([5, -3, 2]) }]);
    const hole = (z: number, size: number) => ({
      body: 'b1',
      frame: { origin: [5, -3, z] as Vec3, z: normalize([1, 2, 0]), x: normalize([2, -1, 0.7]) },
      outline: [
        [-size, 0],
        [0, -size],
        [size, 0],
        [0, size],
      ] as [number, number][],
      from: -30,
      to: 30,
    });
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.02, ids: ['b1'], work: { ...NO_WORK, cuts: [hole(20, 4), hole(45, 9)] } });
    if (!r.ok) throw new Error(r.issues[0].code);
    const whole = Math.PI * 400 * 60;
    expect(r.value[0].volume).toBeLessThan(whole - 1000);
    const exact = computeExactGeometry(r.value[0]);
    expect(closeOpenings(exact.mesh, exact.faceOf, r.value[0], 12).openings).toBe(2);
    const all = closed(r.value[0], 30);
    expect(all.openings).toBe(4);
    expect(isClosedMesh(validateMesh(all.around))).toBe(true);
    // Never less than the shank, and no more than its chords were pushed out by.
    expect(meshVolume(all.around)).toBeGreaterThan(whole);
    expect(meshVolume(all.around)).toBeLessThan(whole * 1.003);
    const { around, mesh } = all;
    expect(proveEnclosure({ bodies: r.value, closedMesh: around }, mesh).least).toBeGreaterThan(-1e-6);
    for (let i = 0; i < around.positions.length; i += 3) expect(Math.hypot(around.positions[i] - 5, around.positions[i + 1] + 3)).toBeLessThan(20.05);
  });
  it('into a bore: the bore keeps its radius', () => {
    // The demo's block: three threads go through its side into a seat of 32.
    const file = 'station-block-40.step';
    const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../../demo/models', file)));
    const r = sampleSolids(kernel, bytes, file, { chordTolerance: 0.03, ids: ['b1'] });
    if (!r.ok) throw new Error(r.issues[0].code);
    const exact = computeExactGeometry(r.value[0]);
    const { mesh: around, openings } = closeOpenings(exact.mesh, exact.faceOf, r.value[0], 14);
    expect(openings).toBeGreaterThan(20);
    expect(isClosedMesh(validateMesh(around))).toBe(true);
    const seat = r.value[0].surfaces.find((s) => s.kind === 'cylinder' && s.radius === 16);
    if (seat?.kind !== 'cylinder') throw new Error('no seat');
    const before = new TriangleTree(weld(r.value[0].mesh));
    // What the caps add in the bore stands out into it by a chord at most.
    eachPlace(around, 10_000, (x, y, z) => {
      const d: Vec3 = [x - seat.origin[0], y - seat.origin[1], z - seat.origin[2]];
      const along = dot(d, seat.axis);
      const radius = Math.sqrt(dot(d, d) - along * along);
      if (along < 0.1 || along > seat.length - 0.1 || radius > 16 || radius < 8 || before.isNear(x, y, z, 0.05)) return;
      expect(radius).toBeGreaterThan(16 - 0.06);
    });
    const signed = new SignedDistance(around);
    const { positions: p } = weld(r.value[0].mesh);
    let outside = -Infinity;
    for (let i = 0; i < p.length; i += 3) outside = Math.max(outside, signed.at(p[i], p[i + 1], p[i + 2]));
    expect(outside).toBeLessThan(1e-6);
  });
  it('leave a closed mesh on a vendor’s block, and never take material away', async () => {
    const body = await bodyOf('block-4.step', 'b1', 0.02);
    const wrap = closed(body, 20);
    expect(wrap.openings).toBeGreaterThan(2);
    expect(isClosedMesh(validateMesh(wrap.around))).toBe(true);
    expect(meshVolume(wrap.around)).toBeGreaterThan(body.volume);
    expect(proveEnclosure({ bodies: [body], closedMesh: wrap.around }, wrap.around).least).toBeGreaterThan(-1e-6);
    expect(closeOpenings(wrap.around, new Uint32Array(wrap.around.triangles.length / 3), body, 20).openings).toBe(0);
  });
});
