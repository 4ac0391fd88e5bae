import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { liesWithin, Solids } from './solids.ts';
import { joinMeshes, type TriMesh, weld } from './tri-mesh.ts';
import { boxMesh, moved, octahedron } from './test-shapes.ts';

// How deep a point lies in a box from one corner to another; below 0 outside.
const depthIn = (low: readonly number[], high: readonly number[], p: readonly number[]): number => Math.min(...p.flatMap((v, k) => [v - low[k], high[k] - v]));

describe('solids', () => {
  it('know how deep a point lies in the one that it is deepest in, wherever they were asked before (seed 51)', () => {
    const solids = new Solids([boxMesh(10, 8, 6), moved(boxMesh(4, 4, 4), [8, 2, 1])]);
    const at = fc.tuple(
      fc.double({ min: -2, max: 14, noNaN: true }),
      fc.double({ min: -2, max: 10, noNaN: true }),
      fc.double({ min: -2, max: 8, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(at, fc.double({ min: 0, max: 3, noNaN: true }), fc.boolean()), { minLength: 1, maxLength: 30 }), (asked) => {
        for (const [p, depth, nearby] of asked) {
          const place = nearby ? [p[0] / 50 + 3, p[1] / 50 + 3, p[2] / 50 + 3] : p;
          const [x, y, z] = place;
          const deepest = Math.max(depthIn([0, 0, 0], [10, 8, 6], place), depthIn([8, 2, 1], [12, 6, 5], place));
          if (Math.abs(deepest - depth) > 1e-9) expect(solids.isDeeper(x, y, z, depth)).toBe(deepest > depth);
        }
      }),
      { seed: 51, numRuns: 150 },
    );
  });
  it('that are none hide nothing', () => {
    expect(new Solids([]).isDeeper(0, 0, 0, 0)).toBe(false);
  });
});

describe('solids hold a flat polygon', () => {
  const solids = new Solids([boxMesh(10, 8, 6), moved(boxMesh(4, 4, 4), [9, 2, 1])]);
  it('where no place of it is out of the one that holds it (seed 52)', () => {
    const to = (max: number) => fc.integer({ min: -1000, max: 1000 * max }).map((v) => v / 1000);
    const at = fc.tuple(to(14), to(9), to(7));
    let [held, total] = [0, 0];
    fc.assert(
      fc.property(at, at, at, fc.double({ min: 0.01, max: 0.4, noNaN: true }), (a, b, c, size) => {
        // A triangle around its middle, some of them small.
        const middle = [0, 1, 2].map((k) => (a[k] + b[k] + c[k]) / 3);
        const corners = [a, b, c].map((p) => p.map((v, k) => middle[k] + size * (v - middle[k])));
        const far = Math.max(...corners.map((p) => Math.hypot(p[0] - middle[0], p[1] - middle[1], p[2] - middle[2])));
        const answer = solids.hold(Float64Array.from(corners.flat()), 3, middle[0], middle[1], middle[2], far);
        total++;
        if (!answer) return;
        held++;
        const inside = (low: readonly number[], high: readonly number[]) => corners.every((p) => depthIn(low, high, p) > -1e-9);
        expect(inside([0, 0, 0], [10, 8, 6]) || inside([9, 2, 1], [13, 6, 5])).toBe(true);
      }),
      { seed: 52, numRuns: 2000 },
    );
    // It does find some.
    expect(held).toBeGreaterThan(total / 50);
  });
  it('not where a corner of the solid reaches into it from below, though its own corners are inside', () => {
    const notched = new Solids([octahedron([0, 0, 0])]);
    const wide = Float64Array.from([3, 0, 0.1, 0, 3, 0.1, -3, -3, 0.1]);
    expect(notched.hold(wide, 3, 0, 0, 0.1, 5)).toBe(false);
  });
});

