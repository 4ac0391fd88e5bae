import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { say } from '#core/issues';
import { areaOfPath, circleAbout, type FlatPoint, flatDistance, lengthOfPiece, loopThrough, type PathPiece, rectangleOf, validateProfile } from '#core/outline';
import {
  bendPiece,
  chamferCorner,
  combineShape,
  deleteCorner,
  drawOver,
  filletCorner,
  flipOutline,
  meetPieces,
  mirrorAbout,
  moveOutline,
  nameCorners,
  namesInBox,
  nearestPlace,
  offsetPieces,
  scaleOutline,
  type Sketched,
  surfaceNames,
  turnOutline,
  withConstraint,
} from './index.ts';
import { worstOff } from './move-sketch.ts';

const of = (points: readonly FlatPoint[]): Sketched => {
  const profile = [loopThrough(points)];
  return { profile, sketch: nameCorners(profile) };
};
const taken = (r: ReturnType<typeof meetPieces>): Sketched => {
  if (!r.ok) throw new Error(r.issues.map(say).join());
  expect(validateProfile(r.value.profile, false)).toEqual([]);
  expect(r.value.sketch.names.map((n) => n.length)).toEqual(r.value.profile.map((l) => l.length));
  expect(new Set(r.value.sketch.names.flat()).size).toBe(r.value.sketch.names.flat().length);
  expect(worstOff(r.value.profile, r.value.sketch, false)).toBeLessThan(1e-6);
  return r.value;
};
const reason = (r: ReturnType<typeof meetPieces>): string => (r.ok ? 'taken' : say(r.issues[0]));
const area = ({ profile }: Sketched): number => profile.reduce((sum, loop) => sum + areaOfPath(loop), 0);
const around = ({ profile }: Sketched): number => profile.flat().reduce((sum, p) => sum + lengthOfPiece(p), 0);

// 40 by 20, its corners named c1 to c4 from the lower left one; pieces below, right, above, left.
const BLOCK = of([
  [0, 0],
  [40, 0],
  [40, 20],
  [0, 20],
]);
const rounded = (radius: number): Sketched =>
  ['c1', 'c2', 'c3', 'c4'].reduce((s, name) => {
    const r = filletCorner(s, name, radius);
    if (!r.ok) throw new Error(say(r.issues[0]));
    return r.value;
  }, BLOCK);

