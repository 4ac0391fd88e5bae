// What a designation of ISO 1832 or ANSI B212.4 (inserts), ISO 5608 or ANSI B212.5 (turning holders) or ISO 6261 (boring bars) says, field by field.
import { done, failed, type Result } from '#core/issues';
import { type DesignationFault, type DesignationField, Scan, scanned } from './scan.ts';
import {
  BAR_BODIES,
  BAR_WF,
  CLAMPINGS,
  CLEARANCES,
  EDGE_CONDITIONS,
  FIXINGS,
  HANDS,
  HOLDER_STYLES,
  HOLDER_WF,
  INCH_BAR_LENGTHS,
  INCH_CIRCLES,
  INCH_HOLDER_LENGTHS,
  INCH_HOLDER_WF,
  INCH_RADII,
  INCH_THICKNESSES,
  INSCRIBED_CIRCLES,
  INSERT_SHAPES,
  SHAPE_NAMES,
  THICKNESSES,
  TOLERANCES,
  TOOL_LENGTHS,
  WIPER_ANGLES,
  WIPER_CLEARANCES,
} from './tables.ts';

// mm.
const INCH = 25.4;

export type DesignationStandard = 'ISO 1832' | 'ANSI B212.4' | 'ISO 5608' | 'ANSI B212.5' | 'ISO 6261';

/** Lengths in mm, angles in degrees; what a designation leaves open is absent. */
export interface Designation {
  readonly standard: DesignationStandard;
  readonly code: string;
  readonly fields: readonly DesignationField[];
  readonly insertShape: string;
  /** ISO 1832, third letter: tolerance class. */
  readonly tolerance?: string;
  /** ISO 1832, fourth letter: fixing and chip grooves. */
  readonly fixing?: string;
  readonly includedAngle?: number;
  readonly clearance?: number;
  readonly inscribedCircle?: number;
  readonly edgeLength?: number;
  readonly thickness?: number;
  readonly noseRadius?: number;
  /** Of an insert with wipers: entering angle that they are ground for. */
  readonly wiperAngle?: number;
  readonly enteringAngle?: number;
  readonly facing?: boolean;
  readonly hand?: 'right' | 'left' | 'neutral';
  readonly coolant?: boolean;
  readonly shankHeight?: number;
  readonly shankWidth?: number;
  readonly shankDiameter?: number;
  readonly toolLength?: number;
  /** The standard's usual functional width for the shank. */
  readonly functionalWidth?: number;
}

/** Whether a designation is that of an insert. */
export const isInsertCode = ({ standard }: Pick<Designation, 'standard'>): boolean => standard === 'ISO 1832' || standard === 'ANSI B212.4';

/** Edge length in mm from the inscribed circle, by shape (ISO 1832). */
export function insertEdgeLength(shape: string, ic: number): number {
  const angle = INSERT_SHAPES[shape];
  if (shape === 'S' || shape === 'R' || angle === undefined) return ic;
  // Trigon: the edge between an acute and a blunt corner.
  if (shape === 'W') return ic * 0.6836;
  // A regular polygon's edge spans twice the half of what its corner leaves of 180 degrees.
  if (REGULAR.has(shape)) return ic * Math.tan((((180 - angle) / 2) * Math.PI) / 180);
  return ic / Math.sin((angle * Math.PI) / 180);
}
const REGULAR: ReadonlySet<string> = new Set(['H', 'O', 'P', 'T']);
/** Shapes with two lengths, of which a designation gives one. */
export const LONG_SHAPES: ReadonlySet<string> = new Set(['A', 'B', 'K', 'L']);

/** ISO 1832: the dimension m of a corner, mm. To the opposite edge where there is one, else how far it stands out of the inscribed circle. */
export function cornerDimension(shape: string, ic: number, re: number): number | undefined {
  const angle = INSERT_SHAPES[shape];
  if (angle === undefined || LONG_SHAPES.has(shape)) return undefined;
  const beyond = (ic / 2 - re) * (1 / Math.sin((angle * Math.PI) / 360) - 1);
  return shape === 'T' || shape === 'P' ? ic + beyond : beyond;
}

// mm. Inscribed circles are rounded inches: a triangle of 12.7 is 21.997 long, and called 22.
const WHOLE = 0.01;

