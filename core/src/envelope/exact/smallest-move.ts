/** All moves d with n d >= least: a unit normal and the least way along it, mm. */
export type HalfSpace = readonly [nx: number, ny: number, nz: number, least: number];

// mm. How far a half space may be missed: rounding.
const MET = 1e-12;
// How long a move may be, in the greatest way that is asked for.
const LONGEST = 30;
// Half spaces of which all choices of up to three are tried; more are met by going round them.
const FEW = 14;

/**
 * The shortest move into all of some half spaces, the outward planes around a corner of a solid; none where they have no move in common. By the
 * conditions of Karush, Kuhn and Tucker it ends where one, two or three of the planes meet: all such places are tried.
 */
export function smallestMove(spaces: readonly HalfSpace[]): [number, number, number] {
  const wanted = spaces.filter((s) => s[3] > 0);
  if (wanted.length === 0) return [0, 0, 0];
  if (spaces.length > FEW) return goRound(spaces);
  let best: [number, number, number] | undefined;
  // A move that is much longer than what is asked for tears a corner out of its solid.
  let shortest = LONGEST * Math.max(...wanted.map((s) => s[3]));
  const consider = (d: [number, number, number]) => {
    const long = Math.hypot(...d);
    if (!(long < shortest) || spaces.some((s) => s[0] * d[0] + s[1] * d[1] + s[2] * d[2] < s[3] - MET)) return;
    shortest = long;
    best = d;
  };
  for (let i = 0; i < spaces.length; i++) {
    const a = spaces[i];
    consider([a[3] * a[0], a[3] * a[1], a[3] * a[2]]);
    for (let j = i + 1; j < spaces.length; j++) {
      const b = spaces[j];
      // On both planes, and in the plane of their normals.
      const c = a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
      const det = 1 - c * c;
      if (det > 1e-14) {
        const [s, t] = [(a[3] - c * b[3]) / det, (b[3] - c * a[3]) / det];
        consider([s * a[0] + t * b[0], s * a[1] + t * b[1], s * a[2] + t * b[2]]);
      }
      const [x, y, z] = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
      for (let k = j + 1; k < spaces.length; k++) {
        const e = spaces[k];
        const volume = x * e[0] + y * e[1] + z * e[2];
        if (Math.abs(volume) < 1e-10) continue;
        const [ux, uy, uz] = [b[1] * e[2] - b[2] * e[1], b[2] * e[0] - b[0] * e[2], b[0] * e[1] - b[1] * e[0]];
        const [vx, vy, vz] = [e[1] * a[2] - e[2] * a[1], e[2] * a[0] - e[0] * a[2], e[0] * a[1] - e[1] * a[0]];
        consider([(a[3] * ux + b[3] * vx + e[3] * x) / volume, (a[3] * uy + b[3] * vy + e[3] * y) / volume, (a[3] * uz + b[3] * vz + e[3] * z) / volume]);
      }
    }
  }
  // A corner that is a saddle may have none: it stays, and what is pushed is pushed at the other corners.
  return best ?? [0, 0, 0];
}

// Projections onto the half spaces in turn: into all of them, near the shortest.
function goRound(spaces: readonly HalfSpace[]): [number, number, number] {
  const d: [number, number, number] = [0, 0, 0];
  let before = Infinity;
  for (let round = 0; round < 5000; round++) {
    let worst = 0;
    for (const [x, y, z, least] of spaces) {
      const lack = least - (d[0] * x + d[1] * y + d[2] * z);
      if (lack <= 0) continue;
      worst = Math.max(worst, lack);
      d[0] += lack * x;
      d[1] += lack * y;
      d[2] += lack * z;
    }
    // Half spaces without a move in common are gone round for ever, and what is lacking stays as it is.
    if (round % 60 === 59) {
      if (worst > 0.9 * before) return [0, 0, 0];
      before = worst;
    }
    if (worst < 1e-9) return Math.hypot(...d) < LONGEST * Math.max(...spaces.map((s) => s[3])) ? d : [0, 0, 0];
  }
  return [0, 0, 0];
}
