import { done, failed, type Result } from '#core/issues';
import { SAME_SIZE } from '#core/math';

/** The standards of connections; `7/24` where BT and SK cannot be told apart. */
export const CONNECTION_STANDARDS = ['PSC', 'HSK-A', 'BT', 'SK', '7/24', 'VDI', 'ER', 'cylindrical', 'square', 'bolted face'] as const;
export type ConnectionStandard = (typeof CONNECTION_STANDARDS)[number];

/** A standard and a size: the standard's number, a diameter in mm, or height x width as text ("25x25"). */
export interface ConnectionSize {
  readonly standard: ConnectionStandard;
  readonly size: number | string;
  /** Of a round seat that closes on its shank, as a collet does: the smallest and the largest diameter that it clamps, mm. */
  readonly clamps?: readonly [number, number] | undefined;
}

const SQUARES = [8, 10, 12, 16, 20, 25, 32, 40].map((s) => `${s}x${s}`);
const SHANKS = [3, 4, 5, 6, 8, 10, 12, 14, 16, 18, 20, 25, 32, 40, 50, 60];

/** The usual sizes of each standard (domain tables: ISO 26623, 12164, 7388, 10889, 15488, square and cylindrical shanks). */
export const USUAL_SIZES: Record<ConnectionStandard, readonly (number | string)[]> = {
  PSC: [32, 40, 50, 63, 80, 100],
  'HSK-A': [32, 40, 50, 63, 80, 100, 125],
  BT: [30, 40, 50],
  SK: [30, 40, 50],
  '7/24': [30, 40, 50],
  VDI: [16, 20, 25, 30, 40, 50, 60],
  ER: [11, 16, 20, 25, 32, 40],
  cylindrical: SHANKS,
  square: SQUARES,
  'bolted face': [],
};

/** ISO 15488: the range of shank diameters in mm that a collet of each size clamps. */
export const ER_RANGES: Readonly<Record<number, readonly [number, number]>> = {
  11: [0.5, 7],
  16: [0.5, 10],
  20: [1, 13],
  25: [1, 16],
  32: [2, 20],
  40: [3, 26],
};

/**
 * The diameters in mm that one collet of ISO 15488 clamps, by the size of its cone and its bore: it closes by 1 mm, one of size 11 or of a bore up to 1 mm by
 * half of that.
 */
export function colletClamps(size: number, bore: number): readonly [number, number] {
  const closes = size <= 11 || bore <= 1 ? 0.5 : 1;
  return [Math.max(ER_RANGES[size]?.[0] ?? 0, bore - closes), bore];
}

/** Standards that seat on a face: there is no stick-out to choose. */
export const SEATS_ON_FACE: readonly ConnectionStandard[] = ['PSC', 'HSK-A', 'BT', 'SK', '7/24', 'VDI', 'bolted face'];

/** A connection as people write it: "HSK-A 63", "square 25x25", "cylindrical 20", "cylindrical 9 to 10" of what clamps a range. */
export const sayConnection = ({ standard, size, clamps }: ConnectionSize): string =>
  clamps ? `${standard} ${clamps[0]} to ${clamps[1]}` : size === '' ? standard : `${standard} ${size}`;

const isTaper724 = (s: ConnectionStandard) => s === 'BT' || s === 'SK' || s === '7/24';

/** What would go into a seat, in words. */
export function sayWhatFits(seat: ConnectionSize): string {
  if (seat.standard === 'ER') {
    const range = ER_RANGES[Number(seat.size)];
    return range ? `a cylindrical shank of ${range[0]} to ${range[1]} mm (in a collet), or an ${sayConnection(seat)} mount` : `an ${sayConnection(seat)} mount`;
  }
  if (isTaper724(seat.standard)) return `a ${seat.standard === '7/24' ? 'BT, SK or 7/24' : `${seat.standard} or 7/24`} mount of size ${seat.size}`;
  return seat.clamps ? `a ${seat.standard} shank of ${seat.clamps[0]} to ${seat.clamps[1]} mm` : `a ${sayConnection(seat)} mount`;
}

/**
 * Whether a mount goes into a seat: same standard and size, or a size that the seat clamps; a cylindrical shank also into a collet seat that clamps its
 * diameter; an undecided 7/24 taper into BT and SK of its size. Refusals say what would fit.
 */
export function checkFit(mount: ConnectionSize, seat: ConnectionSize): Result<true> {
  const fits = sayWhatFits(seat);
  const range = seat.standard === 'ER' && mount.standard === 'cylindrical' ? ER_RANGES[Number(seat.size)] : seat.standard === mount.standard && seat.clamps;
  if (range) {
    const d = Number(mount.size);
    if (d >= range[0] - SAME_SIZE && d <= range[1] + SAME_SIZE) return done(true);
    return failed('join.size', { mount: sayConnection(mount), seat: sayConnection(seat), fits });
  }
  const tapers = isTaper724(mount.standard) && isTaper724(seat.standard) && (mount.standard === '7/24' || seat.standard === '7/24');
  if (mount.standard !== seat.standard && !tapers) return failed('join.standard', { mount: sayConnection(mount), seat: sayConnection(seat), fits });
  if (!isSameSize(mount.size, seat.size)) return failed('join.size', { mount: sayConnection(mount), seat: sayConnection(seat), fits });
  return done(true);
}

function isSameSize(a: number | string, b: number | string): boolean {
  const numbers = (s: number | string) => String(s).split('x').map(Number);
  const [x, y] = [numbers(a), numbers(b)];
  if ([...x, ...y].some(Number.isNaN)) return String(a) === String(b);
  return x.length === y.length && x.every((v, i) => Math.abs(v - y[i]) <= SAME_SIZE);
}

/** Heights of the usual square shanks, mm. */
export const SQUARE_SHANKS: readonly number[] = SQUARES.map((s) => Number.parseFloat(s));

/** The usual shank diameter that a measured one stands for (mm, within 0.03); none for others. */
export const standardDiameter = (diameter: number): number | undefined => USUAL_SIZES.cylindrical.map(Number).find((d) => Math.abs(d - diameter) <= 0.03);

// Shanks by the inch, as tools for it have them: 3/8 to 1 1/2 in, round ones from 1/4 in.
const INCH_SHANKS = [9.525, 12.7, 15.875, 19.05, 25.4, 31.75, 38.1];

/** Heights of usual square shanks, metric and by the inch, mm. */
export const SQUARE_HEIGHTS: readonly number[] = [...SQUARE_SHANKS, ...INCH_SHANKS].sort((a, b) => a - b);

/** The usual diameter of a shank, metric or by the inch, that a measured one stands for (mm, within 0.03); none for others. */
export const shankDiameter = (diameter: number): number | undefined =>
  standardDiameter(diameter) ?? [6.35, ...INCH_SHANKS].find((d) => Math.abs(d - diameter) <= 0.03);

/** Half angles that differ by less are one taper: vendors round an angle to a tenth of a degree. */
export const SAME_TAPER_RAD = (0.12 * Math.PI) / 180;
