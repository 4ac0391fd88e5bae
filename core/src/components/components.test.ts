import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { areaOfPath, boxOfPath, faultsOfShape, type FlatShape, type HalfProfile, profileVolume, type RevolvedShape } from '#core/outline';
import { COARSE_PITCHES } from './tables.ts';
import { type ComponentSpec, type MadePart, makeComponent, readWords, SPEC_KINDS, type SpecKind, type Values } from './index.ts';

const specOf = (kind: SpecKind, values: Values, more: Partial<ComponentSpec> = {}): ComponentSpec => ({
  kind,
  designation: '',
  values,
  shape: '',
  hand: 'right',
  inside: false,
  thread: '',
  size: '',
  ...more,
});
const made = (spec: ComponentSpec): MadePart => {
  const m = makeComponent(spec);
  if (!m.ok) throw new Error(JSON.stringify(m));
  expect(faultsOfShape(m.part.shape)).toEqual([]);
  return m.part;
};
const whole = ({ shape }: MadePart): HalfProfile => (shape as RevolvedShape).bodies.flatMap((b) => b.profile);
const volume = (part: MadePart): number => profileVolume(whole(part));
const cylinder = (d: number, l: number): number => (Math.PI * d * d * l) / 4;
const cone = (d: number, l: number): number => (Math.PI * d * d * l) / 12;
const frustum = (a: number, b: number, l: number): number => (Math.PI * l * (a * a + a * b + b * b)) / 12;
const words = (text: string): MadePart => {
  const { spec, unknown } = readWords(text);
  expect(unknown).toEqual([]);
  if (!spec) throw new Error(`${text}: no kind`);
  return made(spec);
};

