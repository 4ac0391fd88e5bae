import { readWords } from '#core/components';
import { describe, expect, it } from '@jest/globals';
import type { FlatPoint } from '#core/outline';
import { reachOf, suitsMissing } from '#core/trial';
import { bar, OUTSIDE, place, plain, settingOf } from './trial-for-tests.ts';

describe('reach', () => {
  const spigot: FlatPoint[] = [
    [0, 0],
    [0, 25],
    [-40, 25],
    [-40, 30],
    [-60, 30],
    [-60, 0],
  ];
  const of = async (points: FlatPoint[]) => reachOf(await settingOf({ ...OUTSIDE, contour: { points } }));
  it('a right-hand edge reaches face, spigot and shoulder, but for what its nose leaves in the corner: r^2 (1 - pi / 4)', async () => {
    const reach = await of(spigot);
    const [edge] = reach?.edges ?? [];
    expect(reach?.edges).toHaveLength(1);
    expect(edge.blocked.map((b) => b.why)).toEqual(['nose radius']);
    // 25 of the face and 40 of the spigot; 0.8 on both sides of the corner.
    expect(edge.blocked[0].from).toBeCloseTo(65 - 0.8, 0);
    expect(edge.blocked[0].to).toBeCloseTo(65 + 0.8, 0);
    expect(edge.residual.area).toBeCloseTo(0.64 * (1 - Math.PI / 4), 2);
    // In its middle as far from one wall as from the other.
    expect(edge.residual.thickness).toBeCloseTo(0.8 * (1 - Math.SQRT1_2), 1);
    expect(reach?.together.area).toBeCloseTo(edge.residual.area, 6);
  });
  it('into a recess it gets as far as its end cutting angle of 5 degrees lets it: the rest stays', async () => {
    const width = 12;
    const recess: FlatPoint[] = [
      [0, 0],
      [0, 30],
      [-10, 30],
      [-10, 27],
      [-10 - width, 27],
      [-10 - width, 30],
      [-60, 30],
      [-60, 0],
    ];
    const reach = await of(recess);
    const [edge] = reach?.edges ?? [];
    // From the shoulder down to the far wall: a triangle of 5 degrees at most; nothing of the floor.
    const drop = width * Math.tan((5 * Math.PI) / 180);
    expect(edge.residual.area).toBeGreaterThan(width * 3 - (width * drop) / 2 - 0.05);
    expect(edge.residual.area).toBeLessThan(width * 3);
    // As far from the floor as from the shoulder that it hangs on.
    expect(edge.residual.thickness).toBeCloseTo(3 / (1 + Math.tan((5 * Math.PI) / 180)), 1);
    // 30 of the face and 10 of the outside; then no floor.
    const floor = edge.blocked.find((b) => b.from < 30 + 10 + 3 + 5 && b.to > 30 + 10 + 3 + 5);
    expect(floor?.why).toMatch(/edge angle|body/);
    const wall = edge.reached.find((r) => r.from > 30 + 10 + 3 + width);
    // The nose touches the far wall above its own foot.
    expect(wall?.from).toBeGreaterThan(30 + 10 + 3 + width + 3 - drop);
    expect(wall?.from).toBeLessThan(30 + 10 + 3 + width + 3 + 0.05);
  });
  it('what is behind a shoulder stays though there is room beyond the axis: the other side of the part is there', async () => {
    // On a thin shaft a recess of 10, 1 deep behind its shoulder: 5 degrees of end cutting angle leave more than half of it.
    const recess = await of([
      [0, 0],
      [0, 5],
      [-3, 5],
      [-3, 4],
      [-13, 4],
      [-13, 5],
      [-40, 5],
      [-40, 0],
    ]);
    const drop = 10 * Math.tan((5 * Math.PI) / 180);
    expect(recess?.edges[0].residual.area).toBeGreaterThan(10 - (10 * drop) / 2 - 0.1);
  });
  it('what no edge gets to is put as a tool: how slim, which hand; edges that do nothing are left out of their order', async () => {
    // A waist with a flank of 45 degrees to the chuck, and one of 30 away from it: 180 less both is 105, and 2 of relief on either side.
    const flank = 8 / Math.tan(Math.PI / 6);
    const waist: FlatPoint[] = [
      [0, 0],
      [0, 30],
      [-6, 30],
      [-6 - flank, 22],
      [-26, 22],
      [-34, 30],
      [-60, 30],
      [-60, 0],
    ];
    const slopes = await of(waist);
    expect(slopes?.order).toEqual([0]);
    const [edge, ...more] = slopes?.missing ?? [];
    expect(more).toEqual([]);
    expect(edge).toMatchObject({ isInside: false, included: 80, width: undefined, hand: 'right' });
    expect([edge.towardsChuck, edge.away, edge.between]).toEqual([45, 30, 101]);
    // Between square walls nothing but a grooving edge gets in, no wider than the groove.
    const groove = await of([
      [0, 0],
      [0, 30],
      [-10, 30],
      [-10, 24],
      [-14, 24],
      [-14, 30],
      [-60, 30],
      [-60, 0],
    ]);
    expect(groove?.missing).toEqual([expect.objectContaining({ included: undefined, width: expect.closeTo(4, 1), isInside: false })]);
    expect(groove?.missing.flatMap((m) => m.wouldDo)).toEqual([]);
    // What would do is told by its designation; loaded beside the others, it does. The sturdier inserts would not.
    const [would, ...others] = edge.wouldDo;
    expect(would).toBe('DDJNR 2525 M15');
    expect(others).toContain('DVJNR 2525 M16');
    expect(suitsMissing({ enteringAngle: 93, includedAngle: 60, hand: 'right' }, edge)).toBe(false);
    expect(suitsMissing({ enteringAngle: 93, includedAngle: 55, hand: 'left' }, edge)).toBe(false);
    const both = {
      ...OUTSIDE.setUp,
      assemblies: [...OUTSIDE.setUp.assemblies, { key: 'would', words: would }],
      places: [...OUTSIDE.setUp.places, place('would', 3)],
    };
    expect(reachOf(await settingOf({ ...OUTSIDE, setUp: both, contour: { points: waist } }))?.missing).toEqual([]);
    // What only the nose leaves in a corner asks for nothing.
    expect((await of(spigot))?.missing).toEqual([]);
  });
  it('a bar in a bore is stopped by what it is itself: its diameter and width', async () => {
    // WF 11 and a bar of 16: on a bore of 9.2 its far side would be on 9.8.
    const bore = async (radius: number, assembly: object = { words: 'A16M-SCLCR 06' }) => {
      const setting = await settingOf({
        setUp: {
          machine: plain('face', { standard: 'cylindrical', size: 16 }),
          assemblies: [{ key: 'bar', ...assembly }],
          places: [place('bar', 1)],
          blanks: { main: { ...bar, bore: 2 * radius - 2 }, counter: null },
        },
        zero: 70,
        contour: {
          points: [
            [0, radius],
            [0, 30],
            [-30, 30],
            [-30, radius],
          ],
        },
      });
      return reachOf(setting)?.edges[0];
    };
    const [narrow, wide] = [await bore(9.2), await bore(12)];
    expect(narrow?.blocked.some((b) => b.why === 'body' && b.by.includes('Bar') && b.at[1] === 9.2)).toBe(true);
    // An insert 3.97 thick that lies flat rubs in a bore of 10.5 with its flank, along all of its wall; in one of 17 it is clear.
    const { spec } = readWords('A16M-SCLCR 09');
    const flat = { spec: { ...spec, values: { ...spec?.values, LAMS: 0 } } };
    const rubbing = await bore(10.5, flat);
    const rubs = rubbing?.blocked.find((b) => b.by.startsWith('flank'));
    expect(rubs).toMatchObject({ why: 'body', by: expect.stringMatching(/^flank of A16M-SCLCR/) });
    expect((rubs?.to ?? 0) - (rubs?.from ?? 0)).toBeGreaterThan(28);
    const clear = await bore(17.5, flat);
    expect(clear?.blocked.some((b) => b.by.startsWith('flank'))).toBe(false);
    // What it would cut there stays: 1 mm all along, but for its front.
    expect(rubbing?.residual.area).toBeGreaterThan(25);
    expect(clear?.residual.area).toBeLessThan(3);
    // Wide enough: all of the bore but its end, which is closed by the bar behind it.
    const wall = wide?.reached.reduce((s, r) => s + r.to - r.from, 0) ?? 0;
    expect(wall).toBeGreaterThan(28);
    expect(wide?.blocked.every((b) => b.why !== 'body' || b.at[1] > 12)).toBe(true);
    // At its bottom the bar's axis is 12 - 11 beside the spindle's: the bar passes by on 1 + 8, in a bore of 12.
    // In the narrow one only its insert gets in, before the bar does.
    expect(narrow?.bore?.deepest[0]).toBeGreaterThan(-2);
    expect(wide?.bore?.deepest[0]).toBeLessThan(-28);
    const front = wide?.bore?.along.at(-1);
    expect(front?.bore).toBeCloseTo(24, 3);
    expect(front?.asked).toBeCloseTo(18, 2);
    const { room, z } = wide?.bore?.least ?? { room: Number.NaN, z: Number.NaN };
    const most = Math.max(...(wide?.bore?.along ?? []).map((b) => b.asked));
    expect(room).toBeCloseTo(12 - most / 2, 3);
    expect(room).toBeGreaterThan(0);
    expect(z).toBeLessThan(0);
  });
  it('without a contour nothing is told', async () => {
    expect(reachOf(await settingOf({ ...OUTSIDE, contour: undefined }))).toBeUndefined();
  });
});
