import { radFromDeg } from '#core/math';
import type { FlatPoint, PathPiece } from '#core/outline';

/** A loop through corners, counter-clockwise, each rounded by a radius; 0 leaves it sharp, as every one that turns inwards must be. */
export function roundedLoop(corners: readonly FlatPoint[], radii: readonly number[]): PathPiece[] {
  const n = corners.length;
  const rounded = corners.map((at, i) => {
    const way = (to: FlatPoint): FlatPoint => {
      const [x, y] = [to[0] - at[0], to[1] - at[1]];
      const d = Math.hypot(x, y);
      return [x / d, y / d];
    };
    const [back, ahead] = [way(corners[(i + n - 1) % n]), way(corners[(i + 1) % n])];
    const half = Math.acos(back[0] * ahead[0] + back[1] * ahead[1]) / 2;
    const r = radii[i];
    const along = r / Math.tan(half);
    const middle: FlatPoint = [back[0] + ahead[0], back[1] + ahead[1]];
    const size = Math.hypot(...middle);
    const out = r / Math.sin(half);
    const on = (d: FlatPoint): FlatPoint => [at[0] + along * d[0], at[1] + along * d[1]];
    return { r, enter: on(back), leave: on(ahead), centre: [at[0] + (out * middle[0]) / size, at[1] + (out * middle[1]) / size] as FlatPoint };
  });
  return rounded.flatMap((c, i): PathPiece[] => {
    const next = rounded[(i + 1) % n];
    const line: PathPiece = { kind: 'line', from: c.leave, to: next.enter };
    const isThere = Math.hypot(line.to[0] - line.from[0], line.to[1] - line.from[1]) > 1e-9;
    const arc: PathPiece[] = c.r > 0 ? [{ kind: 'arc', from: c.enter, to: c.leave, centre: c.centre, ccw: true }] : [];
    return [...arc, ...(isThere ? [line] : [])];
  });
}

/** The corners of a parallelogram about its middle: its long sides along x, `deg` at the corner that cuts, which is the first one. */
export function parallelogram(length: number, width: number, deg: number): FlatPoint[] {
  const lean = width / Math.tan(radFromDeg(deg));
  const [x, y] = [(length + lean) / 2, width / 2];
  return [
    [-x, -y],
    [length - x, -y],
    [x, y],
    [x - length, y],
  ];
}
