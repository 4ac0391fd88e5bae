import type { CuttingOutline } from '../cut/cutting-outline.ts';
import type { At } from '../cut/sweep.ts';
import type { Region } from '../region/region.ts';
import { type Watched, TOUCH } from './follow.ts';
import type { FlatPoint } from '#core/outline';

/**
 * What cuts, below its edge: its flank follows where the edge has been, and rubs where the work comes round towards it, in a small bore, in a face groove, or where the edge
 * stands off the plane of the axis. A place y beside that plane is met at radius sqrt(x² + y²), farther out than it is seen by about y² / 2 x: more than it is set back
 * behind the edge's outline, and it is in what the edge has left.
 */
export class Flank {
  /** Of the places of each body: [x, y, z] about the reference, and how far behind the outline they are seen; packed. */
  private readonly each: readonly { readonly watched: Watched; readonly places: Float64Array }[];
  private readonly mostHeight: number;
  /** How far it may be in what the edge leaves, by X in steps of a grid. */
  private readonly known = new Map<number, number>();

  constructor(bodies: readonly Watched[], { points, heights, mostHeight }: CuttingOutline) {
    this.mostHeight = mostHeight;
    this.each = bodies.map((watched) => {
      const out: number[] = [];
      const p = watched.body.places(APART);
      for (let i = 0; i < p.length; i += 3) {
        const [x, y, z] = [p[i], p[i + 1], p[i + 2]];
        // Nearer to the plane than that it is the edge; and where what is seen as the outline is as far below itself, that cuts.
        const [inset, nearest] = behind(points, z, x);
        const isEdge = [nearest, (nearest + 1) % points.length].some((k) => heights[k] * y >= 0 && Math.abs(heights[k]) > Math.abs(y) - LEVEL);
        if (!isEdge) out.push(x, y, z, inset);
      }
      return { watched, places: Float64Array.from(out) };
    });
  }

  // At most, with the reference at X. Of each place it is convex over X: between two of the grid it is no more than at one of them.
  private mayStandOut(x: number): number {
    const step = Math.floor(x / GRID);
    return Math.max(this.atStep(step), this.atStep(step + 1));
  }

  private atStep(step: number): number {
    const known = this.known.get(step);
    if (known !== undefined) return known;
    let most = 0;
    for (const { places } of this.each) for (let i = 0; i < places.length; i += 4) most = Math.max(most, this.standsOut(places, i, step * GRID));
    this.known.set(step, most);
    return most;
  }

  // How far a place is beyond what the outline is seen to cover, mm; below nothing it is behind it.
  private standsOut(places: Float64Array, i: number, x: number): number {
    const { mostHeight } = this;
    const across = Math.abs(places[i] + x);
    const y = places[i + 1];
    return Math.sqrt(across * across + y * y) - across + (mostHeight * mostHeight) / (2 * Math.max(across, mostHeight)) - places[i + 3];
  }

  /** Where it is in the work, with the reference at a place, deepest; nothing where it is free. */
  touches(work: Region, [z, x]: At): { readonly depth: number; readonly at: FlatPoint; readonly watched: Watched } | undefined {
    if (this.mayStandOut(x) < RUBS) return undefined;
    let worst: { depth: number; at: FlatPoint; watched: Watched } | undefined;
    for (const { watched, places } of this.each)
      for (let i = 0; i < places.length; i += 4) {
        if (this.standsOut(places, i, x) < RUBS) continue;
        const [across, y] = [places[i] + x, places[i + 1]];
        const at: FlatPoint = [places[i + 2] + z, Math.sqrt(across * across + y * y)];
        const depth = work.depthAt(at[0], at[1]);
        if (depth > (worst?.depth ?? RUBS)) worst = { depth, at, watched };
      }
    return worst;
  }
}

// mm between values of X.
const GRID = 0.25;
// mm. Corners of triangles are no farther apart on a place's way along them.
const APART = 0.5;
// mm. What is no farther from the plane is the edge itself.
const LEVEL = 0.01;
// mm. Less than this is what chords of a model's round sides leave.
const RUBS = 2 * TOUCH;

// How far a place is from a closed outline, and which of its sides is nearest.
function behind(loop: readonly FlatPoint[], z: number, x: number): [number, number] {
  let [least, nearest] = [Infinity, 0];
  for (let i = 0; i < loop.length; i++) {
    const [a, b] = [loop[i], loop[(i + 1) % loop.length]];
    const [dz, dx] = [b[0] - a[0], b[1] - a[1]];
    const t = Math.min(1, Math.max(0, ((z - a[0]) * dz + (x - a[1]) * dx) / (dz * dz + dx * dx || 1)));
    const [ez, ex] = [z - a[0] - t * dz, x - a[1] - t * dx];
    const d = ez * ez + ex * ex;
    if (d < least) [least, nearest] = [d, i];
  }
  return [Math.sqrt(least), nearest];
}
