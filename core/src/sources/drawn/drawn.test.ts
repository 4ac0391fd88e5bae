import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { encode } from 'fast-png';
import { say } from '#core/issues';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { type PathPiece, type SolidShape, writeSolidShape } from '#core/outline';
import { type ComponentRecord, type DrawingChoice, hashBytes, NO_CHOICE, newOutline, type OutlineRecord, readRecord, summarizeModel } from '#core/records';
import {
  componentOfOutline,
  contradictionsOf,
  cuttingStretch,
  followOutline,
  isDrawnMark,
  isUpToDate,
  outlineFacts,
  outlineMarks,
  outlinePartOf,
  readForSheet,
  readOutlineFile,
  shapeOfOutline,
  sourceOfOutline,
  withReading,
} from './index.ts';

const drawings = join(import.meta.dirname, '../../../../demo/drawings');
const truths = JSON.parse(readFileSync(join(drawings, 'truth.json'), 'utf8')) as { file: string }[];
let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const stackWay: OutlineRecord['way'] = { kind: 'stack', stack: { connection: null, segments: [], bore: null } };
// A shank of 12 by 40, a neck of 8 by 5, a cutting part of 16 by 10 with a point of 118 degrees and a corner of 0.5 at its back.
const POINT = 8 / Math.tan((59 * Math.PI) / 180);
const CUTTER: PathPiece[] = [
  { kind: 'line', from: [0, 0], to: [55 + POINT, 0] },
  { kind: 'line', from: [55 + POINT, 0], to: [55, 8] },
  { kind: 'line', from: [55, 8], to: [45.5, 8] },
  { kind: 'arc', from: [45.5, 8], to: [45, 7.5], centre: [45.5, 7.5], ccw: true },
  { kind: 'line', from: [45, 7.5], to: [45, 4] },
  { kind: 'line', from: [45, 4], to: [40, 4] },
  { kind: 'line', from: [40, 4], to: [40, 6] },
  { kind: 'line', from: [40, 6], to: [0, 6] },
  { kind: 'line', from: [0, 6], to: [0, 0] },
];
const outline = (part: Partial<OutlineRecord> = {}): OutlineRecord => ({
  ...newOutline({ id: 'o1', name: 'Groove cutter', purpose: 'cutter', way: stackWay, now: '2026-01-01' }),
  profile: [CUTTER],
  cutting: { from: 0, to: 10 + POINT },
  mount: { standard: 'cylindrical', size: 12 },
  ...part,
});
const INSERT: PathPiece[] = [
  { kind: 'line', from: [0.4, 0], to: [12, 0] },
  { kind: 'line', from: [12, 0], to: [12, 6] },
  { kind: 'line', from: [12, 6], to: [0.4, 6] },
  { kind: 'arc', from: [0.4, 6], to: [0, 5.6], centre: [0.4, 5.6], ccw: true },
  { kind: 'line', from: [0, 5.6], to: [0, 0.4] },
  { kind: 'arc', from: [0, 0.4], to: [0.4, 0], centre: [0.4, 0.4], ccw: true },
];
const insert = (part: Partial<OutlineRecord> = {}): OutlineRecord =>
  outline({
    purpose: 'insert',
    profile: [INSERT],
    cutting: null,
    mount: null,
    insert: { thickness: 3.18, reliefDeg: 7, cutting: null, hole: { at: [7, 3], diameter: 2.5 } },
    ...part,
  });
const shape = (o: OutlineRecord): SolidShape => {
  const r = shapeOfOutline(o);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
};
const fact = (o: OutlineRecord, name: string) => outlineFacts(o).find((f) => f.name === name)?.value;
const modelOf = async (s: SolidShape) => {
  const r = await readModelFile(kernel, writeSolidShape(s), 'x.shape.json', { exactProperties: true });
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value.model;
};
const component = async (o: OutlineRecord): Promise<ComponentRecord> =>
  componentOfOutline(o, shape(o), { id: 'c1', now: '2026-01-01', modelBlob: 'b'.repeat(64) }, summarizeModel(await modelOf(shape(o))));

