import { addScaled, type Frame, IDENTITY_FRAME, normalize, type Vec3 } from '#core/math';
import { endsOnAxis, type FlatPoint, type PathPiece } from '#core/outline';
import { type ComponentRecord, type Connection, cornerTowards, type FactOrigin, type OutlineRecord, type Tip } from '#core/records';
import { sayConnection } from '#core/standards';
import { extentOf } from './outline-facts.ts';

export type OutlineMarks = Pick<ComponentRecord, 'mount' | 'seats' | 'tips'>;

/** Whether a mark came with an outline or with data, so that it follows; one that was changed by hand does not. */
export const isDrawnMark = (mark: { readonly origin: FactOrigin }): boolean => mark.origin.from === 'drawn' || mark.origin.from === 'data';

const drawn = (evidence: string): FactOrigin => ({ from: 'drawn', evidence });

// An insert lies in the turning plane of its mount: Y is the normal of its top.
const INSERT_FRAME: Omit<Frame, 'origin'> = { z: [1, 0, 0], x: [0, 1, 0] };

/** Mount, seat and tips of a component as its outline says them, in the shape's coordinates. */
export function outlineMarks(outline: OutlineRecord): OutlineMarks {
  const { profile, purpose, mount, seat } = outline;
  if (profile.length === 0) return { mount: null, seats: [], tips: [] };
  if (purpose === 'insert') return insertMarks(outline);
  const { high, radius } = extentOf(profile);
  const connection = (id: string, name: string, z: number, of: Connection['connection'], evidence: string): Connection => ({
    id,
    name,
    frame: { ...IDENTITY_FRAME, origin: [0, 0, z] },
    connection: { standard: of.standard, size: of.size },
    origin: drawn(evidence),
  });
  const tip: Tip = {
    id: 'outline-tip',
    name: 'Tip',
    noseRadius: 0,
    noseCentre: [0, 0, high],
    corner: { x: 0, z: 1 },
    programmedPoint: 'virtual tip',
    origin: drawn(`where the outline ends on its axis; cuts turning ${outline.rotation}`),
  };
  return {
    mount: mount && connection('outline-mount', 'Mount', outline.mountZ, mount, `${sayConnection(mount)}, as the outline has it`),
    seats: seat ? [connection('outline-seat', 'Seat', seat.z, seat, `${sayConnection(seat)}, as the outline has it`)] : [],
    tips: purpose === 'cutter' && endsOnAxis(profile, high, radius / 5) ? [tip] : [],
  };
}

function insertMarks({ profile: [loop], insert }: OutlineRecord): OutlineMarks {
  const { hole, thickness } = insert;
  const mount: Connection | null = hole && {
    id: 'outline-mount',
    name: 'Mount',
    frame: { ...INSERT_FRAME, origin: [...hole.at, -thickness] },
    connection: { standard: 'bolted face', size: hole.diameter },
    origin: drawn('its hole, on the face that it lies on'),
  };
  const frame: Frame = mount?.frame ?? { ...INSERT_FRAME, origin: [0, 0, 0] };
  const isCutting = (i: number) => insert.cutting === null || insert.cutting.includes(i);
  const tips = loop.flatMap((piece, i): Tip[] => {
    const nose = noseAt(loop, i);
    if (!nose || !isCutting(i)) return [];
    const { centre, radius, towards } = nose;
    return [
      {
        id: `outline-tip-${i}`,
        name: '',
        noseRadius: Math.round(radius * 1e6) / 1e6,
        noseCentre: [...centre, 0],
        corner: cornerTowards(towards, frame),
        towards,
        rake: [0, 0, 1],
        programmedPoint: 'virtual tip',
        origin: drawn(`a rounded corner of the outline${piece.kind === 'line' ? ', sharp' : ''}`),
      },
    ];
  });
  return { mount, seats: [], tips: tips.map((t, i) => ({ ...t, name: tips.length > 1 ? `Tip ${i + 1}` : 'Tip' })) };
}

// Share of the outline's size that a nose's radius takes at most: more is a round insert, or a side.
const LARGEST_NOSE = 0.3;
// Degrees that the outline turns by at a corner, at least.
const LEAST_TURN = 20;

// A convex arc between two straight edges, which it touches.
function noseAt(loop: readonly PathPiece[], i: number): { centre: FlatPoint; radius: number; towards: Vec3 } | undefined {
  const [before, piece, after] = [loop[(i + loop.length - 1) % loop.length], loop[i], loop[(i + 1) % loop.length]];
  if (piece.kind !== 'arc' || !piece.ccw || before.kind !== 'line' || after.kind !== 'line') return undefined;
  const size = Math.max(...loop.map((p) => Math.hypot(p.from[0] - piece.centre[0], p.from[1] - piece.centre[1])));
  const radius = Math.hypot(piece.from[0] - piece.centre[0], piece.from[1] - piece.centre[1]);
  const way = ({ from, to }: PathPiece): Vec3 => normalize([to[0] - from[0], to[1] - from[1], 0]);
  const [u, v] = [way(before), way(after)];
  const turn = Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]);
  if (radius > LARGEST_NOSE * size || turn < (LEAST_TURN * Math.PI) / 180) return undefined;
  return { centre: piece.centre, radius, towards: normalize(addScaled(u, v, -1)) };
}
