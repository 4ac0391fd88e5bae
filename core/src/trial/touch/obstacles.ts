import { turnedBodies } from '#core/carrier';
import { toUnits } from '../region/clip.ts';
import { Region } from '../region/region.ts';
import { grippedRadius, type TrialSetting } from '../setting.ts';

/** What stands at the spindles and is not cut: chucks, and jaws as they sweep outside of what they grip. */
export interface Obstacle {
  readonly name: string;
  readonly region: Region;
}

export function obstaclesOf(setting: Pick<TrialSetting, 'parts' | 'partZ' | 'job' | 'jawsAt'>): Obstacle[] {
  const { parts, partZ, job } = setting;
  const { machine, setUp } = parts;
  return turnedBodies(machine, { ...setUp, blanks: { ...setUp.blanks, [job.spindle]: null } }).map(({ name, what, radius, from, to, spindle }) => {
    const [a, b] = [partZ(from), partZ(to)].sort((p, q) => p - q);
    // What is gripped stands in the jaws: touching it is a matter of the work.
    const inner = spindle === job.spindle && what === 'jaws' ? grippedRadius(setting) : 0;
    const ring = [
      [a, inner],
      [b, inner],
      [b, Math.max(radius, inner)],
      [a, Math.max(radius, inner)],
    ] as const;
    return { name, region: Region.ofPolygons([toUnits(ring)]) };
  });
}
