import type { SampledBody } from '#core/kernel';
import type { TriMesh } from '#core/mesh';
import type { BoreChoice, ProfilePoint } from '#core/outline';
import { type Axis, acrossAxes, flatCoordinates, zrOfPoints } from '../axis.ts';

// mm. A bore narrower than this is closed in any case.
const NARROWEST = 0.1;
const SAME = 1e-6;

/** Stretches [from, to] along the axis where the axis itself lies outside of all bodies; the first begins and the last ends at infinity. */
export function emptyStretches(bodies: readonly SampledBody[], axis: Axis): [number, number][] {
  // Where the axis goes through a triangle it may enter or leave a body.
  const crossings: number[] = [];
  const [u, v] = acrossAxes(axis);
  for (const { mesh } of bodies) {
    const flat = flatCoordinates(axis, u, v, mesh.positions);
    const zr = zrOfPoints(axis, mesh.positions);
    const { triangles: t } = mesh;
    for (let i = 0; i < t.length; i += 3) {
      const [a, b, c] = [2 * t[i], 2 * t[i + 1], 2 * t[i + 2]];
      const sa = flat[b] * flat[c + 1] - flat[b + 1] * flat[c];
      const sb = flat[c] * flat[a + 1] - flat[c + 1] * flat[a];
      const sc = flat[a] * flat[b + 1] - flat[a + 1] * flat[b];
      const sum = sa + sb + sc;
      const slack = -1e-9 * Math.abs(sum);
      const sense = sum < 0 ? -1 : 1;
      if (Math.abs(sum) < 1e-12 || sense * sa < slack || sense * sb < slack || sense * sc < slack) continue;
      crossings.push((sa * zr[a] + sb * zr[b] + sc * zr[c]) / sum);
    }
  }
  crossings.sort((a, b) => a - b);
  const stops = crossings.filter((z, i) => i === 0 || z - crossings[i - 1] > SAME);
  const out: [number, number][] = [];
  for (let i = 0; i <= stops.length; i++) {
    const [from, to] = [stops[i - 1] ?? -Infinity, stops[i] ?? Infinity];
    const isOuter = i === 0 || i === stops.length;
    if (!isOuter && isInside(bodies, axis, (from + to) / 2)) continue;
    const last = out[out.length - 1];
    if (last && last[1] === from) last[1] = to;
    else out.push([from, to]);
  }
  return out;
}

// Whether a place of the axis is within a body: by the solid angle that its mesh is seen under, which needs no luck with edges and corners.
function isInside(bodies: readonly SampledBody[], { origin: o, direction: d }: Axis, z: number): boolean {
  const [x, y, w] = [o[0] + z * d[0], o[1] + z * d[1], o[2] + z * d[2]];
  return bodies.some(({ mesh }) => windingNumber(mesh, x, y, w) > 0.5);
}

/** How often a closed mesh winds around a place: 1 inside, 0 outside (van Oosterom, Strackee, 1983). */
export function windingNumber({ positions: p, triangles: t }: TriMesh, x: number, y: number, z: number): number {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ax, ay, az] = [p[a] - x, p[a + 1] - y, p[a + 2] - z];
    const [bx, by, bz] = [p[b] - x, p[b + 1] - y, p[b + 2] - z];
    const [cx, cy, cz] = [p[c] - x, p[c + 1] - y, p[c + 2] - z];
    const [la, lb, lc] = [Math.sqrt(ax * ax + ay * ay + az * az), Math.sqrt(bx * bx + by * by + bz * bz), Math.sqrt(cx * cx + cy * cy + cz * cz)];
    const det = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    const ab = ax * bx + ay * by + az * bz;
    const bc = bx * cx + by * cy + bz * cz;
    const ca = cx * ax + cy * ay + cz * az;
    sum += 2 * Math.atan2(det, la * lb * lc + ab * lc + bc * la + ca * lb);
  }
  return sum / (4 * Math.PI);
}

export interface BoreOptions {
  readonly keep: BoreChoice;
  /** mm. Where a bore's diameter is less than this it is closed. */
  readonly closeBelow: number;
}

