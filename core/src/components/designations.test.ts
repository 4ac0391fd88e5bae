import { describe, expect, it } from '@jest/globals';
import { areaOfPath, boxOfPath, faultsOfShape, type FlatShape, type PlacedShape } from '#core/outline';
import { makeComponent, readWords, SPEC_KINDS, type ValueName } from './index.ts';

const valuesOf = (text: string) => {
  const { spec, unknown } = readWords(text);
  const made = spec && makeComponent(spec);
  if (!spec || unknown.length > 0 || !made?.ok) return { text, failed: made ?? unknown };
  expect([text, faultsOfShape(made.part.shape)]).toEqual([text, []]);
  return { kind: spec.kind, hand: spec.hand, shape: made.part.shape, values: made.part.values };
};

// Written down from the rules of ISO 1832, not computed by what is tested: angle, and the edge code of each inscribed circle.
const SHAPES: readonly (readonly [string, number, readonly (readonly [string, number])[]])[] = [
  [
    'C',
    80,
    [
      ['06', 6.35],
      ['09', 9.525],
      ['12', 12.7],
      ['16', 15.875],
      ['19', 19.05],
      ['25', 25.4],
    ],
  ],
  [
    'D',
    55,
    [
      ['07', 6.35],
      ['11', 9.525],
      ['15', 12.7],
      ['19', 15.875],
    ],
  ],
  [
    'V',
    35,
    [
      ['11', 6.35],
      ['16', 9.525],
      ['22', 12.7],
    ],
  ],
  [
    'S',
    90,
    [
      ['06', 6.35],
      ['09', 9.525],
      ['12', 12.7],
      ['15', 15.875],
      ['19', 19.05],
      ['25', 25.4],
    ],
  ],
  [
    'T',
    60,
    [
      ['11', 6.35],
      ['16', 9.525],
      ['22', 12.7],
      ['27', 15.875],
      ['33', 19.05],
    ],
  ],
  [
    'W',
    80,
    [
      ['04', 6.35],
      ['06', 9.525],
      ['08', 12.7],
      ['10', 15.875],
    ],
  ],
  ['E', 75, [['13', 12.7]]],
  ['M', 86, [['12', 12.7]]],
];
const CLEARANCES = [
  ['N', 0],
  ['B', 5],
  ['C', 7],
  ['P', 11],
] as const;
const THICK = [
  ['03', 3.18],
  ['T3', 3.97],
  ['04', 4.76],
  ['06', 6.35],
] as const;
const RADII = [
  ['04', 0.4],
  ['08', 0.8],
  ['12', 1.2],
] as const;

describe('designations of inserts, field by field (ISO 1832)', () => {
  const all = SHAPES.flatMap(([letter, angle, sizes]) =>
    sizes.flatMap(([code, ic], i) =>
      CLEARANCES.map(([clear, an], k) => {
        const [[thick, s], [nose, re]] = [THICK[(i + k) % THICK.length], RADII[(i + 2 * k) % RADII.length]];
        return { text: `${letter}${clear}MG ${code}${thick}${nose}`, want: { EPSR: angle, IC: ic, AN: an, S: s, RE: re } };
      }),
    ),
  );
  it(`${all.length} of them are plates of their numbers`, () => {
    expect(all.length).toBeGreaterThan(110);
    for (const { text, want } of all) {
      const found = valuesOf(text);
      expect([text, found.kind, found.values && Object.fromEntries(Object.keys(want).map((n) => [n, found.values?.[n as ValueName]]))]).toEqual([
        text,
        'insert',
        want,
      ]);
      const plate = found.shape as FlatShape;
      expect([plate.thickness, plate.reliefDeg]).toEqual([want.S, want.AN]);
      // Between its inscribed circle and the square about the circle through its corners.
      const area = areaOfPath(plate.loop);
      expect(area).toBeGreaterThan((Math.PI * want.IC ** 2) / 4);
      expect(area).toBeLessThan((want.IC / Math.sin((want.EPSR / 2) * (Math.PI / 180))) ** 2);
    }
  });
  it.each(['CNMG 130408', 'XNMG 120408', 'CNMG 12', 'CZMG 120408', 'CNMG 1204', 'LNMG 120408', 'DCLNR', ''])('%s is no insert that could be made', (text) => {
    expect(valuesOf(text)).toHaveProperty('failed');
  });
});

