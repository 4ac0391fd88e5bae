import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type Kernel, loadKernel, type PlainSolid, type SampledBody, sampleSolids, writePlainStep } from '#core/kernel';
import { compose, IDENTITY, type Motion, normalize, rotationAbout, translation } from '#core/math';
import { moveMesh, type TriMesh } from '#core/mesh';
import type { ProfilePoint } from '#core/outline';
import { computeExactGeometry, computeRevolvedEnvelope, flatsAround, growthOverMesh, proveAround, proveEnclosure, revolveToMesh } from '../index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const askew = compose(translation([31, -12, 25]), rotationAbout([5, 6, 7], normalize([1, -2, 0.5]), 1.234));
function sampled(solid: PlainSolid, at: Motion = IDENTITY, chordTolerance = 0.02): SampledBody {
  const r = sampleSolids(kernel, writePlainStep(kernel, [{ solid, name: 's', fileFromSolid: at }]), 'x', { chordTolerance });
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value[0];
}
const box = () => sampled({ kind: 'box', size: [20, 30, 40] }, askew);
// A mesh with more corners: every triangle cut into four, so that a single one can be dented.
function finer({ positions: p, triangles: t }: TriMesh): TriMesh {
  const positions = [...p];
  const triangles: number[] = [];
  const middles = new Map<string, number>();
  const middle = (a: number, b: number) => {
    const key = a < b ? `${a},${b}` : `${b},${a}`;
    const known = middles.get(key);
    if (known !== undefined) return known;
    const at = positions.length / 3;
    for (let k = 0; k < 3; k++) positions.push((positions[3 * a + k] + positions[3 * b + k]) / 2);
    middles.set(key, at);
    return at;
  };
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
    const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)];
    triangles.push(a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca);
  }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}

