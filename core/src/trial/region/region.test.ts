import fc from 'fast-check';
import { describe, expect, it } from '@jest/globals';
import { type FlatPoint, loopThrough, type PathPiece } from '#core/outline';
import { toUnits } from '#core/clipping';
import { Region } from './region.ts';
import { Random } from '../../../../demo/corpus/random.ts';

const box = (z0: number, z1: number, r0: number, r1: number): FlatPoint[] => [
  [z0, r0],
  [z1, r0],
  [z1, r1],
  [z0, r1],
];
const bar = () => Region.ofProfile([loopThrough(box(0, 50, 0, 20))]);

describe('a region', () => {
  it('has the volumes of a cylinder, a cone, a tube and a sphere', () => {
    const volume = (points: FlatPoint[]) => Region.ofProfile([loopThrough(points)]).volume;
    expect(volume(box(-3, 47, 0, 20))).toBeCloseTo(Math.PI * 400 * 50, 4);
    expect(volume(box(0, 10, 15, 20))).toBeCloseTo(Math.PI * (400 - 225) * 10, 4);
    expect(
      volume([
        [0, 0],
        [30, 0],
        [0, 10],
      ]),
      // A hundred-thousandth of a millimetre over its surface.
    ).toBeCloseTo((Math.PI * 100 * 30) / 3, 2);
    // Its chords lie inside by 0.0002 mm at most: less than that over its surface.
    const ball: PathPiece[] = [
      { kind: 'line', from: [-12, 0], to: [12, 0] },
      { kind: 'arc', from: [12, 0], to: [-12, 0], centre: [0, 0], ccw: true },
    ];
    const lost = (4 / 3) * Math.PI * 12 ** 3 - Region.ofProfile([ball]).volume;
    expect(lost).toBeGreaterThan(0);
    expect(lost).toBeLessThan(4 * Math.PI * 144 * 2e-4);
  });
  it('loses what is cut once: a groove, again, and over its end', () => {
    const region = bar();
    const groove = toUnits(box(10, 13, 15, 30));
    expect(region.cut([groove])).toEqual({ area: expect.closeTo(15, 6), volume: expect.closeTo(Math.PI * (400 - 225) * 3, 4) });
    expect(region.cut([groove])).toEqual({ area: 0, volume: 0 });
    expect(region.version).toBe(1);
    expect(region.cut([toUnits(box(45, 60, -5, 25))]).area).toBeCloseTo(100, 6);
    expect(region.contains(11, 16)).toBe(false);
    expect(region.contains(11, 14)).toBe(true);
    expect(region.contains(46, 1)).toBe(false);
    expect(region.loops).toHaveLength(1);
    // Parted off: two pieces.
    region.cut([toUnits(box(20, 22, -1, 25))]);
    expect(region.loops).toHaveLength(2);
    expect(Region.ofPolygons([]).isEmpty).toBe(true);
    region.cut([toUnits(box(-1, 60, -1, 25))]);
    expect([region.isEmpty, region.area]).toEqual([true, 0]);
  });
  it('a copy is cut by itself', () => {
    const region = bar();
    const copy = region.copy();
    copy.cut([toUnits(box(10, 13, 15, 30))]);
    expect(region.area).toBeCloseTo(1000, 6);
    expect(copy.area).toBeCloseTo(985, 6);
  });
  it('tells how deep a place lies, whatever seams it has inside, and how far a box is', () => {
    const region = bar();
    expect(region.depthAt(25, 5)).toBeCloseTo(15, 6);
    expect(region.depthAt(2, 5)).toBeCloseTo(2, 6);
    expect(region.depthAt(25, 21)).toBe(0);
    expect(region.distanceTo(60, 70, 0, 5, 100)).toBeCloseTo(10, 6);
    expect(region.distanceTo(53, 60, 24, 30, 100)).toBeCloseTo(5, 6);
    expect(region.distanceTo(53, 60, 24, 30, 4)).toBe(4);
    expect(region.distanceTo(10, 12, 3, 4, 9)).toBe(0);
    expect(region.distanceTo(-10, 100, 19, 40, 9)).toBe(0);
  });
  it('agrees with each of its edges looked at on the way, on random stars and boxes', () => {
    const chance = new Random(7);
    const random = () => chance.next();
    for (let n = 0; n < 40; n++) {
      const points = Array.from({ length: 24 }, (_, i): FlatPoint => {
        const [angle, radius] = [(2 * Math.PI * i) / 24, 4 + 11 * random()];
        return [radius * Math.cos(angle), 20 + radius * Math.sin(angle)];
      });
      const region = Region.ofProfile([loopThrough(points)]);
      const inside = ([z, r]: FlatPoint) =>
        points.reduce((odd, a, i) => {
          const b = points[(i + 1) % 24];
          return a[1] > r !== b[1] > r && z < a[0] + ((r - a[1]) * (b[0] - a[0])) / (b[1] - a[1]) ? !odd : odd;
        }, false);
      const [z0, r0] = [-30 + 60 * random(), 45 * random()];
      const [w, h] = [3 * random(), 3 * random()];
      // Points of edges and of the box, densely.
      let least = Infinity;
      for (const [i, a] of points.entries())
        for (let k = 0; k <= 200; k++) {
          const b = points[(i + 1) % 24];
          const [z, r] = [a[0] + ((b[0] - a[0]) * k) / 200, a[1] + ((b[1] - a[1]) * k) / 200];
          least = Math.min(least, Math.hypot(Math.max(0, z0 - z, z - z0 - w), Math.max(0, r0 - r, r - r0 - h)));
        }
      if (inside([z0, r0])) least = 0;
      const found = region.distanceTo(z0, z0 + w, r0, r0 + h, 100);
      expect(found).toBeLessThanOrEqual(least + 1e-4);
      expect(found).toBeGreaterThan(least - 0.08);
    }
  });
});

