import { describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { lengthOfPiece } from '#core/outline';
import type { Move, SpindleState, Step } from '../program/moves.ts';
import { checkWaits } from './check-waits.ts';
import { inTime, type Together } from './in-time.ts';

const M3: SpindleState = { sense: 'M3', mode: 'speed', value: 600, limit: undefined };
const STANDS: SpindleState = { sense: null, mode: 'speed', value: 0, limit: undefined };
// 600 turns a minute and 0.2 a turn: 2 mm a second.
const cut = (line: number, from: number, to: number, spindle = M3, rest: Partial<Move> = {}): Step => ({
  kind: 'move',
  line,
  isRapid: false,
  path: { kind: 'line', from: [from, 10], to: [to, 10] },
  tool: 1,
  offset: 1,
  feed: { value: 0.2, per: 'turn' },
  spindle,
  side: undefined,
  ...rest,
});
const wait = (line: number, mark: number, spindle = M3): Step => ({ kind: 'wait', line, mark, spindle });
function runOf(programs: readonly (readonly Step[])[]): { parts: Together[]; time: number } {
  const parts: Together[] = [];
  const run = inTime(programs, 4000);
  for (let next = run.next(); ; next = run.next()) {
    if (next.done) return { parts, time: next.value };
    parts.push(next.value);
  }
}
// When a line of a channel runs.
const spanOf = (parts: readonly Together[], channel: number, line: number) => {
  const own = parts.filter((p) => p.slices.some((s) => s.channel === channel && s.move.line === line));
  return [own[0]?.from, own.at(-1)?.to];
};

describe('channels in time', () => {
  it('one runs its moves whole, one after the other', () => {
    const { parts, time } = runOf([[cut(1, 0, 10), { kind: 'dwell', line: 2, seconds: 3 }, cut(3, 10, 14)]]);
    expect(parts.map((p) => [p.from, p.to, p.slices[0].from, p.slices[0].to])).toEqual([
      [0, expect.closeTo(5, 9), 0, 1],
      [expect.closeTo(8, 9), expect.closeTo(10, 9), 0, 1],
    ]);
    expect(time).toBeCloseTo(10, 9);
  });
  it('two run side by side in parts of 2 mm that lie without a gap; a mark holds who is first', () => {
    const { parts, time } = runOf([
      [cut(1, 0, 10), wait(2, 101), cut(3, 10, 20)],
      [cut(1, 0, 30), wait(2, 101), cut(3, 30, 32)],
    ]);
    expect(spanOf(parts, 0, 1)).toEqual([0, expect.closeTo(5, 9)]);
    expect(spanOf(parts, 1, 1)).toEqual([0, expect.closeTo(15, 9)]);
    // Both go on when the second one is there.
    expect(spanOf(parts, 0, 3)).toEqual([expect.closeTo(15, 9), expect.closeTo(20, 9)]);
    expect(spanOf(parts, 1, 3)).toEqual([expect.closeTo(15, 9), expect.closeTo(16, 9)]);
    expect(time).toBeCloseTo(20, 9);
    for (const channel of [0, 1])
      for (const line of [1, 3]) {
        const shares = parts.flatMap((p) => p.slices.filter((s) => s.channel === channel && s.move.line === line));
        expect([shares[0].from, shares.at(-1)?.to]).toEqual([0, 1]);
        shares.slice(1).forEach((s, i) => expect(s.from).toBeCloseTo(shares[i].to, 12));
      }
    for (const { slices } of parts) if (slices.length > 1) for (const s of slices) expect((s.to - s.from) * lengthOfPiece(s.move.path)).toBeLessThan(2 + 1e-9);
    parts.slice(1).forEach((p, i) => expect(p.from).toBeGreaterThanOrEqual(parts[i].from));
  });
  it('the spindle is one: what one channel says holds for the other, a speed of the surface as the turns that come of it', () => {
    const slow: SpindleState = { ...M3, value: 300 };
    const { parts } = runOf([
      [cut(1, 0, 10, M3), wait(2, 101, M3), cut(3, 10, 20, slow)],
      [wait(1, 101, STANDS), cut(2, 0, 4, STANDS)],
    ]);
    // It never said anything of the spindle, and turns with what the first channel said then: 1 mm a second.
    expect(spanOf(parts, 1, 2)).toEqual([expect.closeTo(5, 9), expect.closeTo(9, 9)]);
    // 60 m/min on radius 10.
    const surface: SpindleState = { sense: 'M3', mode: 'surface', value: 60, limit: undefined };
    const { parts: kept } = runOf([
      [cut(1, 0, 10, surface), wait(2, 101, surface)],
      [wait(1, 101, STANDS), cut(2, 0, 4, STANDS)],
    ]);
    const seen = kept.flatMap((p) => p.slices).find((s) => s.channel === 1)?.spindle;
    expect(seen).toMatchObject({ mode: 'speed', sense: 'M3', value: expect.closeTo(60_000 / (20 * Math.PI), 6) });
  });
  it('a thread is told as a whole when it begins, and keeps its channel busy', () => {
    const { parts, time } = runOf([[cut(1, 0, 20, M3, { pitch: 2, feed: { value: 2, per: 'turn' } }), cut(2, 20, 22)], [cut(1, 0, 8)]]);
    expect(parts[0]).toMatchObject({ from: 0, to: expect.closeTo(1, 9), slices: [{ channel: 0, from: 0, to: 1 }] });
    expect(spanOf(parts, 0, 2)[0]).toBeCloseTo(1, 9);
    expect(time).toBeCloseTo(4, 9);
  });
  it('what takes no time ends: no feed, no way, nothing at all', () => {
    expect(runOf([[cut(1, 0, 10, M3, { feed: undefined }), cut(2, 10, 10)], []]).time).toBe(0);
    expect(runOf([[], []]).time).toBe(0);
    // With the spindle standing a feed a turn never gets there: it is told at once, and is wrong elsewhere.
    expect(runOf([[cut(1, 0, 10, STANDS)]]).time).toBe(0);
  });
});

describe('wait marks', () => {
  const check = (a: readonly Step[], b: readonly Step[]) => {
    const wrong = checkWaits([
      { name: 'upper.nc', steps: a },
      { name: 'lower.nc', steps: b },
    ]);
    return wrong && say(wrong);
  };
  it('are the same in all channels, in one order', () => {
    expect(check([wait(3, 101), wait(9, 102)], [wait(1, 101), wait(2, 102)])).toBeUndefined();
    expect(check([wait(3, 101), wait(9, 102)], [wait(1, 102), wait(2, 101)])).toMatch(
      /lower\.nc, line 1: it waits at M102, and upper\.nc comes to M101 first \(line 3\)/,
    );
    expect(check([wait(3, 101)], [])).toMatch(/upper\.nc, line 3: it waits at M101, and lower\.nc never comes to it/);
    expect(check([], [wait(7, 110)])).toMatch(/lower\.nc, line 7: it waits at M110, and upper\.nc never comes to it/);
  });
});
