import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { counterClockwise, type FlatPoint, loopThrough, type PathPiece } from '#core/outline';
import {
  isFault,
  operationSchema,
  planOperation,
  Region,
  reachOf,
  Replay,
  stockOf,
  threadDepth,
  type TrialResult,
  type TrialSetting,
  trialSetting,
  writeOperation,
} from '#core/trial';
import { Random } from '../../../demo/corpus/random.ts';
import { bar, place, plain, run, settingOf, twin } from './trial-for-tests.ts';

const withContour = (setting: TrialSetting, points: readonly FlatPoint[]): TrialSetting =>
  trialSetting(setting.parts, { ...setting.job, contour: [counterClockwise(loopThrough(points))] });

interface Made {
  readonly text: string;
  readonly notes: readonly string[];
  /** Of the work as it was planned. */
  readonly volume: number;
}
/** Writes operations one behind the other, each from what the last one left. */
function made(setting: TrialSetting, operations: readonly object[]): Made {
  const given = stockOf(setting);
  if (!given) throw new Error('no stock');
  let stock = Region.ofProfile(given);
  const texts: string[] = [];
  const notes: string[] = [];
  for (const given of operations) {
    const op = operationSchema.parse(given);
    const plan = planOperation(setting, op, stock);
    if (!plan.ok) throw new Error(plan.issues.map(say).join());
    stock = plan.value.stock;
    texts.push(writeOperation(plan.value, op, setting));
    notes.push(...plan.value.notes.map(say));
  }
  return { text: texts.join('\n'), notes, volume: stock.volume };
}
const faults = ({ events }: TrialResult) => events.filter(isFault).map((e) => `${e.line} ${e.kind} ${e.between.join(' / ')} ${e.depth.toFixed(3)}`);
const refused = (setting: TrialSetting, op: object): string => {
  const plan = planOperation(setting, operationSchema.parse(op), Region.ofProfile(stockOf(setting) ?? []));
  if (plan.ok) throw new Error('it was planned');
  return plan.issues.map(say).join(' ');
};

/** A spigot of 50 by 40 with a shoulder to 56 on a bar of 60; 2 mm stand before the face. */
const SPIGOT: FlatPoint[] = [
  [0, 0],
  [0, 24],
  [-1, 25],
  [-40, 25],
  [-40, 28],
  [-50, 28],
  [-50, 0],
];

const tubeOf = (inner: number, outer: number, from: number, to: number): PathPiece[] =>
  loopThrough([
    [from, inner],
    [to, inner],
    [to, outer],
    [from, outer],
  ]);
const TUBE = tubeOf(9, 25, -40, 0);

let outside: TrialSetting;
let axial: TrialSetting;
beforeAll(async () => {
  outside = await settingOf({
    setUp: {
      machine: plain('rim', { standard: 'square', size: '25x25' }),
      assemblies: [
        { key: 'turning', words: 'dclnr 2525 m12' },
        { key: 'groove', spec: { kind: 'grooving holder', values: { CW: 3, CDX: 32, H: 25, B: 25 } } },
        { key: 'thread', words: 'ser 2525 m16' },
      ],
      places: [place('turning', 1), place('groove', 2), place('thread', 3)],
      blanks: { main: bar, counter: null },
    },
    zero: 68,
    contour: { points: SPIGOT },
  });
  axial = await settingOf({
    setUp: {
      machine: plain('face', { standard: 'cylindrical', size: 16 }),
      assemblies: [
        { key: 'bar', words: 'A16M-SCLCR 06' },
        { key: 'drill', words: 'drill 16' },
      ],
      places: [place('bar', 1), place('drill', 2)],
      blanks: { main: bar, counter: null },
    },
    zero: 68,
    contour: {
      points: [
        [0, 14],
        [0, 25],
        [-40, 25],
        [-40, 0],
        [-30, 0],
        [-25.2, 8],
        [-20, 8],
        [-20, 12],
        [-2, 12],
      ],
    },
  });
});

