import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { areaOfPath, type FlatPoint, flatDistance, loopThrough, nearestOnPiece, type PathPiece } from '#core/outline';
import { chordsToArcs } from './chords.ts';

const on = (centre: FlatPoint, radius: number, deg: number): FlatPoint => [
  centre[0] + radius * Math.cos((deg * Math.PI) / 180),
  centre[1] + radius * Math.sin((deg * Math.PI) / 180),
];
const through = (points: readonly FlatPoint[]): PathPiece[] => points.slice(1).map((to, i) => ({ kind: 'line', from: points[i], to }));
// As files have them: so many digits after the point.
const rounded = (points: readonly FlatPoint[], digits: number): FlatPoint[] => points.map(([x, y]) => [Number(x.toFixed(digits)), Number(y.toFixed(digits))]);

describe('arcs that were drawn by short lines', () => {
  it('are arcs again, the lines beside them stay', () => {
    const ball = Array.from({ length: 19 }, (_, i) => on([30, 0], 8, 90 - 5 * i));
    const { path, lines, arcs } = chordsToArcs(through(rounded([[0, 0], [0, 8], ...ball], 3)));
    expect([lines, arcs]).toEqual([18, 1]);
    expect(path.map((p) => p.kind)).toEqual(['line', 'line', 'arc']);
    const [, , arc] = path;
    if (arc.kind !== 'arc') throw new Error('it is one');
    expect(flatDistance(arc.centre, [30, 0])).toBeLessThan(2e-3);
    expect(arc.ccw).toBe(false);
  });
  it('of more than half a turn come as halves that fit, two that follow each other as two', () => {
    const round = Array.from({ length: 61 }, (_, i) => on([0, 0], 12, 5 * i));
    const one = chordsToArcs(through(round));
    expect(one.path.map((p) => p.kind)).toEqual(['arc', 'arc']);
    const s = [
      ...Array.from({ length: 13 }, (_, i) => on([0, 0], 10, 90 - 7.5 * i)),
      ...Array.from({ length: 13 }, (_, i) => on([15, 0], 5, 180 + 7.5 * i)).slice(1),
    ];
    expect(chordsToArcs(through(s)).path.map((p) => p.kind === 'arc' && p.ccw)).toEqual([false, true]);
  });
  it('are not made of octagons, of unlike lines, of few lines, or of what lies on no circle', () => {
    const octagon = loopThrough(Array.from({ length: 8 }, (_, i) => on([0, 0], 10, 45 * i)));
    expect(chordsToArcs(octagon).path).toEqual(octagon);
    const few = through(Array.from({ length: 5 }, (_, i) => on([0, 0], 10, 5 * i)));
    expect(chordsToArcs(few).path).toEqual(few);
    const unlike = through([0, 3, 12, 14, 25, 27, 40].map((deg) => on([0, 0], 10, deg)));
    expect(chordsToArcs(unlike).path).toEqual(unlike);
  });
  it('stay on every corner of what is no circle', () => {
    const points = Array.from({ length: 60 }, (_, i): FlatPoint => [20 * Math.cos(i / 20), 12 * Math.sin(i / 20)]);
    const { path } = chordsToArcs(through(points));
    for (const p of points) expect(Math.min(...path.map((piece) => nearestOnPiece(piece, p).away))).toBeLessThan(4e-3);
  });
  it('take up what the circle does, whatever its size, start and step', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 80, noNaN: true }),
        fc.double({ min: 0, max: 360, noNaN: true }),
        fc.integer({ min: 8, max: 40 }),
        (radius, from, count) => {
          const points = Array.from({ length: count + 1 }, (_, i) => on([7, -3], radius, from + (170 * i) / count));
          if (170 / count > 15) return;
          const { path } = chordsToArcs(through(points));
          const closed: PathPiece[] = [...path, { kind: 'line', from: points[count], to: points[0] }];
          const sweep = (170 * Math.PI) / 180;
          expect(areaOfPath(closed)).toBeCloseTo((radius ** 2 * (sweep - Math.sin(sweep))) / 2, 4);
        },
      ),
    );
  });
});
