import { beforeAll, describe, expect, it } from '@jest/globals';
import { type MadePart, makeComponent, readWords } from '#core/components';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { profileVolume, type RevolvedShape, shapeFileName, writeSolidShape } from '#core/outline';
import { distance, type Frame } from '#core/math';
import { componentKindOf, findMistakes, proposeReading } from '#core/reading';
import { componentSchema, readRecord, summarizeModel, virtualTipOf, mountFrameOf } from '#core/records';
import { readDesignation } from '#core/standards';
import { componentOfSpec, makeOfSpec, remake } from '../index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function said(text: string) {
  const { spec } = readWords(text);
  const made = spec && makeComponent(spec);
  if (!spec || !made?.ok) throw new Error(`${text}: ${JSON.stringify(made)}`);
  return { spec, part: made.part };
}
async function opened(part: MadePart) {
  const read = await readModelFile(kernel, writeSolidShape(part.shape), shapeFileName('x'), { exactProperties: true });
  if (!read.ok) throw new Error(JSON.stringify(read.issues));
  for (const b of read.value.model.bodies) expect([b.name, b.closed, b.volume > 0]).toEqual([b.name, true, true]);
  return read.value.model;
}
const distances = (positions: ArrayLike<number>, [x, y, z]: readonly [number, number, number]): number[] =>
  Array.from({ length: positions.length / 3 }, (_, i) => Math.hypot(positions[3 * i] - x, positions[3 * i + 1] - y, positions[3 * i + 2] - z));
const GIVEN = { id: 'c', name: 'c', now: '2026-01-01T00:00:00Z' };

