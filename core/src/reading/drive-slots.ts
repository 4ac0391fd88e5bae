import { cross, dot, scale, subtract, type Vec3 } from '#core/math';
import { type FaceLook, faceRadius, type PlaneLook, planesOf, refOf, type FaceRef, sayFace } from './face-table.ts';
import { extentOfFace } from './round-groups.ts';

/** A slot that the spindle's key goes into. */
export interface DriveSlot {
  /** Square to the axis, from the axis through the slot. */
  readonly direction: Vec3;
  /** mm. */
  readonly width: number;
  readonly evidence: string;
  readonly faces: readonly FaceRef[];
}

// mm. Walls of a slot stand the same distance beside the axis; depths that differ by more tell one slot from the other.
const SAME = 0.05;
const LEAST_HALF = 1.5;
const PARALLEL = 1 - 1e-6;

/**
 * The drive slot of a taper: two walls along the axis that look at each other, as far beside it, open to the outside. Hollow tapers have theirs in
 * the small end (ISO 12164-1, form A), 7/24 tapers in the flange (ISO 7388). Of two opposite ones the deeper; where they are alike, either.
 */
export function findDriveSlot(
  faces: readonly FaceLook[],
  axis: { readonly origin: Vec3; readonly direction: Vec3 },
  /** Positions along the axis that the walls' middles lie between, and the radius that they reach out to at least. */
  { from, to, reach }: { readonly from: number; readonly to: number; readonly reach: number },
): DriveSlot | undefined {
  const walls = planesOf(faces)
    .flatMap((face) => wallOf(face, axis))
    .filter((w) => w.middle > from && w.middle < to && w.reach > reach);
  const slots = walls.flatMap((a, i) => {
    const b = walls
      .slice(i + 1)
      .find((w) => dot(w.face.outward, a.face.outward) < -PARALLEL && dot(w.way, a.way) > 0 && Math.abs(w.half - a.half) < SAME && w.half + a.half < reach);
    return b ? [{ a, b, depth: Math.max(a.depth, b.depth) }] : [];
  });
  if (slots.length === 0) return undefined;
  const deepest = Math.max(...slots.map((s) => s.depth));
  const best = slots.filter((s) => s.depth > deepest - SAME);
  const opposite = best.length > 1;
  // Alike ones: the way that has the larger sum of coordinates, so that it does not hang on the order of the faces.
  const { a, b } = best.reduce((p, q) => (sumOf(q.a.way) > sumOf(p.a.way) + 1e-9 ? q : p));
  const alike = opposite ? `, one of ${best.length} alike` : slots.length > 1 ? ', the deeper one' : '';
  return {
    direction: a.way,
    width: a.half + b.half,
    evidence: `X through the drive slot between ${sayFace(a.face)} and ${sayFace(b.face)}, ${(a.half + b.half).toFixed(2)} wide${alike}`,
    faces: [refOf(a.face), refOf(b.face)],
  };
}

interface Wall {
  readonly face: PlaneLook;
  /** Distance beside the axis, mm. */
  readonly half: number;
  /** From the axis towards the wall's middle, along the wall. */
  readonly way: Vec3;
  /** Along the axis. */
  readonly middle: number;
  readonly reach: number;
  /** Length of the wall times its height: how deep the slot is, either way. */
  readonly depth: number;
}

function wallOf(face: PlaneLook, axis: { readonly origin: Vec3; readonly direction: Vec3 }): Wall[] {
  if (Math.abs(dot(face.outward, axis.direction)) > 1e-4) return [];
  const from = subtract(face.centre, axis.origin);
  // A wall looks over the slot's middle, which holds the axis.
  const half = -dot(from, face.outward);
  if (half < LEAST_HALF) return [];
  const along = cross(axis.direction, face.outward);
  const beside = dot(from, along);
  if (Math.abs(beside) < 1) return [];
  const [low, high] = extentOfFace(face, axis.origin, axis.direction);
  const way = scale(along, Math.sign(beside));
  const [near, far] = extentOfFace(face, axis.origin, way);
  return [{ face, half, way, middle: (low + high) / 2, reach: faceRadius(face, axis), depth: high - low + (far - near) }];
}

const sumOf = (v: Vec3): number => v[0] + v[1] + v[2];
