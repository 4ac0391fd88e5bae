import { describe, expect, it } from '@jest/globals';
import { IDENTITY } from '#core/math';
import type { TriMesh } from '#core/mesh';
import type { FlatPoint } from '#core/outline';
import type { CuttingOutline } from '../cut/cutting-outline.ts';
import { Region } from '../region/region.ts';
import { Flank } from './flank.ts';
import { TurnedBody } from './turned-body.ts';

// A block with its upper face in the plane of the axis: x from x0 to x1 there, its flank set back by `back` at 4 below; z from -3 to 3.
function block(x0: number, x1: number, back: number, y = 0): TriMesh {
  const [low, high] = [y - 4, y];
  const corners = [low, high].flatMap((h) => {
    const off = h === low ? back : 0;
    return [
      [x0, h, -3],
      [x1 - off, h, -3],
      [x1 - off, h, 3],
      [x0, h, 3],
    ];
  });
  const quads = [
    [0, 1, 2, 3],
    [7, 6, 5, 4],
    [0, 4, 5, 1],
    [1, 5, 6, 2],
    [2, 6, 7, 3],
    [3, 7, 4, 0],
  ];
  return { positions: Float64Array.from(corners.flat()), triangles: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])) };
}
const outlineOf = (x0: number, x1: number, height = 0): CuttingOutline => {
  const points: FlatPoint[] = [
    [-3, x0],
    [3, x0],
    [3, x1],
    [-3, x1],
  ];
  return { points, heights: Float64Array.from(points, () => height), mostHeight: Math.abs(height) };
};
const flankOf = (mesh: TriMesh, outline: CuttingOutline) =>
  new Flank([{ body: new TurnedBody('insert', mesh, IDENTITY), free: new Map(), touching: new Set(), ref: { placeId: 'p', piece: 'q', id: 'b' } }], outline);
const ring = (inner: number, outer: number) =>
  Region.ofLoops([
    [
      [-20, inner],
      [20, inner],
      [20, outer],
      [-20, outer],
    ],
  ]);

describe('the flank of an edge', () => {
  it('in a bore: by how far the wall has come round where the flank is, less what it is set back', () => {
    for (const [radius, back] of [
      [8, 0],
      [8, 0.4],
      [15, 0.2],
    ]) {
      const found = flankOf(block(-5, 0, back), outlineOf(-5, 0)).touches(ring(radius, 40), [0, radius]);
      expect(found?.depth).toBeCloseTo(Math.hypot(radius - back, 4) - radius, 6);
      expect(found?.watched.body.name).toBe('insert');
    }
    // Set back as far as the wall comes round, it is clear; elsewhere than at the wall too.
    const enough = 8 - Math.sqrt(64 - 16);
    expect(flankOf(block(-5, 0, enough + 0.01), outlineOf(-5, 0)).touches(ring(8, 40), [0, 8])).toBeUndefined();
    expect(flankOf(block(-5, 0, 0), outlineOf(-5, 0)).touches(ring(20, 40), [0, 8])).toBeUndefined();
  });
  it('outside it goes away from the work; with the edge above the axis it rubs where it goes through the plane', () => {
    // From outside the edge is at x 0 and the block stands out to 5.
    const outside = (y: number) => flankOf(block(5, 0, 0, y), outlineOf(0, 5, y));
    expect(outside(0).touches(ring(0, 12), [0, 12])).toBeUndefined();
    // The edge, 2 above, cuts to sqrt(12^2 + 2^2); the flank comes to 12.
    const cut = Math.hypot(12, 2);
    expect(outside(2).touches(ring(0, cut), [0, 12])?.depth).toBeCloseTo(cut - 12, 1);
  });
  it('where the outline itself is that far below, it is the edge', () => {
    const lies = outlineOf(-5, 0, -4);
    expect(flankOf(block(-5, 0, 0), lies).touches(ring(8, 40), [0, 8])).toBeUndefined();
  });
});
