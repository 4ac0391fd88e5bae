// Shapes of the wild corpus, from the kernel's edges, wires and faces. Nothing here is shared with the first corpus.
import {
  assembleWire,
  basicFaceExtrusion,
  cast,
  type Edge,
  genericSweep,
  getOC,
  loft,
  makeBSplineApproximation,
  makeCylinder,
  makeFace,
  makeHelix,
  makeLine,
  makeThreePointArc,
  revolution,
  type Shape3D,
  Vector,
  type Wire,
} from 'replicad';

export type Point = [number, number, number];
export type Flat = [number, number];
/** From a plane's own (a, b) into space. */
export type Lift = (p: Flat) => Point;

export const ARC = Math.PI / 180;
export const onXZ =
  (y: number): Lift =>
  ([x, z]) => [x, y, z];
export const onXY =
  (z: number): Lift =>
  ([x, y]) => [x, y, z];
export const onYZ =
  (x: number): Lift =>
  ([y, z]) => [x, y, z];

/** A closed wire through corners; `round` is the radius at each corner, all alike or one by one. */
export function ring(corners: readonly Flat[], lift: Lift, round: number | readonly number[] = 0): Wire {
  const n = corners.length;
  const cut = corners.map((p, i) => {
    const r = typeof round === 'number' ? round : (round[i] ?? 0);
    const [a, b] = [corners[(i + n - 1) % n], corners[(i + 1) % n]];
    const u = unit2([a[0] - p[0], a[1] - p[1]]);
    const v = unit2([b[0] - p[0], b[1] - p[1]]);
    if (r <= 0) return { from: p, to: p, through: p, arc: false };
    const half = Math.acos(Math.max(-1, Math.min(1, u[0] * v[0] + u[1] * v[1]))) / 2;
    const t = r / Math.tan(half);
    const m = unit2([u[0] + v[0], u[1] + v[1]]);
    const centre: Flat = [p[0] + (m[0] * r) / Math.sin(half), p[1] + (m[1] * r) / Math.sin(half)];
    return {
      from: [p[0] + u[0] * t, p[1] + u[1] * t] as Flat,
      to: [p[0] + v[0] * t, p[1] + v[1] * t] as Flat,
      through: [centre[0] - m[0] * r, centre[1] - m[1] * r] as Flat,
      arc: true,
    };
  });
  const edges: Edge[] = [];
  cut.forEach((c, i) => {
    if (c.arc) edges.push(makeThreePointArc(lift(c.from), lift(c.through), lift(c.to)));
    const next = cut[(i + 1) % n];
    if (Math.hypot(next.from[0] - c.to[0], next.from[1] - c.to[1]) > 1e-7) edges.push(makeLine(lift(c.to), lift(next.from)));
  });
  return assembleWire(edges);
}
export const unit2 = (v: Flat): Flat => {
  const l = Math.hypot(v[0], v[1]) || 1;
  return [v[0] / l, v[1] / l];
};

/** A straight body over a wire, along a vector. */
export const along = (wire: Wire, by: Point): Shape3D => basicFaceExtrusion(makeFace(wire), new Vector(by));
/** A plate in (x, z) from y = top down. */
export const plateXZ = (corners: readonly Flat[], top: number, deep: number, round: number | readonly number[] = 0): Shape3D =>
  along(ring(corners, onXZ(top), round), [0, -deep, 0]);
/** A bar over an outline in (x, y) from z0 to z1. */
export const barXY = (corners: readonly Flat[], z0: number, z1: number, round: number | readonly number[] = 0): Shape3D =>
  along(ring(corners, onXY(z0), round), [0, 0, z1 - z0]);
export const box = (x: Flat, y: Flat, z: Flat): Shape3D =>
  barXY(
    [
      [x[0], y[0]],
      [x[1], y[0]],
      [x[1], y[1]],
      [x[0], y[1]],
    ],
    z[0],
    z[1],
  );

/** A body of revolution about Z from a half outline in (r, z), from the axis to the axis. */
export function lathe(outline: readonly Flat[], round: number | readonly number[] = 0): Shape3D {
  return revolution(makeFace(ring(outline, onXZ(0), round)), [0, 0, 0], [0, 0, 1], 360);
}
export const rod = (d: number, from: Point, way: Point, long: number): Shape3D => makeCylinder(d / 2, long, from, way);

/** A body through wires one above the other. */
export const through = (wires: Wire[], ruled = true): Shape3D => loft(wires, { ruled });