describe('what an outline makes', () => {
  it('is a shank and a cutting part, each a body of its own, with the numbers of the trade', async () => {
    const made = await modelOf(shape(outline()));
    expect(made.bodies.map((b) => b.name)).toEqual(['Shank', 'Cutting part']);
    const corner = (1 - Math.PI / 4) * 0.25;
    expect(made.bodies[0].volume).toBeCloseTo(Math.PI * (36 * 40 + 16 * 5), 6);
    // A disc and its point, less what the rounded corner takes: a square less a quarter disc, whose middle is a sixth of its side over its area's share away.
    const middle = 7.5 + 0.5 / (6 * (1 - Math.PI / 4));
    expect(made.bodies[1].volume).toBeCloseTo(Math.PI * (640 + (64 * POINT) / 3) - 2 * Math.PI * corner * middle, 6);
    expect(fact(outline(), 'DC')).toBeCloseTo(16, 6);
    expect(fact(outline(), 'LCF')).toBeCloseTo(10 + POINT, 6);
    expect(fact(outline(), 'DCON')).toBeCloseTo(12, 6);
    expect(fact(outline(), 'LS')).toBeCloseTo(40, 6);
    expect(fact(outline(), 'OAL')).toBeCloseTo(55 + POINT, 6);
    expect(fact(outline(), 'SIG')).toBeCloseTo(118, 6);
    expect(fact(outline(), 'RE')).toBeCloseTo(0.5, 6);
  });
  it('is one body where nothing cuts; a stretch in the middle leaves a front', () => {
    expect(shape(outline({ cutting: null }))).toMatchObject({ bodies: [{ name: 'Body', role: 'tool body' }] });
    const middle = shape(outline({ cutting: { from: POINT, to: POINT + 10 } }));
    expect(middle.form === 'revolved' && middle.bodies.map((b) => [b.name, b.role])).toEqual([
      ['Shank', 'tool body'],
      ['Cutting part', 'cutting'],
      ['Front', 'tool body'],
    ]);
  });
  it('has a mount, a tip on the axis, and seats, all said to be drawn', () => {
    const marks = outlineMarks(outline({ seat: { standard: 'ER', size: 16, z: 50 } }));
    expect(marks.mount).toMatchObject({ frame: { origin: [0, 0, 0], z: [0, 0, 1] }, connection: { standard: 'cylindrical', size: 12 } });
    expect(marks.tips.map((t) => t.noseCentre)).toEqual([[0, 0, 55 + POINT]]);
    expect(marks.seats[0].frame.origin).toEqual([0, 0, 50]);
    expect([marks.mount, ...marks.seats, ...marks.tips].every((m) => m && isDrawnMark(m))).toBe(true);
    expect(outlineMarks(outline({ purpose: 'holder' })).tips).toEqual([]);
  });
  it('is an insert with its noses as tips, sides and all', async () => {
    const marks = outlineMarks(insert());
    expect(marks.tips.map((t) => [t.noseRadius, t.noseCentre, t.corner])).toEqual([
      [0.4, [0.4, 5.6, 0], { x: 1, z: -1 }],
      [0.4, [0.4, 0.4, 0], { x: -1, z: -1 }],
    ]);
    expect(marks.mount?.connection).toEqual({ standard: 'bolted face', size: 2.5 });
    const [body] = (await modelOf(shape(insert()))).bodies;
    expect(body.closed && body.valid).toBe(true);
    expect(fact(insert(), 'RE')).toBe(0.4);
    // Only the left side cuts: one corner and one side do not lean.
    expect(outlineMarks(insert({ insert: { ...insert().insert, cutting: [3, 4] } })).tips).toHaveLength(1);
  });
  it('says what contradicts typed values, and what would agree', () => {
    expect(contradictionsOf(outline({ typed: { DC: 16, OAL: 55 + POINT } }))).toEqual([]);
    const [dc, lcf] = contradictionsOf(outline({ typed: { DC: 15.5, LCF: 20 } }));
    expect(dc).toMatchObject({ name: 'DC', typed: 15.5, found: 16 });
    expect(dc.message).toMatch(/the profile gives 16\.000.*by -0\.500/);
    expect(lcf.found).toBeCloseTo(10 + POINT, 5);
    const long = outline({ cutting: { from: 0, to: 200 } });
    expect(contradictionsOf(long)[0].message).toMatch(/longer than the body: at most 59\.8/);
    expect(cuttingStretch(long)).toEqual({ from: 0, to: 55 + POINT });
  });
});

