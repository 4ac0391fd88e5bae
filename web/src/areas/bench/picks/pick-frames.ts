// From picks to frames, tips and pose steps: what the Bench does with what was pointed at. All in the model's coordinates.
import { addScaled, cross, distance, dot, flipZ, type Frame, fromZAndX, mix, normalize, subtract, type Vec3 } from '#core/math';
import { type BodyGeometry, cornerOf, type Model } from '#core/mesh';
import { type ConnectionSize, USUAL_SIZES } from '#core/standards';
import { type PickRef, samePick } from '../../../scene/picks.ts';

const bodyOfPick = (model: Model, pick: PickRef): BodyGeometry | undefined => model.bodies.find((b) => b.id === pick.body);

/** The line that a pick stands for: of a cylinder, cone, torus, circle or straight edge. */
export function axisOfPick(model: Model, pick: PickRef): { origin: Vec3; direction: Vec3 } | undefined {
  const body = bodyOfPick(model, pick);
  if (!body) return undefined;
  if (pick.kind === 'edge') {
    const { curve, start, end } = body.edges[pick.index];
    if (curve.kind === 'circle') return { origin: curve.centre, direction: curve.axis };
    return curve.kind === 'line' && distance(start, end) > 1e-9 ? { origin: start, direction: normalize(subtract(end, start)) } : undefined;
  }
  if (pick.kind === 'corner') return undefined;
  const { surface: s } = body.faces[pick.index];
  if (s.kind === 'cylinder' || s.kind === 'cone') return { origin: s.origin, direction: s.axis };
  return s.kind === 'torus' ? { origin: s.centre, direction: s.axis } : undefined;
}

/** The plane that a pick stands for: a flat face, or the plane of a circle. */
export function planeOfPick(model: Model, pick: PickRef): { origin: Vec3; normal: Vec3 } | undefined {
  const body = bodyOfPick(model, pick);
  if (!body) return undefined;
  if (pick.kind === 'face') {
    const { surface } = body.faces[pick.index];
    return surface.kind === 'plane' ? { origin: faceCentre(body, pick.index), normal: surface.normal } : undefined;
  }
  if (pick.kind === 'edge') {
    const { curve } = body.edges[pick.index];
    return curve.kind === 'circle' ? { origin: curve.centre, normal: curve.axis } : undefined;
  }
  return undefined;
}

/** The point that a pick stands for: corner, circle centre, middle of a line, centre of a face. */
export function pointOfPick(model: Model, pick: PickRef): Vec3 | undefined {
  const body = bodyOfPick(model, pick);
  if (!body) return undefined;
  if (pick.kind === 'corner') return cornerOf(body, pick.index);
  if (pick.kind === 'edge') {
    const { curve, start, end } = body.edges[pick.index];
    return curve.kind === 'circle' ? curve.centre : mix(start, end, 0.5);
  }
  const { surface: s } = body.faces[pick.index];
  if (s.kind === 'plane') return faceCentre(body, pick.index);
  if (s.kind === 'sphere' || s.kind === 'torus') return s.centre;
  return s.kind === 'free' ? undefined : s.origin;
}

// The middle of the box around the face's corners, in the face's own directions, so that a tilted face has its true centre.
function faceCentre(body: BodyGeometry, face: number): Vec3 {
  const { mesh, faceStart, faces } = body;
  const { surface } = faces[face];
  const z = surface.kind === 'plane' ? surface.normal : ([0, 0, 1] as Vec3);
  const longest = faces[face].edges
    .map((e) => body.edges[e])
    .filter((e) => e.curve.kind === 'line')
    .sort((a, b) => distance(b.start, b.end) - distance(a.start, a.end))[0];
  const frame = fromZAndX([0, 0, 0], z, longest ? subtract(longest.end, longest.start) : undefined);
  const y = cross(frame.z, frame.x);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 3 * faceStart[face]; i < 3 * faceStart[face + 1]; i++) {
    const k = 3 * mesh.triangles[i];
    const p: Vec3 = [mesh.positions[k], mesh.positions[k + 1], mesh.positions[k + 2]];
    [dot(p, frame.x), dot(p, y), dot(p, frame.z)].forEach((v, a) => {
      low[a] = Math.min(low[a], v);
      high[a] = Math.max(high[a], v);
    });
  }
  const [u, v, w] = [0, 1, 2].map((a) => (low[a] + high[a]) / 2);
  return addScaled(addScaled(addScaled([0, 0, 0], frame.x, u), y, v), frame.z, w);
}

