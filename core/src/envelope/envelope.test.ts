import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type Kernel, loadKernel, type PlainSolid, type SampledBody, sampleSolids, writePlainStep } from '#core/kernel';
import { compose, IDENTITY, type Motion, move, normalize, rotationAbout, translation, turn, type Vec3 } from '#core/math';
import { distanceOutside, isClosedMesh, meshVolume, validateMesh } from '#core/mesh';
import { depthInProfile, type HalfProfile, listPieces, loopThrough, profileDepthFinder, validateProfile } from '#core/outline';
import {
  chordsOfSegments,
  dropHidden,
  upperEnvelope,
  computeExactGeometry,
  computeRevolvedEnvelope,
  flatsAround,
  flatsGrowth,
  proveEnclosure,
  revolveToMesh,
  SEGMENT_SIZE,
  zrOf,
} from './index.ts';
import { coverOf, placesAbout } from './revolved/buried.ts';
import { sweptSegments } from './revolved/swept-segments.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function sampled(solids: { solid: PlainSolid; fileFromSolid: Motion }[], chordTolerance = 0.02): SampledBody[] {
  const bytes = writePlainStep(
    kernel,
    solids.map((s, i) => ({ ...s, name: `s${i}` })),
  );
  const r = sampleSolids(kernel, bytes, 'x.step', { chordTolerance });
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
}
const Z = { origin: [0, 0, 0] as Vec3, direction: [0, 0, 1] as Vec3 };
const envelopeOf = (bodies: SampledBody[], axis = Z, tolerance = 0.05) => {
  const r = computeRevolvedEnvelope(bodies, axis, tolerance);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  expect(validateProfile(r.value.profile)).toEqual([]);
  return r.value;
};
const rounded = (profile: HalfProfile) => profile.map((loop) => loop.map(({ from: [z, r] }) => [Math.round(z * 1e5) / 1e5 + 0, Math.round(r * 1e5) / 1e5]));

describe('revolved envelope, known answers', () => {
  it('of a cylinder about its axis is the cylinder with its own diameter', () => {
    const { profile, growth } = envelopeOf(sampled([{ solid: { kind: 'cylinder', radius: 25, height: 40 }, fileFromSolid: IDENTITY }]));
    expect(rounded(profile)).toEqual([
      [
        [0, 0],
        [40, 0],
        [40, 25],
        [0, 25],
      ],
    ]);
    expect(growth.max).toBeLessThan(1e-6);
    expect(growth.min).toBeGreaterThanOrEqual(-1e-9);
  });
  it('of two bodies apart is two runs', () => {
    const bodies = sampled([
      { solid: { kind: 'cylinder', radius: 5, height: 10 }, fileFromSolid: IDENTITY },
      { solid: { kind: 'cylinder', radius: 8, height: 10 }, fileFromSolid: translation([0, 0, 30]) },
    ]);
    expect(rounded(envelopeOf(bodies).profile)).toEqual([
      [
        [0, 0],
        [10, 0],
        [10, 5],
        [0, 5],
      ],
      [
        [30, 0],
        [40, 0],
        [40, 8],
        [30, 8],
      ],
    ]);
  });
  it('of a box about its middle is the circle around its corners', () => {
    const { profile } = envelopeOf(sampled([{ solid: { kind: 'box', size: [6, 8, 20] }, fileFromSolid: translation([-3, -4, 0]) }]));
    expect(rounded(profile)).toEqual([
      [
        [0, 0],
        [20, 0],
        [20, 5],
        [0, 5],
      ],
    ]);
  });
  it('of a cube about its diagonal follows cone, hyperboloid and cone', () => {
    const bodies = sampled([{ solid: { kind: 'box', size: [10, 10, 10] }, fileFromSolid: IDENTITY }]);
    const axis = { origin: [0, 0, 0] as Vec3, direction: normalize([1, 1, 1]) };
    const { exact, profile, growth } = envelopeOf(bodies, axis, 0.02);
    // Six edges have one end on the axis: r = sqrt(2) z. The other six are skew: r^2 = 2 z^2 - 4 L z / sqrt(3) ... from (L/sqrt 3, L sqrt(2/3)).
    const L = 10;
    const trueRadius = (z: number): number => {
      const third = L / Math.sqrt(3);
      if (z <= third) return Math.SQRT2 * z;
      if (z >= 2 * third) return Math.SQRT2 * (3 * third - z);
      const t = (z - third) / third; // along a skew edge from (L,0,0) to (L,L,0)
      const p: Vec3 = [L, L * t, 0];
      return zrOf(axis, p)[1];
    };
    const [inExact, inProfile] = [profileDepthFinder(exact), profileDepthFinder(profile)];
    for (let z = 0.05; z < 17.3; z += 0.37) {
      expect(inExact(z, trueRadius(z))).toBeGreaterThan(-1e-6);
      expect(inProfile(z, trueRadius(z) + 0.06)).toBeLessThan(0);
    }
    expect(growth.min).toBeGreaterThan(-1e-6);
  });
  it('of a sphere encloses it and stays within the tolerance', () => {
    const { profile, growth } = envelopeOf(sampled([{ solid: { kind: 'sphere', radius: 20 }, fileFromSolid: IDENTITY }]), Z, 0.05);
    // One arc from pole to pole, of the ball's own radius.
    expect(listPieces(profile)).toMatchObject([{ kind: 'arc' }]);
    for (let a = -1.55; a < 1.55; a += 0.01) expect(depthInProfile(profile, [20 * Math.sin(a), 20 * Math.cos(a)])).toBeGreaterThan(-1e-9);
    expect(growth.max).toBeLessThan(0.01);
  });
  it('of a torus off the axis encloses it, with its loss covered', () => {
    const at = compose(translation([30, 0, 0]), rotationAbout([0, 0, 0], [1, 0, 0], 0.9));
    const { profile, growth } = envelopeOf(sampled([{ solid: { kind: 'torus', major: 12, minor: 3 }, fileFromSolid: at }], 0.1), Z, 0.05);
    const depth = profileDepthFinder(profile);
    let least = Infinity;
    for (let u = 0; u < 6.283; u += 0.05)
      for (let v = 0; v < 6.283; v += 0.05) {
        const p: Vec3 = [(12 + 3 * Math.cos(v)) * Math.cos(u), (12 + 3 * Math.cos(v)) * Math.sin(u), 3 * Math.sin(v)];
        least = Math.min(least, depth(...zrOf(Z, move(at, p))));
      }
    expect(least).toBeGreaterThan(-1e-9);
    expect(growth.min).toBeGreaterThan(-1e-6);
  });
});

