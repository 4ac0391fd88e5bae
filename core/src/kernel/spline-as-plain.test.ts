import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { add, addScaled, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import { type PlainSurface, splineAsPlain } from './spline-as-plain.ts';
import type { SplineSurface } from './spline-surface.ts';

/** A point of a profile in the half plane with its weight. */
type Pole = readonly [r: number, z: number, weight: number];

const clamped = (degree: number, spans: number): Float64Array =>
  Float64Array.from([
    ...Array.from({ length: degree + 1 }, () => 0),
    ...Array.from({ length: 2 * (spans - 1) }, (_, i) => 1 + (i >> 1)),
    ...Array.from({ length: degree + 1 }, () => spans),
  ]);

// Rational quadratics of an arc of the unit circle, as even stretches.
function arcOf(from: number, sweep: number): Pole[] {
  const spans = Math.ceil(Math.abs(sweep) / 1.7);
  const half = sweep / spans / 2;
  return Array.from({ length: 2 * spans + 1 }, (_, i) => {
    const a = from + i * half;
    const out = i % 2 === 1 ? 1 / Math.cos(half) : 1;
    return [out * Math.cos(a), out * Math.sin(a), i % 2 === 1 ? Math.cos(half) : 1];
  });
}

interface Placed {
  readonly origin: Vec3;
  readonly z: Vec3;
}

// Arcs and lines turned about an axis, by so much from somewhere on. A profile of three poles or more is of quadratics.
function turned({ origin, z }: Placed, profile: readonly Pole[], from: number, sweep: number): SplineSurface {
  const x = normalize(cross(z, Math.abs(z[0]) < 0.7 ? [1, 0, 0] : [0, 1, 0]));
  const y = cross(z, x);
  const round = arcOf(from, sweep);
  const degreeV = profile.length === 2 ? 1 : 2;
  const poles: number[] = [];
  const weights: number[] = [];
  for (const [a, b, w] of round)
    for (const [r, h, v] of profile) {
      poles.push(...addScaled(addScaled(addScaled(origin, x, r * a), y, r * b), z, h));
      weights.push(w * v);
    }
  return {
    degreeU: 2,
    degreeV,
    knotsU: clamped(2, (round.length - 1) / 2),
    knotsV: clamped(degreeV, degreeV === 1 ? 1 : (profile.length - 1) / 2),
    countU: round.length,
    countV: profile.length,
    poles: Float64Array.from(poles),
    weights: Float64Array.from(weights),
  };
}

// The same with its two coordinates changed for each other: its normal looks the other way.
function swapped(s: SplineSurface): SplineSurface {
  const order = Array.from({ length: s.countU * s.countV }, (_, k) => (k % s.countU) * s.countV + Math.floor(k / s.countU));
  return {
    degreeU: s.degreeV,
    degreeV: s.degreeU,
    knotsU: s.knotsV,
    knotsV: s.knotsU,
    countU: s.countV,
    countV: s.countU,
    poles: Float64Array.from(order.flatMap((k) => [...s.poles.subarray(3 * k, 3 * k + 3)])),
    ...(s.weights ? { weights: Float64Array.from(order, (k) => s.weights?.[k] ?? 1) } : {}),
  };
}

const PLACED: Placed = { origin: [12, -7, 33], z: normalize([0.3, -0.5, 0.81]) };
const ballProfile = (r: number, from: number, sweep: number): Pole[] => arcOf(from, sweep).map(([a, b, w]) => [r * a, r * b, w]);
const ringProfile = (major: number, r: number, from: number, sweep: number): Pole[] => arcOf(from, sweep).map(([a, b, w]) => [major + r * a, r * b, w]);
const LINE: readonly Pole[] = [
  [8, -3, 1],
  [8, 9, 1],
];
const TAPER: readonly Pole[] = [
  [8, 0, 1],
  [5, 9, 1],
];

const along = (axis: Vec3, other: Vec3) => Math.abs(dot(axis, other));
const isAcross = ({ x, z }: PlainSurface) => Math.abs(dot(x, z)) < 1e-9 && Math.abs(length(x) - 1) < 1e-9 && Math.abs(length(z) - 1) < 1e-9;

describe('a spline that is a plain surface', () => {
  it('a plane, by its corners and its normal', () => {
    const [u, v] = [normalize([1, 2, -1]), normalize([2, 0, 2])];
    const corners = [0, 1, 2, 3].map((k) => addScaled(addScaled([400, -300, 20], u, k > 1 ? 700 : 0), v, k % 2 === 1 ? 500 : 0));
    const spline = { degreeU: 1, degreeV: 1, knotsU: clamped(1, 1), knotsV: clamped(1, 1), countU: 2, countV: 2, poles: Float64Array.from(corners.flat()) };
    const found = splineAsPlain(spline);
    expect(found).toMatchObject({ kind: 'plane', isFlipped: false });
    expect(dot(found?.z ?? [0, 0, 0], normalize(cross(u, v)))).toBeCloseTo(1, 12);
    expect(dot(splineAsPlain(swapped(spline))?.z ?? [0, 0, 0], normalize(cross(u, v)))).toBeCloseTo(-1, 12);
  });
  it.each([
    ['cylinder', LINE, [8]],
    ['cone', TAPER, [8, Math.atan(1 / 3)]],
    ['sphere', ballProfile(6, -0.9, 1.7), [6]],
    ['torus', ringProfile(20, 4, 0.4, 1.9), [20, 4]],
  ] as const)('a %s, of any part of a turn and either normal', (kind, profile, numbers) => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.7, max: 2 * Math.PI, noNaN: true }),
        fc.boolean(),
        (from, sweep, isSwapped) => {
          const spline = turned(PLACED, profile, from, sweep);
          const found = splineAsPlain(isSwapped ? swapped(spline) : spline);
          expect(found?.kind).toBe(kind);
          if (!found) return;
          expect(isAcross(found)).toBe(true);
          // u about the axis, then along the profile: the normal looks outwards, of these profiles.
          expect(found.isFlipped).toBe(isSwapped);
          // A cone may be placed anywhere along its axis.
          found.numbers.forEach((n, i) => (kind === 'cone' && i === 0 ? undefined : expect(n).toBeCloseTo(numbers[i], 6)));
          if (kind === 'sphere') expect(subtract(found.origin, PLACED.origin).every((d) => Math.abs(d) < 1e-6)).toBe(true);
          else expect(along(found.z, PLACED.z)).toBeCloseTo(1, 10);
          // No place of the surface lies where its coordinates begin, but on its own border.
          if (sweep > 2 * Math.PI - 0.8 || kind === 'sphere') return;
          const y = cross(found.z, found.x);
          for (let i = 0; i < spline.poles.length; i += 3) {
            const d = subtract([spline.poles[i], spline.poles[i + 1], spline.poles[i + 2]], found.origin);
            expect(Math.abs(Math.atan2(dot(d, y), dot(d, found.x)))).toBeGreaterThan(0.1);
          }
        },
      ),
      { numRuns: 25 },
    );
  });
  it('of a whole turn the coordinates begin where those of the spline do', () => {
    for (const profile of [LINE, TAPER, ringProfile(20, 4, 0, 2 * Math.PI)]) {
      const spline = turned(PLACED, profile, 1.1, 2 * Math.PI);
      const found = splineAsPlain(spline) as PlainSurface;
      const start = subtract([spline.poles[0], spline.poles[1], spline.poles[2]], found.origin);
      const flat = normalize(addScaled(start, found.z, -dot(start, found.z)));
      expect(dot(flat, found.x)).toBeCloseTo(1, 9);
    }
  });
  it('a cone’s radius grows along its axis', () => {
    const found = splineAsPlain(turned(PLACED, TAPER, 0, 2)) as PlainSurface;
    const tip = addScaled(found.origin, found.z, -found.numbers[0] / Math.tan(found.numbers[1]));
    expect(length(subtract(tip, addScaled(PLACED.origin, PLACED.z, 24)))).toBeLessThan(1e-6);
  });
  it.each([7 / 48, 0.8, 2.54])('a cone may go on for metres, as systems write what is cut to its face by its border alone (slope %d)', (slope) => {
    const long: Pole[] = [
      [8, -40, 1],
      [8 + 10_000 * slope, 9_960, 1],
    ];
    const found = splineAsPlain(turned(PLACED, long, 0.4, 2 * Math.PI)) as PlainSurface;
    expect(found.kind).toBe('cone');
    expect(found.numbers[1]).toBeCloseTo(Math.atan(slope), 12);
    const tip = addScaled(found.origin, found.z, -found.numbers[0] / Math.tan(found.numbers[1]));
    expect(length(subtract(tip, addScaled(PLACED.origin, PLACED.z, -40 - 8 / slope)))).toBeLessThan(1e-6);
  });
  it('a ball has its axis through the poles of its spline, and of a patch beside it', () => {
    const whole = splineAsPlain(turned(PLACED, ballProfile(6, -Math.PI / 2, Math.PI), 0.3, 2 * Math.PI)) as PlainSurface;
    expect(along(whole.z, PLACED.z)).toBeCloseTo(1, 9);
    const band = splineAsPlain(turned(PLACED, ballProfile(6, -0.3, 0.8), 0.3, 2 * Math.PI)) as PlainSurface;
    expect(along(band.z, PLACED.z)).toBeCloseTo(1, 9);
    const patch = turned(PLACED, ballProfile(6, -0.3, 0.8), 0.3, 1);
    const found = splineAsPlain(patch) as PlainSurface;
    const middle = normalize(
      Array.from({ length: patch.poles.length / 3 }, (_, i): Vec3 => [patch.poles[3 * i], patch.poles[3 * i + 1], patch.poles[3 * i + 2]]).reduce<Vec3>(
        (s, p) => add(s, subtract(p, found.origin)),
        [0, 0, 0],
      ),
    );
    expect(along(found.z, middle)).toBeLessThan(0.2);
    expect(dot(found.x, middle)).toBeLessThan(-0.9);
  });
  it('a whole ring whose tube begins elsewhere than outside stays a spline: its seam would lie elsewhere', () => {
    expect(splineAsPlain(turned(PLACED, ringProfile(20, 4, 0, 2 * Math.PI), 0, 2))?.kind).toBe('torus');
    expect(splineAsPlain(turned(PLACED, ringProfile(20, 4, 1, 2 * Math.PI), 0, 2))).toBeUndefined();
  });
  it('what is off by a hair, or by a bulge between the places that a surface is told by, is none', () => {
    const spline = turned(PLACED, LINE, 0, 2);
    for (const by of [1e-5, 1e-3, 0.1]) {
      const poles = Float64Array.from(spline.poles);
      for (let k = 0; k < 3; k++) poles[k + 6] += by * PLACED.z[k] + by;
      expect(splineAsPlain({ ...spline, poles })).toBeUndefined();
    }
    const flat = { degreeU: 1, degreeV: 1, knotsU: clamped(1, 1), knotsV: clamped(1, 1), countU: 2, countV: 2 };
    const twisted = [[0, 0, 0], [0, 10, 0], [10, 0, 0], scale([10, 10, 1e-5], 1)].flat();
    expect(splineAsPlain({ ...flat, poles: Float64Array.from(twisted) })).toBeUndefined();
  });
});
