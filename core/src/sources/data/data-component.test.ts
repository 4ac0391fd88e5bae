import { beforeAll, describe, expect, it } from '@jest/globals';
import { type MadePart, makeComponent, readWords } from '#core/components';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { profileVolume, type RevolvedShape, shapeFileName, writeSolidShape } from '#core/outline';
import { proposeReading } from '#core/reading';
import { componentSchema, readRecord, summarizeModel, virtualTipOf, mountFrameOf } from '#core/records';
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
const GIVEN = { id: 'c', name: 'c', now: '2026-01-01T00:00:00Z', modelBlob: '0'.repeat(64) };

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
    for (const [k, want] of [wf, 0, lf].entries()) expect(tip.virtualTip[k]).toBeCloseTo(want, 2);
    // And the mark that came with it says the same place.
    const record = componentOfSpec(spec, part, GIVEN, summarizeModel(model));
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
    const record = componentOfSpec(spec, part, GIVEN, summarizeModel(model));
    expect(componentSchema.safeParse(record).error).toBeUndefined();
    expect(record.mount?.connection.standard).toBe(standard);
    expect(readRecord(JSON.parse(JSON.stringify(record)), 'x')).toMatchObject({ ok: true });
  });
  it('an insert is a plate with its hole, its tips at its corners', async () => {
    const { spec, part } = said('CCMT 09T304');
    const model = await opened(part);
    const record = componentOfSpec(spec, part, GIVEN, summarizeModel(model));
    expect([record.componentKind, record.tips.length, record.mount?.connection]).toEqual(['insert', 2, { standard: 'bolted face', size: 4.4 }]);
    // Its flanks lean by 7 degrees: less than the prism, more than what the lean could take at most.
    const prism = 3.97 * 91;
    expect(model.bodies[0].volume).toBeLessThan(prism);
  });
  it('follows changed numbers, and keeps what was marked by hand', async () => {
    const { spec, part } = said('drill 8.5 x 110');
    const model = await opened(part);
    const first = componentOfSpec(spec, part, GIVEN, summarizeModel(model));
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
