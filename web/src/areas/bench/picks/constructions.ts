// Points, directions and noses that can be made of what was picked, each with a name. All in the model's coordinates.
import {
  addScaled,
  angleBetweenRad,
  cross,
  distance,
  dot,
  type Frame,
  fromZAndX,
  frameFromWorld,
  length,
  mix,
  move,
  normalize,
  scale,
  subtract,
  type Vec3,
  worldFromFrame,
} from '#core/math';
import { cornerOf, type Model } from '#core/mesh';
import type { PickRef } from '../../../scene/picks.ts';
import { axisOfPick, middleOf, noseFromPick, planeOfPick, pointOfPick } from './pick-frames.ts';

export interface NamedPoint {
  readonly name: string;
  readonly point: Vec3;
}
export interface NamedDirection {
  readonly name: string;
  readonly direction: Vec3;
  /** A point that its line goes through, for turning about it. */
  readonly through: Vec3;
}
export interface Nose {
  readonly name: string;
  readonly noseRadius: number;
  readonly noseCentre: Vec3;
  readonly outward: Vec3;
  /** Normal of its plane. */
  readonly axis?: Vec3;
}

const bodyOf = (model: Model, pick: PickRef) => model.bodies.find((b) => b.id === pick.body);

// What a single pick is called as a point.
const POINT_NAMES: Record<string, string> = { corner: 'corner', line: 'middle of the edge', circle: 'centre of the circle', free: 'middle of the edge' };

/** Every point that the picks make; `axes` are those that a face's bounding box is taken in. */
export function pointsFrom(model: Model, picks: readonly PickRef[], axes: Frame): NamedPoint[] {
  const out: NamedPoint[] = [];
  const last = picks.at(-1);
  if (!last) return out;
  out.push(...pointsOfOne(model, last, axes));
  const points = picks.map((p) => pointOfPick(model, p)).filter((p) => p !== undefined);
  const lines = picks.map((p) => axisOfPick(model, p)).filter((l) => l !== undefined);
  const planes = picks.map((p) => planeOfPick(model, p)).filter((p) => p !== undefined);
  if (picks.length === 2 && points.length === 2) out.unshift({ name: 'middle of the two', point: mix(points[0], points[1], 0.5) });
  if (picks.length === 2 && lines.length === 2) {
    const met = crossingOf(lines[0], lines[1]);
    if (met)
      out.unshift({ name: met.gap < 0.01 ? 'crossing of the two lines' : `nearest point of the two lines (${met.gap.toFixed(2)} apart)`, point: met.point });
    else out.unshift({ name: 'middle line of the two', point: middleOfParallels(lines[0], lines[1]) });
  }
  if (lines.length >= 1 && planes.length >= 1) {
    const plane = planes.find((p) => Math.abs(dot(p.normal, lines[0].direction)) > 1e-3);
    if (plane && picks.length >= 2) {
      const t = dot(subtract(plane.origin, lines[0].origin), plane.normal) / dot(lines[0].direction, plane.normal);
      out.unshift({ name: 'where the line meets the plane', point: addScaled(lines[0].origin, lines[0].direction, t) });
    }
  }
  if (picks.length === 3 && planes.length === 3) {
    const [a, b, c] = planes;
    const det = dot(a.normal, cross(b.normal, c.normal));
    if (Math.abs(det) > 1e-6) {
      const [da, db, dc] = planes.map((p) => dot(p.origin, p.normal));
      const sum = addScaled(addScaled(scale(cross(b.normal, c.normal), da), cross(c.normal, a.normal), db), cross(a.normal, b.normal), dc);
      out.unshift({ name: 'where the three planes meet', point: scale(sum, 1 / det) });
    }
  }
  const three = threePoints(model, picks);
  const circle = three && circleThrough(three);
  if (circle) out.unshift({ name: `centre of the circle through three points, radius ${circle.radius.toFixed(3)}`, point: circle.centre });
  return out;
}

