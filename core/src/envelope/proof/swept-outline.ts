import type { SampledBody } from '#core/kernel';
import { type Axis, acrossAxes, flatCoordinates, zrOfPoints } from '../axis.ts';
import { gainsOfTriangles } from '../sag.ts';

// Bins along the axis.
const BINS = 8000;
// mm. Places of a bin that differ by less are as high as one another.
const SAME_HEIGHT = 1e-6;

/** mm, along the axis and from it. */
interface Place {
  readonly z: number;
  readonly r: number;
}

/**
 * What bodies sweep about an axis, by brute force: the proof's own picture of what the envelope is to enclose; it knows nothing of how envelopes are built.
 *
 * `outer`: every edge of their triangles and every point of their true faces, the outermost place in each of many bins along the axis. Gaps up to `bridge`
 * mm wide are filled. `inner`: every triangle, sliced at every bin, the place that is nearest to the axis; chords of bores stand back by what they
 * stand out of the bore. Heights are counted outwards in the one, towards the axis in the other.
 */
export class SweptOutline {
  private readonly low: number;
  private readonly width: number;
  private readonly sense: 1 | -1;
  /** By bin, mm; -Infinity where there is nothing. */
  private readonly height: Float64Array;
  /** Where along the axis the highest places of a bin begin and end, mm: where a wall begins, not where its bin does. */
  private readonly from: Float64Array;
  private readonly to: Float64Array;

  constructor(bodies: readonly SampledBody[], axis: Axis, side: 'outer' | 'inner', bridge = 0) {
    this.sense = side === 'outer' ? 1 : -1;
    const all = bodies.map((body) => ({ body, corners: zrOfPoints(axis, body.mesh.positions) }));
    let [low, high] = [Infinity, -Infinity];
    for (const { corners } of all)
      for (let i = 0; i < corners.length; i += 2) {
        low = Math.min(low, corners[i]);
        high = Math.max(high, corners[i]);
      }
    this.low = low;
    this.width = Math.max(1e-9, (high - low) / BINS);
    this.height = new Float64Array(BINS + 1).fill(-Infinity);
    this.from = Float64Array.from({ length: BINS + 1 }, (_, bin) => this.middleOf(bin));
    this.to = this.from.slice();
    for (const { body, corners } of all)
      if (side === 'inner') this.putSlices(body, axis, corners);
      else {
        const skin = zrOfPoints(axis, body.skin);
        for (const places of [corners, skin]) for (let i = 0; i < places.length; i += 2) this.put(places[i], places[i + 1]);
        this.putEdges(body, axis, corners);
      }
    if (bridge > 0) this.close(Math.ceil(bridge / this.width));
  }

  private binOf(z: number): number {
    return Math.max(0, Math.min(BINS, Math.round((z - this.low) / this.width)));
  }

  private middleOf(bin: number): number {
    return this.low + bin * this.width;
  }

  private put(z: number, height: number): void {
    this.putInto(this.binOf(z), z, height);
  }

  private putInto(bin: number, z: number, height: number): void {
    const highest = this.height[bin];
    if (height < highest - SAME_HEIGHT) return;
    const isSame = height <= highest + SAME_HEIGHT;
    this.height[bin] = Math.max(height, highest);
    this.from[bin] = isSame ? Math.min(z, this.from[bin]) : z;
    this.to[bin] = isSame ? Math.max(z, this.to[bin]) : z;
  }

