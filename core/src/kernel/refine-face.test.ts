import { describe, expect, it } from '@jest/globals';
import { pairHalfEdges, PLANE_SIZE, planeOfTriangle } from '#core/mesh';
import { type FaceMesh, refineFace } from './refine-face.ts';
import type { PutPoint } from './surface-points.ts';

/** A grid of n by n fields over ranges of a surface's coordinates, each cut in two. */
function gridOf(put: PutPoint, n: number, [u0, u1]: readonly [number, number], [v0, v1]: readonly [number, number]): FaceMesh {
  const uv: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) uv.push(u0 + ((u1 - u0) * i) / n, v0 + ((v1 - v0) * j) / n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const a = i * (n + 1) + j;
      triangles.push(a, a + n + 1, a + n + 2, a, a + n + 2, a + 1);
    }
  const positions = new Float64Array((uv.length / 2) * 3);
  for (let i = 0; i < uv.length / 2; i++) put(uv[2 * i], uv[2 * i + 1], positions, 3 * i);
  return { positions, uv: Float64Array.from(uv), poles: new Uint8Array(uv.length / 2), triangles: Uint32Array.from(triangles) };
}
const ball =
  (r: number): PutPoint =>
  (u, v, out, at) =>
    out.set([r * Math.cos(v) * Math.cos(u), r * Math.cos(v) * Math.sin(u), r * Math.sin(v)], at);

// Of triangles without a corner on the border, which stays as coarse as it is: the greatest distance of the surface over the middles of their sides.
function greatestOff({ positions, uv, triangles }: FaceMesh, put: PutPoint): number {
  const partner = pairHalfEdges({ positions, triangles });
  const atBorder = new Set([...partner].flatMap((p, h) => (p < 0 ? [triangles[h], triangles[h % 3 === 2 ? h - 2 : h + 1]] : [])));
  const plane = new Float64Array(PLANE_SIZE);
  const place = new Float64Array(3);
  let most = 0;
  for (let h = 0; h < triangles.length; h++) {
    const first = h - (h % 3);
    if ([0, 1, 2].some((k) => atBorder.has(triangles[first + k]))) continue;
    planeOfTriangle(positions, triangles, Math.floor(h / 3), plane);
    const [a, b] = [triangles[h], triangles[h % 3 === 2 ? h - 2 : h + 1]];
    put((uv[2 * a] + uv[2 * b]) / 2, (uv[2 * a + 1] + uv[2 * b + 1]) / 2, place, 0);
    most = Math.max(most, Math.abs(plane[0] * place[0] + plane[1] * place[1] + plane[2] * place[2] - plane[3]));
  }
  return most;
}
/** Twice the areas of triangles in the surface's coordinates. */
const areasOf = ({ uv, triangles: t }: FaceMesh): number[] =>
  Array.from({ length: t.length / 3 }, (_, i) => {
    const [a, b, c] = [2 * t[3 * i], 2 * t[3 * i + 1], 2 * t[3 * i + 2]];
    return (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[c] - uv[a]) * (uv[b + 1] - uv[a + 1]);
  });
const borderOf = ({ positions, triangles }: FaceMesh): string[] => {
  const partner = pairHalfEdges({ positions, triangles });
  return [...partner].flatMap((p, h) => (p < 0 ? [`${triangles[h]} ${triangles[h % 3 === 2 ? h - 2 : h + 1]}`] : [])).sort();
};

describe('the mesh of a face', () => {
  it.each([
    [3, 0.2],
    [4, 0.05],
    [8, 0.03],
  ])('of %i fields a side on a ball comes within %d mm inside, its border as it was, no part over another', (n, most) => {
    const put = ball(25);
    const face = gridOf(put, n, [0, 1.2], [-0.5, 0.6]);
    expect(greatestOff(face, put)).toBeGreaterThan(most);
    const fine = refineFace(face, put, most);
    expect(greatestOff(fine, put)).toBeLessThanOrEqual(most);
    expect(borderOf(fine)).toEqual(borderOf(face));
    // In its coordinates each triangle looks the same way, and together they are the face.
    const [before, after] = [areasOf(face), areasOf(fine)];
    expect(Math.min(...after)).toBeGreaterThan(0);
    expect(after.reduce((a, b) => a + b)).toBeCloseTo(
      before.reduce((a, b) => a + b),
      9,
    );
    // New corners lie on the ball.
    for (let i = 0; i < fine.positions.length; i += 3) expect(Math.hypot(...fine.positions.subarray(i, i + 3))).toBeCloseTo(25, 9);
  });
  it('that is within its chords already stays as it is', () => {
    const put = ball(25);
    const face = gridOf(put, 8, [0, 0.4], [0, 0.4]);
    const fine = refineFace(face, put, 0.5);
    expect(fine.triangles).toEqual(face.triangles);
    expect(fine.positions).toEqual(face.positions);
  });
  it('of a surface with a step is given up, not halved for ever', () => {
    const put: PutPoint = (u, v, out, at) => out.set([u, v, u > 0.503 ? 1 : 0], at);
    const face = gridOf(put, 10, [0, 1], [0, 1]);
    const fine = refineFace(face, put, 1e-6);
    expect(fine.triangles.length / 3).toBeLessThan(100_000);
  });
});
