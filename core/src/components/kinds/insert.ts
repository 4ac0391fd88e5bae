import { normalize, radFromDeg, type Vec3 } from '#core/math';
import { circleAbout, type FlatShape, type PathPiece } from '#core/outline';
import {
  cornerDimension,
  type Designation,
  INSCRIBED_CIRCLES,
  FIXINGS,
  INSERT_SHAPES,
  LONG_SHAPES,
  insertEdgeLength,
  insertEdges,
  insertOutline,
  middleFromNose,
  type NominalInsert,
  turnAt,
} from '#core/standards';
import type { Filling } from '../filling.ts';
import type { PlacedConnection, PlacedTip } from '../made-part.ts';
import { FIXING_HOLES } from '../tables.ts';
import { parallelogram, roundedLoop } from './plate-loop.ts';
import { hasRoomForWiper, wiperOf, withWipers } from './wiper.ts';

/** An insert of data: a plate, the tips at its corners, and its hole as mount. */
export interface InsertForm {
  readonly shape: FlatShape;
  readonly nominal: NominalInsert;
  readonly tips: readonly PlacedTip[];
  readonly mount: PlacedConnection;
  readonly without: string;
}

// Shapes with an edge opposite to each corner.
const TO_EDGE = new Set(['T', 'P']);
// Letters of ISO 1832 for inserts without a fixing hole.
const WITHOUT_HOLE = new Set(['N', 'R', 'F']);
// An insert lies in the turning plane of its mount: Y is the normal of its top.
const INSERT_FRAME = { z: [1, 0, 0], x: [0, 1, 0] } as const;

/** Fills and draws an insert. `code`: its designation, read; `shape`: the letter of its form. Undefined where something is missing. */
export function insertForm(f: Filling, shape: string, code: Designation | undefined): InsertForm | undefined {
  const eps = INSERT_SHAPES[shape];
  const isLong = LONG_SHAPES.has(shape);
  const ic = isLong ? 0 : f.need('IC');
  const s = f.need('S');
  const wiperAngle = code?.wiperAngle;
  const hasWiper = !isLong && eps !== undefined && wiperAngle !== undefined && hasRoomForWiper(wiperAngle, eps);
  const re = shape === 'R' ? f.derive('RE', ic / 2, 'IC / 2') : hasWiper ? f.assume('RE', 0, 'its wiper meets its edges at corners') : f.need('RE');
  const an = f.get('AN') ?? f.assume('AN', 0, 'no clearance was said');
  if ((!ic && !isLong) || !s || f.get('RE') === undefined) return undefined;
  if (eps !== undefined) f.derive('EPSR', eps, `the angle of shape ${shape}, ISO 1832`);
  if (isLong) return longInsert(f, shape, code, { s, an });
  const edges = insertEdges({ insertShape: shape, ...(eps === undefined ? {} : { includedAngle: eps }) });
  if (!edges) return undefined;
  const edge = f.derive('L', insertEdgeLength(shape, ic), edgeFormula(shape));
  const wiper = hasWiper ? wiperOf(f, wiperAngle, eps, edge, code?.hand) : undefined;
  if (!INSCRIBED_CIRCLES.some((c) => Math.abs(c - ic) < 0.01)) f.note('its inscribed circle is none of the steps of ISO 1832');
  const nominal: NominalInsert = { code: code?.code ?? shape, inscribedCircle: ic, thickness: s, noseRadius: re, clearance: an, ...edges };
  const half = edges.edgeNormals.length === 0 ? undefined : radFromDeg((eps ?? 0) / 2);
  if (half !== undefined) {
    if (re >= ic / 2) f.refuse('RE', re, 'less than half of its inscribed circle');
    const m = cornerDimension(shape, ic, re);
    // With wipers it is measured to them.
    if (m !== undefined && !wiper) f.derive('M', m, `${TO_EDGE.has(shape) ? 'IC + ' : ''}(IC / 2 - RE) (1 / sin(EPSR / 2) - 1), ISO 1832`);
  }
  const hole = holeOf(f, ic, an, code);
  if (an > 0 && s * Math.tan(radFromDeg(an)) > 0.4 * ic) f.refuse('AN', an, 'its flanks would meet below');
  const { loop, tips } = wiper ? withWipers(...sharpCorners(nominal), wiper, re) : withRounds(nominal);
  const plate: FlatShape = {
    ...PLATE,
    loop,
    thickness: s,
    reliefDeg: an,
    hole: hole > 0 ? { at: [0, 0], diameter: hole, ...sinkOf(code, hole, s) } : null,
  };
  return {
    shape: plate,
    nominal,
    tips,
    mount: mountOf(hole, s),
    without: wiper ? WITHOUT_GROOVES : WITHOUT,
  };
}

