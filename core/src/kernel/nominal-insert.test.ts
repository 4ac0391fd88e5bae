import { beforeAll, describe, expect, it } from '@jest/globals';
import { distance, type Frame, radFromDeg, rotationAbout, translation, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { nominalInsertOf } from '#core/standards';
import { type Kernel, loadKernel, NO_WORK, readModelFile, sampleModelFile, writePlainStep } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const frame: Frame = { origin: [30, 0, 8], z: [0, 0, 1], x: [1, 0, 0] };
const block = () => writePlainStep(kernel, [{ solid: { kind: 'box', size: [20, 20, 20] }, name: 'holder', fileFromSolid: translation([-50, 0, 0]) }]);

async function withInsert(code: string, moves: { body: string; motion: ReturnType<typeof translation> }[] = []): Promise<BodyGeometry> {
  const insert = nominalInsertOf(code);
  if (!insert.ok) throw new Error(insert.issues[0].code);
  const read = await readModelFile(kernel, block(), 'x.step', {
    work: { ...NO_WORK, inserts: [{ insert: insert.value, frame }], moves },
    exactProperties: true,
  });
  if (!read.ok) throw new Error(read.issues[0].code);
  return read.value.model.bodies[1];
}
// Area of a polygon around a circle whose corners turn by `turns`, less what the rounding of each takes away.
const areaOf = (r: number, turns: number[], nose: number[]): number =>
  turns.reduce((sum, t, i) => {
    const [tan, half] = [Math.tan(radFromDeg(t) / 2), radFromDeg(t) / 2];
    return sum + r * r * tan - nose[i] ** 2 * (tan - half);
  }, 0);

describe('a nominal insert', () => {
  it.each([
    ['CNMG 120408', 12.7 / 2, [100, 80, 100, 80], [0.8, 0.8, 0.8, 0.8], 4.76],
    ['DNMG 150404', 12.7 / 2, [125, 55, 125, 55], [0.4, 0.4, 0.4, 0.4], 4.76],
    ['TNMG 160408', 9.525 / 2, [120, 120, 120], [0.8, 0.8, 0.8], 4.76],
    ['SNMG 120412', 12.7 / 2, [90, 90, 90, 90], [1.2, 1.2, 1.2, 1.2], 4.76],
    ['WNMG 080408', 12.7 / 2, [100, 20, 100, 20, 100, 20], [0.8, 0, 0.8, 0, 0.8, 0], 4.76],
  ])('%s is closed and has the volume of its plate', async (code, r, turns, nose, thickness) => {
    const body = await withInsert(code);
    expect([body.closed, body.valid, body.name]).toEqual([true, true, code.replace(' ', '')]);
    expect(body.volume / (areaOf(r, turns, nose) * thickness)).toBeCloseTo(1, 6);
  });
  it('has its cutting corner at the frame: nose centre at the origin, arc of the nose radius, top in the plane', async () => {
    const body = await withInsert('CCMT 060204');
    const nose = body.edges.find((e) => e.curve.kind === 'circle' && distance(e.curve.centre, frame.origin) < 1e-6);
    expect(nose?.curve.kind === 'circle' && nose.curve.radius).toBeCloseTo(0.4, 6);
    expect(body.faces.map((f) => f.surface.kind).sort()).toEqual(['cone', 'cone', 'cone', 'cone', 'plane', 'plane', 'plane', 'plane', 'plane', 'plane']);
    // Seven degrees under the edges.
    const leans = body.faces.flatMap(({ surface: s }) => (s.kind === 'plane' && Math.abs(s.normal[2]) < 0.9 ? [s.normal[2]] : []));
    for (const l of leans) expect(l).toBeCloseTo(-Math.sin(radFromDeg(7)), 9);
    expect(body.bbox.max[0]).toBeCloseTo(30.4, 2);
    expect([body.bbox.min[2], body.bbox.max[2]].map((v) => v.toFixed(3))).toEqual(['5.620', '8.000']);
  });
  it('leans in by its clearance: a prismatoid between top and bottom', async () => {
    const body = await withInsert('SPMW 120304');
    const [r, t, c] = [12.7 / 2, 3.18, Math.tan(radFromDeg(11))];
    const four = [90, 90, 90, 90];
    const at = (depth: number) =>
      areaOf(
        r - depth * c,
        four,
        four.map(() => 0.4 + ((Math.max(0.2, 0.4 - t * c) - 0.4) * depth) / t),
      );
    expect(body.volume).toBeCloseTo((t / 6) * (at(0) + 4 * at(t / 2) + at(t)), 3);
  });
  it('round: a cone frustum about its middle', async () => {
    const body = await withInsert('RCMT 1204M0');
    const [top, bottom] = [6, 6 - 4.76 * Math.tan(radFromDeg(7))];
    expect(body.volume).toBeCloseTo((Math.PI * 4.76 * (top * top + top * bottom + bottom * bottom)) / 3, 3);
    expect(distance(body.centroid, [30, 0, body.centroid[2]])).toBeLessThan(1e-6);
  });
  it('moves as a body does, in the model and where envelopes are made of it, also beside a mesh', async () => {
    const motion = rotationAbout([1, 2, 3], [0, 1, 0], 0.7);
    const at = (await withInsert('CNMG 120408', [{ body: 'b2', motion }])).centroid;
    const still = (await withInsert('CNMG 120408')).centroid;
    const expected: Vec3 = [0, 1, 2].map(
      (k) => motion.r[3 * k] * still[0] + motion.r[3 * k + 1] * still[1] + motion.r[3 * k + 2] * still[2] + motion.t[k],
    ) as never;
    expect(distance(at, expected)).toBeLessThan(1e-6);
    const insert = nominalInsertOf('CNMG 120408');
    if (!insert.ok) throw new Error('no insert');
    const work = { ...NO_WORK, inserts: [{ insert: insert.value, frame }], moves: [{ body: 'b2', motion }] };
    const stl = new TextEncoder().encode(TETRAHEDRON);
    for (const [bytes, file] of [
      [block(), 'x.step'],
      [stl, 'x.stl'],
    ] as const) {
      const sampled = await sampleModelFile(kernel, bytes, file, { chordTolerance: 0.01, ids: ['b2'], work });
      if (!sampled.ok) throw new Error(sampled.issues[0].code);
      expect(sampled.value[0].volume / (areaOf(6.35, [100, 80, 100, 80], [0.8, 0.8, 0.8, 0.8]) * 4.76)).toBeCloseTo(1, 6);
      expect(sampled.value[0].points.length).toBeGreaterThan(0);
    }
  });
  it('is refused where its designation leaves its form open', () => {
    const codeOf = (text: string) => ((r) => (r.ok ? 'ok' : r.issues[0].code))(nominalInsertOf(text));
    expect(['LNMX 301940', 'KNUX 160405', 'DCLNR 2525M12', 'CNMG 12', 'CNMG 1204', 'SPMT 1204EDR'].map(codeOf)).toEqual([
      'designation.no-form',
      'designation.no-form',
      'designation.no-insert',
      'designation.wrong',
      'designation.wrong',
      'designation.incomplete',
    ]);
  });
});

const corners = [
  [0, 0, 0],
  [9, 0, 0],
  [0, 9, 0],
  [0, 0, 9],
];
const TETRAHEDRON = `solid t\n${[
  [0, 2, 1],
  [0, 1, 3],
  [0, 3, 2],
  [1, 2, 3],
]
  .map((f) => `facet normal 0 0 0\nouter loop\n${f.map((v) => `vertex ${corners[v].join(' ')}`).join('\n')}\nendloop\nendfacet`)
  .join('\n')}\nendsolid t`;