describe('rotating tools of data', () => {
  it('have the volumes that their numbers say', () => {
    const drill = made(specOf('drill', { DC: 8.5 }));
    const point = 4.25 / Math.tan((59 * Math.PI) / 180);
    expect(volume(drill)).toBeCloseTo(cylinder(8.5, 117 - point) + cone(8.5, point), 6);
    const mill = made(specOf('end mill', { DC: 12, RE: 1, LU: 40 }));
    // A quarter round at its corner takes away what Pappus says.
    const corner = (1 - Math.PI / 4) * 2 * Math.PI * (6 - (10 - 3 * Math.PI) / (12 - 3 * Math.PI) + 0);
    expect(volume(mill)).toBeCloseTo(cylinder(12, 83 - 40) + cylinder(11.4, 14) + cylinder(12, 26) - corner, 1);
    const ball = made(specOf('ball end mill', { DC: 6 }));
    expect(volume(ball)).toBeCloseTo(cylinder(6, 57 - 3) + (2 / 3) * Math.PI * 27, 6);
    const sink = made(specOf('countersink', { DC: 12.4 }));
    expect(volume(sink)).toBeCloseTo(cylinder(8, 56 - 4.8 - 3.1) + cylinder(12.4, 3.1) + frustum(12.4, 2.8, 4.8), 6);
    const slot = made(specOf('slot cutter', { DC: 21, CW: 4, DCON: 12, DN: 8, OAL: 70, LU: 20 }));
    expect(volume(slot)).toBeCloseTo(cylinder(12, 50) + cylinder(8, 16) + cylinder(21, 4), 6);
  });
  it('cut with their cutting part, are held by their shank, and end at their tip', () => {
    const part = made(specOf('drill', { DC: 10, OAL: 100, LCF: 60 }));
    expect((part.shape as RevolvedShape).bodies.map((b) => [b.name, b.role, boxOfPath(b.profile.flat()).map((v) => Math.round(v * 1e3) / 1e3)])).toEqual([
      ['Shank', 'tool body', [0, 0, 40, 5]],
      ['Cutting part', 'cutting', [40, 0, 100, 5]],
    ]);
    expect(part.mount).toMatchObject({ connection: { standard: 'cylindrical', size: 10 }, frame: { origin: [0, 0, 0], z: [0, 0, 1] } });
    expect(part.tips).toMatchObject([{ noseCentre: [0, 0, 100], noseRadius: 0 }]);
  });
  it('say what was worked out, by which formula, and what was assumed and why', () => {
    const part = made(specOf('drill', { DC: 8.5, OAL: 110 }));
    expect(part.derived).toContainEqual({ name: 'LS', value: 35, formula: 'OAL - LCF' });
    expect(part.assumed).toContainEqual({ name: 'LCF', value: 75, why: 'twist drills of usual length, ISO 235' });
    expect(part.assumed.map((a) => a.name)).not.toContain('OAL');
    const tap = made(specOf('tap', { TD: 8 }));
    expect(tap.assumed).toContainEqual({ name: 'TP', value: 1.25, why: 'the coarse pitch of ISO 261' });
    expect(makeComponent(specOf('tap', { TD: 8.3 }))).toMatchObject({ ok: false, missing: ['TP'] });
  });
  it('inserts lie on a face, with or without a hole: their mount looks towards the edge, and up out of the rake face', () => {
    const mountOf = (words: string) => {
      const { spec } = readWords(words);
      if (!spec) throw new Error(words);
      return made(spec).mount;
    };
    const flat = { z: [1, 0, 0], x: [0, 1, 0] };
    // 3 wide and 4.5 high, 20 from its stop to its edge.
    expect(mountOf('grooving insert 3')).toMatchObject({ connection: { standard: 'bolted face', size: '' }, frame: { ...flat, origin: [-20, 0, -4.5] } });
    expect(mountOf('threading insert 16 er 1.5')).toMatchObject({ connection: { standard: 'bolted face' }, frame: { ...flat, origin: [0, 0, -3.52] } });
    expect(mountOf('CNMG 120408')).toMatchObject({ connection: { standard: 'bolted face', size: 5.16 }, frame: { ...flat, origin: [0, 0, -4.76] } });
    // Clamped from above: no hole.
    expect(mountOf('SNUN 120408')).toMatchObject({ connection: { standard: 'bolted face', size: '' }, frame: { ...flat, origin: [0, 0, -4.76] } });
  });
  it('name what contradicts, with the value that would agree', () => {
    const long = makeComponent(specOf('drill', { DC: 8, OAL: 60, LCF: 75 }));
    expect(long).toMatchObject({ ok: false, conflicts: [{ name: 'LCF', given: 75, wanted: 59 }] });
    expect(makeComponent(specOf('ball end mill', { DC: 8, RE: 3 }))).toMatchObject({ ok: false, conflicts: [{ name: 'RE', given: 3, wanted: 4 }] });
    expect(makeComponent(specOf('drill', { DC: -8 }))).toMatchObject({ ok: false, conflicts: [{ name: 'DC', given: -8 }] });
    expect(makeComponent(specOf('drill', { DC: Number.NaN })).ok).toBe(false);
    expect(makeComponent(specOf('drill', {}))).toMatchObject({ ok: false, missing: ['DC'] });
  });
  it('have lengths of the standards’ tables', () => {
    // ISO 235: 3 is 61 long with 33 of flutes, 10 is 133 with 87, 20 is 205 with 140.
    for (const [dc, oal, lcf] of [
      [3, 61, 33],
      [5, 86, 52],
      [8.5, 117, 75],
      [10, 133, 87],
      [13, 151, 101],
      [20, 205, 140],
    ])
      expect(made(specOf('drill', { DC: dc })).values).toMatchObject({ OAL: oal, LCF: lcf, DCON: dc });
    // ISO 866: a pilot of 2.5 in a body of 6.3.
    expect(made(specOf('centre drill', { DC: 2.5 })).values).toMatchObject({ DCON: 6.3, OAL: 45 });
    expect(COARSE_PITCHES[12]).toBe(1.75);
  });
  it('are good shapes or said to be wrong, whatever their numbers', () => {
    const number = (max: number) => fc.option(fc.double({ min: 0.05, max, noNaN: true }), { nil: undefined });
    const kinds = SPEC_KINDS.filter((k) => !['insert', 'turning holder', 'boring bar', 'collet'].includes(k));
    fc.assert(
      fc.property(
        fc.constantFrom(...kinds),
        fc.record({
          DC: fc.double({ min: 0.5, max: 60, noNaN: true }),
          OAL: number(250),
          LCF: number(120),
          LU: number(150),
          DCON: number(40),
          DN: number(40),
          RE: number(20),
        }),
        fc.record({
          TD: fc.constantFrom(3, 6, 8, 10, 16, 24),
          CW: fc.double({ min: 0.5, max: 20, noNaN: true }),
          SIG: number(170),
          DCN: number(20),
          DC2: fc.double({ min: 1, max: 60, noNaN: true }),
          TAPER: fc.double({ min: 0.5, max: 50, noNaN: true }),
          TP: number(6),
          DCONWS: fc.double({ min: 1, max: 60, noNaN: true }),
          CDX: number(30),
          DMIN: number(40),
          H: number(40),
        }),
        (kind, a, b) => {
          const given = Object.fromEntries(Object.entries({ ...a, ...b }).filter(([, v]) => v !== undefined)) as Values;
          const m = makeComponent(specOf(kind, kind === 'tap' ? { ...given, DC: undefined } : given));
          if (!m.ok) return expect(m.missing.length + m.conflicts.length + m.open.length).toBeGreaterThan(0);
          expect(faultsOfShape(m.part.shape)).toEqual([]);
          if (m.part.role !== 'cutter') return;
          const [, , high, radius] = boxOfPath(whole(m.part).flat());
          const { DC = 0, DCON = 0, DC2 = 0, DCX = 0, OAL = 0 } = m.part.values;
          expect(high).toBeCloseTo(OAL, 6);
          // What else was said of it has nothing to do with how wide it is.
          const wide = kind === 'step drill' || kind === 'tapered mill' ? [DC, DC2, DCON] : kind === 'face mill' ? [DCX, m.part.values.BDX ?? 0] : [DC, DCON];
          expect(radius * 2).toBeCloseTo(Math.max(...wide), 6);
        },
      ),
      { numRuns: 1500 },
    );
  });
});