const circleOf = (shape: string, code: number): number | undefined => INSCRIBED_CIRCLES.find((ic) => Math.floor(insertEdgeLength(shape, ic) + WHOLE) === code);

/** Reads a designation, with blanks and small letters as people write it: "CNMG 120408", "CNMG 432", "DCLNR 2525M12", "A16R-SCLCR 09". A wrong one is told at its character. */
export function readDesignation(text: string): Result<Designation> {
  const plain = text.toUpperCase().replace(/[\s,/]+/g, '');
  if (text.length > 80) return failed('designation.unknown', { text: text.trim().slice(0, 40) });
  const reader = readerFor(plain);
  if (!reader) return failed('designation.unknown', { text: text.trim().slice(0, 40) || 'nothing' });
  const read = scanned(() => reader(text));
  return read.ok ? done(read.value) : wrongAt(text, read.fault);
}

// Which standard somebody means, by the build of what was typed: its fields may be wrong all the same.
function readerFor(plain: string): ((text: string) => Designation) | undefined {
  if (/^[A-Z]\d{2}[A-Z]?-?[A-Z]{4,5}/.test(plain)) return readBar;
  if (/^[A-Z]{5}-?\d/.test(plain)) return /^[A-Z]{5}-?\d{2,3}[A-Z]?$/.test(plain) || /^[A-Z]{5}-?\d{3}[A-Z]/.test(plain) ? readInchHolder : readHolder;
  // Digits of a metric insert come in pairs; T stands for a half step of the thickness.
  if (/^[A-Z]{4}-?\d{2}(?:\d{2}|T\d|$|\d$)/.test(plain) && !/^[A-Z]{4}-?\d{3}(?![\dT])/.test(plain)) return readInsert;
  if (/^[A-Z]{3,4}-?\d/.test(plain)) return readInchInsert;
  return undefined;
}

const wrongAt = (text: string, { text: found, from, to, field, wanted }: DesignationFault): Result<Designation> =>
  failed('designation.wrong', { text: text.trim().slice(0, 60), found: found || 'nothing', from, to, field, wanted });

const mm = (v: number): string => `${Math.round(v * 1000) / 1000} mm`;

/** The four letters that every insert begins with; the inch series leaves out the last one where there is no hole. */
function insertLetters(s: Scan, isInch: boolean) {
  const shape = s.letter('shape', SHAPE_NAMES, (n) => n);
  const clear = s.letter('clearance', { ...CLEARANCES, O: Number.NaN }, (v) => (Number.isNaN(v) ? 'another clearance' : `clearance ${v} degrees`));
  const tolerance = s.letter('tolerance', TOLERANCES, (t) => t);
  const fixing = isInch && /^-?\d/.test(s.rest) ? 'N' : s.letter('fixing', FIXINGS, sayFixing);
  return {
    insertShape: shape,
    tolerance,
    fixing,
    ...part('includedAngle', INSERT_SHAPES[shape]),
    ...part('clearance', CLEARANCES[clear] as number | undefined),
  };
}

function sayFixing({ hole, sink, breakers }: (typeof FIXINGS)[string], letter: string): string {
  if (letter === 'X') return 'special';
  const bore = !hole
    ? 'no hole'
    : sink
      ? `a hole countersunk ${sink[0] === 50 ? '40 to 60' : '70 to 90'} degrees${sink[1] === 2 ? ' on both faces' : ''}`
      : 'a hole';
  return `${bore}, ${breakers === 0 ? 'no chip breakers' : breakers === 1 ? 'chip breakers on one face' : 'chip breakers on both faces'}`;
}

// Edge condition, direction and a maker's addition, as far as they are there.
function insertEnd(s: Scan): { hand?: 'right' | 'left' | 'neutral' } {
  if (s.rest !== '' && !s.rest.startsWith('-') && Object.hasOwn(EDGE_CONDITIONS, s.rest[0]) && /^[EFTSKP](?:[RLN]?(?:-|$))/.test(s.rest))
    s.letter('edges', EDGE_CONDITIONS, (t) => t);
  const isHand = /^[RLN](?:-|$)/.test(s.rest);
  const hand = isHand ? s.letter('direction', HANDS, (h) => (h === 'neutral' ? 'both directions' : `${h} hand`)) : undefined;
  s.hyphen();
  s.addition();
  return hand ? { hand: HANDS[hand as keyof typeof HANDS] } : {};
}

