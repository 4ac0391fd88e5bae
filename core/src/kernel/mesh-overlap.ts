// What two solids have in common, by the Manifold library; single precision inside, about the middle of the first.
import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import { boundsCentre, type Motion, move, turn, type Vec3 } from '#core/math';
import { type BodyGeometry, type TriMesh, weld } from '#core/mesh';
import { isNoSolid, loadManifold, positionsAbout, positionsOf } from './manifold.ts';

/** What two solids have in common, in the coordinates of the first one's file. */
export interface Common {
  readonly mesh: TriMesh;
  /** mm3 */
  readonly volume: number;
}

// Solids that are kept for the next question: a stick-out that is dragged asks for the same ones again and again.
const KEPT = 96;

/** Asks what solids have in common; keeps them between questions. To be closed. */
export class OverlapSolver {
  private readonly top: ManifoldToplevel;
  private readonly solids = new Map<BodyGeometry, Manifold | null>();

  private constructor(top: ManifoldToplevel) {
    this.top = top;
  }

  static async load(wasmUrl?: string): Promise<OverlapSolver> {
    return new OverlapSolver(await loadManifold(wasmUrl));
  }

  /** `oneFromOther`: from the other's file to the one's. Undefined where they have nothing in common, null where one of them is no solid. */
  common(one: BodyGeometry, other: BodyGeometry, oneFromOther: Motion): Common | undefined | null {
    const [a, b] = [this.solidOf(one), this.solidOf(other)];
    if (!a || !b) return null;
    const [at, from] = [boundsCentre(one.bbox), boundsCentre(other.bbox)];
    // Both are kept about their middles.
    const to = move(oneFromOther, from);
    const shift: Vec3 = [to[0] - at[0], to[1] - at[1], to[2] - at[2]];
    const column = (d: Vec3) => turn(oneFromOther, d);
    const moved = b.transform([...column([1, 0, 0]), 0, ...column([0, 1, 0]), 0, ...column([0, 0, 1]), 0, ...shift, 1]);
    const both = a.intersect(moved);
    try {
      const volume = both.volume();
      if (both.isEmpty() || volume <= 0) return undefined;
      const mesh = both.getMesh();
      return { mesh: { positions: positionsOf(mesh, at), triangles: Uint32Array.from(mesh.triVerts) }, volume };
    } finally {
      moved.delete();
      both.delete();
    }
  }

  close(): void {
    for (const solid of this.solids.values()) solid?.delete();
    this.solids.clear();
  }

  private solidOf(body: BodyGeometry): Manifold | null {
    const known = this.solids.get(body);
    if (known !== undefined) return known;
    const made = this.make(body);
    this.solids.set(body, made);
    const [[oldest, solid]] = this.solids;
    if (this.solids.size > KEPT) {
      solid?.delete();
      this.solids.delete(oldest);
    }
    return made;
  }

  private make(body: BodyGeometry): Manifold | null {
    const centre = boundsCentre(body.bbox);
    const { positions, triangles } = weld(body.mesh, 1e-7);
    try {
      return new this.top.Manifold(new this.top.Mesh({ numProp: 3, vertProperties: positionsAbout(positions, centre), triVerts: triangles }));
    } catch (error) {
      if (isNoSolid(error)) return null;
      throw error;
    }
  }
}
