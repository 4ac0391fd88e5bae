import { shareOnArc } from './box.ts';
import { flatDistance, type FlatPoint } from './flat.ts';
import { areaOfPath, lengthOfPiece, type PathPiece, placeOnPiece } from './path.ts';
import type { HalfProfile } from './profile.ts';

// mm. What is nearer to the plane lies on it.
const ON_PLANE = 1e-9;

/** A half profile cut in two by the plane z = `at`: what lies below it and what lies above, each closed along the plane. */
export function splitProfile(profile: HalfProfile, at: number): { below: HalfProfile; above: HalfProfile } {
  return { below: profile.flatMap((loop) => keepSide(loop, at, -1)), above: profile.flatMap((loop) => keepSide(loop, at, 1)) };
}

/** The stretch of a half profile from z = `from` to z = `to`. */
export const stretchOfProfile = (profile: HalfProfile, from: number, to: number): HalfProfile => splitProfile(splitProfile(profile, from).above, to).below;

function keepSide(loop: readonly PathPiece[], at: number, side: 1 | -1): PathPiece[][] {
  const parts = loop.flatMap((piece) => cutAt(piece, at));
  const kept = parts.filter((p) => side * (placeOnPiece(p, 0.5)[0] - at) > ON_PLANE);
  if (kept.length === 0) return [];
  if (kept.length === parts.length) return [[...loop]];
  const chains = chainsOf(kept);
  // Where chains begin and end on the plane, from the axis outwards: material lies between the first and the second, the third and the fourth, ...
  const ends = chains.flatMap((chain, i) => [
    { chain: i, isStart: true, r: chain[0].from[1] },
    { chain: i, isStart: false, r: chain[chain.length - 1].to[1] },
  ]);
  ends.sort((a, b) => a.r - b.r);
  const next = new Map<number, number>();
  for (let i = 0; i + 1 < ends.length; i += 2) {
    const [a, b] = [ends[i], ends[i + 1]];
    const [end, start] = a.isStart ? [b, a] : [a, b];
    next.set(end.chain, start.chain);
  }
  const out: PathPiece[][] = [];
  const left = new Set(chains.keys());
  for (const first of chains.keys()) {
    if (!left.has(first)) continue;
    const path: PathPiece[] = [];
    let i: number | undefined = first;
    while (i !== undefined && left.has(i)) {
      left.delete(i);
      path.push(...chains[i]);
      i = next.get(i);
      const to: FlatPoint = i === undefined ? path[0].from : chains[i][0].from;
      const from = path[path.length - 1].to;
      if (flatDistance(from, to) > ON_PLANE) path.push({ kind: 'line', from, to });
      else path[path.length - 1] = { ...path[path.length - 1], to };
    }
    if (areaOfPath(path) > ON_PLANE) out.push(path);
  }
  return out;
}

// A loop's pieces that follow each other without a break.
function chainsOf(parts: readonly PathPiece[]): PathPiece[][] {
  const chains: PathPiece[][] = [];
  for (const part of parts) {
    const last = chains[chains.length - 1];
    if (last && flatDistance(last[last.length - 1].to, part.from) <= ON_PLANE) last.push(part);
    else chains.push([part]);
  }
  const [first] = chains;
  const last = chains[chains.length - 1];
  // The loop began in the middle of one.
  if (chains.length > 1 && flatDistance(last[last.length - 1].to, first[0].from) <= ON_PLANE) {
    chains.pop();
    chains[0] = [...last, ...first];
  }
  return chains;
}

// A piece cut where it goes through the plane; places on the plane are exactly there.
function cutAt(piece: PathPiece, at: number): PathPiece[] {
  const shares = sharesAt(piece, at)
    .filter((s) => s * lengthOfPiece(piece) > ON_PLANE && (1 - s) * lengthOfPiece(piece) > ON_PLANE)
    .sort((a, b) => a - b);
  if (shares.length === 0) return [piece];
  const places: FlatPoint[] = [piece.from, ...shares.map((s): FlatPoint => [at, placeOnPiece(piece, s)[1]]), piece.to];
  return places.slice(1).map((to, i) => ({ ...piece, from: places[i], to }));
}

function sharesAt(piece: PathPiece, at: number): number[] {
  if (piece.kind === 'line') {
    const [z0, z1] = [piece.from[0], piece.to[0]];
    return z0 === z1 ? [] : [(at - z0) / (z1 - z0)];
  }
  const radius = flatDistance(piece.from, piece.centre);
  const cos = (at - piece.centre[0]) / radius;
  if (Math.abs(cos) >= 1) return [];
  const angle = Math.acos(cos);
  return [angle, -angle].flatMap((a) => shareOnArc(piece, a) ?? []);
}