describe('cuts that are written from the contour', () => {
  it('face and turn, rough and finish: what the trial makes of the text is the part, but for the nose in its corner', () => {
    const { text, notes, volume } = made(outside, [
      { kind: 'face', tool: 1 },
      { kind: 'turn', tool: 1, depthOfCut: 2, allowance: 0.4 },
    ]);
    const result = run(outside, text);
    expect(notes).toEqual([]);
    expect(faults(result)).toEqual([]);
    expect(result.against?.under).toBeLessThan(2e-3);
    // What stays is the corner of the nose: r^2 (1 - pi / 4) of section, about radius 25.2; the bar behind is not the part's.
    const part = Math.PI * (25 ** 2 * 39 + (24 ** 2 + 24 * 25 + 25 ** 2) / 3 + 28 ** 2 * 10);
    const ring = 0.64 * (1 - Math.PI / 4) * 2 * Math.PI * 25.18;
    const bar = Math.PI * 900 * (18 + twin.spindles.main.chuck.jawStep);
    // At the end of the cut the nose leaves a ring as well before the bar.
    expect(result.stock.volume - bar - part - 2 * ring).toBeLessThan(6);
    expect(result.stock.volume - bar - part - ring).toBeGreaterThan(-2);
    // Planned is what is cut.
    expect(result.stock.volume).toBeCloseTo(volume, -0.5);
    // Levels of at most 2 mm down to the chamfer's foot with its allowance, on diameters; shoulders by an arc of the nose, which is tilted.
    expect(text).toContain('G96 S150 M3');
    expect(text.match(/^G3 .*R0\.80\d?$/gm)?.length ?? 0).toBeGreaterThan(0);
    for (const line of text.split('\n')) expect(line).toMatch(/^(\(.*\)|[GTXZRFSM][-+.\d]+( [GXZRFSMUW][-+.\d]+)*)$/);
  });
  it('cuts no deeper than is said: each level takes at most the depth of cut', () => {
    const depthOfCut = 1.2;
    const { text } = made(outside, [{ kind: 'turn', tool: 1, depthOfCut, finish: false }]);
    const result = run(outside, text);
    const xs = [...text.matchAll(/^G1 Z[-.\d]+|^X([.\d]+)$/gm)].flatMap((m) => (m[1] ? [Number(m[1]) / 2] : []));
    expect(xs.length).toBeGreaterThan(0);
    // The work after each feed along the axis lies no more than that below what was.
    let radius = 30;
    for (const m of result.recording.moves.filter(
      (m) => !m.isRapid && m.path.kind === 'line' && m.path.from[1] === m.path.to[1] && m.path.from[0] - m.path.to[0] > 5,
    )) {
      const at = m.path.to[1] + outside.edges[0].edge.atWork.X;
      if (at < radius - 1e-6) {
        expect(radius - at).toBeLessThan(depthOfCut + 1e-3);
        radius = at;
      }
    }
    // 0.3 stays all over.
    expect(radius).toBeCloseTo(25.3, 1);
    expect(result.stock.contains(-20, 25.299)).toBe(true);
    expect(result.stock.contains(-20, 25.302)).toBe(false);
    expect(faults(result)).toEqual([]);
  });
  it('along the contour, and away from the chuck, the same part comes out', () => {
    const usual = run(
      outside,
      made(outside, [
        { kind: 'face', tool: 1 },
        { kind: 'turn', tool: 1 },
      ]).text,
    );
    const along = run(
      outside,
      made(outside, [
        { kind: 'face', tool: 1 },
        { kind: 'turn', tool: 1, rough: 'contour' },
      ]).text,
    );
    expect(faults(along)).toEqual([]);
    expect(along.stock.volume).toBeCloseTo(usual.stock.volume, 0);
  });
  it('grooves as deep as the contour and as wide as the edge lets it; what is narrower is left and said', () => {
    const grooved: FlatPoint[] = [
      [0, 0],
      [0, 30],
      [-10, 30],
      [-10, 25],
      [-18, 25],
      [-18, 30],
      [-26, 30],
      [-26, 27],
      [-28, 27],
      [-28, 30],
      [-50, 30],
      [-50, 0],
    ];
    const setting = withContour(outside, grooved);
    const { text, notes } = made(setting, [
      { kind: 'face', tool: 1 },
      { kind: 'groove', tool: 2 },
    ]);
    const result = run(setting, text);
    expect(faults(result)).toEqual([]);
    expect(notes).toEqual([expect.stringMatching(/About Z -27 it is 2 mm wide, and the edge 3 mm/)]);
    // The walls stand square: the corners of the edge are round, and leave r^2 (1 - pi / 4) in both.
    const r = outside.edges[1].edge.own.noseRadius;
    const wide = Math.PI * (900 - 625) * 8;
    const corners = 2 * r * r * (1 - Math.PI / 4) * 2 * Math.PI * (25 + 0.2 * r);
    const facing = Math.PI * 900 * 2;
    expect(Math.abs(result.removedVolume - facing - wide + corners)).toBeLessThan(3);
    expect(result.stock.contains(-27, 29)).toBe(true);
    expect(result.against?.under).toBeLessThan(2e-3);
  });
  it('parts off with its corner at the end of the part, to the axis: what is left before it is the part', () => {
    const { text, notes } = made(outside, [
      { kind: 'face', tool: 1 },
      { kind: 'turn', tool: 1 },
      { kind: 'part off', tool: 2 },
    ]);
    const result = run(outside, text);
    expect(notes).toEqual([]);
    expect(faults(result)).toEqual([]);
    expect(result.fallen[0]?.from).toBeCloseTo(-50, 2);
    expect(result.stock.contains(-52.9, 5)).toBe(false);
    expect(result.stock.contains(-53.1, 5)).toBe(true);
    // Nothing holds it any more: it falls, and is what comes out; what is in the chuck stays.
    const part = Math.PI * (625 * 39 + (576 + 600 + 625) / 3 + 784 * 10);
    expect(result.fallen).toHaveLength(1);
    expect(result.fallen[0].line).toBe(text.split('\n').findIndex((l) => l.includes('F0.06')) + 1);
    expect([result.fallen[0].from, result.fallen[0].to]).toEqual([expect.closeTo(-50, 1), expect.closeTo(0, 3)]);
    expect(result.fallen[0].volume / part).toBeCloseTo(1, 3);
    expect(Math.max(...result.part.flat().map((p) => p.from[0]))).toBeCloseTo(0, 3);
    expect(result.stock.contains(-20, 5)).toBe(false);
    // The cut away is what was cut, not what fell.
    expect(result.removedVolume + result.fallen[0].volume + result.stock.volume).toBeCloseTo(Math.PI * 900 * (70 + twin.spindles.main.chuck.jawStep), 0);
    expect(result.against?.under).toBeLessThan(2e-3);
    expect(new Replay(result.recording).at(result.time)?.region.volume).toBeCloseTo(result.stock.volume, 1);
    expect(new Replay(result.recording).at(result.fallen[0].time - 0.5)?.region.contains(-20, 5)).toBe(true);
  });
  it('threads: depth by ISO 68-1, passes of the same section, flanks in the work a pitch apart, and the contour counts as met', () => {
    // 17/24 H less the rounding of the root; H = sqrt(3) / 2 P. ISO 724: M10 has a minor diameter of 8.376 in the nut.
    expect(10 - 2 * threadDepth(1.5, true)).toBeCloseTo(8.376, 3);
    // ISO 965: the root of an M10 bolt at 8.160.
    expect(10 - 2 * threadDepth(1.5, false)).toBeCloseTo(8.16, 3);
    const { text } = made(outside, [
      { kind: 'face', tool: 1 },
      { kind: 'turn', tool: 1 },
      { kind: 'thread', tool: 3, from: 0, to: -20, pitch: 2 },
    ]);
    const result = run(outside, text);
    expect(faults(result)).toEqual([]);
    const xs = [...text.matchAll(/X([.\d]+)\nG33/g)].map((m) => Number(m[1]) / 2);
    const depths = xs.map((x) => 25 - x);
    expect(depths.at(-1)).toBeCloseTo(threadDepth(2, false), 3);
    // Of a V the section grows with the square of its depth.
    const first = depths[0] ** 2;
    depths.forEach((d, i) => expect(d ** 2 / first / (i + 1)).toBeCloseTo(1, 1));
    // In the half section: a root every 2 mm, a crest between.
    const isCut = (z: number) => !result.stock.contains(z, 24.6);
    const z0 = Array.from({ length: 200 }, (_, i) => -10 - i * 0.01).find((z, i, all) => isCut(z) && !isCut(all[i - 1] ?? 0)) ?? 0;
    for (const n of [1, 2, 3]) {
      expect(isCut(z0 - 0.05 - 2 * n)).toBe(true);
      expect(isCut(z0 + 0.05 - 2 * n)).toBe(false);
    }
    expect(result.against?.under).toBeLessThan(2e-3);
    // Seen again in the middle of the last pass, and at the end.
    expect(text).toContain('G97');
  });
  it('drills as deep as the contour lets it, and draws back', () => {
    const { text } = made(axial, [{ kind: 'drill', tool: 2, peck: 10 }]);
    const result = run(axial, text);
    expect(faults(result)).toEqual([]);
    // The contour has a cone from 8 to the axis over 4.8; the point of the drill is 8 / tan 59 = 4.807 long, and stops on its rim.
    const depth = Math.min(...[...text.matchAll(/^G1 Z(-[.\d]+)/gm)].map((m) => Number(m[1])));
    expect(depth).toBeCloseTo(-30, 1);
    expect(text.match(/^G1 Z/gm)).toHaveLength(4);
    expect(result.against?.under).toBeLessThan(5e-3);
    // Through where there is a hole: all of its width is behind the part then.
    const tube = made(trialSetting(axial.parts, { ...axial.job, contour: [[...TUBE]] }), [{ kind: 'drill', tool: 2 }]).text;
    expect(Number(tube.match(/^G1 Z(-[.\d]+)/m)?.[1])).toBeCloseTo(-40 - 8 / Math.tan((59 * Math.PI) / 180) - 1, 1);
  });
  it('bores from the axis outwards, in a hole that the bar goes into; in a narrower one it says what touches', () => {
    const wide = trialSetting(axial.parts, { ...axial.job, stock: [tubeOf(10.5, 30, -66, 2)], contour: [tubeOf(14, 25, -30, 0)] });
    const { text, notes } = made(wide, [{ kind: 'turn', tool: 1, side: 'inside', depthOfCut: 1, allowance: 0.2 }]);
    const result = run(wide, text);
    expect(notes).toEqual([]);
    expect(faults(result)).toEqual([]);
    expect(result.stock.contains(-29, 13.998)).toBe(false);
    expect(result.stock.contains(-29, 14.002)).toBe(true);
    expect(result.against?.under).toBeLessThan(2e-3);
    // What stands before the face is left to facing, but for what is in the way.
    expect(result.stock.contains(1, 14.5)).toBe(true);
    expect(result.stock.contains(1, 13.9)).toBe(false);
    // A bar of 16 with its edge 11 from its middle needs 19 at least.
    const narrow = trialSetting(axial.parts, { ...axial.job, stock: [tubeOf(8.2, 30, -66, 2)], contour: [tubeOf(14, 25, -30, 0)] });
    const tight = made(narrow, [{ kind: 'turn', tool: 1, side: 'inside', depthOfCut: 1 }]);
    expect(tight.notes).toEqual([expect.stringMatching(/A16M-SCLCR06, Bar at the work touches/)]);
    expect(faults(run(narrow, tight.text)).some((f) => f.includes('touch A16M-SCLCR06, Bar / work'))).toBe(true);
  });
  it('what cannot be cut is refused with why', () => {
    expect(refused(outside, { kind: 'turn', tool: 9 })).toMatch(/No tool 9 is loaded/);
    expect(refused(outside, { kind: 'drill', tool: 1 })).toMatch(/does not stand on the axis/);
    expect(refused(axial, { kind: 'turn', tool: 2 })).toMatch(/it drills/);
    expect(refused(outside, { kind: 'thread', tool: 3, from: 5, to: 2, pitch: 1 })).toMatch(/no cylinder/);
    expect(refused(trialSetting(outside.parts, { ...outside.job, contour: undefined }), { kind: 'turn', tool: 1 })).toMatch(/Take a contour first/);
    expect(operationSchema.safeParse({ kind: 'turn', tool: 1, depthOfCut: 0 }).success).toBe(false);
    expect(operationSchema.safeParse({ kind: 'turn', tool: 1, spin: 3 }).success).toBe(false);
  });
  it('of parts of all kinds it leaves what the edge cannot reach, as its reach says it without any cuts, and never cuts into them', () => {
    const random = new Random(20261129);
    for (let i = 0; i < 7; i++) {
      const points = steppedShaft(random);
      const setting = withContour(outside, points);
      const { text } = made(setting, [
        { kind: 'face', tool: 1 },
        { kind: 'turn', tool: 1, depthOfCut: random.between(0.7, 3), allowance: random.between(0, 0.6), rough: i % 4 === 3 ? 'contour' : 'axis' },
      ]);
      const result = run(setting, text);
      const told = JSON.stringify(points);
      expect([told, ...faults(result)]).toEqual([told]);
      expect(result.against?.under).toBeLessThan(3e-3);
      const reach = reachOf({ ...setting, edges: setting.edges.slice(0, 1) })?.edges[0];
      const left = Region.ofPolygons(result.stock.polygons);
      left.cut(Region.ofProfile(setting.job.contour ?? []).polygons);
      left.cut(
        Region.ofLoops([
          [
            [-300, -100],
            [-50, -100],
            [-50, 100],
            [-300, 100],
          ],
        ]).polygons,
      );
      // That looks where the edge can stand at all; it knows no cuts.
      expect(left.area).toBeCloseTo(reach?.residual.area ?? 0, 1);
    }
  });
});

/** A shaft of steps, chamfers, cones and recesses between 8 and 29 on radius, 50 long. */
function steppedShaft(random: Random): FlatPoint[] {
  const points: FlatPoint[] = [[0, 0]];
  let r = random.between(8, 16);
  points.push([0, r - 1], [-1, r]);
  let z = -1;
  while (z > -44) {
    const length = random.between(3, 12);
    z = Math.max(-47, z - length);
    points.push([z, r]);
    const next = Math.max(7, Math.min(29, r + random.between(-2, 6)));
    // A shoulder, a cone that rises, or a slope down that the edge does not follow.
    const over = random.between(0, 1) < 0.5 ? 0 : random.between(0.3, 2);
    z = Math.max(-48, z - over);
    r = next;
    points.push([z, r]);
  }
  points.push([-50, r], [-50, 0]);
  return points.filter((p, i) => i === 0 || Math.hypot(p[0] - points[i - 1][0], p[1] - points[i - 1][1]) > 1e-6);
}
