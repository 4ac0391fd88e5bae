import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type PathPiece, placeOnPiece, type ProfilePoint } from '#core/outline';
import { fewestPieces } from './fewest-pieces.ts';

// The height of pieces at a place, the upper one at a wall.
function heightOf(pieces: readonly PathPiece[], z: number): number {
  let best = -Infinity;
  for (const p of pieces) {
    const [z0, z1] = [p.from[0], p.to[0]];
    if (p.kind === 'line') {
      if (z < Math.min(z0, z1) - 1e-9 || z > Math.max(z0, z1) + 1e-9) continue;
      best = Math.max(best, z1 - z0 < 1e-9 ? Math.max(p.from[1], p.to[1]) : p.from[1] + ((p.to[1] - p.from[1]) * (z - z0)) / (z1 - z0));
    } else {
      // By halving: arcs of an outline go on in z.
      let [low, high] = [0, 1];
      for (let i = 0; i < 50; i++) {
        const middle = (low + high) / 2;
        if (placeOnPiece(p, middle)[0] < z) low = middle;
        else high = middle;
      }
      const [at, r] = placeOnPiece(p, low);
      if (Math.abs(at - z) < 1e-6) best = Math.max(best, r);
    }
  }
  return best;
}
const heightOfOutline = (outline: readonly ProfilePoint[], z: number) =>
  heightOf(
    outline.slice(1).map((to, i): PathPiece => ({ kind: 'line', from: outline[i], to })),
    z,
  );

/** Lines that the outline has where each long one is broken into pieces that lie below it by up to a depth. */
function worn(corners: readonly ProfilePoint[], depth: number, random: () => number): ProfilePoint[] {
  const out: ProfilePoint[] = [corners[0]];
  for (let i = 1; i < corners.length; i++) {
    const [[z0, r0], [z1, r1]] = [corners[i - 1], corners[i]];
    if (z1 - z0 > 1e-9)
      for (let k = 1; k < 30; k++) {
        const s = (k + 0.4 * random()) / 30;
        out.push([z0 + s * (z1 - z0), r0 + s * (r1 - r0) - (k % 3 === 1 ? 0 : depth * random())]);
      }
    out.push(corners[i]);
  }
  return out;
}

describe('the fewest pieces above an outline', () => {
  const holder: ProfilePoint[] = [
    [0, 20],
    [50, 20],
    [50, 31.5],
    [58, 31.5],
    [80, 16],
    [95, 16],
  ];
  it('are what it was made from, where wear went into it: no more pieces, with their own diameters (seed 31)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        let state = seed;
        const random = () => (state = (state * 1103515245 + 12345) % 2147483648) / 2147483648;
        const outline = worn(holder, 0.015, random);
        const pieces = fewestPieces(outline, { tolerance: 0.02, arcs: false });
        expect(pieces).toHaveLength(holder.length - 1);
        for (const diameter of [20, 31.5, 16]) expect(pieces.some((p) => p.from[1] === diameter && p.to[1] === diameter)).toBe(true);
      }),
      { seed: 31, numRuns: 20 },
    );
  });
  it('lie nowhere below it, nowhere higher than the tolerance, and go on from one to the next (seed 32)', () => {
    const step = fc.tuple(fc.double({ min: 0.01, max: 9, noNaN: true }), fc.double({ min: 1, max: 30, noNaN: true }), fc.boolean());
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 14 }), fc.constantFrom(0.01, 0.1, 1), fc.boolean(), (steps, tolerance, arcs) => {
        const outline: ProfilePoint[] = [[0, 10]];
        for (const [long, r, isWall] of steps) {
          const [z, before] = outline[outline.length - 1];
          if (isWall && Math.abs(r - before) > 1e-3) outline.push([z, r]);
          outline.push([z + long, isWall ? r : before + Math.min(4, Math.max(-4, r - before))]);
        }
        const pieces = fewestPieces(outline, { tolerance, arcs });
        pieces.slice(1).forEach((p, i) => expect(Math.hypot(p.from[0] - pieces[i].to[0], p.from[1] - pieces[i].to[1])).toBeLessThan(1e-9));
        const end = outline[outline.length - 1][0];
        for (let k = 0; k <= 60; k++) {
          // Beside the walls, where either side may be meant.
          const z = (end * (k + 0.37)) / 61;
          if (outline.some((p) => Math.abs(p[0] - z) < 1e-3)) continue;
          const above = heightOf(pieces, z) - heightOfOutline(outline, z);
          expect(above).toBeGreaterThan(-1e-7);
          expect(above).toBeLessThan(tolerance + 1e-7);
        }
      }),
      { seed: 32, numRuns: 60 },
    );
  });
  it('are an arc where many corners lie on one that bulges; a hollow one that no face is known for stays lines', () => {
    const round = (sense: 1 | -1): ProfilePoint[] =>
      Array.from({ length: 41 }, (_, i) => {
        const angle = Math.PI * (0.25 + i / 80);
        // Tangents of a bulge, chords of a hollow.
        return [20 - 10 * Math.cos(angle), 20 + sense * (10 * Math.sin(angle) - 5)];
      });
    const bulge = fewestPieces(round(1), { tolerance: 0.02, arcs: true });
    expect(bulge.map((p) => p.kind)).toEqual(['arc']);
    expect(fewestPieces(round(1), { tolerance: 0.02, arcs: false }).length).toBeGreaterThan(4);
    const hollow = fewestPieces(round(-1), { tolerance: 0.02, arcs: true });
    expect(new Set(hollow.map((p) => p.kind))).toEqual(new Set(['line']));
    expect(hollow.length).toBeGreaterThan(4);
  });
  it('stay below a roof', () => {
    const outline: ProfilePoint[] = [
      [0, -5],
      [10, -0.02],
      [20, -5],
    ];
    for (const p of fewestPieces(outline, { tolerance: 1, roof: -0.01, arcs: false })) expect(Math.max(p.from[1], p.to[1])).toBeLessThanOrEqual(-0.01 + 1e-12);
  });
});
