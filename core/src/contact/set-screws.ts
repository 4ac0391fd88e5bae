import { degFromRad, dot, type Frame, frameFromWorld, invert, length, type Motion, move, scale, subtract, turn, type Vec3 } from '#core/math';
import { type BodyGeometry, furthestAlong } from '#core/mesh';
import { extent, outwardOf } from './joint.ts';
import type { PlacedSolid } from './overlaps.ts';

/** Whether the set screws of a bore press on the flat of the shank in it. */
export interface ScrewContact {
  /** Screws of a row that look into the bore where the shank is, and how many of them press on a flat: of the row that does best. */
  readonly screws: number;
  readonly onFlat: number;
  /** Degrees about the seat's Z that would turn the nearest flat under the screws; 0 where it is there. */
  readonly turnBy: number;
  /** mm along the seat's Z that the shank would have to move so that every screw presses on the flat; null where no place would do. */
  readonly moveBy: number | null;
}

// Cosines: across the axis, and of a flat that is ground a little askew (2 degrees are usual on a slanted one).
const ACROSS = 0.03;
const SLANTED = 0.06;
// Degrees: a screw finds a flat that is turned by less.
const TURNED = 3;

interface Screw {
  readonly z: number;
  readonly deg: number;
}
interface ShankFlat {
  readonly deg: number;
  readonly from: number;
  readonly to: number;
}

/**
 * How the set screws of a holder's bore meet the flats of a round shank of `diameter` mm, at a seat told by its frame where it stands. Undefined where the bore
 * has no screws, or the shank no flat.
 */
export function screwContactOf(holder: readonly PlacedSolid[], piece: readonly PlacedSolid[], seat: Frame, diameter: number): ScrewContact | undefined {
  const inSeat = frameFromWorld(seat);
  const flats = flatsOfShank(piece, inSeat, diameter / 2);
  if (flats.length === 0) return undefined;
  const backwards = scale(seat.z, -1);
  const rear = -Math.max(
    ...piece.map(
      ({ body, worldFromFile }) => furthestAlong(body.mesh, turn(invert(worldFromFile), backwards)) + dot(subtract(worldFromFile.t, seat.origin), backwards),
    ),
  );
  // Screws behind the shank press on nothing.
  const screws = screwHoles(holder, inSeat, diameter / 2).filter((s) => s.z > rear);
  if (screws.length === 0) return undefined;
  const rows: Screw[][] = [];
  for (const screw of screws) {
    const row = rows.find(([first]) => Math.abs(turned(first.deg, screw.deg)) < TURNED);
    if (row) row.push(screw);
    else rows.push([screw]);
  }
  // Rows are there to choose from: the one that is on a flat, or nearest to one, is tightened.
  return rows.map((row) => contactOfRow(row, flats)).reduce((a, b) => (isBetter(b, a) ? b : a));
}

const isBetter = (a: ScrewContact, b: ScrewContact): boolean => {
  const [offA, offB] = [a.screws - a.onFlat, b.screws - b.onFlat];
  if (offA === 0 || offB === 0) return offA === 0 && (offB > 0 || a.screws > b.screws);
  return Math.abs(a.turnBy) < Math.abs(b.turnBy);
};

// Degrees from one direction to another, the short way.
const turned = (from: number, to: number): number => ((to - from + 540) % 360) - 180;

function contactOfRow(screws: readonly Screw[], flats: readonly ShankFlat[]): ScrewContact {
  const turnBy = flats.map((f) => turned(f.deg, screws[0].deg)).reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a));
  // The flats as they would lie under the screws.
  const under = flats.filter((f) => Math.abs(turned(f.deg + turnBy, screws[0].deg)) < TURNED);
  const isOn = (s: Screw, f: ShankFlat, by: number) => s.z >= f.from + by - 1e-6 && s.z <= f.to + by + 1e-6;
  const isThere = Math.abs(turnBy) < TURNED;
  const onFlat = isThere ? screws.filter((s) => under.some((f) => isOn(s, f, 0))).length : 0;
  // Moved so that the first or the last of the screws is just on the end of a flat, whichever is nearer.
  const zs = screws.map((s) => s.z);
  const moves = under
    .flatMap((f) => [0, Math.max(...zs) - f.to, Math.min(...zs) - f.from])
    .filter((by) => screws.every((s) => under.some((f) => isOn(s, f, by))));
  return {
    screws: screws.length,
    onFlat,
    turnBy: isThere ? 0 : turnBy,
    moveBy: moves.length === 0 ? null : moves.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a)),
  };
}

