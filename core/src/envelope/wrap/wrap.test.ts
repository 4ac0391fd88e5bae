import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, NO_WORK, type SampledBody, sampledMesh, sampleModelFile, sampleSolids, writePlainStep } from '#core/kernel';
import { compose, dot, normalize, rotationAbout, translation, type Vec3 } from '#core/math';
import {
  eachPlace,
  findSelfCrossings,
  isClosedMesh,
  joinMeshes,
  meshVolume,
  SignedDistance,
  Solids,
  TriangleTree,
  type TriMesh,
  validateMesh,
  weld,
} from '#core/mesh';
import { closeOpenings, computeExactGeometry, computeWrap, lightenWrap, progressiveHull, proveEnclosure } from '../index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const corpus = (file: string) => new Uint8Array(readFileSync(join(import.meta.dirname, '../../../../demo/corpus/models', file)));
const bodyOf = async (file: string, id: string, chordTolerance: number): Promise<SampledBody> => {
  const r = await sampleModelFile(kernel, corpus(file), file, { chordTolerance, ids: [id] });
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value[0];
};

// A plate with pockets cut out of it along prisms; what is left is body b1.
const plate = (pockets: { x: number; y: number; size: number; from: number; to: number }[]): SampledBody => {
  const bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [60, 40, 10] }, name: 'plate', fileFromSolid: translation([0, 0, 0]) }]);
  const cuts = pockets.map(({ x, y, size, from, to }) => ({
    body: 'b1',
    frame: { origin: [x, y, 0] as Vec3, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 },
    outline: [
      [0, 0],
      [size, 0],
      [size, size],
      [0, size],
    ] as [number, number][],
    from,
    to,
  }));
  const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.02, ids: ['b1'], work: { ...NO_WORK, cuts } });
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value[0];
};
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

// A plate from z = -thick to 0 with a square funnel in the middle of each 20 by 20 mm: the width of its rim, and how deep it is.
function dented(long: number, wide: number, thick: number, rim: number, deep: number): TriMesh {
  const step = 20;
  const [n, m] = [long / step, wide / step];
  const positions: number[] = [];
  const triangles: number[] = [];
  const corner = (x: number, y: number, z: number) => positions.push(x, y, z) / 3 - 1;
  const top = Array.from({ length: n + 1 }, (_, i) => Array.from({ length: m + 1 }, (__, j) => corner(i * step, j * step, 0)));
  const square = (a: number, b: number, c: number, d: number) => triangles.push(a, b, c, a, c, d);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const [x, y] = [(i + 0.5) * step, (j + 0.5) * step];
      const outer = [top[i][j], top[i + 1][j], top[i + 1][j + 1], top[i][j + 1]];
      const inner = [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ].map(([u, v]) => corner(x + (u * rim) / 2, y + (v * rim) / 2, 0));
      const end = corner(x, y, -deep);
      for (let k = 0; k < 4; k++) {
        square(outer[k], outer[(k + 1) % 4], inner[(k + 1) % 4], inner[k]);
        triangles.push(inner[k], inner[(k + 1) % 4], end);
      }
    }
  const below = [corner(0, 0, -thick), corner(long, 0, -thick), corner(long, wide, -thick), corner(0, wide, -thick)];
  square(below[0], below[3], below[2], below[1]);
  // Each side: from its lower edge up to the many corners of the upper one.
  const sides = [top.map((r) => r[0]), top[n], top.map((r) => r[m]).reverse(), [...top[0]].reverse()];
  sides.forEach((upper, k) => {
    for (let i = 0; i + 1 < upper.length; i++) triangles.push(below[k], upper[i + 1], upper[i]);
    triangles.push(below[k], below[(k + 1) % 4], upper[upper.length - 1]);
  });
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}

