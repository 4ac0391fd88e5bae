import { turnedBodies } from '#core/carrier';
import type { FlatPoint } from '#core/outline';
import type { Support } from '#core/records';
import { toUnits } from '../region/clip.ts';
import { Region } from '../region/region.ts';
import { grippedRadius, type TrialSetting } from '../setting.ts';

/** What stands at the spindles and is not cut, a tailstock too: chucks, and jaws as they sweep outside of what they grip. */
export interface Obstacle {
  readonly name: string;
  readonly region: Region;
}

// mm. What of a tailstock is behind its centre.
const QUILL = 120;

/** The half section of what holds the work at its front: a centre of 60 degrees in its hole, and the quill behind it. */
export function supportSection({ hole, body, at }: Support): FlatPoint[] {
  const slope = Math.tan(Math.PI / 6);
  const end = at + Math.max(0, body - hole) / 2 / slope;
  return [
    [at - hole / 2 / slope, 0],
    [end + QUILL, 0],
    [end + QUILL, body / 2],
    [end, body / 2],
  ];
}

export function obstaclesOf(setting: Pick<TrialSetting, 'parts' | 'partZ' | 'job' | 'jawsAt'>): Obstacle[] {
  const { parts, partZ, job } = setting;
  const { machine, setUp } = parts;
  const held = job.support ? [{ name: job.support.kind, region: Region.ofPolygons([toUnits(supportSection(job.support))]) }] : [];
  const standing = turnedBodies(machine, { ...setUp, blanks: { ...setUp.blanks, [job.spindle]: null } }).map(({ name, what, radius, from, to, spindle }) => {
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
  return [...standing, ...held];
}
