import { circleThrough, type FlatPoint, flatDistance, sideOf } from './flat.ts';
import { directionOnPiece, type PathPiece } from './path.ts';

/** An arc from a place to another one through a third; a line where the three lie on one. */
export function arcThrough(from: FlatPoint, through: FlatPoint, to: FlatPoint): PathPiece {
  const circle = circleThrough(from, through, to);
  return circle ? { kind: 'arc', from, to, centre: circle.centre, ccw: sideOf(from, through, to) > 0 } : { kind: 'line', from, to };
}

/** An arc from a place, beginning in a direction, to another place; a line where that lies straight ahead. */
export function tangentArc(from: FlatPoint, direction: FlatPoint, to: FlatPoint): PathPiece {
  const long = Math.hypot(direction[0], direction[1]) || 1;
  const [nx, ny] = [-direction[1] / long, direction[0] / long];
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const aside = dx * nx + dy * ny;
  if (Math.abs(aside) < 1e-9 * Math.hypot(dx, dy)) return { kind: 'line', from, to };
  const radius = (dx * dx + dy * dy) / (2 * aside);
  return { kind: 'arc', from, to, centre: [from[0] + radius * nx, from[1] + radius * ny], ccw: radius > 0 };
}

/** An arc from a place about a centre towards a direction, the shorter way round. */
export function arcAbout(from: FlatPoint, centre: FlatPoint, towards: FlatPoint): PathPiece | undefined {
  const radius = flatDistance(from, centre);
  const far = flatDistance(towards, centre);
  if (radius < 1e-9 || far < 1e-9) return undefined;
  const to: FlatPoint = [centre[0] + ((towards[0] - centre[0]) * radius) / far, centre[1] + ((towards[1] - centre[1]) * radius) / far];
  if (flatDistance(from, to) < 1e-9) return undefined;
  return { kind: 'arc', from, to, centre, ccw: sideOf(centre, from, to) >= 0 };
}

/** A rectangle between two opposite corners, counter-clockwise. */
export function rectangleOf(a: FlatPoint, b: FlatPoint): PathPiece[] {
  const [x0, x1] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
  const [y0, y1] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
  const corners: FlatPoint[] = [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ];
  return corners.map((from, i) => ({ kind: 'line', from, to: corners[(i + 1) % 4] }));
}

/** A circle about a centre through a place, as two halves, counter-clockwise; from that place. */
export function circleAbout(centre: FlatPoint, through: FlatPoint): PathPiece[] {
  const other: FlatPoint = [2 * centre[0] - through[0], 2 * centre[1] - through[1]];
  return [
    { kind: 'arc', from: through, to: other, centre, ccw: true },
    { kind: 'arc', from: other, to: through, centre, ccw: true },
  ];
}

/** The direction in which a piece ends. */
export const endDirection = (p: PathPiece): FlatPoint => directionOnPiece(p, 1);