describe('pieces of an outline', () => {
  it('meet again where a corner was broken or rounded, and where something stood between', () => {
    for (const cut of [chamferCorner(BLOCK, 'c3', 3), filletCorner(BLOCK, 'c3', 3)]) {
      const met = taken(meetPieces(taken(cut), 'c2', 'c3'));
      expect(met.profile[0].length).toBe(4);
      expect(area(met)).toBeCloseTo(800, 9);
    }
    const stepped = of([
      [0, 0],
      [40, 0],
      [40, 10],
      [30, 10],
      [30, 20],
      [0, 20],
    ]);
    // The lower right face and the top, over the step: a whole block.
    expect(area(taken(meetPieces(stepped, 'c2', 'c5')))).toBeCloseTo(800, 9);
    expect(reason(meetPieces(BLOCK, 'c1', 'c3'))).toMatch(/do not meet, however far/);
    expect(reason(meetPieces(BLOCK, 'c1', 'c1'))).toMatch(/two pieces of one outline/);
  });
  it('keep their numbers where a corner is broken: each is said of the place that is still there', () => {
    let { sketch } = BLOCK;
    sketch = withConstraint(sketch, { id: 'l', kind: 'along', from: 'c1', to: 'c3', value: 40 });
    sketch = withConstraint(sketch, { id: 'd', kind: 'diameter', corner: 'c3', value: 40 });
    sketch = withConstraint(sketch, { id: 'h', kind: 'length', piece: 'c3', value: 40 });
    for (const cut of [chamferCorner({ ...BLOCK, sketch }, 'c3', 3), filletCorner({ ...BLOCK, sketch }, 'c3', 3)]) {
      const { constraints } = taken(cut).sketch;
      expect(constraints.flatMap((c) => ('value' in c && c.kind !== 'radius' ? [[c.kind, c.value]] : []))).toEqual([
        ['along', 40],
        ['diameter', 40],
        // The line itself is shorter.
        ['length', 37],
      ]);
    }
  });
  it('cut an arc back, and let it run on along its own circle', () => {
    const bent = bendPiece(BLOCK, 'c3');
    const at = nearestPlace(bent, [36, 30])?.place ?? [0, 0];
    const cut = taken(drawOver(bent, [{ kind: 'line', from: [40, 10], to: at }], false));
    expect(area(cut)).toBeLessThan(area(bent) - 10);
    expect(cut.profile[0].map((p) => p.kind)).toContain('arc');
    const [right, arc] = ['line', 'arc'].map((kind) => cut.sketch.names[0][cut.profile[0].findIndex((p) => p.kind === kind && p.from[0] > 30)]);
    expect(area(taken(meetPieces(cut, right, arc)))).toBeCloseTo(area(bent), 6);
  });
  it('move to the outside by an exact distance, all the way round and back', () => {
    const round = rounded(4);
    for (const d of [0.5, 3, -1.25, -3.9]) {
      const grown = taken(offsetPieces(round, surfaceNames(round, false), d));
      // Steiner: of a convex outline without corners.
      expect(area(grown)).toBeCloseTo(area(round) + around(round) * d + Math.PI * d * d, 9);
      expect(around(grown)).toBeCloseTo(around(round) + 2 * Math.PI * d, 9);
      // What was said of its radii followed.
      expect(grown.sketch.constraints.flatMap((c) => (c.kind === 'radius' ? [Math.round(c.value * 1e6) / 1e6] : []))).toEqual(
        Array(4).fill(Math.round((4 + d) * 1e6) / 1e6),
      );
      expect(area(taken(offsetPieces(grown, surfaceNames(grown, false), -d)))).toBeCloseTo(area(round), 9);
    }
    expect(reason(offsetPieces(round, surfaceNames(round, false), -4.5))).toMatch(/no radius left/);
    expect(reason(offsetPieces(BLOCK, surfaceNames(BLOCK, false), -11))).toMatch(/nothing would be left/);
  });
  it('moved alone, take their neighbours with them; what lies on the axis stays', () => {
    const higher = taken(offsetPieces(BLOCK, ['c3'], 2));
    expect(area(higher)).toBeCloseTo(40 * 22, 9);
    expect(surfaceNames(BLOCK, true)).toEqual(['c2', 'c3', 'c4']);
    const larger = taken(offsetPieces(BLOCK, surfaceNames(BLOCK, true), 1));
    expect(area(larger)).toBeCloseTo(42 * 21, 9);
    expect(Math.min(...larger.profile[0].map((p) => p.from[1]))).toBe(0);
  });
  it('are mirrored about a line to one outline, lines through it in one piece', () => {
    const half = of([
      [0, 0],
      [30, 0],
      [30, 5],
      [20, 9],
      [0, 9],
    ]);
    const whole = taken(mirrorAbout(half, 'c1'));
    expect(area(whole)).toBeCloseTo(2 * area(half), 9);
    // Both ends go through: six pieces, not eight.
    expect(whole.profile[0].length).toBe(6);
    const lowest = Math.min(...whole.profile[0].map((p) => p.from[1]));
    expect(lowest).toBe(-9);
    expect(reason(mirrorAbout(bendPiece(half, 'c3'), 'c3'))).toMatch(/about one of its lines/);
  });
  it('of one circle stay on it when the corner between them goes', () => {
    const disc: Sketched = { profile: [circleAbout([0, 0], [10, 0]).flatMap((p) => [p])], sketch: { names: [['a', 'b']], constraints: [] } };
    const third = taken(drawOver(disc, [{ kind: 'line', from: [0, 10], to: [-10, 0] }], false));
    expect(third.profile[0].length).toBe(3);
    const without = deleteCorner({ ...third, profile: [third.profile[0]] }, 'a');
    expect(without).toBeUndefined();
    const four = taken(drawOver(third, [{ kind: 'line', from: [0, -10], to: [10 * Math.cos(-0.3), 10 * Math.sin(-0.3)] }], false));
    const joined = deleteCorner(four, 'a');
    expect(joined && area(joined)).toBeCloseTo(area(four), 9);
  });
});

