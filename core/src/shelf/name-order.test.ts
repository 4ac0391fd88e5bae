import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { compareNames, inNameOrder, orderOf } from './name-order.ts';

describe('the order of names', () => {
  it('has numbers by their value and signs before them', () => {
    const names = ['Drill 12', 'Drill 8.5', 'drill 8', 'Drill 8', 'Drill', 'Drill-8', 'DCLNR 2525 M12', 'Drill 100', 'Äxte 3', 'Axle 4'];
    expect(inNameOrder(names, (n) => n)).toEqual([
      'Axle 4',
      'Äxte 3',
      'DCLNR 2525 M12',
      'Drill',
      'drill 8',
      'Drill 8',
      'Drill 8.5',
      'Drill 12',
      'Drill 100',
      'Drill-8',
    ]);
  });
  it('of plain names is the collator’s, whatever they are', () => {
    const piece = fc.oneof(
      fc.string({ unit: fc.constantFrom(...'aAbBzZ'), maxLength: 3 }),
      fc.constantFrom('0', '7', '07', '10', '8.5', '123456789012345678901234567890'),
      fc.string({ unit: 'grapheme-ascii', maxLength: 2 }),
    );
    const name = fc.array(piece, { maxLength: 5 }).map((p) => p.join(''));
    fc.assert(
      fc.property(name, name, (a, b) => {
        const [x, y] = [orderOf(a), orderOf(b)];
        // A number of more digits than any has.
        fc.pre(x !== undefined && y !== undefined);
        expect(x < y ? -1 : x > y ? 1 : 0).toBe(Math.sign(compareNames(a, b)));
      }),
      { numRuns: 3000 },
    );
  });
  it('of any names is one order: what stands before stays before', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: fc.constantFrom('a', 'B', 'ä', '1', '20', ' ', 'é'), maxLength: 5 }), { maxLength: 20 }), (names) => {
        const ordered = inNameOrder(names, (n) => n);
        for (let i = 1; i < ordered.length; i++) expect(compareNames(ordered[i - 1], ordered[i])).toBeLessThanOrEqual(0);
      }),
      { numRuns: 200 },
    );
  });
});
