import { describe, expect, it } from '@jest/globals';
import { type CuttingTool, feedRate, MATERIAL_GROUPS, spindleSpeed, surfaceSpeedOf, toolUseSchema, usualUse } from '#core/cutting';

const tool = (type: string, values: CuttingTool['values'] = {}, more: Partial<CuttingTool> = {}): CuttingTool => ({
  componentKind: 'cutter',
  type,
  values,
  noseRadius: 0,
  hand: 'right',
  ...more,
});

describe('speeds', () => {
  // 100 m/min at 31.83 mm is 1000 turns: a circumference of 100 mm.
  it.each([
    [100, 31.830_988_6, 1000],
    [100, 10, 3183.098_86],
    [25, 8.5, 936.2],
  ])('%d m/min on %d mm is %d 1/min, and back', (v, d, n) => {
    expect(spindleSpeed(v, d)).toBeCloseTo(n, 1);
    expect(surfaceSpeedOf(spindleSpeed(v, d) ?? 0, d)).toBeCloseTo(v, 9);
  });
  it('has none on the axis', () => expect(spindleSpeed(100, 0)).toBeUndefined());
  it('of a tap goes forward by its pitch with each turn', () => {
    const { P } = usualUse(tool('tap', { TD: 8, TP: 1.25 }))?.groups ?? {};
    expect(P?.feed).toBe(1.25);
    expect(feedRate(P?.feed ?? 0, 400, 1)).toBe(500);
  });
  it('of a milling cutter counts its teeth', () => expect(feedRate(0.05, 3000, 4)).toBeCloseTo(600, 9));
});

const CUTTING = [
  tool('drill', { DC: 8.5 }),
  tool('reamer', { DC: 10 }),
  tool('tap', { TD: 8, TP: 1.25 }),
  tool('end mill', { DC: 12, NOF: 4 }),
  tool('face mill', { DC: 63, DCX: 75, NOF: 5 }),
  tool('slot cutter', { DC: 63, CW: 2 }),
  tool('turning holder', { IC: 12.7 }, { noseRadius: 0.8 }),
  tool('boring bar', { IC: 6.35 }, { noseRadius: 0.4 }),
  tool('solid bar', {}, { noseRadius: 0.1 }),
  tool('grooving holder', { CW: 3 }, { noseRadius: 0.2 }),
];

describe('what is usual', () => {
  it('has speed and feed for steel of all that cuts, and nothing for what holds', () => {
    for (const t of CUTTING)
      expect([t.type, usualUse(t)?.groups.P]).toEqual([t.type, expect.objectContaining({ surfaceSpeed: expect.any(Number), feed: expect.any(Number) })]);
    for (const held of ['collet', 'sleeve', 'arbor']) expect(usualUse(tool(held))).toBeNull();
    expect(usualUse({ ...tool(''), type: null, componentKind: 'station block' })).toBeNull();
  });
  it('is slower in high-speed steel than in carbide, and never in hardened steel', () => {
    for (const t of CUTTING) {
      const [fast, slow] = [usualUse(t, 'HC'), usualUse(t, 'HSS')];
      for (const g of MATERIAL_GROUPS)
        expect([t.type, g, (slow?.groups[g]?.surfaceSpeed ?? 0) < (fast?.groups[g]?.surfaceSpeed ?? 1)]).toEqual([t.type, g, true]);
      expect(slow?.groups.H).toBeNull();
    }
  });
  it('does not cut iron with diamond, nor aluminium with ceramics', () => {
    const [turning] = CUTTING.filter((t) => t.type === 'turning holder');
    expect([usualUse(turning, 'DP')?.groups.P, usualUse(turning, 'DP')?.groups.K, usualUse(turning, 'CA')?.groups.N]).toEqual([null, null, null]);
    expect(usualUse(turning, 'DP')?.groups.N?.surfaceSpeed).toBeGreaterThan(500);
    expect(usualUse(turning, 'CA')?.coolant).toBe('dry');
  });
  it.each([0.1, 0.2, 0.4, 0.8, 1.2, 1.6, 2.4])('turns with a feed below half of a nose radius of %d, and no less deep than that', (noseRadius) => {
    const { P } = usualUse(tool('insert', { IC: 12.7 }, { noseRadius }))?.groups ?? {};
    expect(P?.feed).toBeLessThanOrEqual(Math.max(0.05, noseRadius / 2));
    expect(P?.depth).toBeGreaterThanOrEqual(Math.min(noseRadius, 12.7 / 5));
  });
  it('turns about its own diameter only what spins', () => {
    expect(usualUse(tool('drill', { DC: 8.5 }))?.diameter).toBe(8.5);
    expect(usualUse(tool('face mill', { DC: 63, DCX: 75 }))?.diameter).toBe(75);
    expect(usualUse(tool('turning holder', { IC: 12.7 }))?.diameter).toBeUndefined();
  });
  it('runs with M3, of the left hand with M4', () => {
    expect([usualUse(tool('drill', { DC: 8 }))?.sense, usualUse(tool('turning holder', {}, { hand: 'left' }))?.sense]).toEqual(['M3', 'M4']);
  });
  it('has no feed of a thread whose pitch nobody knows', () => expect(usualUse(tool('threading insert'))?.groups.P).toEqual({ surfaceSpeed: 120 }));
});

describe('what is said', () => {
  it.each([{ coolant: 'water' }, { sense: 'M5' }, { groups: { Q: {} } }, { groups: { P: { surfaceSpeed: -1 } } }, { groups: { P: { feed: Number.NaN } } }])(
    '%j is refused',
    (bad) => expect(toolUseSchema.safeParse(bad).success).toBe(false),
  );
});
