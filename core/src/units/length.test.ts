import { describe, expect, it } from '@jest/globals';
import { formatLength, parseAngleDeg, parseLength } from './index.ts';

const mm = (text: string, unit: 'mm' | 'inch' = 'mm') => {
  const r = parseLength(text, unit);
  return r.ok ? r.value : undefined;
};

describe('parseLength', () => {
  it.each([
    ['12.5', 12.5],
    ['12,5', 12.5],
    ['3/8 in', 9.525],
    ['25.4/2', 12.7],
    ['1 in + 2 mm', 27.4],
    ['-(2+3)*4', -20],
    ['.5', 0.5],
    ['2 * 3 in', 152.4],
    ['1"', 25.4],
    ['10 mm - 0.5', 9.5],
    ['1e1', 10],
    ['500 um', 0.5],
    ['  7  ', 7],
  ])('reads %s as %d mm', (text, value) => expect(mm(text)).toBeCloseTo(value, 9));

  it('takes plain numbers in the shown unit', () => {
    expect(mm('0.5', 'inch')).toBeCloseTo(12.7, 9);
    expect(mm('3 mm', 'inch')).toBeCloseTo(3, 9);
  });

  it.each(['', 'abc', '1 2', '3/', '(2', '1/0', '2 in * 3 in', '4 in / 2 in', 'NaN', 'Infinity', '1e999', '99999999', '<b>1</b>', '=1+1'])(
    'refuses %p',
    (text) => {
      expect(parseLength(text, 'mm')).toMatchObject({ ok: false, issues: [{ code: 'number.not-a-length' }] });
    },
  );
});

describe('formatLength', () => {
  it('shows 3 decimals in mm and 4 in inch, and no minus zero', () => {
    expect(formatLength(12.34567, 'mm')).toBe('12.346');
    expect(formatLength(25.4, 'inch')).toBe('1.0000');
    expect(formatLength(-1e-9, 'mm')).toBe('0.000');
  });
});

describe('parseAngleDeg', () => {
  it('reads degrees with or without the sign, but no lengths', () => {
    expect(parseAngleDeg('90°')).toEqual({ ok: true, value: 90 });
    expect(parseAngleDeg('360/8')).toEqual({ ok: true, value: 45 });
    expect(parseAngleDeg('3 mm').ok).toBe(false);
  });
});
