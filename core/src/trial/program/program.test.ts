import { describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { lengthOfPiece } from '#core/outline';
import { type Move, type ProgramSetting, readProgram, type Step, withBlocks } from '../index.ts';

const SETTING: ProgramSetting = {
  diameters: true,
  unit: 'mm',
  toolDigits: 2,
  offsetDigits: 2,
  // Two tools on one carrier, the second with two offsets; a third one on another.
  toolOf: (tool, offset) => {
    const loaded = (z: number, x: number, carrier = 'upper turret', standsOn = [carrier]) => ({
      carrier,
      home: [300, 200] as const,
      point: [z, x] as const,
      standsOn,
    });
    return tool === 1
      ? loaded(-50, -150)
      : tool === 2
        ? loaded(-120, offset === 12 ? -30 : -40)
        : tool === 3
          ? loaded(0, 0, 'lower turret')
          : tool === 4
            ? loaded(0, 0, 'upper turret', ['upper turret', 'lower turret'])
            : undefined;
  },
  zeros: { G55: -80 },
  waits: [100, 199],
};
function steps(text: string, setting: Partial<ProgramSetting> = {}): readonly Step[] {
  const read = readProgram(text, 'p.nc', { ...SETTING, ...setting });
  if (!read.ok) throw new Error(read.issues.map(say).join());
  return read.value.steps;
}
const moves = (text: string, setting: Partial<ProgramSetting> = {}): Move[] => steps(text, setting).filter((s): s is Move => s.kind === 'move');
const fault = (text: string): string => {
  const read = readProgram(text, 'p.nc', SETTING);
  return read.ok ? '' : read.issues.map(say).join(' ');
};
const near = (v: number) => expect.closeTo(v, 9);
const ends = (all: readonly Move[]) => all.map((m) => m.path.to);

describe('a program', () => {
  it('moves the point of its tool: diameters halved, incremental words from where it stands, the first move from where the carrier waits', () => {
    const all = moves('T0101\nG0 X40. Z2.\nG1 Z-10. F0.2\nU4. W-3.\nG91 X2. Z1.\nG90 X50');
    expect(all[0].path).toEqual({ kind: 'line', from: [250, 50], to: [2, 20] });
    expect(ends(all)).toEqual([
      [2, 20],
      [-10, 20],
      [-13, 22],
      [-12, 23],
      [-12, 25],
    ]);
    expect(all.map((m) => m.isRapid)).toEqual([true, false, false, false, false]);
    expect(all[1]).toMatchObject({ line: 3, tool: 1, offset: 1, feed: { value: 0.2, per: 'turn' } });
    expect(all[0].feed).toBeUndefined();
  });
  it('threads go with their lead a turn: F or K, along Z; under G96 that is said, across it is a fault', () => {
    const [, thread, out] = moves('T0101 G97 S800 M3\nG0 X20. Z4.\nG33 Z-20. F1.5\nG0 X30.');
    expect(thread).toMatchObject({ isRapid: false, pitch: 1.5, feed: { value: 1.5, per: 'turn' }, path: { from: [4, 10], to: [-20, 10] } });
    expect(out.pitch).toBeUndefined();
    expect(moves('T0101 G97 S800 M3\nG0 X20. Z4.\nG32 Z-20. K2.').at(-1)).toMatchObject({ pitch: 2 });
    // In inches the lead is one too, and a tapered thread counts along Z.
    expect(moves('G20 T0101 G97 S800 M3\nG0 X1. Z0.1\nG33 X1.1 Z-1. F0.05').at(-1)).toMatchObject({ pitch: near(1.27) });
    expect(fault('T0101 M3 S800\nG0 X20. Z4.\nG33 Z-20.')).toMatch(/line 3/);
    expect(fault('T0101 M3 S800\nG0 X20. Z4.\nG33 X60. Z2. F1.')).toMatch(/line 3: a thread that goes more across/);
    expect(fault('T0101 M3 S800\nG0 X20. Z4.\nG42 G1 X10. F1.\nG33 Z2. F1.')).toMatch(/line 4: .*G33/);
    const read = readProgram('T0101 G96 S200 M3\nG0 X20. Z4.\nG33 Z-20. F1.5', 'p.nc', SETTING);
    expect(read.ok && read.value.warnings.map(say)).toEqual([expect.stringMatching(/line 3: a thread under G96/)]);
  });
  it('blocks are put in where the main program ends', () => {
    expect(withBlocks('', 'G0 X1.')).toBe('%\nO0001\nG0 X1.\nM30\n%\n');
    expect(withBlocks('%\nO1\nT1 (M30)\nN90 M30\nO2\nM99\n%', 'A\nB')).toBe('%\nO1\nT1 (M30)\nA\nB\nN90 M30\nO2\nM99\n%');
    expect(withBlocks('O1\r\nT1\r\n%\r\n', 'A')).toBe('O1\nT1\nA\n%\n');
    expect(withBlocks('T1\nM02', 'A')).toBe('T1\nA\nM02');
    expect(withBlocks('T1\nM5 M30\nO2 (M30)\nM99', 'A')).toBe('T1\nA\nM5 M30\nO2 (M30)\nM99');
    expect(withBlocks('T1 ;M30\nM300', 'A')).toBe('T1 ;M30\nM300\nA');
  });
  it('a control that counts radii, and one in inches', () => {
    expect(ends(moves('T1\nG0 X10. Z1.', { diameters: false }))).toEqual([[1, 10]]);
    expect(ends(moves('G20 T1\nG0 X1. Z-2.\nG21 X10.'))).toEqual([
      [near(-50.8), near(12.7)],
      [near(-50.8), 5],
    ]);
  });
  it('the carrier stays where it is when another tool or offset comes: its point stands elsewhere', () => {
    const all = moves('T0101\nG0 X40. Z2.\nT0202\nG0 Z3.\nT0212\nX20.');
    // The reference stood at [52, 170]: the second tool's point is 120 before it and 40 below.
    expect(all[1].path).toEqual({ kind: 'line', from: [-68, 130], to: [3, 130] });
    expect(all[2].path).toEqual({ kind: 'line', from: [3, 140], to: [3, 10] });
    expect(steps('T0101\nT0202\nT0212').map((s) => s.kind)).toEqual(['tool', 'tool']);
  });
  it.each([
    // A quarter circle counter-clockwise from [0, 20] about [0, 30]... to [10, 30]: seen against Y, Z to the right and X upwards.
    ['G3 X60. Z10. R10.', [0, 30], 10 * Math.PI * 0.5],
    ['G3 X60. Z10. I10. K0', [0, 30], 10 * Math.PI * 0.5],
    ['G2 X60. Z10. R10.', [10, 20], 10 * Math.PI * 0.5],
    // The longer one of two.
    ['G2 X60. Z10. R-10.', [0, 30], 10 * Math.PI * 1.5],
    ['G3 X40. Z20. I0 K10.', [10, 20], 10 * Math.PI],
    // All the way round.
    ['G2 X40. Z0 K5. I0', [5, 20], 10 * Math.PI],
  ])('%s', (block, centre, length) => {
    const [, arc] = moves(`T1\nG0 X40. Z0\nF0.1\n${block}`);
    expect(arc.path).toMatchObject({ kind: 'arc', centre: [near(centre[0]), near(centre[1])] });
    expect(lengthOfPiece(arc.path)).toBeCloseTo(length, 6);
  });
  it('zeros of the work, home by way of a place, dwells and stops', () => {
    expect(ends(moves('T1\nG55 G0 X10. Z5.\nG54 Z5.'))).toEqual([
      [-75, 5],
      [5, 5],
    ]);
    const all = moves('T0101\nG0 X40. Z2.\nG28 U10. W0');
    expect(ends(all)).toEqual([
      [2, 20],
      [2, 25],
      [250, 50],
    ]);
    expect(ends(moves('T0101\nG0 X40. Z2.\nG28 U0'))).toEqual([
      [2, 20],
      [2, 50],
    ]);
    expect(steps('G4 X1.5\nG4 P250\nM0')).toEqual([
      { kind: 'dwell', line: 1, seconds: 1.5 },
      { kind: 'dwell', line: 2, seconds: 0.25 },
      { kind: 'stop', line: 3, code: 'M0' },
    ]);
  });
  it('spindle and feed as they are said, also in one block with the move', () => {
    const [a, b, c] = moves('G50 S3000 T1\nG96 S200 M3 G1 X30. Z0 F0.15\nG94 G97 S900 M4 F120\nX20.\nM5 X10.');
    expect(a.spindle).toEqual({ sense: 'M3', mode: 'surface', value: 200, limit: 3000 });
    expect(b).toMatchObject({ spindle: { sense: 'M4', mode: 'speed', value: 900 }, feed: { value: 120, per: 'minute' } });
    expect(c.spindle.sense).toBeNull();
  });
  it('subprograms run as often as they are called, within each other, and the program ends where it says so', () => {
    const text = 'O1\nT1 G0 X20. Z0\nF0.1 M98 P10 L3\nM30\nG0 X99.\nO10\nG1 W-1.\nM98 P20\nM99\nO20\nU1.\nM99';
    expect(ends(moves(text)).at(-1)).toEqual([-3, near(11.5)]);
    expect(moves(text)).toHaveLength(7);
    // Comments, block numbers, leading strokes and percent signs are no moves.
    expect(ends(moves('%\n(HUB (no) )\nN10 T1 ; first\n\nN20 G0X20.Z-.5(there)\n/N30 Z1\n%'.replace('(no) ', '')))).toEqual([
      [-0.5, 10],
      [1, 10],
    ]);
  });
  it.each([
    ['G71 U2. R1.', /line 2: G71 is a cycle of a control/],
    ['G0 X#1', /line 2: G0 X#1 is a macro/],
    ['IF [#1 EQ 2] GOTO 5', /is a macro/],
    ['G0 X', /line 2: X cannot be read/],
    ['G0 X1..2', /cannot be read/],
    ['G0 X1. X2.', /X stands there twice/],
    ['G17', /line 2: G17 leaves the turning plane/],
    ['G0 Y1.', /Y is not an axis/],
    ['G12', /line 2: G12 is not known/],
    ['E5', /E5 is not known/],
    ['G0 X1. (open', /a comment that is not closed/],
    ['T0909', /tool 9 with offset 9 is not loaded/],
    ['T1.5', /T1.5 is not a value/],
    ['G1 X20.', /no F was said before/],
    ['G1 X20. F0', /F0 is not a value/],
    ['G0 X20. Z0\nG2 X40. Z0 R4.9 F1', /line 3: a radius of 4.9 does not reach over 10 mm/],
    ['G0 X20. Z0\nG2 X40. Z10. I10. K1. F1', /line 3: the arc starts 10\.05 mm from its centre and ends 9 mm/],
    ['G0 X20. Z0\nG2 X40. Z10. F1', /without I, K or R/],
    ['G0 X20. Z0\nG2 R5. F1 X20.', /ends where it starts/],
    ['G56 G0 X1.', /nothing says where the zero G56 lies/],
    ['G92 X0 Z0', /understood with S/],
    ['G50 S2000 X200. Z100.', /understood with S/],
    ['G0 X20.\nT0303', /line 3: T3 stands on the lower turret, and the program moves the upper turret/],
    ['M98 P5 L99999999\nM30\nO5\nM99', /more than 2000000 blocks/],
    ['G28', /names no axis/],
    ['M98 P77', /the subprogram O77 is not in the file/],
    ['M98 P5\nM30\nO5\nM98 P5\nM99', /more than 12 subprograms within each other/],
    ['M98 P5 L9999999\nM30\nO5\nX1.\nM99', /more than 2000000 blocks/],
    ['M30\nO5\nO5', /program O5, which is there already/],
  ])('%j is refused with its line', (text, message) => {
    expect(fault(`T1\n${text}`)).toMatch(message);
  });
  it('nothing moves before a tool says which carrier does', () => {
    const read = (text: string) => readProgram(text, 'p.nc', SETTING);
    expect(read('G0 X20. Z2.\nT0101')).toMatchObject({ ok: false, issues: [{ code: 'program.tool-first', values: { line: 1 } }] });
    expect(read('G28 U0 W0\nT0101')).toMatchObject({ ok: false, issues: [{ code: 'program.tool-first' }] });
  });
  it('in inches the speed of the surface is feet a minute', () => {
    const [move] = moves('G20 G96 S500 M3 T1\nG1 X1. F0.01');
    expect(move.spindle.value).toBeCloseTo(152.4, 9);
    expect(move.feed?.value).toBeCloseTo(0.254, 9);
    expect(moves('G20 G97 S500 M3 T1\nG0 X1.')[0].spindle.value).toBe(500);
  });
  it('what is passed over is said once, and an empty file is no program', () => {
    const read = readProgram('T1 M41\nM41\n/G0 X1.\nM8\nM99', 'p.nc', SETTING);
    expect(read.ok && read.value.warnings.map(say)).toEqual([
      expect.stringMatching(/line 1: M41 is passed over/),
      expect.stringMatching(/line 3: blocks that begin with/),
      expect.stringMatching(/M99 would start the program again/),
    ]);
    expect(readProgram('\n%\n', 'p.nc', SETTING)).toMatchObject({ ok: false, issues: [{ code: 'program.empty' }] });
    expect(readProgram(' '.repeat(65_000_000), 'p.nc', SETTING)).toMatchObject({ ok: false, issues: [{ code: 'program.too-long' }] });
  });
});