describe('a face mill', () => {
  it.each([90, 75, 45, 15])('of %s degrees has a round corner that touches its face and its flank', (kapr) => {
    const [dc, re, turn] = [63, 1.2, (kapr * Math.PI) / 180];
    const area = (RE: number) => areaOfPath(whole(made(specOf('face mill', { DC: dc, KAPR: kapr, RE }))).flat());
    // What a round takes from a corner that turns by the entering angle.
    expect(Math.abs(area(0)) - Math.abs(area(re))).toBeCloseTo(re * re * (Math.tan(turn / 2) - turn / 2), 6);
    const part = made(specOf('face mill', { DC: dc, KAPR: kapr, RE: re }));
    const [{ noseCentre, noseRadius }] = part.tips;
    const { LF = 0 } = part.values;
    expect(noseRadius).toBe(re);
    expect(noseCentre[2]).toBeCloseTo(LF - re, 9);
    // From the flank, a line through DC on the face that leans outwards: as far as its radius.
    const [x, z] = [noseCentre[0] - dc / 2, noseCentre[2] - LF];
    expect(-(x * Math.sin(turn) + z * Math.cos(turn))).toBeCloseTo(re, 9);
  });
  it('refuses a corner that does not fit, with what would', () => {
    const m = makeComponent(specOf('face mill', { DC: 50, KAPR: 90, APMX: 4, RE: 5 }));
    expect(m.ok ? [] : m.conflicts.map((c) => [c.name, c.wanted])).toEqual([['RE', 4]]);
  });
});

// Area of a polygon around a circle, its corners rounded: half its circumference times the radius, less what each corner loses.
const roundedArea = (ic: number, re: number, turnsDeg: readonly number[]): number => {
  const [r, turns] = [ic / 2, turnsDeg.map((t) => (t * Math.PI) / 180)];
  return turns.reduce((sum, t) => sum + r * r * Math.tan(t / 2) - re * re * (Math.tan(t / 2) - t / 2), 0);
};
const plate = (part: MadePart): FlatShape => part.shape as FlatShape;

