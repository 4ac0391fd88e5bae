import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { flatDistance, type HalfProfile, loopThrough, profileVolume, validateProfile } from '#core/outline';
import { bendPiece, chamferCorner, deleteCorner, filletCorner, nameCorners, type Sketched, SketchSolver, splitPiece, withConstraint } from './index.ts';

let solver: SketchSolver;
beforeAll(async () => {
  solver = await SketchSolver.load();
});

const SHAFT: HalfProfile = [
  loopThrough([
    [0, 0],
    [40, 0],
    [40, 6],
    [15, 6],
    [15, 10],
    [0, 10],
  ]),
];
const VOLUME = Math.PI * (100 * 15 + 36 * 25);
const start = (): Sketched => ({ profile: SHAFT, sketch: nameCorners(SHAFT) });
const good = (s: Sketched): Sketched => {
  expect(validateProfile(s.profile)).toEqual([]);
  expect(s.sketch.names.map((n) => n.length)).toEqual(s.profile.map((l) => l.length));
  expect(new Set(s.sketch.names.flat()).size).toBe(s.sketch.names.flat().length);
  return s;
};

describe('changes of an outline by hand', () => {
  it('round a corner by a tangent arc, which keeps its radius when other things move', () => {
    // The outer corner at z 15, diameter 20, and the inner one at diameter 12.
    for (const name of ['c5', 'c4']) {
      const r = filletCorner(start(), name, 2);
      if (!r.ok) throw new Error(r.issues.map(say).join());
      const made = good(r.value);
      // A quarter of a circle in a square of 2, by Pappus.
      const corner = (1 - Math.PI / 4) * 4;
      const middle = 2 / (6 * (1 - Math.PI / 4));
      const at = name === 'c5' ? 10 - 2 + middle : 6 + 2 - middle;
      expect(profileVolume(made.profile)).toBeCloseTo(VOLUME + (name === 'c5' ? -1 : 1) * 2 * Math.PI * corner * at, 6);
      const wider = solver.solve(made.profile, withConstraint(made.sketch, { id: 'd', kind: 'diameter', corner: 'c6', value: 26 }));
      if (!wider.ok) throw new Error(wider.issues.map(say).join());
      const arc = wider.value.profile[0].find((p) => p.kind === 'arc');
      expect(arc?.kind === 'arc' && flatDistance(arc.from, arc.centre)).toBeCloseTo(2, 6);
    }
  });
  it('break a corner, split a piece, delete a corner, bend and straighten: the outline stays good', () => {
    const broken = chamferCorner(start(), 'c6', 1);
    if (!broken.ok) throw new Error('it is broken');
    // Less a ring with a triangle of 1 by 1, whose middle is at 10 less a third.
    expect(profileVolume(good(broken.value).profile)).toBeCloseTo(VOLUME - 2 * Math.PI * 0.5 * (10 - 1 / 3), 6);
    const split = good(splitPiece(start(), 'c3'));
    expect(split.profile[0]).toHaveLength(7);
    expect(profileVolume(split.profile)).toBeCloseTo(VOLUME, 9);
    const back = deleteCorner(split, split.sketch.names[0][3]);
    expect(back && profileVolume(good(back).profile)).toBeCloseTo(VOLUME, 9);
    const bent = good(bendPiece(start(), 'c3'));
    expect(profileVolume(bent.profile)).toBeGreaterThan(VOLUME);
    expect(profileVolume(good(bendPiece(bent, 'c3')).profile)).toBeCloseTo(VOLUME, 9);
  });
  it('keep what is said of what stays, and drop what is said of what goes', () => {
    const said = {
      ...start(),
      sketch: withConstraint(withConstraint(nameCorners(SHAFT), { id: 'k1', kind: 'length', piece: 'c3', value: 25 }), {
        id: 'k2',
        kind: 'diameter',
        corner: 'c6',
        value: 20,
      }),
    };
    expect(splitPiece(said, 'c3').sketch.constraints.map((c) => c.id)).toEqual(['k2']);
    expect(deleteCorner(said, 'c6')?.sketch.constraints.map((c) => c.id)).toEqual(['k1']);
    expect(withConstraint(said.sketch, { id: 'k3', kind: 'length', piece: 'c3', value: 30 }).constraints.map((c) => c.id)).toEqual(['k2', 'k3']);
  });
  it('are refused in words where they cannot be', () => {
    const much = filletCorner(start(), 'c4', 9);
    expect(!much.ok && say(much.issues[0])).toMatch(/4\.000 mm long, and it would take 9\.000/);
    expect(filletCorner(start(), 'gone', 1).ok).toBe(false);
    const bent = bendPiece(start(), 'c3');
    expect(chamferCorner(bent, 'c3', 1).ok).toBe(false);
    const triangle = [
      loopThrough([
        [0, 0],
        [5, 0],
        [0, 5],
      ]),
    ];
    expect(deleteCorner({ profile: triangle, sketch: nameCorners(triangle) }, 'c2')).toBeUndefined();
  });
});
