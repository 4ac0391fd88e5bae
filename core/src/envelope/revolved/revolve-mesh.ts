import { addScaled, anyAcross, cross, type Vec3 } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { flattenPath, type HalfProfile, type ProfilePoint } from '#core/outline';
import type { Axis } from '../axis.ts';

/** How many flats around keep a circle of `radius` enclosed by no more than `allowance` (mm). */
export function flatsAround(radius: number, allowance: number): number {
  const half = Math.acos(radius / (radius + allowance));
  return Math.min(720, Math.max(12, Math.ceil(Math.PI / half)));
}

/** How far corners stand outside the circle that the flats touch. */
export const flatsGrowth = (radius: number, flats: number): number => radius / Math.cos(Math.PI / flats) - radius;

/** How many flats there are around at a radius. */
export type FlatsAt = (radius: number) => number;

/**
 * A profile turned about the axis into a closed mesh that encloses the true solid: flats of outside surfaces touch their circle from outside, those
 * of bores have their corners on it; arcs become straight pieces on the outside of them, at most `sag` mm away. What is joined by more than flat walls across
 * the axis has as many flats as its largest radius needs; on both sides of such a wall each has its own number.
 */
export function revolveToMesh(profile: HalfProfile, axis: Axis, flats: number | FlatsAt, sag = 0.001): TriMesh {
  const u = anyAcross(axis.direction);
  const v = cross(axis.direction, u);
  const positions: number[] = [];
  const triangles: number[] = [];
  const push = (p: Vec3) => positions.push(...p) / 3 - 1;
  const flatsAt: FlatsAt = typeof flats === 'number' ? () => flats : flats;
  for (const loop of profile) {
    const corners = flattenPath(loop, sag, true);
    // Each corner gives one place (on the axis) or a ring of places.
    const rings = widened(corners, flatsOfCorners(corners, flatsAt)).map(({ z, r, count }): number[] => {
      const centre = addScaled(axis.origin, axis.direction, z);
      if (r < ON_AXIS) return [push(centre)];
      return Array.from({ length: count }, (_, k) => {
        const angle = (2 * Math.PI * (k + 0.5)) / count;
        return push(addScaled(addScaled(centre, u, r * Math.cos(angle)), v, r * Math.sin(angle)));
      });
    });
    rings.forEach((ring, i) => zip(ring, rings[(i + 1) % rings.length], triangles));
  }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}

const ON_AXIS = 1e-9;
// mm. A piece of a profile that goes along by less is a wall across the axis.
const ACROSS = 1e-9;

// Between two rings, or a ring and a place: side by side in the order of their middles, so that each is joined to the nearest corner of the other ring.
function zip(a: readonly number[], b: readonly number[], triangles: number[]): void {
  const [n, m] = [a.length > 1 ? a.length : 0, b.length > 1 ? b.length : 0];
  for (let i = 0, j = 0; i < n || j < m; ) {
    // The middle of side k of n is at the share (k + 1) / n of a turn. Where both come at once the one on the second ring is first.
    if (j < m && (i >= n || (j + 1) * n <= (i + 1) * m)) {
      triangles.push(a[i % a.length], b[j % b.length], b[(j + 1) % b.length]);
      j++;
    } else {
      triangles.push(a[i % a.length], b[j % b.length], a[(i + 1) % a.length]);
      i++;
    }
  }
}

// How many flats go around at each corner of a loop.
function flatsOfCorners(corners: readonly ProfilePoint[], flatsAt: FlatsAt): number[] {
  const n = corners.length;
  const group = corners.map((_, i) => i);
  const join = (i: number, j: number) => {
    const [from, to] = [group[i], group[j]];
    for (let k = 0; k < n; k++) if (group[k] === from) group[k] = to;
  };
  const next = (i: number) => (i + 1) % n;
  const isWall = (i: number) => Math.abs(corners[next(i)][0] - corners[i][0]) < ACROSS;
  for (let i = 0; i < n; i++) if (!isWall(i) && corners[i][1] > ON_AXIS && corners[next(i)][1] > ON_AXIS) join(i, next(i));
  for (;;) {
    const largest = new Map<number, number>();
    corners.forEach(([, r], i) => largest.set(group[i], Math.max(largest.get(group[i]) ?? 0, r)));
    const counts = corners.map((_, i) => flatsAt(largest.get(group[i]) as number));
    // Of a low wall the corners of the inner ring would stand out of the outer one.
    const low = corners.findIndex(([, r], i) => {
      const [inner, outer] = r < corners[next(i)][1] ? [i, next(i)] : [next(i), i];
      if (!isWall(i) || counts[i] === counts[next(i)] || corners[inner][1] < ON_AXIS) return false;
      return corners[inner][1] / Math.cos(Math.PI / counts[inner]) > corners[outer][1] * Math.cos(Math.PI / counts[outer]) * LEAST_STEP;
    });
    if (low < 0) return counts;
    join(low, next(low));
  }
}

// Share of the outer ring's least radius that the inner one may reach to.
const LEAST_STEP = 0.9999;

// Corners of outside surfaces (which run against z) moved out so that flats between them touch the circle; where an outside surface and a bore meet
// in a sharp rim there are two corners.
function widened(corners: readonly ProfilePoint[], counts: readonly number[]): { z: number; r: number; count: number }[] {
  const n = corners.length;
  // Of a wall the neighbour tells: 1 outside, -1 bore, 0 wall.
  const sense = (i: number) => {
    const [p, q] = [corners[(i + n) % n], corners[(i + 1 + n) % n]];
    return Math.abs(q[0] - p[0]) < ACROSS || (p[1] < ON_AXIS && q[1] < ON_AXIS) ? 0 : q[0] < p[0] ? 1 : -1;
  };
  return corners.flatMap(([z, r], i) => {
    const count = counts[i];
    const [before, after] = [sense(i - 1), sense(i)];
    const [own, out] = [
      { z, r, count },
      { z, r: r / Math.cos(Math.PI / count), count },
    ];
    if (before * after < 0) return before > 0 ? [out, own] : [own, out];
    return before > 0 || after > 0 ? [out] : before < 0 || after < 0 ? [own] : [out];
  });
}