describe('revolved envelope, properties', () => {
  it('encloses random solids in random poses about random axes (seed 7), at three tolerances', () => {
    let seed = 7;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
    const between = (a: number, b: number) => a + (b - a) * random();
    const direction = (): Vec3 => normalize([between(-1, 1), between(-1, 1), between(0.1, 1)]);
    const counts = new Map<number, number>();
    for (let round = 0; round < 5; round++) {
      const pose = () => compose(translation([between(-20, 20), between(-20, 20), between(-20, 20)]), rotationAbout([0, 0, 0], direction(), between(0, 6)));
      const bodies = sampled(
        [
          { solid: { kind: 'cylinder', radius: between(2, 12), height: between(5, 40) }, fileFromSolid: pose() },
          { solid: { kind: 'torus', major: between(8, 15), minor: between(1, 5) }, fileFromSolid: pose() },
          { solid: { kind: 'box', size: [between(2, 20), between(2, 20), between(2, 20)] }, fileFromSolid: pose() },
        ],
        0.05,
      );
      const axis = { origin: [between(-5, 5), between(-5, 5), 0] as Vec3, direction: direction() };
      for (const tolerance of [0.01, 0.05, 0.2]) {
        const { growth, profile } = envelopeOf(bodies, axis, tolerance);
        expect({ round, tolerance, inside: growth.min < -1e-6 }).toEqual({ round, tolerance, inside: false });
        counts.set(tolerance, (counts.get(tolerance) ?? 0) + profile.flat().length);
      }
    }
    // A wider band needs fewer points.
    const [fine, usual, coarse] = [...counts.values()];
    expect([fine > usual, usual > coarse]).toEqual([true, true]);
  });
  it('does not depend on where the model stands', () => {
    const motion = compose(translation([40, -7, 12]), rotationAbout([1, 2, 3], normalize([1, 2, -1]), 2.2));
    const solid: PlainSolid = { kind: 'torus', major: 12, minor: 3 };
    const here = envelopeOf(sampled([{ solid, fileFromSolid: translation([0, 5, 0]) }]));
    const there = envelopeOf(sampled([{ solid, fileFromSolid: compose(motion, translation([0, 5, 0])) }]), {
      origin: move(motion, Z.origin),
      direction: turn(motion, Z.direction),
    });
    // The kernel tessellates a moved model a little differently.
    expect(Math.abs(there.volume / here.volume - 1)).toBeLessThan(0.01);
  });
  it('refuses tolerances that cannot be meant, and an axis that misses', () => {
    const bodies = sampled([{ solid: { kind: 'cylinder', radius: 5, height: 10 }, fileFromSolid: translation([400, 0, 0]) }]);
    for (const t of [0, -1, Number.NaN, Infinity, 99])
      expect(computeRevolvedEnvelope(bodies, Z, t)).toMatchObject({ ok: false, issues: [{ code: 'envelope.bad-tolerance' }] });
    expect(computeRevolvedEnvelope(bodies, Z, 0.05)).toMatchObject({ ok: false, issues: [{ code: 'envelope.axis-off' }] });
    expect(computeRevolvedEnvelope([], Z, 0.05)).toMatchObject({ ok: false, issues: [{ code: 'envelope.no-bodies' }] });
  });
});