describe('inserts of data', () => {
  const insert = (designation: string, values: Values = {}) => made(specOf('insert', values, { designation }));
  it('are what their designation says: area, corners, hole', () => {
    for (const [code, ic, re, turns, tips] of [
      ['CNMG 120408', 12.7, 0.8, [100, 80, 100, 80], 2],
      ['DNMG 150608', 12.7, 0.8, [125, 55, 125, 55], 2],
      ['VNMG 160404', 9.525, 0.4, [145, 35, 145, 35], 2],
      ['SNMG 120412', 12.7, 1.2, [90, 90, 90, 90], 4],
      ['TNMG 160408', 9.525, 0.8, [120, 120, 120], 3],
      ['CCMT 09T304', 9.525, 0.4, [100, 80, 100, 80], 2],
    ] as const) {
      const part = insert(code);
      expect(areaOfPath(plate(part).loop)).toBeCloseTo(roundedArea(ic, re, turns), 6);
      expect(part.tips).toHaveLength(tips);
      for (const tip of part.tips) expect(tip.noseRadius).toBe(re);
    }
    expect(insert('CNMG 120408').values).toMatchObject({ IC: 12.7, S: 4.76, RE: 0.8, AN: 0, EPSR: 80, D1: 5.16 });
    expect(insert('CCMT 09T304').values).toMatchObject({ IC: 9.525, S: 3.97, AN: 7, D1: 4.4 });
    expect(plate(insert('CNMN 120408')).hole).toBeNull();
    // A trigon has three corners that cut; a round one is its own nose.
    expect(insert('WNMG 080408').tips).toHaveLength(3);
    expect(insert('RNMG 120400').tips).toMatchObject([{ noseRadius: 6, noseCentre: [0, 0, 0] }]);
  });
  it.each([
    ['SPKN 1203 EDR', 4, 75, 15],
    ['SEKN 1203 AFTN', 4, 45, 45],
    ['TPKN 1603 PDR', 3, 90, 30],
    ['TPKN 2204 PDL', 3, 90, 30],
  ])('%s has a wiper at each corner, towards its hand', (designation, corners, kapr, beside) => {
    const part = insert(designation);
    const { IC = 0, BS = 0, RE } = part.values;
    expect(RE).toBe(0);
    const { loop } = plate(part);
    expect(loop).toHaveLength(2 * corners);
    const eps = 180 - kapr - beside;
    const sin = (deg: number) => Math.sin((deg * Math.PI) / 180);
    // Of the sharp plate each corner loses a triangle over its wiper.
    const lost = (BS * BS * sin(kapr) * sin(beside)) / (2 * sin(eps));
    expect(areaOfPath(loop)).toBeCloseTo(roundedArea(IC, 0, new Array<number>(corners).fill(180 - eps)) - corners * lost, 6);
    const turns = loop.map((p, i) => {
      const a = loop[(i + loop.length - 1) % loop.length];
      const way = (q: typeof p) => Math.atan2(q.to[1] - q.from[1], q.to[0] - q.from[0]);
      return Math.round(((((way(p) - way(a)) * 180) / Math.PI + 360) % 360) * 1e6) / 1e6;
    });
    expect([...new Set(turns)].sort((a, b) => a - b)).toEqual([...new Set([beside, kapr])].sort((a, b) => a - b));
    expect(part.tips).toHaveLength(corners);
    // Seen on the rake face of a right-hand one the main edge comes after its wiper, counter-clockwise; of a left-hand one before.
    const wiper = loop.findIndex((p) => Math.abs(Math.hypot(p.to[0] - p.from[0], p.to[1] - p.from[1]) - BS) < 1e-6);
    const at = designation.endsWith('L') ? loop[wiper].from : loop[wiper].to;
    expect(part.tips.some((t) => Math.hypot(t.noseCentre[0] - at[0], t.noseCentre[1] - at[1]) < 1e-6)).toBe(true);
    if (kapr !== beside) expect(turns[designation.endsWith('L') ? wiper : (wiper + 1) % loop.length]).toBe(kapr);
  });
  it('say what does not fit a wiper', () => {
    const refused = (designation: string, values: Values) => {
      const m = makeComponent(specOf('insert', values, { designation }));
      return m.ok ? [] : [...m.missing.map((n) => n), ...m.conflicts.map((c) => c.name)];
    };
    expect(refused('SPKN 1203 EDR', { BS: 14 })).toEqual(['BS']);
    expect(refused('SPKN 1203 EDR', { RE: 2 })).toEqual(['RE']);
    // Square, and for shoulders: a corner of 90 degrees has no room for one.
    expect(refused('SPKN 1203 PDR', {})).toEqual(['RE']);
    const round = insert('SPKN 1203 EDR', { RE: 0.4 });
    expect(plate(round).loop.filter((p) => p.kind === 'arc')).toHaveLength(8);
    for (const tip of round.tips) expect(tip.noseRadius).toBe(0.4);
  });
  it('reach beyond their inscribed circle by M', () => {
    for (const code of ['CNMG 120408', 'DNMG 110404', 'TNMG 220412', 'SNMG 190616', 'VBMT 160408']) {
      const part = insert(code);
      const far = Math.max(...part.tips.map((t) => Math.hypot(t.noseCentre[0], t.noseCentre[1]) + t.noseRadius));
      // Of a triangle to the edge on the other side.
      const half = (part.values.IC ?? 0) / 2;
      expect(part.values.M).toBeCloseTo(code[0] === 'T' ? far + half : far - half, 5);
    }
    // As the standard's table has it for C 12.7 with a radius of 0.8: 3.088.
    expect(insert('CNMG 120408').values.M).toBeCloseTo(3.088, 2);
  });
  it('take any number otherwise, and refuse what cannot be', () => {
    expect(insert('CNMG 120408', { RE: 1.5, S: 5 }).values).toMatchObject({ RE: 1.5, S: 5 });
    expect(makeComponent(specOf('insert', { EPSR: 70 }, { designation: 'CNMG 120408' }))).toMatchObject({
      ok: false,
      conflicts: [{ name: 'EPSR', wanted: 80 }],
    });
    expect(makeComponent(specOf('insert', { RE: 7 }, { designation: 'CNMG 120408' }))).toMatchObject({ ok: false, conflicts: [{ name: 'RE' }] });
    expect(makeComponent(specOf('insert', { IC: 12.7, S: 4.76, RE: 0.8 }, { shape: 'L' }))).toMatchObject({ ok: false });
    expect(makeComponent(specOf('insert', { IC: 12.7, S: 4.76, RE: 0.8 }))).toMatchObject({ ok: false, open: ['the letter of its shape'] });
    const odd = made(specOf('insert', { IC: 10, S: 3, RE: 0.4, AN: 5 }, { shape: 'C' }));
    expect(odd.warnings).toEqual(['its inscribed circle is none of the steps of ISO 1832']);
  });
});