describe('drawing over an outline', () => {
  it('cuts a groove, adds a rib, and closes what is new', () => {
    const groove: PathPiece[] = [
      { kind: 'line', from: [25, 20], to: [25, 15] },
      { kind: 'line', from: [25, 15], to: [15, 15] },
      { kind: 'line', from: [15, 15], to: [15, 20] },
    ];
    expect(area(taken(drawOver(BLOCK, groove, false)))).toBeCloseTo(800 - 50, 9);
    const rib = groove.map((p): PathPiece => ({ kind: 'line', from: [p.from[0], 40 - p.from[1]], to: [p.to[0], 40 - p.to[1]] }));
    const ribbed = taken(drawOver(BLOCK, rib, false));
    expect(area(ribbed)).toBeCloseTo(800 + 50, 9);
    // As it was drawn: three pieces that are level or square, and both parts of the top still are what it was.
    expect(ribbed.sketch.constraints.map((c) => c.kind).sort()).toEqual(['horizontal', 'vertical', 'vertical']);
    const said = { ...BLOCK, sketch: withConstraint(BLOCK.sketch, { id: 'k', kind: 'horizontal', piece: 'c3' }) };
    expect(taken(drawOver(said, groove, false)).sketch.constraints.filter((c) => c.kind === 'horizontal').length).toBeGreaterThanOrEqual(2);
    const first = taken(
      drawOver(
        { profile: [], sketch: { names: [], constraints: [] } },
        loopThrough([
          [0, 0],
          [0, 5],
          [5, 5],
          [5, 0],
        ]),
        false,
      ),
    );
    expect(area(first)).toBe(25);
  });
  it('is refused where it does not end on the outline, has no length, or would cross it', () => {
    const line = (from: FlatPoint, to: FlatPoint): PathPiece[] => [{ kind: 'line', from, to }];
    expect(reason(drawOver(BLOCK, line([10, 20], [10, 15]), false))).toMatch(/begin and end on the outline/);
    expect(reason(drawOver(BLOCK, line([10, 20], [10, 20]), false))).toMatch(/no length/);
    expect(reason(drawOver(BLOCK, [...line([10, 20], [10, -5]), ...line([10, -5], [20, 20])], false))).toMatch(/cross itself/);
    expect(reason(drawOver(BLOCK, [...line([10, 0], [10, -5]), ...line([10, -5], [20, 0])], true))).toMatch(/other side of the axis/);
  });
  it('takes rectangles and circles away, or adds them, wherever they cross once in and once out', () => {
    const groove = rectangleOf([15, 15], [25, 26]);
    expect(area(taken(combineShape(BLOCK, groove, true, false)))).toBeCloseTo(750, 9);
    expect(area(taken(combineShape(BLOCK, groove, false, false)))).toBeCloseTo(800 + 60, 9);
    // With a side on the surface, as one draws it.
    expect(area(taken(combineShape(BLOCK, rectangleOf([15, 15], [25, 20]), true, false)))).toBeCloseTo(750, 9);
    expect(area(taken(combineShape(BLOCK, rectangleOf([15, 20], [25, 26]), false, false)))).toBeCloseTo(860, 9);
    const dot = circleAbout([20, 20], [25, 20]);
    expect(area(taken(combineShape(BLOCK, dot, true, false)))).toBeCloseTo(800 - (Math.PI * 25) / 2, 9);
    expect(area(taken(combineShape(BLOCK, dot, false, false)))).toBeCloseTo(800 + (Math.PI * 25) / 2, 9);
    expect(reason(combineShape(BLOCK, circleAbout([20, 10], [25, 10]), true, false))).toMatch(/no way out/);
    expect(reason(combineShape(BLOCK, circleAbout([20, 50], [25, 50]), true, false))).toMatch(/outside the outline/);
    expect(reason(combineShape(BLOCK, rectangleOf([15, -5], [25, 25]), true, false))).toMatch(/more than twice/);
    // Down to the axis: its end is shorter.
    expect(area(taken(combineShape(BLOCK, rectangleOf([35, 0], [45, 25]), true, true)))).toBeCloseTo(35 * 20, 9);
  });
  it('takes a corner off anywhere, by area', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 18, noNaN: true }), fc.double({ min: 1, max: 38, noNaN: true }), (h, w) => {
        const cut = taken(combineShape(BLOCK, rectangleOf([40 - w, 20 - h], [50, 30]), true, false));
        expect(area(cut)).toBeCloseTo(800 - w * h, 5);
      }),
      { numRuns: 40 },
    );
  });
});

