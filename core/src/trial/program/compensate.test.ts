import { describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import type { FlatPoint } from '#core/outline';
import { compensated, type Move, type Nose, readProgram } from '../index.ts';

// Outside turning towards the chuck: the virtual tip lies towards the chuck and the axis from the nose centre.
const NOSE: Nose = { radius: 0.8, point: [-1, -1] };
function run(text: string, nose: Nose | undefined = NOSE) {
  const read = readProgram(`T1\n${text}`, 'p.nc', {
    diameters: false,
    unit: 'mm',
    toolDigits: 2,
    offsetDigits: 2,
    toolOf: () => ({ carrier: 'turret', home: [100, 100], point: [0, 0], standsOn: ['turret'] }),
    zeros: {},
    waits: [100, 199],
  });
  if (!read.ok) throw new Error(read.issues.map(say).join());
  return compensated(read.value.steps, 'p.nc', () => nose);
}
const moves = (text: string, nose?: Nose): Move[] => {
  const done = run(text, nose);
  if (!done.ok) throw new Error(done.issues.map(say).join());
  return done.value.filter((s): s is Move => s.kind === 'move');
};
const near = (p: FlatPoint) => [expect.closeTo(p[0], 9), expect.closeTo(p[1], 9)];
const places = (all: readonly Move[]) => all.map((m) => m.path.to);

describe('compensation of the nose radius', () => {
  it('along the axes the virtual tip stays on the contour; only where it begins and ends does the nose stand beside it', () => {
    // A shoulder: along the axis to the chuck, then out. The contour is on the left of the way: the tool on its right.
    const all = moves('G0 X20. Z5.\nG42 G1 X15. Z2. F0.1\nZ-20.\nX25.\nG40 G0 X30. Z5.');
    expect(places(all)).toEqual([near([5, 20]), near([2 - 0.8, 15]), near([-20, 15]), near([-20, 25 - 0.8]), near([5, 30])]);
  });
  it('keeps the nose on a taper, and rolls it round an outer corner', () => {
    // Outwards at 45 degrees, then along: a corner that stands out.
    const all = moves('G0 X5. Z5.\nG42 G1 X5. Z0. F0.1\nX15. Z-10.\nZ-20.\nG40 G0 X30.');
    // The nose centre square to the taper, and its virtual tip from there.
    const off = 0.8 / Math.SQRT2;
    expect(all[1].path.to).toEqual(near([0 + off - 0.8, 5 + off - 0.8]));
    expect(all[2].path.to).toEqual(near([-10 + off - 0.8, 15 + off - 0.8]));
    expect(all[3].path).toMatchObject({ kind: 'arc', ccw: true, centre: near([-10 - 0.8, 15 - 0.8]) });
    expect(all[3].path.to).toEqual(near([-10 - 0.8, 15 + 0.8 - 0.8]));
    expect(all[4].path.to).toEqual(near([-20 - 0.8, 15]));
  });
  it('stops where the nose fits in an inner corner, and makes arcs larger or smaller by it', () => {
    // Along, then outwards at 45 degrees: the nose touches both where the two ways of its centre cross.
    const all = moves('G0 X12. Z5.\nG42 G1 X10. Z0. F0.1\nZ-10.\nX20. Z-20.\nG40 G0 X30.');
    const centre = [all[2].path.to[0] + 0.8, all[2].path.to[1] + 0.8];
    expect(centre[1]).toBeCloseTo(10.8, 9);
    // Distance from the line z + x = 0 through [-10, 10].
    expect((centre[0] + centre[1]) / Math.SQRT2).toBeCloseTo(0.8, 9);
    const round = moves('G0 X12. Z5.\nG42 G1 X10. Z0. F0.1\nZ-10.\nG2 X15. Z-15. R5.\nG3 X20. Z-20. R5.\nG40 G0 X30.');
    const radii = round.flatMap(({ path: p }) => (p.kind === 'arc' ? [Math.hypot(p.from[0] - p.centre[0], p.from[1] - p.centre[1])] : []));
    expect(radii).toEqual([expect.closeTo(4.2, 9), expect.closeTo(5.8, 9)]);
    // On the other side it is the other way round; a tool that is told by its nose centre is not shifted.
    const left = moves('G0 X12. Z5.\nG41 G1 X10. Z0. F0.1\nZ-10.\nG40 G0 X30.', { radius: 0.8, point: [0, 0] });
    expect(left[1].path.to).toEqual(near([0, 9.2]));
  });
  it.each([
    ['G42 G2 X10. Z0. R200. F0.1\nG1 Z-10.\nG40 G0 X30.', /begins with an arc/],
    ['G42 G1 X10. Z0. F0.1\nG40 G0 X30.', /ends before the contour begins/],
    ['G42 G1 X10. Z0. F0.1\nZ-10.\nG2 X10.5 Z-10.5 R.5\nG1 X20.\nG40 G0 X30.', /its arc is smaller than the nose of 0\.8 mm/],
    ['G42 G1 X10. Z0. F0.1\nZ-10.\nX10.1\nZ-5.\nG40 G0 X30.', /shorter than the nose needs|narrower/],
    ['G42 G1 X10. Z0. F0.1\nZ-10.\nG40 G2 X15. Z-15. R20.', /G40 with an arc/],
  ])('%j is refused with its line', (text, message) => {
    const done = run(`G0 X12. Z5.\n${text}`);
    expect(done.ok ? 'taken' : done.issues.map(say).join()).toMatch(message);
  });
  it('goes on from where the nose stands when the side changes, and refuses another tool on the way', () => {
    const all = moves('G0 X12. Z5.\nG42 G1 X10. Z0. F0.1\nZ-10.\nG41 G1 X10. Z-12.\nZ-20.\nG40 G0 X30.');
    for (const [i, m] of all.entries()) if (i > 0) expect(near(m.path.from)).toEqual(all[i - 1].path.to);
    const done = run('G0 X12. Z5.\nG42 G1 X10. Z0. F0.1\nZ-10.\nT2\nZ-20.\nX12.\nG40 G0 X30.');
    expect(done.ok ? 'taken' : done.issues.map(say).join()).toMatch(/line 6: .* another tool came while it held/);
  });
  it('a tool of whose nose nothing is known is not guessed', () => {
    const done = compensated(
      [
        {
          kind: 'move',
          line: 7,
          isRapid: true,
          path: { kind: 'line', from: [0, 0], to: [1, 1] },
          tool: 1,
          offset: 1,
          feed: undefined,
          spindle: { sense: null, mode: 'speed', value: 0, limit: undefined },
          side: 'left',
        },
      ],
      'p.nc',
      () => undefined,
    );
    expect(done.ok ? '' : done.issues.map(say).join()).toMatch(/line 7: .* nothing is known of its nose/);
  });
});