function pointsOfOne(model: Model, pick: PickRef, axes: Frame): NamedPoint[] {
  const body = bodyOf(model, pick);
  if (!body) return [];
  const own = pointOfPick(model, pick);
  if (pick.kind === 'corner') return [{ name: 'corner', point: cornerOf(body, pick.index) }];
  if (pick.kind === 'edge') {
    const { curve, start, end } = body.edges[pick.index];
    const ends =
      distance(start, end) > 1e-6
        ? [
            { name: 'start of the edge', point: start },
            { name: 'end of the edge', point: end },
          ]
        : [];
    return [...(own ? [{ name: POINT_NAMES[curve.kind], point: own }] : []), ...ends];
  }
  const { surface: s } = body.faces[pick.index];
  const out: NamedPoint[] = own
    ? [{ name: s.kind === 'plane' ? 'middle of the face' : s.kind === 'cylinder' || s.kind === 'cone' ? 'axis, where the face begins' : 'centre', point: own }]
    : [];
  if (s.kind === 'cylinder' || s.kind === 'cone') out.push({ name: 'axis, where the face ends', point: addScaled(s.origin, s.axis, s.length) });
  return [...out, ...boxCorners(model, pick, axes)];
}

// Corners of the box around a face in a frame: the touch-off corner of a tilted insert is one of them.
function boxCorners(model: Model, pick: PickRef, axes: Frame): NamedPoint[] {
  const body = bodyOf(model, pick);
  if (!body) return [];
  const inAxes = frameFromWorld(axes);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 3 * body.faceStart[pick.index]; i < 3 * body.faceStart[pick.index + 1]; i++) {
    const k = 3 * body.mesh.triangles[i];
    move(inAxes, [body.mesh.positions[k], body.mesh.positions[k + 1], body.mesh.positions[k + 2]]).forEach((v, a) => {
      low[a] = Math.min(low[a], v);
      high[a] = Math.max(high[a], v);
    });
  }
  const out: NamedPoint[] = [];
  for (const x of [1, 0])
    for (const z of [1, 0])
      for (const y of [1, 0]) {
        if (high[1] - low[1] < 1e-6 && y === 0) continue;
        const p: Vec3 = [x ? high[0] : low[0], y ? high[1] : low[1], z ? high[2] : low[2]];
        const flat = high[1] - low[1] < 1e-6;
        out.push({ name: `box corner ${x ? '+X' : '-X'} ${flat ? '' : `${y ? '+Y' : '-Y'} `}${z ? '+Z' : '-Z'}`, point: move(worldFromFrame(axes), p) });
      }
  return out;
}

/** Every direction that the picks make. */
export function directionsFrom(model: Model, picks: readonly PickRef[]): NamedDirection[] {
  const out: NamedDirection[] = [];
  const last = picks.at(-1);
  if (!last) return out;
  for (const pick of [...picks].reverse()) {
    const axis = axisOfPick(model, pick);
    const plane = pick.kind === 'face' ? planeOfPick(model, pick) : undefined;
    const body = bodyOf(model, pick);
    if (axis) {
      const isLine = pick.kind === 'edge' && body?.edges[pick.index].curve.kind === 'line';
      out.push({ name: isLine ? 'along the edge' : 'axis', direction: axis.direction, through: axis.origin });
    }
    if (plane) out.push({ name: 'square to the face', direction: plane.normal, through: plane.origin });
  }
  const points = picks.map((p) => pointOfPick(model, p)).filter((p) => p !== undefined);
  const planes = picks.map((p) => planeOfPick(model, p)).filter((p) => p !== undefined);
  if (picks.length === 2 && points.length === 2 && distance(points[0], points[1]) > 1e-6)
    out.push({ name: 'from the first to the second', direction: normalize(subtract(points[1], points[0])), through: points[0] });
  if (picks.length === 2 && planes.length === 2) {
    const along = cross(planes[0].normal, planes[1].normal);
    if (length(along) > 1e-6) out.push({ name: 'along both planes', direction: normalize(along), through: planes[1].origin });
  }
  const three = threePoints(model, picks);
  if (three) {
    const n = cross(subtract(three[1], three[0]), subtract(three[2], three[0]));
    if (length(n) > 1e-9) out.push({ name: 'square to the three points', direction: normalize(n), through: three[0] });
  }
  return out.filter((d, i) => out.findIndex((o) => Math.abs(angleBetweenRad(o.direction, d.direction)) < 1e-9 && o.name === d.name) === i);
}

