import { addScaled, dot, type Frame, frameFromWorld, move, normalize, rotationBetween, scale, subtract, turn, type Vec3 } from '#core/math';
import { apexOf, type Corner } from './corner.ts';

/** One point of a cutting edge: how far along it from the furthest point of the nose (negative on the side edge), and what it cuts. */
export interface EdgeDeviation {
  /** mm along the edge; positive along the edge that leads. */
  readonly along: number;
  /** mm across the flat edge's profile to the one that the tilted edge cuts; positive leaves more material. */
  readonly difference: number;
}

/**
 * What a tilted cutting edge cuts beside the flat one. A point (x, y, z) of the edge cuts at the radius sqrt(x^2 + y^2): the work turns about
 * an axis across the tool for a square shank (outside turning, Z of the mount towards the axis), along it for a round one (boring, X
 * away from the axis). The flat edge is the same corner turned into the turning plane about its own tip. `diameter` is the work's at the
 * tip, mm; `reach` how far along the edges is looked.
 */
export function compareTiltedEdge(corner: Corner, mount: Frame, shank: 'square' | 'round', diameter: number, reach = 2): EdgeDeviation[] {
  const inMount = frameFromWorld(mount);
  const tip = move(inMount, apexOf(corner));
  const local: Corner = {
    ...corner,
    centre: move(inMount, corner.centre),
    towards: turn(inMount, corner.towards),
    rake: turn(inMount, corner.rake),
    legs: [turn(inMount, corner.legs[0]), turn(inMount, corner.legs[1])],
  };
  const up: Vec3 = [0, local.rake[1] < 0 ? -1 : 1, 0];
  const flatten = rotationBetween(tip, local.rake, up);
  const tilted = edgePoints(local, reach);
  const radius = diameter / 2;
  // (radius, position along the work's axis) of a point as it cuts.
  const cut = (p: Vec3, withHeight: boolean): [number, number] => {
    const height = withHeight ? p[1] : 0;
    return shank === 'square' ? [Math.hypot(radius - (p[2] - tip[2]), height), p[0]] : [Math.hypot(radius + (p[0] - tip[0]), height), p[2]];
  };
  const flat = tilted.map(({ point }) => {
    const q = move(flatten, point);
    return cut([q[0], 0, q[2]], false);
  });
  const c = move(flatten, local.centre);
  const inside = cut([c[0], 0, c[2]], false);
  return tilted.map(({ along, point }) => {
    const [r, z] = cut(point, true);
    return { along, difference: retreatFrom(flat, inside, r, z) };
  });
}

// The edge from the end of one leg over the nose to the end of the other.
function edgePoints(c: Corner, reach: number): { along: number; point: Vec3 }[] {
  const out: { along: number; point: Vec3 }[] = [];
  const half = (Math.PI - (c.includedDeg * Math.PI) / 180) / 2;
  const steps = 24;
  const side = normalize(subtract(c.legs[0], scale(c.towards, dot(c.legs[0], c.towards))));
  const onNose = (a: number): Vec3 => addScaled(addScaled(c.centre, c.towards, c.radius * Math.cos(a)), side, c.radius * Math.sin(a));
  for (let i = steps; i >= 1; i--) {
    const s = (reach * i) / steps;
    out.push({ along: -(c.radius * half + s), point: addScaled(onNose(-half), c.legs[1], s) });
  }
  for (let i = -steps; i <= steps; i++) {
    const a = (half * i) / steps;
    out.push({ along: c.radius * a, point: onNose(a) });
  }
  for (let i = 1; i <= steps; i++) {
    const s = (reach * i) / steps;
    out.push({ along: c.radius * half + s, point: addScaled(onNose(half), c.legs[0], s) });
  }
  return out;
}

// Distance of a point from a profile by the foot on its pieces; positive on the side where the tool is.
function retreatFrom(profile: readonly [number, number][], inside: readonly [number, number], r: number, z: number): number {
  let best = { away: Infinity, signed: 0 };
  for (let i = 1; i < profile.length; i++) {
    const [a, b] = [profile[i - 1], profile[i]];
    const [dr, dz] = [b[0] - a[0], b[1] - a[1]];
    const l = dr * dr + dz * dz;
    if (l === 0) continue;
    // Past its ends the profile goes on straight.
    const t = ((r - a[0]) * dr + (z - a[1]) * dz) / l;
    const s = (i === 1 && t < 0) || (i === profile.length - 1 && t > 1) ? t : Math.min(1, Math.max(0, t));
    const away = Math.hypot(r - a[0] - s * dr, z - a[1] - s * dz);
    if (away >= best.away) continue;
    const side = Math.sign(dr * (z - a[1]) - dz * (r - a[0])) * Math.sign(dr * (inside[1] - a[1]) - dz * (inside[0] - a[0]));
    best = { away, signed: side * away };
  }
  return best.signed;
}
