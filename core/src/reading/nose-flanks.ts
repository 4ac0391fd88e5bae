// What the flanks of a corner tell where its edges do not: its angle, or the corner itself.
import { addScaled, cross, degFromRad, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, EdgeFacts } from '#core/mesh';
import { type Corner, LARGEST_NOSE } from './corner.ts';
import { type FaceLook, lookAtFaces, planesOfBody } from './face-table.ts';
import { extentOfFace } from './round-groups.ts';

// A chip breaker that runs over the nose leaves no arc: there the round flank itself tells the corner, between the two plane flanks that it touches. Its edge is
// where the flank ends towards the wider end of a cone, or the end that is not straight.
export function cornersOfNoses(body: BodyGeometry, known: readonly Corner[]): Corner[] {
  if (body.faces.length < 5 || body.faces.length > MOST_FACES) return [];
  const faces = lookAtFaces(body);
  return faces.flatMap((face): Corner[] => {
    const s = face.surface;
    if ((s.kind !== 'cylinder' && s.kind !== 'cone') || s.concave || face.area < 0.05 || length(face.normal) < 0.3) return [];
    const origin = s.origin;
    const [from, to] = extentOfFace(face, origin, s.axis);
    if (to - from > HIGHEST_NOSE || to - from < 0.2) return [];
    const out = addScaled(face.normal, s.axis, -dot(face.normal, s.axis));
    if (length(out) < 0.3) return [];
    const towards = normalize(out);
    // A cone's edge is at its wide end, from where its axis goes.
    return (s.kind === 'cone' ? [-1] : [1, -1]).flatMap((sense): Corner[] => {
      const rake = scale(s.axis, sense);
      const at = sense * heightAtNose(face, origin, towards, rake);
      const radius = s.kind === 'cylinder' ? s.radius : s.radiusLarge - at * Math.tan(s.halfAngleRad);
      if (radius > LARGEST_NOSE || radius < 0.04) return [];
      const centre = addScaled(origin, s.axis, at);
      if (known.some((c) => c.flank === face.index && dot(c.rake, rake) > 0.9)) return [];
      // An edge that is an arc was looked at before, and is no corner.
      if (body.faces[face.index].edges.some((e) => isArcAt(body.edges[e], centre, s.axis))) return [];
      const guess: Corner = {
        body,
        edges: body.faces[face.index].edges.filter((e) => body.edges[e].curve.kind === 'free').slice(0, 1),
        radius,
        centre,
        towards,
        rake,
        includedDeg: 0,
        legs: [rake, rake],
        legLengths: [0, 0],
        legEdges: [-1, -1],
        flank: face.index,
        top: face.index,
      };
      const corner = alongFlanks(guess);
      if (corner === guess || corner.edges.length === 0 || corner.includedDeg < 10) return [];
      // The axis of a short patch is not well known; the sides of a plate tell which way its rake face looks.
      const flat = plateNormal(body, rake);
      return [flat && dot(flat, rake) < SAME_LEG ? betweenFlanks(corner, flat) : corner];
    });
  });
}
// The plate's normal on the side of a direction, where it is nearly that.
function plateNormal(body: BodyGeometry, rake: Vec3): Vec3 | undefined {
  const best = planesOfBody(body)
    .filter((f) => Math.abs(dot(f.outward, rake)) > 0.98)
    .sort((a, b) => b.area - a.area)[0];
  return best && (dot(best.outward, rake) > 0 ? best.outward : scale(best.outward, -1));
}

// A corner again from its two plane flanks and how far in front of them its nose reaches: the circle that touches both.
function betweenFlanks(c: Corner, rake: Vec3): Corner {
  const faces = lookAtFaces(c.body);
  const planes = (c.legFlanks ?? [-1, -1]).map((f) => planesOfBody(c.body).find((p) => p.index === f));
  const [a, b] = planes;
  if (!a || !b) return c;
  const legs = [a, b].map((f, k) => {
    const d = normalize(cross(rake, f.outward));
    return dot(d, c.legs[k]) > 0 ? d : scale(d, -1);
  }) as [Vec3, Vec3];
  const inwards = normalize(addScaled(legs[0], legs[1], 1));
  const half = Math.acos(Math.max(-1, Math.min(1, dot(legs[0], legs[1])))) / 2;
  const height = dot(c.centre, rake) + heightAtNose(faces[c.flank], c.centre, scale(inwards, -1), rake);
  // Where both planes and the height meet.
  const sharp = meetOf([a.outward, b.outward, rake], [a.offset, b.offset, height]);
  if (!sharp) return c;
  const apart = extentOfFace(faces[c.flank], sharp, inwards)[0];
  const radius = apart / (1 / Math.sin(half) - 1);
  if (!(radius > 0) || Math.abs(radius - c.radius) > 0.2 * c.radius) return c;
  return {
    ...c,
    rake,
    legs,
    radius,
    centre: addScaled(sharp, inwards, radius / Math.sin(half)),
    towards: scale(inwards, -1),
    includedDeg: degFromRad(2 * half),
  };
}

