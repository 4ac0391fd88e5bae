import type { Solids, TriangleTree } from '#core/mesh';

// mm. What is nearer to the surface of other solids than this is seen.
const SURELY_IN = 1e-6;

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

  /** Whether a place is in other solids, and counts as nearer than `within` mm for that. */
  private isHidden(x: number, y: number, z: number, within: number): boolean {
    const { tree, others, tolerance, most } = this;
    return others !== undefined && others.isDeeper(x, y, z, Math.max(SURELY_IN, tolerance - within)) && tree.isNear(x, y, z, most + within - tolerance);
  }

  /**
   * Whether a flat convex piece (packed corners, a place in it, and how far the corners are from that) is in other solids wholly, and its corners are not too far out
   * there. Where it is not, `others.isSliced` tells whether it may be, on one side of a plane.
   */
  isPieceHidden(others: Solids, corners: Float64Array, count: number, x: number, y: number, z: number, size: number): boolean {
    const { tree, most } = this;
    others.isSliced = false;
    for (let i = 0; i < 3 * count; i += 3) if (!tree.isNear(corners[i], corners[i + 1], corners[i + 2], most)) return false;
    return tree.isNear(x, y, z, most) && others.hold(corners, count, x, y, z, size);
  }

  /** Whether all around a place, `away` mm from it, is in other solids: two of them may touch each other there, and the place be in neither. */
  isHiddenAround(x: number, y: number, z: number, away: number): boolean {
    const { others } = this;
    if (!others || !this.tree.isNear(x, y, z, this.most)) return false;
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (let k = -1; k <= 1; k++) {
          const long = Math.sqrt(i * i + j * j + k * k);
          if (long > 0 && !others.isDeeper(x + (i * away) / long, y + (j * away) / long, z + (k * away) / long, 0)) return false;
        }
    return true;
  }
}
