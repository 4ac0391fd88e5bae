// Nothing floats, nothing overlaps: how each piece sits on its seat, and which bodies go through each other.
import { type Contact, contactsOf, type Overlap, overlapOf, type PlacedSolid, type ScrewContact, screwContactOf } from '#core/contact';
import type { OverlapSolver } from '#core/kernel';
import { roundTo } from '#core/math';
import type { Model } from '#core/mesh';
import type { Check, ComponentRecord, Piece } from '#core/records';
import { type ChainOfPieces, type ComponentsById, placeFrame, placePieces } from './join.ts';
import { type PlacedBody, placeBodies } from './mass.ts';

/** How a piece sits on its seat. */
export interface SeatContact extends Contact {
  readonly piece: string;
  readonly on: string;
}

/** How the set screws of a seat meet the flats of the shank in it. */
export interface SeatScrews extends ScrewContact {
  readonly piece: string;
  readonly on: string;
}

/** Two bodies that go through each other. */
export interface BodyOverlap extends Overlap {
  readonly between: readonly [{ readonly piece: string; readonly body: string }, { readonly piece: string; readonly body: string }];
}

export interface Fits {
  readonly contacts: readonly SeatContact[];
  readonly screws: readonly SeatScrews[];
  readonly overlaps: readonly BodyOverlap[];
  /** Bodies that are not closed, so that nothing can be said of them. */
  readonly unknown: readonly { readonly piece: string; readonly body: string }[];
  /** Pairs of bodies that were looked at. */
  readonly pairs: number;
}

// mm. Faces further apart are not seated; a bore that is wider by more lets a shank rattle.
const SEATED = 0.01;
const LOOSE = 0.1;
// Degrees.
const SQUARE = 0.05;

const solidOf = ({ body, gaugeFromFile }: PlacedBody): PlacedSolid => ({ body, worldFromFile: gaugeFromFile });

/**
 * Looks at every joint, and at every two bodies of different pieces; within a piece at what cuts against its tool body, for an insert that is sunk into its
 * pocket. In the gauge frame.
 */
export function findFits(
  solver: OverlapSolver,
  assembly: ChainOfPieces,
  components: ComponentsById,
  models: Readonly<Record<string, Model | undefined>>,
): Fits {
  const placed = placePieces(assembly, components);
  const bodies = placeBodies(assembly, components, models, placed);
  const of = (id: string) => bodies.filter((b) => b.piece === id).map(solidOf);
  const joints = assembly.pieces.flatMap((piece) => {
    const joint = jointOf(piece, assembly, components, placed);
    return joint ? [{ ...joint, piece: piece.id }] : [];
  });
  const contacts = joints.flatMap(({ on, piece, seat }): SeatContact[] => contactsOf(of(on), of(piece), seat).map((c) => ({ ...c, piece, on })));
  const screws = joints.flatMap(({ on, piece, seat, shank }): SeatScrews[] => {
    const found = shank === undefined ? undefined : screwContactOf(of(on), of(piece), seat, shank);
    return found ? [{ ...found, piece, on }] : [];
  });
  const overlaps: BodyOverlap[] = [];
  const unknown = new Map<string, { piece: string; body: string }>();
  let pairs = 0;
  for (const [i, a] of bodies.entries())
    for (const b of bodies.slice(i + 1)) {
      if (!areCompared(a, b)) continue;
      pairs++;
      const found = overlapOf(solver, solidOf(a), solidOf(b));
      if (found === null) for (const x of [a, b]) if (!x.body.closed) unknown.set(`${x.piece} ${x.body.id}`, { piece: x.piece, body: x.body.id });
      if (found) overlaps.push({ ...found, between: [nameOf(a), nameOf(b)] });
    }
  return { contacts, screws, overlaps: overlaps.sort((x, y) => y.depth - x.depth), unknown: [...unknown.values()], pairs };
}

