import { issue, type Issue } from '#core/issues';
import { areaOfPolygon, fitChain, flatDistance, type FlatPoint, mapPiece, type PathPiece, reversePath } from '#core/outline';
import type { CuttingOutline } from '../cut/cutting-outline.ts';
import { type At, standing, swept } from '../cut/sweep.ts';
import { straighter } from '#core/clipping';
import { type InTheWay, type BodyRoom, sayInTheWay } from '../touch/body-room.ts';
import type { Region } from '../region/region.ts';
import { CLEARANCE } from '../free/cut-views.ts';
import type { View } from '../free/free-space.ts';

/** A move of a planned cut: of the carrier's reference, [z, x] of the part. */
export interface PlannedMove {
  readonly kind: 'rapid' | 'feed' | 'thread';
  readonly path: PathPiece;
  /** mm a turn, of a feed; the pitch of a thread. */
  readonly feed: number;
}

// mm2. What is smaller is no cut.
const NO_CUT = 1e-4;
// mm. What is thinner on a surface is rounding of what was cut before.
const THIN = 5e-4;
// mm. Corners that small are no corners; how far chords of what is fitted may stand off, and how far what is fitted may leave more.
const ROUNDING = 3e-4;
const FIT = { tolerance: 3e-4, sag: 1e-3, onCircle: 1e-3 };

/** A tool that is moved while a cut is planned: what it does to the work, and the moves that it makes. Places are in the view of the cut. */
export class ToolWay {
  readonly moves: PlannedMove[] = [];
  readonly notes: Issue[] = [];
  readonly stock: Region;
  private readonly view: View;
  private readonly edge: { readonly name: string; readonly z: number };
  private readonly outline: CuttingOutline;
  private readonly room: BodyRoom;
  private readonly roomInStock: BodyRoom;
  private at: FlatPoint | undefined;
  private readonly stopped = new Set<string>();

  /** `edge`: its name, and where its programmed point stands along Z about the reference; `room`: beside what must stay; `roomInStock`: beside the work as it is being cut, which is `stock`. */
  constructor(edge: { readonly name: string; readonly z: number }, outline: CuttingOutline, view: View, stock: Region, room: BodyRoom, roomInStock: BodyRoom) {
    this.edge = edge;
    this.outline = outline;
    this.view = view;
    this.stock = stock;
    this.room = room;
    this.roomInStock = roomInStock;
  }

  private real(p: FlatPoint): At {
    const [z, x] = this.view.from(p);
    return [z, x];
  }

  /** What of the work it would cut on a straight way: mm2, and from where to where in the view. */
  wouldCut(from: FlatPoint, to: FlatPoint): { readonly area: number; readonly a: readonly [number, number] } {
    const [p, q] = [this.real(from), this.real(to)];
    const found = this.stock.commonWith([...standing(this.outline, p), ...swept(this.outline, p, q)]);
    let [low, high, area] = [Infinity, -Infinity, 0];
    for (const loop of found) {
      const own = areaOfPolygon(loop);
      area += own;
      if (Math.abs(own) < NO_CUT) continue;
      for (const p of loop) {
        const [a] = this.view.to(p);
        if (a < low) low = a;
        if (a > high) high = a;
      }
    }
    return { area: Math.abs(area), a: [low, high] };
  }

  private isFree(from: FlatPoint, to: FlatPoint): boolean {
    return this.wouldCut(from, to).area < NO_CUT && !this.roomInStock.inTheWay(this.real(from), this.real(to));
  }

  /** Where it comes to from where its carrier waits. */
  begin(at: FlatPoint): void {
    this.push('rapid', [at], 0);
  }

  /** Goes somewhere in rapid: straight, else over the lowest of some heights from which it is free, at last over the highest. */
  rapid(to: FlatPoint, heights: readonly number[]): void {
    const { at } = this;
    if (!at || this.isFree(at, to)) {
      this.push('rapid', [to], 0);
      return;
    }
    const over = (h: number): FlatPoint[] => [[at[0], Math.max(h, at[1])], [to[0], Math.max(h, at[1], to[1])], to];
    const sorted = [...heights].sort((a, b) => a - b);
    const best = sorted.find((h) => {
      const way = [at, ...over(h)];
      return way.slice(1).every((p, i) => flatDistance(way[i], p) < 1e-9 || this.isFree(way[i], p));
    });
    for (const p of over(best ?? sorted.at(-1) ?? to[1])) if (!this.at || flatDistance(this.at, p) > 1e-9) this.push('rapid', [p], 0);
  }

  /** Out of the work: over it, or before its face at the height where it is. */
  leave({ a, b }: { readonly a?: number; readonly b: number }): void {
    const { at } = this;
    if (!at) return;
    if (a !== undefined) this.rapid([a, at[1]], [b]);
    this.rapid([a ?? at[0], b], [b]);
  }

