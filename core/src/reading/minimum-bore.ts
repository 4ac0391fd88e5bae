import { frameFromWorld, type Frame, move, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';

/** One depth with the smallest bore that the tool can work in so far; Infinity where it cannot go in at all. mm. */
export interface BoreAtDepth {
  readonly depth: number;
  readonly diameter: number;
}

// mm. Points this near the tip's own radius belong to the edge that cuts.
const EDGE = 0.02;

/**
 * The minimum bore against depth for a tool that stands still in a turning bore. With the tip at radius R, a point at (dx, dy) from it (dx
 * positive outward) stays inside where sqrt((R + dx)^2 + dy^2) <= R, so D >= (dx^2 + dy^2) / -dx; that is convex along an edge, so
 * corners and the points where edges cross a depth decide. `tip` is the virtual tip; Z of `mount` points into the bore. Points of the
 * cutting corner itself, within `nose` mm of the tip, are left out.
 */
export function computeMinimumBore(
  bodies: readonly BodyGeometry[],
  mount: Frame,
  tip: Vec3,
  options: { readonly depths?: number; readonly nose?: number; readonly upTo?: number } = {},
): BoreAtDepth[] {
  const inMount = frameFromWorld(mount);
  const [tx, , tz] = move(inMount, tip);
  const nose = options.nose ?? 0.5;
  const deepest = options.upTo ?? Math.max(1, tz);
  const count = options.depths ?? 60;
  const step = deepest / count;
  // The most that any point between two depths asks for, and in front of the tip.
  const asked = new Float64Array(count + 1);
  const ask = (x: number, y: number, depth: number, at: number) => {
    const dx = x - tx;
    if (dx >= -EDGE && Math.hypot(dx, y, depth) < nose) return;
    const diameter = dx < -1e-9 ? (dx * dx + y * y) / -dx : Infinity;
    if (diameter > asked[at]) asked[at] = diameter;
  };
  for (const { mesh } of bodies) {
    const { positions: p, triangles: t } = mesh;
    const local = new Float64Array(p.length);
    for (let i = 0; i < p.length; i += 3) local.set(move(inMount, [p[i], p[i + 1], p[i + 2]]), i);
    for (let i = 0; i < t.length; i += 3)
      for (let k = 0; k < 3; k++) {
        const a = 3 * t[i + k];
        const b = 3 * t[i + ((k + 1) % 3)];
        const [da, db] = [tz - local[a + 2], tz - local[b + 2]];
        if (da <= deepest) ask(local[a], local[a + 1], Math.max(0, da), Math.min(count, Math.ceil(Math.max(0, da) / step)));
        const [low, high] = da < db ? [da, db] : [db, da];
        for (let n = Math.max(0, Math.ceil(low / step)); n <= count && n * step < high; n++) {
          const s = (n * step - da) / (db - da);
          ask(local[a] + s * (local[b] - local[a]), local[a + 1] + s * (local[b + 1] - local[a + 1]), n * step, n);
        }
      }
  }
  const out: BoreAtDepth[] = [];
  let most = 0;
  for (let n = 0; n <= count; n++) {
    most = Math.max(most, asked[n]);
    out.push({ depth: n * step, diameter: most });
  }
  return out;
}

/** Largest diameter that bodies sweep when they spin about the mount's Z, mm. */
export function largestSwing(bodies: readonly BodyGeometry[], mount: Frame): number {
  const { r, t } = frameFromWorld(mount);
  let mostSq = 0;
  // Numbers of each corner on their own: asked with every change of an assembly, five times as fast.
  for (const { mesh } of bodies) {
    const p = mesh.positions;
    for (let i = 0; i < p.length; i += 3) {
      const x = r[0] * p[i] + r[1] * p[i + 1] + r[2] * p[i + 2] + t[0];
      const y = r[3] * p[i] + r[4] * p[i + 1] + r[5] * p[i + 2] + t[1];
      const sq = x * x + y * y;
      if (sq > mostSq) mostSq = sq;
    }
  }
  return 2 * Math.sqrt(mostSq);
}
