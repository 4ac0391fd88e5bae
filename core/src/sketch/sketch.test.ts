import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { say } from '#core/issues';
import { type FlatPoint, flatDistance, type HalfProfile, loopThrough, placeOnPiece, validateProfile } from '#core/outline';
import { filletCorner, moveSketch, nameCorners, type Sketch, type Sketched, type SketchConstraint, SketchSolver } from './index.ts';
import { worstOff } from './move-sketch.ts';

let solver: SketchSolver;
beforeAll(async () => {
  solver = await SketchSolver.load();
});

// Drawn by hand: a step of about 10 by 6 before a shank of about 20, all a little crooked.
const CROOKED: HalfProfile = [
  loopThrough([
    [0, 0],
    [31, 0],
    [30.2, 5.8],
    [20.3, 6.3],
    [19.7, 9.6],
    [0.4, 10.3],
  ]),
];
const NAMES = [['a', 'b', 'c', 'd', 'e', 'f']];
const sketch = (constraints: readonly SketchConstraint[], names: Sketch['names'] = NAMES): Sketch => ({ names, constraints });
// Straight in both ways, all the way round.
const SQUARE: SketchConstraint[] = [
  { id: '1', kind: 'vertical', piece: 'b' },
  { id: '2', kind: 'horizontal', piece: 'c' },
  { id: '3', kind: 'vertical', piece: 'd' },
  { id: '4', kind: 'horizontal', piece: 'e' },
  { id: '5', kind: 'vertical', piece: 'f' },
];
const SIZES: SketchConstraint[] = [
  { id: '6', kind: 'fixed', corner: 'a', at: [0, 0] },
  { id: '7', kind: 'length', piece: 'c', value: 10 },
  { id: '8', kind: 'along', from: 'f', to: 'e', value: 20 },
  { id: '9', kind: 'diameter', corner: 'c', value: 12 },
  { id: '10', kind: 'diameter', corner: 'f', value: 20 },
];
const solved = (profile: HalfProfile, s: Sketch) => {
  const r = solver.solve(profile, s);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  expect(validateProfile(r.value.profile)).toEqual([]);
  return r.value;
};
const dragged = (profile: HalfProfile, s: Sketch, ...drags: { corner: string; to: FlatPoint }[]): HalfProfile => {
  const moved = moveSketch(profile, s, drags, true);
  if (!moved) throw new Error('it does not come to an end');
  return moved;
};
const cornersOf = (profile: HalfProfile) => profile[0].map((p) => p.from.map((v) => Math.round(v * 1e6) / 1e6 + 0));
const EXACT = [
  [0, 0],
  [30, 0],
  [30, 6],
  [20, 6],
  [20, 10],
  [0, 10],
];

