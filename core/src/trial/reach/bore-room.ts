import type { FlatPoint, HalfProfile } from '#core/outline';
import { flattenPath } from '#core/outline';
import type { At } from '../cut/sweep.ts';
import type { TurnedBody } from '../touch/turned-body.ts';

/** What a bar asks for of a bore where it stands in it, beside what the part has there. */
export interface BoreAt {
  /** Z of the part, mm. */
  readonly z: number;
  /** Diameters, mm: what passes by of all but its edge, and the part's bore. */
  readonly asked: number;
  readonly bore: number;
}

/** How deep a bar gets into a bore. */
export interface BoreRoom {
  /** The deepest place of the bore that its edge gets to, [z, r]. */
  readonly deepest: FlatPoint;
  /** From there to the front. */
  readonly along: readonly BoreAt[];
  /** The least room between the two, on radius, and where; undefined where nothing of it is in the bore. */
  readonly least: { readonly room: number; readonly z: number } | undefined;
}

// Slices from the deepest place to the front.
const SLICES = 80;

/** What bodies ask for between the deepest place that an edge gets to and the front of a part, with the reference there. */
export function boreRoom(bodies: readonly TurnedBody[], contour: HalfProfile, deepest: FlatPoint, reference: At): BoreRoom {
  const rings = contour.map((l) => flattenPath(l, 0.005, false));
  const front = Math.max(...rings.flat().map((p) => p[0]));
  const step = (front - deepest[0]) / SLICES;
  const edges = Array.from({ length: SLICES + 1 }, (_, i) => deepest[0] + i * step);
  const asked = new Float64Array(SLICES);
  for (const body of bodies) {
    const own = body.widestBetween(reference, edges);
    for (let i = 0; i < SLICES; i++) asked[i] = Math.max(asked[i], own[i]);
  }
  const along: BoreAt[] = [];
  let least: BoreRoom['least'];
  for (let i = 0; i < SLICES && step > 0; i++) {
    const [z0, z1] = [edges[i], edges[i + 1]];
    const bore = narrowestBetween(rings, z0, z1);
    if (asked[i] <= 0 || bore === undefined) continue;
    const z = (z0 + z1) / 2;
    along.push({ z, asked: 2 * asked[i], bore: 2 * bore });
    if (!least || bore - asked[i] < least.room) least = { room: bore - asked[i], z };
  }
  return { deepest, along, least };
}

// The smallest radius at which the part begins between two planes across the axis.
function narrowestBetween(rings: readonly (readonly FlatPoint[])[], z0: number, z1: number): number | undefined {
  let least: number | undefined;
  for (const ring of rings)
    for (const [i, a] of ring.entries()) {
      const b = ring[(i + 1) % ring.length];
      const [low, high] = a[0] <= b[0] ? [a, b] : [b, a];
      if (high[0] < z0 || low[0] > z1) continue;
      const at = (z: number) => (high[0] - low[0] < 1e-9 ? Math.min(a[1], b[1]) : low[1] + ((z - low[0]) * (high[1] - low[1])) / (high[0] - low[0]));
      const r = Math.min(at(Math.max(z0, low[0])), at(Math.min(z1, high[0])));
      least = least === undefined ? r : Math.min(least, r);
    }
  return least;
}
