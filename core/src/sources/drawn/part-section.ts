import { fitCurve } from '#core/drawing';
import { cross, dot, type Frame, frameFromWorld, fromZAndX, length, move, subtract, turn, type Vec3 } from '#core/math';
import type { BodyGeometry, FaceFacts, Surface } from '#core/mesh';
import { arcThrough, circleAbout, type FlatPoint, flatDistance, type PathPiece, sectionMesh, writeDrawingDxf } from '#core/outline';

// mm and radians within which a face is about an axis.
const [ON_AXIS, ALONG] = [1e-4, 1e-5];
// mm. A rim of a flat face is on the round face that begins there within this.
const RIM = 0.01;
// mm. What lines and arcs may be off the chords of a section.
const SECTION_FIT = 0.01;

/**
 * The half section of bodies about the Z of a frame, as a DXF drawing with its centre line: of each face about that axis the line or arc that it is turned from,
 * exactly. What is not about the axis (flats, cross holes) is not in it. In [z, r] of the frame; undefined where no face is about it.
 */
export function halfSectionDrawing(bodies: readonly BodyGeometry[], frame: Frame): string | undefined {
  const faces = bodies.flatMap((b) => b.faces.map(({ surface }, i) => ({ surface, pieces: turnedFrom(surface, facePoints(b, i, frame), frame) })));
  const round = faces.filter((f) => f.surface.kind !== 'plane').flatMap((f) => f.pieces);
  // A flat face belongs to it where what is round begins or ends on its rims: spot faces beside the axis do not.
  const meets = (p: FlatPoint) => p[1] === 0 || round.some((r) => flatDistance(r.from, p) < RIM || flatDistance(r.to, p) < RIM);
  const flat = faces.filter((f) => f.surface.kind === 'plane').flatMap((f) => f.pieces.filter((p) => meets(p.from) && meets(p.to)));
  const pieces = round.length > 0 ? [...round, ...flat] : [];
  return pieces.length > 0 ? withAxis([{ name: 'SECTION', pieces }]) : undefined;
}

/** The section of bodies by the plane Y = `y` of a frame, as a DXF drawing: lines and arcs within 0.01 mm of the model's chords. In (z, x) of the frame. */
export function planeSectionDrawing(bodies: readonly BodyGeometry[], frame: Frame, y = 0): string | undefined {
  const loops = bodies.flatMap((b) => sectionMesh(b.mesh, frame, y));
  const pieces = loops.flatMap(({ points, closed }) => {
    const places = Array.from({ length: points.length / 2 }, (_, i): FlatPoint => [points[2 * i], points[2 * i + 1]]);
    return fitCurve(closed ? [...places, places[0]] : places, SECTION_FIT);
  });
  return pieces.length > 0 ? writeDrawingDxf([{ name: 'SECTION', pieces }]) : undefined;
}

/**
 * The border of a flat face as a DXF drawing, as it is seen from outside: lines and circles exactly, other edges by lines and arcs within 0.01 mm of their chords.
 * `along`: what is to the right on it, as far as the face lets it. Undefined where the face is not flat.
 */
export function faceDrawing(body: BodyGeometry, face: number, along: Vec3): string | undefined {
  const { surface, edges } = body.faces[face];
  if (surface.kind !== 'plane') return undefined;
  const { normal: z, origin } = surface;
  const inFrame = frameFromWorld(fromZAndX(origin, z, along));
  const seen = (p: Vec3): FlatPoint => {
    const [u, v] = move(inFrame, p);
    return [u, v];
  };
  const pieces = edges.flatMap((e): PathPiece[] => {
    const { curve, start, end } = body.edges[e];
    if (curve.kind === 'line') return [{ kind: 'line', from: seen(start), to: seen(end) }];
    if (curve.kind === 'circle' && curve.sweepRad > 2 * Math.PI - ALONG) return circleAbout(seen(curve.centre), seen(start));
    if (curve.kind === 'circle') return [arcThrough(seen(start), seen(curve.middle), seen(end))];
    const places: FlatPoint[] = [];
    for (let k = body.edgeStart[e]; k < body.edgeStart[e + 1]; k++)
      places.push(seen([body.edgePoints[3 * k], body.edgePoints[3 * k + 1], body.edgePoints[3 * k + 2]]));
    return fitCurve(places, SECTION_FIT);
  });
  return pieces.length > 0 ? writeDrawingDxf([{ name: 'FACE', pieces }]) : undefined;
}

/** The axis that a round face is turned about, as a frame whose Z it is; undefined for flat and free ones. */
export function axisFrameOf({ surface }: FaceFacts): Frame | undefined {
  if (surface.kind === 'cylinder' || surface.kind === 'cone') return fromZAndX(surface.origin, surface.axis);
  return surface.kind === 'torus' ? fromZAndX(surface.centre, surface.axis) : undefined;
}

/** A half profile, or loops of a plan, as a DXF drawing; of what is turned with its centre line. */
export const outlineDrawing = (loops: readonly (readonly PathPiece[])[], isTurned: boolean): string =>
  isTurned
    ? withAxis([{ name: 'PROFILE', pieces: loops.flat().filter((p) => p.from[1] > 1e-9 || p.to[1] > 1e-9) }])
    : writeDrawingDxf([{ name: 'PROFILE', pieces: loops.flat() }]);

