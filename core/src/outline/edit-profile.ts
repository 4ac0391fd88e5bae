import { circleThrough, type FlatPoint } from './flat.ts';
import { type PathPiece, placeOnPiece } from './path.ts';
import type { HalfProfile, ProfilePoint } from './profile.ts';

/** Where two pieces of a profile meet: the start of a piece. */
export interface CornerRef {
  readonly loop: number;
  readonly corner: number;
}

export const cornerOfProfile = (profile: HalfProfile, { loop, corner }: CornerRef): ProfilePoint => profile[loop][corner].from;

/** Puts a corner elsewhere; lines follow, arcs keep their middle and their other end. What is on the axis stays there. */
export function moveCorner(profile: HalfProfile, { loop, corner }: CornerRef, to: ProfilePoint): HalfProfile {
  const path = profile[loop];
  const before = (corner + path.length - 1) % path.length;
  const isOnAxis = path[corner].from[1] < 1e-9;
  const target: ProfilePoint = [to[0], isOnAxis ? 0 : Math.max(0, to[1])];
  return replaceLoop(
    profile,
    loop,
    path.map((p, i) => (i === corner ? withEnds(p, target, p.to) : i === before ? withEnds(p, p.from, target) : p)),
  );
}

/** Takes a corner away: the two pieces that met there become one line. Undefined where too little would be left. */
export function removeCorner(profile: HalfProfile, { loop, corner }: CornerRef): HalfProfile | undefined {
  const path = profile[loop];
  if (path.length < 4) return undefined;
  const before = (corner + path.length - 1) % path.length;
  const joined: PathPiece = { kind: 'line', from: path[before].from, to: path[corner].to };
  return replaceLoop(
    profile,
    loop,
    path.flatMap((p, i) => (i === before ? [joined] : i === corner ? [] : [p])),
  );
}

/**
 * Makes a piece straight: an arc becomes a line between its ends; a slanting line becomes level with the axis or square to it, whichever is nearer,
 * on the side that has more material.
 */
export function straightenPiece(profile: HalfProfile, loop: number, index: number): HalfProfile {
  const path = profile[loop];
  const piece = path[index];
  if (piece.kind === 'arc')
    return replaceLoop(
      profile,
      loop,
      path.map((p, i) => (i === index ? { kind: 'line', from: p.from, to: p.to } : p)),
    );
  const [[z0, r0], [z1, r1]] = [piece.from, piece.to];
  const next = (index + 1) % path.length;
  if (Math.abs(z1 - z0) >= Math.abs(r1 - r0)) {
    // An outside surface runs against z and goes up to its larger radius, a bore down to its smaller one.
    const r = z1 < z0 ? Math.max(r0, r1) : Math.min(r0, r1);
    return moveCorner(moveCorner(profile, { loop, corner: index }, [z0, r]), { loop, corner: next }, [z1, r]);
  }
  // Material lies on the left: a face that runs up looks along z.
  const z = r1 > r0 ? Math.max(z0, z1) : Math.min(z0, z1);
  return moveCorner(moveCorner(profile, { loop, corner: index }, [z, r0]), { loop, corner: next }, [z, r1]);
}

const replaceLoop = (profile: HalfProfile, loop: number, path: readonly PathPiece[]): HalfProfile => profile.map((p, i) => (i === loop ? path : p));

function withEnds(piece: PathPiece, from: FlatPoint, to: FlatPoint): PathPiece {
  if (piece.kind === 'line') return { kind: 'line', from, to };
  // What is all but straight becomes a line.
  const circle = circleThrough(from, placeOnPiece(piece, 0.5), to);
  return circle ? { ...piece, from, to, centre: circle.centre } : { kind: 'line', from, to };
}
