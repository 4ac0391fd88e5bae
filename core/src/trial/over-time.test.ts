import { describe, expect, it } from '@jest/globals';
import type { FlatPoint, PathPiece } from '#core/outline';
import type { CuttingOutline } from './cut/cutting-outline.ts';
import { binned, cutAt, cutsOverTime, hardestOf } from './over-time.ts';
import type { SpindleState } from './program/moves.ts';
import { type Recording, Replay, type RunMove } from './replay.ts';

// A parting edge 3 wide, its corner towards the chuck at the reference; a bar of 40, its front at Z 0.
const points: FlatPoint[] = [
  [0, 0],
  [3, 0],
  [3, 40],
  [0, 40],
];
const outline = { points, heights: [0, 0, 0, 0], mostHeight: 0 } as unknown as CuttingOutline;
const bar: FlatPoint[] = [
  [-60, 0],
  [0, 0],
  [0, 20],
  [-60, 20],
];
const turning: SpindleState = { sense: 'M4', mode: 'speed', value: 1000, limit: undefined };
const line = (from: FlatPoint, to: FlatPoint): PathPiece => ({ kind: 'line', from, to });
const move = (path: PathPiece, rest: Partial<RunMove> = {}): RunMove => ({
  line: 1,
  channel: 0,
  from: 0,
  to: 10,
  isRapid: false,
  path,
  tool: 0,
  removed: 1,
  feed: { value: 0.2, per: 'turn' },
  spindle: turning,
  ...rest,
});
const record = (moves: readonly RunMove[], loops: readonly (readonly FlatPoint[])[] = [bar]): Recording => ({
  moves,
  tools: [{ name: 'edge', placeId: 'p', outline, point: [0, 0], largest: 4000 }],
  keys: [{ move: 0, loops }],
});

describe('what is cut over time', () => {
  it('turning from 40 to 36: depth 2, the chip 2 by the feed, and the rate of depth, feed and middle speed', () => {
    const cuts = cutsOverTime(record([move(line([5, 18], [-30, 18]))]));
    const whole = cuts.slice(4, -1);
    expect(whole.length).toBeGreaterThan(10);
    for (const cut of whole) {
      expect(cut.depth).toBeCloseTo(2, 4);
      expect(cut.section).toBeCloseTo(0.4, 5);
      expect(cut.feed).toBe(0.2);
      expect(cut.speed).toBe(1000);
      // v = 2 pi r n at r 19; Q = pi (20^2 - 18^2) f n.
      expect(cut.surface).toBeCloseTo((2 * Math.PI * 19 * 1000) / 1000, 3);
      expect(cut.rate).toBeCloseTo((Math.PI * (400 - 324) * 0.2 * 1000) / 1000, 3);
    }
    // In the air before the bar nothing is cut.
    expect(Math.min(...cuts.map((c) => c.from))).toBeGreaterThan(1);
  });
  it('a step in the stock is seen within the move, and what was cut before is not cut again', () => {
    const stepped: FlatPoint[] = [
      [-60, 0],
      [0, 0],
      [0, 19],
      [-20, 19],
      [-20, 20],
      [-60, 20],
    ];
    const way = line([0, 18], [-40, 18]);
    const cuts = cutsOverTime(record([move(way), move(way, { from: 10, to: 20 })], [stepped]));
    expect(cutAt(cuts, 3)?.depth).toBeCloseTo(1, 4);
    expect(cutAt(cuts, 8)?.depth).toBeCloseTo(2, 4);
    expect(cutAt(cuts, 15)).toBeUndefined();
    // The most of it is behind the step, where half of the way is done.
    const [most] = hardestOf(cuts);
    expect(most).toMatchObject({ tool: 0, line: 1, feed: 0.2, speed: 1000 });
    expect(most.depth).toBeCloseTo(2, 4);
    expect(most.time).toBeGreaterThan(4);
  });
  it('a groove with kept surface speed: as wide as the edge, faster the nearer to the axis, up to the limit', () => {
    const kept: SpindleState = { sense: 'M4', mode: 'surface', value: 120, limit: 3000 };
    const cuts = cutsOverTime(record([move(line([-20, 20], [-20, 0]), { spindle: kept })]));
    const [first, last] = [cuts[0], cuts[cuts.length - 1]];
    expect(first.depth).toBeCloseTo(3, 4);
    // n = v / (2 pi r), r being the middle of the first piece.
    const r = 20 - 10 / cuts.length;
    expect(first.speed).toBeCloseTo((120 * 1000) / (2 * Math.PI * r), 3);
    expect(first.surface).toBeCloseTo(120, 3);
    expect(last.speed).toBe(3000);
    expect(last.surface).toBeLessThan(20);
  });
  it('a feed a minute is told a turn; a thread’s is its pitch', () => {
    const [minute] = cutsOverTime(record([move(line([-20, 20], [-20, 15]), { feed: { value: 150, per: 'minute' } })]));
    expect(minute.feed).toBeCloseTo(0.15, 9);
    const [thread] = cutsOverTime(record([move(line([2, 19.5], [-20, 19.5]), { pitch: 4, feed: undefined })]));
    expect(thread.feed).toBe(4);
    // Six turns of it in the bar, the first with 2 of its 3 mm.
    const turns = cutsOverTime(record([move(line([2, 19.5], [-22, 19.5]), { pitch: 4, feed: undefined })]));
    expect(turns).toHaveLength(6);
    expect(turns.reduce((sum, c) => sum + c.section, 0)).toBeCloseTo((2 + 5 * 3) * 0.5, 4);
  });
  it('rapids and cuts with a standing spindle are none, and all is as the replay leaves it', () => {
    const still: SpindleState = { ...turning, sense: null };
    const moves = [
      move(line([-20, 20], [-20, 15]), { isRapid: true }),
      move(line([-30, 20], [-30, 15]), { spindle: still, from: 10, to: 20 }),
      move(line([-40, 20], [-40, 15]), { from: 20, to: 30 }),
    ];
    const cuts = cutsOverTime(record(moves));
    expect(new Set(cuts.map((c) => c.from >= 20))).toEqual(new Set([true]));
    const turns = cuts.reduce((s, c) => s + (c.section * (c.to - c.from)) / 10, 0) * (5 / 0.2);
    const replay = new Replay(record([moves[2]]));
    const left = replay.at(30)?.region.area ?? 0;
    expect(turns).toBeCloseTo(60 * 20 - left, 3);
  });
  it('bins have the most of their stretch and nothing where nothing is cut', () => {
    const cuts = cutsOverTime(record([move(line([0, 18], [-40, 18]))]));
    const bins = binned(cuts, 20, 10);
    expect(bins.map((b) => Math.round(b.depth * 1000) / 1000)).toEqual([2, 2, 2, 2, 2, 0, 0, 0, 0, 0]);
    expect(bins.map((b) => b.time)).toEqual([1, 3, 5, 7, 9, 11, 13, 15, 17, 19]);
    expect(binned(cuts, 0, 4).every((b) => b.rate === 0)).toBe(true);
  });
});