describe('what holds tools', () => {
  it('collets have the cone of their size and a bore with a wall, sleeves two diameters', () => {
    const collet = made(specOf('collet', { DCONWS: 10 }, { size: '32' }));
    expect(collet.mount?.connection).toEqual({ standard: 'ER', size: 32 });
    expect(collet.seats[0].connection).toEqual({ standard: 'cylindrical', size: 10, clamps: [9, 10] });
    expect(volume(collet)).toBeCloseTo(frustum(33, 33 - 80 * Math.tan((8 * Math.PI) / 180), 40) - cylinder(10, 40), 6);
    // As wide as it gets, the wall still is there.
    expect(volume(made(specOf('collet', { DCONWS: 10 }, { size: '16' })))).toBeGreaterThan(0);
    expect(makeComponent(specOf('collet', { DCONWS: 21 }, { size: '32' }))).toMatchObject({ ok: false, conflicts: [{ name: 'DCONWS', wanted: 20 }] });
    const sleeve = made(specOf('sleeve', { DCON: 32, DCONWS: 16 }));
    expect(volume(sleeve)).toBeCloseTo(cylinder(32, 60) + cylinder(40, 5) - cylinder(16, 65), 6);
    expect(makeComponent(specOf('sleeve', { DCON: 16, DCONWS: 16 })).ok).toBe(false);
  });
});

