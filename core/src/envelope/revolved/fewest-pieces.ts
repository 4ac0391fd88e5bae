import { crossingOf, flatDistance, type PathPiece, type ProfilePoint, sideOf } from '#core/outline';

/** A circle in the half plane that parts of an outline follow: a fillet, a ball. `reach` is how far the outline's straight pieces pass its centre. */
export interface Ring {
  readonly centre: ProfilePoint;
  readonly radius: number;
  readonly reach: number;
  /** Material inside the circle: the outline bulges out along it. */
  readonly convex: boolean;
}

export interface BandOptions {
  /** mm. How far the result may lie above the outline. */
  readonly tolerance: number;
  /** mm. Height that the result must not pass, if any: a bore ends at its axis. */
  readonly roof?: number;
  readonly rings?: readonly Ring[];
  /** Whether arcs may be used at all. */
  readonly arcs?: boolean;
}

// mm. Comparisons of heights that were computed along different ways.
const NOISE = 1e-9;
// mm. An end of a ring's pieces that is nearer than this to its circle is on it.
const ON_RING = 1e-6;
/** mm. How far the straight pieces along a ring stand outside of it at most. */
export const RING_SAG = 5e-5;
// Corners between which a free arc is tried: fewer are served by lines.
const FEWEST_ON_ARC = 4;
const LONGEST_RUN = 160;
// No arc of more than this is fitted: it is a line.
const LARGEST_RADIUS = 2000;

/**
 * The fewest lines and arcs from the first point of an outline to its last, never below it and never more than `tolerance` above it in r; of
 * several ways with as few pieces the one that adds least. The outline is a function of z with vertical walls. Walls higher than the tolerance
 * stay; ends of long straight pieces keep their exact height, so that a cylinder comes out with its own diameter; ends may also lie where two long
 * pieces meet beyond a small corner between them. A shortest path over these places (minimum links in a band after Suri, 1986, with the places
 * given); measured against profiles known by construction in the bench.
 */
export function fewestPieces(outline: readonly ProfilePoint[], options: BandOptions): PathPiece[] {
  const sections = splitAtWalls(outline, options.tolerance);
  const out: PathPiece[] = [];
  let end: ProfilePoint | undefined;
  for (const section of sections) {
    const pieces = section.length < 2 ? [] : new Section(section, options).solve();
    const start = pieces.length > 0 ? pieces[0].from : section[0];
    if (end && flatDistance(end, start) > NOISE) out.push({ kind: 'line', from: end, to: start });
    out.push(...pieces);
    end = pieces.length > 0 ? pieces[pieces.length - 1].to : start;
  }
  return out;
}

// Stretches between walls that are higher than the tolerance; a lower wall is one place with two heights.
function splitAtWalls(points: readonly ProfilePoint[], tolerance: number): ProfilePoint[][] {
  const sections: ProfilePoint[][] = [[]];
  for (const p of points) {
    const section = sections[sections.length - 1];
    const last = section[section.length - 1];
    if (last && p[0] - last[0] < 1e-9 && Math.abs(p[1] - last[1]) > 0.5 * tolerance) sections.push([p]);
    else section.push(p);
  }
  return sections.filter((s) => s.length > 0);
}

interface Place {
  readonly z: number;
  readonly r: number;
  /** Index of the outline's corner here; -1 for a place between corners. */
  readonly corner: number;
}

// How a place is reached best: pieces so far, area above the outline so far, from where, and by which arc if not by a line.
interface Way {
  pieces: number;
  area: number;
  from: number;
  arc?: { centre: ProfilePoint; convex: boolean };
}

class Section {
  private readonly points: readonly ProfilePoint[];
  private readonly tolerance: number;
  private readonly options: BandOptions;
  private readonly places: Place[] = [];
  private readonly low: Float64Array;
  private readonly high: Float64Array;
  private readonly area: Float64Array;
  private readonly ringOf: Int32Array;
  /** Area under the outline up to each place. */
  private readonly areaAt: Float64Array;
  /** The place of each corner at its own height. */
  private readonly ownPlace: Int32Array;

