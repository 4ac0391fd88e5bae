import type { Vec3 } from '#core/math';
import { nextHalf, pairHalfEdges, type Solids } from '#core/mesh';
import type { Reach } from './reach.ts';

// Corners of a piece, and pieces that wait, at most; and how many are looked at before it is given up.
const MOST_CORNERS = 40;
const MOST_WAITING = 96;
const MOST_LOOKED_AT = 2000;
const PIECE = 3 * MOST_CORNERS;
// mm. A corner that is nearer than this to a plane is on it.
const ON_PLANE = 1e-10;
// In limits: size of a piece that is not cut further, and of one that is hidden where all around it is.
const SMALLEST = 0.25;
const CRACK = 2;

/**
 * How far a triangle stands from a mesh at most, without any doubt: it is cut into pieces, each of which belongs to one triangle of the mesh, to one of its
 * sides or to one of its corners. The distance from such a thing, which is convex, is greatest at the corners of a piece. Pieces that lie in other solids
 * wholly may be where they like.
 */
export class CoverBound {
  private readonly reach: Reach;
  private readonly waiting = new Float64Array(PIECE * MOST_WAITING);
  private readonly counts = new Int32Array(MOST_WAITING);
  /** Of each piece that waits the triangle of the mesh that it may be over: that beyond the side that it was cut by; -1 where none is known. */
  private readonly hints = new Int32Array(MOST_WAITING);
  private hint = -1;
  private top = 0;
  /** The piece that is looked at, and its centre. */
  private readonly piece = new Float64Array(PIECE);
  private count = 0;
  /** How far its corners are from that, mm. */
  private size = 0;
  private readonly centre = new Float64Array(3);
  private readonly furthest = new Float64Array(3);
  private readonly kept = new Float64Array(PIECE);
  private greatestSq = 0;
  private readonly partner: Int32Array;

  constructor(reach: Reach) {
    this.reach = reach;
    this.partner = pairHalfEdges(reach.tree.mesh);
  }

  /** mm; no more than `limit`, or Infinity: it is further away, or cannot be told to be near. */
  of(a: Vec3, b: Vec3, c: Vec3, limit: number): number {
    const { waiting } = this;
    for (let k = 0; k < 3; k++) {
      waiting[k] = a[k];
      waiting[3 + k] = b[k];
      waiting[6 + k] = c[k];
    }
    this.counts[0] = 3;
    this.hints[0] = -1;
    this.top = 1;
    this.greatestSq = 0;
    for (let looked = 0; this.top > 0; looked++) {
      if (looked === MOST_LOOKED_AT) return Infinity;
      this.take();
      if (!this.look(limit)) return Infinity;
    }
    return Math.sqrt(this.greatestSq);
  }

  private take(): void {
    const at = PIECE * --this.top;
    this.count = this.counts[this.top];
    this.hint = this.hints[this.top];
    const { piece, waiting, count } = this;
    for (let i = 0; i < 3 * count; i++) piece[i] = waiting[at + i];
    this.size = this.findCentre();
  }

  // The mean of the piece's corners, and the one furthest from it; how far that is.
  private findCentre(): number {
    const { piece, count, centre, furthest } = this;
    let x = 0;
    let y = 0;
    let z = 0;
    for (let i = 0; i < 3 * count; i += 3) {
      x += piece[i];
      y += piece[i + 1];
      z += piece[i + 2];
    }
    x /= count;
    y /= count;
    z /= count;
    let most = -1;
    for (let i = 0; i < 3 * count; i += 3) {
      const dx = piece[i] - x;
      const dy = piece[i + 1] - y;
      const dz = piece[i + 2] - z;
      const d = dx * dx + dy * dy + dz * dz;
      if (d <= most) continue;
      most = d;
      furthest[0] = piece[i];
      furthest[1] = piece[i + 1];
      furthest[2] = piece[i + 2];
    }
    centre[0] = x;
    centre[1] = y;
    centre[2] = z;
    return Math.sqrt(most);
  }

