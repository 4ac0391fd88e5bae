import { areaOfUnits, common, type Polygons, toUnits, UNITS } from '#core/clipping';
import { cross, degFromRad, dot, type Frame, frameFromWorld, length, type Motion, move, normalize, turn, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import type { PlacedSolid } from './overlaps.ts';

/** How a piece sits on its seat, on the true faces. */
export interface Contact {
  /** What touches: flat faces, or a round shank in a bore. */
  readonly kind: 'face' | 'shank';
  /** mm. Of faces how far they stand apart (negative: sunk in); of a shank how much the bore is larger all round (negative: too small). */
  readonly gap: number;
  /** Degrees between the faces, or between the axes. */
  readonly tilt: number;
  /** mm of the shank that are in the bore; of faces absent. */
  readonly over?: number;
}

// mm and cosine: faces that could be meant.
const NEAR_FACE = 2;
// mm2. Faces that share less, as seen along the seat, do not touch.
const LEAST_SHARED = 0.5;
// mm that a shoulder reaches past the bore at least.
const PAST_BORE = 0.2;
const SQUARE_TO_Z = 0.96;
const ALONG_Z = 0.96;

/** What touches at a seat, which is told by its frame where it stands. */
export function contactsOf(holder: readonly PlacedSolid[], piece: readonly PlacedSolid[], seat: Frame): Contact[] {
  const shank = shankContact(holder, piece, seat);
  // What is within the bore is no shoulder: the walls of an engraving, the end of a flat.
  const face = faceContact(holder, piece, seat, shank ? shank.radius + PAST_BORE : 0);
  return [...(face ? [face] : []), ...(shank ? [shank.contact] : [])];
}

interface Flat {
  readonly normal: Vec3;
  /** Position along the seat's Z, at the face's nearest corner. */
  readonly at: number;
  /** Its triangles as seen along the seat's Z. */
  readonly seen: Polygons;
}

function faceContact(holder: readonly PlacedSolid[], piece: readonly PlacedSolid[], seat: Frame, outside: number): Contact | undefined {
  const inSeat = frameFromWorld(seat);
  const own = flats(piece, inSeat, -1, outside);
  const others = flats(holder, inSeat, 1, outside);
  let best: Contact | undefined;
  for (const a of own)
    for (const b of others) {
      const gap = a.at - b.at;
      if (best && Math.abs(gap) >= Math.abs(best.gap)) continue;
      // A wall of an engraving, or of a shank in a slot, faces nothing.
      if (sharedArea(a, b) < LEAST_SHARED) continue;
      best = { kind: 'face', gap, tilt: degFromRad(Math.atan2(length(cross(a.normal, b.normal)), -dot(a.normal, b.normal))) };
    }
  return best;
}

// Plane faces at the seat that look along its Z (sense 1) or against it, and reach further than `outside` mm from its axis.
function flats(solids: readonly PlacedSolid[], inSeat: Motion, sense: 1 | -1, outside: number): Flat[] {
  return solids.flatMap(({ body, worldFromFile }) =>
    body.faces.flatMap(({ surface }, index): Flat[] => {
      if (surface.kind !== 'plane') return [];
      // A rear face that is deep in a bore is not meant.
      const at = move(inSeat, move(worldFromFile, surface.origin))[2];
      if (Math.abs(at) >= NEAR_FACE) return [];
      const outward = outwardOf(body, index);
      const normal = turn(inSeat, turn(worldFromFile, outward));
      if (sense * normal[2] < SQUARE_TO_Z) return [];
      const moved = (corner: Vec3) => move(inSeat, move(worldFromFile, corner));
      const [, reach] = extent(body, index, (corner) => {
        const [x, y] = moved(corner);
        return Math.hypot(x, y);
      });
      return reach > outside ? [{ normal, at, seen: trianglesSeen(body, index, moved) }] : [];
    }),
  );
}

function trianglesSeen({ mesh: { positions: p, triangles: t }, faceStart }: BodyGeometry, face: number, moved: (corner: Vec3) => Vec3): Polygons {
  return Array.from({ length: faceStart[face + 1] - faceStart[face] }, (_, i) =>
    toUnits(
      [0, 1, 2].map((k) => {
        const corner = 3 * t[3 * (faceStart[face] + i) + k];
        const [x, y] = moved([p[corner], p[corner + 1], p[corner + 2]]);
        return [x, y];
      }),
    ),
  );
}

// mm2 that two faces share, as seen along the seat.
const sharedArea = (a: Flat, b: Flat): number => common(a.seen, b.seen).reduce((sum, p) => sum + areaOfUnits(p), 0) / UNITS ** 2;

/** The outward normal of a face of a body, in its file's coordinates, of length 1; 0 of a face without area. */
export function outwardOf({ mesh: { positions: p, triangles: t }, faceStart }: BodyGeometry, face: number): Vec3 {
  let n: Vec3 = [0, 0, 0];
  const at = (i: number): Vec3 => [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
  for (let k = 3 * faceStart[face]; k < 3 * faceStart[face + 1]; k += 3) {
    const [a, b, c] = [at(t[k]), at(t[k + 1]), at(t[k + 2])];
    const m = cross([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]]);
    n = [n[0] + m[0], n[1] + m[1], n[2] + m[2]];
  }
  return length(n) > 1e-12 ? normalize(n) : [0, 0, 0];
}

interface Round {
  readonly axis: Vec3;
  readonly radius: number;
  readonly from: number;
  readonly to: number;
}

// The bore about the seat's axis that the shank is in: the narrowest that takes it over some length, and the widest part of the shank that is in there.
function shankContact(
  holder: readonly PlacedSolid[],
  piece: readonly PlacedSolid[],
  seat: Frame,
): { readonly contact: Contact; readonly radius: number } | undefined {
  const inSeat = frameFromWorld(seat);
  const bores = rounds(holder, inSeat, true);
  const shanks = rounds(piece, inSeat, false);
  let best: { bore: Round; shank: Round; long: number } | undefined;
  for (const bore of bores)
    for (const shank of shanks) {
      const long = Math.min(bore.to, shank.to) - Math.max(bore.from, shank.from);
      const gap = bore.radius - shank.radius;
      // Another bore than the one that holds it is much wider, or much narrower.
      if (long < 1 || gap > 0.1 * shank.radius + 0.3 || gap < -0.25 * shank.radius) continue;
      if (!best || long > best.long) best = { bore, shank, long };
    }
  if (!best) return undefined;
  const { bore, shank } = best;
  // Grooves and slots part a bore and a shank into stretches: all of one diameter hold it.
  const spans = bores
    .filter((b) => Math.abs(b.radius - bore.radius) < SAME_RADIUS)
    .flatMap((b) =>
      shanks.filter((s) => Math.abs(s.radius - shank.radius) < SAME_RADIUS).map((s): [number, number] => [Math.max(b.from, s.from), Math.min(b.to, s.to)]),
    )
    .filter(([from, to]) => to > from);
  const contact: Contact = {
    kind: 'shank',
    gap: bore.radius - shank.radius,
    tilt: degFromRad(Math.asin(Math.min(1, length(cross(bore.axis, shank.axis))))),
    over: lengthOfAll(spans),
  };
  return { contact, radius: bore.radius };
}

// mm
const SAME_RADIUS = 0.005;

// How long stretches are together, where they overlap once.
function lengthOfAll(spans: readonly [number, number][]): number {
  let [sum, reached] = [0, -Infinity];
  for (const [from, to] of [...spans].sort((a, b) => a[0] - b[0])) {
    sum += Math.max(0, to - Math.max(from, reached));
    reached = Math.max(reached, to);
  }
  return sum;
}

function rounds(solids: readonly PlacedSolid[], inSeat: Motion, concave: boolean): Round[] {
  return solids.flatMap(({ body, worldFromFile }) =>
    body.faces.flatMap(({ surface }, index): Round[] => {
      if (surface.kind !== 'cylinder' || surface.concave !== concave) return [];
      const axis = turn(inSeat, turn(worldFromFile, surface.axis));
      if (Math.abs(axis[2]) < ALONG_Z) return [];
      const at = move(inSeat, move(worldFromFile, surface.origin));
      if (Math.hypot(at[0] - (at[2] * axis[0]) / axis[2], at[1] - (at[2] * axis[1]) / axis[2]) > 1) return [];
      const [from, to] = extent(body, index, (corner) => move(inSeat, move(worldFromFile, corner))[2]);
      return [{ axis, radius: surface.radius, from, to }];
    }),
  );
}

/** Least and largest value over the corners of a face. */
export function extent({ mesh: { positions: p, triangles: t }, faceStart }: BodyGeometry, face: number, valueAt: (corner: Vec3) => number): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (let k = 3 * faceStart[face]; k < 3 * faceStart[face + 1]; k++) {
    const i = 3 * t[k];
    const value = valueAt([p[i], p[i + 1], p[i + 2]]);
    [low, high] = [Math.min(low, value), Math.max(high, value)];
  }
  return [low, high];
}