const nameOf = ({ piece, body }: PlacedBody) => ({ piece, body: body.id });

function areCompared(a: PlacedBody, b: PlacedBody): boolean {
  if (a.piece !== b.piece) return true;
  const roleOf = ({ component, body }: PlacedBody) => component.bodies.find((e) => e.id === body.id)?.role;
  return [roleOf(a), roleOf(b)].sort().join() === 'cutting,tool body';
}

function jointOf(piece: Piece, assembly: ChainOfPieces, components: ComponentsById, placed: ReturnType<typeof placePieces>) {
  const parent = assembly.pieces.find((p) => p.id === piece.parent?.pieceId);
  const [holder, component] = [parent && components[parent.componentId], components[piece.componentId]];
  const gaugeFromHolder = parent && placed.get(parent.id);
  const seat = holder?.seats.find((s) => s.id === piece.parent?.seatId);
  if (!parent || !seat || !component?.mount || !gaugeFromHolder || !placed.has(piece.id)) return undefined;
  const { standard, size } = component.mount.connection;
  return { on: parent.id, seat: placeFrame(gaugeFromHolder, seat.frame), shank: standard === 'cylindrical' ? Number(size) : undefined };
}

/** What was found, as checks of the assembly. */
export function checkFits({ contacts, screws, overlaps, unknown, pairs }: Fits, assembly: ChainOfPieces, components: ComponentsById): Check[] {
  const componentOf = (id: string): ComponentRecord | undefined => components[assembly.pieces.find((p) => p.id === id)?.componentId ?? ''];
  const nameOfPiece = (id: string): string => componentOf(id)?.name ?? id;
  const seatOf = (piece: string, on: string) =>
    componentOf(on)?.seats.find((s) => s.id === assembly.pieces.find((p) => p.id === piece)?.parent?.seatId)?.connection;
  const isPressed = (piece: string, into: string) => assembly.pieces.some((p) => p.id === piece && p.pressed && p.parent?.pieceId === into);
  const checks: Check[] = [
    ...contacts.map((c) =>
      isPressed(c.piece, c.on) && c.gap < 0
        ? pressed(c.gap, nameOfPiece(c.piece), nameOfPiece(c.on))
        : checkContact(c, nameOfPiece(c.piece), nameOfPiece(c.on), seatOf(c.piece, c.on)?.clamps),
    ),
    ...screws.map((s) => checkScrews(s, nameOfPiece(s.piece), nameOfPiece(s.on))),
  ];
  for (const c of contacts) {
    const size = Number(componentOf(c.piece)?.mount?.connection.size);
    if (c.kind === 'shank' && c.over !== undefined && componentOf(c.piece)?.mount?.connection.standard === 'cylindrical' && c.over < 2 * size)
      checks.push({
        code: 'held-length',
        state: 'warn',
        message: `Only ${roundTo(c.over, 1)} mm of the bore of ${nameOfPiece(c.on)} hold ${nameOfPiece(c.piece)}; twice the shank (${2 * size} mm) is usual.`,
        value: roundTo(c.over, 3),
        limit: 2 * size,
      });
  }
  const isMeant = ([a, b]: BodyOverlap['between']) => isPressed(a.piece, b.piece) || isPressed(b.piece, a.piece);
  for (const { between, depth, volume, at } of overlaps) {
    if (isMeant(between)) continue;
    const [a, b] = between.map(({ piece, body }) => {
      const component = componentOf(piece);
      const entry = component && component.bodies.length > 1 ? component.bodies.find((e) => e.id === body) : undefined;
      return entry ? `${component?.name} (${entry.name})` : (component?.name ?? piece);
    });
    checks.push({
      code: 'overlap',
      state: 'fail',
      message: `${a} goes ${roundTo(depth, 3)} mm deep into ${b}, ${roundTo(volume, 2)} mm³, deepest at ${at.map((v) => roundTo(v, 2)).join(', ')}.`,
      value: roundTo(depth, 4),
      limit: 0,
    });
  }
  for (const { piece, body } of unknown)
    checks.push({
      code: 'overlap',
      state: 'warn',
      message: `${nameOfPiece(piece)}: ${body} is not closed, so whether it goes through something is not known.`,
    });
  if (overlaps.every((o) => isMeant(o.between)) && pairs > 0)
    checks.push({ code: 'overlap', state: 'pass', message: `Nothing goes through anything else (${pairs} pairs of bodies)` });
  return checks;
}