describe('where a polygon is held in part only, it is said what slices it', () => {
  const hold = (solids: Solids, corners: readonly (readonly [number, number, number])[]) => {
    const middle = [0, 1, 2].map((k) => corners.reduce((sum, c) => sum + c[k], 0) / corners.length);
    const size = Math.max(...corners.map((c) => Math.hypot(...c.map((v, k) => v - middle[k]))));
    return solids.hold(Float64Array.from(corners.flat()), corners.length, middle[0], middle[1], middle[2], size);
  };
  it('by a side of the box around the solid, first; then by a face; one that only touches is held', () => {
    const solids = new Solids([octahedron([0, 0, 0])]);
    const isHeldTo = (x: number) =>
      hold(solids, [
        [-0.2, -0.2, 0.1],
        [x, 0, 0.1],
        [-0.2, 0.2, 0.1],
      ]);
    expect(isHeldTo(1.4)).toBe(false);
    expect([solids.isSliced, ...solids.slice.subarray(0, 4)]).toEqual([true, 1, 0, 0, 1]);
    // To its box, where the face has it cut off.
    expect(isHeldTo(1)).toBe(false);
    expect(solids.isSliced).toBe(true);
    for (const v of solids.slice.subarray(0, 3)) expect(Math.abs(v)).toBeCloseTo(Math.sqrt(1 / 3), 9);
    // To that face.
    expect(isHeldTo(0.9)).toBe(true);
    expect(solids.isSliced).toBe(false);
  });
});

describe('a mesh lies within another one', () => {
  const cube = boxMesh(4, 4, 4);
  it('where no corner is outside and the surfaces do not cross; they may touch', () => {
    expect(liesWithin(octahedron([2, 2, 2]), cube)).toBe(true);
    expect(liesWithin(octahedron([3, 2.1, 1.7]), cube)).toBe(true);
    expect(liesWithin(moved(boxMesh(2, 2, 2), [1, 1, 2]), cube)).toBe(true);
    expect(liesWithin(octahedron([3.01, 2.1, 1.7]), cube)).toBe(false);
    expect(liesWithin(octahedron([9, 2, 2]), cube)).toBe(false);
    expect(liesWithin(cube, octahedron([2, 2, 2]))).toBe(false);
  });
  it('not where all of its corners are in, but a notch of the other one goes through it', () => {
    // A bar across the gap of two legs, its ends in them.
    const legs = {
      positions: Float64Array.of(...cube.positions, ...moved(cube, [8, 0, 0]).positions),
      triangles: Uint32Array.of(...cube.triangles, ...cube.triangles.map((v) => v + 8)),
    };
    expect(liesWithin(moved(boxMesh(8, 2, 2), [2, 1, 1]), legs)).toBe(false);
    expect(liesWithin(moved(boxMesh(2, 2, 2), [9, 1, 1]), legs)).toBe(true);
  });
  it('as the corners of both and the crossings of all their edges tell, of many small and large ones beside each other (seed 23)', () => {
    // Boxes along the axes: one lies in legs apart where it lies in one of them, or bridges no gap.
    const leg = fc.record({ x: fc.integer({ min: 0, max: 12 }), width: fc.integer({ min: 1, max: 8 }) });
    const inner = fc.record({
      x: fc.integer({ min: 0, max: 40 }),
      width: fc.integer({ min: 1, max: 40 }),
      z: fc.integer({ min: -2, max: 30 }),
      cuts: fc.integer({ min: 0, max: 3 }),
    });
    const seen = { in: 0, out: 0 };
    fc.assert(
      fc.property(leg, leg, inner, (a, b, { x, width, z, cuts }) => {
        const from = a.x + a.width + 1 + b.x;
        const legs = joinMeshes([moved(boxMesh(a.width, 4, 4), [a.x, 0, 0]), moved(boxMesh(b.width, 4, 4), [from, 0, 0])]);
        let bar = moved(boxMesh(width / 4, 1, 1), [x / 2, 1.5, z / 10]);
        for (let i = 0; i < cuts; i++) bar = quartered(bar);
        const [low, high] = [x / 2, x / 2 + width / 4];
        const isAlong = (low >= a.x && high <= a.x + a.width) || (low >= from && high <= from + b.width);
        const isIn = isAlong && z >= 0 && z <= 30;
        seen[isIn ? 'in' : 'out']++;
        expect({ a, b, x, width, z, cuts, isIn: liesWithin(bar, legs) }).toEqual({ a, b, x, width, z, cuts, isIn });
      }),
      { seed: 23, numRuns: 600 },
    );
    expect(Math.min(seen.in, seen.out)).toBeGreaterThan(40);
  });
});

// Every triangle cut into four.
function quartered({ positions, triangles: t }: TriMesh): TriMesh {
  const p = [...positions];
  const out: number[] = [];
  const middle = (a: number, b: number) => p.push(...[0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k]) / 2)) / 3 - 1;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = t.subarray(i, i + 3);
    const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)];
    out.push(a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca);
  }
  return weld({ positions: Float64Array.from(p), triangles: Uint32Array.from(out) }, 1e-9);
}
