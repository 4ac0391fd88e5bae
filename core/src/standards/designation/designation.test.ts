import { describe, expect, it } from '@jest/globals';
import { cornerDimension, INSCRIBED_CIRCLES, readDesignation } from '../index.ts';

const read = (text: string) => {
  const r = readDesignation(text);
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value;
};

describe('inserts (ISO 1832)', () => {
  it.each([
    ['CNMG 120408', { includedAngle: 80, clearance: 0, inscribedCircle: 12.7, thickness: 4.76, noseRadius: 0.8 }],
    ['dcmt 11t304', { includedAngle: 55, clearance: 7, inscribedCircle: 9.525, thickness: 3.97, noseRadius: 0.4 }],
    ['CCMT 060204', { includedAngle: 80, clearance: 7, inscribedCircle: 6.35, thickness: 2.38, noseRadius: 0.4 }],
    ['VBMT160404', { includedAngle: 35, clearance: 5, inscribedCircle: 9.525, thickness: 4.76 }],
    ['TNMG 160408', { includedAngle: 60, inscribedCircle: 9.525, edgeLength: 16.498 }],
    // 12.7 sqrt 3 is 21.997, 6.35 sqrt 3 is 10.998.
    ['TNMG 220412', { inscribedCircle: 12.7, noseRadius: 1.2 }],
    ['TCMT 110204', { inscribedCircle: 6.35, clearance: 7 }],
    ['WNMG 080412', { includedAngle: 80, inscribedCircle: 12.7, noseRadius: 1.2 }],
    ['SNMG 120412', { includedAngle: 90, inscribedCircle: 12.7, edgeLength: 12.7 }],
    ['RCMT 1204M0', { inscribedCircle: 12, noseRadius: 6 }],
  ])('%s', (code, want) => expect(read(code)).toMatchObject({ standard: 'ISO 1832', ...want }));
  it('edge lengths follow from the circle (ISO 1832: l = IC / sin of the angle)', () => {
    for (const ic of INSCRIBED_CIRCLES.slice(3, 8)) {
      const edge = Math.floor(ic / Math.sin((80 * Math.PI) / 180));
      expect(read(`CNMG${String(edge).padStart(2, '0')}0408`).inscribedCircle).toBe(ic);
    }
  });
});

describe('holders (ISO 5608) and bars (ISO 6261)', () => {
  it.each([
    ['DCLNL 2525M12', { hand: 'left', enteringAngle: 95, shankHeight: 25, shankWidth: 25, toolLength: 150, inscribedCircle: 12.7, functionalWidth: 32 }],
    ['SVJBR1616H11', { hand: 'right', enteringAngle: 93, includedAngle: 35, toolLength: 100, inscribedCircle: 6.35, functionalWidth: 20 }],
    ['PSBNR 2020K12', { enteringAngle: 75, facing: false, toolLength: 125 }],
  ])('%s', (code, want) => expect(read(code)).toMatchObject({ standard: 'ISO 5608', ...want }));
  it('A16R-SCLCR 06', () =>
    expect(read('A16R-SCLCR 06')).toMatchObject({
      standard: 'ISO 6261',
      shankDiameter: 16,
      toolLength: 200,
      enteringAngle: 95,
      hand: 'right',
      inscribedCircle: 6.35,
      functionalWidth: 11,
    }));
  it.each(['', 'hub holder', 'CNMG', '12'])('"%s" is refused with what would be right', (text) =>
    expect(readDesignation(text)).toMatchObject({ ok: false, issues: [{ code: 'designation.unknown' }] }),
  );
});

describe('the inch series', () => {
  it.each([
    ['CNMG 432', 'ANSI B212.4', { inscribedCircle: 12.7, thickness: 4.7625, noseRadius: 0.79375, includedAngle: 80, clearance: 0 }],
    ['TNMG 332', 'ANSI B212.4', { inscribedCircle: 9.525, thickness: 4.7625, noseRadius: 0.79375 }],
    ['CCMT 32.51', 'ANSI B212.4', { inscribedCircle: 9.525, thickness: 3.96875, noseRadius: 0.396875, clearance: 7 }],
    ['CCMT 21.51', 'ANSI B212.4', { inscribedCircle: 6.35, thickness: 2.38125, noseRadius: 0.396875 }],
    ['TPG 322', 'ANSI B212.4', { inscribedCircle: 9.525, thickness: 3.175, noseRadius: 0.79375, clearance: 11, fixing: 'N' }],
    ['DNMG-442', 'ANSI B212.4', { inscribedCircle: 12.7, thickness: 6.35, noseRadius: 0.79375, includedAngle: 55 }],
    ['MCLNR-164D', 'ANSI B212.5', { shankHeight: 25.4, shankWidth: 25.4, toolLength: 152.4, functionalWidth: 31.75, inscribedCircle: 12.7, hand: 'right' }],
    ['DDJNL 163C', 'ANSI B212.5', { shankWidth: 25.4, toolLength: 127, inscribedCircle: 9.525, enteringAngle: 93, hand: 'left' }],
    ['MTGNR 853D', 'ANSI B212.5', { shankWidth: 25.4, shankHeight: 31.75, inscribedCircle: 9.525 }],
    ['A16T-MCLNR4', 'ISO 6261', { shankDiameter: 25.4, toolLength: 304.8, inscribedCircle: 12.7, hand: 'right', coolant: true }],
  ])('%s', (code, standard, want) => expect(read(code)).toMatchObject({ standard, ...want }));
});