describe('upper envelope against a slow reference (seed 99)', () => {
  let seed = 99;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  const pieces = Float64Array.from({ length: 400 }, () => 0);
  for (let i = 0; i < pieces.length; i += 4) {
    const z = random() * 50;
    pieces.set([z, random() * 20, z + 0.1 + random() * 10, random() * 20], i);
  }
  const heightOf = (p: Float64Array, z: number) => {
    let best = -1;
    for (let i = 0; i < p.length; i += 4) {
      if (z < p[i] || z > p[i + 2]) continue;
      best = Math.max(best, p[i + 1] + ((p[i + 3] - p[i + 1]) * (z - p[i])) / (p[i + 2] - p[i]));
    }
    return best;
  };
  const envelope = upperEnvelope(pieces);

  it('is the highest of all pieces at every place', () => {
    for (let z = 0.0137; z < 61; z += 0.0291) expect(heightOf(envelope, z)).toBeCloseTo(heightOf(pieces, z), 9);
  });
  it('is sorted, without overlap, and no longer than Davenport and Schinzel allow', () => {
    for (let i = 4; i < envelope.length; i += 4) expect(envelope[i]).toBeGreaterThanOrEqual(envelope[i - 2]);
    expect(envelope.length / 4).toBeLessThan(3 * 100);
  });
  it('is the same without the edges that are hidden anyway, and many are', () => {
    const list = Array.from({ length: 900 }, (_, i) => {
      const z = random() * 40;
      const at = () => (random() - 0.5) * 20;
      return [z, z + 0.2 + random() * 8, at(), at(), at(), at(), i % 2 ? 0 : 0.05, i % 3 ? 0 : 0.1];
    }).flat();
    const edges = Float64Array.from(list);
    const kept = dropHidden(edges, SEGMENT_SIZE).segments;
    expect(kept.length).toBeLessThan(edges.length / 2);
    const [all, few] = [{ segments: edges }, dropHidden(edges, SEGMENT_SIZE)].map((e) => upperEnvelope(chordsOfSegments(e, SEGMENT_SIZE, 1e-4).pieces));
    for (let z = -0.05; z < 48; z += 0.0393) expect(Math.abs(heightOf(all, z) - heightOf(few, z))).toBeLessThan(1e-4);
  });
  it('of bodies is the same without the triangles that are buried, about their own and a skew axis, and most of those inside are', () => {
    const bodies = sampled([
      { solid: { kind: 'cylinder', radius: 40, height: 60 }, fileFromSolid: IDENTITY },
      { solid: { kind: 'cylinder', radius: 9, height: 12 }, fileFromSolid: translation([6, 0, 20]) },
    ]);
    for (const axis of [Z, { origin: [1, 0, 0] as const, direction: normalize([0.1, -0.2, 1]) }]) {
      const places = bodies.map((b) => placesAbout(b, axis));
      const cover = coverOf(bodies, places);
      const [all, few] = [undefined, cover].map((c) => bodies.map((b, i) => sweptSegments(b, axis, { places: places[i], cover: c }).segments));
      expect(few[1].length).toBe(0);
      expect(all[1].length).toBeGreaterThan(100);
      const [whole, light] = [all, few].map((s) =>
        upperEnvelope(chordsOfSegments({ segments: Float64Array.from([...s[0], ...s[1]]) }, SEGMENT_SIZE, 1e-4).pieces),
      );
      for (let z = -7; z < 67; z += 0.0393) expect(Math.abs(heightOf(whole, z) - heightOf(light, z))).toBeLessThan(1e-4);
    }
  });
  it('stays above the swept edges by at most what was asked for, with loss and end reach', () => {
    for (const exactness of [0.1, 0.001]) {
      for (let round = 0; round < 15; round++) {
        const at = () => (random() - 0.5) * 30;
        const [ax, ay, bx, by] = [at(), at(), at(), at()];
        const { pieces: chords, gap } = chordsOfSegments({ segments: Float64Array.of(3, 13, ax, ay, bx, by, 0, 0) }, SEGMENT_SIZE, exactness);
        expect(gap).toBeLessThanOrEqual(exactness);
        const reaching = upperEnvelope(chordsOfSegments({ segments: Float64Array.of(3, 13, ax, ay, bx, by, 0.2, 0.3) }, SEGMENT_SIZE, exactness).pieces);
        for (let t = 0; t <= 1; t += 0.0101) {
          const r = Math.hypot(ax + t * bx, ay + t * by);
          const above = heightOf(chords, 3 + 10 * t) - r;
          expect(above).toBeGreaterThan(-1e-9);
          expect(above).toBeLessThan(exactness + 1e-9);
          for (const dz of [-0.3, 0, 0.3]) expect(heightOf(reaching, 3 + 10 * t + dz)).toBeGreaterThan(r + 0.2 - 1e-9);
        }
      }
    }
  });
});

