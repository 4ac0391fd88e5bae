import { PLANE_SIZE } from '#core/mesh';
import { type CollapsePlace, MOST_AROUND } from './collapse-place.ts';
import type { HullMesh } from './hull-mesh.ts';
import { greatestOver } from './overlap-height.ts';

// Cosine. Triangles that lean further from a common direction are not told by it.
const LEAST_ALONG = 0.3;
// How often such a direction is turned before there is said to be none.
const MOST_TURNS = 12;
const PLANE = PLANE_SIZE;

/**
 * How far the triangles that a collapse makes stand out at most. Seen along one direction that all triangles around an edge look along, old and new ones cover
 * the same: each new one stands above an old one that it lies over by no more than its corners stand above that one's plane, along that direction, and
 * outside of the reference by what that stood out more.
 */
export class CollapseBound {
  private readonly mesh: HullMesh;
  private readonly around: CollapsePlace;
  private readonly up = new Float64Array(3);
  private readonly east = new Float64Array(3);
  private readonly north = new Float64Array(3);
  /** By old triangle: what a height over its plane is along that direction, how far it stands out, and how high the new place is over its plane. */
  private readonly perHeight = new Float64Array(MOST_AROUND);
  private readonly before = new Float64Array(MOST_AROUND);
  private readonly above = new Float64Array(MOST_AROUND);
  /** The corners of the old triangles as seen along that direction, six numbers each, and of a new one. */
  private readonly flat = new Float64Array(6 * MOST_AROUND);
  private readonly flatNew = new Float64Array(6);
  /** The boxes around the old ones: low and high along the first direction, then along the second. */
  private readonly box = new Float64Array(4 * MOST_AROUND);
  private isBounded = false;

  constructor(mesh: HullMesh, around: CollapsePlace) {
    this.mesh = mesh;
    this.around = around;
  }

  /** Looks for the direction, for the planes that were gathered last. */
  prepare(): void {
    const { up, east, north, perHeight, before, above, flat } = this;
    const { planes, count, near, place } = this.around;
    const { p, t, outside } = this.mesh;
    this.isBounded = this.findUp();
    if (!this.isBounded) return;
    for (let i = 0; i < count; i++) {
      const at = PLANE * i;
      perHeight[i] = 1 / (planes[at] * up[0] + planes[at + 1] * up[1] + planes[at + 2] * up[2]);
      above[i] = planes[at] * place[0] + planes[at + 1] * place[1] + planes[at + 2] * place[2] - planes[at + 3];
      before[i] = outside[near[i]];
    }
    const least = Math.abs(up[0]) < 0.6 ? 0 : 1;
    const l = Math.sqrt(1 - up[least] * up[least]);
    for (let k = 0; k < 3; k++) east[k] = ((k === least ? 1 : 0) - up[least] * up[k]) / l;
    north[0] = up[1] * east[2] - up[2] * east[1];
    north[1] = up[2] * east[0] - up[0] * east[2];
    north[2] = up[0] * east[1] - up[1] * east[0];
    const { box } = this;
    for (let i = 0; i < count; i++) {
      const f = 6 * i;
      for (let k = 0; k < 3; k++) this.project(p, 3 * t[3 * near[i] + k], flat, f + 2 * k);
      box[4 * i] = Math.min(flat[f], flat[f + 2], flat[f + 4]);
      box[4 * i + 1] = Math.max(flat[f], flat[f + 2], flat[f + 4]);
      box[4 * i + 2] = Math.min(flat[f + 1], flat[f + 3], flat[f + 5]);
      box[4 * i + 3] = Math.max(flat[f + 1], flat[f + 3], flat[f + 5]);
    }
  }

  // A direction that all planes look along: the mean of their normals, turned towards the one that looks away most, again and again.
  private findUp(): boolean {
    const { up } = this;
    const { planes, count } = this.around;
    up.fill(0);
    for (let round = 0; round < MOST_TURNS; round++) {
      let worst = -1;
      let least = Infinity;
      for (let i = 0; i < PLANE * count; i += PLANE) {
        if (round === 0) for (let k = 0; k < 3; k++) up[k] += planes[i + k];
        else {
          const along = planes[i] * up[0] + planes[i + 1] * up[1] + planes[i + 2] * up[2];
          if (along < least) {
            worst = i;
            least = along;
          }
        }
      }
      if (round > 0) {
        if (least >= LEAST_ALONG) return true;
        for (let k = 0; k < 3; k++) up[k] += (1.2 * LEAST_ALONG - least) * planes[worst + k];
      }
      const long = Math.sqrt(up[0] * up[0] + up[1] * up[1] + up[2] * up[2]);
      if (long < 1e-9) return false;
      for (let k = 0; k < 3; k++) up[k] /= long;
    }
    return false;
  }

  private project(from: Float64Array, at: number, into: Float64Array, to: number): void {
    const { east, north } = this;
    into[to] = from[at] * east[0] + from[at + 1] * east[1] + from[at + 2] * east[2];
    into[to + 1] = from[at] * north[0] + from[at + 1] * north[1] + from[at + 2] * north[2];
  }

  /** mm, for the triangle from the new place to two corners (times 3), with its unit normal; Infinity where it cannot be told, which says that of all of them. */
  of(c: number, d: number, nx: number, ny: number, nz: number): number {
    const { up, perHeight, before, above, flat, flatNew, box } = this;
    const { planes, count, place } = this.around;
    const { p } = this.mesh;
    if (!this.isBounded || nx * up[0] + ny * up[1] + nz * up[2] < LEAST_ALONG) return Infinity;
    this.project(place, 0, flatNew, 0);
    this.project(p, c, flatNew, 2);
    this.project(p, d, flatNew, 4);
    const left = Math.min(flatNew[0], flatNew[2], flatNew[4]);
    const right = Math.max(flatNew[0], flatNew[2], flatNew[4]);
    const low = Math.min(flatNew[1], flatNew[3], flatNew[5]);
    const high = Math.max(flatNew[1], flatNew[3], flatNew[5]);
    const cx = p[c];
    const cy = p[c + 1];
    const cz = p[c + 2];
    const dx = p[d];
    const dy = p[d + 1];
    const dz = p[d + 2];
    let most = 0;
    for (let i = 0; i < count; i++) {
      const b = 4 * i;
      if (box[b] > right || box[b + 1] < left || box[b + 2] > high || box[b + 3] < low) continue;
      const x = planes[PLANE * i];
      const y = planes[PLANE * i + 1];
      const z = planes[PLANE * i + 2];
      const offset = planes[PLANE * i + 3];
      const h0 = above[i];
      const h1 = x * cx + y * cy + z * cz - offset;
      const h2 = x * dx + y * dy + z * dz - offset;
      const highest = h0 > h1 ? (h0 > h2 ? h0 : h2) : h1 > h2 ? h1 : h2;
      if ((highest > 0 ? highest : 0) * perHeight[i] + before[i] <= most) continue;
      const stands = greatestOver(flat, 6 * i, flatNew, 0, h0, h1, h2) * perHeight[i] + before[i];
      if (stands > most) most = stands;
    }
    return most;
  }
}
