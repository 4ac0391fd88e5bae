import { done, failed, type Result } from '#core/issues';
import { type FlatPoint, flatDistance, type HalfProfile, type PathPiece, reversePath, validateProfile } from '#core/outline';
import { colletSeat, connectionShape, type ConnectionSize, sayConnection } from '#core/standards';
import type { Segment, Stack } from './stack-schema.ts';

/** What a stack is: its half section, and where its connections lie. */
export interface StackProfile {
  /** Closed loops in [z, r], z towards the work from the gauge plane. */
  readonly profile: HalfProfile;
  /** Where each segment lies along z. */
  readonly places: readonly { readonly id: string; readonly from: number; readonly to: number }[];
  readonly mount: ConnectionSize | null;
  readonly seat: { readonly connection: ConnectionSize; readonly z: number } | null;
  /** Work end along z. */
  readonly end: number;
  /** What of the connection's standard is not drawn; empty for all of it. */
  readonly without: string;
}

/** The half section of a stack; what cannot be is refused with the segment's number. */
export function stackProfile({ connection, segments, bore }: Stack): Result<StackProfile> {
  const shape = connection && connectionShape(connection, connection.length);
  const outside: FlatPoint[] = shape ? shape.outside.map(([z, r]): FlatPoint => [z, r]) : [[0, 0]];
  const start = outside[outside.length - 1][0];
  if (segments.length === 0 && outside.length < 2) return failed('stack.empty', {});
  const pieces: PathPiece[] = [];
  const add = (to: FlatPoint) => {
    const from = pieces.at(-1)?.to ?? outside[0];
    if (flatDistance(from, to) > 0) pieces.push({ kind: 'line', from, to });
  };
  for (const p of outside.slice(1)) add(p);
  const places: { id: string; from: number; to: number }[] = [];
  let z = start;
  for (const [i, segment] of segments.entries()) {
    const fault = faultOf(segment);
    if (fault !== undefined) return failed('stack.bad-segment', { segment: i + 1, text: fault });
    if (segment.kind === 'ball' && i < segments.length - 1) return failed('stack.bad-segment', { segment: i + 1, text: 'a ball end must be the last one' });
    add([z, segment.from / 2]);
    const end: FlatPoint = [z + segment.length, segment.to / 2];
    const arc = arcOf(segment, [z, segment.from / 2], end);
    if (arc) pieces.push(arc);
    else add(end);
    places.push({ id: segment.id, from: z, to: end[0] });
    z = end[0];
  }
  const face = pieces.at(-1)?.to[1] ?? 0;
  const inner = bore && boreOf(bore, z, outside[0][0], face);
  if (inner && !inner.ok) return inner;
  for (const p of inner ? inner.value : [[z, 0] as const]) add(p);
  // Along the axis back to where it began.
  const from = pieces[pieces.length - 1].to;
  if (from[1] > 0) return failed('stack.bad-bore', { text: 'it does not end on the axis' });
  pieces.push({ kind: 'line', from, to: outside[0] });
  // Ran along z outside: half profiles run against it.
  const loop = reversePath(pieces);
  const [fault] = validateProfile([loop]);
  if (fault !== undefined) return failed('outline.bad-shape', { text: fault });
  return done({
    profile: [loop],
    places,
    mount: connection && { standard: connection.standard, size: connection.size },
    seat: bore && { connection: { standard: bore.standard, size: bore.size }, z },
    end: z,
    without: connection && !shape ? `the shape of ${sayConnection(connection)}` : (shape?.without ?? ''),
  });
}

// What is wrong with a segment, in words.
function faultOf({ kind, length, from, to, radius }: Segment): string | undefined {
  if (!(length > 0)) return 'its length is zero';
  if (from === 0 && to === 0) return 'its diameter is zero';
  if (kind === 'convex' || kind === 'concave') {
    const chord = Math.hypot(length, (to - from) / 2);
    if (radius < chord / 2) return `its radius must be at least ${(chord / 2).toFixed(3)} mm to reach from one end to the other`;
    const dip = kind === 'concave' ? deepest(length, from / 2, to / 2, radius) : 1;
    if (dip < 0) return 'its arc goes through the axis';
  }
  if (kind === 'ball' && (Math.abs(length - from / 2) > 1e-6 || to !== 0)) return 'a ball end is half as long as its diameter';
  return undefined;
}

function arcOf({ kind, radius }: Segment, from: FlatPoint, to: FlatPoint): PathPiece | undefined {
  if (kind === 'ball') return { kind: 'arc', from, to, centre: [from[0], 0], ccw: false };
  if (kind !== 'convex' && kind !== 'concave') return undefined;
  const centre = arcCentre(from, to, radius, kind);
  return { kind: 'arc', from, to, centre, ccw: kind === 'concave' };
}

// Centre of the shorter arc: towards the axis of a convex one, away from it of a concave one.
function arcCentre(from: FlatPoint, to: FlatPoint, radius: number, kind: 'convex' | 'concave'): FlatPoint {
  const chord = flatDistance(from, to);
  const off = Math.sqrt(Math.max(0, radius ** 2 - (chord / 2) ** 2)) * (kind === 'convex' ? 1 : -1);
  const [ux, uy] = [(to[0] - from[0]) / chord, (to[1] - from[1]) / chord];
  return [(from[0] + to[0]) / 2 + uy * off, (from[1] + to[1]) / 2 - ux * off];
}

// The least radius from the axis along a concave arc.
function deepest(length: number, from: number, to: number, radius: number): number {
  const [z, r] = arcCentre([0, from], [length, to], radius, 'concave');
  return z > 0 && z < length ? r - radius : Math.min(from, to);
}

// Corners of a bore from the face inwards, to the axis.
function boreOf({ standard, size, depth }: NonNullable<Stack['bore']>, z: number, back: number, face: number): Result<readonly FlatPoint[]> {
  const seat = standard === 'ER' ? colletSeat(Number(size)) : undefined;
  const corners: FlatPoint[] = seat
    ? [
        [z, seat.mouth / 2],
        [z - seat.depth, seat.ground / 2],
      ]
    : [
        [z, Number(size) / 2],
        [z - depth, Number(size) / 2],
      ];
  if (standard === 'ER' && !seat) return failed('stack.bad-bore', { text: `there is no ER ${size}` });
  const deep = corners[1][0];
  if (!(corners[0][1] > 0) || !(deep < z)) return failed('stack.bad-bore', { text: 'its diameter or its depth is zero' });
  if (corners[0][1] >= face)
    return failed('stack.bad-bore', { text: `it is ${(2 * corners[0][1]).toFixed(3)} wide at the face, which measures ${(2 * face).toFixed(3)}` });
  if (deep <= back) return failed('stack.bad-bore', { text: `it is deeper than the ${(z - back).toFixed(3)} mm that are there` });
  return done([...corners, [deep, 0]]);
}
