// What a designation of ISO 1832 (inserts), ISO 5608 (turning holders) or ISO 6261 (boring bars) says, field by field.
import { done, failed, type Result } from '#core/issues';

/** ISO 1832, shape letter: included angle in degrees (W: of its acute corners); undefined for the round insert. */
export const INSERT_SHAPES: Readonly<Record<string, number | undefined>> = {
  A: 85,
  B: 82,
  C: 80,
  D: 55,
  E: 75,
  H: 120,
  K: 55,
  L: 90,
  M: 86,
  O: 135,
  P: 108,
  R: undefined,
  S: 90,
  T: 60,
  V: 35,
  W: 80,
};
/** ISO 1832, clearance letter: degrees. */
export const CLEARANCES: Readonly<Record<string, number>> = { A: 3, B: 5, C: 7, D: 15, E: 20, F: 25, G: 30, N: 0, P: 11 };
/** mm. ISO 1832: steps of the inscribed circle. */
export const INSCRIBED_CIRCLES = [3.97, 4.76, 5.56, 6.35, 7.94, 9.525, 12.7, 15.875, 19.05, 25.4] as const;
const THICKNESSES: Readonly<Record<string, number>> = {
  '01': 1.59,
  T1: 1.98,
  '02': 2.38,
  T2: 2.78,
  '03': 3.18,
  T3: 3.97,
  '04': 4.76,
  '05': 5.56,
  '06': 6.35,
  '07': 7.94,
  '09': 9.52,
};
/** ISO 5608, style letter: entering angle in degrees, and whether it is for facing. */
export const HOLDER_STYLES: Readonly<Record<string, readonly [enteringAngle: number, facing: boolean]>> = {
  A: [90, false],
  B: [75, false],
  D: [45, false],
  E: [60, false],
  F: [90, true],
  G: [90, false],
  H: [107.5, false],
  J: [93, false],
  K: [75, true],
  L: [95, false],
  M: [50, false],
  N: [63, false],
  P: [62.5, false],
  R: [75, false],
  S: [45, false],
  T: [60, false],
  U: [93, true],
  V: [72.5, false],
  W: [60, true],
  Y: [85, true],
};
/** mm. ISO 5608 and 6261, length letters; X is special. */
export const TOOL_LENGTHS: Readonly<Record<string, number | undefined>> = {
  A: 32,
  B: 40,
  C: 50,
  D: 60,
  E: 70,
  F: 80,
  G: 90,
  H: 100,
  J: 110,
  K: 125,
  L: 140,
  M: 150,
  N: 160,
  P: 170,
  Q: 180,
  R: 200,
  S: 250,
  T: 300,
  U: 350,
  V: 400,
  W: 450,
  Y: 500,
  X: undefined,
};
const HOLDER_WF: Readonly<Record<number, number>> = { 8: 10, 10: 12, 12: 16, 16: 20, 20: 25, 25: 32, 32: 40, 40: 50 };
const BAR_WF: Readonly<Record<number, number>> = { 12: 9, 16: 11, 20: 13, 25: 17, 32: 22, 40: 27, 50: 35, 60: 43 };
const HANDS = { R: 'right', L: 'left', N: 'neutral' } as const;

/** Lengths in mm, angles in degrees; what a designation leaves open is absent. */
export interface Designation {
  readonly standard: 'ISO 1832' | 'ISO 5608' | 'ISO 6261';
  readonly code: string;
  readonly insertShape: string;
  /** ISO 1832, fourth letter: fixing and chip grooves. */
  readonly fixing?: string;
  readonly includedAngle?: number;
  readonly clearance?: number;
  readonly inscribedCircle?: number;
  readonly edgeLength?: number;
  readonly thickness?: number;
  readonly noseRadius?: number;
  readonly enteringAngle?: number;
  readonly facing?: boolean;
  readonly hand?: 'right' | 'left' | 'neutral';
  readonly shankHeight?: number;
  readonly shankWidth?: number;
  readonly shankDiameter?: number;
  readonly toolLength?: number;
  /** The standard's usual functional width for the shank. */
  readonly functionalWidth?: number;
}

/** Edge length in mm from the inscribed circle, by shape (ISO 1832). */
export function insertEdgeLength(shape: string, ic: number): number {
  if (shape === 'T') return ic * Math.sqrt(3);
  if (shape === 'S' || shape === 'R') return ic;
  // Trigon: the edge between an acute and a blunt corner.
  if (shape === 'W') return ic * 0.6836;
  return ic / Math.sin(((INSERT_SHAPES[shape] ?? 90) * Math.PI) / 180);
}

// mm. Inscribed circles are rounded inches: a triangle of 12.7 is 21.997 long, and called 22.
const WHOLE = 0.01;