/** A groove that winds about Z: a round profile of radius `r` swept along a helix. */
export function helicalGroove(r: number, onRadius: number, lead: number, z0: number, z1: number, startDeg: number): Shape3D {
  const spine = makeHelix(lead, z1 - z0, onRadius, [0, 0, z0]);
  const slope = lead / (2 * Math.PI * onRadius);
  const u: Point = [1, 0, 0];
  const v: Point = [0, -slope / Math.hypot(1, slope), 1 / Math.hypot(1, slope)];
  const at = (deg: number): Point => {
    const [c, s] = [r * Math.cos(deg * ARC), r * Math.sin(deg * ARC)];
    return [onRadius + c * u[0] + s * v[0], c * u[1] + s * v[1], z0 + c * u[2] + s * v[2]];
  };
  const profile = assembleWire([makeThreePointArc(at(0), at(90), at(180)), makeThreePointArc(at(180), at(270), at(360))]);
  return genericSweep(profile, spine, { frenet: true }).rotate(startDeg, [0, 0, 0], [0, 0, 1]);
}

/** A closed spline wire through places by angle, in `parts` pieces. */
export function splineRing(at: (deg: number) => Point, parts: number, startDeg = 0): Wire {
  const step = 360 / parts;
  const many = Math.max(9, Math.round(120 / parts));
  return assembleWire(
    Array.from({ length: parts }, (_, k) =>
      makeBSplineApproximation(
        Array.from({ length: many + 1 }, (_, i) => at(startDeg + step * (k + i / many))),
        { tolerance: 5e-5, degMax: 6 },
      ),
    ),
  );
}

/** The same body with all faces cut along planes through a point, as systems do that know no closed faces. */
export function patched(shape: Shape3D, at: Point, normals: readonly Point[]): Shape3D {
  let parts = [shape];
  for (const n of normals) {
    const far = 600;
    const half = halfSpace(at, n, far);
    parts = parts.flatMap((p) => [p.clone().cut(half.clone()), p.clone().intersect(half.clone())]);
  }
  return parts.reduce(joined);
}
// The union with all its faces as they come: the library would join those that lie on one surface.
function joined(a: Shape3D, b: Shape3D): Shape3D {
  const oc = getOC();
  const fuse = new oc.BRepAlgoAPI_Fuse(a.wrapped, b.wrapped, new oc.Message_ProgressRange());
  return cast(fuse.Shape()) as Shape3D;
}
function halfSpace(at: Point, n: Point, far: number): Shape3D {
  const helper: Point = Math.abs(n[0]) > 0.9 ? [0, 1, 0] : [1, 0, 0];
  const u = unit3(cross3(n, helper));
  const v = cross3(n, u);
  const p = (a: number, b: number): Point => [at[0] + a * u[0] + b * v[0], at[1] + a * u[1] + b * v[1], at[2] + a * u[2] + b * v[2]];
  const wire = assembleWire([
    makeLine(p(-far, -far), p(far, -far)),
    makeLine(p(far, -far), p(far, far)),
    makeLine(p(far, far), p(-far, far)),
    makeLine(p(-far, far), p(-far, -far)),
  ]);
  return along(wire, [n[0] * far, n[1] * far, n[2] * far]);
}
const cross3 = (a: Point, b: Point): Point => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const unit3 = (v: Point): Point => {
  const l = Math.hypot(...v);
  return [v[0] / l, v[1] / l, v[2] / l];
};

/** A hexagon socket screw from its head's seat down along -way, its head standing out along `way`. */
export function capScrew(d: number, long: number, seat: Point, way: Point): Shape3D {
  const head = rod(1.5 * d, seat, way, d);
  const back: Point = [-way[0], -way[1], -way[2]];
  const shank = rod(d, seat, back, long);
  const socket = rod(0.8 * d, [seat[0] + way[0] * d * 0.5, seat[1] + way[1] * d * 0.5, seat[2] + way[2] * d * 0.5], way, d);
  return head.fuse(shank).cut(socket);
}
/** A set screw, its end at `tip`, standing back along `way`. */
export function setScrew(d: number, long: number, tip: Point, way: Point): Shape3D {
  const body = rod(d, tip, way, long);
  return body.cut(rod(0.5 * d, [tip[0] + way[0] * (long - d * 0.5), tip[1] + way[1] * (long - d * 0.5), tip[2] + way[2] * (long - d * 0.5)], way, d));
}