function readInsert(text: string): Designation {
  const s = new Scan(text, /[\s.,/]/);
  const letters = insertLetters(s, false);
  const { insertShape: shape } = letters;
  s.hyphen();
  const circle = (code: string) => (shape === 'R' ? Number(code) : circleOf(shape, Number(code)));
  const isLong = LONG_SHAPES.has(shape);
  const edge = s.take(2, 'size', sayEdges(shape), (t) => {
    if (!/^\d{2}$/.test(t) || Number(t) === 0) return undefined;
    if (isLong) return `edge of ${Number(t)} mm`;
    const ic = circle(t);
    return ic === undefined ? undefined : shape === 'R' ? `diameter ${ic} mm` : `edge of ${Number(t)} mm, inscribed circle ${ic} mm`;
  });
  const thick = s.take(2, 'thickness', `one of ${Object.keys(THICKNESSES).join(', ')}`, (t) =>
    Object.hasOwn(THICKNESSES, t) ? `thickness ${THICKNESSES[t]} mm` : undefined,
  );
  const inscribedCircle = isLong ? undefined : circle(edge);
  const corner = cornerField(s, shape);
  return {
    standard: 'ISO 1832',
    ...letters,
    ...part('inscribedCircle', inscribedCircle),
    ...part('edgeLength', isLong ? Number(edge) : inscribedCircle && Math.round(insertEdgeLength(shape, inscribedCircle) * 1000) / 1000),
    thickness: THICKNESSES[thick],
    ...part('noseRadius', shape === 'R' ? (inscribedCircle ?? 0) / 2 : corner.radius),
    ...part('wiperAngle', corner.wiper),
    ...insertEnd(s),
    code: s.code,
    fields: s.fields,
  };
}

function sayEdges(shape: string): string {
  if (LONG_SHAPES.has(shape)) return 'the whole millimetres of its edge, two digits';
  if (shape === 'R') return 'its diameter in whole millimetres, two digits';
  const codes = INSCRIBED_CIRCLES.map((ic) => String(Math.floor(insertEdgeLength(shape, ic) + WHOLE)).padStart(2, '0'));
  return `one of ${[...new Set(codes)].join(', ')}`;
}

// The corner: tenths of a millimetre, two letters of a wiper, or nothing where a designation is short.
function cornerField(s: Scan, shape: string): { readonly radius?: number; readonly wiper?: number } {
  if (shape === 'R') {
    if (/^(?:M0|MO|00)/.test(s.rest)) s.take(2, 'corner', 'M0 or 00', () => 'round');
    return {};
  }
  if (/^\d/.test(s.rest)) {
    const code = s.take(2, 'corner', 'the radius in tenths of a millimetre, two digits', (t) =>
      /^\d{2}$/.test(t) ? (t === '00' ? 'sharp' : `radius ${Number(t) / 10} mm`) : undefined,
    );
    return { radius: Number(code) / 10 };
  }
  if (/^[ADEFPZ][ABCDEFGNPZ]/.test(s.rest)) {
    const main = s.letter('wiper', WIPER_ANGLES, (v) => (v === undefined ? 'wiper for another entering angle' : `wiper for an entering angle of ${v} degrees`));
    s.letter('wiper clearance', WIPER_CLEARANCES, (v) => (v === undefined ? 'another clearance of the wiper' : `clearance of the wiper ${v} degrees`));
    return part('wiper', WIPER_ANGLES[main]);
  }
  s.stop(s.rest.slice(0, 2), 'corner', 'the radius in tenths of a millimetre (08), or two letters of a wiper (PD)');
}

function readInchInsert(text: string): Designation {
  const s = new Scan(text.replace(/(\d),(\d)/g, '$1.$2'), /[\s/,]/);
  const letters = insertLetters(s, true);
  const { insertShape: shape } = letters;
  s.hyphen();
  const eighths = s.longest('size', INCH_CIRCLES, (v) => `inscribed circle ${v}/8 inch, ${mm((v * INCH) / 8)}`);
  const sixteenths = s.longest('thickness', INCH_THICKNESSES, (v) => `thickness ${v}/16 inch, ${mm((v * INCH) / 16)}`);
  const ic = round((eighths * INCH) / 8);
  const radius =
    shape === 'R' && !/^\d/.test(s.rest)
      ? undefined
      : s.longest('corner', INCH_RADII, (v) => (v === 0 ? 'sharp' : `radius ${v}/64 inch, ${mm((v * INCH) / 64)}`));
  return {
    standard: 'ANSI B212.4',
    ...letters,
    inscribedCircle: ic,
    edgeLength: Math.round(insertEdgeLength(shape, ic) * 1000) / 1000,
    thickness: round((sixteenths * INCH) / 16),
    ...part('noseRadius', shape === 'R' ? ic / 2 : radius === undefined ? undefined : round((radius * INCH) / 64)),
    ...insertEnd(s),
    code: s.code,
    fields: s.fields,
  };
}