describe('the proof', () => {
  it('counts nothing of a result that lies in another one, but all of it that stands out', () => {
    // A pin of 10 in a block up to its half, both larger than what they stand for by 0.3.
    const pin = sampled({ kind: 'cylinder', radius: 5, height: 40 });
    const larger = computeExactGeometry(sampled({ kind: 'cylinder', radius: 5.3, height: 40 })).mesh;
    const block = computeExactGeometry(sampled({ kind: 'box', size: [40, 40, 20] }, translation([-20, -20, 0]))).mesh;
    const alone = proveEnclosure({ bodies: [pin] }, larger);
    const both = proveEnclosure({ bodies: [pin], others: [block] }, larger);
    expect(both.least).toBe(alone.least);
    expect(both.greatest).toBeCloseTo(alone.greatest, 3);
    // Half of its side, and both ends: 0.56.
    expect(Math.abs(both.area / alone.area - 0.56)).toBeLessThan(0.06);
    // Where it stands out by more only in the block, that is not seen.
    const thicker = computeExactGeometry(sampled({ kind: 'cylinder', radius: 9, height: 15 }, translation([0, 0, 2]))).mesh;
    const sleeve = {
      positions: Float64Array.of(...larger.positions, ...thicker.positions),
      triangles: Uint32Array.of(...larger.triangles, ...thicker.triangles.map((v) => v + larger.positions.length / 3)),
    };
    expect(proveEnclosure({ bodies: [pin] }, sleeve).greatest).toBeGreaterThan(3.9);
    expect(proveEnclosure({ bodies: [pin], others: [block] }, sleeve).greatest).toBeCloseTo(alone.greatest, 3);
  });
  it('finds what stands out of a result that it is said to lie in', () => {
    const block = sampled({ kind: 'box', size: [40, 40, 20] });
    const { mesh } = computeExactGeometry(block);
    const within = sampled({ kind: 'cylinder', radius: 5, height: 20 }, translation([20, 20, 0]));
    const out = sampled({ kind: 'cylinder', radius: 5, height: 20 }, translation([20, 20, 0.004]));
    expect(proveEnclosure({ bodies: [block], inside: [within] }, mesh).least).toBeGreaterThan(-1e-9);
    expect(proveEnclosure({ bodies: [block], inside: [out] }, mesh).least).toBeCloseTo(-0.004, 6);
    expect(proveEnclosure({ bodies: [block], inside: [within] }, mesh).volumeBefore).toBeCloseTo(block.volume + within.volume, 3);
  });
  it('of what lies in a result besides, is added to that of the result: what was seen before of growth, area and faults stays (others were told then)', () => {
    const block = sampled({ kind: 'box', size: [40, 40, 20] });
    const larger = computeExactGeometry(sampled({ kind: 'box', size: [41, 41, 21] }, translation([-0.5, -0.5, -0.5]))).mesh;
    const beside = computeExactGeometry(sampled({ kind: 'box', size: [20, 60, 40] }, translation([30, -10, -10]))).mesh;
    const before = proveEnclosure({ bodies: [block], others: [beside] }, larger);
    const pin = (up: number) => sampled({ kind: 'cylinder', radius: 5, height: 20 }, translation([20, 20, up]));
    const within = proveAround(before, { bodies: [pin(0.2)] }, larger);
    const { least, leastAt, samples, volumeBefore, ...same } = before;
    expect(within).toMatchObject(same);
    expect([least, within.least].map((v) => v.toFixed(6))).toEqual(['0.500000', '0.300000']);
    expect(leastAt[2]).not.toBe(20.2);
    expect(within.leastAt[2]).toBe(20.2);
    expect(within.samples).toBeGreaterThan(samples + 10_000);
    expect(within.volumeBefore).toBeCloseTo(volumeBefore + Math.PI * 25 * 20, 2);
    const out = proveAround(before, { bodies: [pin(0), pin(0.503)] }, larger);
    expect(out.least).toBeCloseTo(-0.003, 6);
    expect(out.leastAt[2]).toBeCloseTo(20.503, 9);
    expect(out.greatest).toBe(before.greatest);
  });
  it('of a body against itself finds nothing: no growth, no cut, the same volume', () => {
    const body = box();
    const proof = proveEnclosure({ bodies: [body] }, computeExactGeometry(body).mesh);
    expect(proof.least).toBeGreaterThan(-1e-9);
    expect(proof.greatest).toBeLessThan(1e-9);
    expect([proof.closed, proof.crossings, proof.degenerate]).toEqual([true, 0, 0]);
    expect(proof.volumeAfter / proof.volumeBefore).toBeCloseTo(1, 9);
    expect(proof.samples).toBeGreaterThan(10_000);
  });
  it.each([0.005, 0.00005])('finds a dent of %f mm that was pushed into the middle of a face, and where it is', (depth) => {
    const body = box();
    let mesh = computeExactGeometry(body).mesh;
    for (let i = 0; i < 4; i++) mesh = finer(mesh);
    const back = moveMesh({ r: askew.r, t: [0, 0, 0] }, { positions: Float64Array.of(0, 0, -depth), triangles: new Uint32Array(0) }).positions;
    // A corner within the top face: all of its triangles look along +Z of the box.
    const local = moveMesh(inverse(askew), mesh).positions;
    let at = -1;
    for (let v = 0; v < local.length / 3; v++)
      if (Math.abs(local[3 * v + 2] - 40) < 1e-9 && local[3 * v] > 6 && local[3 * v] < 14 && local[3 * v + 1] > 10 && local[3 * v + 1] < 20) at = v;
    expect(at).toBeGreaterThanOrEqual(0);
    const positions = Float64Array.from(mesh.positions);
    for (let k = 0; k < 3; k++) positions[3 * at + k] += back[k];
    const proof = proveEnclosure({ bodies: [body] }, { ...mesh, positions });
    expect(proof.least / -depth).toBeCloseTo(1, 3);
    expect(Math.hypot(...proof.leastAt.map((v, k) => v - positions[3 * at + k]))).toBeLessThan(1e-6);
  });
  it('finds that a cylinder’s own chords cut into it, by their sag', () => {
    const body = sampled({ kind: 'cylinder', radius: 10, height: 30 }, askew, 0.05);
    const proof = proveEnclosure({ bodies: [body] }, body.mesh);
    expect(proof.least).toBeLessThan(-0.02);
    expect(proof.least).toBeGreaterThan(-0.0501);
    const pushed = proveEnclosure({ bodies: [body] }, computeExactGeometry(body).mesh);
    expect(pushed.least).toBeGreaterThanOrEqual(-1e-6);
    expect(pushed.greatest).toBeGreaterThan(0.02);
  });
  it('says that a mesh is open, inside out, or goes through itself', () => {
    const body = box();
    const { mesh } = computeExactGeometry(body);
    expect(proveEnclosure({ bodies: [body] }, { ...mesh, triangles: mesh.triangles.slice(3) })).toMatchObject({ closed: false, openEdges: 3 });
    const turned = mesh.triangles.map((_, i, t) => t[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]);
    expect(proveEnclosure({ bodies: [body] }, { ...mesh, triangles: turned }).closed).toBe(false);
    const twice = moveMesh(translation([3, 4, 5]), mesh);
    const both = {
      positions: Float64Array.from([...mesh.positions, ...twice.positions]),
      triangles: Uint32Array.from([...mesh.triangles, ...twice.triangles.map((v) => v + mesh.positions.length / 3)]),
    };
    expect(proveEnclosure({ bodies: [body] }, both).crossings).toBeGreaterThan(0);
  });
  it('is never told that growth is not above what it is above, as far outside or inside as a place may be (seed 31)', () => {
    const field = growthOverMesh([box()]);
    const { positions: p } = box().mesh;
    const to = (from: number) => fc.integer({ min: -8000, max: 8000 }).map((v) => from + v / 1000);
    let told = 0;
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: p.length / 3 - 1 }).chain((i) => fc.tuple(to(p[3 * i]), to(p[3 * i + 1]), to(p[3 * i + 2]))),
        fc.integer({ min: -1000, max: 12_000 }).map((v) => v / 1000),
        ([x, y, z], above) => {
          if (field.isAbove(x, y, z, above)) return;
          told++;
          expect(field.at(x, y, z).growth).toBeLessThanOrEqual(above);
        },
      ),
      { seed: 31, numRuns: 1500 },
    );
    expect(told).toBeGreaterThan(300);
  });
  it('of what spins is measured in the half plane: a box about its own axis grows by its corners, not by its flats', () => {
    const body = sampled({ kind: 'box', size: [20, 20, 40] }, translation([-10, -10, 0]));
    const axis = { origin: [0, 0, 0] as const, direction: [0, 0, 1] as const };
    const envelope = computeRevolvedEnvelope([body], axis, 0.02);
    if (!envelope.ok) throw new Error('no envelope');
    const flats = flatsAround(15, 0.02);
    const mesh = revolveToMesh(envelope.value.profile, axis, flats);
    const proof = proveEnclosure({ bodies: [body], spin: { axis } }, mesh);
    expect(proof.least).toBeGreaterThanOrEqual(-1e-6);
    expect(proof.greatest).toBeLessThan(0.03);
    // As a wrap of the box it would stand out by what the circle is wider than the square.
    expect(proveEnclosure({ bodies: [body] }, mesh).greatest).toBeCloseTo(Math.SQRT2 * 10 - 10, 1);
    // A profile that is a hundredth too small is found.
    const lower = ([z, r]: ProfilePoint): ProfilePoint => [z, Math.max(0, r - 0.03)];
    const small = envelope.value.profile.map((loop) => loop.map((p) => ({ ...p, from: lower(p.from), to: lower(p.to) })));
    expect(proveEnclosure({ bodies: [body], spin: { axis } }, revolveToMesh(small, axis, 720)).least).toBeLessThan(-0.02);
  });
});

const inverse = ({ r, t }: Motion): Motion => {
  const back: Motion['r'] = [r[0], r[3], r[6], r[1], r[4], r[7], r[2], r[5], r[8]];
  return { r: back, t: [0, 3, 6].map((i) => -(back[i] * t[0] + back[i + 1] * t[1] + back[i + 2] * t[2])) as unknown as Motion['t'] };
};