describe('every field has its characters and what they mean', () => {
  it('CNMG 120408', () =>
    expect(read('CNMG 120408-PM').fields.map((f) => [f.text, f.from, f.to, f.field])).toEqual([
      ['C', 1, 1, 'shape'],
      ['N', 2, 2, 'clearance'],
      ['M', 3, 3, 'tolerance'],
      ['G', 4, 4, 'fixing'],
      ['12', 6, 7, 'size'],
      ['04', 8, 9, 'thickness'],
      ['08', 10, 11, 'corner'],
      ['PM', 13, 14, 'addition'],
    ]));
  it('wipers, edges and direction', () => {
    const d = read('APKT 1604PDER');
    expect(d).toMatchObject({ wiperAngle: 90, hand: 'right', edgeLength: 16 });
    expect(d.fields.map((f) => f.field)).toEqual([
      'shape',
      'clearance',
      'tolerance',
      'fixing',
      'size',
      'thickness',
      'wiper',
      'wiper clearance',
      'edges',
      'direction',
    ]);
  });
  it('together they are the whole code', () => {
    for (const code of ['DCLNR2525M12', 'A16R-SCLCR09', 'SPMT120408', 'RCMT1204M0', 'TNMG332', 'MCLNR164D', 'LNMX301940', 'KNUX160405R'])
      expect(
        read(code)
          .fields.map((f) => f.text)
          .join(''),
      ).toBe(code.replace(/-/g, ''));
  });
  it.each([
    ['ZNMG 120408', 'shape', 1, 1],
    ['CZMG 120408', 'clearance', 2, 2],
    ['CNXG 120408', 'tolerance', 3, 3],
    ['CNMY 120408', 'fixing', 4, 4],
    ['CNMG 130408', 'size', 6, 7],
    ['CNMG 129908', 'thickness', 8, 9],
    ['CNMG 1204X8', 'corner', 10, 10],
    ['CNMG 1204', 'corner', 10, 10],
    ['CNMG 438', undefined, 0, 0],
    ['CNMG 492', 'thickness', 7, 7],
    ['QCLNR 2525M12', 'clamping', 1, 1],
    ['DCINR 2525M12', 'style', 3, 3],
    ['DCLNX 2525M12', 'hand', 5, 5],
    ['DCLNR 2525O12', 'length', 11, 11],
    ['DCLNR 2525M13', 'insert size', 12, 13],
    ['A16R-SCLCX 09', 'hand', 10, 10],
    ['K16R-SCLCR 09', 'bar', 1, 1],
  ])('%s is wrong at its %s', (code, field, from, to) => {
    const r = readDesignation(code);
    if (field === undefined) return expect(r.ok).toBe(true);
    expect(r).toMatchObject({ ok: false, issues: [{ code: 'designation.wrong', values: { field, from } }] });
    if (!r.ok) expect(Number(r.issues[0].values.to)).toBeGreaterThanOrEqual(to);
  });
});

describe('the corner dimension m, against the values of the standards’ tables', () => {
  // ISO 3364 and 6987, mm, for the radii of inches (0.397, 0.794, 1.191).
  it.each([
    ['C', 12.7, 0.794, 3.088],
    ['C', 9.525, 0.397, 2.426],
    ['D', 9.525, 0.397, 5.089],
    ['D', 12.7, 0.794, 6.477],
    ['S', 12.7, 0.794, 2.301],
    ['S', 9.525, 0.794, 1.644],
    ['T', 9.525, 0.794, 13.494],
    ['T', 9.525, 0.397, 13.891],
    ['T', 12.7, 0.794, 18.256],
    ['V', 9.525, 0.794, 9.229],
  ])('%s of %s mm, radius %s: %s', (shape, ic, re, m) => expect(cornerDimension(shape, ic, re)).toBeCloseTo(m, 2));
});