  // Tells of a piece that it is near, or cuts it into pieces that are told next; false where it is not near.
  private look(limit: number): boolean {
    const { centre, reach } = this;
    const { tree } = reach;
    // Four of five that were cut off beside a triangle are over its neighbour: that need not be looked for.
    const isOverHint = this.hint >= 0 && tree.nearestOf(this.hint, centre[0], centre[1], centre[2], limit);
    const isNear = isOverHint || tree.nearest(centre[0], centre[1], centre[2], limit);
    if (isNear && this.isNearLast(limit)) return true;
    const { others } = reach;
    // Most of what is hidden is so before it is cut.
    if (others && this.isHidden(others, limit)) return true;
    const isCut = isNear && this.cutAround() > 0;
    if (isCut && this.isNearLast(limit)) return true;
    if (isCut) this.size = this.findCentre();
    if (!others) return isNear && this.halve();
    if (isCut && this.isHidden(others, limit)) return true;
    const { size } = this;
    if (size <= CRACK * limit && reach.isHiddenAround(centre[0], centre[1], centre[2], 2 * size)) {
      this.greatestSq = Math.max(this.greatestSq, limit * limit);
      return true;
    }
    // Its centre is near, or hidden, or it is too far.
    if (size <= SMALLEST * limit || !(isNear || others.isDeeper(centre[0], centre[1], centre[2], 0))) return false;
    return this.cutBySlice(others) || this.halve();
  }

  // Whether the piece is in other solids wholly: there it may stand out by all that is allowed.
  private isHidden(others: Solids, limit: number): boolean {
    const { reach, piece, count, centre, size } = this;
    if (!reach.isPieceHidden(others, piece, count, centre[0], centre[1], centre[2], size)) return false;
    this.greatestSq = Math.max(this.greatestSq, limit * limit);
    return true;
  }

  // By the surface of the solid that its middle is in: where two solids touch, each has one of the halves.
  private cutBySlice({ isSliced, slice: s }: Solids): boolean {
    return isSliced && this.cut(s[0], s[1], s[2], s[3], s[4], s[5]) > 0 && this.putBack();
  }

  // Cuts off what belongs to others than the triangle, side or corner of the mesh that is nearest to the piece's centre. How many cuts there were.
  private cutAround(): number {
    const { tree } = this.reach;
    const f = 3 * tree.triangle;
    const [w0, w1, w2] = tree.weights;
    const beside = (w0 > 0 ? 0 : 1) + (w1 > 0 ? 0 : 2) + (w2 > 0 ? 0 : 4);
    if (beside === 0) return this.cutOver(f);
    return beside === 1 ? this.cutAlong(f + 1) : beside === 2 ? this.cutAlong(f + 2) : beside === 4 ? this.cutAlong(f) : this.cutAt(f, beside);
  }

  // Whether all corners of the piece are near the triangle of the mesh that was found last.
  private isNearLast(limit: number): boolean {
    const { piece, count } = this;
    const { tree } = this.reach;
    const limitSq = limit * limit;
    let most = this.greatestSq;
    for (let i = 0; i < 3 * count; i += 3) {
      const d = tree.fromLastSq(piece[i], piece[i + 1], piece[i + 2]);
      if (d > limitSq) return false;
      if (d > most) most = d;
    }
    this.greatestSq = most;
    return true;
  }

  // What is beyond the three sides of a triangle goes apart. How many cuts there were.
  private cutOver(f: number): number {
    return this.cutBeside(f, 1) + this.cutBeside(f + 1, 1) + this.cutBeside(f + 2, 1);
  }

  // What is beyond the two ends of a side goes apart, and what is over the triangles on both sides of it.
  private cutAlong(h: number): number {
    const other = this.partner[h];
    return this.cutBeyond(h, nextHalf(h), 1) + this.cutBeyond(nextHalf(h), h, 1) + this.cutBeside(h, -1) + (other >= 0 ? this.cutBeside(other, -1) : 0);
  }

  // What is along the triangle's sides that meet in the corner goes apart; which corner that is is told by the weights of the others, which are none.
  private cutAt(f: number, beside: number): number {
    const own = beside === 6 ? f : beside === 5 ? f + 1 : f + 2;
    const [one, two] = [nextHalf(own), nextHalf(nextHalf(own))];
    return this.cutBeyond(one, own, -1) + this.cutBeyond(two, own, -1);
  }

