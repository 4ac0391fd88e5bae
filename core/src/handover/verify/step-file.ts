import { cross, distance, dot, length, type Motion, move, projectOnLine, subtract, turn, type Vec3 } from '#core/math';
import { type BodyGeometry, type EdgeFacts, meshVolume, type Model, precisionOf, type Surface } from '#core/mesh';
import { type HalfProfile, profileDepthFinder, profileVolume } from '#core/outline';

/** What a STEP file differs in from what it should hold, with the place. */
export interface StepFault {
  readonly at: Vec3;
  readonly text: string;
}

// mm. What writing and reading a STEP file may do to a coordinate.
const SAME_PLACE = 1e-5;
// Share by which the meshes of the same solid, made with the same chords in two places, may differ in volume.
const SAME_VOLUME = 2e-3;

/** A revolved STEP file, in the frame of its profile: every corner of its mesh lies on the true faces, so on the profile; and its volume is the profile's. */
export function turnedStepFault(model: Model, frameFromFile: Motion, profile: HalfProfile): StepFault | undefined {
  const depth = profileDepthFinder(profile);
  for (const { mesh } of model.bodies) {
    const { positions: p } = mesh;
    for (let i = 0; i < p.length; i += 3) {
      const at: Vec3 = [p[i], p[i + 1], p[i + 2]];
      const [x, y, z] = move(frameFromFile, at);
      const off = Math.abs(depth(z, Math.hypot(x, y)));
      if (off > SAME_PLACE + precisionOf(mesh)) return { at, text: `a face is ${off.toFixed(4)} mm off the profile` };
    }
  }
  const volume = model.bodies.reduce((v, b) => v + meshVolume(b.mesh), 0);
  const ratio = volume / profileVolume(profile);
  // Chords of a small radius take much of it.
  if (!(Math.abs(ratio - 1) < 0.02))
    return { at: model.bodies[0]?.centroid ?? [0, 0, 0], text: `its volume is ${(100 * ratio).toFixed(2)} % of the profile's` };
  return undefined;
}

/** A STEP file of bodies as they came, against these bodies moved to where they should be: corners, edges, surfaces and volumes one by one, in their order. */
export function sameBodiesFault(model: Model, bodies: readonly BodyGeometry[], targetFromSource: Motion): StepFault | undefined {
  if (model.bodies.length !== bodies.length)
    return { at: model.bodies[0]?.centroid ?? [0, 0, 0], text: `it has ${model.bodies.length} bodies instead of ${bodies.length}` };
  for (const [i, body] of model.bodies.entries()) {
    const fault = sameBodyFault(body, bodies[i], targetFromSource);
    if (fault) return fault;
  }
  return undefined;
}

function sameBodyFault(body: BodyGeometry, source: BodyGeometry, motion: Motion): StepFault | undefined {
  const { faces, edges } = body;
  if (faces.length !== source.faces.length || edges.length !== source.edges.length)
    return { at: body.centroid, text: `${body.name} has other faces or edges than the vendor's` };
  const left = new Set(source.edges.keys());
  for (const [i, edge] of edges.entries()) {
    // In their order, but for seams of tori, which a file may list and run elsewise.
    const own = left.has(i) ? edgeFault(edge, source.edges[i], motion, body.name) : undefined;
    const match = left.has(i) && !own ? i : [...left].find((k) => !edgeFault(edge, source.edges[k], motion, body.name));
    if (match === undefined) return own ?? { at: edge.start, text: `an edge of ${body.name} is another one` };
    left.delete(match);
  }
  for (const [i, { surface }] of faces.entries()) {
    const off = surfacesApart(surface, source.faces[i].surface, motion);
    if (off > SAME_PLACE)
      return {
        at: pointOfFace(body, i),
        text: `a ${surface.kind} face of ${body.name} is ${Number.isFinite(off) ? `${off.toFixed(4)} mm off` : 'another one'}`,
      };
  }
  const ratio = meshVolume(body.mesh) / meshVolume(source.mesh);
  return Math.abs(ratio - 1) > SAME_VOLUME ? { at: body.centroid, text: `${body.name} has ${(100 * ratio).toFixed(2)} % of its volume` } : undefined;
}

// What is wrong with an edge held against another one, moved; either way round is the same.
function edgeFault(edge: EdgeFacts, other: EdgeFacts, motion: Motion, body: string): StepFault | undefined {
  const apart = (p: Vec3, q: Vec3) => distance(p, move(motion, q));
  const same = [apart(edge.start, other.start), apart(edge.end, other.end)];
  const turned = [apart(edge.start, other.end), apart(edge.end, other.start)];
  const [start, end] = Math.max(...turned) < Math.max(...same) ? turned : same;
  if (Math.max(start, end) > SAME_PLACE)
    return { at: start > end ? edge.start : edge.end, text: `a corner of ${body} is ${Math.max(start, end).toFixed(4)} mm from where it should be` };
  if (edge.curve.kind !== other.curve.kind) return { at: edge.start, text: `an edge of ${body} is another curve` };
  if (edge.curve.kind === 'circle' && other.curve.kind === 'circle') {
    const off = apart(edge.curve.middle, other.curve.middle);
    if (off > SAME_PLACE) return { at: edge.curve.middle, text: `a round edge of ${body} is ${off.toFixed(4)} mm off` };
  }
  if (edge.curve.kind === 'free' && other.curve.kind === 'free' && Math.abs(edge.curve.length - other.curve.length) > 1e-3)
    return { at: edge.start, text: `an edge of ${body} has another length` };
  return undefined;
}

function pointOfFace({ mesh, faceStart }: BodyGeometry, face: number): Vec3 {
  const i = 3 * (mesh.triangles[3 * faceStart[face]] ?? 0);
  return [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]];
}

/** How far two surfaces are apart, mm, the second one moved; Infinity where they are not of one kind. Free ones are not compared by their form. */
function surfacesApart(a: Surface, b: Surface, motion: Motion): number {
  const point = (p: Vec3) => move(motion, p);
  const direction = (d: Vec3) => turn(motion, d);
  // Directions count over this length; either way round is the same axis.
  const SPAN = 100;
  const turned = (u: Vec3, v: Vec3) => SPAN * length(cross(u, v));
  if (a.kind === 'plane' && b.kind === 'plane') {
    const n = direction(b.normal);
    return Math.max(turned(a.normal, n), Math.abs(dot(subtract(a.origin, point(b.origin)), n)));
  }
  if (a.kind === 'cylinder' && b.kind === 'cylinder') {
    const axis = direction(b.axis);
    return Math.max(turned(a.axis, axis), distance(a.origin, projectOnLine(a.origin, point(b.origin), axis)), Math.abs(a.radius - b.radius));
  }
  if (a.kind === 'cone' && b.kind === 'cone') {
    const axis = direction(b.axis);
    const off = Math.max(turned(a.axis, axis), distance(a.origin, point(b.origin)));
    return Math.max(off, Math.abs(a.radiusLarge - b.radiusLarge), Math.abs(a.radiusSmall - b.radiusSmall), SPAN * Math.abs(a.halfAngleRad - b.halfAngleRad));
  }
  if (a.kind === 'sphere' && b.kind === 'sphere') return Math.max(distance(a.centre, point(b.centre)), Math.abs(a.radius - b.radius));
  if (a.kind === 'torus' && b.kind === 'torus') {
    const off = Math.max(turned(a.axis, direction(b.axis)), distance(a.centre, point(b.centre)));
    return Math.max(off, Math.abs(a.majorRadius - b.majorRadius), Math.abs(a.minorRadius - b.minorRadius));
  }
  return a.kind === b.kind ? 0 : Infinity;
}