describe('words on a box', () => {
  it('are understood in any order, in mm or inches', () => {
    expect(words('drill 8.5 x 110').values).toMatchObject({ DC: 8.5, OAL: 110 });
    expect(words('oal 110, 8,5 mm drill').values).toMatchObject({ DC: 8.5, OAL: 110 });
    expect(words('M8 tap')).toMatchObject({ name: 'Tap M8', values: { TD: 8, TP: 1.25 } });
    expect(words('tap m10x1').values).toMatchObject({ TD: 10, TP: 1 });
    expect(words('end mill 12 r1').values).toMatchObject({ DC: 12, RE: 1 });
    expect(words('ball nose end mill d6').values).toMatchObject({ DC: 6, RE: 3 });
    expect(words('collet ER32 d10').values).toMatchObject({ DCONWS: 10 });
    expect(words('sleeve 32 to 16').values).toMatchObject({ DCON: 32, DCONWS: 16 });
    expect(words('sleeve 16 to 32').values).toMatchObject({ DCON: 32, DCONWS: 16 });
    expect(words('drill 1/4 in').values.DC).toBeCloseTo(6.35, 9);
    expect(words('1 1/2" saw 3 mm').values).toMatchObject({ DC: 38.1, CW: 3 });
    expect(words('countersink 12.4 90°').values).toMatchObject({ DC: 12.4, SIG: 90 });
    expect(words('CNMG 120408').name).toBe('CNMG120408');
    expect(words('insert ccmt 09t304').values).toMatchObject({ IC: 9.525 });
    expect(readWords('reamer 1/2', 'inch').spec?.values.DC).toBeCloseTo(12.7, 9);
  });
  it.each([
    ['end mill 12 r1 z4 carbide', { cuttingMaterial: 'HC' }, 4],
    ['HSS-E drill 8.5', { cuttingMaterial: 'HSS' }, undefined],
    ['5 flute end mill 10 uncoated carbide', { cuttingMaterial: 'HW' }, 5],
    ['drill 8.5 vhm coolant through', { cuttingMaterial: 'HC', coolant: 'through the tool' }, undefined],
  ] as const)('“%s” says what it is made of, how it is cooled, and its teeth', (text, use, teeth) => {
    const read = readWords(text);
    expect([read.unknown, read.use, read.spec?.values.NOF]).toEqual([[], { groups: {}, ...use }, teeth]);
  });
  it('takes no part of a tooth', () => {
    const { spec } = readWords('end mill 12');
    const made = spec && makeComponent({ ...spec, values: { DC: 12, NOF: 2.5 } });
    expect(made?.ok === false && made.conflicts[0].message).toContain('whole number');
  });
  it('mean the same in whatever order they come', () => {
    const parts = ['end mill', '12', 'r1', 'lu 40', 'oal 90 mm', 'shank 10'];
    const want = readWords(parts.join(' ')).spec?.values;
    expect(want).toEqual({ DC: 12, RE: 1, LU: 40, OAL: 90, DCON: 10 });
    fc.assert(
      fc.property(fc.shuffledSubarray(parts, { minLength: parts.length }), fc.constantFrom(' ', ', ', '  '), (order, between) => {
        expect(readWords(order.join(between))).toMatchObject({ spec: { values: want }, unknown: [] });
      }),
    );
  });
  it('that are not known are said with their place', () => {
    const read = readWords('drill 8.5 wobbly');
    expect(read.unknown).toEqual([{ text: 'wobbly', at: 10, why: 'nothing is known by this word' }]);
    expect(read.spec?.values.DC).toBe(8.5);
    expect(readWords('hello there').spec).toBeUndefined();
    expect(readWords('').spec).toBeUndefined();
    expect(readWords('drill 8 100 60 5').unknown).toMatchObject([{ text: '5' }]);
    expect(readWords('=cmd|calc drill <b>8</b>').unknown.length).toBeGreaterThan(0);
  });
});