  // By the plane square to a triangle through one of its sides, told by its half-edge: what is beyond it goes apart, or (-1) what is on the triangle's side.
  private cutBeside(h: number, sense: 1 | -1): number {
    const { triangles: t, positions: p } = this.reach.tree.mesh;
    const next = nextHalf(h);
    const a = 3 * t[h];
    const b = 3 * t[next];
    const c = 3 * t[nextHalf(next)];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    // From the third corner square onto the side, outwards.
    const share = (ux * vx + uy * vy + uz * vz) / (ux * ux + uy * uy + uz * uz);
    const beyond = sense === 1 ? this.partner[h] : h;
    const hint = beyond < 0 ? -1 : Math.floor(beyond / 3);
    return this.cut(sense * (share * ux - vx), sense * (share * uy - vy), sense * (share * uz - vz), p[a], p[a + 1], p[a + 2], hint);
  }

  // By the plane square to a side through its end, both told by half-edges that begin there: what is beyond the end goes apart, or (-1) what is before it.
  private cutBeyond(from: number, end: number, sense: 1 | -1): number {
    const { triangles: t, positions: p } = this.reach.tree.mesh;
    const a = 3 * t[from];
    const b = 3 * t[end];
    return this.cut(sense * (p[b] - p[a]), sense * (p[b + 1] - p[a + 1]), sense * (p[b + 2] - p[a + 2]), p[b], p[b + 1], p[b + 2]);
  }

  // Across the way to its furthest corner; both halves wait. False where it is cut no further.
  private halve(): boolean {
    const { centre, furthest } = this;
    const isCut = this.cut(furthest[0] - centre[0], furthest[1] - centre[1], furthest[2] - centre[2], centre[0], centre[1], centre[2]) > 0;
    return isCut && this.putBack();
  }

  // The piece waits too.
  private putBack(): boolean {
    if (this.top >= MOST_WAITING) return false;
    const at = PIECE * this.top;
    for (let i = 0; i < 3 * this.count; i++) this.waiting[at + i] = this.piece[i];
    this.hints[this.top] = -1;
    this.counts[this.top++] = this.count;
    return true;
  }

  // Cuts the piece by the plane through a point with a normal of any length: what is beyond it waits, with the triangle that it may be over; the rest stays. 1 where both have something.
  private cut(nx: number, ny: number, nz: number, ox: number, oy: number, oz: number, hint = -1): number {
    const { piece, count, kept, waiting } = this;
    const long = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (!(long > 0) || this.top >= MOST_WAITING || count >= MOST_CORNERS - 2) return 0;
    const slack = ON_PLANE * long;
    const offset = nx * ox + ny * oy + nz * oz;
    let beyond = 0;
    let within = 0;
    for (let i = 0; i < 3 * count; i += 3) {
      const s = nx * piece[i] + ny * piece[i + 1] + nz * piece[i + 2] - offset;
      if (s > slack) beyond++;
      else if (s < -slack) within++;
    }
    if (beyond === 0 || within === 0) return 0;
    const out = PIECE * this.top;
    let outCount = 0;
    let inCount = 0;
    for (let i = 0; i < count; i++) {
      const v = 3 * i;
      const w = i + 1 < count ? v + 3 : 0;
      const s = nx * piece[v] + ny * piece[v + 1] + nz * piece[v + 2] - offset;
      const r = nx * piece[w] + ny * piece[w + 1] + nz * piece[w + 2] - offset;
      if (s <= slack) {
        for (let k = 0; k < 3; k++) kept[3 * inCount + k] = piece[v + k];
        inCount++;
      }
      if (s >= -slack) {
        for (let k = 0; k < 3; k++) waiting[out + 3 * outCount + k] = piece[v + k];
        outCount++;
      }
      if ((s > slack && r < -slack) || (s < -slack && r > slack)) {
        const share = s / (s - r);
        for (let k = 0; k < 3; k++) {
          const x = piece[v + k] + share * (piece[w + k] - piece[v + k]);
          kept[3 * inCount + k] = x;
          waiting[out + 3 * outCount + k] = x;
        }
        inCount++;
        outCount++;
      }
    }
    this.hints[this.top] = hint;
    this.counts[this.top++] = outCount;
    for (let i = 0; i < 3 * inCount; i++) piece[i] = kept[i];
    this.count = inCount;
    return 1;
  }
}