const round = (v: number): number => Math.round(v * 1e6) / 1e6;

// Clamping, insert, style, clearance and hand: the five letters of holders and of the heads of bars.
function headLetters(s: Scan, styles: Readonly<Record<string, readonly [number | undefined, boolean]>>) {
  s.letter('clamping', CLAMPINGS, (t) => t);
  const shape = s.letter('insert shape', SHAPE_NAMES, (n) => `insert ${n}`);
  const style = s.letter('style', styles, ([kapr, facing]) =>
    kapr === undefined ? 'a style of its own' : `entering angle ${kapr} degrees${facing ? ', for facing' : ''}`,
  );
  const clear = s.letter('clearance', { ...CLEARANCES, O: Number.NaN }, (v) => (Number.isNaN(v) ? 'another clearance' : `insert clearance ${v} degrees`));
  const hand = s.letter('hand', HANDS, (h) => (h === 'neutral' ? 'neutral' : `${h} hand`));
  return {
    shape,
    said: {
      insertShape: shape,
      ...part('includedAngle', INSERT_SHAPES[shape]),
      ...part('clearance', CLEARANCES[clear] as number | undefined),
      ...part('enteringAngle', styles[style][0]),
      facing: styles[style][1],
      hand: HANDS[hand as keyof typeof HANDS],
    },
  };
}

const isLength = (table: Readonly<Record<string, number | undefined>>, unit: string) => (l: string) =>
  !Object.hasOwn(table, l) ? undefined : table[l] === undefined ? 'a special length' : `${table[l]} ${unit} long`;

// mm. The insert of a holder, by the whole millimetres of its edge.
const insertSize = (s: Scan, shape: string): number | undefined => {
  const isLong = LONG_SHAPES.has(shape);
  const edge = s.take(2, 'insert size', sayEdges(shape), (t) => {
    if (!/^\d{2}$/.test(t) || Number(t) === 0) return undefined;
    if (isLong) return `insert with an edge of ${Number(t)} mm`;
    const ic = shape === 'R' ? Number(t) : circleOf(shape, Number(t));
    return ic === undefined ? undefined : `insert of inscribed circle ${ic} mm`;
  });
  return isLong ? undefined : shape === 'R' ? Number(edge) : circleOf(shape, Number(edge));
};

function readHolder(text: string): Designation {
  const s = new Scan(text, /[\s.,/]/);
  const { shape, said } = headLetters(s, HOLDER_STYLES);
  s.hyphen();
  const side = (field: string) =>
    Number(
      s.take(2, field, 'millimetres, two digits', (t) =>
        /^\d{2}$/.test(t) && Number(t) >= 4 ? `shank ${Number(t)} mm ${field === 'shank height' ? 'high' : 'wide'}` : undefined,
      ),
    );
  const [high, wide] = [side('shank height'), side('shank width')];
  const long = s.take(1, 'length', `one of ${Object.keys(TOOL_LENGTHS).join(', ')}`, isLength(TOOL_LENGTHS, 'mm'));
  const inscribedCircle = insertSize(s, shape);
  s.hyphen();
  s.addition();
  return {
    standard: 'ISO 5608',
    ...said,
    ...part('inscribedCircle', inscribedCircle),
    shankHeight: high,
    shankWidth: wide,
    ...part('toolLength', TOOL_LENGTHS[long]),
    ...part('functionalWidth', HOLDER_WF[wide] as number | undefined),
    code: s.code,
    fields: s.fields,
  };
}