  // Each edge where it meets the middles of the bins: its place in space there, turned into the half plane.
  private putEdges({ mesh: { positions: p, triangles: t } }: SampledBody, { origin: o, direction: d }: Axis, zr: Float64Array): void {
    for (let h = 0; h < t.length; h++) {
      const [a, b] = [3 * t[h], 3 * t[h % 3 === 2 ? h - 2 : h + 1]];
      const za = (p[a] - o[0]) * d[0] + (p[a + 1] - o[1]) * d[1] + (p[a + 2] - o[2]) * d[2];
      const zb = (p[b] - o[0]) * d[0] + (p[b + 1] - o[1]) * d[1] + (p[b + 2] - o[2]) * d[2];
      if (za > zb || zb - za < this.width / 2) continue;
      const [first, last] = [Math.ceil((za - this.low) / this.width), Math.floor((zb - this.low) / this.width)];
      // It is furthest out at one of its ends.
      const most = Math.max(zr[2 * t[h] + 1], zr[2 * (b / 3) + 1]);
      for (let bin = first; bin <= last; bin++) {
        if (most <= this.height[bin]) continue;
        const z = this.middleOf(bin);
        const s = (z - za) / (zb - za);
        const x = p[a] + s * (p[b] - p[a]) - o[0] - z * d[0];
        const y = p[a + 1] + s * (p[b + 1] - p[a + 1]) - o[1] - z * d[1];
        const w = p[a + 2] + s * (p[b + 2] - p[a + 2]) - o[2] - z * d[2];
        const r = Math.sqrt(x * x + y * y + w * w);
        if (r > this.height[bin]) this.putInto(bin, z, r);
      }
    }
  }

  // Each triangle cut across the axis at the middles of the bins, and at its own ends: how near to the axis the cuts come.
  private putSlices(body: SampledBody, axis: Axis, zr: Float64Array): void {
    const { triangles: t } = body.mesh;
    const [u, v] = acrossAxes(axis);
    const flat = flatCoordinates(axis, u, v, body.mesh.positions);
    const gains = gainsOfTriangles(body);
    for (let i = 0; i < t.length; i += 3) {
      const [a, b, c] = [2 * t[i], 2 * t[i + 1], 2 * t[i + 2]];
      const low = Math.min(zr[a], zr[b], zr[c]);
      const high = Math.max(zr[a], zr[b], zr[c]);
      const gain = gains[i / 3];
      for (let k = i; k < i + 3; k++) this.put(zr[2 * t[k]], -zr[2 * t[k] + 1] - gain);
      const most = -distanceOfTriangle(flat, a, b, c) - gain;
      // One that lies within a bin is looked at as a whole.
      if (high - low < this.width) this.put((low + high) / 2, most);
      const last = Math.floor((high - this.low) / this.width);
      for (let bin = Math.ceil((low - this.low) / this.width); bin <= last; bin++)
        if (most > this.height[bin]) this.put(this.middleOf(bin), -distanceOfSlice(zr, flat, a, b, c, this.middleOf(bin)) - gain);
    }
  }

  // Fills what is no wider than so many bins: the greatest height in reach, and of those the least in reach. Beyond the ends there is nothing.
  private close(bins: number): void {
    const reach = Math.ceil(bins / 2);
    const padded = new Float64Array(this.height.length + 2 * reach).fill(-Infinity);
    padded.set(this.height, reach);
    const raised = greatestWithin(padded, reach).map((h) => -h);
    const closed = greatestWithin(raised, reach);
    this.height.forEach((height, bin) => {
      if (-closed[bin + reach] <= height) return;
      this.height[bin] = -closed[bin + reach];
      this.from[bin] = this.middleOf(bin);
      this.to[bin] = this.from[bin];
    });
  }

  /** How far a place of the half plane is from what is swept, mm; 0 inside. Within a wall's bin it may be less than it is, by the bin's width. */
  distance({ z, r }: Place): number {
    const height = this.sense * r;
    const at = this.binOf(z);
    let best = Infinity;
    for (let step = 0; step <= BINS && (step - 1) * this.width < best; step++)
      for (const bin of step === 0 ? [at] : [at - step, at + step]) {
        if (bin < 0 || bin > BINS || this.height[bin] === -Infinity) continue;
        best = Math.min(best, this.fromColumn(bin, z, height));
      }
    return best;
  }

  // From what one bin sweeps: a column up to its height, and one to where the next bin's begins.
  private fromColumn(bin: number, z: number, h: number): number {
    const { from, to, height } = this;
    const own = fromPiece(from[bin], height[bin], to[bin], height[bin], z, h);
    const next = bin + 1;
    return own > 0 && bin < BINS && height[next] > -Infinity ? Math.min(own, fromPiece(to[bin], height[bin], from[next], height[next], z, h)) : own;
  }
}

