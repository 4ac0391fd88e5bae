import { cross, dot, length, scale, subtract, type Vec3 } from '#core/math';
import { nextHalf, pairHalfEdges } from './half-edges.ts';
import type { TriMesh } from './tri-mesh.ts';

// Sines. What leaves a plane at a lower angle lies in it.
const IN_PLANE = 1e-6;
// Directions that are looked along in each of the two faces at an edge.
const STEPS = 8;

/** A corner of a mesh, told by a half-edge that begins there, an edge by one of its half-edges, or a face. */
export type Feature = { readonly kind: 'corner' | 'edge'; readonly half: number } | { readonly kind: 'face'; readonly face: number };

/**
 * Whether a mesh goes through itself where two of its features meet exactly: at such a place no edge goes through the inside of a triangle, and the
 * two surfaces may as well only touch there. Told by the directions in which the one leaves the place: some into the other's material, some out of it.
 */
export class ContactCrossings {
  private readonly mesh: TriMesh;
  private partner: Int32Array | undefined;
  private readonly seen = new Set<string>();

  constructor(mesh: TriMesh) {
    this.mesh = mesh;
  }

  /** Whether `one`, an edge or a corner, goes through `other`, an edge or a face, where they meet; of each two only the first time they are asked for. */
  isNewCrossing(one: Feature, other: Feature): boolean {
    const key = [this.nameOf(one), this.nameOf(other)].sort().join();
    if (this.seen.has(key)) return false;
    this.seen.add(key);
    const side = this.sideOf(other);
    if (!side) return false;
    let [inside, outside] = [false, false];
    for (const d of this.directionsOf(one)) {
      const at = side(d);
      inside ||= at < 0;
      outside ||= at > 0;
    }
    return inside && outside;
  }

  private partnerOf(half: number): number {
    this.partner ??= pairHalfEdges(this.mesh);
    return this.partner[half];
  }

  private nameOf(f: Feature): string {
    if (f.kind === 'face') return `f${f.face}`;
    if (f.kind === 'corner') return `c${this.mesh.triangles[f.half]}`;
    return `e${Math.max(f.half, this.partnerOf(f.half))}`;
  }

  private at(v: number): Vec3 {
    const { positions: p } = this.mesh;
    return [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  }

  private along(half: number): Vec3 {
    const { triangles: t } = this.mesh;
    return unitOf(subtract(this.at(t[nextHalf(half)]), this.at(t[half])));
  }

  private normalOf(face: number): Vec3 {
    return unitOf(cross(this.along(3 * face), this.along(3 * face + 1)));
  }

  // On which side of a face or an edge's two faces a direction leads: -1 into the material, 1 out of it, 0 along them.
  private sideOf(f: Feature): ((d: Vec3) => number) | undefined {
    if (f.kind === 'corner') return undefined;
    const face = f.kind === 'face' ? f.face : Math.floor(f.half / 3);
    const n = this.normalOf(face);
    if (f.kind === 'face') return (d) => signOf(dot(d, n));
    const partner = this.partnerOf(f.half);
    if (partner < 0) return undefined;
    const m = this.normalOf(Math.floor(partner / 3));
    const far = this.along(nextHalf(partner));
    const isConvex = dot(far, n) <= 0;
    return (d) => {
      const [a, b] = [signOf(dot(d, n)), signOf(dot(d, m))];
      return isConvex ? Math.max(a, b) : Math.min(a, b);
    };
  }

  private directionsOf(f: Feature): Vec3[] {
    if (f.kind === 'edge') {
      const partner = this.partnerOf(f.half);
      return [f.half, partner].filter((h) => h >= 0).flatMap((h) => this.fanOf(h));
    }
    const out: Vec3[] = [];
    if (f.kind === 'face') return out;
    let half = f.half;
    do {
      const back = nextHalf(nextHalf(half));
      const [a, b] = [this.along(half), this.along(back)];
      out.push(a, unitOf(subtract(a, b)));
      half = this.partnerOf(back);
    } while (half >= 0 && half !== f.half);
    return out;
  }

  // From along an edge over its face to back along the edge.
  private fanOf(half: number): Vec3[] {
    const d = this.along(half);
    const across = cross(this.normalOf(Math.floor(half / 3)), d);
    return Array.from({ length: STEPS + 1 }, (_, k): Vec3 => {
      const [c, s] = [Math.cos((Math.PI * k) / STEPS), Math.sin((Math.PI * k) / STEPS)];
      return [c * d[0] + s * across[0], c * d[1] + s * across[1], c * d[2] + s * across[2]];
    });
  }
}

const signOf = (sine: number): number => (sine > IN_PLANE ? 1 : sine < -IN_PLANE ? -1 : 0);

// Of a needle of a triangle there is none: nothing lies on either side of it.
function unitOf(v: Vec3): Vec3 {
  const l = length(v);
  return l > 1e-12 ? scale(v, 1 / l) : [0, 0, 0];
}
