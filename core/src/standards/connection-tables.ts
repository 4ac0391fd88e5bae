// Nominal sizes of connections by their number, mm; sources in each line.

/** ISO 12164: size (flange diameter), largest diameter of the taper 1:9.98. */
export const HSK_DIAMETERS: readonly (readonly [size: number, diameter: number])[] = [
  [32, 24],
  [40, 30],
  [50, 38],
  [63, 48],
  [80, 60],
  [100, 75],
  [125, 95],
];

/** ISO 7388: size, gauge diameter of the taper 7/24. */
export const STEEP_DIAMETERS: readonly (readonly [size: number, diameter: number])[] = [
  [30, 31.75],
  [40, 44.45],
  [50, 69.85],
];

/** ISO 7388-1 (SK) and 7388-2 (BT): size, flange diameter. */
export const STEEP_FLANGES: Readonly<Record<'SK' | 'BT', readonly (readonly [size: number, diameter: number])[]>> = {
  SK: [
    [30, 50],
    [40, 63.55],
    [50, 97.5],
  ],
  BT: [
    [30, 46],
    [40, 63],
    [50, 100],
  ],
};

/** ISO 15488: size, largest diameter of the collet. */
export const ER_DIAMETERS: readonly (readonly [size: number, diameter: number])[] = [
  [11, 11.5],
  [16, 17],
  [20, 21],
  [25, 26],
  [32, 33],
  [40, 41],
];

/** ISO 26623: size (flange diameter), diameter and length of the lobed taper 1:20. */
export const PSC_TAPERS: readonly (readonly [size: number, diameter: number, length: number])[] = [
  [32, 22, 19],
  [40, 28, 24],
  [50, 35, 30],
  [63, 44, 38],
  [80, 55, 48],
  [100, 72, 60],
];

/** Radians: half angles of the tapers 1:9.98 (ISO 12164), 7/24 (ISO 7388) and of ER collets (ISO 15488). */
export const HALF_ANGLES_RAD = { 'HSK-A': Math.atan(1 / (2 * 9.98)), '7/24': Math.atan(7 / 48), ER: (8 * Math.PI) / 180 } as const;

/** The entry of a table whose diameter is nearest. */
export const nearestSize = <T extends readonly [number, number, ...number[]]>(table: readonly T[], diameter: number): T =>
  table.reduce((a, b) => (Math.abs(a[1] - diameter) <= Math.abs(b[1] - diameter) ? a : b));