  constructor(points: readonly ProfilePoint[], options: BandOptions) {
    this.points = points;
    this.options = options;
    this.tolerance = options.tolerance;
    const n = points.length;
    const roof = options.roof ?? Infinity;
    this.low = Float64Array.from(points, ([, r]) => r);
    // A small wall: both its corners keep clear of the higher one.
    for (let i = 1; i < n; i++) if (points[i][0] - points[i - 1][0] < 1e-9) this.low[i] = this.low[i - 1] = Math.max(this.low[i], this.low[i - 1]);
    this.high = this.low.map((r, i) => Math.min(roof, Math.max(r, points[i][1] + this.tolerance)));
    this.area = new Float64Array(n);
    for (let i = 1; i < n; i++) this.area[i] = this.area[i - 1] + ((points[i][0] - points[i - 1][0]) * (points[i][1] + points[i - 1][1])) / 2;
    this.ringOf = new Int32Array(Math.max(0, n - 1)).fill(-1);
    for (let i = 0; i + 1 < n; i++) this.ringOf[i] = this.ringAlong(points[i], points[i + 1]);
    this.gatherPlaces();
    this.areaAt = Float64Array.from(this.places, ({ z }) => this.areaTo(z));
    this.ownPlace = new Int32Array(n).fill(-1);
    this.places.forEach(({ corner, r }, i) => {
      if (corner >= 0 && Math.abs(r - this.low[corner]) <= NOISE) this.ownPlace[corner] = i;
    });
  }

  solve(): PathPiece[] {
    const { places } = this;
    const ways: (Way | undefined)[] = places.map(() => undefined);
    const last = this.points[this.points.length - 1][0];
    places.forEach((p, i) => {
      if (p.z <= this.points[0][0] + NOISE) ways[i] = { pieces: 0, area: 0, from: -1 };
    });
    const reach = (to: number, from: number, area: number, arc?: Way['arc']) => {
      const before = ways[from] as Way;
      const way = { pieces: before.pieces + 1, area: before.area + area, from, arc };
      const known = ways[to];
      if (!known || way.pieces < known.pieces || (way.pieces === known.pieces && way.area < known.area - NOISE)) ways[to] = way;
    };
    const arcs = this.options.arcs === false ? [] : this.ringArcs();
    for (let i = 0; i < places.length; i++) {
      if (!ways[i]) continue;
      this.linesFrom(i, (to, area) => reach(to, i, area));
      for (const arc of arcs) if (arc.from === i) reach(arc.to, i, 0, arc);
      if (this.options.arcs !== false) this.arcsFrom(i, (to, area, arc) => reach(to, i, area, arc));
    }
    let best = -1;
    places.forEach((p, i) => {
      const [way, known] = [ways[i], ways[best]];
      if (p.z < last - NOISE || !way) return;
      if (!known || way.pieces < known.pieces || (way.pieces === known.pieces && way.area < known.area)) best = i;
    });
    if (best < 0) throw new Error('fewest-pieces.solve: the outline itself is a way, and was not found');
    const out: PathPiece[] = [];
    for (let i = best; ; ) {
      const way = ways[i] as Way;
      if (way.from < 0) break;
      const [from, to] = [at(places[way.from]), at(places[i])];
      // Along z an arc that bulges up is run through clockwise.
      out.unshift(way.arc ? { kind: 'arc', from, to, centre: way.arc.centre, ccw: !way.arc.convex } : { kind: 'line', from, to });
      i = way.from;
    }
    return out;
  }