it('tells how far a convex polygon is: as places of its sides do, and 0 where one holds the other', () => {
  const ring = Region.ofProfile([
    loopThrough([
      [0, 10],
      [9, 10],
      [9, 14],
      [5, 11],
      [0, 14],
    ]),
  ]);
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  const far = (corners: readonly (readonly [number, number])[], most = 50) => ring.distanceToConvex(Float64Array.from(corners.flat()), corners.length, most);
  fc.assert(
    fc.property(number(-6, 15), number(4, 20), number(0.1, 4), number(0.1, 4), number(0, 1.5), (z, r, a, b, turn) => {
      // A box that is turned: counter-clockwise.
      const at = (u: number, v: number) => [z + u * Math.cos(turn) - v * Math.sin(turn), r + u * Math.sin(turn) + v * Math.cos(turn)] as const;
      const corners = [at(0, 0), at(a, 0), at(a, b), at(0, b)];
      let nearest = Infinity;
      for (let u = 0; u <= 1; u += 1 / 16)
        for (let v = 0; v <= 1; v += 1 / 16) {
          const [pz, pr] = at(u * a, v * b);
          nearest = Math.min(nearest, ring.distanceTo(pz, pz, pr, pr, 50));
        }
      const told = far(corners);
      expect(told).toBeLessThanOrEqual(nearest + 1e-9);
      expect(told).toBeGreaterThan(nearest - 0.2);
      expect(far(corners, 0.5)).toBeCloseTo(Math.min(0.5, told), 9);
    }),
    { numRuns: 300 },
  );
  // Around all of it, inside of it, and a stretch that crosses it.
  expect(
    far([
      [-5, 5],
      [20, 5],
      [20, 20],
      [-5, 20],
    ]),
  ).toBe(0);
  expect(
    far([
      [4, 10.2],
      [4.5, 10.2],
      [4.2, 10.6],
    ]),
  ).toBe(0);
  expect(
    far([
      [-3, 12],
      [3, 12],
    ]),
  ).toBe(0);
  expect(far([[-3, 12]])).toBeCloseTo(3, 6);
});
