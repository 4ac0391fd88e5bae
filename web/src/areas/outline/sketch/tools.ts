import { roundTo } from '#core/math';
import { boxOfPath, type FlatPoint, flatDistance, type PathPiece } from '#core/outline';
import {
  bendPiece,
  chamferCorner,
  deleteCorner,
  filletCorner,
  flipOutline,
  meetPieces,
  mirrorAbout,
  moveOutline,
  offsetPieces,
  placeOfName,
  sayWhatIs,
  scaleOutline,
  type Sketched,
  splitPiece,
  surfaceNames,
  turnOutline,
} from '#core/sketch';
import type { WholeChange } from '#core/sources';
import type { NewConstraint, SketchEditing } from './use-sketch-editing.ts';
import { wordsFor } from './use-sketch-editing.ts';

/** A number that a tool needs before it does something. */
export interface Asking {
  readonly label: string;
  readonly value: number;
  readonly take: (value: number) => void;
}

/** Something that can be done with what is chosen. */
export interface SketchTool {
  readonly label: string;
  /** Pressed on the sheet. */
  readonly key: string;
  readonly hint?: string;
  /** What it says or does; or the number that it needs. */
  readonly run: () => Asking | void;
}

const tidy = (v: number): number => roundTo(v, 3);

/** The piece of a name. */
export function pieceOf({ now: { profile, sketch } }: SketchEditing, name: string): PathPiece {
  const at = placeOfName(sketch, name);
  if (!at) throw new Error(`tools.pieceOf: a piece of the outline; got ${name}`);
  return profile[at.loop][at.index];
}

function beside({ now: { profile, sketch } }: SketchEditing, name: string, by: 1 | -1): string {
  const { loop, index } = placeOfName(sketch, name) ?? { loop: 0, index: 0 };
  return sketch.names[loop][(index + by + profile[loop].length) % profile[loop].length];
}

/** What can be done with what is chosen, or with all of the outline where nothing is. */
export function toolsFor(editing: SketchEditing): SketchTool[] {
  const corners = editing.chosen.flatMap((c) => (c.kind === 'corner' ? [c.name] : []));
  const pieces = editing.chosen.flatMap((c) => (c.kind === 'piece' ? [c.name] : []));
  if (corners.length === 0 && pieces.length === 0) return ofAll(editing);
  if (pieces.length === 0) return corners.length === 1 ? ofCorner(editing, corners[0]) : ofCorners(editing, corners);
  if (corners.length === 0) return pieces.length === 1 ? ofPiece(editing, pieces[0]) : ofPieces(editing, pieces);
  const [line] = pieces;
  if (corners.length === 2 && pieces.length === 1 && pieceOf(editing, line).kind === 'line') {
    const [from, to] = corners;
    return [{ label: 'Symmetric about the line', key: 'y', run: () => editing.addConstraints([{ kind: 'symmetric', from, to, about: line }]) }];
  }
  return [];
}

const saying = (editing: SketchEditing, key: string, ...made: NewConstraint[]): SketchTool => ({
  label: wordsFor(made[0].kind, editing.isTurned),
  key,
  run: () => editing.addConstraints(made),
});

function ofCorner(editing: SketchEditing, name: string): SketchTool[] {
  const { now, take, isTurned } = editing;
  const [piece, before] = [pieceOf(editing, name), pieceOf(editing, beside(editing, name, -1))];
  const size = tidy(Math.min(2, flatDistance(piece.from, piece.to) / 3, flatDistance(before.from, before.to) / 3));
  return [
    ...(isTurned && piece.from[1] > 0 ? [saying(editing, 'd', { kind: 'diameter', corner: name, value: tidy(2 * piece.from[1]) })] : []),
    saying(editing, 'x', { kind: 'fixed', corner: name, at: [piece.from[0], piece.from[1]] }),
    { label: 'Round it', key: 'r', run: () => void take('Rounded a corner', filletCorner(now, name, size)) },
    { label: 'Break it', key: 'c', run: () => void take('Broke a corner', chamferCorner(now, name, size)) },
    { label: 'Delete it', key: 'Delete', run: () => void take('Deleted a corner', deleteCorner(now, name)) },
  ];
}

