import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { dropShadowed, tangentsOfSegments } from './inner-reach.ts';
import { SEGMENT_SIZE } from './segment-list.ts';
import { type Pieces, upperEnvelope } from './upper-envelope.ts';

const coordinate = fc.double({ min: -20, max: 20, noNaN: true });
const segment = fc.tuple(
  fc.double({ min: 0, max: 30, noNaN: true }),
  fc.double({ min: 0.5, max: 20, noNaN: true }),
  coordinate,
  coordinate,
  coordinate,
  coordinate,
);
const packed = (all: readonly (readonly number[])[], loss = 0, end = 0) =>
  Float64Array.from(all.flatMap(([z, long, ax, ay, bx, by]) => [z, z + long, ax, ay, bx, by, loss, end]));

// How near to the axis the pieces come at a height: they are counted downwards.
function nearestOf(pieces: Pieces, z: number): number {
  let best = Infinity;
  for (let i = 0; i < pieces.length; i += 4) {
    if (z < pieces[i] || z > pieces[i + 2]) continue;
    best = Math.min(best, -(pieces[i + 1] + ((pieces[i + 3] - pieces[i + 1]) * (z - pieces[i])) / (pieces[i + 2] - pieces[i] || 1)));
  }
  return best;
}

describe('what comes nearest to the axis', () => {
  it('is never further out than the edges, and nearer by no more than was asked for (seed 61)', () => {
    fc.assert(
      fc.property(segment, fc.constantFrom(0.1, 0.001), ([z, long, ax, ay, bx, by], exactness) => {
        const { pieces, gap } = tangentsOfSegments(packed([[z, long, ax, ay, bx, by]]), SEGMENT_SIZE, exactness);
        expect(gap).toBeLessThanOrEqual(exactness + 1e-12);
        for (let k = 0; k <= 50; k++) {
          const t = k / 50;
          const r = Math.hypot(ax + t * bx, ay + t * by);
          const nearest = nearestOf(pieces, z + t * long);
          expect(nearest).toBeLessThan(r + 1e-9);
          expect(nearest).toBeGreaterThan(r - exactness - 1e-9);
        }
      }),
      { seed: 61, numRuns: 120 },
    );
  });
  it('counts what an edge has lost, and what it reaches beyond its ends', () => {
    const { pieces } = tangentsOfSegments(packed([[10, 5, 8, 0, 0, 0]], 0.3, 0.5), SEGMENT_SIZE, 0.01);
    expect(nearestOf(pieces, 12)).toBeCloseTo(7.7, 9);
    expect(nearestOf(pieces, 9.6)).toBeCloseTo(7.7, 9);
    expect(nearestOf(pieces, 9.4)).toBe(Infinity);
  });
  it('is the same without the edges that others stand before (seed 62)', () => {
    let dropped = 0;
    fc.assert(
      fc.property(fc.array(segment, { minLength: 20, maxLength: 60 }), (all) => {
        const edges = packed(all);
        const kept = dropShadowed(edges, SEGMENT_SIZE);
        dropped += (edges.length - kept.length) / SEGMENT_SIZE;
        const [whole, light] = [edges, kept].map((e) => upperEnvelope(tangentsOfSegments(e, SEGMENT_SIZE, 1e-4).pieces));
        for (let z = 0.013; z < 50; z += 0.37) {
          const [a, b] = [nearestOf(whole, z), nearestOf(light, z)];
          expect(a === b || Math.abs(a - b) < 2e-4).toBe(true);
        }
      }),
      { seed: 62, numRuns: 30 },
    );
    expect(dropped).toBeGreaterThan(50);
  });
});
