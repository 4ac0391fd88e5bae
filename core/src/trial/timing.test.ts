import { describe, expect, it } from '@jest/globals';
import type { SpindleState } from './program/moves.ts';
import { RAPID, secondsOf, speedOn } from './timing.ts';

const spindle = (more: Partial<SpindleState>): SpindleState => ({ sense: 'M3', mode: 'speed', value: 1000, limit: undefined, ...more });
const line = (from: [number, number], to: [number, number]) => ({ kind: 'line', from, to }) as const;

describe('speeds and times', () => {
  it('a speed is what is said, within the limits of program and spindle; a surface speed by n = 1000 v / (pi D)', () => {
    expect(speedOn(spindle({}), 20, 4000)).toBe(1000);
    expect(speedOn(spindle({ value: 9000 }), 20, 4000)).toBe(4000);
    expect(speedOn(spindle({ limit: 800 }), 20, 4000)).toBe(800);
    expect(speedOn(spindle({ sense: null }), 20, 4000)).toBe(0);
    expect(speedOn(spindle({ mode: 'surface', value: 200 }), 25, 4000)).toBeCloseTo(200_000 / (Math.PI * 50), 9);
    // On the axis it would be without end.
    expect(speedOn(spindle({ mode: 'surface', value: 200, limit: 2500 }), 0, 4000)).toBe(2500);
  });
  it('a feed along the axis takes its length over feed and speed, a minute’s feed its length alone, a rapid what is taken for it', () => {
    const along = line([0, 20], [-30, 20]);
    expect(secondsOf(along, false, { value: 0.2, per: 'turn' }, spindle({}), 4000)).toBeCloseTo(9, 9);
    expect(secondsOf(along, false, { value: 300, per: 'minute' }, spindle({ sense: null }), 4000)).toBeCloseTo(6, 9);
    expect(secondsOf(along, true, undefined, spindle({}), 4000)).toBeCloseTo((30 * 60) / RAPID, 9);
    expect(secondsOf(line([1, 1], [1, 1]), false, { value: 0.2, per: 'turn' }, spindle({ sense: null }), 4000)).toBe(0);
    // Nothing turns: it never gets there.
    expect(secondsOf(along, false, { value: 0.2, per: 'turn' }, spindle({ sense: null }), 4000)).toBe(Infinity);
  });
  it('facing at a surface speed takes pi (R^2 - r^2) / (1000 v f), and goes on at the limit', () => {
    const face = line([0, 30], [0, 10]);
    const free = secondsOf(face, false, { value: 0.2, per: 'turn' }, spindle({ mode: 'surface', value: 150 }), 100_000);
    expect(free).toBeCloseTo((60 * Math.PI * (900 - 100)) / (1000 * 150 * 0.2), 6);
    const limited = secondsOf(face, false, { value: 0.2, per: 'turn' }, spindle({ mode: 'surface', value: 150, limit: 1000 }), 100_000);
    // Inside of 1000 v / (pi 2 r) = 1000 it turns no faster.
    const turn = 150_000 / (2 * Math.PI * 1000);
    const exact = (60 * Math.PI * (900 - turn * turn)) / (1000 * 150 * 0.2) + (60 * (turn - 10)) / (0.2 * 1000);
    expect(Math.abs(limited - exact) / exact).toBeLessThan(0.005);
  });
});