describe('an outline with constraints', () => {
  it('becomes what is said of it, and counts the ways in which it still can move', () => {
    // Six corners, two of them on the axis: ten ways.
    expect(solved(CROOKED, sketch([])).freedoms).toBe(10);
    expect(solved(CROOKED, sketch(SQUARE)).freedoms).toBe(5);
    const all = solved(CROOKED, sketch([...SQUARE, ...SIZES]));
    expect(all.freedoms).toBe(0);
    expect(cornersOf(all.profile)).toEqual(EXACT);
  });
  it('moves as little as it takes', () => {
    const { profile } = solved(CROOKED, sketch(SQUARE));
    for (const [i, p] of profile[0].entries()) expect(flatDistance(p.from, CROOKED[0][i].from)).toBeLessThan(1);
  });
  it('keeps arcs arcs: a fillet of its radius, tangent on both sides', () => {
    const filleted: HalfProfile = [
      [
        { kind: 'line', from: [0, 0], to: [30, 0] },
        { kind: 'line', from: [30, 0], to: [30, 5.9] },
        { kind: 'line', from: [30, 5.9], to: [22, 6.2] },
        { kind: 'arc', from: [22, 6.2], to: [19.8, 8.3], centre: [22.05, 8.4], ccw: false },
        { kind: 'line', from: [19.8, 8.3], to: [20, 12] },
        { kind: 'line', from: [20, 12], to: [0, 12] },
        { kind: 'line', from: [0, 12], to: [0, 0] },
      ],
    ];
    const s = sketch(
      [
        { id: '1', kind: 'horizontal', piece: 'c' },
        { id: '2', kind: 'vertical', piece: 'e' },
        { id: '3', kind: 'tangent', first: 'c', second: 'd' },
        { id: '4', kind: 'tangent', first: 'd', second: 'e' },
        { id: '5', kind: 'radius', piece: 'd', value: 2.5 },
      ],
      [['a', 'b', 'c', 'd', 'e', 'f', 'g']],
    );
    const arc = solved(filleted, s).profile[0][3];
    if (arc.kind !== 'arc') throw new Error('it stays an arc');
    expect(flatDistance(arc.from, arc.centre)).toBeCloseTo(2.5, 6);
    expect(flatDistance(arc.to, arc.centre)).toBeCloseTo(2.5, 6);
    // Below and beside its centre: a quarter.
    expect([arc.from[0] - arc.centre[0], arc.to[1] - arc.centre[1]]).toEqual([expect.closeTo(0, 6), expect.closeTo(0, 6)]);
    expect(placeOnPiece(arc, 0.5)[0]).toBeLessThan(arc.centre[0]);
  });
  it('says which two contradict each other, and what says nothing new', () => {
    const twice = solver.solve(
      CROOKED,
      sketch([...SQUARE, { id: 'x', kind: 'diameter', corner: 'c', value: 12 }, { id: 'y', kind: 'diameter', corner: 'd', value: 14 }]),
    );
    expect(!twice.ok && say(twice.issues[0])).toMatch(/diameter 12 and diameter 14|along the axis and diameter/);
    expect(solved(CROOKED, sketch([...SQUARE, { id: 'x', kind: 'parallel', first: 'c', second: 'e' }])).redundant.length).toBe(1);
    // What is about something that is gone is not asked.
    expect(solved(CROOKED, sketch([{ id: 'x', kind: 'length', piece: 'gone', value: 5 }])).freedoms).toBe(10);
  });
  it('holds what is said of corners that stay where they are against that, without the solver', () => {
    const stays: SketchConstraint = { id: 's', kind: 'fixed', corner: 'c', at: [30, 6] };
    const agreed = solved(CROOKED, sketch([...SQUARE, stays, { id: 'x', kind: 'diameter', corner: 'c', value: 12 }]));
    expect(agreed.redundant).toEqual(['x']);
    const wrong = solver.solve(CROOKED, sketch([...SQUARE, stays, { id: 'x', kind: 'diameter', corner: 'c', value: 30 }]));
    expect(!wrong.ok && say(wrong.issues[0])).toMatch(/diameter 30 and a corner that stays/);
    const both: SketchConstraint[] = [stays, { id: 't', kind: 'fixed', corner: 'd', at: [20, 6] }];
    for (const c of [
      { id: 'x', kind: 'length', piece: 'c', value: 10 },
      { id: 'x', kind: 'along', from: 'c', to: 'd', value: 10 },
      { id: 'x', kind: 'across', from: 'c', to: 'd', value: 0 },
      { id: 'x', kind: 'horizontal', piece: 'c' },
      { id: 'x', kind: 'angle', piece: 'c', value: 180 },
    ] as SketchConstraint[])
      expect([c.kind, solved(CROOKED, sketch([...both, c])).redundant]).toEqual([c.kind, ['x']]);
    expect(solver.solve(CROOKED, sketch([...both, { id: 'x', kind: 'vertical', piece: 'c' }])).ok).toBe(false);
  });
  it('follows a corner that is dragged as far as it may', () => {
    const s = sketch([...SQUARE, ...SIZES.filter((c) => c.id !== '8')]);
    const [, , , , e] = cornersOf(dragged(solved(CROOKED, s).profile, s, { corner: 'e', to: [24, 15] }));
    expect(e[1]).toBeCloseTo(10, 4);
    expect(e[0]).toBeCloseTo(24, 2);
  });
  it('does not jump to another solution when a number changes, a little or much', () => {
    // A rod of two lines from a fixed corner: the elbow stays on its side.
    const rod: HalfProfile = [
      loopThrough([
        [0, 0],
        [40, 0],
        [22, 15],
      ]),
    ];
    const s = sketch(
      [
        { id: 'f', kind: 'fixed', corner: 'a', at: [0, 0] },
        { id: 'g', kind: 'fixed', corner: 'b', at: [40, 0] },
        { id: 'l', kind: 'length', piece: 'b', value: 24 },
        { id: 'm', kind: 'length', piece: 'c', value: 27 },
      ],
      [['a', 'b', 'c']],
    );
    const start = solved(rod, s).profile;
    fc.assert(
      fc.property(fc.double({ min: 17, max: 60, noNaN: true }), (value) => {
        const r = solver.change(start, s, 'm', value);
        if (!r.ok) throw new Error(r.issues.map(say).join());
        const elbow = r.value.profile[0][2].from;
        expect(elbow[1]).toBeGreaterThan(0);
        expect(Math.hypot(...elbow)).toBeCloseTo(value, 5);
        expect(Math.hypot(elbow[0] - 40, elbow[1])).toBeCloseTo(24, 5);
      }),
      { numRuns: 40 },
    );
    // Longer than both together: it cannot be.
    expect(solver.change(start, s, 'm', 90).ok).toBe(false);
  });
  it('an angle to the axis is kept in the sense that is drawn', () => {
    const { profile } = solved(CROOKED, sketch([{ id: 'x', kind: 'angle', piece: 'd', value: 100 }]));
    const d = profile[0][3];
    const deg = (Math.atan2(d.to[1] - d.from[1], d.to[0] - d.from[0]) * 180) / Math.PI;
    expect(deg).toBeCloseTo(100, 5);
  });
  it('follows a hand with hundreds of pieces, and agrees with the solver on what is true', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1000 }),
        fc.double({ min: -1.5, max: 1.5, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (pick, dx, dy) => {
          const made = zigzag(24);
          const arcs = made.profile[0].filter((p) => p.kind === 'arc').length;
          const corners = made.sketch.names[0].filter((_, i) => made.profile[0][i].from[1] > 0);
          const corner = corners[pick % corners.length];
          const at = made.profile[0][made.sketch.names[0].indexOf(corner)].from;
          const moved = dragged(made.profile, made.sketch, { corner, to: [at[0] + dx, at[1] + dy] });
          expect(worstOff(moved, made.sketch, true)).toBeLessThan(1e-5);
          const judged = solver.solve(moved, made.sketch);
          if (!judged.ok) throw new Error(say(judged.issues[0]));
          // What the solver makes of it is the same place: there was nothing left to move.
          for (const [i, p] of moved[0].entries()) expect(flatDistance(p.from, judged.value.profile[0][i].from)).toBeLessThan(1e-4);
          expect(judged.value.freedoms).toBe(corners.length * 2 + 2 + arcs - made.sketch.constraints.length);
        },
      ),
      { numRuns: 12 },
    );
  });
  it('says no number of ways where there is too much to count, and keeps what is said all the same', () => {
    const made = zigzag(170);
    const said = solver.solve(made.profile, made.sketch);
    if (!said.ok) throw new Error(say(said.issues[0]));
    expect(said.value.freedoms).toBeNull();
    expect(worstOff(said.value.profile, made.sketch, true)).toBeLessThan(1e-5);
  });
});

// A rod with so many peaks, each rounded with what is said of a rounding.
function zigzag(peaks: number): Sketched {
  const outside = Array.from({ length: peaks }, (_, i): FlatPoint => [4 * (peaks - i), i % 2 ? 14 + (i % 5) : 8 + (i % 3)]);
  const profile = [loopThrough([[0, 0], [4 * peaks, 0], ...outside, [0, 8]])];
  let made: Sketched = { profile, sketch: nameCorners(profile) };
  for (const name of made.sketch.names[0].slice(3, -1)) {
    const rounded = filletCorner(made, name, 0.3);
    if (rounded.ok) made = rounded.value;
  }
  return made;
}
