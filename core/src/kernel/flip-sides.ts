// Of all triangulations between the same nodes the one without needless slivers.
import { nextHalf } from '#core/mesh';

// Of the sides' lengths to the fourth power, and squared: less is rounding.
const INSIDE = 1e-12;
const CONVEX = 1e-12;
// Times as many flips as there are sides; a triangulation in a plane takes fewer.
const MOST_TIMES = 40;

/**
 * Flips inner sides of a flat triangulation in place until no triangle's circle holds the corner across one of them (constrained Delaunay; C. L. Lawson, 1977). `flat` has x and y of
 * each node; triangles run counter-clockwise; `partner` as of `pairHalfEdges`, kept true.
 */
export function flipSides(flat: ArrayLike<number>, triangles: Uint32Array, partner: Int32Array): void {
  const queue = Array.from(partner.keys()).filter((h) => partner[h] > h);
  for (let left = MOST_TIMES * partner.length, h = queue.pop(); h !== undefined && left > 0; h = queue.pop(), left--) {
    const g = partner[h];
    if (g < 0) continue;
    const [h1, g1] = [nextHalf(h), nextHalf(g)];
    const [h2, g2] = [nextHalf(h1), nextHalf(g1)];
    const [a, b, c, d] = [triangles[h], triangles[h1], triangles[h2], triangles[g2]];
    if (!isInside(flat, a, b, c, d) || !turnsLeft(flat, a, d, c) || !turnsLeft(flat, d, b, c)) continue;
    const [ad, db, bc] = [partner[g1], partner[g2], partner[h1]];
    [triangles[h], triangles[h1], triangles[h2]] = [a, d, c];
    [triangles[g], triangles[g1], triangles[g2]] = [d, b, c];
    pair(partner, h, ad);
    pair(partner, h1, g2);
    pair(partner, g, db);
    pair(partner, g1, bc);
    queue.push(h, h2, g, g1);
  }
}

function pair(partner: Int32Array, h: number, g: number): void {
  partner[h] = g;
  if (g >= 0) partner[g] = h;
}

function turnsLeft(flat: ArrayLike<number>, a: number, b: number, c: number): boolean {
  const [x, y] = [flat[2 * b] - flat[2 * a], flat[2 * b + 1] - flat[2 * a + 1]];
  const [u, v] = [flat[2 * c] - flat[2 * a], flat[2 * c + 1] - flat[2 * a + 1]];
  return x * v - y * u > CONVEX * (x * x + y * y + u * u + v * v);
}

// Whether d lies inside the circle through a, b and c, which run counter-clockwise.
function isInside(flat: ArrayLike<number>, a: number, b: number, c: number, d: number): boolean {
  const [ax, ay] = [flat[2 * a] - flat[2 * d], flat[2 * a + 1] - flat[2 * d + 1]];
  const [bx, by] = [flat[2 * b] - flat[2 * d], flat[2 * b + 1] - flat[2 * d + 1]];
  const [cx, cy] = [flat[2 * c] - flat[2 * d], flat[2 * c + 1] - flat[2 * d + 1]];
  const [p, q, r] = [ax * ax + ay * ay, bx * bx + by * by, cx * cx + cy * cy];
  const det = p * (bx * cy - cx * by) - q * (ax * cy - cx * ay) + r * (ax * by - bx * ay);
  return det > INSIDE * (p + q + r) ** 2;
}
