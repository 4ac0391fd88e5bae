import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { cross, dot, normalize, type Vec3 } from '#core/math';
import type { Surface } from '#core/mesh';
import { capOf } from './opening-cap.ts';
import { unrollerOf } from './unroll.ts';

const cylinder = (concave: boolean): Surface => ({ kind: 'cylinder', origin: [1, 2, 3], axis: normalize([1, 1, 0]), radius: 20, length: 50, concave });
const cone = (concave: boolean): Surface => ({
  kind: 'cone',
  origin: [0, 0, 0],
  axis: [0, 0, 1],
  halfAngleRad: Math.PI / 6,
  radiusLarge: 20,
  radiusSmall: 10,
  length: 10 * Math.sqrt(3),
  concave,
});

const plane: Surface = { kind: 'plane', origin: [4, 5, 6], normal: normalize([1, 2, -2]) };

describe('a face laid flat', () => {
  it.each([cylinder(false), cylinder(true), cone(false), cone(true), plane])('runs right-handed, outwards of the material: %j', (surface) => {
    const unroller = unrollerOf(surface);
    if (!unroller) throw new Error('not laid flat');
    const p: Vec3 = surface.kind === 'cone' ? [15, 4, 3] : [9, -14, 7];
    const h = 1e-6;
    const here = unroller.at(p);
    const along = ([0, 1, 2] as const).map((k) => {
      const q = unroller.at([p[0] + (k === 0 ? h : 0), p[1] + (k === 1 ? h : 0), p[2] + (k === 2 ? h : 0)]);
      return { s: (q.s - here.s) / h, t: (q.t - here.t) / h, out: (q.out - here.out) / h };
    });
    const [ds, dt, dout] = (['s', 't', 'out'] as const).map((name): Vec3 => [along[0][name], along[1][name], along[2][name]]);
    // A step outwards is a step out, one along the face turns the way of its own two directions.
    expect(Math.hypot(...dout)).toBeCloseTo(1, 5);
    expect(dot(cross(ds, dt), dout)).toBeGreaterThan(0.3);
  });
  it('is on a cylinder and on a cone where their radius says, once around by their girth', () => {
    for (const concave of [false, true]) {
      const sense = concave ? -1 : 1;
      const at = unrollerOf(cone(concave))?.at ?? (() => ({ s: 0, t: 0, out: 99 }));
      // Half of 60 degrees: the radius falls by tan 30 a mm.
      expect(at([20 - 6 * Math.tan(Math.PI / 6), 0, 6]).out).toBeCloseTo(0, 12);
      expect(at([0, 22, 0]).out).toBeCloseTo(2 * sense * Math.cos(Math.PI / 6), 12);
      expect(unrollerOf(cone(concave))?.round).toBeCloseTo(2 * Math.PI * 20, 12);
    }
    expect(unrollerOf({ kind: 'sphere', centre: [0, 0, 0], radius: 5, concave: false })).toBeUndefined();
    expect(unrollerOf({ kind: 'free' })).toBeUndefined();
  });
});

describe('a cap', () => {
  const round = { at: () => ({ s: 0, t: 0, out: 0 }), round: 100 };
  const loop = (flat: [number, number][], unroller = round) => {
    // The face has it clockwise: half-edges of a list of corners that are numbered as they come.
    const clockwise = [...flat].reverse();
    const t = Uint32Array.from(clockwise.flatMap((_, i) => [i, (i + 1) % clockwise.length, clockwise.length]));
    return {
      lid: capOf(t, { halves: clockwise.map((_, i) => 3 * i), flat: clockwise, unroller, least: 0, out: 0, isInFace: true, width: 1 }),
      places: clockwise,
    };
  };
  const areaOf = (lid: readonly number[], places: readonly (readonly [number, number])[]) => {
    let sum = 0;
    for (let i = 0; i < lid.length; i += 3) {
      const [[ax, ay], [bx, by], [cx, cy]] = [places[lid[i]], places[lid[i + 1]], places[lid[i + 2]]];
      const twice = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      expect(twice).toBeGreaterThan(0);
      sum += twice / 2;
    }
    return sum;
  };
  it('covers its opening once, on a round face by chords no wider around it than its border’s (seed 9)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 40 }),
        fc.double({ min: 0.3, max: 3, noNaN: true }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        (n, stretch, turn) => {
          const flat = Array.from({ length: n }, (_, i): [number, number] => {
            const angle = turn + (2 * Math.PI * i) / n;
            return [4 * Math.cos(angle), 4 * stretch * Math.sin(angle)];
          });
          const { lid, places } = loop(flat);
          if (!lid) throw new Error('not closed');
          expect(lid.length).toBe(3 * (n - 2));
          expect(areaOf(lid, places)).toBeCloseTo((n / 2) * 16 * stretch * Math.sin((2 * Math.PI) / n), 6);
          const most = Math.max(...places.map(([s], i) => Math.abs(s - places[(i + 1) % n][0])));
          for (let i = 0; i < lid.length; i++) {
            const next = lid[i % 3 === 2 ? i - 2 : i + 1];
            expect(Math.abs(places[lid[i]][0] - places[next][0])).toBeLessThan(most + 2e-3);
          }
        },
      ),
      { seed: 9, numRuns: 80 },
    );
  });
  it('of a ragged opening covers it once and no wider, or is none (seed 10)', () => {
    let closed = 0;
    fc.assert(
      fc.property(fc.array(fc.double({ min: 1, max: 8, noNaN: true }), { minLength: 6, maxLength: 24 }), (reaches) => {
        const n = reaches.length;
        const flat = reaches.map((r, i): [number, number] => [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)]);
        const { lid, places } = loop(flat);
        if (!lid) return;
        closed++;
        const whole = reaches.reduce((sum, r, i) => sum + (r * reaches[(i + 1) % n] * Math.sin((2 * Math.PI) / n)) / 2, 0);
        expect(areaOf(lid, places)).toBeCloseTo(whole, 6);
        const widest = Math.max(...places.map(([s], i) => Math.abs(s - places[(i + 1) % n][0])));
        lid.forEach((v, i) => expect(Math.abs(places[v][0] - places[lid[i % 3 === 2 ? i - 2 : i + 1]][0])).toBeLessThan(widest + 2e-3));
      }),
      { seed: 10, numRuns: 200 },
    );
    expect(closed).toBeGreaterThan(150);
  });
  it('is none for a border that encloses nothing', () => {
    const flat = Array.from({ length: 6 }, (_, i): [number, number] => [i, 2 * i]);
    expect(loop(flat).lid).toBeUndefined();
  });
});
