import { describe, expect, it } from '@jest/globals';
import { areaOfPath, faultsOfShape, type FlatShape } from '#core/outline';
import { makeComponent, readWords, type ValueName } from './index.ts';

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
  it('facing styles are refused in words, not drawn wrongly', () => {
    for (const style of ['F', 'K', 'U', 'W', 'Y']) expect(JSON.stringify(valuesOf(`PC${style}NR 2525M12`))).toContain('facing');
  });
});
