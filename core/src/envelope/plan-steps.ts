import type { SampledBody } from '#core/kernel';
import { dot, type Frame, yOf } from '#core/math';
import { areaOfPolygon, type FlatPoint } from '#core/outline';
import type { Slab } from './silhouette.ts';

// Steps of a solid at most, and the share of its volume that one more must save.
const MOST_STEPS = 5;
const WORTH = 0.02;
// Heights that are tried at most, and how far apart they are at least, mm.
const MOST_TRIED = 8;
const APART = 0.3;
// mm. A step ends this much beyond the face that it is for.
const BEYOND = 2e-4;

/**
 * Where a tool is cut across Y of a frame into steps of their own outlines, from the lowest to the highest: each cut is beside a flat face, or at a quarter of the
 * height where there are few of these, and there are only those that save material. `coveredIn` gives what is covered in a slab.
 */
export function chooseSteps(
  bodies: readonly SampledBody[],
  frame: Frame,
  { low, high }: Slab,
  coveredIn: (slab: Slab) => readonly (readonly FlatPoint[])[],
): Slab[] {
  const candidates = heightsOf(bodies, frame, low, high);
  const areas = new Map<string, number>();
  const volumeOf = (slab: Slab): number => {
    const key = `${slab.low} ${slab.high}`;
    let area = areas.get(key);
    if (area === undefined) {
      area = coveredIn(slab).reduce((sum, p) => sum + areaOfPolygon(p), 0);
      areas.set(key, area);
    }
    return area * (slab.high - slab.low);
  };
  let steps: Slab[] = [{ low, high }];
  const whole = volumeOf(steps[0]);
  while (steps.length < MOST_STEPS) {
    let [best, saved]: [Slab[] | undefined, number] = [undefined, WORTH * whole];
    for (const at of candidates) {
      const i = steps.findIndex((s) => s.low + APART / 2 < at && at < s.high - APART / 2);
      if (i < 0) continue;
      const parts = [
        { low: steps[i].low, high: at },
        { low: at, high: steps[i].high },
      ];
      const saves = volumeOf(steps[i]) - volumeOf(parts[0]) - volumeOf(parts[1]);
      if (saves <= saved) continue;
      saved = saves;
      best = [...steps.slice(0, i), ...parts, ...steps.slice(i + 1)];
    }
    if (!best) break;
    steps = best;
  }
  return steps;
}

// Heights just beyond flat faces that lie across Y, the largest first; quarters where there are few.
function heightsOf(bodies: readonly SampledBody[], frame: Frame, low: number, high: number): number[] {
  const y = yOf(frame);
  const off = dot(frame.origin, y);
  const found: { at: number; area: number }[] = [];
  for (const { surfaces, faceStart, mesh } of bodies)
    surfaces.forEach((s, face) => {
      if (s.kind !== 'plane' || Math.abs(dot(s.normal, y)) < 1 - 1e-9) return;
      const at = dot(s.origin, y) - off + BEYOND * Math.sign(dot(s.normal, y));
      found.push({ at, area: areaAcross(mesh.positions, mesh.triangles, faceStart[face], faceStart[face + 1]) });
    });
  for (const share of [0.5, 0.25, 0.75]) found.push({ at: low + share * (high - low), area: 0 });
  const out: number[] = [];
  for (const { at } of found.sort((a, b) => b.area - a.area)) {
    if (out.length >= MOST_TRIED) break;
    if (at > low + APART && at < high - APART && out.every((o) => Math.abs(o - at) > APART)) out.push(at);
  }
  return out;
}

function areaAcross(p: Float64Array, t: Uint32Array, first: number, last: number): number {
  let twice = 0;
  for (let i = 3 * first; i < 3 * last; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    twice += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  }
  return twice / 2;
}
