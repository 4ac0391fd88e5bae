import type { SampledBody } from '#core/kernel';
import { type Axis, zrOfPoints } from './axis.ts';

// Bins along the axis.
const BINS = 8000;

/**
 * What bodies sweep about an axis, by brute force: every edge of their triangles and every point of their true faces, the outermost place in
 * each of many bins along the axis. The proof's own picture of what the envelope is to enclose; it knows nothing of how envelopes are built.
 */
export class SweptOutline {
  private readonly low: number;
  private readonly width: number;
  private readonly radius: Float64Array;
  private readonly along: Float64Array;

  constructor(bodies: readonly SampledBody[], axis: Axis) {
    const all = bodies.map((b) => ({ corners: zrOfPoints(axis, b.mesh.positions), skin: zrOfPoints(axis, b.skin), body: b }));
    let [low, high] = [Infinity, -Infinity];
    for (const { corners } of all)
      for (let i = 0; i < corners.length; i += 2) {
        low = Math.min(low, corners[i]);
        high = Math.max(high, corners[i]);
      }
    this.low = low;
    this.width = Math.max(1e-9, (high - low) / BINS);
    this.radius = new Float64Array(BINS + 1).fill(-1);
    this.along = new Float64Array(BINS + 1);
    for (const { corners, skin, body } of all) {
      for (let i = 0; i < corners.length; i += 2) this.put(corners[i], corners[i + 1]);
      for (let i = 0; i < skin.length; i += 2) this.put(skin[i], skin[i + 1]);
      this.putEdges(body, axis);
    }
  }

  private put(z: number, r: number): void {
    const bin = Math.max(0, Math.min(BINS, Math.round((z - this.low) / this.width)));
    if (r <= this.radius[bin]) return;
    this.radius[bin] = r;
    this.along[bin] = z;
  }

  // Each edge where it meets the middles of the bins: its place in space there, turned into the half plane.
  private putEdges({ mesh: { positions: p, triangles: t } }: SampledBody, { origin: o, direction: d }: Axis): void {
    for (let h = 0; h < t.length; h++) {
      const [a, b] = [3 * t[h], 3 * t[h % 3 === 2 ? h - 2 : h + 1]];
      const za = (p[a] - o[0]) * d[0] + (p[a + 1] - o[1]) * d[1] + (p[a + 2] - o[2]) * d[2];
      const zb = (p[b] - o[0]) * d[0] + (p[b + 1] - o[1]) * d[1] + (p[b + 2] - o[2]) * d[2];
      if (za > zb || zb - za < this.width / 2) continue;
      const [first, last] = [Math.ceil((za - this.low) / this.width), Math.floor((zb - this.low) / this.width)];
      for (let bin = first; bin <= last; bin++) {
        const z = this.low + bin * this.width;
        const s = (z - za) / (zb - za);
        const x = p[a] + s * (p[b] - p[a]) - o[0] - z * d[0];
        const y = p[a + 1] + s * (p[b + 1] - p[a + 1]) - o[1] - z * d[1];
        const w = p[a + 2] + s * (p[b + 2] - p[a + 2]) - o[2] - z * d[2];
        const r = Math.sqrt(x * x + y * y + w * w);
        if (r > this.radius[bin]) {
          this.radius[bin] = r;
          this.along[bin] = z;
        }
      }
    }
  }

  /** How far a place of the half plane is from what is swept, mm; 0 inside. At most half a bin too much along a wall. */
  distance(z: number, r: number): number {
    const at = Math.max(0, Math.min(BINS, Math.round((z - this.low) / this.width)));
    let best = Infinity;
    for (let step = 0; step <= BINS && (step - 1) * this.width < best; step++)
      for (const bin of step === 0 ? [at] : [at - step, at + step]) {
        if (bin < 0 || bin > BINS || this.radius[bin] < 0) continue;
        best = Math.min(best, this.fromColumn(bin, z, r));
      }
    return best;
  }

  // From what one bin sweeps: a column from the axis up to its radius, as wide as the neighbouring bins leave no gap.
  private fromColumn(bin: number, z: number, r: number): number {
    const next = bin < BINS && this.radius[bin + 1] >= 0 ? bin + 1 : bin;
    const [z0, r0, z1, r1] = [this.along[bin], this.radius[bin], this.along[next], this.radius[next]];
    if (next === bin || z1 <= z0) return Math.hypot(z - z0, Math.max(0, r - r0));
    const s = Math.max(0, Math.min(1, ((z - z0) * (z1 - z0) + (r - r0) * (r1 - r0)) / ((z1 - z0) ** 2 + (r1 - r0) ** 2)));
    const onTop = Math.hypot(z - z0 - s * (z1 - z0), r - r0 - s * (r1 - r0));
    if (z >= z0 && z <= z1) return r <= r0 + ((z - z0) / (z1 - z0)) * (r1 - r0) ? 0 : onTop;
    return Math.min(onTop, Math.hypot(z < z0 ? z0 - z : z - z1, Math.max(0, r - (z < z0 ? r0 : r1))));
  }
}