// The point of three planes (Cramer); undefined where two of them are parallel.
function meetOf([a, b, c]: readonly [Vec3, Vec3, Vec3], [p, q, r]: readonly [number, number, number]): Vec3 | undefined {
  const det = dot(a, cross(b, c));
  if (Math.abs(det) < 1e-6) return undefined;
  return scale(addScaled(addScaled(scale(cross(b, c), p), cross(c, a), q), cross(a, b), r), 1 / det);
}

// Radians. As far beside the foremost point of a nose its edge is as high.
const AT_NOSE = 0.06;

// How high a nose's flank reaches along its rake where it points, from a point of its axis.
function heightAtNose({ body, index }: FaceLook, origin: Vec3, towards: Vec3, rake: Vec3): number {
  const { positions: p, triangles: t } = body.mesh;
  let [near, height, nearest, there] = [Infinity, -Infinity, -Infinity, 0];
  for (let i = 3 * body.faceStart[index]; i < 3 * body.faceStart[index + 1]; i++) {
    const d = subtract([p[3 * t[i]], p[3 * t[i] + 1], p[3 * t[i] + 2]], origin);
    const h = dot(d, rake);
    const flat = addScaled(d, rake, -h);
    const off = Math.acos(Math.max(-1, Math.min(1, dot(flat, towards) / (length(flat) || 1))));
    if (off < AT_NOSE) height = Math.max(height, h);
    if (off < near - 1e-6 || (off < near + 1e-6 && h > nearest)) [near, nearest, there] = [off, h, h];
  }
  return Number.isFinite(height) ? height : there;
}

// An insert has fewer; a holder full of letters has more.
const MOST_FACES = 1500;
// mm. Flanks of inserts are lower.
const HIGHEST_NOSE = 11;
const isArcAt = ({ curve }: EdgeFacts, centre: Vec3, axis: Vec3): boolean =>
  curve.kind === 'circle' && Math.abs(dot(subtract(curve.centre, centre), axis)) < 0.05;

// Shares of the nose's radius: how far a flank may lie outside of its circle, where a wiper's arcs lie between them.
const WIPER = 0.15;
// Cosine; and how much longer a flank is than the wiper before it.
const SAME_LEG = 0.99999;
const MUCH_LONGER = 1.6;

// A leg without a straight edge at its arc's end (a mesh that breaks the edge up, a chip breaker that runs into it), or with a short one before a much longer
// flank (a wiper): its direction is the one of the plane flank that the nose's circle touches.
export function alongFlanks(c: Corner): Corner {
  const side = cross(c.rake, c.towards);
  const best: ({ direction: Vec3; flank: number; score: number } | undefined)[] = [undefined, undefined];
  const within = Math.max(0.02, 0.02 * c.radius);
  for (const f of planesOfBody(c.body)) {
    const flat = addScaled(f.outward, c.rake, -dot(f.outward, c.rake));
    const l = length(flat);
    if (l < 0.8) continue;
    const n = scale(flat, 1 / l);
    const apart = (f.offset - dot(f.outward, c.centre)) / l;
    if (apart < c.radius - within || apart > c.radius * (1 + WIPER) + within || dot(n, c.towards) < -0.1) continue;
    const leg = cross(c.rake, n);
    const direction = dot(leg, c.towards) > 0 ? scale(leg, -1) : leg;
    const [from, to] = extentOfFace(f, c.centre, direction);
    const [, top] = extentOfFace(f, c.centre, c.rake);
    if (to < 0.6 * c.radius || from < -0.4 * c.radius - 0.02 || from > 5 * c.radius || top < -1.5) continue;
    const at = dot(n, side) > 0 ? 0 : 1;
    const score = to - Math.max(0, from) - 20 * Math.abs(apart - c.radius);
    if (!best[at] || score > best[at].score) best[at] = { direction, flank: f.index, score };
  }
  const [a, b] = best;
  if (!a || !b) return c;
  const middle = addScaled(a.direction, b.direction, 1);
  if (length(middle) < 0.05) return c;
  // A leg that has its edge keeps it.
  const kept = ([a, b] as const).map((leg): Leg => {
    const k = dot(c.legs[0], leg.direction) > dot(c.legs[1], leg.direction) ? 0 : 1;
    const keeps = c.legEdges[k] >= 0 && (dot(c.legs[k], leg.direction) > SAME_LEG || leg.score < MUCH_LONGER * c.legLengths[k]);
    return keeps
      ? { direction: c.legs[k], long: c.legLengths[k], edge: c.legEdges[k], flank: -1 }
      : { direction: leg.direction, long: 0, edge: -1, flank: leg.flank };
  });
  if (kept.every((leg) => leg.edge >= 0)) return c;
  const [one, two] = kept;
  return {
    ...c,
    towards: normalize(scale(middle, -1)),
    includedDeg: degFromRad(Math.acos(Math.max(-1, Math.min(1, dot(one.direction, two.direction))))),
    legs: [one.direction, two.direction],
    legLengths: [one.long, two.long],
    legEdges: [one.edge, two.edge],
    legFlanks: [one.flank, two.flank],
  };
}

interface Leg {
  readonly direction: Vec3;
  readonly long: number;
  readonly edge: number;
  readonly flank: number;
}
