import { describe, expect, it } from '@jest/globals';
import { INSCRIBED_CIRCLES, readDesignation } from './index.ts';

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
  it.each(['', 'hub holder', 'CNMG', 'ZNMG120408', '12'])('"%s" is refused with what would be right', (text) =>
    expect(readDesignation(text)).toMatchObject({ ok: false, issues: [{ code: 'designation.unknown' }] }),
  );
});
