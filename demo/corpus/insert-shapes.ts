// Inserts of the corpus by shape, laid out in the plane (x, z) of the tool's mount frame with their nose at a given place.
import { type Drawing, draw, makeCylinder, type Shape3D, type Sketch } from 'replicad';
import type { P2 } from '../shapes.ts';

export const rad = (deg: number) => (deg * Math.PI) / 180;
export const polar = (deg: number): P2 => [Math.cos(rad(deg)), Math.sin(rad(deg))];
export const plus = (p: P2, d: P2, s: number): P2 => [p[0] + d[0] * s, p[1] + d[1] * s];

/** ISO 1832: shape letter and its corner angle; IC steps that the corpus uses, with thickness and hole. */
export const SHAPE_ANGLES = { C: 80, D: 55, V: 35, S: 90, T: 60, W: 80 } as const;
export type InsertShape = keyof typeof SHAPE_ANGLES;

export interface InsertPlan {
  readonly shape: InsertShape;
  readonly inscribedCircle: number;
  readonly thickness: number;
  readonly noseRadius: number;
  readonly clearanceDeg: number;
  readonly holeDiameter: number;
  /** Directions of the two cutting edges away from the corner, degrees in the (x, z) plane. */
  readonly mainDeg: number;
  readonly sideDeg: number;
  /** Where the nose circle touches furthest: its centre. */
  readonly noseCentre: P2;
}

/** Corners of the sharp outline from the cutting corner on, and the middle of the inscribed circle. */
export function layOutInsert(plan: InsertPlan): { sharp: P2; corners: P2[]; middle: P2; towards: P2 } {
  const { shape, inscribedCircle: ic, noseRadius, mainDeg, sideDeg, noseCentre } = plan;
  const angle = SHAPE_ANGLES[shape];
  const [e1, e2] = [polar(mainDeg), polar(sideDeg)];
  const middleWay: P2 = [e1[0] + e2[0], e1[1] + e2[1]];
  const l = Math.hypot(...middleWay);
  const inward: P2 = [middleWay[0] / l, middleWay[1] / l];
  const sharp = plus(noseCentre, inward, -noseRadius / Math.sin(rad(angle / 2)));
  const middle = plus(sharp, inward, ic / 2 / Math.sin(rad(angle / 2)));
  let corners: P2[];
  if (shape === 'T') corners = [sharp, plus(sharp, e1, ic * Math.sqrt(3)), plus(sharp, e2, ic * Math.sqrt(3))];
  else if (shape === 'W') {
    const reach = ic / 2 / Math.sin(rad(40));
    const blunt = ic / 2 / Math.sin(rad(80));
    const start = (Math.atan2(sharp[1] - middle[1], sharp[0] - middle[0]) * 180) / Math.PI;
    corners = Array.from({ length: 6 }, (_, i) => plus(middle, polar(start + 60 * i), i % 2 === 0 ? reach : blunt));
  } else {
    const edge = ic / Math.sin(rad(angle));
    corners = [sharp, plus(sharp, e1, edge), plus(plus(sharp, e1, edge), e2, edge), plus(sharp, e2, edge)];
  }
  return { sharp, corners, middle, towards: [-inward[0], -inward[1]] };
}

/** Drawings live in (u, v) = (x - middle, z - middle): scaled about the middle they keep their inscribed circle's centre. */
export function closedDrawing(points: readonly P2[]): Drawing {
  const pen = draw(points[0]);
  for (const p of points.slice(1)) pen.lineTo(p);
  return pen.close();
}

// Rounds only the acute corners of a trigon: the blunt ones stay sharp.
function roundedOutline(plan: InsertPlan, corners: readonly P2[], factor: number): Drawing {
  const outline = closedDrawing(corners.map(([x, z]): P2 => [x * factor, z * factor]));
  const r = plan.noseRadius * factor;
  return plan.shape === 'W'
    ? outline.fillet(r, (f) => f.inList(corners.filter((_, i) => i % 2 === 0).map(([x, z]): P2 => [x * factor, z * factor])))
    : outline.fillet(r);
}

/** The insert with its top at y = 0 (before any tilt): clearance by a smaller foot, a chip groove, a hole with a sink. */
export function makeInsert(plan: InsertPlan, options: { groove: boolean; hole: boolean }): Shape3D {
  const { corners, middle } = layOutInsert(plan);
  const local = corners.map(([x, z]): P2 => [x - middle[0], z - middle[1]]);
  const { thickness, clearanceDeg, inscribedCircle, holeDiameter } = plan;
  const factor = 1 - (2 * thickness * Math.tan(rad(clearanceDeg))) / inscribedCircle;
  const top = roundedOutline(plan, local, 1).sketchOnPlane('XZ', [0, 0, 0]) as Sketch;
  let insert: Shape3D =
    clearanceDeg > 0
      ? top.loftWith(roundedOutline(plan, local, factor).sketchOnPlane('XZ', [0, -thickness, 0]) as Sketch, { ruled: true })
      : top.extrude(thickness);
  if (options.groove) {
    const ring = (closedDrawing(local.map(([x, z]): P2 => [x * 0.82, z * 0.82])).sketchOnPlane('XZ') as Sketch).extrude(0.2);
    const land = (closedDrawing(local.map(([x, z]): P2 => [x * 0.6, z * 0.6])).sketchOnPlane('XZ', [0, 1, 0]) as Sketch).extrude(3);
    insert = insert.cut(ring.cut(land));
  }
  if (options.hole) {
    insert = insert.cut(makeCylinder(holeDiameter / 2, thickness + 2, [0, 1, 0], [0, -1, 0]));
    insert = insert.cut(makeCylinder(holeDiameter * 0.62, thickness * 0.22, [0, 0.01, 0], [0, -1, 0]));
  }
  return insert.translate([middle[0], 0, middle[1]]);
}
