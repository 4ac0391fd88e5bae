import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type HalfProfile, loopThrough, type PathPiece, profileDepthFinder, type ProfilePoint } from '#core/outline';
import { DeepPlaces } from './deep-places.ts';

const MARGIN = 1e-3;
const line = (from: ProfilePoint, to: ProfilePoint): PathPiece => ({ kind: 'line', from, to });

// About an axis that is none of the world's.
const axis = { origin: [3, -2, 5] as const, direction: [0.6, 0, 0.8] as const };

function isDeep(deep: DeepPlaces, z: number, r: number): boolean {
  let isOther = false;
  deep.eachOther(axis, Float64Array.of(3 + 0.6 * z + 0.8 * r, -2, 5 + 0.8 * z - 0.6 * r), (at, rSq) => {
    isOther = true;
    expect([at, Math.sqrt(rSq)]).toEqual([expect.closeTo(z, 9), expect.closeTo(r, 6)]);
  });
  return !isOther;
}

describe('places that are surely deep', () => {
  it('are inside by the margin, whatever the outline (seed 14)', () => {
    const step = fc.tuple(fc.double({ min: 0.05, max: 20, noNaN: true }), fc.double({ min: 0.5, max: 40, noNaN: true }), fc.boolean());
    fc.assert(
      fc.property(
        fc.array(step, { minLength: 1, maxLength: 9 }),
        fc.array(fc.tuple(fc.double({ min: -0.1, max: 1.1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), { minLength: 40, maxLength: 40 }),
        (steps, places) => {
          // Steps and slopes from left to right, closed over the axis.
          const outside: ProfilePoint[] = [];
          let z = -7;
          for (const [long, r, slopes] of steps) {
            if (!slopes) outside.push([z, r]);
            z += long;
            outside.push([z, r]);
          }
          const corners: ProfilePoint[] = [[outside[0][0], 0], [z, 0], ...[...outside].reverse()];
          const profile: HalfProfile = [loopThrough(corners)];
          const deep = new DeepPlaces(profile, MARGIN);
          const depth = profileDepthFinder(profile);
          for (const [share, up] of places) {
            const [at, r] = [-7 + share * (z + 7), 42 * up];
            if (isDeep(deep, at, r)) expect(depth(at, r)).toBeGreaterThan(MARGIN - 1e-9);
          }
        },
      ),
      { seed: 14, numRuns: 120 },
    );
  });
  it('are most of what is inside, none over a bore, in a gap, or beyond an end; arcs count by their lowest place', () => {
    // A bar of 20 with a round groove of 6 down to 14; a ring with a bore; nothing between them.
    const bar: PathPiece[] = [
      line([0, 0], [60, 0]),
      line([60, 0], [60, 10]),
      line([60, 10], [36, 10]),
      { kind: 'arc', from: [36, 10], to: [24, 10], centre: [30, 10 + Math.sqrt(0)], ccw: false },
      line([24, 10], [0, 10]),
      line([0, 10], [0, 0]),
    ];
    const ring = loopThrough([
      [80, 4],
      [90, 4],
      [90, 9],
      [80, 9],
    ]);
    const deep = new DeepPlaces([bar, ring], MARGIN);
    const has = (z: number, r: number) => isDeep(deep, z, r);
    expect([has(10, 9.99), has(50, 9.99), has(10, 10), has(30, 3.9), has(30, 4.1)]).toEqual([true, true, false, true, false]);
    expect([has(70, 0), has(85, 6), has(85, 1), has(-1, 0), has(95, 0), has(0, 0)]).toEqual([false, false, false, false, false, false]);
  });
});