/** Where the middle of all bodies lies: tells which way "out of" and "into" are. */
/** The middle of the material of all bodies. */
export function middleOf(model: Model): Vec3 {
  const volume = model.bodies.reduce((v, b) => v + b.volume, 0) || 1;
  return model.bodies.reduce<Vec3>((sum, b) => addScaled(sum, b.centroid, b.volume / volume), [0, 0, 0]);
}

/** What a click makes a frame of: itself, and the pick before it where that is an axis that still needs a plane. */
export function framePicks(model: Model, picks: readonly PickRef[], pick: PickRef): PickRef[] {
  const before = picks.filter((p) => !samePick(p, pick)).at(-1);
  return before && axisOfPick(model, before) && !planeOfPick(model, before) ? [before, pick] : [pick];
}

/**
 * A connection's frame from one or two picks: a circle or a flat face gives it alone; an axis needs a plane that crosses it. Z
 * points towards the work: from a mount into the component, from a seat out of it. X leans towards `radial`, if given.
 */
export function frameFromPicks(model: Model, picks: readonly PickRef[], kind: 'mount' | 'seat', radial?: Vec3): Frame | undefined {
  const axis = picks.map((p) => axisOfPick(model, p)).find((a) => a !== undefined);
  const plane = picks.map((p) => planeOfPick(model, p)).find((p) => p !== undefined);
  if (!plane) return undefined;
  let origin = plane.origin;
  let z = plane.normal;
  if (axis && picks.length > 1) {
    const slope = dot(axis.direction, plane.normal);
    if (Math.abs(slope) < 1e-6) return undefined;
    origin = addScaled(axis.origin, axis.direction, dot(subtract(plane.origin, axis.origin), plane.normal) / slope);
    z = axis.direction;
  }
  const inward = dot(subtract(middleOf(model), origin), z) > 0;
  const frame = fromZAndX(origin, z, radial ? subtract(radial, origin) : tidyAcross(z));
  return inward === (kind === 'mount') ? frame : flipZ(frame);
}

/** X of a frame nobody gave a direction for: the file's own axis that is most square to Z. */
export function tidyAcross(z: Vec3): Vec3 {
  const axes: Vec3[] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  return axes.reduce((a, b) => (Math.abs(dot(a, z)) <= Math.abs(dot(b, z)) + 1e-9 ? a : b));
}

/** A first guess of a connection's standard and size from what was picked: the nearest cylinder's diameter, or square for flat picks. */
export function guessConnection(model: Model, picks: readonly PickRef[]): ConnectionSize {
  for (const pick of picks) {
    const body = bodyOfPick(model, pick);
    if (!body) continue;
    const radius =
      pick.kind === 'edge'
        ? ((c) => (c.kind === 'circle' ? c.radius : undefined))(body.edges[pick.index].curve)
        : pick.kind === 'face'
          ? ((s) => (s.kind === 'cylinder' ? s.radius : undefined))(body.faces[pick.index].surface)
          : undefined;
    if (radius === undefined) continue;
    const near = USUAL_SIZES.cylindrical.find((d) => Math.abs(Number(d) - 2 * radius) < 0.03);
    return { standard: 'cylindrical', size: near ?? Math.round(2 * radius * 1000) / 1000 };
  }
  return { standard: 'square', size: '25x25' };
}

/** Nose circle from a rounded edge or a rounded face: radius, centre, and the direction in which the corner points. */
export function noseFromPick(model: Model, pick: PickRef): { noseRadius: number; noseCentre: Vec3; outward: Vec3; axis: Vec3 } | undefined {
  const body = bodyOfPick(model, pick);
  if (!body) return undefined;
  if (pick.kind === 'edge') {
    const { curve } = body.edges[pick.index];
    if (curve.kind !== 'circle') return undefined;
    return { noseRadius: curve.radius, noseCentre: curve.centre, outward: subtract(curve.middle, curve.centre), axis: curve.axis };
  }
  if (pick.kind !== 'face') return undefined;
  const face = body.faces[pick.index];
  if (face.surface.kind !== 'cylinder' && face.surface.kind !== 'cone') return undefined;
  // A nose with clearance is a cone: its larger arc is the one on the rake side.
  const arcs = face.edges.map((e) => body.edges[e].curve).filter((c) => c.kind === 'circle');
  const arc = arcs.sort((a, b) => (b.kind === 'circle' && a.kind === 'circle' ? b.radius - a.radius : 0))[0];
  return arc?.kind === 'circle' ? { noseRadius: arc.radius, noseCentre: arc.centre, outward: subtract(arc.middle, arc.centre), axis: arc.axis } : undefined;
}
