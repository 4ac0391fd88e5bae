import { type FlatPoint, flatDistance, type PathPiece } from '#core/outline';
import { type Affine, circleScale, isMirror, mapPoint } from './affine.ts';
import { pointsOfEllipse } from './curves.ts';
import type { Drawn } from './drawing.ts';

/** mm. How far chords of splines and ellipses may be off them: a tenth of what a drawing is right within. */
export const CURVE_SAG = 0.001;

/** What an entity is drawn on and with. */
export interface Pen {
  readonly layer: number;
  readonly entity: number;
  readonly isCentreLine: boolean;
}

/** Takes entities in their own coordinates and keeps them as lines and arcs in mm. */
export class PieceSink {
  readonly drawn: Drawn[] = [];

  line(from: FlatPoint, to: FlatPoint, map: Affine, pen: Pen): void {
    this.put({ kind: 'line', from: mapPoint(map, from), to: mapPoint(map, to) }, pen, false);
  }

  /** An arc about a centre, counter-clockwise from one angle (rad) to a larger one; a circle as two halves. */
  arc(centre: FlatPoint, radius: number, start: number, end: number, map: Affine, pen: Pen): void {
    const scale = circleScale(map);
    if (scale === undefined) {
      const axes = [
        [radius, 0],
        [0, radius],
      ] as const;
      this.ellipse(centre, axes[0], axes[1], start, end, map, pen);
      return;
    }
    const at = (t: number): FlatPoint => mapPoint(map, [centre[0] + radius * Math.cos(t), centre[1] + radius * Math.sin(t)]);
    const parts = end - start > Math.PI * 1.5 ? 2 : 1;
    for (let i = 0; i < parts; i++) {
      const [t0, t1] = [start + ((end - start) * i) / parts, start + ((end - start) * (i + 1)) / parts];
      this.put({ kind: 'arc', from: at(t0), to: at(t1), centre: mapPoint(map, centre), ccw: !isMirror(map) }, pen, false);
    }
  }

  /** From one point to the next; the bulge is the tangent of a quarter of the arc's sweep, positive counter-clockwise. */
  bulge(from: FlatPoint, to: FlatPoint, bulge: number, map: Affine, pen: Pen): void {
    const chord = flatDistance(from, to);
    if (bulge === 0 || chord === 0) {
      this.line(from, to, map, pen);
      return;
    }
    const h = (1 - bulge * bulge) / (4 * bulge);
    const centre: FlatPoint = [(from[0] + to[0]) / 2 - h * (to[1] - from[1]), (from[1] + to[1]) / 2 + h * (to[0] - from[0])];
    if (circleScale(map) !== undefined) {
      this.put({ kind: 'arc', from: mapPoint(map, from), to: mapPoint(map, to), centre: mapPoint(map, centre), ccw: bulge > 0 !== isMirror(map) }, pen, false);
      return;
    }
    const angleOf = (p: FlatPoint) => Math.atan2(p[1] - centre[1], p[0] - centre[0]);
    const [a, b] = bulge > 0 ? [angleOf(from), angleOf(to)] : [angleOf(to), angleOf(from)];
    this.arc(centre, flatDistance(from, centre), a, b > a ? b : b + 2 * Math.PI, map, pen);
  }

  ellipse(centre: FlatPoint, first: FlatPoint, second: FlatPoint, start: number, end: number, map: Affine, pen: Pen): void {
    const along = (v: FlatPoint): FlatPoint => [map[0] * v[0] + map[2] * v[1], map[1] * v[0] + map[3] * v[1]];
    this.curve(pointsOfEllipse(mapPoint(map, centre), along(first), along(second), start, end, CURVE_SAG), pen);
  }

  /** Points along a curve, in mm. */
  curve(points: readonly FlatPoint[], pen: Pen): void {
    for (let i = 1; i < points.length; i++) this.put({ kind: 'line', from: points[i - 1], to: points[i] }, pen, true);
  }

  private put(piece: PathPiece, { layer, entity, isCentreLine }: Pen, isCurve: boolean): void {
    this.drawn.push({ piece, layer, entity, isCurve, isCentreLine });
  }
}