function circleOf(shape: string, code: number): number | undefined {
  return INSCRIBED_CIRCLES.find((ic) => Math.floor(insertEdgeLength(shape, ic) + WHOLE) === code);
}

/** Reads a designation, with blanks and small letters as people write it: "CNMG 120408", "DCLNR 2525M12", "A16R-SCLCR 09". */
export function readDesignation(text: string): Result<Designation> {
  const code = text.toUpperCase().replace(/[\s.,/]+/g, '');
  const read = readBar(code) ?? readHolder(code) ?? readInsert(code);
  if (read) return done(read);
  return failed('designation.unknown', { text: text.trim().slice(0, 40) || 'nothing' });
}

const INSERT = /^([ABCDEHKLMOPRSTVW])([ABCDEFGNPO])([A-HJ-NUM])([AFGMNRTWQUBHCJX])(\d{2})(\d{2}|T[0-9])(\d{2}|M0|MO)?(?:[EFTSKP])?([RLN])?(?:-?[A-Z0-9]*)?$/;

function readInsert(code: string): Designation | undefined {
  const m = INSERT.exec(code);
  if (!m) return undefined;
  const [, shape, clearance, , fixing, edge, thick, nose, hand] = m;
  const inscribedCircle = shape === 'R' ? Number(edge) : circleOf(shape, Number(edge));
  const noseRadius = shape === 'R' ? (inscribedCircle ?? 0) / 2 : nose && /^\d/.test(nose) ? Number(nose) / 10 : undefined;
  return {
    standard: 'ISO 1832',
    code,
    insertShape: shape,
    fixing,
    ...part('includedAngle', INSERT_SHAPES[shape]),
    ...part('clearance', CLEARANCES[clearance]),
    ...part('inscribedCircle', inscribedCircle),
    ...part('edgeLength', inscribedCircle && Math.round(insertEdgeLength(shape, inscribedCircle) * 1000) / 1000),
    ...part('thickness', THICKNESSES[thick]),
    ...part('noseRadius', noseRadius),
    ...part('hand', hand ? HANDS[hand as keyof typeof HANDS] : undefined),
  };
}

const HOLDER = /^([CDMPSW])([ABCDEHKLMOPRSTVW])([ABD-HJ-NPR-WY])([ABCDEFGNPO])([RLN])(\d{2})(\d{2})([A-HJ-NP-Y])(\d{2})(?:-?[A-Z0-9]*)?$/;

function readHolder(code: string): Designation | undefined {
  const m = HOLDER.exec(code);
  if (!m) return undefined;
  const [, , shape, style, clearance, hand, high, wide, long, edge] = m;
  const [enteringAngle, facing] = HOLDER_STYLES[style];
  return {
    standard: 'ISO 5608',
    code,
    ...holds(shape, clearance, hand, Number(edge)),
    enteringAngle,
    facing,
    shankHeight: Number(high),
    shankWidth: Number(wide),
    ...part('toolLength', TOOL_LENGTHS[long]),
    ...part('functionalWidth', HOLDER_WF[Number(wide)]),
  };
}

const BAR = /^([ASCEFGHJ])(\d{2})([A-HJ-NP-Y])-?([CDMPSW])([ABCDEHKLMOPRSTVW])([ABD-HJ-NPR-WYQX])([ABCDEFGNPO])([RLN])(\d{2})(?:-?[A-Z0-9]*)?$/;

function readBar(code: string): Designation | undefined {
  const m = BAR.exec(code);
  if (!m) return undefined;
  const [, , diameter, long, , shape, style, clearance, hand, edge] = m;
  const known = HOLDER_STYLES[style] as readonly [number, boolean] | undefined;
  // ISO 6261: Q and X are bars' own styles.
  const enteringAngle = style === 'Q' ? 107.5 : style === 'X' ? undefined : known?.[0];
  return {
    standard: 'ISO 6261',
    code,
    ...holds(shape, clearance, hand, Number(edge)),
    ...part('enteringAngle', enteringAngle),
    shankDiameter: Number(diameter),
    ...part('toolLength', TOOL_LENGTHS[long]),
    ...part('functionalWidth', BAR_WF[Number(diameter)]),
  };
}

function holds(shape: string, clearance: string, hand: string, edge: number) {
  const inscribedCircle = shape === 'R' ? edge : circleOf(shape, edge);
  return {
    insertShape: shape,
    ...part('includedAngle', INSERT_SHAPES[shape]),
    ...part('clearance', CLEARANCES[clearance]),
    ...part('inscribedCircle', inscribedCircle),
    hand: HANDS[hand as keyof typeof HANDS],
  };
}

const part = <K extends string, V>(key: K, value: V | undefined): Partial<Record<K, V>> => (value === undefined ? {} : ({ [key]: value } as Record<K, V>));
