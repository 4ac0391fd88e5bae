import type { Carrier } from '#core/records';
import { lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';
import type { CuttingOutline } from './cut/cutting-outline.ts';
import { sayMm, type TrialEvent } from './events.ts';
import type { Move, SpindleState } from './program/moves.ts';
import type { Region } from './region/region.ts';
import type { LoadedEdge } from './setting.ts';
import { speedOn } from './timing.ts';
import { tooDeep } from './too-deep.ts';
import type { Flank } from './touch/flank.ts';
import { wrongFeed } from './wrong-feed.ts';

/** What is wrong with a move, and at which share of it, 0 to 1. */
export type MoveFault = Pick<TrialEvent, 'kind' | 'between' | 'depth' | 'at' | 'message' | 'body'> & { readonly share: number };

/** A way that ends where a carrier cannot get. `travel`: of its reference, [z, x] of the part. */
export function beyondTravel(
  { name }: Pick<Carrier, 'name'>,
  travel: { readonly z: readonly [number, number]; readonly x: readonly [number, number] },
  tool: string,
  { to }: PathPiece,
): MoveFault[] {
  const beyond = (v: number, [low, high]: readonly [number, number]) => Math.max(0, low - v, v - high);
  const [dz, dx] = [beyond(to[0], travel.z), beyond(to[1], travel.x)];
  const by = Math.max(dz, dx);
  if (by < LEAST_BEYOND) return [];
  const message = `${name} would have to go ${sayMm(by)} beyond its travel along ${dz >= dx ? 'Z' : 'X'}.`;
  return [{ kind: 'travel', between: [tool, name], depth: by, at: to, message, share: 0 }];
}

/** A tool that cuts, as far as its moves are judged. */
export interface CuttingTool {
  readonly loaded: LoadedEdge;
  readonly name: string;
  readonly outline: CuttingOutline | undefined;
  readonly flank: Flank | undefined;
  /** Largest speed of the spindle, 1/min. */
  readonly largest: number;
}

/** What is wrong with a move that cuts. `depth`: mm across its way on the average, `deepest`: over a stretch of it at most. */
export function faultsOfCut(tool: CuttingTool, move: Move, path: PathPiece, spindle: SpindleState, depth: number, deepest: number): MoveFault[] {
  const { loaded, name, outline, largest } = tool;
  const { edge } = loaded;
  if (move.isRapid) return [];
  const fault = (kind: MoveFault['kind'], by: number, message: string): MoveFault => ({
    kind,
    between: [name, 'work'],
    depth: by,
    at: path.from,
    message,
    share: 0,
  });
  const out: MoveFault[] = [];
  // A thread's own way is no cut along it.
  const isThread = move.pitch !== undefined;
  const feed = wrongFeed(edge, path, isThread ? 0 : depth);
  if (feed) out.push(fault('feed', feed.depth, `${name} is fed ${feed.text}`));
  const most = Math.max(depth, deepest);
  const deep = outline && !isThread ? tooDeep(outline, edge.own.noseRadius, path, most) : undefined;
  if (deep) out.push(fault('depth', deep.over, `${name} cuts ${sayMm(deep.depth)} deep; its edge reaches ${sayMm(deep.length)} across that way.`));
  const isStanding = !spindle.sense || (move.feed?.per === 'turn' && speedOn(spindle, Math.abs(move.path.from[1]), largest) <= 0);
  if (isStanding) out.push(fault('sense', 0, `${name} cuts, and the spindle stands still.`));
  else if (edge.sense && !edge.own.spins && spindle.sense !== edge.sense)
    out.push(fault('sense', 0, `${name} cuts with ${edge.sense}, and the spindle turns with ${spindle.sense}.`));
  return out;
}

/** Where what cuts goes with its flank into the work, as a way leaves it. */
export function rubs({ flank, name }: CuttingTool, work: Region, path: PathPiece): MoveFault[] {
  if (!flank) return [];
  const count = Math.min(MOST_LOOKS, Math.ceil(lengthOfPiece(path) / BETWEEN_LOOKS));
  return Array.from({ length: count }, (_, i) => (i + 1) / count).flatMap((share): MoveFault[] => {
    const found = flank.touches(work, placeOnPiece(path, share));
    if (!found) return [];
    const { watched, depth, at } = found;
    const message = `${watched.body.name} rubs: its flank goes ${sayMm(depth)} into the work that its edge leaves.`;
    return [{ kind: 'touch', between: [`flank of ${name}`, 'work'], depth, at, message, body: watched.ref, share }];
  });
}

// mm. What is less is rounding.
const LEAST_BEYOND = 1e-6;
// mm between places of a way at which it is looked whether a flank rubs; at most so many.
const BETWEEN_LOOKS = 2;
const MOST_LOOKS = 24;