  // All places that a piece may begin or end at, in the order of z.
  private gatherPlaces(): void {
    const { points, tolerance, low, high } = this;
    const n = points.length;
    const isLong = (i: number) => i >= 0 && i + 1 < n && this.ringOf[i] < 0 && flatDistance(points[i], points[i + 1]) > Math.max(0.5, 10 * tolerance);
    const at = (i: number, r: number) => {
      if (r >= low[i] - NOISE && r <= high[i] + NOISE) this.places.push({ z: points[i][0], r: Math.max(r, low[i]), corner: i });
    };
    for (let i = 0; i < n; i++) {
      at(i, low[i]);
      if (isLong(i) || isLong(i - 1)) continue;
      at(i, (low[i] + high[i]) / 2);
      at(i, high[i]);
    }
    // Where a long piece goes on to: the next long one, or the end of the section.
    const long = Array.from({ length: n }, (_, i) => i).filter(isLong);
    long.forEach((a, k) => {
      const b = long[k + 1];
      if (b !== undefined && b > a + 1) this.addMeeting(a, b);
    });
    const extend = (piece: number, i: number) => {
      const [p, q] = [points[piece], points[piece + 1]];
      if (q[0] - p[0] > 1e-9) at(i, p[1] + ((q[1] - p[1]) * (points[i][0] - p[0])) / (q[0] - p[0]));
    };
    if (long.length > 0) {
      if (long[0] > 0) extend(long[0], 0);
      if (long[long.length - 1] < n - 2) extend(long[long.length - 1], n - 1);
    }
    // Neighbours of a corner reach to the next corner as well.
    for (let i = 0; i + 1 < n; i++) {
      if (i >= 1 && !isLong(i) && !isLong(i - 1) && i + 1 < n && !isLong(i + 1)) extend(i - 1, i + 1);
      if (i + 2 < n && !isLong(i) && !isLong(i - 1)) extend(i + 1, i);
    }
    if (this.options.arcs !== false)
      for (const { first, last, ring } of this.ringRuns()) {
        for (const p of [this.ringEnd(first, ring, true), this.ringEnd(last + 1, ring, false)]) if (p) this.places.push({ z: p[0], r: p[1], corner: -1 });
      }
    this.places.sort((a, b) => a.z - b.z);
  }

  private addMeeting(a: number, b: number): void {
    const { points, tolerance } = this;
    const meet = crossingOf(points[a], points[a + 1], points[b], points[b + 1])?.at;
    if (!meet || meet[0] < points[a + 1][0] - NOISE || meet[0] > points[b][0] + NOISE) return;
    const base = this.heightAt(meet[0]);
    if (meet[1] < base - NOISE || meet[1] > Math.min(base + tolerance, this.options.roof ?? Infinity)) return;
    this.places.push({ z: meet[0], r: meet[1], corner: -1 });
  }

  private heightAt(z: number): number {
    const { points } = this;
    const i = this.pieceAt(z);
    const [p, q] = [points[i], points[i + 1]];
    return q[0] - p[0] < 1e-12 ? Math.max(p[1], q[1]) : p[1] + ((q[1] - p[1]) * (z - p[0])) / (q[0] - p[0]);
  }

  private pieceAt(z: number): number {
    const { points } = this;
    let [from, to] = [0, points.length - 1];
    while (from + 1 < to) {
      const mid = (from + to) >> 1;
      if (points[mid][0] <= z) from = mid;
      else to = mid;
    }
    return from;
  }

  // Area under the outline from its beginning to z.
  private areaTo(z: number): number {
    const i = this.pieceAt(z);
    const [p] = [this.points[i]];
    return this.area[i] + ((z - p[0]) * (p[1] + this.heightAt(z))) / 2;
  }

