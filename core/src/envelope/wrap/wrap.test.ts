import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, type SampledBody, sampledMesh } from '#core/kernel';
import { compose, normalize, rotationAbout, translation } from '#core/math';
import { eachPlace, findSelfCrossings, isClosedMesh, joinMeshes, SignedDistance, Solids, TriangleTree, type TriMesh, validateMesh, weld } from '#core/mesh';
import { computeWrap, lightenWrap, progressiveHull, proveEnclosure } from '../index.ts';
import { corpusBody, pocketedPlate } from './bodies-for-tests.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const bodyOf = (file: string, id: string, chordTolerance: number): Promise<SampledBody> => corpusBody(kernel, file, id, chordTolerance);
const plate = (pockets: Parameters<typeof pocketedPlate>[1]): SampledBody => pocketedPlate(kernel, pockets);

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
