import type { BRepAdaptor_Surface, OpenCascadeInstance, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs';
import { addScaled, distance, dot, mix, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { Curve, EdgeFacts, FaceFacts, Surface } from '#core/mesh';
import { listSubShapes, vecOfDir, vecOfPoint } from './gp.ts';
import { recognizeCurve, recognizeSurface } from './recognize-surface.ts';
import { type Own, withScope } from './scope.ts';

export interface BodyTopology {
  readonly faces: FaceFacts[];
  readonly edges: EdgeFacts[];
  readonly corners: Vec3[];
  readonly faceHashes: number[];
  readonly edgeHashes: number[];
}

/** The topology tables of one solid; polylines of edges by hash give the length of free curves. */
export function readTopology(oc: OpenCascadeInstance, solid: TopoDS_Shape, polylines: Map<number, Float64Array>): BodyTopology {
  return withScope((own) => {
    const edges: EdgeFacts[] = [];
    const edgeIndex = new Map<number, number>();
    const corners = new Map<string, Vec3>();
    const faceHashes: number[] = [];
    const edgeFaces: number[][] = [];
    const faces = listSubShapes(oc, own, solid, 'TopAbs_FACE').map(({ shape, hash }, faceAt): FaceFacts => {
      faceHashes.push(hash);
      const face = own(oc.TopoDS.Face(shape));
      const mine: number[] = [];
      for (const edge of listSubShapes(oc, own, face, 'TopAbs_EDGE')) {
        let index = edgeIndex.get(edge.hash);
        if (index === undefined) {
          const facts = withScope((inner) => readEdge(oc, inner, edge.shape, polylines.get(edge.hash)));
          if (!facts) continue;
          index = edges.length;
          edgeIndex.set(edge.hash, index);
          edgeFaces.push([]);
          edges.push({ ...facts, faces: edgeFaces[index] });
          for (const p of [facts.start, facts.end]) corners.set(p.map((v) => v.toFixed(5)).join(), p);
        }
        if (!edgeFaces[index].includes(faceAt)) edgeFaces[index].push(faceAt);
        mine.push(index);
      }
      return { surface: withScope((inner) => surfaceOf(oc, inner, face)), edges: mine };
    });
    return { faces, edges, corners: [...corners.values()], faceHashes, edgeHashes: [...edgeIndex.keys()] };
  });
}

function readEdge(oc: OpenCascadeInstance, own: Own, shape: TopoDS_Shape, polyline: Float64Array | undefined): Omit<EdgeFacts, 'faces'> | undefined {
  const edge = own(oc.TopoDS.Edge(shape));
  if (oc.BRep_Tool.Degenerated(edge)) return undefined;
  const adaptor = own(new oc.BRepAdaptor_Curve(edge));
  const [first, last] = [adaptor.FirstParameter(), adaptor.LastParameter()];
  const at = (t: number) => vecOfPoint(adaptor.Value(t));
  const [start, end] = [at(first), at(last)];
  const kind = adaptor.GetType() as unknown as string;
  let curve: Curve;
  if (kind === 'GeomAbs_Line') curve = { kind: 'line', length: distance(start, end) };
  else if (kind === 'GeomAbs_Circle') {
    const circle = own(adaptor.Circle());
    const axis = own(circle.Axis());
    curve = {
      kind: 'circle',
      centre: vecOfPoint(circle.Location()),
      axis: vecOfDir(axis.Direction()),
      radius: circle.Radius(),
      sweepRad: Math.abs(last - first),
      middle: at((first + last) / 2),
    };
  } else
    curve = recognizeCurve((share) => at(first + share * (last - first))) ?? {
      kind: 'free',
      length: polyline ? polylineLength(polyline) : distance(start, end),
    };
  return { curve, start, end };
}

function polylineLength(points: Float64Array): number {
  let sum = 0;
  for (let i = 3; i < points.length; i += 3) sum += Math.hypot(points[i] - points[i - 3], points[i + 1] - points[i - 2], points[i + 2] - points[i - 1]);
  return sum;
}

/** As it is written, or as what it is. */
export function surfaceOf(oc: OpenCascadeInstance, own: Own, face: TopoDS_Face): Surface {
  const written = readSurface(oc, own, face);
  if (written.kind !== 'free') return written;
  const adaptor = own(new oc.BRepAdaptor_Surface(face, true));
  return recognizeSurface(adaptor, (face.Orientation() as unknown as string) === 'TopAbs_REVERSED') ?? written;
}

/** What a face is, as it is written. Concavity follows from the face's orientation against the surface's own outward side. */
export function readSurface(oc: OpenCascadeInstance, own: Own, face: TopoDS_Face): Surface {
  const adaptor = own(new oc.BRepAdaptor_Surface(face, true));
  const reversed = (face.Orientation() as unknown as string) === 'TopAbs_REVERSED';
  const [v0, v1] = [adaptor.FirstVParameter(), adaptor.LastVParameter()];
  switch (adaptor.GetType() as unknown as string) {
    case 'GeomAbs_Plane': {
      const plane = own(adaptor.Plane());
      const axis = own(plane.Axis());
      const normal = scale(vecOfDir(axis.Direction()), reversed !== !plane.Direct() ? -1 : 1);
      return { kind: 'plane', origin: vecOfPoint(plane.Location()), normal };
    }
    case 'GeomAbs_Cylinder': {
      const cylinder = own(adaptor.Cylinder());
      const line = own(cylinder.Axis());
      const axis = vecOfDir(line.Direction());
      const origin = addScaled(vecOfPoint(cylinder.Location()), axis, v0);
      return { kind: 'cylinder', origin, axis, radius: cylinder.Radius(), length: v1 - v0, concave: reversed !== !cylinder.Direct() };
    }
    case 'GeomAbs_Cone':
      return readCone(adaptor, reversed, v0, v1);
    case 'GeomAbs_Sphere': {
      const sphere = own(adaptor.Sphere());
      return { kind: 'sphere', centre: vecOfPoint(sphere.Location()), radius: sphere.Radius(), concave: reversed !== !sphere.Direct() };
    }
    case 'GeomAbs_Torus':
      return readTorus(adaptor, reversed);
    default:
      return { kind: 'free' };
  }
}

// Cone and torus are not bound as such; both are fixed by a few evaluated points.
const pointAt = (s: BRepAdaptor_Surface, u: number, v: number): Vec3 => vecOfPoint(s.Value(u, v));

function readCone(s: BRepAdaptor_Surface, reversed: boolean, v0: number, v1: number): Surface {
  const circleAt = (v: number) => {
    const [a, b] = [pointAt(s, 0, v), pointAt(s, Math.PI, v)];
    return { centre: mix(a, b, 0.5), radius: distance(a, b) / 2, across: subtract(a, b) };
  };
  const [c0, c1] = [circleAt(v0), circleAt(v1)];
  const [large, small] = c0.radius >= c1.radius ? [c0, c1] : [c1, c0];
  const span = distance(c0.centre, c1.centre);
  if (span < 1e-9) return { kind: 'free' };
  // A face that reaches over the apex has its circles on opposite sides.
  const smallRadius = dot(c0.across, c1.across) >= 0 ? small.radius : -small.radius;
  const axis = normalize(subtract(small.centre, large.centre));
  return {
    kind: 'cone',
    origin: large.centre,
    axis,
    halfAngleRad: Math.atan2(large.radius - smallRadius, span),
    radiusLarge: large.radius,
    radiusSmall: Math.max(0, smallRadius),
    length: span,
    concave: facesInward(s, reversed, (p) => subtract(p, addScaled(large.centre, axis, dot(subtract(p, large.centre), axis)))),
  };
}

function readTorus(s: BRepAdaptor_Surface, reversed: boolean): Surface {
  const [a, b] = [pointAt(s, 0, 0), pointAt(s, Math.PI, 0)];
  const centre = mix(a, b, 0.5);
  const outer = distance(a, b) / 2;
  const x = normalize(subtract(a, b));
  const inner = dot(subtract(pointAt(s, 0, Math.PI), centre), x);
  const [majorRadius, minorRadius] = [(outer + inner) / 2, (outer - inner) / 2];
  const top = pointAt(s, 0, Math.PI / 2);
  const axis = normalize(subtract(top, addScaled(centre, x, majorRadius)));
  const ring = (p: Vec3): Vec3 => {
    const across = subtract(subtract(p, centre), scale(axis, dot(subtract(p, centre), axis)));
    return subtract(p, addScaled(centre, normalize(across), majorRadius));
  };
  return { kind: 'torus', centre, axis, majorRadius, minorRadius, concave: facesInward(s, reversed, ring) };
}

// Compares the face's normal (from two small steps) with the direction away from the surface's middle.
function facesInward(s: BRepAdaptor_Surface, reversed: boolean, outwardAt: (p: Vec3) => Vec3): boolean {
  const [u, v] = [(s.FirstUParameter() + s.LastUParameter()) / 2, (s.FirstVParameter() + s.LastVParameter()) / 2];
  const h = 1e-5 * Math.max(1e-3, s.LastVParameter() - s.FirstVParameter());
  const p = pointAt(s, u, v);
  const du = subtract(pointAt(s, u + 1e-5, v), p);
  const dv = subtract(pointAt(s, u, v + h), p);
  const normal: Vec3 = [du[1] * dv[2] - du[2] * dv[1], du[2] * dv[0] - du[0] * dv[2], du[0] * dv[1] - du[1] * dv[0]];
  return dot(normal, outwardAt(p)) < 0 !== reversed;
}