const moveBy = (editing: SketchEditing, [dx, dy]: FlatPoint) =>
  editing.take('Moved the outline', moveOutline(editing.now, [dx, dy]), { at: ([x, y]) => [x + dx, y + dy], factor: 1 });

const scaleBy = (editing: SketchEditing, factor: number) =>
  editing.take('Scaled the outline', scaleOutline(editing.now, factor), { at: ([x, y]) => [x * factor, y * factor], factor });

function flipped({ profile }: Sketched): WholeChange {
  const [low, , high] = boxOfPath(profile.flat());
  return { at: ([x, y]) => [low + high - x, y], factor: 1 };
}

function ofCorners(editing: SketchEditing, names: readonly string[]): SketchTool[] {
  const { take, isTurned } = editing;
  const [a, b] = names;
  const [p, q] = [pieceOf(editing, a).from, pieceOf(editing, b).from];
  const each = (label: string, change: (s: Sketched, name: string) => ReturnType<typeof filletCorner>) => () => {
    let at = editing.now;
    for (const name of names) {
      const made = change(at, name);
      if (!made.ok) return void take(label, made);
      at = made.value;
    }
    take(label, at);
  };
  const two: SketchTool[] = [
    saying(editing, 'h', { kind: 'along', from: a, to: b, value: tidy(Math.abs(p[0] - q[0])) }),
    saying(editing, 'v', { kind: 'across', from: a, to: b, value: tidy(Math.abs(p[1] - q[1])) }),
    ...(isTurned ? [] : [{ ...saying(editing, 'y', { kind: 'symmetric', from: a, to: b, about: null }), hint: 'about the middle line, y = 0' }]),
    {
      label: 'Move the first onto the second',
      key: 'g',
      hint: isTurned ? 'all of the outline, along the axis' : 'all of the outline',
      run: () => void moveBy(editing, [q[0] - p[0], isTurned ? 0 : q[1] - p[1]]),
    },
    asking('Scale so that they are apart', 'k', flatDistance(p, q), (v) => scaleBy(editing, v / flatDistance(p, q))),
  ];
  const size = 0.5;
  return [
    ...(names.length === 2 ? two : []),
    {
      label: 'They stay there',
      key: 'x',
      run: () => editing.addConstraints(names.map((corner) => ({ kind: 'fixed', corner, at: [...pieceOf(editing, corner).from] }))),
    },
    { label: 'Round them', key: 'r', run: each('Rounded corners', (s, name) => filletCorner(s, name, size)) },
    { label: 'Break them', key: 'c', run: each('Broke corners', (s, name) => chamferCorner(s, name, size)) },
    { label: 'Delete them', key: 'Delete', run: () => void take('Deleted corners', deleteAll(editing.now, names)) },
  ];
}

function deleteAll(sketched: Sketched, names: readonly string[]): Sketched | undefined {
  let at: Sketched | undefined = sketched;
  for (const name of names) at = at && deleteCorner(at, name);
  return at;
}

const asking = (label: string, key: string, value: number, take: (value: number) => void): SketchTool => ({
  label: `${label} …`,
  key,
  run: () => ({ label, value: tidy(value), take }),
});

const offsetting = (editing: SketchEditing, names: readonly string[], label: string): SketchTool =>
  asking(label, 'o', 0.5, (v) => editing.take('Offset', offsetPieces(editing.now, names, v)));