describe('all of an outline', () => {
  const said = (s: Sketched): Sketched => {
    let { sketch } = s;
    const all = [
      { kind: 'horizontal', piece: 'c3' },
      { kind: 'vertical', piece: 'c2' },
      { kind: 'length', piece: 'c2', value: flatDistance(s.profile[0][1].from, s.profile[0][1].to) },
      { kind: 'along', from: 'c1', to: 'c2', value: 40 },
      { kind: 'across', from: 'c2', to: 'c3', value: 20 },
      { kind: 'fixed', corner: 'c1', at: [0, 0] },
      { kind: 'perpendicular', first: 'c1', second: 'c2' },
      { kind: 'equal', first: 'c1', second: 'c3' },
      { kind: 'angle', piece: 'c4', value: 90 },
    ] as const;
    for (const [i, c] of all.entries()) sketch = withConstraint(sketch, { ...c, id: `k${i}` });
    return { profile: s.profile, sketch };
  };
  it('turned, flipped, moved and scaled keeps what is true of it, in new numbers', () => {
    const start = said(BLOCK);
    expect(worstOff(start.profile, start.sketch, false)).toBeLessThan(1e-9);
    for (const [made, size] of [
      [turnOutline(start), 800],
      [flipOutline(start), 800],
      [moveOutline(start, [3, -7]), 800],
      [scaleOutline(start, 2.5), 5000],
      [turnOutline(flipOutline(turnOutline(start))), 800],
    ] as const) {
      expect(area(made)).toBeCloseTo(size, 6);
      expect(made.sketch.constraints.length).toBe(9);
      expect(worstOff(made.profile, made.sketch, false)).toBeLessThan(1e-6);
    }
    const twice = flipOutline(flipOutline(start));
    expect(twice).toEqual(start);
    const [lowX, highX] = [Math.min, Math.max].map((f) => f(...turnOutline(start).profile[0].map((p) => p.from[0])));
    expect([lowX, highX + 0]).toEqual([-20, 0]);
  });
  it('is chosen in a box: what it encloses, or what it touches', () => {
    expect(namesInBox(BLOCK, [-1, -1, 41, 5], false)).toEqual({ corners: ['c1', 'c2'], pieces: ['c1'] });
    expect(namesInBox(BLOCK, [-1, -1, 41, 5], true)).toEqual({ corners: ['c1', 'c2'], pieces: ['c1', 'c2', 'c4'] });
    expect(namesInBox(BLOCK, [10, 5, 20, 15], true)).toEqual({ corners: [], pieces: [] });
    // An arc by its own run, not by its ends.
    const round = rounded(9);
    expect(namesInBox(round, [30, 10, 36, 15], true).pieces).toEqual([]);
    expect(namesInBox(round, [36, 14, 40, 20], true).pieces.length).toBe(1);
  });
});
