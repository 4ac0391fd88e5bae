import { turnedBodies } from '#core/carrier';
import type { Region as RegionType } from '../region/region.ts';
import { Region } from '../region/region.ts';
import { toUnits } from '../region/clip.ts';
import type { TrialSetting } from '../setting.ts';

/** What stands at the spindles and is not cut: chucks, and jaws as they sweep outside of what they grip. */
export interface Obstacle {
  readonly name: string;
  readonly region: RegionType;
}

export function obstaclesOf({ parts: { machine, setUp }, partZ, job }: Pick<TrialSetting, 'parts' | 'partZ' | 'job'>): Obstacle[] {
  return turnedBodies(machine, { ...setUp, blanks: { ...setUp.blanks, [job.spindle]: null } }).map(({ name, radius, from, to, spindle }) => {
    const [a, b] = [partZ(from), partZ(to)].sort((p, q) => p - q);
    // What is gripped stands in the jaws: touching it is a matter of the work.
    const gripped = spindle === job.spindle && name.startsWith('jaws') ? (setUp.blanks[spindle]?.diameter ?? 0) / 2 : 0;
    return {
      name,
      region: Region.ofPolygons([
        toUnits([
          [a, gripped],
          [b, gripped],
          [b, radius],
          [a, radius],
        ]),
      ]),
    };
  });
}