// From what lies below a piece of a line, in the half plane.
function fromPiece(z0: number, h0: number, z1: number, h1: number, z: number, h: number): number {
  if (z1 <= z0) return Math.hypot(z - z0, Math.max(0, h - h0));
  const s = Math.max(0, Math.min(1, ((z - z0) * (z1 - z0) + (h - h0) * (h1 - h0)) / ((z1 - z0) ** 2 + (h1 - h0) ** 2)));
  const onTop = Math.hypot(z - z0 - s * (z1 - z0), h - h0 - s * (h1 - h0));
  if (z >= z0 && z <= z1) return h <= h0 + ((z - z0) / (z1 - z0)) * (h1 - h0) ? 0 : onTop;
  return Math.min(onTop, Math.hypot(z < z0 ? z0 - z : z - z1, Math.max(0, h - (z < z0 ? h0 : h1))));
}

// The greatest of the values up to `reach` places away, by a queue of those that may still become it.
function greatestWithin(values: Float64Array, reach: number): Float64Array {
  const out = new Float64Array(values.length);
  const queue = new Int32Array(values.length);
  let [head, tail, next] = [0, 0, 0];
  for (let i = 0; i < values.length; i++) {
    for (; next < values.length && next <= i + reach; next++) {
      while (tail > head && values[queue[tail - 1]] <= values[next]) tail--;
      queue[tail++] = next;
    }
    while (queue[head] < i - reach) head++;
    out[i] = values[queue[head]];
  }
  return out;
}

function distanceOfSegment(ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax;
  const dy = by - ay;
  const length2 = dx * dx + dy * dy;
  const s = length2 > 0 ? Math.max(0, Math.min(1, -(ax * dx + ay * dy) / length2)) : 0;
  const [x, y] = [ax + s * dx, ay + s * dy];
  return Math.sqrt(x * x + y * y);
}

// From the axis, of a triangle seen along it; 0 where the axis goes through it. `a`, `b`, `c`: where its corners are in `flat`.
function distanceOfTriangle(flat: Float64Array, a: number, b: number, c: number): number {
  const [ab, bc, ca] = [turn(flat, a, b), turn(flat, b, c), turn(flat, c, a)];
  if ((ab > 0 && bc > 0 && ca > 0) || (ab < 0 && bc < 0 && ca < 0)) return 0;
  return Math.min(
    distanceOfSegment(flat[a], flat[a + 1], flat[b], flat[b + 1]),
    distanceOfSegment(flat[b], flat[b + 1], flat[c], flat[c + 1]),
    distanceOfSegment(flat[c], flat[c + 1], flat[a], flat[a + 1]),
  );
}

const turn = (flat: Float64Array, a: number, b: number): number => flat[a] * flat[b + 1] - flat[a + 1] * flat[b];

// The ends of a slice, packed.
const ENDS = new Float64Array(6);

// From the axis, of what a triangle has at a height; infinite where it has nothing.
function distanceOfSlice(zr: Float64Array, flat: Float64Array, a: number, b: number, c: number, z: number): number {
  let ends = 0;
  for (let side = 0; side < 3; side++) {
    const from = side === 0 ? a : side === 1 ? b : c;
    const to = side === 0 ? b : side === 1 ? c : a;
    const [z0, z1] = [zr[from], zr[to]];
    if (z0 === z1 || (z0 - z) * (z1 - z) > 0) continue;
    const s = (z - z0) / (z1 - z0);
    ENDS[2 * ends] = flat[from] + s * (flat[to] - flat[from]);
    ENDS[2 * ends + 1] = flat[from + 1] + s * (flat[to + 1] - flat[from + 1]);
    ends++;
  }
  let least = Infinity;
  for (let k = 1; k < ends; k++) least = Math.min(least, distanceOfSegment(ENDS[0], ENDS[1], ENDS[2 * k], ENDS[2 * k + 1]));
  return least;
}