const WITHOUT = 'chip grooves, and what is ground at its edges';
const WITHOUT_GROOVES = 'chip grooves, and what is ground at its edges beside its wipers';

const mountOf = (hole: number, s: number): PlacedConnection =>
  hole > 0
    ? { connection: { standard: 'bolted face', size: hole }, frame: { ...INSERT_FRAME, origin: [0, 0, -s] }, evidence: 'its hole, on the face that it lies on' }
    : clampedMount([0, 0, -s], 'the middle of the face that it lies on; it is clamped');

/** The mount of an insert that is clamped: at a place of the face that it lies on, towards its edge. */
export const clampedMount = (origin: Vec3, evidence: string): PlacedConnection => ({
  connection: { standard: 'bolted face', size: '' },
  frame: { ...INSERT_FRAME, origin },
  evidence,
});

// The countersink that its letter says: as wide as leaves half of the thickness of the hole, at most once and a half of it.
function sinkOf(code: Designation | undefined, hole: number, s: number): { sink?: NonNullable<NonNullable<FlatShape['hole']>['sink']> } {
  const sink = code?.fixing === undefined ? undefined : FIXINGS[code.fixing]?.sink;
  if (!sink) return {};
  const [deg, faces] = sink;
  const deepest = (s / 2 / faces) * Math.tan(radFromDeg(deg / 2));
  return { sink: { deg, faces, diameter: Math.min(1.5 * hole, hole + 2 * deepest) } };
}

// A parallelogram or rectangle: its designation gives the length of its edge, and its width has to be said.
function longInsert(f: Filling, shape: string, code: Designation | undefined, { s, an }: { readonly s: number; readonly an: number }): InsertForm | undefined {
  const eps = INSERT_SHAPES[shape] ?? 90;
  const [length, width] = [f.need('L'), f.need('W1')];
  const re = f.get('RE') ?? 0;
  if (!length || !width) return undefined;
  f.atMost('W1', length, 'no more than its edge is long');
  f.atMost('RE', width / 2 - 0.01, 'less than half of its width');
  f.derive('INSL', length * Math.sin(radFromDeg(eps)), 'L sin EPSR, from one end to the other');
  const hole = holeOf(f, width, an, code);
  if (an > 0 && s * Math.tan(radFromDeg(an)) > 0.4 * width) f.refuse('AN', an, 'its flanks would meet below');
  if (f.conflicts.length > 0) return undefined;
  const loop = roundedLoop(parallelogram(length, width, eps), [re, re, re, re]);
  const turn = 180 - eps;
  // As an insert about its middle, so that its corners are told as of the others.
  const nominal: NominalInsert = {
    code: code?.code ?? shape,
    inscribedCircle: width,
    thickness: s,
    noseRadius: re,
    clearance: an,
    edgeNormals: [turn, 180, 180 + turn, 360],
    rounded: [true, true, true, true],
  };
  return {
    shape: { ...PLATE, loop, thickness: s, reliefDeg: an, hole: hole > 0 ? { at: [0, 0], diameter: hole, ...sinkOf(code, hole, s) } : null },
    nominal,
    tips: tipsOf(nominal, loop),
    mount: mountOf(hole, s),
    without: WITHOUT,
  };
}

const PLATE = { format: 'ruota-shape', version: 1, form: 'flat', name: 'Insert' } as const;

function edgeFormula(shape: string): string {
  if (shape === 'T') return 'IC sqrt 3';
  if (shape === 'S' || shape === 'R') return 'IC';
  return shape === 'W' ? '0.6836 IC, from an acute corner to a blunt one' : 'IC / sin EPSR';
}

