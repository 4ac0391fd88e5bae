import type { FlatBooleans } from '#core/kernel';
import { type Frame, frameFromWorld } from '#core/math';
import { movePoints, type TriMesh } from '#core/mesh';
import type { FlatPoint } from '#core/outline';

/** A stretch along Y of a frame, mm; no corner of what is looked at may lie in one of its ends. */
export interface Slab {
  readonly low: number;
  readonly high: number;
}

/** A slab that nothing is outside of. */
export const EVERYTHING: Slab = { low: -Infinity, high: Infinity };

/**
 * What closed meshes cover as seen along Y of a frame, as polygons in its (z, x): counter-clockwise around material, clockwise around holes; of a slab
 * what of them is in it. The border of the triangles that look up, and of the cut at the slab's upper end, edge by edge: the winding number of these edges
 * says how many layers lie over a place, so that their union is found without one triangle being clipped by another.
 */
export function silhouetteOf(meshes: readonly TriMesh[], frame: Frame, flat: FlatBooleans, slab = EVERYTHING): FlatPoint[][] {
  const frameFromMesh = frameFromWorld(frame);
  return flat.unite(meshes.flatMap((mesh) => bordersInSlab({ positions: movePoints(frameFromMesh, mesh.positions), triangles: mesh.triangles }, slab)));
}

function bordersInSlab({ positions: p, triangles: t }: TriMesh, { low, high }: Slab): FlatPoint[][] {
  const borders = new Borders(p);
  for (let i = 0; i < t.length; i += 3) {
    const y0 = p[3 * t[i] + 1];
    const y1 = p[3 * t[i + 1] + 1];
    const y2 = p[3 * t[i + 2] + 1];
    if (Math.max(y0, y1, y2) <= low || Math.min(y0, y1, y2) >= high) continue;
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    // Seen from +Y, with z to the right and x up, a triangle that looks up runs counter-clockwise.
    const isUp = (p[b + 2] - p[a + 2]) * (p[c] - p[a]) - (p[b] - p[a]) * (p[c + 2] - p[a + 2]) > 0;
    const isCut = Math.max(y0, y1, y2) > high;
    if (!isUp && !isCut) continue;
    let corners = [t[i], t[i + 1], t[i + 2]];
    if (Math.min(y0, y1, y2) < low) corners = borders.clip(corners, low, 1);
    if (isCut) {
      corners = borders.clip(corners, high, -1);
      // The cut runs along the same edge the other way.
      corners.forEach((v, k) => {
        const w = corners[(k + 1) % corners.length];
        if (borders.isOn(v, high) && borders.isOn(w, high)) borders.add(w, v);
      });
    }
    if (isUp) corners.forEach((v, k) => borders.add(v, corners[(k + 1) % corners.length]));
  }
  return borders.loops();
}

// Directed edges between corners of a mesh and places where its edges are cut; those that run both ways are none.
class Borders {
  private readonly corner: number[];
  private readonly height: number[];
  private readonly cuts = new Map<string, number>();
  /** By where edges begin, where they end. */
  private readonly ends = new Map<number, number[]>();

  constructor(p: Float64Array) {
    this.corner = [];
    this.height = [];
    for (let i = 0; i < p.length; i += 3) {
      this.corner.push(p[i + 2], p[i]);
      this.height.push(p[i + 1]);
    }
  }

  isOn(v: number, height: number): boolean {
    return this.height[v] === height;
  }

  /** The part of a polygon that is above (1) or below (-1) a height. */
  clip(polygon: readonly number[], at: number, side: 1 | -1): number[] {
    const out: number[] = [];
    polygon.forEach((v, k) => {
      const w = polygon[(k + 1) % polygon.length];
      const [dv, dw] = [side * (this.height[v] - at), side * (this.height[w] - at)];
      if (dv >= 0) out.push(v);
      if (dv * dw < 0) out.push(this.cut(v, w, at));
    });
    return out;
  }

  // Both triangles of an edge get the same place.
  private cut(v: number, w: number, at: number): number {
    const [a, b] = v < w ? [v, w] : [w, v];
    const key = `${a} ${b} ${at}`;
    const known = this.cuts.get(key);
    if (known !== undefined) return known;
    const { corner, height } = this;
    const share = (at - height[a]) / (height[b] - height[a]);
    const made = height.length;
    corner.push(corner[2 * a] + share * (corner[2 * b] - corner[2 * a]), corner[2 * a + 1] + share * (corner[2 * b + 1] - corner[2 * a + 1]));
    height.push(at);
    this.cuts.set(key, made);
    return made;
  }

  add(from: number, to: number): void {
    const back = this.ends.get(to);
    const at = back?.indexOf(from) ?? -1;
    if (back && at >= 0) back.splice(at, 1);
    else {
      const list = this.ends.get(from);
      if (list) list.push(to);
      else this.ends.set(from, [to]);
    }
  }

  loops(): FlatPoint[][] {
    const out: FlatPoint[][] = [];
    for (const [first, list] of this.ends)
      while (list.length > 0) {
        const loop: FlatPoint[] = [];
        for (let v: number | undefined = first; v !== undefined; v = this.ends.get(v)?.pop()) loop.push([this.corner[2 * v], this.corner[2 * v + 1]]);
        loop.pop();
        if (loop.length > 2) out.push(loop);
      }
    return out;
  }
}