describe('a progressive hull', () => {
  // A ball with bumps, seeded; its triangles are the truth.
  const bumpy = (seed: number, n = 16): TriMesh => {
    let state = seed;
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
    const waves = Array.from({ length: 4 }, () => [Math.floor(1 + 4 * random()), Math.floor(1 + 4 * random()), 0.15 * random(), 6 * random()]);
    const positions: number[] = [];
    const triangles: number[] = [];
    for (let i = 0; i <= n; i++)
      for (let j = 0; j < 2 * n; j++) {
        if ((i === 0 || i === n) && j > 0) continue;
        const [u, v] = [(Math.PI * i) / n, (Math.PI * j) / n];
        const r = 10 * (1 + waves.reduce((s, [a, b, h, p]) => s + h * Math.sin(a * u) * Math.sin(b * v + p) * Math.sin(u), 0));
        positions.push(r * Math.sin(u) * Math.cos(v), r * Math.sin(u) * Math.sin(v), r * Math.cos(u));
      }
    const at = (i: number, j: number) => (i === 0 ? 0 : i === n ? positions.length / 3 - 1 : 1 + (i - 1) * 2 * n + (j % (2 * n)));
    for (let i = 0; i < n; i++)
      for (let j = 0; j < 2 * n; j++) {
        if (i > 0) triangles.push(at(i, j), at(i + 1, j), at(i, j + 1));
        if (i < n - 1) triangles.push(at(i, j + 1), at(i + 1, j), at(i + 1, j + 1));
      }
    return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
  };

  it.each([2, 4, 5])('of random solid %i: encloses it, keeps the tolerance, stays a closed mesh, and has fewer triangles the larger the tolerance', (seed) => {
    const mesh = bumpy(seed);
    let before = mesh.triangles.length / 3;
    for (const tolerance of [0.05, 0.2, 0.8]) {
      const hull = progressiveHull(mesh, { tolerance });
      const proof = proveEnclosure({ bodies: [sampledMesh(mesh)] }, hull);
      expect(proof.least).toBeGreaterThan(-1e-6);
      expect(proof.greatest).toBeLessThanOrEqual(tolerance);
      expect([proof.closed, proof.degenerate]).toEqual([true, 0]);
      expect(hull.triangles.length / 3).toBeLessThanOrEqual(before);
      before = hull.triangles.length / 3;
    }
    expect(before).toBeLessThan(0.2 * (mesh.triangles.length / 3));
  });
  it('of a thread keeps the tolerance between the places that are looked at too', async () => {
    const body = await bodyOf('turning-11.stl', 'b4', 0.05);
    const wrap = computeWrap(body, { tolerance: 0.05, closeBelow: 14 });
    if (!wrap.ok) throw new Error(wrap.issues[0].code);
    const { mesh, around } = wrap.value;
    const tree = new TriangleTree(around);
    let greatest = 0;
    eachPlace(mesh, 150_000, (x, y, z) => {
      if (!tree.isNear(x, y, z, greatest) && tree.nearest(x, y, z)) greatest = tree.distance;
    });
    expect(greatest).toBeLessThan(0.05);
    expect(greatest).toBeGreaterThan(0.02);
    expect(mesh.triangles.length).toBeLessThan(0.2 * around.triangles.length);
  });
  it('is the same in any pose, near enough', () => {
    const mesh = bumpy(7);
    const there = compose(translation([100, -40, 7]), rotationAbout([0, 0, 0], normalize([1, 2, 3]), 1));
    const moved: TriMesh = { ...mesh, positions: Float64Array.from(mesh.positions) };
    for (let i = 0; i < moved.positions.length; i += 3)
      for (let k = 0; k < 3; k++) moved.positions[i + k] = there.t[k] + [0, 1, 2].reduce((s, j) => s + there.r[3 * k + j] * mesh.positions[i + j], 0);
    const [a, b] = [mesh, moved].map((m) => progressiveHull(m, { tolerance: 0.2 }).triangles.length / 3);
    expect(Math.abs(a - b) / a).toBeLessThan(0.1);
  });
  // A solid and its mirror image, with a gap in x between them; below 0 they go through each other.
  const facing = (gap: number, y = 0): TriMesh => {
    const [one, other] = [bumpy(11), bumpy(11)];
    const reach = one.positions.reduce((r, v, i) => (i % 3 === 0 ? Math.max(r, v) : r), -Infinity);
    for (let i = 0; i < other.positions.length; i += 3) {
      other.positions[i] = -other.positions[i] + 2 * reach + gap;
      other.positions[i + 1] += 0.37 + y;
      one.positions[i + 1] += y;
    }
    for (let i = 0; i < other.triangles.length; i += 3) [other.triangles[i], other.triangles[i + 1]] = [other.triangles[i + 1], other.triangles[i]];
    return joinMeshes([one, other]);
  };

  it('of what goes through itself has that still, and nowhere else', () => {
    const mesh = joinMeshes([facing(-1, 100), facing(0.03)]);
    const own = findSelfCrossings(new TriangleTree(mesh)).places;
    expect(own.length).toBeGreaterThan(0);
    let rounds = 0;
    let last = 0;
    const onProgress = (share: number) => {
      if (share < last) rounds++;
      last = share;
    };
    const hull = progressiveHull(mesh, { tolerance: 0.4, onProgress });
    const { places } = findSelfCrossings(new TriangleTree(hull));
    expect(places.length).toBeGreaterThan(0);
    for (const at of places) expect(at[1]).toBeGreaterThan(50);
    expect(hull.triangles.length).toBeLessThan(0.6 * mesh.triangles.length);
    expect(rounds).toBeLessThan(6);
  });
  it('leaves dents open that are hardly wider than the tolerance, and between all places that are looked at', () => {
    // A few funnels of 0.5 mm and 0.6 mm deep on a plate: filled, one would stand out by 0.23.
    const mesh = dented(60, 40, 5, 0.5, 0.6);
    const hull = progressiveHull(mesh, { tolerance: 0.22 });
    const proof = proveEnclosure({ bodies: [sampledMesh(mesh)] }, hull);
    expect(proof.least).toBeGreaterThan(-1e-6);
    expect(proof.greatest).toBeLessThanOrEqual(0.22);
    const filled = proveEnclosure({ bodies: [sampledMesh(mesh)] }, dented(60, 40, 5, 0.5, 0));
    expect(filled.greatest).toBeCloseTo(0.25 * Math.cos(Math.atan2(0.25, 0.6)), 2);
  });
  it('of two walls with a narrow gap leaves the gap open where both would grow into it', () => {
    const mesh = facing(0.03);
    const hull = progressiveHull(mesh, { tolerance: 0.4 });
    expect(findSelfCrossings(new TriangleTree(hull)).count).toBe(0);
    expect(hull.triangles.length).toBeLessThan(0.6 * mesh.triangles.length);
    expect(proveEnclosure({ bodies: [sampledMesh(mesh)] }, hull).least).toBeGreaterThan(-1e-6);
  });
  it('may be coarse where it lies in something else, and keeps the tolerance outside of that', () => {
    const mesh = bumpy(3);
    const block: TriMesh = weld(joinMeshes([dented(80, 80, 40, 1, 0)]));
    for (let i = 0; i < block.positions.length; i += 3) {
      block.positions[i] -= 40;
      block.positions[i + 1] -= 40;
    }
    // The block ends at z = 0: the lower half of the ball is hidden.
    const alone = progressiveHull(mesh, { tolerance: 0.1 });
    const hull = progressiveHull(mesh, { tolerance: 0.1, others: new Solids([block]) });
    expect(hull.triangles.length).toBeLessThan(0.7 * alone.triangles.length);
    const proof = proveEnclosure({ bodies: [sampledMesh(mesh)], others: [block] }, hull);
    expect(proof.least).toBeGreaterThan(-1e-6);
    expect(proof.greatest).toBeLessThanOrEqual(0.1);
    expect([proof.closed, proof.crossings]).toEqual([true, 0]);
    // Nor is it anything where it is hidden: it stays near the mesh.
    expect(proveEnclosure({ bodies: [sampledMesh(mesh)] }, hull).greatest).toBeLessThan(3);
    expect(proveEnclosure({ bodies: [sampledMesh(mesh)] }, hull).greatest).toBeGreaterThan(0.2);
  });
  it('stops at a budget of triangles, and leaves flat faces flat', () => {
    const body = plate([]);
    const fine = computeWrap(body, { tolerance: 0.5, closeBelow: 0 });
    expect(fine.ok && fine.value.mesh.triangles.length / 3).toBe(12);
    const mesh = bumpy(9);
    const hull = progressiveHull(mesh, { tolerance: 2, triangles: 300 });
    expect(hull.triangles.length / 3).toBeGreaterThan(295);
    expect(hull.triangles.length / 3).toBeLessThanOrEqual(300);
  });
  it('refuses to wrap what is open', () => {
    const body = plate([]);
    const open = { ...body, mesh: { ...body.mesh, triangles: body.mesh.triangles.slice(3) } };
    expect(
      computeWrap({ ...open, faceStart: Uint32Array.of(0, open.mesh.triangles.length / 3), surfaces: [{ kind: 'free' }] }, { tolerance: 0.1, closeBelow: 0 }),
    ).toMatchObject({
      ok: false,
      issues: [{ code: 'envelope.open-body' }],
    });
  });
});