function ofPiece(editing: SketchEditing, name: string): SketchTool[] {
  const { now, take } = editing;
  const piece = pieceOf(editing, name);
  const { from, to } = piece;
  const isLine = piece.kind === 'line';
  const deg = tidy((Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI);
  const long = flatDistance(from, to);
  return [
    ...(isLine
      ? [
          saying(editing, 'h', { kind: 'horizontal', piece: name }),
          saying(editing, 'v', { kind: 'vertical', piece: name }),
          saying(editing, 'l', { kind: 'length', piece: name, value: tidy(long) }),
          saying(editing, 'a', { kind: 'angle', piece: name, value: deg }),
        ]
      : [saying(editing, 'd', { kind: 'radius', piece: name, value: tidy(flatDistance(from, piece.centre)) })]),
    { label: 'Split it', key: 's', run: () => void take('Split a piece', splitPiece(now, name)) },
    { label: isLine ? 'Bend it' : 'Straighten it', key: 'b', run: () => void take(isLine ? 'Bent a piece' : 'Straightened a piece', bendPiece(now, name)) },
    offsetting(editing, [name], 'Offset it outwards by'),
    ...(isLine ? [{ label: 'Mirror about it', key: 'm', run: () => void take('Mirrored', mirrorAbout(now, name)) }] : []),
    ...(isLine ? [asking('Scale so that it is', 'k', long, (v) => scaleBy(editing, v / long))] : []),
    {
      label: 'Delete it',
      key: 'Delete',
      hint: 'its neighbours meet',
      run: () => void take('Deleted a piece', meetPieces(now, beside(editing, name, -1), beside(editing, name, 1))),
    },
  ];
}

function ofPieces(editing: SketchEditing, names: readonly string[]): SketchTool[] {
  const { now, take } = editing;
  const kinds = new Set(names.map((n) => pieceOf(editing, n).kind));
  const [first, second, ...more] = names;
  const isPair = more.length === 0;
  const areLines = !kinds.has('arc');
  const rest = names.slice(1);
  return [
    ...(areLines ? [{ ...saying(editing, 'h', ...names.map((piece): NewConstraint => ({ kind: 'horizontal', piece }))) }] : []),
    ...(areLines ? [{ ...saying(editing, 'v', ...names.map((piece): NewConstraint => ({ kind: 'vertical', piece }))) }] : []),
    ...(areLines ? [saying(editing, 'p', ...rest.map((s): NewConstraint => ({ kind: 'parallel', first, second: s })))] : []),
    ...(areLines && isPair ? [saying(editing, 'q', { kind: 'perpendicular', first, second })] : []),
    ...(kinds.size === 1 ? [saying(editing, 'e', ...rest.map((s): NewConstraint => ({ kind: 'equal', first, second: s })))] : []),
    ...(kinds.has('arc') && isPair ? [saying(editing, 't', { kind: 'tangent', first, second })] : []),
    ...(isPair
      ? [{ label: 'Let them meet', key: 'j', hint: 'what lies between goes', run: () => void take('Let two pieces meet', meetPieces(now, first, second)) }]
      : []),
    offsetting(editing, names, 'Offset them outwards by'),
  ];
}

function ofAll(editing: SketchEditing): SketchTool[] {
  const { now, take, isTurned } = editing;
  if (now.profile.length === 0) return [];
  return [
    { label: isTurned ? 'Turn end for end' : 'Turn it over', key: 'n', run: () => void take('Turned end for end', flipOutline(now), flipped(now)) },
    ...(isTurned
      ? []
      : [{ label: 'Turn a quarter', key: 'w', run: () => void take('Turned a quarter', turnOutline(now), { at: ([x, y]) => [-y, x], factor: 1 }) }]),
    {
      label: 'Keep it straight',
      key: 'h',
      hint: 'says of all of it what is level, square and tangent now',
      run: () => void take('What it is, said of it', sayWhatIs(now, isTurned)),
    },
    offsetting(editing, surfaceNames(now, isTurned), 'Offset all outwards by'),
    asking('Move along by', 'g', 0, (v) => moveBy(editing, [v, 0])),
    asking('Scale by', 'k', 1, (v) => scaleBy(editing, v)),
  ];
}
