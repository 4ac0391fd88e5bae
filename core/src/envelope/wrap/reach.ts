import type { Solids, TriangleTree } from '#core/mesh';

/**
 * How far places of a hull stand outside the mesh that it is made around, held against a tolerance. In other solids nobody sees where the hull is: a place
 * there counts as no further away than it is from coming out of them again, with the tolerance on their surface.
 */
export class Reach {
  readonly tree: TriangleTree;
  /** The other solids, where there are some. */
  readonly others: Solids | undefined;
  private readonly tolerance: number;
  private readonly most: number;
  /** mm, of the last `nearest`. */
  distance = Infinity;

  /** Hidden places may stand out by `most` mm. */
  constructor(tree: TriangleTree, tolerance: number, others?: Solids, most = Infinity) {
    this.tree = tree;
    this.tolerance = tolerance;
    this.others = others;
    this.most = most;
  }

  /** Whether a place stands out by less than `within` mm, which is no more than the tolerance. */
  isNear(x: number, y: number, z: number, within: number): boolean {
    return this.tree.isNear(x, y, z, within) || this.isHidden(x, y, z, within);
  }

  /** Whether everything within `around` mm of a place is in other solids, and counts as nearer than `within` for that. */
  isHidden(x: number, y: number, z: number, within: number, around = 0): boolean {
    const { tree, others, tolerance, most } = this;
    return (
      others !== undefined && others.isDeeper(x, y, z, Math.max(0, tolerance - within) + around) && tree.isNear(x, y, z, most + within - tolerance - around)
    );
  }

  /** How far a place stands out, where that is less than `within` mm: it is left in `distance`. */
  nearest(x: number, y: number, z: number, within = Infinity): boolean {
    const { tree, others, tolerance, most } = this;
    this.distance = Infinity;
    const depth = others ? -others.at(x, y, z) : 0;
    if (!tree.nearest(x, y, z, depth > 0 ? Infinity : within)) return false;
    const { distance } = tree;
    this.distance = depth > 0 ? Math.min(distance, Math.max(0, tolerance - depth, distance - most + tolerance)) : distance;
    return this.distance < within;
  }
}
