import { turnedBodies } from '#core/carrier';
import { flattenPath, type FlatPoint } from '#core/outline';
import type { Support } from '#core/records';
import { type Polygons, together, toUnits } from '#core/clipping';
import { radiiOf, radiusOver } from '../region/radii.ts';
import { Region } from '../region/region.ts';
import { grippedRadius, stockOf, type TrialSetting } from '../setting.ts';

/** What stands at the spindles and is not cut, a tailstock too: chucks, and jaws as they sweep outside of what they grip. */
export interface Obstacle {
  readonly name: string;
  readonly region: Region;
}

// mm. What of a tailstock is behind its centre.
const QUILL = 120;

type SettingOfSupport = Pick<TrialSetting, 'parts' | 'job'>;

/** The half section of what holds the work at its front: a centre of 60 degrees in its hole with the quill behind it, or a ring on the outside of what is turned; undefined where nothing does. */
export function supportSection(setting: SettingOfSupport): FlatPoint[] | undefined {
  const { support } = setting.job;
  if (!support) return undefined;
  return support.kind === 'tailstock' ? tailstock(support) : ring(support, setting);
}

function ring({ at, width, body }: Extract<Support, { kind: 'steady rest' }>, setting: SettingOfSupport): FlatPoint[] {
  const inner = Math.min(radiusOver(radiiOf((stockOf(setting) ?? []).map((loop) => flattenPath(loop, 0.01, true))), at - width, at), body / 2 - THINNEST);
  return [
    [at - width, inner],
    [at, inner],
    [at, body / 2],
    [at - width, body / 2],
  ];
}

// mm. A rest that is no wider than what stands in it is drawn all the same.
const THINNEST = 0.5;

function tailstock({ hole, body, at }: Extract<Support, { kind: 'tailstock' }>): FlatPoint[] {
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
  const section = supportSection(setting);
  const held = job.support && section ? [{ name: job.support.kind, region: Region.ofPolygons([toUnits(section)]) }] : [];
  // A measured chuck is many cylinders, and one thing to be looked at.
  const standing = new Map<string, Polygons>();
  for (const { name, what, radius, from, to, spindle } of turnedBodies(machine, { ...setUp, blanks: { ...setUp.blanks, [job.spindle]: null } })) {
    const [a, b] = [partZ(from), partZ(to)].sort((p, q) => p - q);
    // What is gripped stands in the jaws: touching it is a matter of the work.
    const inner = spindle === job.spindle && what === 'jaws' ? grippedRadius(setting) : 0;
    const ring = [
      [a, inner],
      [b, inner],
      [b, Math.max(radius, inner)],
      [a, Math.max(radius, inner)],
    ] as const;
    standing.set(name, [...(standing.get(name) ?? []), toUnits(ring)]);
  }
  return [...[...standing].map(([name, rings]) => ({ name, region: Region.ofPolygons(together(rings)) })), ...held];
}