describe('what data makes', () => {
  // Reading shares no code with what drew it: entering angle, hand, sizes come back from the faces alone.
  it.each([
    ['DCLNR 2525 M12', 95, 'right', [32, 150]],
    ['PDJNL 2020K15', 93, 'left', [25, 125]],
    ['MTJNR 2525M16', 93, 'right', [32, 150]],
    ['MWLNL 2020K08', 95, 'left', [25, 125]],
    ['SSDCN 1616 H09', 45, 'right', [20, 100]],
    ['A16R-SCLCR 09', 95, 'right', [11, 200]],
    ['A20S-PDUNL 11', 93, 'left', [13, 250]],
  ] as const)('%s is read again with its entering angle, hand and functional sizes', async (text, kapr, hand, [wf, lf]) => {
    const { spec, part } = said(text);
    const model = await opened(part);
    const reading = proposeReading(model, 'auto');
    expect(reading.roles.map((r) => r.role)).toEqual(['tool body', 'cutting']);
    expect(reading.mount?.connection).toEqual(part.mount?.connection);
    const [tip] = reading.tips;
    expect([tip.enteringAngle, tip.hand, tip.noseRadius]).toEqual([expect.closeTo(kapr, 1), hand, expect.closeTo(0.8, 3)]);
    // EPSR is the insert's own, however it is tilted; as it cuts it shows a little more.
    const code = readDesignation(text);
    expect(tip.includedAngle).toBeCloseTo(code.ok ? (code.value.includedAngle ?? 0) : 0, 2);
    expect(tip.includedAngleInPlane).toBeGreaterThan(tip.includedAngle - 0.01);
    for (const [k, want] of [wf, 0, lf].entries()) expect(tip.virtualTip[k]).toBeCloseTo(want, 2);
    // And the mark that came with it says the same place.
    const record = componentOfSpec(spec, part, GIVEN);
    const virtual = virtualTipOf(record.tips[0], mountFrameOf(record));
    for (const [k, want] of [wf, 0, lf].entries()) expect(virtual[k]).toBeCloseTo(want, 6);
  });
  it.each([
    ['drill 8.5 x 110', 'cylindrical'],
    ['end mill 12 r1', 'cylindrical'],
    ['M8 tap', 'cylindrical'],
    ['reamer 10', 'cylindrical'],
    ['sleeve 32 to 16', 'cylindrical'],
    ['collet er32 d10', 'ER'],
    ['saw 63 width 2', 'cylindrical'],
  ])('%s has true faces and the volume of its profile', async (text, standard) => {
    const { spec, part } = said(text);
    const model = await opened(part);
    const drawn = (part.shape as RevolvedShape).bodies.reduce((sum, b) => sum + profileVolume(b.profile), 0);
    expect(model.bodies.reduce((sum, b) => sum + b.volume, 0) / drawn).toBeCloseTo(1, 6);
    const record = componentOfSpec(spec, part, GIVEN);
    expect(componentSchema.safeParse(record).error).toBeUndefined();
    expect(record.mount?.connection.standard).toBe(standard);
    expect(readRecord(JSON.parse(JSON.stringify(record)), 'x')).toMatchObject({ ok: true });
  });
  // The same of all that turns, holds, or stands alone: kind, connection, where it is and which way, seats, what cuts, and where the tip is.
  it.each([
    'drill 8.5 x 110',
    'drill 3',
    'step drill 6.8 x 11',
    'spot drill 10 90°',
    'centre drill 2.5',
    'countersink 16.5',
    'reamer 10',
    'M8 tap',
    '1/4-20 UNC tap',
    'end mill 12 r1',
    'end mill 6',
    'ball nose 6',
    'chamfer mill 10',
    'tapered end mill 4 3° r1',
    'saw 63 width 2',
    'dovetail cutter 20 60°',
    'woodruff cutter 19',
    'T-slot cutter 18 x 8',
    'thread mill M10',
    'face mill 63 45°',
    'face mill 100',
    'collet er32 d10',
    'collet er16 d4',
    'sleeve 32 to 16',
    'arbor 22',
    'CNMG 120408',
    'CCMT 060202',
    'TNMG 160404',
    'WNMG 080408',
    'SPUN 120308',
    'RCMT 1204M0',
  ])('%s is read again as what it is', async (text) => {
    const { spec, part } = said(text);
    const record = componentOfSpec(spec, part, GIVEN);
    const reading = proposeReading(await opened(part), 'auto');
    expect([componentKindOf(reading), reading.roles.map((r) => r.role)]).toEqual([record.componentKind, record.bodies.map((b) => b.role)]);
    expect([reading.mount?.connection, reading.seats.map((s) => s.connection)]).toEqual([record.mount?.connection, record.seats.map((s) => s.connection)]);
    const frames = (of: { readonly frame: Frame }[]) => of.map(({ frame: { origin, z } }) => [...origin, ...z].map((v) => Math.round(v * 100) / 100 + 0));
    expect(frames([...(reading.mount ? [reading.mount] : []), ...reading.seats])).toEqual(frames([...(record.mount ? [record.mount] : []), ...record.seats]));
    // A face mill's corners are on its inserts, which are one ring here.
    if (text.startsWith('face mill')) return;
    expect(reading.tips).toHaveLength(record.tips.length);
    const mount = mountFrameOf(record);
    for (const tip of record.tips) {
      const at = virtualTipOf(tip, mount);
      const near = reading.tips.find((t) => distance(t.noseCentre, tip.noseCentre) < 0.01);
      expect([text, near?.noseRadius]).toEqual([text, expect.closeTo(tip.noseRadius, 3)]);
      if (reading.mount) expect(distance(near?.virtualTip ?? [0, 0, 0], at)).toBeLessThan(0.01);
    }
  });
  it.each(['A16M-SCLCR 09', 'A16M-SCLCL 09', 'A25R-SDUCR 11', 'A32S-PCLNR 12', 'A12K-STFCR 11'])(
    '%s grows under its insert, goes into its least bore all the same, and leaves the end cutting edge free',
    async (text) => {
      const { part } = said(text);
      const [bar, insert] = (await opened(part)).bodies;
      const { WF: wf, DMIN: bore, DCON: d, LF: lf } = part.values as Record<string, number>;
      const far = distances(
        bar.mesh.positions.map((v, i) => (i % 3 === 2 ? 0 : v)),
        [wf - bore / 2, 0, 0],
      );
      expect(Math.max(...far)).toBeLessThanOrEqual(bore / 2 + 1e-6);
      const p = bar.mesh.positions;
      const beside = Array.from({ length: p.length / 3 }, (_, i) => [p[3 * i], p[3 * i + 1], p[3 * i + 2]]);
      // Under the insert only, on its side of the height of the tip.
      const grown = beside.filter(([x, y]) => Math.hypot(x, y) > d / 2 + 0.05);
      expect(grown.length).toBeGreaterThan(3);
      const isLeft = insert.bbox.max[1] > -insert.bbox.min[1];
      expect(grown.every(([, y, z]) => (isLeft ? y : -y) > -1e-6 && z > lf - 2.5 * (insert.bbox.max[2] - insert.bbox.min[2]) - 5)).toBe(true);
      // Nothing of the bar stands as far out as the corner that cuts.
      expect(Math.max(...beside.map(([x]) => x))).toBeLessThan(wf - 1);
    },
  );
  // Facing holders: what turns with one edge faces with the other.
  it.each([
    ['DTFNR 2525 M16', 90],
    ['DCKNR 2525 M12', 75],
    ['DSKNR 2525 M12', 75],
    ['SCFCR 1616 H09', 90],
    ['PCWNR 2525 M12', 60],
    ['MVUNR 2525 M16', 93],
    ['MVYNL 2525 M16', 85],
  ])('%s is read with the entering angle of facing', async (text, kapr) => {
    const [tip] = proposeReading(await opened(said(text).part), 'auto').tips;
    expect([tip.enteringAngle, tip.isFacing]).toEqual([expect.closeTo(kapr, 1), true]);
  });
  it('an insert is a plate with its hole, its tips at its corners', async () => {
    const { spec, part } = said('CCMT 09T304');
    const model = await opened(part);
    const record = componentOfSpec(spec, part, GIVEN);
    expect([record.componentKind, record.tips.length, record.mount?.connection]).toEqual(['insert', 2, { standard: 'bolted face', size: 4.4 }]);
    // Its flanks lean by 7 degrees: less than the prism, more than what the lean could take at most.
    const prism = 3.97 * 91;
    expect(model.bodies[0].volume).toBeLessThan(prism);
    // It lies on its bottom: the turning plane is that of the seat that it goes into, and its tips are off none.
    expect(findMistakes(record, model)).toEqual([]);
    expect(findMistakes({ ...record, componentKind: 'turning tool' }, model).map((m) => m.code)).toEqual(['tip-off-plane', 'tip-off-plane']);
  });
  // One of every kind, in the words of the trade.
  it.each([
    ['CCMT 09T304', 1],
    ['CNMG 432', 1],
    ['APKT 1604PDR r0.8 w 9.5', 1],
    ['SNMU 120408', 1],
    ['SPKN 1203 EDR', 1],
    ['TPKN 1603 PDL r0.4', 1],
    ['DTFNR 2525 M16', 2],
    ['MCLNL-164D', 2],
    ['A16T-MCLNR4 wf 16', 2],
    ['grooving insert 4 r2', 1],
    ['grooving holder left 2020 width 3 deep 12', 2],
    ['grooving bar 20 x 3', 2],
    ['parting blade 26 x 3', 2],
    ['16ER AG60', 1],
    ['22ER 8 w', 1],
    ['SEL 2020 K16', 2],
    ['SIR 0016 M11', 2],
    ['solid boring bar 6 dmin 5 r0.2', 3],
    ['solid bar left dmin 4', 3],
    ['step drill 6.8 x 11', 2],
    ['spot drill 10 90°', 2],
    ['centre drill 2.5', 2],
    ['countersink 16.5', 2],
    ['1/4-20 UNC tap', 2],
    ['G1/4 tap', 2],
    ['ball nose 6', 2],
    ['chamfer mill 10', 2],
    ['tapered end mill 4 3° r1', 2],
    ['dovetail cutter 20 60°', 2],
    ['woodruff cutter 19', 2],
    ['T-slot cutter 18 x 8', 2],
    ['thread mill M10', 2],
    ['face mill 63 45°', 2],
    ['boring head 25', 2],
    ['arbor 22', 1],
  ])('%s: closed bodies with their volume, and a record that is valid', async (text, bodies) => {
    const { spec, part } = said(text);
    const model = await opened(part);
    expect(model.bodies).toHaveLength(bodies);
    const record = componentOfSpec(spec, part, GIVEN);
    expect(componentSchema.safeParse(record).error).toBeUndefined();
    expect(record.bodies.map((b) => b.id)).toEqual(model.bodies.map((b) => b.id));
    // Tips lie on the solid: each nose's circle touches what cuts.
    for (const { noseCentre, noseRadius, towards } of part.tips) {
      // What ends on its axis may end there in a flat face.
      if (!towards) continue;
      const cutting = model.bodies.filter((_, i) => record.bodies[i].role === 'cutting');
      const near = Math.min(...cutting.flatMap((b) => distances(b.mesh.positions, noseCentre)));
      expect([text, Math.abs(near - noseRadius) < 0.35 + noseRadius * 0.2]).toEqual([text, true]);
    }
  });
  it.each(['DTFNR 2525 M16', 'DCLNR 2525 M12', 'grooving holder 2525 width 3', 'solid bar dmin 4', 'SER 2020 K16', 'SIR 0016 M11'])(
    '%s is the mirror image of its left hand',
    async (text) => {
      const left = /^[A-Z]{5} \d/.test(text) ? text.replace(/R /, 'L ') : /^S[EI]R/.test(text) ? text.replace('R ', 'L ') : `${text} left`;
      const [a, b] = [await opened(said(text).part), await opened(said(left).part)];
      for (const [i, body] of a.bodies.entries()) expect(b.bodies[i].volume / body.volume).toBeCloseTo(1, 6);
      // Seen along y: the same box in x and z, the other way up about the plane of the tip.
      const tips = [said(text), said(left)].map(({ part }) => part.tips[0]);
      for (const k of [0, 2]) expect(tips[1].noseCentre[k]).toBeCloseTo(tips[0].noseCentre[k], 6);
      expect(tips[1].rake?.[1]).toBeCloseTo(-(tips[0].rake?.[1] ?? 0), 6);
    },
  );
  it('follows changed numbers, and keeps what was marked by hand', async () => {
    const { spec, part } = said('drill 8.5 x 110');
    const first = componentOfSpec(spec, part, GIVEN);
    const byHand = { ...first, seats: [{ ...first.mount, id: 'own', name: 'Own', origin: { from: 'picked' as const, evidence: '' } }] } as typeof first;
    const longer = { ...spec, values: { ...spec.values, OAL: 130 } };
    const made = makeComponent(longer);
    if (!made.ok) throw new Error('it is made');
    const { record, lost } = remake(byHand, makeOfSpec(longer, made.part), '1'.repeat(64), summarizeModel(await opened(made.part)));
    expect(lost).toEqual([]);
    expect(record.source).toMatchObject({ kind: 'data', spec: { values: { OAL: 130 } } });
    expect(record.tips[0].noseCentre[2]).toBe(130);
    expect(record.seats.map((s) => s.id)).toEqual(['own']);
    expect(record.bodies.map((b) => b.role)).toEqual(['tool body', 'cutting']);
  });
});
