// Lines and arcs as a network: cut where they meet, joined where their ends are, and the faces between them.
import { areaOfPath, type FlatPoint, flatDistance, lengthOfPiece, type PathPiece, placeOnPiece, reversePiece } from '#core/outline';
import { eachNearPair, meetingShares, shareAt } from './crossings.ts';

/** A piece of the network, and which of the given ones it is a part of. */
export interface Strand {
  readonly piece: PathPiece;
  readonly of: number;
}

/** Cuts pieces where they cross or touch each other, ends within `within` mm of another piece counting as on it. What lies on another one, all of it, goes. */
export function cutWhereTheyMeet(pieces: readonly PathPiece[], within: number): { readonly strands: Strand[]; readonly doubles: PathPiece[] } {
  const cuts: number[][] = pieces.map(() => []);
  eachNearPair(pieces, within, (i, k) => {
    const [a, b] = [pieces[i], pieces[k]];
    for (const { first, second } of meetingShares(a, b, within)) {
      cuts[i].push(first);
      cuts[k].push(second);
    }
    // Ends on each other, which lines along each other have as well.
    for (const p of [b.from, b.to]) {
      const share = shareAt(a, p, within);
      if (share !== undefined) cuts[i].push(share);
    }
    for (const p of [a.from, a.to]) {
      const share = shareAt(b, p, within);
      if (share !== undefined) cuts[k].push(share);
    }
  });
  const strands: Strand[] = [];
  // By the numbers of both ends.
  const seen = new Map<number, number[]>();
  const doubles: PathPiece[] = [];
  const ends = new Snapper(within);
  pieces.forEach((piece, of) => {
    const length = lengthOfPiece(piece);
    const stops = [0, ...cuts[of].sort((x, y) => x - y), 1];
    let last = 0;
    for (let i = 1; i < stops.length; i++) {
      // What is left of a cut near the end goes with the end.
      const next = (1 - stops[i]) * length <= within ? 1 : stops[i];
      if ((next - last) * length <= within) continue;
      const part = partOf(piece, last, next);
      last = next;
      const [a, b] = [ends.numberOf(part.from), ends.numberOf(part.to)];
      const key = a < b ? a * COLUMNS + b : b * COLUMNS + a;
      const others = seen.get(key);
      const middle = others && placeOnPiece(part, 0.5);
      const alike = others?.some((n) => flatDistance(placeOnPiece(strands[n].piece, 0.5), middle as FlatPoint) <= 2 * within);
      if (alike) {
        doubles.push(part);
        continue;
      }
      if (others) others.push(strands.length);
      else seen.set(key, [strands.length]);
      strands.push({ piece: part, of });
    }
  });
  return { strands, doubles };
}

function partOf(piece: PathPiece, from: number, to: number): PathPiece {
  if (from === 0 && to === 1) return piece;
  const ends = { from: from === 0 ? piece.from : placeOnPiece(piece, from), to: to === 1 ? piece.to : placeOnPiece(piece, to) };
  return piece.kind === 'line' ? { kind: 'line', ...ends } : { ...piece, ...ends };
}

// Cells that are this many times as wide as the distance: most places need one look.
const WIDE = 16;
// Columns of cells: the number of a cell stays a whole one.
const COLUMNS = 2 ** 26;

/** Gives places numbers: the same one to those within a distance of each other. */
class Snapper {
  readonly places: FlatPoint[] = [];
  private readonly within: number;
  private readonly cells = new Map<number, number[]>();

  constructor(within: number) {
    this.within = within;
  }

  numberOf(p: FlatPoint): number {
    const size = WIDE * this.within;
    const x1 = Math.floor((p[0] + this.within) / size);
    const y1 = Math.floor((p[1] + this.within) / size);
    for (let x = Math.floor((p[0] - this.within) / size); x <= x1; x++)
      for (let y = Math.floor((p[1] - this.within) / size); y <= y1; y++) {
        const cell = this.cells.get(x * COLUMNS + y);
        if (cell) for (const n of cell) if (flatDistance(this.places[n], p) <= this.within) return n;
      }
    const made = this.places.push(p) - 1;
    const key = Math.floor(p[0] / size) * COLUMNS + Math.floor(p[1] / size);
    const cell = this.cells.get(key);
    if (cell) cell.push(made);
    else this.cells.set(key, [made]);
    return made;
  }
}

/** A closed way around, each piece run through forward; `of` as in Strand. */
export interface Ring {
  readonly pieces: readonly PathPiece[];
  readonly of: readonly number[];
  /** mm2, of what it goes around. */
  readonly area: number;
}

/** An end of strands that meets no other. */
export interface LooseEnd {
  readonly strand: number;
  readonly at: FlatPoint;
}

/** Strands that hang together. */
export interface Component {
  readonly strands: readonly number[];
  readonly looseEnds: readonly LooseEnd[];
  /** The way around all of it, counter-clockwise; undefined where it closes nothing. What hangs loose and what lies within are left out. */
  readonly outer: Ring | undefined;
}

/** The parts of a network that hang together, each with the way around it. */
export class Network {
  readonly strands: readonly Strand[];
  private readonly ends: Snapper;
  /** Half-edges 2 i and 2 i + 1 run along strand i forward and back. */
  private readonly start: number[] = [];

  constructor(strands: readonly Strand[], within: number) {
    this.strands = strands;
    this.ends = new Snapper(within);
    for (const { piece } of strands) this.start.push(this.ends.numberOf(piece.from), this.ends.numberOf(piece.to));
  }

  private halvesByEnd(): number[][] {
    const leaving: number[][] = this.ends.places.map(() => []);
    this.start.forEach((v, h) => leaving[v].push(h));
    return leaving;
  }