describe('a wrap that is made lighter', () => {
  it.each(['grooving-1.step', 'threading-1.step', 'block-6.step'])('of %s holds the tool and the wrap before, within both tolerances', async (file) => {
    const body = await bodyOf(file, 'b1', 0.01);
    const fine = computeWrap(body, { tolerance: 0.05, closeBelow: 0 });
    if (!fine.ok) throw new Error(fine.issues[0].code);
    const lighter = lightenWrap(fine.value.mesh, 0.15, new Solids([]));
    expect(lighter.triangles.length).toBeLessThan(0.9 * fine.value.mesh.triangles.length);
    expect(isClosedMesh(validateMesh(lighter))).toBe(true);
    expect(findSelfCrossings(new TriangleTree(weld(lighter, 1e-7))).count).toBe(0);
    const around = new SignedDistance(weld(lighter, 1e-7));
    for (const places of [fine.value.mesh.positions, body.skin])
      for (let i = 0; i < places.length; i += 3) expect(around.at(places[i], places[i + 1], places[i + 2])).toBeLessThan(1e-6);
    const { least, greatest } = proveEnclosure({ bodies: [body], closedMesh: fine.value.around }, lighter);
    expect(least).toBeGreaterThanOrEqual(-1e-6);
    expect(greatest).toBeLessThanOrEqual(0.2);
  });
});
