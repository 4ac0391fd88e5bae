import { describe, expect, it } from '@jest/globals';
import { makeComponent, readWords } from '#core/components';
import { loopThrough } from '#core/outline';
import type { MissingEdge } from './missing.ts';
import { suitsMissing, usualToolsFor } from './wanted.ts';

const missing = (rest: Partial<MissingEdge>): MissingEdge => ({
  at: [-10, 20],
  thickness: 2,
  isInside: false,
  towardsChuck: 0,
  away: 0,
  between: 176,
  included: 80,
  hand: 'right',
  width: undefined,
  ...rest,
});
// A bore of 40 to its front.
const tube = [
  loopThrough([
    [0, 20],
    [0, 30],
    [-50, 30],
    [-50, 20],
  ]),
];
const SHANKS = ['1212 F', '1616 H', '2020 K', '2525 M', '3232 P'];

describe('tools for a missing edge', () => {
  it('a right-hand edge has its entering angle towards the chuck, a left-hand one its end cutting angle', () => {
    const edge = { enteringAngle: 93, includedAngle: 55 };
    const wanted = missing({ towardsChuck: 60, away: 20 });
    expect(suitsMissing({ ...edge, hand: 'right' }, wanted)).toBe(true);
    expect(suitsMissing({ ...edge, hand: 'left' }, wanted)).toBe(false);
    expect(suitsMissing({ ...edge, hand: 'left' }, missing({ towardsChuck: 20, away: 60 }))).toBe(true);
    // Two degrees are kept on either side; 93 and 55 leave 32.
    expect(suitsMissing({ ...edge, hand: 'right' }, missing({ away: 30 }))).toBe(true);
    expect(suitsMissing({ ...edge, hand: 'right' }, missing({ away: 30.5 }))).toBe(false);
    expect(suitsMissing({ ...edge, hand: 'right' }, missing({ included: undefined, width: 3 }))).toBe(false);
  });
  it('both hands where both would do, the wanted one first; neutral ones where both sides rise alike', () => {
    expect(usualToolsFor(missing({ hand: 'left' }), tube, '2525 M')[0]).toBe('DCLNL 2525 M12');
    expect(usualToolsFor(missing({ towardsChuck: 60, away: 60 }), tube, '2525 M')).toEqual(['SDPCN 2525 M11', 'SVVCN 2525 M16']);
    expect(usualToolsFor(missing({ towardsChuck: 80, away: 80 }), tube, '2525 M')).toEqual([]);
  });
  it('inside the thickest bar that the bore in front lets in, none where it is too narrow', () => {
    const inside = missing({ isInside: true, at: [-30, 20] });
    expect(usualToolsFor(inside, tube, '2525 M')[0]).toBe('A25R-SCLCR 06');
    const collar = loopThrough([
      [0, 10],
      [0, 30],
      [-50, 30],
      [-50, 20],
      [-5, 20],
      [-5, 10],
    ]);
    expect(usualToolsFor(inside, [collar], '2525 M')[0]).toMatch(/^A12K/);
    expect(usualToolsFor(missing({ isInside: true, at: [-2, 8] }), tube, '2525 M')).toEqual([]);
  });
  it.each(SHANKS)('all that is named with a shank of %s can be made, and has the angles that it is named for', (shank) => {
    for (const hand of ['right', 'left'] as const)
      for (const isInside of [false, true])
        for (const [towardsChuck, away] of [
          [0, 0],
          [40, 20],
          [60, 40],
          [20, 60],
          [65, 65],
        ]) {
          const wanted = missing({ hand, isInside, towardsChuck, away });
          for (const words of usualToolsFor(wanted, tube, shank)) {
            const { spec, unknown } = readWords(words);
            const made = spec && makeComponent(spec);
            if (!spec || !made?.ok) throw new Error(`${words} cannot be made`);
            expect(unknown).toEqual([]);
            const letter = /([RLN])(?: \d)/.exec(words)?.[1] ?? '';
            const { KAPR = 0, EPSR = 0 } = made.part.values;
            expect([
              words,
              suitsMissing({ enteringAngle: KAPR, includedAngle: EPSR, hand: letter === 'R' ? 'right' : letter === 'L' ? 'left' : 'neutral' }, wanted),
            ]).toEqual([words, true]);
          }
        }
  });
});