describe('revolved mesh', () => {
  it('is closed, outward, and its flats touch the circle from outside', () => {
    const flats = flatsAround(25, 0.02);
    const mesh = revolveToMesh(
      [
        loopThrough([
          [0, 0],
          [15, 0],
          [15, 12],
          [10, 25],
          [0, 25],
        ]),
      ],
      { origin: [3, 4, 5], direction: normalize([1, 0, 1]) },
      flats,
    );
    expect(validateMesh(mesh)).toMatchObject({ openEdges: 0, badEdges: 0, insideOut: false });
    expect(flatsGrowth(25, flats)).toBeLessThan(0.02 + 1e-9);
    const exact = Math.PI * 625 * 10 + (Math.PI / 3) * 5 * (625 + 25 * 12 + 144);
    expect(meshVolume(mesh)).toBeGreaterThan(exact);
    expect(meshVolume(mesh)).toBeLessThan(exact * 1.002);
  });
});

describe('exact geometry', () => {
  it('encloses a sphere that its own tessellation cuts', () => {
    const [body] = sampled([{ solid: { kind: 'sphere', radius: 20 }, fileFromSolid: IDENTITY }], 0.05);
    const { mesh, growth } = computeExactGeometry(body);
    expect(growth.min).toBeGreaterThanOrEqual(-1e-9);
    expect(growth.max).toBeLessThan(0.15);
    expect(isClosedMesh(validateMesh(mesh))).toBe(true);
    const truth = (4 / 3) * Math.PI * 8000;
    expect(meshVolume(body.mesh)).toBeLessThan(truth);
    expect(meshVolume(mesh)).toBeGreaterThan(truth);
    // By another method than the builder's: points of the sphere against the whole mesh.
    for (let i = 0; i < 60; i++) {
      const [a, b] = [i * 0.71, Math.sin(i) * 1.5];
      expect(distanceOutside(mesh, [20 * Math.cos(b) * Math.cos(a), 20 * Math.cos(b) * Math.sin(a), 20 * Math.sin(b)])).toBeLessThan(1e-9);
    }
  });
  it('leaves a body of planes exactly as it is', () => {
    const [body] = sampled([{ solid: { kind: 'box', size: [3, 4, 5] }, fileFromSolid: rotationAbout([0, 0, 0], [0, 1, 0], 0.3) }]);
    const { mesh, growth } = computeExactGeometry(body);
    expect(growth).toEqual({ min: 0, mean: 0, max: 0 });
    expect(meshVolume(mesh)).toBeCloseTo(60, 9);
  });
  it('holds on a real vendor-like part, body by body', () => {
    const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/models/hub-face-holder-25.step')));
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.05 });
    for (const body of r.ok ? r.value : [])
      expect({ id: body.id, inside: computeExactGeometry(body).growth.min < -1e-6 }).toEqual({ id: body.id, inside: false });
  });
  it('tells no cut where a triangle lies low but its neighbours stand over it', () => {
    // Corners between two hollow faces that cannot move out: edges are split there instead.
    const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/corpus/models/holder-b3.step')));
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.04, ids: ['b1'] });
    if (!r.ok) throw new Error(r.issues[0].code);
    const { mesh, growth } = computeExactGeometry(r.value[0]);
    expect(growth.min).toBeGreaterThanOrEqual(-1e-6);
    expect(proveEnclosure({ bodies: r.value }, mesh).least).toBeGreaterThanOrEqual(-1e-6);
  });
});
