import { describe, expect, it } from '@jest/globals';
import { checkFit, colletClamps, type ConnectionSize, sayConnection, sayWhatFits } from './index.ts';

const size = (text: string): ConnectionSize => {
  const at = text.lastIndexOf(' ');
  const value = text.slice(at + 1);
  return { standard: text.slice(0, at) as ConnectionSize['standard'], size: value.includes('x') ? value : Number(value) };
};
const fits = (mount: string, seat: string) => checkFit(size(mount), size(seat)).ok;

describe('checkFit', () => {
  it.each([
    ['cylindrical 16', 'cylindrical 16'],
    ['square 25x25', 'square 25x25'],
    ['PSC 63', 'PSC 63'],
    ['cylindrical 12', 'ER 32'],
    ['cylindrical 20', 'ER 32'],
    ['7/24 40', 'BT 40'],
    ['SK 40', '7/24 40'],
  ])('%s goes into %s', (mount, seat) => expect(fits(mount, seat)).toBe(true));
  it.each([
    ['cylindrical 16', 'cylindrical 20'],
    ['cylindrical 25', 'ER 32'],
    ['square 20x20', 'square 25x25'],
    ['BT 40', 'SK 40'],
    ['7/24 40', 'BT 50'],
    ['HSK-A 63', 'PSC 63'],
    ['VDI 30', 'VDI 40'],
  ])('%s does not go into %s', (mount, seat) => expect(fits(mount, seat)).toBe(false));
  it('into a seat that clamps a range goes what lies within it, of its own kind only', () => {
    const collet: ConnectionSize = { standard: 'cylindrical', size: 10, clamps: colletClamps(32, 10) };
    const into = (mount: string) => checkFit(size(mount), collet).ok;
    expect([8.9, 9, 9.5, 10, 10.1].map((d) => into(`cylindrical ${d}`))).toEqual([false, true, true, true, false]);
    expect(into('square 10x10')).toBe(false);
    expect([sayConnection(collet), sayWhatFits(collet)]).toEqual(['cylindrical 9 to 10', 'a cylindrical shank of 9 to 10 mm']);
  });
  it.each([
    // Size of the cone, bore, what it clamps: ISO 15488.
    [11, 4, 3.5],
    [16, 10, 9],
    [25, 16, 15],
    [32, 2, 2],
    [16, 1, 0.5],
    [40, 26, 25],
  ])('a collet ER %d of %d clamps from %d', (cone, bore, from) => expect(colletClamps(cone, bore)).toEqual([from, bore]));
  it('says what would fit', () => {
    const r = checkFit(size('cylindrical 25'), size('ER 32'));
    expect(!r.ok && r.issues[0].values.fits).toBe('a cylindrical shank of 2 to 20 mm (in a collet), or an ER 32 mount');
    expect(sayWhatFits(size('7/24 40'))).toBe('a BT, SK or 7/24 mount of size 40');
    expect(sayConnection({ standard: 'bolted face', size: '' })).toBe('bolted face');
  });
});
