import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { spread } from './spread.ts';

const labels = fc.array(fc.record({ at: fc.double({ min: 0, max: 800, noNaN: true }), size: fc.integer({ min: 10, max: 90 }) }), { maxLength: 12 });

describe('labels that are spread', () => {
  it('lie where they want to where nothing is in their way', () => {
    const wanted = [
      { at: 50, size: 40 },
      { at: 120, size: 40 },
    ];
    expect(spread(wanted, [0, 200])).toEqual([50, 120]);
  });
  it('share what is missing between two', () => {
    // 40 wide each with 4 between: 44 apart, about the middle of both.
    const wanted = [
      { at: 98, size: 40 },
      { at: 102, size: 40 },
    ];
    expect(spread(wanted, [0, 200])).toEqual([78, 122]);
  });
  it('are drawn in at the ends', () => {
    expect(spread([{ at: 2, size: 40 }], [0, 200])).toEqual([20]);
    expect(spread([{ at: 199, size: 40 }], [0, 200])).toEqual([180]);
  });
  it('never lie on one another, keep their order, and stay within the ends where there is room', () => {
    fc.assert(
      fc.property(labels, (unsorted) => {
        const wanted = [...unsorted].sort((a, b) => a.at - b.at);
        const found = spread(wanted, [0, 800]);
        for (let i = 1; i < wanted.length; i++) expect(found[i] - found[i - 1]).toBeGreaterThanOrEqual((wanted[i].size + wanted[i - 1].size) / 2 + 4 - 1e-6);
        const room = wanted.reduce((s, w) => s + w.size + 4, -4) <= 800;
        if (room && wanted.length > 0) {
          expect(found[0] - wanted[0].size / 2).toBeGreaterThanOrEqual(-1e-6);
          expect((found.at(-1) ?? 0) + (wanted.at(-1)?.size ?? 0) / 2).toBeLessThanOrEqual(800 + 1e-6);
        }
      }),
    );
  });
});