function readInchHolder(text: string): Designation {
  const s = new Scan(text, /[\s.,/]/);
  const { said } = headLetters(s, HOLDER_STYLES);
  s.hyphen();
  // Square shanks in sixteenths; others have the eighths of their width and the quarters of their height.
  const shank = s.take(2, 'shank', 'sixteenths of an inch of a square shank, or eighths of the width and quarters of the height', (t) =>
    inchShank(t) ? sayInchShank(t) : undefined,
  );
  const [width, height] = inchShank(shank) as [number, number];
  const eighths = s.longest('insert size', INCH_CIRCLES, (v) => `insert of inscribed circle ${v}/8 inch, ${mm((v * INCH) / 8)}`);
  const long =
    s.rest === '' ? undefined : s.take(1, 'length', `one of ${Object.keys(INCH_HOLDER_LENGTHS).join(', ')}`, isLength(INCH_HOLDER_LENGTHS, 'inches'));
  s.hyphen();
  s.addition();
  const lf = long === undefined ? undefined : INCH_HOLDER_LENGTHS[long];
  const wf = INCH_HOLDER_WF[Math.round(width * 16)] as number | undefined;
  return {
    standard: 'ANSI B212.5',
    ...said,
    inscribedCircle: round((eighths * INCH) / 8),
    shankHeight: round(height * INCH),
    shankWidth: round(width * INCH),
    ...part('toolLength', lf && round(lf * INCH)),
    ...part('functionalWidth', wf && round(wf * INCH)),
    code: s.code,
    fields: s.fields,
  };
}

// Inches: width and height.
function inchShank(t: string): [number, number] | undefined {
  if (!/^\d{2}$/.test(t)) return undefined;
  const n = Number(t);
  if ([8, 10, 12, 16, 20, 24, 32].includes(n)) return [n / 16, n / 16];
  const [w, h] = [Number(t[0]), Number(t[1])];
  return w >= 4 && h >= 2 && h <= 8 ? [w / 8, h / 4] : undefined;
}
const sayInchShank = (t: string): string => {
  const [w, h] = inchShank(t) as [number, number];
  return `shank ${h} inch high, ${w} inch wide`;
};

const BAR_STYLES: Readonly<Record<string, readonly [number | undefined, boolean]>> = { ...HOLDER_STYLES, Q: [107.5, false], X: [undefined, false] };

function readBar(text: string): Designation {
  const s = new Scan(text, /[\s.,/]/);
  const kind = s.letter('bar', BAR_BODIES, (t) => t);
  // Inch bars give sixteenths and end in the eighths of their insert.
  const isInch = /[A-Z]{4,5}-?\d(?:[A-Z-]|$)/.test(s.rest.replace(/^\d{2}[A-Z]?-?/, ''));
  const diameter = Number(
    s.take(2, 'diameter', isInch ? 'sixteenths of an inch, two digits' : 'millimetres, two digits', (t) =>
      /^\d{2}$/.test(t) && Number(t) >= 4 ? (isInch ? `shank ${Number(t)}/16 inch` : `shank ${Number(t)} mm`) : undefined,
    ),
  );
  const lengths = isInch ? INCH_BAR_LENGTHS : TOOL_LENGTHS;
  const long =
    isInch && s.rest.startsWith('-')
      ? undefined
      : s.take(1, 'length', `one of ${Object.keys(lengths).join(', ')}`, isLength(lengths, isInch ? 'inches' : 'mm'));
  s.hyphen();
  const { shape, said } = headLetters(s, BAR_STYLES);
  s.hyphen();
  const inscribedCircle = isInch
    ? round((s.longest('insert size', INCH_CIRCLES, (v) => `insert of inscribed circle ${v}/8 inch`) * INCH) / 8)
    : insertSize(s, shape);
  s.hyphen();
  s.addition();
  const length = long === undefined ? undefined : lengths[long];
  return {
    standard: 'ISO 6261',
    ...said,
    facing: false,
    ...part('inscribedCircle', inscribedCircle),
    coolant: /coolant/.test(BAR_BODIES[kind]),
    shankDiameter: isInch ? round((diameter * INCH) / 16) : diameter,
    ...part('toolLength', length && (isInch ? round(length * INCH) : length)),
    ...part('functionalWidth', isInch ? undefined : (BAR_WF[diameter] as number | undefined)),
    code: s.code,
    fields: s.fields,
  };
}

const part = <K extends string, V>(key: K, value: V | undefined): Partial<Record<K, V>> => (value === undefined ? {} : ({ [key]: value } as Record<K, V>));
