import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { CollapseHeap } from './collapse-heap.ts';
import { EdgeTimes } from './edge-times.ts';
import { greatestOver } from './overlap-height.ts';

describe('the heap of edges', () => {
  it('gives them by their cost, whatever the order they came in, also between pushes (seed 5)', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.double({ min: 0, max: 9, noNaN: true }), fc.boolean()), { maxLength: 80 }), (steps) => {
        const heap = new CollapseHeap();
        let left: number[] = [];
        // What is popped is told by its own numbers, which the cost is written into.
        const popped = () => {
          const slot = heap.pop();
          return slot < 0 ? undefined : { cost: heap.places[3 * slot], a: heap.edges[3 * slot], time: heap.edges[3 * slot + 2] };
        };
        for (const [i, [cost, pops]] of steps.entries()) {
          heap.push(cost, i, i + 1, 2 * i, Float64Array.of(cost, 0, 0));
          left.push(cost);
          if (!pops) continue;
          left.sort((a, b) => a - b);
          const edge = popped();
          expect(edge?.cost).toBe(left[0]);
          expect(edge?.time).toBe(2 * (edge?.a ?? -1));
          left = left.slice(1);
        }
        left.sort((a, b) => a - b);
        for (const cost of left) expect(popped()?.cost).toBe(cost);
        expect(popped()).toBeUndefined();
      }),
      { seed: 5, numRuns: 200 },
    );
  });
});

describe('the times of edges', () => {
  it('are those that were set last, whichever end is named first (seed 7)', () => {
    const corner = fc.integer({ min: 0, max: 90 });
    fc.assert(
      fc.property(fc.array(fc.tuple(corner, corner, fc.nat(1e6)), { maxLength: 3000 }), (steps) => {
        const times = new EdgeTimes();
        const known = new Map<string, number>();
        for (const [a, b, time] of steps) {
          times.set(a, b, time);
          known.set([a, b].sort((x, y) => x - y).join(), time);
        }
        for (let a = 0; a < 90; a += 7) for (let b = a; b < 90; b++) expect(times.of(b, a)).toBe(known.get(`${a},${b}`) ?? -1);
        for (const [a, b] of steps) expect(times.of(a, b)).toBe(times.of(b, a));
      }),
      { seed: 7, numRuns: 40 },
    );
  });
  it('of hundreds of thousands stay apart, as those of a large mesh are numbered', () => {
    const times = new EdgeTimes();
    for (let v = 0; v < 100_000; v++) for (const step of [1, 2, 317]) times.set(v, v + step, 3 * v + step);
    for (let v = 0; v < 100_000; v += 997) for (const step of [1, 2, 317]) expect(times.of(v + step, v)).toBe(3 * v + step);
    expect(times.of(5, 9)).toBe(-1);
  });
});

describe('the height of one triangle over another', () => {
  const ground = Float64Array.of(0, 0, 10, 0, 0, 10);
  it('is that of a corner within, of a place on a side where corners lie beyond, and none beside it', () => {
    expect(greatestOver(ground, 0, Float64Array.of(1, 1, 4, 1, 1, 4), 0, 1, 2, 3)).toBeCloseTo(3, 12);
    // A corner at (20, 1) of height 8: over the hypotenuse, at (9, 1), the way from (1, 1) of height 0 has risen by 8/19 of 8.
    expect(greatestOver(ground, 0, Float64Array.of(1, 1, 20, 1, 1, 1.5), 0, 0, 8, 0)).toBeCloseTo((8 * 8) / 19, 9);
    expect(greatestOver(ground, 0, Float64Array.of(11, 11, 20, 11, 11, 20), 0, 5, 5, 5)).toBe(0);
    // Touching along a side is not over.
    expect(greatestOver(ground, 0, Float64Array.of(0, 0, 0, 10, -10, 0), 0, 5, 5, 5)).toBe(0);
    expect(greatestOver(ground, 0, Float64Array.of(1, 1, 4, 1, 1, 4), 0, -1, -2, -3)).toBe(0);
  });
  it('is never less than what any place of both has (seed 6)', () => {
    const at = fc.double({ min: -10, max: 10, noNaN: true });
    fc.assert(
      fc.property(fc.array(at, { minLength: 6, maxLength: 6 }), fc.array(at, { minLength: 3, maxLength: 3 }), (flat, [h0, h1, h2]) => {
        const [x0, y0, x1, y1, x2, y2] = flat;
        if ((x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0) < 0.5) return;
        const most = greatestOver(ground, 0, Float64Array.from(flat), 0, h0, h1, h2);
        expect(most).toBeLessThanOrEqual(Math.max(0, h0, h1, h2) + 1e-9);
        for (let i = 0; i <= 12; i++)
          for (let k = 0; i + k <= 12; k++) {
            const [s, t] = [i / 12, k / 12];
            const [x, y] = [x0 + s * (x1 - x0) + t * (x2 - x0), y0 + s * (y1 - y0) + t * (y2 - y0)];
            if (x > 1e-6 && y > 1e-6 && x + y < 10 - 1e-6) expect(most).toBeGreaterThanOrEqual(h0 + s * (h1 - h0) + t * (h2 - h0) - 1e-6);
          }
      }),
      { seed: 6, numRuns: 200 },
    );
  });
});