describe('a component of an outline', () => {
  it('is a record like any other, whose source is the shape; it survives being stored', async () => {
    const made = await component(outline());
    expect(made.source).toMatchObject({ kind: 'outline', outline: 'o1', unit: 'mm' });
    expect(made.source.blob).toBe(hashBytes(writeSolidShape(shape(outline()))));
    expect(made.bodies.map((b) => b.role)).toEqual(['tool body', 'cutting']);
    expect(readRecord(JSON.parse(JSON.stringify(made)), 'x')).toEqual({ ok: true, value: made });
    // Read back, the shape gives the same bytes: the hash stays true.
    const again = readRecord(JSON.parse(JSON.stringify(made)), 'x');
    expect(again.ok && again.value.kind === 'component' && again.value.source.kind === 'outline' && hashBytes(writeSolidShape(again.value.source.shape))).toBe(
      made.source.blob,
    );
    expect(readRecord(JSON.parse(JSON.stringify(outline())), 'x')).toEqual({ ok: true, value: outline() });
  });
  it('follows its outline: drawn marks move, what was marked by hand stays, roles that were chosen stay', async () => {
    const before = await component(outline({ seat: { standard: 'cylindrical', size: 6, z: 30 } }));
    const byHand = { ...before.tips[0], id: 'mine', name: 'Mine', origin: { from: 'picked' as const, evidence: 'an edge' } };
    const worked = { ...before, tips: [...before.tips, byHand], bodies: before.bodies.map((b, i) => (i === 0 ? { ...b, role: 'left out' as const } : b)) };
    const longer = outline({ profile: [CUTTER.map((p) => shiftFront(p, 5))], seat: null });
    const { record, lost } = followOutline(worked, longer, shape(longer), 'c'.repeat(64), summarizeModel(await modelOf(shape(longer))));
    expect(record.tips.map((t) => [t.id, t.noseCentre[2]])).toEqual([
      ['outline-tip', 60 + POINT],
      ['mine', 55 + POINT],
    ]);
    expect(record.bodies.map((b) => b.role)).toEqual(['left out', 'cutting']);
    expect(lost.join()).toMatch(/no such seat/);
    expect([isUpToDate(worked, longer, shape(longer)), isUpToDate(record, longer, shape(longer))]).toEqual([false, true]);
    // Stored and read back its fields come in another order: nothing is made anew for that.
    const stored = readRecord(JSON.parse(JSON.stringify(record)), 'x');
    expect(stored.ok && stored.value.kind === 'component' && isUpToDate(stored.value, longer, shape(longer))).toBe(true);
    // A seat that moves in the same shape is followed too.
    expect(isUpToDate(record, { ...longer, seat: { standard: 'cylindrical', size: 6, z: 20 } }, shape(longer))).toBe(false);
    expect(record.source.blob).toBe(sourceOfOutline(longer, shape(longer)).blob);
    // What nothing cuts any more is one body.
    const blunt = outline({ cutting: null });
    const one = followOutline(worked, blunt, shape(blunt), 'c'.repeat(64), summarizeModel(await modelOf(shape(blunt))));
    expect(one.record.bodies.map((b) => [b.id, b.name, b.role])).toEqual([['b1', 'Body', 'tool body']]);
  });
});

// All that lies before z 42 goes on by some mm.
const shiftFront = (p: PathPiece, by: number): PathPiece => {
  const at = ([z, r]: readonly [number, number]): [number, number] => [z > 42 ? z + by : z, r];
  return p.kind === 'line' ? { ...p, from: at(p.from), to: at(p.to) } : { ...p, from: at(p.from), to: at(p.to), centre: at(p.centre) };
};

