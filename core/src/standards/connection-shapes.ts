import type { ConnectionSize } from './connections.ts';

/** The outside of a machine-side connection as a half section. */
export interface ConnectionShape {
  /** Corners in [z, r], mm, from the axis at the machine's end to the work side of the flange; z 0 is the gauge plane, z runs towards the work. */
  readonly outside: readonly (readonly [number, number])[];
  /** What of the standard is not in it, in words. */
  readonly without: string;
}

// Taper's large diameter, its length and the flange's width with the gripper groove, by flange diameter: ISO 12164-1, form A.
const HSK_A: Readonly<Record<number, readonly [number, number, number]>> = {
  32: [24.007, 16, 20],
  40: [30.007, 20, 20],
  50: [38.009, 25, 26],
  63: [48.01, 32, 26],
  80: [60.012, 40, 26],
  100: [75.013, 50, 29],
  125: [95.016, 63, 29],
};
// Gauge diameter, taper length, flange diameter, and how far the flange reaches from the gauge plane to the work: ISO 7388-1 form A, and 7388-2 form J.
const SK: Readonly<Record<number, readonly [number, number, number, number]>> = {
  30: [31.75, 47.8, 50, 19.1],
  40: [44.45, 68.4, 63.55, 19.1],
  50: [69.85, 101.75, 97.5, 19.1],
};
const BT: typeof SK = {
  30: [31.75, 48.4, 46, 22],
  40: [44.45, 65.4, 63, 27],
  50: [69.85, 101.8, 100, 38],
};
// From the gauge plane to the flange, of a 7/24 taper.
const SK_GAP = 3.2;
const BT_GAP: Readonly<Record<number, number>> = { 30: 2, 40: 2, 50: 3 };
// Shank length by shank diameter: ISO 10889-1 (DIN 69880).
const VDI: Readonly<Record<number, number>> = { 16: 32, 20: 40, 25: 48, 30: 55, 40: 63, 50: 78, 60: 94 };
const VDI_CHAMFER = 2;

// Polygon's diameter and length, by flange diameter: ISO 26623-1.
const PSC: Readonly<Record<number, readonly [number, number]>> = { 32: [22, 19], 40: [28, 24], 50: [35, 30], 63: [44, 38], 80: [55, 48], 100: [72, 60] };
const PSC_TAPER = 1 / 20;

const HSK_TAPER = 1 / 9.98;
const TAPER_7_24 = 7 / 24;

/** The shape of a connection by its standard; undefined for those that are not round or have no shape of their own here. `length`: mm of a plain shank. */
export function connectionShape({ standard, size }: ConnectionSize, length = 0): ConnectionShape | undefined {
  const n = Number(size);
  switch (standard) {
    case 'HSK-A': {
      const found = HSK_A[n];
      if (!found) return undefined;
      const [large, long, flange] = found;
      const small = large - long * HSK_TAPER;
      return {
        outside: [
          [-long, 0],
          [-long, small / 2],
          [0, large / 2],
          [0, n / 2],
          [flange, n / 2],
        ],
        without: 'the hollow inside the taper, drive slots and the gripper groove',
      };
    }
    case 'SK':
    case 'BT': {
      const found = (standard === 'SK' ? SK : BT)[n];
      if (!found) return undefined;
      const [gauge, long, flange, reach] = found;
      const gap = standard === 'SK' ? SK_GAP : BT_GAP[n];
      return {
        outside: [
          [-long, 0],
          [-long, (gauge - long * TAPER_7_24) / 2],
          [0, gauge / 2],
          [gap, gauge / 2],
          [gap, flange / 2],
          [reach, flange / 2],
        ],
        without: 'drive slots and the gripper groove',
      };
    }
    case 'PSC': {
      const found = PSC[n];
      if (!found) return undefined;
      const [large, long] = found;
      return {
        outside: [
          [-long, 0],
          [-long, (large - long * PSC_TAPER) / 2],
          [0, large / 2],
        ],
        without: 'the three lobes of the polygon: it is drawn round, by its diameter in the standard',
      };
    }
    case 'VDI': {
      const long = VDI[n];
      if (!long) return undefined;
      return {
        outside: [
          [-long, 0],
          [-long, n / 2 - VDI_CHAMFER],
          [-long + VDI_CHAMFER, n / 2],
          [0, n / 2],
        ],
        without: 'the teeth of the shank',
      };
    }
    case 'cylindrical':
      return length > 0 && n > 0
        ? {
            outside: [
              [-length, 0],
              [-length, n / 2],
              [0, n / 2],
            ],
            without: '',
          }
        : undefined;
    default:
      return undefined;
  }
}

// Large diameter and length of the collet: ISO 15488.
const ER: Readonly<Record<number, readonly [number, number]>> = { 11: [11.5, 18], 16: [17, 27.5], 20: [21, 31.5], 25: [26, 34], 32: [33, 40], 40: [41, 46] };
const ER_HALF_ANGLE = (8 * Math.PI) / 180;

/** The cone that a collet of a size sits in, as its mouth's diameter, depth and diameter at the ground, mm; ISO 15488. */
export function colletSeat(size: number): { readonly mouth: number; readonly depth: number; readonly ground: number } | undefined {
  const found = ER[size];
  return found && { mouth: found[0], depth: found[1], ground: found[0] - 2 * found[1] * Math.tan(ER_HALF_ANGLE) };
}
