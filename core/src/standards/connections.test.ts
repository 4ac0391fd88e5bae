import { describe, expect, it } from '@jest/globals';
import { checkFit, type ConnectionSize, sayConnection, sayWhatFits } from './index.ts';

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
  it('says what would fit', () => {
    const r = checkFit(size('cylindrical 25'), size('ER 32'));
    expect(!r.ok && r.issues[0].values.fits).toBe('a cylindrical shank of 2 to 20 mm (in a collet), or an ER 32 mount');
    expect(sayWhatFits(size('7/24 40'))).toBe('a BT, SK or 7/24 mount of size 40');
    expect(sayConnection({ standard: 'bolted face', size: '' })).toBe('bolted face');
  });
});
