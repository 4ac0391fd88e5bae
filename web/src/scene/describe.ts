import { angleBetweenRad, degFromRad, type Motion, move, roundTo, turn, type Vec3 } from '#core/math';
import { type BodyGeometry, cornerOf, type Surface } from '#core/mesh';
import { formatAngleDeg, formatLength, type LengthUnit } from '#core/units';
import type { PickRef } from './picks.ts';

const AXES: [string, Vec3][] = [
  ['X', [1, 0, 0]],
  ['Y', [0, 1, 0]],
  ['Z', [0, 0, 1]],
];

/** A direction in words: along an axis, or its angle to the nearest one. */
function sayDirection(d: Vec3): string {
  const angles = AXES.map(([name, axis]) => ({ name, deg: Math.min(degFromRad(angleBetweenRad(d, axis)), 180 - degFromRad(angleBetweenRad(d, axis))) }));
  const nearest = angles.reduce((a, b) => (a.deg <= b.deg ? a : b));
  return nearest.deg < 1e-3 ? `parallel to ${nearest.name}` : `${formatAngleDeg(roundTo(nearest.deg, 2))} off ${nearest.name}`;
}

/** What is pointed at, with its numbers in the stage's coordinates: "cylinder, diameter 32.000, length 63.000, axis parallel to Z". */
export function describePick(body: BodyGeometry, pick: PickRef, stageFromModel: Motion, unit: LengthUnit): string {
  const mm = (v: number) => formatLength(v, unit);
  const at = (p: Vec3) => move(stageFromModel, p).map(mm).join(', ');
  const along = (d: Vec3) => sayDirection(turn(stageFromModel, d));
  if (pick.kind === 'corner') return `corner at ${at(cornerOf(body, pick.index))}`;
  if (pick.kind === 'edge') {
    const edge = body.edges[pick.index];
    switch (edge.curve.kind) {
      case 'line':
        return `line, length ${mm(edge.curve.length)}`;
      case 'circle': {
        const whole = edge.curve.sweepRad > 2 * Math.PI - 1e-6;
        const size = whole
          ? `circle, diameter ${mm(2 * edge.curve.radius)}`
          : `rounded edge, radius ${mm(edge.curve.radius)}, ${formatAngleDeg(roundTo(degFromRad(edge.curve.sweepRad), 1))}`;
        return `${size}, axis ${along(edge.curve.axis)}`;
      }
      default:
        return `curved edge, length ${mm(edge.curve.length)}`;
    }
  }
  const { surface, fit } = body.faces[pick.index];
  // A face that was fitted to a mesh says how far the mesh's corners are from it.
  return fit === undefined || surface.kind === 'free'
    ? sayFace(surface, mm, along)
    : `${sayFace(surface, mm, along)}, fitted within ${roundTo(fit * 1000, 1)} µm`;
}

function sayFace(s: Surface, mm: (v: number) => string, along: (d: Vec3) => string): string {
  switch (s.kind) {
    case 'plane':
      return `plane, normal ${along(s.normal)}`;
    case 'cylinder':
      return `${s.concave ? 'bore' : 'cylinder'}, diameter ${mm(2 * s.radius)}, length ${mm(s.length)}, axis ${along(s.axis)}`;
    case 'cone':
      return `cone, half angle ${formatAngleDeg(roundTo(degFromRad(s.halfAngleRad), 3))}, diameter ${mm(2 * s.radiusSmall)} to ${mm(2 * s.radiusLarge)}, axis ${along(s.axis)}`;
    case 'sphere':
      return `sphere, radius ${mm(s.radius)}`;
    case 'torus':
      return `rounding, radius ${mm(s.minorRadius)} on diameter ${mm(2 * s.majorRadius)}`;
    default:
      return 'free-form face';
  }
}
