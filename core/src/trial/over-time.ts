// How hard the edges work while a program runs: from what each piece of a move takes out of the half section.
import { lengthOfPiece, placeOnPiece } from '#core/outline';
import { clipsBetween } from './cut/way-clips.ts';
import { inFrontOf, Region } from './region/region.ts';
import type { Recording, RunMove, RunTool } from './replay.ts';
import { speedOn } from './timing.ts';

/** A piece of a move that cuts. */
export interface CutAt {
  /** s. */
  readonly from: number;
  readonly to: number;
  readonly line: number;
  readonly tool: number;
  /** 1/min. */
  readonly speed: number;
  /** m/min, at the middle radius of what is taken away. */
  readonly surface: number;
  /** mm a turn. */
  readonly feed: number;
  /** mm2 of the half section a turn: the chip's. */
  readonly section: number;
  /** mm across the feed: section over feed. */
  readonly depth: number;
  /** cm3 a minute. */
  readonly rate: number;
}

// Pieces in all, about, and of one move; mm that a piece is long at least; mm2 below which nothing is cut.
const PIECES = 2400;
const MOST_PIECES = 24;
const SHORTEST = 0.3;
const NO_CUT = 1e-6;

/** All that cuts in a run, in its order; what goes through the work in rapid or with the spindle standing is no cut. */
export function cutsOverTime({ moves, tools, keys }: Recording): CutAt[] {
  const [first] = keys;
  if (!first) return [];
  const region = Region.ofLoops(first.loops);
  const cutting = moves.filter((m) => m.removed > 0).length;
  const each = Math.max(1, Math.min(MOST_PIECES, Math.round(PIECES / Math.max(1, cutting))));
  const out: CutAt[] = [];
  for (const move of moves) {
    const tool = tools[move.tool];
    if (tool.outline && move.removed > 0) {
      const count = Math.max(1, Math.min(each, Math.floor(lengthOfPiece(move.path) / (move.pitch ?? SHORTEST))));
      for (let i = 0; i < count; i++) {
        const [from, to] = [i / count, (i + 1) / count];
        const { area, volume } = region.cut(clipsBetween(tool.outline, move.path, move.pitch, from, to));
        const cut = area > NO_CUT && !move.isRapid ? cutOf(move, tool, from, to, area, volume) : undefined;
        if (cut) out.push(cut);
      }
    }
    if (move.falls !== undefined) region.cut([inFrontOf(move.falls)]);
  }
  return out;
}

function cutOf(move: RunMove, tool: RunTool, from: number, to: number, area: number, volume: number): CutAt | undefined {
  const radius = Math.abs(placeOnPiece(move.path, (from + to) / 2)[1] + tool.point[1]);
  const speed = speedOn(move.spindle, radius, tool.largest);
  const way = (to - from) * lengthOfPiece(move.path);
  const feed = move.pitch ?? (move.feed?.per === 'turn' ? move.feed.value : move.feed && speed > 0 ? move.feed.value / speed : 0);
  if (speed <= 0 || feed <= 0 || way <= 0) return undefined;
  const turns = way / feed;
  const section = area / turns;
  const timeAt = (share: number) => move.from + share * (move.to - move.from);
  return {
    from: timeAt(from),
    to: timeAt(to),
    line: move.line,
    tool: move.tool,
    speed,
    // Pappus: the volume is the area times the way of its middle.
    surface: (volume / area / 1000) * speed,
    feed,
    section,
    depth: section / feed,
    rate: (volume * speed) / (1000 * turns),
  };
}

const CUT_QUANTITIES = ['section', 'depth', 'feed', 'surface', 'speed', 'rate'] as const;
export type CutQuantity = (typeof CUT_QUANTITIES)[number];
export type CutBin = { readonly time: number } & Readonly<Record<CutQuantity, number>>;

/** The same in `bins` stretches of a run of `total` seconds, each with the most of what was cut in it, 0 where nothing was. `time` is its middle. */
export function binned(cuts: readonly CutAt[], total: number, bins: number): CutBin[] {
  const most = Array.from({ length: bins }, () => Object.fromEntries(CUT_QUANTITIES.map((q) => [q, 0])) as Record<CutQuantity, number>);
  if (total > 0)
    for (const cut of cuts) {
      const last = Math.max(cut.from, cut.to - 1e-9);
      for (let i = Math.floor((cut.from / total) * bins); i <= Math.min(bins - 1, Math.floor((last / total) * bins)); i++)
        for (const q of CUT_QUANTITIES) most[i][q] = Math.max(most[i][q], cut[q]);
    }
  return most.map((m, i) => ({ time: ((i + 0.5) * total) / bins, ...m }));
}

/** What is cut at a time; undefined between cuts. */
export function cutAt(cuts: readonly CutAt[], time: number): CutAt | undefined {
  return cuts.findLast((c) => c.from <= time + 1e-9 && time <= c.to + 1e-9);
}

/** What each tool has to do at most, by its place in `tools`, with the line and time of its thickest chip; tools that cut nothing are left out. */
export function hardestOf(
  cuts: readonly CutAt[],
): (Readonly<Record<CutQuantity, number>> & { readonly tool: number; readonly line: number; readonly time: number })[] {
  return [...new Set(cuts.map((c) => c.tool))].map((tool) => {
    const own = cuts.filter((c) => c.tool === tool);
    const thickest = own.reduce((a, b) => (b.section > a.section ? b : a));
    const most = (q: CutQuantity) => own.reduce((m, c) => Math.max(m, c[q]), 0);
    return {
      tool,
      line: thickest.line,
      time: thickest.from,
      section: thickest.section,
      depth: most('depth'),
      feed: most('feed'),
      surface: most('surface'),
      speed: most('speed'),
      rate: most('rate'),
    };
  });
}
