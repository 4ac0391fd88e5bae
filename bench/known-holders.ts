// Holders whose best profile is known because they are made from it: shanks, shoulders, cones, fillets and rounded rims, turned by the kernel.
import type { HalfProfile, PathPiece, ProfilePoint } from '#core/outline';

/** A seeded sequence of numbers from 0 to 1 (Park, Miller 1988). */
function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 16807) % 2147483647;
    return state / 2147483647;
  };
}

/** A half profile without bores; `surfaces` counts its pieces. */
export function knownHolder(seed: number): { profile: HalfProfile; surfaces: number } {
  const random = randomFrom(seed);
  const between = (a: number, b: number) => Math.round((a + (b - a) * random()) * 100) / 100;
  const line = (from: ProfilePoint, to: ProfilePoint): PathPiece => ({ kind: 'line', from, to });
  // From the machine to the work, along z; turned round at the end.
  const pieces: PathPiece[] = [];
  let at: ProfilePoint = [0, between(8, 25)];
  pieces.push(line([0, 0], at));
  const steps = 3 + Math.floor(random() * 5);
  const go = (to: ProfilePoint) => {
    pieces.push(line(at, to));
    at = to;
  };
  for (let i = 0; i < steps; i++) {
    go([at[0] + between(8, 40), at[1]]);
    const kind = random();
    const rise = between(2, 12) * (at[1] > 16 && random() < 0.5 ? -1 : 1);
    if (kind < 0.3) go([at[0] + between(3, 20), at[1] + rise]);
    else if (kind < 0.6) go([at[0], at[1] + rise]);
    else {
      // A fillet at the foot of a shoulder, or a rounded rim.
      const r = between(0.6, Math.abs(rise) * 0.8);
      const foot: ProfilePoint = rise > 0 ? [at[0] + r, at[1] + r] : [at[0] + r, at[1] - r];
      const centre: ProfilePoint = [at[0], foot[1]];
      // Along z a hollow bend runs counter-clockwise, a bulging one clockwise.
      pieces.push({ kind: 'arc', from: at, to: foot, centre, ccw: rise > 0 });
      at = foot;
      go([at[0], at[1] + rise - Math.sign(rise) * r]);
    }
  }
  go([at[0] + between(8, 30), at[1]]);
  go([at[0], 0]);
  const back = pieces.map((p): PathPiece => (p.kind === 'line' ? line(p.to, p.from) : { ...p, from: p.to, to: p.from, ccw: !p.ccw })).reverse();
  return { profile: [[line([0, 0], at), ...back]], surfaces: pieces.length };
}