// The hole that is said, or the usual one; 0 for none.
function holeOf(f: Filling, ic: number, an: number, code: Designation | undefined): number {
  const given = f.get('D1');
  if (given !== undefined) {
    f.atMost('D1', 0.7 * ic, 'or nothing is left around it');
    return given;
  }
  const letter = code?.fixing;
  if (letter === undefined || WITHOUT_HOLE.has(letter)) return 0;
  // Of inscribed circles in inches, and of widths in between, the next one.
  const [, usual] = Object.entries(FIXING_HOLES).reduce<readonly [number, readonly [number, number] | undefined]>(
    ([off, of], [circle, holes]) => (Math.abs(Number(circle) - ic) < off ? [Math.abs(Number(circle) - ic), holes] : [off, of]),
    [0.25 * ic, undefined],
  );
  if (usual) return f.assume('D1', Math.min(an > 0 ? usual[1] : usual[0], 0.6 * ic), 'the usual hole for its size');
  return f.assume('D1', 0.4 * ic, 'two fifths of its size');
}

// A corner is where the outline turns at an arc, or between two lines without one.
function tipsOf(insert: NominalInsert, loop: readonly PathPiece[]): PlacedTip[] {
  if (insert.edgeNormals.length === 0)
    return [{ noseRadius: insert.inscribedCircle / 2, noseCentre: [0, 0, 0], towards: [1, 0, 0], rake: [0, 0, 1], evidence: 'a round insert' }];
  const way = ({ from, to }: PathPiece): Vec3 => normalize([to[0] - from[0], to[1] - from[1], 0]);
  return loop.flatMap((piece, i): PlacedTip[] => {
    const before = loop[(i + loop.length - 1) % loop.length];
    const after = loop[(i + 1) % loop.length];
    const rounded = piece.kind === 'arc';
    const [u, v] = rounded ? [way(before), way(after)] : [way(before), way(piece)];
    if (!rounded && (insert.noseRadius > 0 || before.kind === 'arc')) return [];
    // Of a rhomb the acute corners cut; of a trigon those that are rounded.
    if (isBlunt(insert, i, loop)) return [];
    const centre = rounded ? piece.centre : piece.from;
    return [
      {
        noseRadius: insert.noseRadius,
        noseCentre: [centre[0], centre[1], 0],
        towards: normalize([u[0] - v[0], u[1] - v[1], 0]),
        rake: [0, 0, 1],
        evidence: 'a corner of its shape',
      },
    ];
  });
}

// The outline of an insert about its middle, and its tips.
function withRounds(nominal: NominalInsert): Pick<InsertForm, 'tips'> & { readonly loop: PathPiece[] } {
  const shift = middleFromNose(nominal);
  const moved = ([x, y]: readonly [number, number]): [number, number] => [x + shift, y];
  const loop: PathPiece[] =
    nominal.edgeNormals.length === 0
      ? circleAbout([0, 0], [nominal.inscribedCircle / 2, 0])
      : insertOutline(nominal, 0).map(({ from, to, arc }) =>
          arc ? { kind: 'arc', from: moved(from), to: moved(to), centre: moved(arc.centre), ccw: true } : { kind: 'line', from: moved(from), to: moved(to) },
        );
  return { loop, tips: tipsOf(nominal, loop) };
}

// Where the edges of an insert would meet without rounds, about its middle, and which of these corners cut.
function sharpCorners(nominal: NominalInsert): readonly [corners: readonly [number, number][], cuts: readonly boolean[]] {
  const sharp = { ...nominal, noseRadius: 0 };
  const shift = middleFromNose(sharp);
  const corners = insertOutline(sharp, 0).map(({ from: [x, y] }): [number, number] => [x + shift, y]);
  return [corners, corners.map((_, i) => !isBluntCorner(nominal, i))];
}

// Corners with a wider angle than the one that cuts.
const isBluntCorner = (insert: NominalInsert, corner: number): boolean => turnAt(insert, corner) < turnAt(insert, 0) - 1e-8;

// The same of a piece of the loop.
function isBlunt(insert: NominalInsert, i: number, loop: readonly PathPiece[]): boolean {
  // Corners in the order of the loop, each with its arc where it has one.
  let corner = -1;
  for (let k = 0; k <= i; k++) if (loop[k].kind === 'arc' || loop[(k + loop.length - 1) % loop.length].kind === 'line') corner++;
  return isBluntCorner(insert, corner);
}
