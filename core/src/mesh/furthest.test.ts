import { expect, it } from '@jest/globals';
import fc from 'fast-check';
import { furthestAlong } from './furthest.ts';

it('a mesh reaches as far along any direction as its furthest corner (seed 71)', () => {
  const number = fc.double({ min: -50, max: 50, noNaN: true });
  const point = fc.tuple(number, number, number);
  fc.assert(
    fc.property(fc.array(point, { minLength: 1, maxLength: 200 }), fc.array(point, { minLength: 1, maxLength: 5 }), (corners, directions) => {
      const mesh = { positions: Float64Array.from(corners.flat()), triangles: new Uint32Array(0) };
      for (const [x, y, z] of directions) {
        const slow = Math.max(...corners.map((c) => x * c[0] + y * c[1] + z * c[2]));
        expect(furthestAlong(mesh, [x, y, z]) - slow).toBeCloseTo(0, 12);
      }
    }),
    { seed: 71, numRuns: 200 },
  );
});

it('a mesh without corners reaches nowhere', () => {
  expect(furthestAlong({ positions: new Float64Array(0), triangles: new Uint32Array(0) }, [1, 0, 0])).toBe(-Infinity);
});
