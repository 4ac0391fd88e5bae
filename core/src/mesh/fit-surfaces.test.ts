import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { addScaled, anyAcross, cross, length, normalize, type Vec3 } from '#core/math';
import { distanceFrom, normalAt, plainest, refinePrimitive, type Unfitted } from './fit-surfaces.ts';
import { orderBySize } from './order-by-size.ts';
import { SurfaceProbe } from './surface-probe.ts';

const axis = normalize([0.3, -0.5, 0.81]);
const truths: readonly Unfitted[] = [
  { kind: 'sphere', origin: [12, -7, 33], radius: 4.2 },
  { kind: 'cylinder', origin: [12, -7, 33], axis, radius: 8 },
  { kind: 'cone', origin: [12, -7, 33], axis, radius: 8, slope: 0.29 },
  { kind: 'torus', origin: [12, -7, 33], axis, majorRadius: 8, radius: 1.6 },
];

// A place on the surface from two numbers of 0 to 1: round the axis, and along it or about the ring.
function placeOn(s: Unfitted, a: number, b: number): Vec3 {
  const w: Vec3 = s.kind === 'sphere' ? [0, 0, 1] : s.axis;
  const u = anyAcross(w);
  const v = cross(w, u);
  const at = (angle: number, r: number, z: number) => addScaled(addScaled(addScaled(s.origin, u, r * Math.cos(angle)), v, r * Math.sin(angle)), w, z);
  const around = 4 * a;
  if (s.kind === 'cylinder') return at(around, s.radius, 10 * b - 3);
  if (s.kind === 'cone') return at(around, s.radius + s.slope * (10 * b - 3), 10 * b - 3);
  const turn = 3 * b;
  return at(around, (s.kind === 'torus' ? s.majorRadius : 0) + s.radius * Math.cos(turn), s.radius * Math.sin(turn));
}

const grid = Array.from({ length: 12 }, (_, i) => Array.from({ length: 6 }, (_unused, k) => [i / 11, k / 5] as const)).flat();

describe('a round surface through points', () => {
  it.each(truths)('$kind: is found from a guess that is off by tenths', (truth) => {
    const points = Float64Array.from(grid.flatMap(([a, b]) => placeOn(truth, a, b)));
    const guess: Unfitted = { ...truth, origin: addScaled(truth.origin, [0.5, 0.6, 0.62], 0.2), radius: truth.radius + 0.15 };
    if (guess.kind !== 'sphere') Object.assign(guess, { axis: normalize(addScaled(axis, [0.1, 0.7, -0.7], 0.03)) });
    const found = refinePrimitive(guess, points);
    expect(found?.kind).toBe(truth.kind);
    expect(found?.residual).toBeLessThan(1e-6);
    if (found?.kind === 'cylinder' || found?.kind === 'torus') expect(found.radius).toBeCloseTo(truth.radius, 6);
    if (found && found.kind !== 'sphere') expect(length(cross(found.axis, axis))).toBeLessThan(1e-6);
  });
  it('a cone of no slope is told as the cylinder that it is, one that leans by a fiftieth of a degree stays one', () => {
    const cone = (slope: number): Unfitted => ({ kind: 'cone', origin: [12, -7, 33], axis, radius: 8, slope });
    const told = (slope: number) => {
      const points = Float64Array.from(grid.flatMap(([a, b]) => placeOn(cone(slope), a, b)));
      const found = refinePrimitive(cone(slope + 1e-6), points);
      return found && plainest(found, points, 5e-4);
    };
    expect(told(1e-9)).toMatchObject({ kind: 'cylinder' });
    expect(told(1e-9)?.radius).toBeCloseTo(8, 6);
    expect(told(4e-4)?.kind).toBe('cone');
    expect(told(0.29)?.kind).toBe('cone');
  });
  it('points of another kind leave a residual', () => {
    const torus = Float64Array.from(grid.flatMap(([a, b]) => placeOn(truths[3], a, b)));
    expect(refinePrimitive(truths[1], torus)?.residual ?? Infinity).toBeGreaterThan(0.1);
  });
});

describe('a probe', () => {
  it.each(truths)('$kind: says of corners what distance and normal say', (truth) => {
    fc.assert(
      fc.property(
        fc.float({ min: 0, max: 1, noNaN: true }),
        fc.float({ min: 0, max: 1, noNaN: true }),
        fc.constantFrom(-0.02, -0.009, 0, 0.009, 0.02),
        (a, b, off) => {
          const on = placeOn(truth, a, b);
          const normal = normalAt(truth, on);
          const p = addScaled(on, normal, off);
          expect(distanceFrom(truth, ...p)).toBeCloseTo(off, 9);
          const probe = new SurfaceProbe(Float64Array.from(p));
          probe.begin(truth, 0.01);
          expect(probe.lies(0, ...normal, 0.999)).toBe(Math.abs(off) <= 0.01);
          expect(probe.lies(0, ...normalize(addScaled(normal, anyAcross(normal), 0.3)), 0.999)).toBe(false);
          // Another surface is asked about anew.
          probe.begin({ ...truth, radius: truth.radius + 0.5 }, 0.01);
          expect(probe.lies(0, ...normal, -2)).toBe(false);
        },
      ),
      { seed: 7, numRuns: 60 },
    );
  });
});

describe('orderBySize', () => {
  it('is the order of a stable sort, largest first', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ min: 0, max: 1e9, noNaN: true })), (list) => {
        const values = Float64Array.from(list.map(Math.abs));
        const expected = Array.from(values, (_, i) => i).sort((a, b) => values[b] - values[a] || a - b);
        expect([...orderBySize(values)]).toEqual(expected);
      }),
      { seed: 11 },
    );
  });
});