  // Every place that a straight piece from this one reaches within the band.
  private linesFrom(i: number, reach: (to: number, area: number) => void): void {
    const { places, points, low, high, areaAt } = this;
    const from = places[i];
    let [least, most] = [-Infinity, Infinity];
    let next = this.pieceAt(from.z);
    while (next < points.length && points[next][0] <= from.z + NOISE) next++;
    for (let k = i + 1; k < places.length; k++) {
      const to = places[k];
      if (to.z <= from.z + NOISE) continue;
      for (; next < points.length && points[next][0] < to.z - NOISE; next++) {
        const dz = points[next][0] - from.z;
        least = Math.max(least, (low[next] - from.r - NOISE) / dz);
        most = Math.min(most, (high[next] - from.r + NOISE) / dz);
      }
      if (least > most) return;
      const slope = (to.r - from.r) / (to.z - from.z);
      if (slope < least || slope > most) continue;
      reach(k, Math.max(0, ((from.r + to.r) / 2) * (to.z - from.z) - (areaAt[k] - areaAt[i])));
    }
  }

  // Arcs that bulge up over many short pieces, between corners of the outline at their own heights.
  private arcsFrom(i: number, reach: (to: number, area: number, arc: NonNullable<Way['arc']>) => void): void {
    const { places, points, low } = this;
    const { corner, r } = places[i];
    if (corner < 0 || Math.abs(r - low[corner]) > NOISE) return;
    // As far as the outline turns down all along.
    let end = corner + 1;
    while (end + 1 < points.length && end - corner < LONGEST_RUN && sideOf(points[end - 1], points[end], points[end + 1]) < 0) end++;
    for (let k = end, tries = 0; k - corner > FEWEST_ON_ARC && tries < 6; k -= Math.max(1, Math.floor((k - corner) / 4)), tries++) {
      const arc = this.arcOver(corner, k);
      if (!arc) continue;
      const to = this.ownPlace[k];
      if (to >= 0) reach(to, arc.area, { centre: arc.centre, convex: true });
    }
  }