function withAxis(layers: readonly { readonly name: string; readonly pieces: readonly PathPiece[] }[]): string {
  const along = layers.flatMap((l) => l.pieces.flatMap((p) => [p.from[0], p.to[0]]));
  const [low, high] = [along.reduce((a, b) => Math.min(a, b), Infinity), along.reduce((a, b) => Math.max(a, b), -Infinity)];
  const over = 0.05 * (high - low) + 1;
  return writeDrawingDxf([...layers, { name: 'AXIS', isCentreLine: true, pieces: [{ kind: 'line', from: [low - over, 0], to: [high + over, 0] }] }]);
}

// The corners of a face's mesh in [z, r].
function facePoints({ mesh, faceStart }: BodyGeometry, face: number, frame: Frame): FlatPoint[] {
  const inFrame = frameFromWorld(frame);
  const seen = new Set<number>();
  const out: FlatPoint[] = [];
  for (let i = 3 * faceStart[face]; i < 3 * faceStart[face + 1]; i++) {
    const k = mesh.triangles[i];
    if (seen.has(k)) continue;
    seen.add(k);
    const [x, y, z] = move(inFrame, [mesh.positions[3 * k], mesh.positions[3 * k + 1], mesh.positions[3 * k + 2]]);
    out.push([z, Math.hypot(x, y)]);
  }
  return out;
}

// The line or arc that a face about the axis is turned from; nothing for others.
function turnedFrom(surface: Surface, points: readonly FlatPoint[], frame: Frame): PathPiece[] {
  const inFrame = frameFromWorld(frame);
  const offAxis = (p: Vec3) => Math.hypot(...move(inFrame, p).slice(0, 2));
  const isAlong = (d: Vec3) => length(cross(d, frame.z)) < ALONG;
  const line = (from: FlatPoint, to: FlatPoint): PathPiece[] => (flatDistance(from, to) > ON_AXIS ? [{ kind: 'line', from, to }] : []);
  const range = (k: 0 | 1): FlatPoint => points.reduce(([a, b]: FlatPoint, p): FlatPoint => [Math.min(a, p[k]), Math.max(b, p[k])], [Infinity, -Infinity]);
  if (points.length === 0) return [];
  switch (surface.kind) {
    case 'plane': {
      if (!isAlong(surface.normal)) return [];
      const z = dot(subtract(surface.origin, frame.origin), frame.z);
      const [inner, outer] = range(1);
      // Corners are on its rim: where the axis goes through it, it begins there.
      return line([z, isOver(points, inner) ? 0 : inner], [z, outer]);
    }
    case 'cylinder': {
      if (!isAlong(surface.axis) || offAxis(surface.origin) > ON_AXIS) return [];
      const [low, high] = range(0);
      return line([low, surface.radius], [high, surface.radius]);
    }
    case 'cone': {
      if (!isAlong(surface.axis) || offAxis(surface.origin) > ON_AXIS) return [];
      const sign = Math.sign(dot(turn(inFrame, surface.axis), [0, 0, 1])) || 1;
      const z0 = move(inFrame, surface.origin)[2];
      const radiusAt = (z: number) => Math.max(0, surface.radiusLarge - sign * (z - z0) * Math.tan(surface.halfAngleRad));
      const [low, high] = range(0);
      return line([low, radiusAt(low)], [high, radiusAt(high)]);
    }
    case 'sphere':
      return offAxis(surface.centre) > ON_AXIS ? [] : arcOver(points, [move(inFrame, surface.centre)[2], 0], surface.radius);
    case 'torus':
      return !isAlong(surface.axis) || offAxis(surface.centre) > ON_AXIS
        ? []
        : arcOver(points, [move(inFrame, surface.centre)[2], surface.majorRadius], surface.minorRadius);
    case 'free':
      return [];
  }
}

// Whether a flat face has no rim about the axis but its outer one: its nearest corners are on that.
const isOver = (points: readonly FlatPoint[], inner: number): boolean => {
  const outer = Math.max(...points.map((p) => p[1]));
  return inner > 0.98 * outer;
};

// The arc about a centre that points lie on, from the first to the last by angle.
function arcOver(points: readonly FlatPoint[], centre: FlatPoint, radius: number): PathPiece[] {
  const mean = points.reduce(([x, y], p) => [x + p[0] - centre[0], y + p[1] - centre[1]], [0, 0]);
  const middle = Math.atan2(mean[1], mean[0]);
  const turns = points.map((p) => {
    const t = Math.atan2(p[1] - centre[1], p[0] - centre[0]) - middle;
    return t - 2 * Math.PI * Math.round(t / (2 * Math.PI));
  });
  const [low, high] = [Math.min(...turns), Math.max(...turns)];
  if ((high - low) * radius < ON_AXIS) return [];
  const at = (t: number): FlatPoint => [centre[0] + radius * Math.cos(middle + t), Math.max(0, centre[1] + radius * Math.sin(middle + t))];
  return [{ kind: 'arc', from: at(low), to: at(high), centre, ccw: true }];
}
