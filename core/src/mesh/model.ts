import type { Bounds, Frame, Vec3 } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';

/** What a face is, with its numbers in mm and radians; `concave` means material outside (a bore). */
export type Surface =
  | { readonly kind: 'plane'; readonly origin: Vec3; readonly normal: Vec3 }
  | { readonly kind: 'cylinder'; readonly origin: Vec3; readonly axis: Vec3; readonly radius: number; readonly length: number; readonly concave: boolean }
  | {
      readonly kind: 'cone';
      /** The point of the axis where the face has its larger radius. */
      readonly origin: Vec3;
      /** From the larger radius towards the smaller. */
      readonly axis: Vec3;
      readonly halfAngleRad: number;
      readonly radiusLarge: number;
      readonly radiusSmall: number;
      readonly length: number;
      readonly concave: boolean;
    }
  | { readonly kind: 'sphere'; readonly centre: Vec3; readonly radius: number; readonly concave: boolean }
  | {
      readonly kind: 'torus';
      readonly centre: Vec3;
      readonly axis: Vec3;
      readonly majorRadius: number;
      readonly minorRadius: number;
      readonly concave: boolean;
    }
  | { readonly kind: 'free' };

export interface FaceFacts {
  readonly surface: Surface;
  /** mm. How far the mesh's corners are from the surface at most, where it was fitted to a mesh; absent for a B-rep. */
  readonly fit?: number;
  /** Indices into the body's edges. */
  readonly edges: readonly number[];
}

/** What an edge is; `sweepRad` is 2 pi for a full circle. */
export type Curve =
  | { readonly kind: 'line'; readonly length: number }
  | { readonly kind: 'circle'; readonly centre: Vec3; readonly axis: Vec3; readonly radius: number; readonly sweepRad: number; readonly middle: Vec3 }
  | { readonly kind: 'free'; readonly length: number };

export interface EdgeFacts {
  readonly curve: Curve;
  readonly start: Vec3;
  readonly end: Vec3;
  /** Indices into the body's faces; one only for an open border or a seam. */
  readonly faces: readonly number[];
}

/** One solid of a model with its topology tables. All coordinates in the file's frame, in mm. */
export interface BodyGeometry {
  /** 'b1', 'b2', ... in the order of the file; the same in every command. */
  readonly id: string;
  readonly name: string;
  readonly colour?: string;
  readonly volume: number;
  readonly area: number;
  readonly bbox: Bounds;
  readonly centroid: Vec3;
  readonly closed: boolean;
  readonly valid: boolean;
  readonly faces: readonly FaceFacts[];
  readonly edges: readonly EdgeFacts[];
  /** Corner points, packed. */
  readonly corners: Float64Array;
  readonly mesh: TriMesh;
  /** First triangle of each face, and the triangle count at the end: triangles of face f are [start[f], start[f + 1]). */
  readonly faceStart: Uint32Array;
  /** Points of the edges' polylines, packed, and the first point of each edge, as for faces. */
  readonly edgePoints: Float64Array;
  readonly edgeStart: Uint32Array;
}

/** A coordinate system that the file has by name, in mm: PCS, MCS, CSW1, CRP, CIP (ISO/TS 13399-80). */
export interface NamedPlacement {
  readonly name: string;
  readonly frame: Frame;
}

export const MODEL_FORMATS = ['step', 'stl', 'obj', '3mf', 'glb', 'outline'] as const;
export type ModelFormat = (typeof MODEL_FORMATS)[number];

/** A tessellated model with its unit. */
export interface Model {
  readonly format: ModelFormat;
  readonly unit: string;
  /** mm per unit of the file. */
  readonly unitScale: number;
  readonly chordTolerance: number;
  readonly bodies: readonly BodyGeometry[];
  readonly placements?: readonly NamedPlacement[];
}

/** The face that a triangle belongs to (binary search in the face table). */
export function faceOfTriangle({ faceStart }: Pick<BodyGeometry, 'faceStart'>, triangle: number): number {
  let [low, high] = [0, faceStart.length - 1];
  while (low + 1 < high) {
    const mid = (low + high) >> 1;
    if (faceStart[mid] <= triangle) low = mid;
    else high = mid;
  }
  // Faces without triangles share their start with the next one; the search lands on the last of them.
  return low;
}

export const cornerOf = (body: BodyGeometry, index: number): Vec3 => [body.corners[3 * index], body.corners[3 * index + 1], body.corners[3 * index + 2]];

/** The polyline of one edge, packed; a view, not a copy. */
export const edgePolyline = (body: BodyGeometry, index: number): Float64Array =>
  body.edgePoints.subarray(3 * body.edgeStart[index], 3 * body.edgeStart[index + 1]);
