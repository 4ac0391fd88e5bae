import { MM_PER_INCH } from '#core/units';

/** A thread as it was found in words: diameter and pitch in mm, and what it is called. */
export interface NamedThread {
  readonly name: string;
  readonly diameter: number;
  /** Absent where only the standard's usual one is meant and known elsewhere (metric coarse). */
  readonly pitch?: number;
  /** Flank angle, degrees. */
  readonly angle: 60 | 55;
  readonly length: number;
}

const round = (v: number): number => Math.round(v * 1e6) / 1e6;
const fraction = (text: string): number =>
  text
    .trim()
    .split(/\s+/)
    .reduce((sum, part) => {
      const [top, below] = part.split('/').map(Number);
      return sum + (below === undefined ? top : top / below);
    }, 0);

// Threads per inch of the unified series by diameter. ASME B1.1: coarse, fine.
const UNIFIED: Readonly<Record<string, readonly [coarse: number, fine: number]>> = {
  '#4': [40, 48],
  '#5': [40, 44],
  '#6': [32, 40],
  '#8': [32, 36],
  '#10': [24, 32],
  '#12': [24, 28],
  '1/4': [20, 28],
  '5/16': [18, 24],
  '3/8': [16, 24],
  '7/16': [14, 20],
  '1/2': [13, 20],
  '9/16': [12, 18],
  '5/8': [11, 18],
  '3/4': [10, 16],
  '7/8': [9, 14],
  '1': [8, 12],
};
// Outer diameter in mm and threads per inch of pipe threads by nominal size. ISO 228-1.
const PIPE: Readonly<Record<string, readonly [diameter: number, perInch: number]>> = {
  '1/16': [7.723, 28],
  '1/8': [9.728, 28],
  '1/4': [13.157, 19],
  '3/8': [16.662, 19],
  '1/2': [20.955, 14],
  '5/8': [22.911, 14],
  '3/4': [26.441, 14],
  '7/8': [30.201, 14],
  '1': [33.249, 11],
  '1 1/4': [41.91, 11],
  '1 1/2': [47.803, 11],
  '2': [59.614, 11],
};
// Outer diameter of the pipe in inches and threads per inch. ASME B1.20.1.
const NPT: Readonly<Record<string, readonly [diameter: number, perInch: number]>> = {
  '1/16': [0.3125, 27],
  '1/8': [0.405, 27],
  '1/4': [0.54, 18],
  '3/8': [0.675, 18],
  '1/2': [0.84, 14],
  '3/4': [1.05, 14],
  '1': [1.315, 11.5],
};

const SIZE = '(\\d+\\s+\\d+/\\d+|\\d+/\\d+|\\d+)';
const METRIC = /^m\s*(\d+(?:[.,]\d+)?)(?:\s*x\s*(\d+(?:[.,]\d+)?))?(?![\w/])/;
const PIPE_WORD = new RegExp(`^(?:g|bspp?)\\s*${SIZE}(?![\\w/])`);
const NPT_BEFORE = new RegExp(`^nptf?\\s*${SIZE}(?![\\w/])`);
const NPT_BEHIND = new RegExp(`^${SIZE}\\s*nptf?\\b`);
const UN_FULL = new RegExp(`^(#\\s*\\d+|no\\.?\\s*\\d+|${SIZE})\\s*-\\s*(\\d+)(?:\\s*(unc|unf|unef|uns|un))?(?![\\w/])`);
const UN_SERIES = new RegExp(`^(#\\s*\\d+|no\\.?\\s*\\d+|${SIZE})\\s*(unc|unf)\\b`);

/** The thread that words begin with: M8x1, G1/4, 1/8 NPT, 1/4-20 UNC, #10-32. Small letters. */
export function threadIn(text: string): NamedThread | undefined {
  const m = METRIC.exec(text);
  if (m) {
    const diameter = Number(m[1].replace(',', '.'));
    const pitch = m[2] === undefined ? undefined : Number(m[2].replace(',', '.'));
    return {
      name: `M${diameter}${pitch === undefined ? '' : ` x ${pitch}`}`,
      diameter,
      ...(pitch === undefined ? {} : { pitch }),
      angle: 60,
      length: m[0].length,
    };
  }
  const g = PIPE_WORD.exec(text);
  if (g) return fromTable(`G${g[1]}`, PIPE[tidySize(g[1])], 1, 55, g[0].length);
  const n = NPT_BEFORE.exec(text) ?? NPT_BEHIND.exec(text);
  if (n) return fromTable(`${tidySize(n[1])} NPT`, NPT[tidySize(n[1])], MM_PER_INCH, 60, n[0].length);
  const full = UN_FULL.exec(text);
  if (full) return unified(full[1], Number(full[3]), full[4]?.toUpperCase() ?? 'UN', full[0].length);
  const series = UN_SERIES.exec(text);
  if (!series) return undefined;
  const row = UNIFIED[sizeName(series[1])] as readonly [number, number] | undefined;
  return row && unified(series[1], row[series[3] === 'unc' ? 0 : 1], series[3].toUpperCase(), series[0].length);
}

const tidySize = (t: string): string => t.trim().replace(/\s+/g, ' ');

// Numbers up to 12 without a fraction are those of small screws.
const sizeName = (t: string): string => {
  const n = /^(?:#|no\.?)\s*(\d+)$/.exec(t);
  return n ? `#${n[1]}` : tidySize(t);
};

function unified(size: string, perInch: number, series: string, length: number): NamedThread | undefined {
  const name = sizeName(size);
  const isNumber = name.startsWith('#') || (/^\d+$/.test(name) && Number(name) > 1 && Number(name) <= 12);
  const diameter = isNumber ? 0.06 + 0.013 * Number(name.replace('#', '')) : fraction(name);
  if (!(perInch >= 2 && perInch <= 100) || !(diameter > 0)) return undefined;
  const shown = isNumber ? `#${name.replace('#', '')}` : name;
  return { name: `${shown}-${perInch} ${series}`, diameter: round(diameter * MM_PER_INCH), pitch: round(MM_PER_INCH / perInch), angle: 60, length };
}

const fromTable = (name: string, row: readonly [number, number] | undefined, scale: number, angle: 60 | 55, length: number): NamedThread | undefined =>
  row && { name, diameter: round(row[0] * scale), pitch: round(MM_PER_INCH / row[1]), angle, length };

// Inches. Numbered drills 1 to 60, as ASME B94.11M has them.
const NUMBERED = [
  0.228, 0.221, 0.213, 0.209, 0.2055, 0.204, 0.201, 0.199, 0.196, 0.1935, 0.191, 0.189, 0.185, 0.182, 0.18, 0.177, 0.173, 0.1695, 0.166, 0.161, 0.159, 0.157,
  0.154, 0.152, 0.1495, 0.147, 0.144, 0.1405, 0.136, 0.1285, 0.12, 0.116, 0.113, 0.111, 0.11, 0.1065, 0.104, 0.1015, 0.0995, 0.098, 0.096, 0.0935, 0.089, 0.086,
  0.082, 0.081, 0.0785, 0.076, 0.073, 0.07, 0.067, 0.0635, 0.0595, 0.055, 0.052, 0.0465, 0.043, 0.042, 0.041, 0.04,
];

/** mm. The diameter of a numbered drill; undefined beyond 60. */
export const numberedDrill = (n: number): number | undefined => (NUMBERED[n - 1] === undefined ? undefined : round(NUMBERED[n - 1] * MM_PER_INCH));
