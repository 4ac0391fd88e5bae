// Indexable inserts of the demo tools, with their virtual tip at a given place (x, z) of the mount frame.
import { makeCylinder, type Sketch, type Solid } from 'replicad';
import { type P2, polygon } from './shapes.ts';

export interface RhombicInsert {
  readonly tip: P2;
  readonly angleDeg: number;
  readonly inscribedCircle: number;
  readonly thickness: number;
  readonly noseRadius: number;
  readonly holeDiameter: number;
  /** Clearance of the sides; square ones without it. */
  readonly clearanceDeg?: number;
}

const along = (deg: number): P2 => [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
const plus = (p: P2, d: P2, s: number): P2 => [p[0] + d[0] * s, p[1] + d[1] * s];

/** Corners, edge directions and nose centre of a rhombic insert whose two edges lean back by the same angle. */
export function layOut({ tip, angleDeg, inscribedCircle, noseRadius }: RhombicInsert) {
  const half = angleDeg / 2;
  const [e1, e2] = [along(225 + half), along(225 - half)];
  const noseCentre: P2 = [tip[0] - noseRadius, tip[1] - noseRadius];
  const sharp = plus(noseCentre, along(45), noseRadius / Math.sin((half * Math.PI) / 180));
  const edge = inscribedCircle / Math.sin((angleDeg * Math.PI) / 180);
  const corners: P2[] = [sharp, plus(sharp, e1, edge), plus(plus(sharp, e1, edge), e2, edge), plus(sharp, e2, edge)];
  const centre: P2 = [(corners[0][0] + corners[2][0]) / 2, (corners[0][1] + corners[2][1]) / 2];
  return { e1, e2, noseCentre, sharp, corners, centre };
}

/** The insert with its top at y = 0: rounded corners, a hole, and a chip groove with a raised middle. */
export function rhombicInsert(given: RhombicInsert): Solid {
  const { corners, centre } = layOut(given);
  const { thickness, noseRadius, holeDiameter } = given;
  const shrink = (by: number): P2[] => corners.map(([x, z]): P2 => [centre[0] + (x - centre[0]) * by, centre[1] + (z - centre[1]) * by]);
  const blank = given.clearanceDeg
    ? withClearance(given, corners, centre)
    : (polygon(corners).sketchOnPlane('XZ').extrude(thickness) as Solid).fillet(noseRadius, (e) => e.inDirection('Y'));
  const groove = (polygon(shrink(0.84)).sketchOnPlane('XZ').extrude(0.25) as Solid).cut(
    polygon(shrink(0.6)).sketchOnPlane('XZ', [0, 1, 0]).extrude(3) as Solid,
  );
  const through = makeCylinder(holeDiameter / 2, thickness + 2, [centre[0], 1, centre[1]], [0, -1, 0]);
  const sink = makeCylinder(holeDiameter * 0.62, 0.9, [centre[0], 0.01, centre[1]], [0, -1, 0]);
  return blank.cut(groove).cut(through).cut(sink);
}

// Rounded outline at the top, the same with its sides set in below: a ruled solid between them.
function withClearance({ thickness, noseRadius, inscribedCircle, clearanceDeg = 0 }: RhombicInsert, corners: readonly P2[], centre: P2): Solid {
  const inset = thickness * Math.tan((clearanceDeg * Math.PI) / 180);
  const factor = 1 - (2 * inset) / inscribedCircle;
  const outline = (f: number, r: number, y: number) =>
    polygon(corners.map(([x, z]): P2 => [centre[0] + (x - centre[0]) * f, centre[1] + (z - centre[1]) * f]))
      .fillet(r)
      .sketchOnPlane('XZ', [0, y, 0]) as Sketch;
  return outline(1, noseRadius, 0).loftWith(outline(factor, Math.max(0.02, noseRadius - inset), -thickness), { ruled: true });
}