/** Every nose that the picks make; `radius` is for the one between two straight edges. */
export function nosesFrom(model: Model, picks: readonly PickRef[], radius: number): Nose[] {
  const out: Nose[] = [];
  const last = picks.at(-1);
  if (!last) return out;
  const own = noseFromPick(model, last);
  if (own) out.push({ name: last.kind === 'edge' ? 'rounded edge' : 'rounded face', ...own });
  const three = threePoints(model, picks);
  const circle = three && circleThrough(three);
  if (three && circle)
    out.push({ name: 'circle through three points', noseRadius: circle.radius, noseCentre: circle.centre, outward: subtract(three[1], circle.centre) });
  const edges = picks.slice(-2).map((p) => (p.kind === 'edge' ? bodyOf(model, p)?.edges[p.index] : undefined));
  const [a, b] = edges;
  if (picks.length >= 2 && a?.curve.kind === 'line' && b?.curve.kind === 'line') {
    const nose = noseBetween([a.start, a.end], [b.start, b.end], radius);
    if (nose) out.push({ name: 'between two edges, with the radius', ...nose });
  }
  return out;
}

/** A circle of a radius that touches two straight edges on the side where both lie. */
export function noseBetween(one: readonly [Vec3, Vec3], two: readonly [Vec3, Vec3], radius: number): Omit<Nose, 'name'> | undefined {
  const met = crossingOf(
    { origin: one[0], direction: normalize(subtract(one[1], one[0])) },
    { origin: two[0], direction: normalize(subtract(two[1], two[0])) },
  );
  if (!met || met.gap > 0.05) return undefined;
  // Away from the sharp corner along each edge.
  const legs = [one, two].map((e) => normalize(subtract(mix(e[0], e[1], 0.5), met.point)));
  const inward = addScaled(legs[0], legs[1], 1);
  if (length(inward) < 1e-6) return undefined;
  const half = angleBetweenRad(legs[0], legs[1]) / 2;
  const way = normalize(inward);
  return { noseRadius: radius, noseCentre: addScaled(met.point, way, radius / Math.sin(half)), outward: scale(way, -1) };
}

function threePoints(model: Model, picks: readonly PickRef[]): [Vec3, Vec3, Vec3] | undefined {
  if (picks.length !== 3) return undefined;
  // Of an edge any point on it serves: the middle of a straight one, but not the centre of a circle.
  const points = picks.map((p) => (p.kind === 'corner' ? pointOfPick(model, p) : undefined));
  return points.every((p) => p !== undefined) ? (points as [Vec3, Vec3, Vec3]) : undefined;
}

/** The circle through three points; none through points of one line. */
export function circleThrough([a, b, c]: readonly [Vec3, Vec3, Vec3]): { centre: Vec3; radius: number } | undefined {
  const [u, v] = [subtract(b, a), subtract(c, a)];
  const n = cross(u, v);
  const nn = dot(n, n);
  if (nn < 1e-12) return undefined;
  const centre = addScaled(a, addScaled(scale(cross(v, n), dot(u, u)), cross(n, u), dot(v, v)), 1 / (2 * nn));
  return { centre, radius: distance(centre, a) };
}

interface Line {
  readonly origin: Vec3;
  readonly direction: Vec3;
}

// The middle of the shortest way between two lines, and its length; none for parallel ones.
function crossingOf(a: Line, b: Line): { point: Vec3; gap: number } | undefined {
  const n = cross(a.direction, b.direction);
  const nn = dot(n, n);
  if (nn < 1e-10) return undefined;
  const d = subtract(b.origin, a.origin);
  const s = dot(cross(d, b.direction), n) / nn;
  const t = dot(cross(d, a.direction), n) / nn;
  const [p, q] = [addScaled(a.origin, a.direction, s), addScaled(b.origin, b.direction, t)];
  return { point: mix(p, q, 0.5), gap: distance(p, q) };
}

const middleOfParallels = (a: Line, b: Line): Vec3 => {
  const d = subtract(a.origin, b.origin);
  const foot = addScaled(b.origin, b.direction, dot(d, b.direction));
  return mix(a.origin, foot, 0.5);
};

/** A connection's frame from a point and a direction; Z towards the work. */
export function frameAt(model: Model, point: Vec3, direction: Vec3, kind: 'mount' | 'seat', flip: boolean, xWish: Vec3): Frame {
  const inward = dot(subtract(middleOf(model), point), direction) > 0;
  const sense = (inward === (kind === 'mount') ? 1 : -1) * (flip ? -1 : 1);
  return fromZAndX(point, scale(direction, sense), xWish);
}
