import { describe, expect, it } from '@jest/globals';
import { type FlatPoint, loopThrough, type PathPiece } from '#core/outline';
import { Region } from '../region/region.ts';
import type { CuttingOutline } from './cutting-outline.ts';
import { type At, placesAlong, standing, swept } from './sweep.ts';
import { Random } from '../../../../demo/corpus/random.ts';

const flat = (points: readonly FlatPoint[], height = 0): CuttingOutline => ({
  points,
  heights: new Float64Array(points.length).fill(height),
  mostHeight: Math.abs(height),
});
const bar = (radius = 20, length = 40) =>
  Region.ofProfile([
    loopThrough([
      [0, 0],
      [length, 0],
      [length, radius],
      [0, radius],
    ]),
  ]);
function run(region: Region, outline: CuttingOutline, path: readonly PathPiece[]): void {
  let last: At = path[0].from;
  region.cut(standing(outline, last));
  for (const piece of path)
    for (const to of placesAlong(piece, outline)) {
      region.cut(swept(outline, last, to));
      last = to;
    }
}
const lines = (...points: FlatPoint[]): PathPiece[] => points.slice(1).map((to, i) => ({ kind: 'line', from: points[i], to }));

/** A corner of 80 degrees with a nose, its virtual tip at the origin: towards -z and the axis. */
function corner(nose: number, steps = 200): FlatPoint[] {
  const rad = (deg: number) => (deg * Math.PI) / 180;
  const arc = Array.from({ length: steps + 1 }, (_, i): FlatPoint => {
    const a = rad(175 + (100 * i) / steps);
    return [nose + nose * Math.cos(a), nose + nose * Math.sin(a)];
  });
  const far = (p: FlatPoint, deg: number): FlatPoint => [p[0] + 9 * Math.cos(rad(deg)), p[1] + 9 * Math.sin(rad(deg))];
  return [far(arc[0], 85), ...arc, far(arc[steps], 5)];
}