describe('designations of holders and bars, field by field (ISO 5608, ISO 6261)', () => {
  const HOLDERS = ['D', 'J', 'L', 'N', 'S', 'T', 'V', 'R'].flatMap((style) =>
    (['R', 'L'] as const).flatMap((hand) =>
      [
        ['1616', 'H', 16, 100, 20, '09'],
        ['2020', 'K', 20, 125, 25, '12'],
        ['2525', 'M', 25, 150, 32, '12'],
        ['3232', 'P', 32, 170, 40, '16'],
      ].map(([shank, long, size, lf, wf, edge]) => ({ text: `DC${style}N${hand} ${shank}${long}${edge}`, hand, want: { H: size, B: size, LF: lf, WF: wf } })),
    ),
  );
  const KAPR: Readonly<Record<string, number>> = { D: 45, J: 93, L: 95, N: 63, S: 45, T: 60, V: 72.5, R: 75 };
  it(`${HOLDERS.length} holders have their shank, length, width, hand and entering angle`, () => {
    for (const { text, hand, want } of HOLDERS) {
      const found = valuesOf(text);
      expect([text, found.kind, found.hand]).toEqual([text, 'turning holder', hand === 'R' ? 'right' : 'left']);
      expect([text, found.values]).toMatchObject([text, { ...want, KAPR: KAPR[text[2]] }]);
    }
  });
  it.each([
    ['A12K-SCLCR 06', { DCON: 12, LF: 125, WF: 9, KAPR: 95, IC: 6.35 }],
    ['S16R-SDUCL 07', { DCON: 16, LF: 200, WF: 11, KAPR: 93, IC: 6.35 }],
    ['A25T-PCLNR 12', { DCON: 25, LF: 300, WF: 17, KAPR: 95, IC: 12.7 }],
    ['A32T-DWLNR 08', { DCON: 32, LF: 300, WF: 22, KAPR: 95, IC: 12.7 }],
  ])('%s', (text, want) => expect(valuesOf(text)).toMatchObject({ kind: 'boring bar', values: want }));
  it.each([
    ['F', 90],
    ['K', 75],
    ['U', 93],
    ['Y', 85],
  ])('style %s is for facing: its edge of %s degrees looks ahead', (style, kapr) => {
    const { values, shape } = valuesOf(`PC${style}NR 2525M12`);
    expect(values).toMatchObject({ KAPR: kapr, LF: 150, WF: 32 });
    // Its body stands beside the corner nowhere, and before it only behind an edge that leads.
    const [body] = (shape as PlacedShape).bodies;
    if (body.solid.kind !== 'plate') throw new Error('a holder is cut out of a plate');
    const [, , front, wide] = boxOfPath(body.solid.loop);
    if (kapr >= 90) expect(front).toBeLessThan(150);
    expect(wide).toBeLessThan(32);
  });
});

