import type { SampledBody } from '#core/kernel';
import { dot, type Frame, yOf } from '#core/math';
import { meshArea } from '#core/mesh';
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
      found.push({ at, area: meshArea({ ...mesh, triangles: mesh.triangles.subarray(3 * faceStart[face], 3 * faceStart[face + 1]) }) });
    });
  for (const share of [0.5, 0.25, 0.75]) found.push({ at: low + share * (high - low), area: 0 });
  const out: number[] = [];
  for (const { at } of found.sort((a, b) => b.area - a.area)) {
    if (out.length >= MOST_TRIED) break;
    if (at > low + APART && at < high - APART && out.every((o) => Math.abs(o - at) > APART)) out.push(at);
  }
  return out;
}