  /** Ends that meet no other. */
  looseEnds(): LooseEnd[] {
    return this.halvesByEnd().flatMap((halves, v) => (halves.length === 1 ? [{ strand: halves[0] >> 1, at: this.ends.places[v] }] : []));
  }

  components(): Component[] {
    const leaving = this.halvesByEnd();
    const part = new Int32Array(this.strands.length).fill(-1);
    const out: Component[] = [];
    for (let i = 0; i < this.strands.length; i++) {
      if (part[i] >= 0) continue;
      const members: number[] = [];
      const open = [i];
      part[i] = out.length;
      for (let s = open.pop(); s !== undefined; s = open.pop()) {
        members.push(s);
        for (const v of [this.start[2 * s], this.start[2 * s + 1]])
          for (const h of leaving[v])
            if (part[h >> 1] < 0) {
              part[h >> 1] = out.length;
              open.push(h >> 1);
            }
      }
      const looseEnds = members.flatMap((s) =>
        [2 * s, 2 * s + 1].filter((h) => leaving[this.start[h]].length === 1).map((h) => ({ strand: s, at: this.ends.places[this.start[h]] })),
      );
      out.push({ strands: members, looseEnds, outer: this.outerOf(members) });
    }
    return out;
  }

  private outerOf(members: readonly number[]): Ring | undefined {
    const alive = new Set(members);
    for (;;) {
      this.dropLoose(alive);
      if (alive.size === 0) return undefined;
      const outer = this.faces(alive).reduce((a, b) => (b.area < a.area ? b : a));
      // What the way around goes along twice only joins parts that are closed in themselves.
      const around = new Set(outer.halves);
      const twice = outer.halves.filter((h) => around.has(h ^ 1));
      if (twice.length === 0) {
        const halves = [...outer.halves].reverse().map((h) => h ^ 1);
        return { pieces: halves.map((h) => this.pieceOf(h)), of: halves.map((h) => this.strands[h >> 1].of), area: -outer.area };
      }
      for (const h of twice) alive.delete(h >> 1);
    }
  }

  private dropLoose(alive: Set<number>): void {
    const degree = new Map<number, number>();
    const count = (v: number, by: number) => degree.set(v, (degree.get(v) ?? 0) + by);
    for (const s of alive) for (const h of [2 * s, 2 * s + 1]) count(this.start[h], 1);
    for (let changed = true; changed; ) {
      changed = false;
      for (const s of alive) {
        const [v, w] = [this.start[2 * s], this.start[2 * s + 1]];
        if ((degree.get(v) ?? 0) > 1 && (degree.get(w) ?? 0) > 1) continue;
        alive.delete(s);
        count(v, -1);
        count(w, -1);
        changed = true;
      }
    }
  }

  private pieceOf(h: number): PathPiece {
    const { piece } = this.strands[h >> 1];
    const from = this.ends.places[this.start[h]];
    const to = this.ends.places[this.start[h ^ 1]];
    return { ...(h % 2 === 0 ? piece : reversePiece(piece)), from, to };
  }

  // All ways around, each face on its left; the one around everything has a negative area.
  private faces(alive: ReadonlySet<number>): { readonly halves: number[]; readonly area: number }[] {
    const leaving = new Map<number, number[]>();
    for (const s of alive)
      for (const h of [2 * s, 2 * s + 1]) {
        const list = leaving.get(this.start[h]);
        if (list) list.push(h);
        else leaving.set(this.start[h], [h]);
      }
    const place = new Map<number, number>();
    for (const list of leaving.values()) {
      list.sort((a, b) => this.compareAround(a, b));
      list.forEach((h, i) => place.set(h, i));
    }
    const seen = new Set<number>();
    const out: { halves: number[]; area: number }[] = [];
    for (const first of place.keys()) {
      if (seen.has(first)) continue;
      const halves: number[] = [];
      let h = first;
      do {
        seen.add(h);
        halves.push(h);
        const around = leaving.get(this.start[h ^ 1]) as number[];
        // The next one clockwise from where it came.
        h = around[((place.get(h ^ 1) as number) + around.length - 1) % around.length];
      } while (h !== first);
      out.push({ halves, area: areaOfPath(halves.map((k) => this.pieceOf(k))) });
    }
    return out;
  }

  // Counter-clockwise around an end; of two that leave the same way the one that bends to the left more is further on.
  private compareAround(a: number, b: number): number {
    const [p, q] = [leavingOf(this.pieceOf(a)), leavingOf(this.pieceOf(b))];
    const turn = Math.abs(p.angle - q.angle);
    return turn < 1e-6 || turn > 2 * Math.PI - 1e-6 ? p.bend - q.bend : p.angle - q.angle;
  }
}

// The direction in which a piece leaves its start, and how it bends to the left.
function leavingOf(piece: PathPiece): { angle: number; bend: number } {
  const { from, to } = piece;
  if (piece.kind === 'line') return { angle: positive(Math.atan2(to[1] - from[1], to[0] - from[0])), bend: 0 };
  const out = Math.atan2(from[1] - piece.centre[1], from[0] - piece.centre[0]);
  const bend = 1 / Math.max(1e-9, flatDistance(from, piece.centre));
  return { angle: positive(out + (piece.ccw ? Math.PI / 2 : -Math.PI / 2)), bend: piece.ccw ? bend : -bend };
}

const positive = (angle: number): number => {
  const a = angle - 2 * Math.PI * Math.floor(angle / (2 * Math.PI));
  return a > 2 * Math.PI - 1e-9 ? 0 : a;
};
