import type { FlatPoint, PathPiece } from '#core/outline';
import { sweepOfArc } from '#core/outline';
import { type Polygons, toUnits } from '#core/clipping';
import { SAG } from '../region/region.ts';
import type { CuttingOutline } from './cutting-outline.ts';

/** Where a carrier's reference stands, [z, x] of the turning plane, mm. */
export type At = FlatPoint;

/** What an outline covers of the half section, with the reference at a place: at the radius where each of its places cuts. */
export function imageAt({ points, heights, mostHeight }: CuttingOutline, [z, x]: At): FlatPoint[] {
  if (mostHeight < LEVEL) return points.map((p): FlatPoint => [p[0] + z, p[1] + x]);
  return points.map((p, i): FlatPoint => {
    const across = p[1] + x;
    return [p[0] + z, Math.sign(across) * Math.hypot(across, heights[i])];
  });
}

// mm. Lower than this, an edge is in the plane of the axis.
const LEVEL = 1e-6;

/**
 * The places between which an outline that moves along a path is swept, the start left out: chords of arcs within 0.0002 mm, and steps so short that what stands off the
 * plane of the axis changes its radius no more than that from what is drawn between them.
 */
export function placesAlong(path: PathPiece, outline: Pick<CuttingOutline, 'mostHeight'>): At[] {
  const { from, to } = path;
  if (path.kind === 'line') {
    const steps = outline.mostHeight < LEVEL ? 1 : Math.max(1, Math.ceil(Math.abs(to[1] - from[1]) / STEP_OFF_PLANE));
    return Array.from({ length: steps }, (_, i): At => {
      const t = (i + 1) / steps;
      return t === 1 ? to : [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
    });
  }
  const radius = Math.hypot(from[0] - path.centre[0], from[1] - path.centre[1]);
  const sweep = sweepOfArc(path);
  const steps = Math.max(1, Math.ceil(Math.abs(sweep) / (2 * Math.acos(Math.max(0, 1 - SAG / Math.max(radius, SAG))))));
  const start = Math.atan2(from[1] - path.centre[1], from[0] - path.centre[0]);
  return Array.from({ length: steps }, (_, i): At => {
    if (i === steps - 1) return to;
    const a = start + (sweep * (i + 1)) / steps;
    return [path.centre[0] + radius * Math.cos(a), path.centre[1] + radius * Math.sin(a)];
  });
}

// mm. An edge that stands 0.5 off the plane at radius 5 bends by 0.0002 over that.
const STEP_OFF_PLANE = 0.2;

/** What an outline covers where it stands, both sides of the axis. */
export const standing = (outline: CuttingOutline, at: At): Polygons => folded([toUnits(imageAt(outline, at))]);

/**
 * What an outline newly covers on its way from one place to the next: what its leading edges pass over. With what it covered at the start that is all. Counter-clockwise.
 */
export function swept(outline: CuttingOutline, from: At, to: At): Polygons {
  const [a, b] = [imageAt(outline, from), imageAt(outline, to)];
  const n = a.length;
  const leads = (i: number): boolean => {
    const j = (i + 1) % n;
    // Its outward side looks the way it goes; each end may go another way where it stands off the plane.
    const [ez, er] = [a[j][0] - a[i][0], a[j][1] - a[i][1]];
    const [dz, dr] = [b[i][0] - a[i][0] + b[j][0] - a[j][0], b[i][1] - a[i][1] + b[j][1] - a[j][1]];
    return er * dz - ez * dr > 0;
  };
  const front = Array.from({ length: n }, (_, i) => leads(i));
  const start = front.findIndex((f, i) => f && !front[(i + n - 1) % n]);
  const out: FlatPoint[][] = [];
  if (start < 0) return front[0] ? folded([toUnits(b)]) : [];
  for (let k = 0; k < n; ) {
    const i = (start + k) % n;
    if (!front[i]) {
      k++;
      continue;
    }
    let m = 0;
    while (k + m < n && front[(i + m) % n]) m++;
    const chain = Array.from({ length: m + 1 }, (_, s) => (i + s) % n);
    // Back along where it was, out along where it gets to: counter-clockwise.
    out.push([...chain.map((s) => b[s]), ...chain.reverse().map((s) => a[s])]);
    k += m;
  }
  return folded(out.map(toUnits));
}

// What reaches over the axis cuts on the other side too.
function folded(all: Polygons): Polygons {
  const over = all.filter((p) => p.some((q) => q.y < 0));
  return over.length === 0 ? all : [...all, ...over.map((p) => p.map((q) => ({ ...q, y: -q.y })).reverse())];
}