describe('words of the trade, each with what it has to say', () => {
  it.each<readonly [string, string, Partial<Record<ValueName, number>>]>([
    ['drill 1/4', 'drill', { DC: 6.35 }],
    ['drill #7', 'drill', { DC: 5.1054 }],
    ['1/2" drill', 'drill', { DC: 12.7 }],
    ['reamer 10H7', 'reamer', { DC: 10 }],
    ['10 H7 reamer', 'reamer', { DC: 10 }],
    ['M8 tap', 'tap', { TD: 8, TP: 1.25, PHD: 6.75 }],
    ['M8x1 tap', 'tap', { TP: 1, PHD: 7 }],
    ['1/4-20 UNC tap', 'tap', { TD: 6.35, TP: 1.27 }],
    ['#10-32 tap', 'tap', { TD: 4.826, TP: 0.79375 }],
    ['3/8 UNF tap', 'tap', { TD: 9.525, TP: 25.4 / 24 }],
    ['G1/4 tap', 'tap', { TD: 13.157, TP: 25.4 / 19 }],
    ['NPT 1/8 tap', 'tap', { TD: 10.287, TP: 25.4 / 27 }],
    ['tap M6 left', 'tap', { TD: 6 }],
    ['collet 32 d10', 'collet', { DCONWS: 10 }],
    ['ER25 collet 6', 'collet', { DCONWS: 6 }],
    ['16ER AG60', 'threading insert', { IC: 9.525, EPSR: 60, TP: 0.5 }],
    ['22IR 8 W', 'threading insert', { IC: 12.7, EPSR: 55, TP: 3.175 }],
    ['SER 2525 M16', 'threading holder', { H: 25, LF: 150, KAPR: 60 }],
    ['SIR 0020 P16', 'threading holder', { DCON: 20, LF: 170 }],
    ['grooving bar 20 x 3', 'grooving bar', { DCON: 20, CW: 3, DMIN: 24.5 }],
    ['solid boring bar 6 dmin 5', 'solid bar', { DCON: 6, DMIN: 5, WF: 2.5 }],
    ['face mill 50', 'face mill', { DC: 50, DCONMS: 22, KAPR: 90 }],
    ['face mill 63 45°', 'face mill', { DCX: 63 + 2 * 7.56 }],
    ['dovetail cutter 20 60°', 'dovetail mill', { TAPER: 30 }],
    ['tapered end mill 4 3°', 'tapered mill', { TAPER: 3, DC: 4 }],
    ['step drill 6.8 x 11', 'step drill', { DC: 6.8, DC2: 11 }],
    ['thread mill M10', 'thread mill', { DC: 7.5, TP: 1.5 }],
    ['arbor 22', 'arbor', { DCONWS: 22 }],
    ['arbor 25 / 22', 'arbor', { DCON: 25, DCONWS: 22 }],
    ['CNMG 120408-PM 4325', 'insert', { IC: 12.7, RE: 0.8 }],
    ['APKT 1604PDR r0.8 w 9.5', 'insert', { L: 16, W1: 9.5, EPSR: 85 }],
    ['SPKN 1203EDR bs 1.4', 'insert', { IC: 12.7, RE: 0, BS: 1.4, EPSR: 90 }],
    ['TPKN 1603 PDL wiper 1.2 r0.2', 'insert', { IC: 9.525, RE: 0.2, BS: 1.2 }],
    ['CNMG 432', 'insert', { IC: 12.7, RE: 0.79375 }],
  ])('%s', (text, kind, want) => {
    const found = valuesOf(text);
    expect([text, found.kind]).toEqual([text, kind]);
    for (const [name, value] of Object.entries(want)) expect([text, name, found.values?.[name as ValueName]]).toEqual([text, name, expect.closeTo(value, 3)]);
  });
  it.each([
    ['CNMG 130408', /“13” at character 6 is no size/],
    ['CZMG 120408', /“Z” at character 2 is no clearance/],
    ['end mill 12 3', /at most|no further|room|shank/],
  ])('%s: said at its word', (text, why) => expect(JSON.stringify(valuesOf(text))).toMatch(why));
  it('a word that says nothing is told with its place', () =>
    expect(readWords('drill 8.5 wobbly').unknown).toEqual([{ text: 'wobbly', at: 10, why: 'nothing is known by this word' }]));
  it('angles are said by their names, below 0 too, and the tool is made so', () => {
    const values = (text: string) => {
      const read = readWords(text);
      expect(read.unknown).toEqual([]);
      return read.spec?.values;
    };
    expect(values('DCLNR 2525 M12 rake -5 inclination -4.5°')).toMatchObject({ GAMO: -5, LAMS: -4.5 });
    expect(values('dclnr 2525 m12 gamo=−6 lams 0')).toMatchObject({ GAMO: -6, LAMS: 0 });
    expect(values('SCLCR 2525 M09 Spanwinkel +2, Neigungswinkel 0°')).toMatchObject({ GAMO: 2, LAMS: 0 });
    expect(values('solid bar 6 entering angle 93')).toMatchObject({ DCON: 6, KAPR: 93 });
    const { spec } = readWords('DCLNR 2525 M12 rake -5 inclination -4');
    const made = spec && makeComponent(spec);
    expect(made?.ok && made.part.assumed.map((a) => a.name)).not.toContain('GAMO');
    // A rake of 60 is no turning tool.
    const steep = readWords('DCLNR 2525 M12 rake -60').spec;
    expect(steep && makeComponent(steep).ok).toBe(false);
  });
  it.each(SPEC_KINDS)('%s is said by its own name', (kind) => expect(readWords(kind).spec?.kind).toBe(kind));
});