const pressed = (gap: number, name: string, on: string): Check => ({
  code: 'contact',
  state: 'pass',
  message: `${name} is pressed or threaded into ${on}, over by ${roundTo(-gap, 3)} mm`,
  value: roundTo(gap, 4),
  limit: 0,
});

function checkScrews({ screws, onFlat, turnBy, moveBy }: SeatScrews, name: string, on: string): Check {
  const numbers = { value: onFlat, limit: screws };
  const they = screws === 1 ? `The set screw of ${on} presses` : `The set screws of ${on} press`;
  if (onFlat === screws) return { code: 'set-screws', state: 'pass', message: `${they} on the flat of ${name}`, ...numbers };
  const ways = [
    ...(turnBy === 0 ? [] : [`a roll of ${roundTo(turnBy, 1)}° more`]),
    ...(moveBy === null || Math.abs(moveBy) < 1e-6 ? [] : [`a stick-out of ${roundTo(Math.abs(moveBy), 2)} mm ${moveBy > 0 ? 'more' : 'less'}`]),
  ];
  const help = moveBy === null ? 'no place of it brings all of them onto it' : `${ways.join(' and ')} brings it under`;
  return {
    code: 'set-screws',
    state: 'warn',
    message: `${they} beside the flat of ${name}${screws > 1 ? ` (${onFlat} of ${screws} on it)` : ''}: ${help}.`,
    ...numbers,
  };
}

// A seat that closes on the shank leaves no gap, as wide as it is drawn.
function checkContact({ kind, gap, tilt, over }: SeatContact, name: string, on: string, clamps: readonly [number, number] | undefined): Check {
  const numbers = { value: roundTo(gap, 4), limit: kind === 'face' ? SEATED : LOOSE };
  if (tilt > SQUARE)
    return { code: 'contact', state: 'fail', message: `${name} sits askew on ${on}, by ${roundTo(tilt, 3)}°.`, value: roundTo(tilt, 4), limit: SQUARE };
  if (kind === 'face') {
    if (Math.abs(gap) <= SEATED) return { code: 'contact', state: 'pass', message: `${name} touches the face of ${on}`, ...numbers };
    return gap > 0
      ? { code: 'contact', state: 'warn', message: `${name} stands ${roundTo(gap, 3)} mm off the face of ${on}.`, ...numbers }
      : { code: 'contact', state: 'fail', message: `${name} is sunk ${roundTo(-gap, 3)} mm into the face of ${on}.`, ...numbers };
  }
  if (gap < -0.001)
    return { code: 'contact', state: 'fail', message: `${name} is thicker than its bore in ${on}, by ${roundTo(-gap, 3)} mm all round.`, ...numbers };
  if (clamps && gap <= (clamps[1] - clamps[0]) / 2 + LOOSE)
    return { code: 'contact', state: 'pass', message: `${on} closes on ${name}, over ${roundTo(over ?? 0, 1)} mm of it`, ...numbers };
  if (gap > LOOSE) return { code: 'contact', state: 'warn', message: `The bore of ${on} is ${roundTo(gap, 3)} mm wider all round than ${name}.`, ...numbers };
  return {
    code: 'contact',
    state: 'pass',
    message: `${name} fits its bore in ${on}, ${roundTo(gap, 3)} mm all round, over ${roundTo(over ?? 0, 1)} mm of it`,
    ...numbers,
  };
}