  /** Away from what was cut: up and back, else up; where neither is free it stays. */
  lift(): void {
    const { at } = this;
    if (!at) return;
    const away = (
      [
        [at[0] - CLEARANCE / 2, at[1] + CLEARANCE / 2],
        [at[0], at[1] + CLEARANCE],
      ] as FlatPoint[]
    ).find((p) => this.isFree(at, p));
    if (away) this.push('rapid', [away], 0);
  }

  /** Cuts along a chain; `keepsRight`: the part lies on its right. Stops where a body of the tool would get into what must stay, and says so. */
  feed(chain: readonly FlatPoint[], feed: number, keepsRight = true): void {
    const done: FlatPoint[] = [];
    let last = this.at;
    for (const p of chain) {
      if (last && flatDistance(last, p) < 1e-9) continue;
      const [from, to] = [this.real(last ?? p), this.real(p)];
      const met = this.room.inTheWay(from, to);
      if (met) {
        const share = last ? this.shareUntil(from, to) : 0;
        if (last && share > 0) done.push([last[0] + share * (p[0] - last[0]), last[1] + share * (p[1] - last[1])]);
        this.sayStopped(met, p);
        break;
      }
      done.push(p);
      last = p;
    }
    this.push('feed', done, feed, keepsRight);
  }

  thread(to: FlatPoint, pitch: number): void {
    this.push('thread', [to], pitch);
  }

  // How much of a way a tool has room for, by halves.
  private shareUntil(from: At, to: At): number {
    let [low, high] = [0, 1];
    for (let i = 0; i < 10; i++) {
      const t = (low + high) / 2;
      if (this.room.inTheWay(from, [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])])) high = t;
      else low = t;
    }
    return low;
  }

  private sayStopped(met: InTheWay, p: FlatPoint): void {
    const by = sayInTheWay(met);
    if (this.stopped.has(by)) return;
    this.stopped.add(by);
    this.notes.push(issue('operation.in-the-way', { name: this.edge.name, text: by, z: this.sayZ(this.real(p)) }));
  }

  // What the work as it still is leaves no room for, is cut nevertheless, and said.
  private lookAround(places: readonly At[]): void {
    if (this.stopped.has('work')) return;
    const met = places.slice(1).flatMap((p, i) => this.roomInStock.inTheWay(places[i], p) ?? []);
    if (met.length === 0) return;
    this.stopped.add('work');
    this.notes.push(issue('operation.touches', { name: this.edge.name, text: sayInTheWay(met[0]), z: this.sayZ(places[0]) }));
  }

  private sayZ([z]: At): number {
    return Math.round((z + this.edge.z) * 100) / 100;
  }

  private push(kind: PlannedMove['kind'], chain: readonly FlatPoint[], feed: number, keepsRight = true): void {
    if (chain.length === 0) return;
    const from = this.at ?? chain[0];
    const points = this.at ? [from, ...chain] : [...chain];
    this.at = chain[chain.length - 1];
    if (kind === 'feed') {
      const places = points.map((p) => this.real(p));
      this.stock.cut([...standing(this.outline, places[0]), ...places.slice(1).flatMap((q, i) => swept(this.outline, places[i], q))]);
      this.lookAround(places);
    }
    const pieces = points.length < 3 ? lineOf(points) : fitted(points, keepsRight);
    for (const piece of pieces) {
      const path = mapPiece(piece, (p) => this.real(p));
      this.moves.push({ kind, feed, path: path.kind === 'arc' && this.view.mirrors ? { ...path, ccw: !path.ccw } : path });
    }
  }
}

const lineOf = (points: readonly FlatPoint[]): PathPiece[] =>
  points.length === 1 ? [{ kind: 'line', from: points[0], to: points[0] }] : [{ kind: 'line', from: points[0], to: points[1] }];

// What is fitted gains on its left: that is to be the part's side.
function fitted(all: readonly FlatPoint[], keepsRight: boolean): PathPiece[] {
  const points = straighter(all, ROUNDING);
  return keepsRight ? [...reversePath(fitChain([...points].reverse(), FIT))] : fitChain(points, FIT);
}

/** Where along a chain a tool cuts: runs of it, with what is cut in order. Gaps that are shorter than `gap` mm go along. */
export function runsThatCut(
  chain: readonly FlatPoint[],
  { stock, outline, view }: { stock: Region; outline: CuttingOutline; view: View },
  gap: number,
): FlatPoint[][] {
  const left = stock.copy();
  const runs: FlatPoint[][] = [];
  let idle = Infinity;
  let waiting: FlatPoint[] = [];
  for (let i = 0; i + 1 < chain.length; i++) {
    const [p, q] = [view.from(chain[i]), view.from(chain[i + 1])];
    const { area } = left.cut([...standing(outline, p), ...swept(outline, p, q)]);
    if (area < THIN * flatDistance(p, q)) {
      idle += flatDistance(p, q);
      waiting.push(chain[i + 1]);
      continue;
    }
    const run = runs.at(-1);
    if (run && idle <= gap) run.push(...waiting, chain[i + 1]);
    else runs.push([chain[i], chain[i + 1]]);
    waiting = [];
    idle = 0;
  }
  return runs;
}
