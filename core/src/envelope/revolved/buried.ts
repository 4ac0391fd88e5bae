import type { SampledBody } from '#core/kernel';
import { type Axis, acrossAxes, flatCoordinates, zrOfPoints } from '../axis.ts';
import { Coverage } from './coverage.ts';

// mm. A triangle that spans less than this along the axis sweeps no stretch.
const SAME_LEVEL = 1e-9;

/** The corners of a body as seen from an axis: [z, r] and [x, y] across it, packed. */
export interface PlacesAbout {
  readonly zr: Float64Array;
  readonly flat: Float64Array;
}

/** A body's corners about an axis. */
export function placesAbout({ mesh }: SampledBody, axis: Axis): PlacesAbout {
  const [u, v] = acrossAxes(axis);
  return { zr: zrOfPoints(axis, mesh.positions), flat: flatCoordinates(axis, u, v, mesh.positions) };
}

// Buckets that an edge is told by.
const COVER_FINENESS = 4;

// mm. A triangle must not bury itself by rounding.
const SURELY_BELOW = 1e-9;

// mm. More than any tessellation that a tolerance was asked for has lost.
const DEEP = 0.2;

/**
 * What bodies surely sweep: the edge of each triangle that is longest along the axis. Most triangles of screws and pockets lie far below what spins
 * around them; they are told at once by their corners (a triangle is furthest from the axis at one of them).
 */
export function coverOf(bodies: readonly SampledBody[], places: readonly PlacesAbout[]): Coverage {
  let [low, high] = [Infinity, -Infinity];
  for (const { zr } of places)
    for (let i = 0; i < zr.length; i += 2) {
      if (zr[i] < low) low = zr[i];
      if (zr[i] > high) high = zr[i];
    }
  const cover = new Coverage(low, Math.max(high, low + SAME_LEVEL), COVER_FINENESS);
  bodies.forEach(({ mesh }, i) => addLongest(cover, mesh.triangles, places[i]));
  cover.finish();
  return cover;
}

function addLongest(cover: Coverage, t: Uint32Array, { zr, flat }: PlacesAbout): void {
  for (let i = 0; i < t.length; i += 3) {
    let first = 2 * t[i];
    let last = first;
    for (let k = i + 1; k < i + 3; k++) {
      const v = 2 * t[k];
      if (zr[v] < zr[first]) first = v;
      if (zr[v] > zr[last]) last = v;
    }
    if (zr[last] - zr[first] < SAME_LEVEL) continue;
    cover.addEdge(zr[first], zr[last], flat[first], flat[first + 1], flat[last] - flat[first], flat[last + 1] - flat[first + 1]);
  }
}

/** Whether a triangle (`i`: its first corner in `t`) lies below the cover with what it has lost (mm), and beyond its ends by `end`. */
export function isBuried(cover: Coverage, zr: Float64Array, t: Uint32Array, i: number, loss: number, end: number): boolean {
  const a = 2 * t[i];
  const b = 2 * t[i + 1];
  const c = 2 * t[i + 2];
  const low = Math.min(zr[a], zr[b], zr[c]);
  const high = Math.max(zr[a], zr[b], zr[c]);
  const r = Math.max(zr[a + 1], zr[b + 1], zr[c + 1]);
  return cover.hidesAll(low - end, high + end, r + loss + SURELY_BELOW);
}

/** Whether all triangles of a face lie so deep that no tessellation can have lost as much. */
export function isFaceBuried(cover: Coverage, zr: Float64Array, t: Uint32Array, first: number, last: number): boolean {
  for (let i = 3 * first; i < 3 * last; i += 3) if (!isBuried(cover, zr, t, i, DEEP, DEEP)) return false;
  return true;
}