  // The lowest arc over the corners from a to b: the sharpest angle that any corner between sees the two ends under.
  private arcOver(a: number, b: number): { centre: ProfilePoint; area: number } | undefined {
    const { points, low, high } = this;
    const [p, q]: ProfilePoint[] = [
      [points[a][0], low[a]],
      [points[b][0], low[b]],
    ];
    let bulge = 0;
    for (let k = a + 1; k < b; k++) {
      const corner: ProfilePoint = [points[k][0], low[k]];
      if (sideOf(p, q, corner) < 0) return undefined;
      bulge = Math.max(bulge, Math.PI - Math.abs(angleAt(corner, p, q)));
    }
    const half = bulge + 1e-9;
    const chord = flatDistance(p, q);
    if (half < 1e-6 || half > 1.5) return undefined;
    const radius = chord / (2 * Math.sin(half));
    if (radius > LARGEST_RADIUS) return undefined;
    const [mx, my] = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2];
    const down = radius * Math.cos(half);
    const centre: ProfilePoint = [mx + (down * (q[1] - p[1])) / chord, my - (down * (q[0] - p[0])) / chord];
    // Past its own sides the arc would turn back.
    if (p[0] < centre[0] - radius + NOISE || (p[1] < centre[1] && p[0] < centre[0]) || (q[1] < centre[1] && q[0] > centre[0])) return undefined;
    for (let k = a; k < b; k++) {
      // The highest place of the arc over a piece is where it runs along it, or at an end.
      const [u, v]: ProfilePoint[] = [points[k], points[k + 1]];
      const l = flatDistance(u, v);
      if (l < NOISE) continue;
      const over = sideOf(u, v, centre) / l + radius;
      const foot = (centre[0] - u[0]) * (v[0] - u[0]) + (centre[1] - u[1]) * (v[1] - u[1]);
      const up = (v[0] - u[0]) / l;
      if (foot > 0 && foot < l * l && over > this.tolerance * up) return undefined;
      if (k > a && centre[1] + Math.sqrt(Math.max(0, radius * radius - (u[0] - centre[0]) ** 2)) > high[k] + NOISE) return undefined;
    }
    const segment = (radius * radius * (2 * half - Math.sin(2 * half))) / 2;
    return { centre, area: Math.max(0, segment + ((p[1] + q[1]) / 2) * (q[0] - p[0]) - (this.area[b] - this.area[a])) };
  }

  private ringAlong(p: ProfilePoint, q: ProfilePoint): number {
    const l = flatDistance(p, q);
    if (l < NOISE) return -1;
    return (this.options.rings ?? []).findIndex(({ centre, radius, reach, convex }) => {
      // Above a bulging circle, below the centre of a hollow one.
      const off = sideOf(p, q, centre) / l;
      if (Math.abs((convex ? -off : off) - reach) > 1e-8 + 1e-7 * l) return false;
      const middle = flatDistance([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2], centre);
      return Math.abs(middle - radius) < 2 * Math.abs(radius - reach) + 1e-6;
    });
  }

  // Stretches of pieces along one ring.
  private ringRuns(): { first: number; last: number; ring: Ring }[] {
    const out: { first: number; last: number; ring: Ring }[] = [];
    for (let i = 0; i < this.ringOf.length; i++) {
      const ring = this.options.rings?.[this.ringOf[i]];
      if (!ring) continue;
      const run = out[out.length - 1];
      if (run?.ring === ring && run.last === i - 1) run.last = i;
      else out.push({ first: i, last: i, ring });
    }
    return out.filter((r) => r.last > r.first);
  }

  // Where the true circle begins or ends: its straight pieces pass a little outside of it.
  private ringEnd(corner: number, { centre, radius }: Ring, isStart: boolean): ProfilePoint | undefined {
    const { points } = this;
    const p = points[corner];
    if (Math.abs(flatDistance(p, centre) - radius) < ON_RING) return p;
    const other = isStart ? corner - 1 : corner;
    // Against a wall at the section's end, or along the piece beside it.
    const along: [ProfilePoint, ProfilePoint] = other < 0 || other + 1 >= points.length ? [p, [p[0], p[1] - 1]] : [points[other], points[other + 1]];
    const found = onCircle(along[0], along[1], centre, radius).sort((a, b) => flatDistance(a, p) - flatDistance(b, p))[0];
    // As far as a straight piece goes beyond the place where it touches.
    return found && flatDistance(found, p) < 3 * Math.sqrt(2 * radius * RING_SAG) ? found : undefined;
  }

  private ringArcs(): { from: number; to: number; centre: ProfilePoint; convex: boolean }[] {
    const { places } = this;
    const find = (p: ProfilePoint | undefined) => (p ? places.findIndex((q) => q.z === p[0] && q.r === p[1]) : -1);
    return this.ringRuns().flatMap(({ first, last, ring }) => {
      const [from, to] = [find(this.ringEnd(first, ring, true)), find(this.ringEnd(last + 1, ring, false))];
      return from >= 0 && to >= 0 && places[to].z > places[from].z ? [{ from, to, centre: ring.centre, convex: ring.convex }] : [];
    });
  }
}

const at = ({ z, r }: Place): ProfilePoint => [z, r];
const angleAt = (v: ProfilePoint, a: ProfilePoint, b: ProfilePoint): number =>
  Math.atan2(sideOf(v, a, b), (a[0] - v[0]) * (b[0] - v[0]) + (a[1] - v[1]) * (b[1] - v[1]));

// Where the line through two points meets a circle; where it only touches, within a hair.
function onCircle(p: ProfilePoint, q: ProfilePoint, centre: ProfilePoint, radius: number): ProfilePoint[] {
  const l = flatDistance(p, q) || 1;
  const [ux, uy] = [(q[0] - p[0]) / l, (q[1] - p[1]) / l];
  const along = (centre[0] - p[0]) * ux + (centre[1] - p[1]) * uy;
  const off = Math.abs((centre[0] - p[0]) * uy - (centre[1] - p[1]) * ux);
  if (off > radius + ON_RING) return [];
  const half = Math.sqrt(Math.max(0, radius * radius - off * off));
  return [along - half, along + half].map((t): ProfilePoint => [p[0] + t * ux, p[1] + t * uy]);
}
