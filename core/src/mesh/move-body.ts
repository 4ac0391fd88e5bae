import { type Motion, move, turn } from '#core/math';
import { movePoints } from './move-mesh.ts';
import type { BodyGeometry, Curve, Surface } from './model.ts';
import { meshBounds } from './tri-mesh.ts';

/** A body in another place: faces, edges and mesh moved with it. */
export function moveBody(motion: Motion, body: BodyGeometry): BodyGeometry {
  const mesh = { ...body.mesh, positions: movePoints(motion, body.mesh.positions) };
  return {
    ...body,
    mesh,
    bbox: meshBounds(mesh) ?? body.bbox,
    centroid: move(motion, body.centroid),
    faces: body.faces.map((f) => ({ ...f, surface: moveSurface(motion, f.surface) })),
    edges: body.edges.map((e) => ({ ...e, start: move(motion, e.start), end: move(motion, e.end), curve: moveCurve(motion, e.curve) })),
    corners: movePoints(motion, body.corners),
    edgePoints: movePoints(motion, body.edgePoints),
  };
}

function moveSurface(m: Motion, s: Surface): Surface {
  switch (s.kind) {
    case 'plane':
      return { ...s, origin: move(m, s.origin), normal: turn(m, s.normal) };
    case 'cylinder':
    case 'cone':
      return { ...s, origin: move(m, s.origin), axis: turn(m, s.axis) };
    case 'sphere':
      return { ...s, centre: move(m, s.centre) };
    case 'torus':
      return { ...s, centre: move(m, s.centre), axis: turn(m, s.axis) };
    case 'free':
      return s;
  }
}

const moveCurve = (m: Motion, c: Curve): Curve =>
  c.kind === 'circle' ? { ...c, centre: move(m, c.centre), axis: turn(m, c.axis), middle: move(m, c.middle) } : c;
