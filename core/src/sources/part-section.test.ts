import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type Kernel, loadKernel } from '#core/kernel';
import { type HalfProfile, profileVolume, turnedRound, validateProfile } from '#core/outline';
import { asSplines } from '../../../demo/corpus/as-splines.ts';
import { fitSolids } from '../../../demo/fit-solids.ts';
import { readPartSection } from './index.ts';

let kernel: Kernel;
let solids: ReturnType<typeof fitSolids>;
beforeAll(async () => {
  kernel = await loadKernel();
  solids = fitSolids(kernel.oc);
});
async function sectionOf(bytes: Uint8Array, file = 'hub.step') {
  const read = await readPartSection(kernel, bytes, file);
  if (!read.ok) throw new Error(read.issues.map(say).join());
  expect(validateProfile(read.value.profile)).toEqual([]);
  return { profile: read.value.profile, warnings: read.value.warnings.map(say) };
}
const corners = (profile: HalfProfile) => profile.flat().map((p) => p.from);
// The hub's corners with its front at 0.
const HUB = [
  [0, 10],
  [0, 19],
  [-1, 20],
  [-20, 20],
  [-20, 14.5],
  [-22, 12.5],
  [-40, 12.5],
  [-40, 8.5],
  [-25, 8.5],
  [-25, 12],
  [-21, 12],
  [-21, 8.5],
  [-15, 8.5],
  [-15, 10],
];
const expectHub = (profile: HalfProfile) => {
  expect(profile).toHaveLength(1);
  const found = corners(profile);
  for (const [z, r] of HUB) expect(Math.min(...found.map((p) => Math.hypot(p[0] - z, p[1] - r)))).toBeLessThan(5e-3);
  // Its fillet is an arc of 2.
  const arcs = profile.flat().filter((p) => p.kind === 'arc');
  expect(arcs.some((p) => p.kind === 'arc' && Math.abs(Math.hypot(p.from[0] - p.centre[0], p.from[1] - p.centre[1]) - 2) < 5e-3)).toBe(true);
  // By Guldin, ring by ring; the fillet's own ring by its centroid, r (1 - pi / 4) of material in the corner.
  const ring = (outer: number, inner: number, long: number) => Math.PI * (outer ** 2 - inner ** 2) * long;
  const corner = 4 * (1 - Math.PI / 4) * 2 * Math.PI * (12.5 + 2 * ((10 - 3 * Math.PI) / (12 - 3 * Math.PI)));
  const whole = ring(20, 10, 15) + ring(20, 8.5, 5) + ring(12.5, 8.5, 20) - ring(12, 8.5, 4) + corner - Math.PI * (400 - (400 + 380 + 361) / 3);
  expect(profileVolume(profile) / whole).toBeCloseTo(1, 3);
};

describe('the half section of a part', () => {
  it('of a model: its outside, its bore with steps and a recess, its fillet as an arc', async () => {
    const { profile, warnings } = await sectionOf(await solids.hub(false));
    expectHub(profile);
    expect(warnings).toEqual([]);
  });
  it('of a model whose faces are all written as splines', async () => {
    const { text } = asSplines(new TextDecoder().decode(await solids.hub(false)));
    expect(text).toContain('RATIONAL_B_SPLINE_SURFACE');
    const { profile, warnings } = await sectionOf(new TextEncoder().encode(text));
    const found = corners(profile);
    for (const [z, r] of HUB) expect(Math.min(...found.map((p) => Math.hypot(p[0] - z, p[1] - r)))).toBeLessThan(5e-3);
    expect(warnings).toEqual([]);
  });
  it('lying anywhere, about any line, the same; turned round its other end is in front', async () => {
    const { profile } = await sectionOf(await solids.hub(false, (s) => s.rotate(90, [0, 0, 0], [0, 1, 0]).translate([40, -7, 3])));
    expectHub(profile);
    const other = corners(turnedRound(profile));
    expect(Math.max(...other.map((p) => p[0]))).toBeCloseTo(0, 6);
    for (const [z, r] of HUB) expect(Math.min(...other.map((p) => Math.hypot(p[0] + 40 + z, p[1] - r)))).toBeLessThan(5e-3);
  });
  it('a hole across is filled in, and said with what it makes', async () => {
    const { profile, warnings } = await sectionOf(await solids.hub(true));
    expectHub(profile);
    // Twice 10 of wall with a hole of 4: 251 of 22,500 mm3.
    expect(warnings).toEqual([expect.stringMatching(/not all of it is turned; what is turned has 1\.1 % more material/)]);
  });
  it('what is not turned at all has none', async () => {
    const read = await readPartSection(kernel, await solids.cube(), 'cube.step');
    expect(read.ok ? '' : read.issues.map(say).join()).toMatch(/cube\.step has no face that turns about a line/);
    const bad = await readPartSection(kernel, new TextEncoder().encode('ISO'), 'bad.step');
    expect(bad.ok).toBe(false);
  });
  it('of a drawing: the half above its axis line, in its units', async () => {
    const line = (x0: number, y0: number, x1: number, y1: number, layer = 'PART') => `0\nLINE\n8\n${layer}\n10\n${x0}\n20\n${y0}\n11\n${x1}\n21\n${y1}\n`;
    // A tube of 20 by 40, bored 8, drawn above its axis.
    const entities = [
      line(0, 4, 0, 10),
      line(0, 10, 40, 10),
      line(40, 10, 40, 4),
      line(40, 4, 0, 4),
      line(-5, 0, 45, 0, 'AXIS').replace('8\nAXIS', '8\nAXIS\n6\nCENTER'),
    ].join('');
    const dxf = `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n${entities}0\nENDSEC\n0\nEOF\n`;
    const { profile } = await sectionOf(new TextEncoder().encode(dxf), 'tube.dxf');
    expect(profileVolume(profile) / (Math.PI * (100 - 16) * 40)).toBeCloseTo(1, 6);
    expect(Math.max(...corners(profile).map((p) => p[0]))).toBeCloseTo(0, 9);
  });
});