describe('what a tool cuts', () => {
  it('leaves what its nose cannot reach in a square corner: r^2 (1 - pi / 4), and the triangle of its edge behind it', () => {
    const region = bar();
    run(region, flat(corner(0.8)), lines([45, 15], [20, 15], [20, 25]));
    // Along the axis to 20 on radius 15, out again: what is left beside the square corner.
    const left = region.area - (20 * 20 + 20 * 15);
    const rest = 0.64 * (1 - Math.PI / 4);
    expect(left).toBeCloseTo(rest, 3);
    // Fed straight inwards, the edge that rises by 5 degrees behind the nose leaves a triangle under it.
    const plunged = bar();
    run(plunged, flat(corner(0)), lines([30, 25], [30, 15]));
    const under = 15 + 5 * Math.tan((5 * Math.PI) / 180);
    expect(plunged.contains(35, under - 1e-3)).toBe(true);
    expect(plunged.contains(35, under + 1e-3)).toBe(false);
    expect(plunged.contains(29.999, 15.5)).toBe(true);
    expect(plunged.contains(30.001, 15.5)).toBe(false);
  });
  it('a taper that was programmed without compensation is too thick by what the nose lacks', () => {
    // The virtual tip along a 45 degree taper: the nose stays r (sqrt 2 - 1) ... off it: r (1 - tan(22.5)) along z.
    const region = bar();
    const nose = 0.8;
    run(region, flat(corner(nose, 2000)), lines([46, 9], [40, 9], [29, 20], [27, 22]));
    // A point of the taper as programmed: z + r = 49. What stands is farther out, square to it: r sqrt 2 - r.
    const off = nose * (Math.SQRT2 - 1);
    const at = (by: number): FlatPoint => [34.5 + by / Math.SQRT2, 14.5 + by / Math.SQRT2];
    expect(region.contains(...at(off - 1e-3))).toBe(true);
    expect(region.contains(...at(off + 1e-3))).toBe(false);
  });
  it('an edge above or below the axis cuts on the larger radius, and leaves what it cannot reach on the axis', () => {
    const region = bar();
    run(region, flat(corner(0), 3), lines([45, 15], [10, 15]));
    const radius = Math.hypot(15, 3);
    expect(region.contains(25, radius - 1e-3)).toBe(true);
    expect(region.contains(25, radius + 1e-3)).toBe(false);
    // In the plane of the axis it faces to the middle and beyond.
    const faced = bar();
    run(faced, flat(corner(0)), lines([35, 25], [35, -1]));
    expect(faced.contains(35.2, 0.001)).toBe(false);
    expect(faced.contains(34.99, 0.001)).toBe(true);
  });
  it('whole turns of a path on a circle', () => {
    const region = bar(20, 60);
    const square: FlatPoint[] = [
      [-0.5, -0.5],
      [0.5, -0.5],
      [0.5, 0.5],
      [-0.5, 0.5],
    ];
    run(region, flat(square), [{ kind: 'arc', from: [35, 10], to: [35, 10], centre: [30, 10], ccw: true }]);
    // A ring that a square sweeps: inside of it a part stands free.
    expect(region.loops).toHaveLength(3);
    expect(region.contains(30, 10)).toBe(true);
    expect(region.contains(35, 10)).toBe(false);
  });
  it('is what dense looking finds: random tools on random ways, against places tried one by one', () => {
    const chance = new Random(11);
    const random = () => chance.next();
    let looked = 0;
    let wrong = 0;
    for (let n = 0; n < 120; n++) {
      // A star-shaped tool, convex or not.
      const m = 3 + Math.floor(random() * 9);
      const tool = Array.from({ length: m }, (_, i): FlatPoint => {
        const [a, r] = [(2 * Math.PI * (i + 0.7 * random())) / m, 0.6 + 2.4 * random()];
        return [r * Math.cos(a), r * Math.sin(a)];
      });
      const way = Array.from({ length: 5 }, (): FlatPoint => [44 * random() - 2, 6 + 18 * random()]);
      const region = bar();
      run(region, flat(tool), lines(...way));
      const inTool = (z: number, r: number): number => {
        // Signed distance from the tool's outline, by its edges.
        let odd = false;
        let d = Infinity;
        for (const [i, a] of tool.entries()) {
          const b = tool[(i + 1) % m];
          if (a[1] > r !== b[1] > r && z < a[0] + ((r - a[1]) * (b[0] - a[0])) / (b[1] - a[1])) odd = !odd;
          const [ux, uy] = [b[0] - a[0], b[1] - a[1]];
          const t = Math.max(0, Math.min(1, ((z - a[0]) * ux + (r - a[1]) * uy) / (ux * ux + uy * uy)));
          d = Math.min(d, Math.hypot(a[0] + t * ux - z, a[1] + t * uy - r));
        }
        return odd ? d : -d;
      };
      for (let k = 0; k < 60; k++) {
        const [z, r] = [40 * random(), 20 * random()];
        let deepest = -Infinity;
        for (let s = 0; s < way.length - 1; s++)
          for (let j = 0; j <= 400; j++) {
            const t = j / 400;
            const [dz, dr] = [z - way[s][0] - t * (way[s + 1][0] - way[s][0]), r - way[s][1] - t * (way[s + 1][1] - way[s][1])];
            // No corner is further from the tool's middle than 3.
            if (dz * dz + dr * dr < 3.1 * 3.1) deepest = Math.max(deepest, inTool(dz, dr));
          }
        // Steps are at most 0.12 mm apart: what is nearer to the edge of what was cut than half of that is not judged.
        if (Math.abs(deepest) < 0.06) continue;
        looked++;
        if (region.contains(z, r) !== deepest < 0) wrong++;
      }
    }
    expect(looked).toBeGreaterThan(6_000);
    expect(wrong).toBe(0);
  });
});
