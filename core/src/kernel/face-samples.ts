import type { OpenCascadeInstance } from 'replicad-opencascadejs';
import { distanceFrom, PLANE_SIZE, planeOfTriangle, type TriMesh, type Unfitted } from '#core/mesh';
import { coordinatesAt } from './face-poles.ts';
import type { FaceMesh } from './refine-face.ts';
import { type PutPoint, putCurvePoints } from './surface-points.ts';

// Where on each triangle the true face is looked up, as weights of its corners: the middles of the sides and the
// centre, where a tessellation loses most, and two uneven points that no builder uses.
const WEIGHTS = [
  [0.5, 0.5, 0],
  [0, 0.5, 0.5],
  [0.5, 0, 0.5],
  [1 / 3, 1 / 3, 1 / 3],
  [0.62, 0.27, 0.11],
  [0.17, 0.31, 0.52],
] as const;
const PER_TRIANGLE = WEIGHTS.length;
// Of `skin` what edges take at most.
const POINTS_AN_EDGE = 25; // odd against the usual powers of two of a tessellation
// The plane of the triangle that was looked at last.
const PLANE = new Float64Array(PLANE_SIZE);

/** Places of a body's true faces and edges as they are gathered, face after face; see `SampledBody`. */
export class FaceSamples {
  private points: Float64Array;
  private pointTriangle: Uint32Array;
  private skin: Float64Array;
  private count = 0;
  private faceFrom = 0;
  /** How long `skin` is. */
  skinLength = 0;

  /** `triangles`: how many there is room for at first. */
  constructor(triangles: number) {
    this.points = new Float64Array(3 * PER_TRIANGLE * triangles);
    this.pointTriangle = new Uint32Array(PER_TRIANGLE * triangles);
    this.skin = new Float64Array(3 * PER_TRIANGLE * triangles + 1024);
  }

  /** The places of a face, whose first triangle is the body's triangle `from`; `partner` tells its borders. Where one of its triangles is off its surface by more than `most` mm it is left out, and false. */
  addFace({ positions, uv, poles, triangles }: FaceMesh, put: PutPoint, from: number, partner: Int32Array, most = Infinity): boolean {
    const { count, skinLength } = this;
    this.faceFrom = count;
    this.makeRoom(triangles.length / 3);
    for (let t = 0; 3 * t < triangles.length; t++) {
      const [a, b, c] = [0, 1, 2].map((k) => 2 * triangles[3 * t + k]);
      const us = coordinatesAt(uv, poles, a, b, c, 0);
      const vs = coordinatesAt(uv, poles, a, b, c, 1);
      // Which of its sides are used by no other triangle of the face, as bits.
      const border = (partner[3 * t] < 0 ? 1 : 0) | (partner[3 * t + 1] < 0 ? 2 : 0) | (partner[3 * t + 2] < 0 ? 4 : 0);
      this.addTriangle(from + t, border, us, vs, put);
      if (most === Infinity) continue;
      planeOfTriangle(positions, triangles, t, PLANE);
      if (this.lastTriangleIsWithin(most, border)) continue;
      this.count = count;
      this.skinLength = skinLength;
      return false;
    }
    return true;
  }

  /** Points along an edge; they lie on the skin. */
  addEdge(curve: InstanceType<OpenCascadeInstance['BRepAdaptor_Curve']>): void {
    const steps = (curve.GetType() as unknown as string) === 'GeomAbs_Line' ? 1 : POINTS_AN_EDGE;
    const length = this.skinLength + 3 * (steps + 1);
    this.makeSkin(length);
    putCurvePoints(curve, steps, this.skin, this.skinLength);
    this.skinLength = length;
  }

  /** Whether all places of the face that came last lie within `most` mm of a surface. */
  lastFaceLiesOn(surface: Unfitted, most: number): boolean {
    for (let i = 3 * this.faceFrom; i < 3 * this.count; i += 3)
      if (Math.abs(distanceFrom(surface, this.points[i], this.points[i + 1], this.points[i + 2])) > most) return false;
    return true;
  }

  packed(): { readonly points: Float64Array; readonly pointTriangle: Uint32Array; readonly skin: Float64Array } {
    return {
      points: this.points.slice(0, 3 * this.count),
      pointTriangle: this.pointTriangle.slice(0, this.count),
      skin: this.skin.slice(0, this.skinLength),
    };
  }

  // Of a triangle at its face's border (a bit a side) only the middles of its inner sides are surely on the face.
  private addTriangle(
    triangle: number,
    border: number,
    [ua, ub, uc]: readonly [number, number, number],
    [va, vb, vc]: readonly [number, number, number],
    put: PutPoint,
  ): void {
    for (let w = 0; w < PER_TRIANGLE; w++) {
      const [wa, wb, wc] = WEIGHTS[w];
      const at = 3 * this.count;
      put(wa * ua + wb * ub + wc * uc, wa * va + wb * vb + wc * vc, this.points, at);
      this.pointTriangle[this.count++] = triangle;
      if (border !== 0 && (w > 2 || (border & (1 << w)) !== 0)) continue;
      for (let k = 0; k < 3; k++) this.skin[this.skinLength + k] = this.points[at + k];
      this.skinLength += 3;
    }
  }

  // From PLANE; without its places on the face's border, which may be off the face.
  private lastTriangleIsWithin(most: number, border: number): boolean {
    const { points } = this;
    for (let w = 0; w < PER_TRIANGLE; w++) {
      if (w < 3 && (border & (1 << w)) !== 0) continue;
      const i = 3 * (this.count - PER_TRIANGLE + w);
      if (Math.abs(PLANE[0] * points[i] + PLANE[1] * points[i + 1] + PLANE[2] * points[i + 2] - PLANE[3]) > most) return false;
    }
    return true;
  }

  private makeRoom(triangles: number): void {
    const needed = this.count + PER_TRIANGLE * triangles;
    this.makeSkin(this.skinLength + 3 * PER_TRIANGLE * triangles);
    if (needed <= this.pointTriangle.length) return;
    const [points, pointTriangle] = [new Float64Array(6 * needed), new Uint32Array(2 * needed)];
    points.set(this.points);
    pointTriangle.set(this.pointTriangle);
    [this.points, this.pointTriangle] = [points, pointTriangle];
  }

  private makeSkin(length: number): void {
    if (length <= this.skin.length) return;
    const grown = new Float64Array(2 * length);
    grown.set(this.skin);
    this.skin = grown;
  }
}

/** Between triangles and the true faces over them: a third of a triangle's area times the heights over the middles of its sides, exact for parabolas. */
export function volumeOver({ positions: p, triangles: t }: TriMesh, points: Float64Array, pointTriangle: Uint32Array): number {
  let sum = 0;
  for (let i = 0; i < pointTriangle.length; i += PER_TRIANGLE) {
    const f = 3 * pointTriangle[i];
    const [a, b, c] = [3 * t[f], 3 * t[f + 1], 3 * t[f + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (let w = 0; w < 3; w++) {
      const at = 3 * (i + w);
      sum += nx * (points[at] - p[a]) + ny * (points[at + 1] - p[a + 1]) + nz * (points[at + 2] - p[a + 2]);
    }
  }
  return sum / 6;
}