/**
 * The bores of one stretch [start, end] of material that stay open, each as its wall's corners in [z, r] from left to right. `inner` are outlines of
 * what is nearest to the axis with r counted downwards.
 */
export function keptBores(
  inner: readonly (readonly ProfilePoint[])[],
  empty: readonly (readonly [number, number])[],
  [start, end]: readonly [number, number],
  { keep, closeBelow }: BoreOptions,
): ProfilePoint[][] {
  if (keep === 'closed') return [];
  const least = Math.max(closeBelow, NARROWEST) / 2;
  return empty.flatMap(([a, b]) => {
    const [from, to] = [Math.max(a, start), Math.min(b, end)];
    if (to - from < SAME) return [];
    const walls = inner.flatMap((points) => clipped(points, from, to)).map((points) => points.map(([z, r]): ProfilePoint => [z, Math.max(0, -r)]));
    const wide = walls.flatMap((points) => whereWide(points, least)).filter((points) => points[points.length - 1][0] - points[0][0] > SAME);
    const opensBehind = (w: readonly ProfilePoint[]) => w[0][0] < start + SAME;
    const opensAhead = (w: readonly ProfilePoint[]) => w[w.length - 1][0] > end - SAME;
    return wide.flatMap((w): ProfilePoint[][] => {
      const through = opensBehind(w) && opensAhead(w);
      if (keep === 'open') return opensBehind(w) || opensAhead(w) ? [w] : [];
      if (!through) return (keep === 'work' ? opensAhead(w) : opensBehind(w)) ? [w] : [];
      const middle = narrowest(w);
      return keep === 'work' ? clipped(w, middle, end) : clipped(w, start, middle);
    });
  });
}

// The part of an outline between two places, with ends there.
function clipped(points: readonly ProfilePoint[], from: number, to: number): ProfilePoint[][] {
  const out: ProfilePoint[] = [];
  for (let i = 0; i + 1 < points.length; i++) {
    const [p, q] = [points[i], points[i + 1]];
    if (q[0] < from || p[0] > to) continue;
    const dz = q[0] - p[0];
    if (dz < 1e-12) {
      // A wall at the very end belongs to what lies beyond.
      if (p[0] > from + SAME && p[0] < to - SAME) out.push(p, q);
      continue;
    }
    const at = (z: number): ProfilePoint => [z, p[1] + ((q[1] - p[1]) * (z - p[0])) / dz];
    const [s, e] = [Math.max(p[0], from), Math.min(q[0], to)];
    if (e - s > 1e-12) out.push(s === p[0] ? p : at(s), e === q[0] ? q : at(e));
  }
  const once = out.filter((p, i) => i === 0 || Math.hypot(p[0] - out[i - 1][0], p[1] - out[i - 1][1]) > 1e-12);
  return once.length > 1 ? [once] : [];
}

// The parts of an outline with at least this radius.
function whereWide(points: readonly ProfilePoint[], least: number): ProfilePoint[][] {
  const out: ProfilePoint[][] = [];
  let run: ProfilePoint[] = [];
  const finish = () => {
    if (run.length > 1) out.push(run);
    run = [];
  };
  for (let i = 0; i + 1 < points.length; i++) {
    const [p, q] = [points[i], points[i + 1]];
    const meet = (): ProfilePoint => [p[0] + ((q[0] - p[0]) * (least - p[1])) / (q[1] - p[1]), least];
    if (p[1] >= least && q[1] >= least) {
      if (run.length === 0) run.push(p);
      run.push(q);
    } else if (p[1] >= least) {
      if (run.length === 0) run.push(p);
      if (q[0] - p[0] > 1e-12) run.push(meet());
      finish();
    } else if (q[1] >= least) run = q[0] - p[0] > 1e-12 ? [meet(), q] : [q];
  }
  finish();
  return out;
}

// Where a bore is narrowest: the middle of the stretch.
function narrowest(points: readonly ProfilePoint[]): number {
  const least = Math.min(...points.map((p) => p[1]));
  const at = points.filter((p) => p[1] < least + 1e-6).map((p) => p[0]);
  return (at[0] + at[at.length - 1]) / 2;
}