// Round holes across the bore that open into it: their axes meet its axis.
function screwHoles(solids: readonly PlacedSolid[], inSeat: Motion, boreRadius: number): Screw[] {
  const found = solids.flatMap(({ body, worldFromFile }) =>
    body.faces.flatMap(({ surface }, face): Screw[] => {
      if (surface.kind !== 'cylinder' || !surface.concave || surface.radius > 0.9 * boreRadius) return [];
      const axis = turn(inSeat, turn(worldFromFile, surface.axis));
      if (Math.abs(axis[2]) > ACROSS) return [];
      const at = move(inSeat, move(worldFromFile, surface.origin));
      if (at[2] > 0 || Math.abs(at[0] * axis[1] - at[1] * axis[0]) > 0.15 * boreRadius) return [];
      const along = reachAlong(body, face, inSeat, worldFromFile, axis);
      // One side of the axis only, and down to the bore.
      const side = along[0] + along[1] > 0 ? 1 : -1;
      const nearest = Math.min(Math.abs(along[0]), Math.abs(along[1]));
      if (along[0] * along[1] < 0 || nearest > 1.3 * boreRadius) return [];
      return [{ z: at[2], deg: degFromRad(Math.atan2(side * axis[1], side * axis[0])) }];
    }),
  );
  // The faces of one hole, split or stepped, are one screw.
  return found.filter((s, i) => !found.slice(0, i).some((o) => Math.abs(o.z - s.z) < 0.5 && Math.abs(turned(s.deg, o.deg)) < TURNED));
}

function reachAlong(body: BodyGeometry, face: number, inSeat: Motion, worldFromFile: Motion, axis: Vec3): [number, number] {
  return extent(body, face, (p) => {
    const q = move(inSeat, move(worldFromFile, p));
    return q[0] * axis[0] + q[1] * axis[1];
  });
}

// Plane faces along the axis, a little inside of the shank's round.
function flatsOfShank(solids: readonly PlacedSolid[], inSeat: Motion, radius: number): ShankFlat[] {
  return solids.flatMap(({ body, worldFromFile }) =>
    body.faces.flatMap(({ surface }, face): ShankFlat[] => {
      if (surface.kind !== 'plane') return [];
      const at = move(inSeat, move(worldFromFile, surface.origin));
      // Most planes are told off by their place and direction alone, whichever side is outside.
      const plain = turn(inSeat, turn(worldFromFile, surface.normal));
      if (Math.abs(plain[2]) > SLANTED || Math.abs(at[0] * plain[0] + at[1] * plain[1]) > 0.99 * radius) return [];
      const normal = turn(inSeat, turn(worldFromFile, outwardOf(body, face)));
      if (length(normal) < 0.5) return [];
      const height = at[0] * normal[0] + at[1] * normal[1];
      if (height < 0.4 * radius || height > 0.99 * radius) return [];
      const [from, to] = extent(body, face, (p) => move(inSeat, move(worldFromFile, p))[2]);
      // Within the round: a head or a flange beside it has flats of its own.
      const widest = extent(body, face, (p) => Math.hypot(...move(inSeat, move(worldFromFile, p)).slice(0, 2)))[1];
      return widest > 1.02 * radius + 0.02 ? [] : [{ deg: degFromRad(Math.atan2(normal[1], normal[0])), from, to }];
    }),
  );
}
