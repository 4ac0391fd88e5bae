import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { IDENTITY } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { loopThrough } from '#core/outline';
import { Region } from '../region/region.ts';
import { TurnedBody } from './turned-body.ts';

// One triangle: [x, y, z] of its corners.
const triangle = (corners: readonly (readonly number[])[]): TriMesh => ({
  positions: Float64Array.from(corners.flat()),
  triangles: Uint32Array.from([0, 1, 2]),
});
const planes = (from: number, to: number, count: number) => Array.from({ length: count + 1 }, (_, i) => from + ((to - from) * i) / count);

describe('how far from the axis a body passes by', () => {
  it('a plate beside the axis: by its far corner, moved with the reference', () => {
    const plate = triangle([
      [5, -3, 0],
      [9, 3, 0.5],
      [9, 3, 9.5],
    ]);
    const body = new TurnedBody('plate', plate, IDENTITY);
    expect([...body.widestBetween([0, 0], planes(0, 10, 2))]).toEqual([Math.hypot(9, 3), Math.hypot(9, 3)]);
    // Ten back along Z it is in none of the slices; pulled over by 9 its other side is the far one.
    expect([...body.widestBetween([-10, 0], planes(0, 10, 2))]).toEqual([0, 0]);
    expect(body.widestBetween([0, -9], planes(0, 10, 2))[0]).toBeCloseTo(5, 9);
  });
  it('is what places all over the triangle say, and never less', () => {
    const at = fc.tuple(fc.float({ min: -20, max: 20, noNaN: true }), fc.float({ min: -20, max: 20, noNaN: true }), fc.float({ min: 0, max: 10, noNaN: true }));
    fc.assert(
      fc.property(at, at, at, fc.float({ min: -15, max: 15, noNaN: true }), (a, b, c, x) => {
        const found = new TurnedBody('t', triangle([a, b, c]), IDENTITY).widestBetween([0, x], planes(0, 10, 5));
        const seen = new Float64Array(5);
        for (let i = 0; i <= 60; i++)
          for (let k = 0; k <= 60 - i; k++) {
            const [u, v] = [i / 60, k / 60];
            const p = [0, 1, 2].map((n) => a[n] + u * (b[n] - a[n]) + v * (c[n] - a[n]));
            const slice = Math.floor(p[2] / 2);
            if (slice >= 0 && slice < 5) seen[slice] = Math.max(seen[slice], Math.hypot(p[0] + x, p[1]));
          }
        for (let n = 0; n < 5; n++) {
          expect(found[n]).toBeGreaterThanOrEqual(seen[n] - 1e-6);
          // Places are a sixtieth of a side apart.
          if (seen[n] > 0) expect(found[n] - seen[n]).toBeLessThan(1.5);
        }
      }),
      { seed: 11, numRuns: 120 },
    );
  });
});

describe('a body as it is met', () => {
  const body = new TurnedBody(
    'plate',
    triangle([
      [5, -3, 0],
      [9, 3, 0.5],
      [9, 3, 9.5],
    ]),
    IDENTITY,
  );
  it('each corner at its radius, moved with the reference', () => {
    const { corners, triangles } = body.image([2, -5]);
    expect([...triangles]).toEqual([0, 1, 2]);
    expect([...corners]).toEqual([2, Math.hypot(0, 3), 2.5, Math.hypot(4, 3), 11.5, Math.hypot(4, 3)]);
  });
  it('its places are its corners and those between them, no farther apart than is asked', () => {
    const places = body.places(0.5);
    expect([...places.subarray(0, 9)]).toEqual([5, -3, 0, 9, 3, 0.5, 9, 3, 9.5]);
    // Sides go both ways in two triangles of a closed body; each is looked at where it rises by number.
    const side = Math.hypot(4, 6, 0.5);
    expect(places.length / 3).toBe(3 + (Math.ceil(side / 0.5) - 1) + (Math.ceil(9 / 0.5) - 1));
  });
});

describe('how far a body stays from the work', () => {
  // A wavy bore of 20 to 21, and a wavy outside before it.
  const wave = Array.from({ length: 120 }, (_, i) => -20 + i / 3);
  const bore = loopThrough([...wave.map((z) => [z, 20.5 + 0.5 * Math.sin(z)] as const), [20, 40], [-20, 40]]);
  const region = Region.ofProfile([bore]);
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  const corner = fc.tuple(number(-3, 3), number(-3, 3), number(-6, 6));

  it('is never more than places of it say, and less by a tenth only: where it stands, along the axis, across it, and on short ways aslant', () => {
    fc.assert(
      fc.property(corner, corner, corner, number(8, 16.5), fc.constantFrom([0, 0], [3, 0], [0, 2], [0.4, 0.1], [-2, -0.14]), (a, b, c, x, way) => {
        const body = new TurnedBody('t', triangle([a, b, c]), IDENTITY);
        const [from, to] = [[0, x] as const, [way[0], x + way[1]] as const];
        const told = body.distanceTo(region, from, to, 50);
        let nearest = Infinity;
        for (let i = 0; i <= 30; i++)
          for (let k = 0; k <= 30 - i; k++)
            for (let s = 0; s <= 1; s += way[0] === 0 && way[1] === 0 ? 1 : 0.1) {
              const p = [0, 1, 2].map((n) => a[n] + (i / 30) * (b[n] - a[n]) + (k / 30) * (c[n] - a[n]));
              const [z, r] = [p[2] + s * way[0], Math.hypot(p[0] + x + s * way[1], p[1])];
              nearest = Math.min(nearest, region.distanceTo(z, z, r, r, 50));
            }
        expect(told).toBeLessThanOrEqual(nearest + 1e-9);
        // Places are up to 0.4 apart.
        if (told > 0) expect(told).toBeGreaterThan(0.9 * nearest - 0.0005 - 0.5);
        // As told anew, whatever was nearest before.
        expect(new TurnedBody('t', triangle([c, a, b]), IDENTITY).distanceTo(region, from, to, 50)).toBeGreaterThan(0.89 * told - 0.001);
      }),
      { seed: 5, numRuns: 150 },
    );
  });
  it('is exact for a facet along a wall, which its box would have to be divided for a thousand times', () => {
    // A straight taper of 5 % and a sliver that lies 0.01 over it, all along.
    const taper = Region.ofProfile([
      loopThrough([
        [0, 20],
        [40, 22],
        [40, 30],
        [0, 30],
      ]),
    ]);
    const off = 0.01 * Math.hypot(1, 0.05);
    const sliver = triangle([
      [20 - off + 0.25, 0, 5],
      [20 - off + 0.75, 0, 15],
      [20 - off + 0.5, 0.02, 10],
    ]);
    for (const to of [
      [0, 0],
      [2, 0.1],
    ] as const) {
      const told = new TurnedBody('t', sliver, IDENTITY).distanceTo(taper, [0, 0], to, 1);
      expect(told).toBeLessThanOrEqual(0.01 + 1e-6);
      expect(told).toBeGreaterThan(0.01 - 0.001);
    }
    expect(new TurnedBody('t', sliver, IDENTITY).distanceTo(taper, [0, 0], [0, 0.02], 1)).toBe(0);
  });
});
