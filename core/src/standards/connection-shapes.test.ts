import { describe, expect, it } from '@jest/globals';
import { colletSeat, connectionShape, USUAL_SIZES } from './index.ts';

/** Radius of a half section at z, on the outermost of its lines. */
const diameterAt = (outside: readonly (readonly [number, number])[], z: number): number =>
  2 *
  Math.max(
    ...outside.slice(1).flatMap(([z1, r1], i) => {
      const [z0, r0] = outside[i];
      return (z0 - z) * (z1 - z) <= 0 && z0 !== z1 ? [r0 + ((r1 - r0) * (z - z0)) / (z1 - z0)] : [];
    }),
  );
const shape = (standard: 'HSK-A' | 'SK' | 'BT' | 'PSC' | 'VDI' | 'cylindrical', size: number, length?: number) => {
  const found = connectionShape({ standard, size }, length);
  if (!found) throw new Error(`${standard} ${size}`);
  return found.outside;
};

describe('connections by their standards', () => {
  // Flange, taper's large diameter and length: the nominal values of ISO 12164-1.
  it.each([
    [32, 24, 16],
    [40, 30, 20],
    [50, 38, 25],
    [63, 48, 32],
    [80, 60, 40],
    [100, 75, 50],
    [125, 95, 63],
  ])('HSK-A %d: taper %d by %d, 1 : 9.98', (size, large, long) => {
    const outside = shape('HSK-A', size);
    expect(outside[0]).toEqual([-long, 0]);
    expect(Math.abs(diameterAt(outside, -1e-9) - large)).toBeLessThan(0.02);
    expect(diameterAt(outside, -1e-9) - diameterAt(outside, -long + 1e-9)).toBeCloseTo(long / 9.98, 6);
    expect(diameterAt(outside, 5)).toBeCloseTo(size, 9);
  });
  // Gauge diameter, taper length, flange: ISO 7388-1 and -2.
  it.each([
    ['SK', 30, 31.75, 47.8, 50],
    ['SK', 40, 44.45, 68.4, 63.55],
    ['SK', 50, 69.85, 101.75, 97.5],
    ['BT', 30, 31.75, 48.4, 46],
    ['BT', 40, 44.45, 65.4, 63],
    ['BT', 50, 69.85, 101.8, 100],
  ] as const)('%s %d: %d at the gauge line, 7/24 over %d, flange %d', (standard, size, gauge, long, flange) => {
    const outside = shape(standard, size);
    expect(outside[0][0]).toBe(-long);
    expect(diameterAt(outside, -1e-9)).toBeCloseTo(gauge, 6);
    // 24 mm along the axis are 7 mm of diameter.
    expect(diameterAt(outside, -1e-9) - diameterAt(outside, -24)).toBeCloseTo(7, 6);
    expect(2 * Math.max(...outside.map(([, r]) => r))).toBeCloseTo(flange, 9);
  });
  it.each([
    [32, 22, 19],
    [40, 28, 24],
    [50, 35, 30],
    [63, 44, 38],
    [80, 55, 48],
    [100, 72, 60],
  ])('PSC %d: a cone of %d by %d, 1 : 20', (size, large, long) => {
    const outside = shape('PSC', size);
    expect(outside[0]).toEqual([-long, 0]);
    expect(diameterAt(outside, -1e-9)).toBeCloseTo(large, 6);
    expect(diameterAt(outside, -long / 2 - 5) - diameterAt(outside, -long / 2 + 5)).toBeCloseTo(-0.5, 6);
    expect(connectionShape({ standard: 'PSC', size })?.without).toContain('lobes');
    expect(connectionShape({ standard: 'PSC', size: size + 1 })).toBeUndefined();
  });
  it.each([
    [16, 32],
    [20, 40],
    [25, 48],
    [30, 55],
    [40, 63],
    [50, 78],
    [60, 94],
  ])('VDI %d: a shank of %d mm', (size, long) => {
    expect(shape('VDI', size)[0][0]).toBe(-long);
    expect(diameterAt(shape('VDI', size), -5)).toBe(size);
  });
  it('run along the axis from the machine to the work, never back; each says what it leaves out', () => {
    for (const standard of ['HSK-A', 'SK', 'BT', 'VDI'] as const)
      for (const size of USUAL_SIZES[standard]) {
        const found = connectionShape({ standard, size });
        expect(found?.outside.every(([z], i, all) => i === 0 || z >= all[i - 1][0])).toBe(true);
        expect(found?.without).not.toBe('');
      }
    expect(shape('cylindrical', 20, 50)).toEqual([
      [-50, 0],
      [-50, 10],
      [0, 10],
    ]);
  });
  it('that are not round, or not of the standard, have none', () => {
    expect(connectionShape({ standard: 'square', size: '25x25' })).toBeUndefined();
    expect(connectionShape({ standard: 'HSK-A', size: 64 })).toBeUndefined();
    expect(connectionShape({ standard: 'cylindrical', size: 20 }, 0)).toBeUndefined();
  });
  it('collets sit in cones of 8 degrees a side (ISO 15488)', () => {
    for (const [size, mouth, depth] of [
      [11, 11.5, 18],
      [16, 17, 27.5],
      [20, 21, 31.5],
      [25, 26, 34],
      [32, 33, 40],
      [40, 41, 46],
    ]) {
      const seat = colletSeat(size);
      expect(seat).toMatchObject({ mouth, depth });
      expect((Math.atan2((mouth - (seat?.ground ?? 0)) / 2, depth) * 180) / Math.PI).toBeCloseTo(8, 9);
    }
    expect(colletSeat(33)).toBeUndefined();
  });
});