describe('a drawing that is read anew', () => {
  const read = (choice: DrawingChoice) => {
    const r = readOutlineFile(new Uint8Array(readFileSync(join(drawings, 'files', 'form-cutter-3.dxf'))), 'form-cutter-3.dxf', choice);
    if (!r.ok) throw new Error(r.issues.map(say).join());
    return outlinePartOf(r.value);
  };
  const way: OutlineRecord['way'] = { kind: 'drawing', blob: 'd'.repeat(64), fileName: 'form-cutter-3.dxf', format: 'dxf', choice: NO_CHOICE, read: null };
  const first = () => withReading(newOutline({ id: 'o', name: 'x', purpose: 'cutter', way, now: '' }), NO_CHOICE, read(NO_CHOICE));
  const finer = { ...NO_CHOICE, tolerance: 0.002 };
  const flipped = { ...NO_CHOICE, flip: true };

  it('is taken as it was found where nothing was said otherwise', () => {
    expect(first()).toMatchObject({ purpose: 'cutter', mount: { standard: 'cylindrical', size: 16 }, cutting: { from: 0, to: expect.closeTo(10.53, 6) } });
    const other = withReading(first(), flipped, read(flipped));
    expect(other.mount).toEqual(read(flipped).mount);
  });
  it('keeps what was said by hand: mount, stretch that cuts, purpose, plates, typed values', () => {
    const said: OutlineRecord = { ...first(), mount: { standard: 'HSK-A', size: 63 }, cutting: { from: 0, to: 12.5 }, typed: { DC: 16 }, rotation: 'left' };
    const again = withReading(said, finer, read(finer));
    expect(again).toMatchObject({ mount: said.mount, cutting: said.cutting, typed: said.typed, rotation: 'left', purpose: 'cutter' });
    expect(again.way).toMatchObject({ choice: finer });
    const holder = withReading({ ...first(), purpose: 'holder', cutting: null }, finer, read(finer));
    expect([holder.purpose, holder.cutting]).toEqual(['holder', null]);
  });
  it('has the mount’s plane as far from the other end when it is turned, and back again', () => {
    const planed = { ...first(), mountZ: 6 };
    const turned = withReading(planed, flipped, read(flipped));
    expect(turned.mountZ).toBeCloseTo(56.02 - 6, 6);
    expect(withReading(turned, NO_CHOICE, read(NO_CHOICE)).mountZ).toBeCloseTo(6, 6);
    expect(withReading(planed, finer, read(finer)).mountZ).toBe(6);
  });
  it('drops what was drawn over it, and faults; another kind of thing is taken whole', () => {
    const drawn: OutlineRecord = { ...first(), byHand: true, fault: 'open', sketch: { names: [], constraints: [] } };
    expect(withReading(drawn, finer, read(finer))).toMatchObject({ byHand: false, fault: null, sketch: null });
    const flat = { ...NO_CHOICE, form: 'flat' as const };
    const plate = withReading({ ...first(), cutting: { from: 0, to: 3 } }, flat, read(flat));
    expect([plate.purpose, plate.cutting]).toEqual(['insert', null]);
    expect(() => withReading(outline(), NO_CHOICE, read(NO_CHOICE))).toThrow(/an outline from a drawing/);
  });
});

describe('drawings as outlines', () => {
  it('of the corpus make solids of the volume that was read, mirrored so that the work lies along z', async () => {
    const some = truths.filter((_, i) => i % 15 === 0);
    expect(some.length).toBeGreaterThan(5);
    for (const { file } of some) {
      const read = readOutlineFile(new Uint8Array(readFileSync(join(drawings, 'files', file))), file, NO_CHOICE);
      if (!read.ok) continue;
      const part = outlinePartOf(read.value);
      const o = outline({ ...part, seat: null });
      const made = await modelOf(shape(o));
      const volume = made.bodies.reduce((v, b) => v + b.volume, 0);
      if (read.value.volume !== undefined) expect(volume / read.value.volume).toBeCloseTo(1, 6);
      expect(made.bodies.every((b) => b.closed && b.valid)).toBe(true);
    }
  });
  it('are refused where a picture has no scale; an axis that was asked for is taken, and unlike halves are said', () => {
    const bytes = new TextEncoder().encode(
      `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="40mm" viewBox="0 0 100 40"><path d="M10 10H40V14H90V26H40V30H10Z"/><path d="M10 5h5v2h-5z"/></svg>`,
    );
    const read = readOutlineFile(bytes, 'x.svg', { ...NO_CHOICE, axis: { from: [0, 20], to: [100, 20] } });
    expect(read.ok && read.value.volume).toBeCloseTo(Math.PI * (100 * 30 + 36 * 50), 6);
    const off = readOutlineFile(bytes, 'x.svg', { ...NO_CHOICE, form: 'revolved', axis: { from: [0, 18], to: [100, 18] } });
    expect(off.ok && off.value.warnings.map((w) => w.code)).toContain('outline.unlike-halves');
    const small = readOutlineFile(bytes, 'x.svg', { ...NO_CHOICE, form: 'flat', at: [12, 6] });
    expect(small.ok && small.value.area).toBeCloseTo(10, 6);
    const picture = encode({ width: 40, height: 40, channels: 1, data: new Uint8Array(1600).fill(255) });
    const bare = readOutlineFile(picture, 'x.png', NO_CHOICE);
    expect(readForSheet(picture, 'x.png', NO_CHOICE)).toMatchObject({ ok: true, value: { size: { width: 40, height: 40 } } });
    expect(!bare.ok && bare.issues[0].code).toBe('picture.no-scale');
  });
});
