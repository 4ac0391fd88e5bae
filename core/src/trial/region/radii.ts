import type { FlatPoint } from '#core/outline';

/** How far from the axis something reaches between two places along it, mm. */
export interface RadiusStep {
  readonly from: number;
  readonly to: number;
  readonly radius: number;
}

/** Between the corners of closed polygons in [z, r], along Z: their largest radius; where there is nothing, no step. */
export function radiiOf(loops: readonly (readonly FlatPoint[])[]): RadiusStep[] {
  const zs = [...new Set(loops.flatMap((l) => l.map((p) => p[0])))].sort((a, b) => a - b);
  const radius = new Float64Array(Math.max(0, zs.length - 1));
  for (const loop of loops)
    for (const [i, q] of loop.entries()) {
      const o = loop[(i + 1) % loop.length];
      const [p, n] = q[0] <= o[0] ? [q, o] : [o, q];
      if (n[0] - p[0] === 0) continue;
      const at = (z: number) => p[1] + ((n[1] - p[1]) * (z - p[0])) / (n[0] - p[0]);
      for (let k = firstOf(zs.length, (m) => zs[m] >= p[0]); k < radius.length && zs[k] < n[0]; k++) radius[k] = Math.max(radius[k], at(zs[k]), at(zs[k + 1]));
    }
  return Array.from(radius, (value, k) => ({ from: zs[k], to: zs[k + 1], radius: value })).filter((s) => s.radius > 0);
}

/** The largest radius over a stretch of Z; 0 where there is nothing. */
export function radiusOver(steps: readonly RadiusStep[], low: number, high: number): number {
  let radius = 0;
  for (let i = firstOf(steps.length, (m) => steps[m].to >= low); i < steps.length && steps[i].from <= high; i++) radius = Math.max(radius, steps[i].radius);
  return radius;
}

// Of numbers below `count` the first that something holds for, which does for all after it.
function firstOf(count: number, holds: (i: number) => boolean): number {
  let [a, b] = [0, count];
  while (a < b) {
    const m = (a + b) >> 1;
    if (holds(m)) b = m;
    else a = m + 1;
  }
  return a;
}
