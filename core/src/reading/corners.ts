import { addScaled, cross, degFromRad, distance, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, EdgeFacts } from '#core/mesh';
import { type Corner, isBluntAlone, isSameCircle, LARGEST_NOSE } from './corner.ts';
import { lookAtFaces } from './face-table.ts';
import { alongFlanks, cornersOfNoses } from './nose-flanks.ts';

// A shorter arc is a nose only as the rest of one.
const LEAST_TURN = 0.2;
const LARGEST_TURN = Math.PI * 1.02;
// mm. Ends of an arc and of the straight edge that goes on from it.
const SAME_END = 2e-3;

// Corners are looked for each time that a mark changes; a body's geometry never does.
const known = new WeakMap<BodyGeometry, readonly Corner[]>();

/** All rounded corners of a body. */
export function cornersOf(body: BodyGeometry): readonly Corner[] {
  const before = known.get(body);
  if (before) return before;
  const corners = findCorners(body);
  known.set(body, corners);
  return corners;
}

function findCorners(body: BodyGeometry): Corner[] {
  const faces = lookAtFaces(body);
  const ends = endTable(body);
  const found: Corner[] = [];
  body.edges.forEach((edge, index) => {
    const { curve } = edge;
    if (curve.kind !== 'circle' || curve.radius > LARGEST_NOSE || curve.sweepRad > LARGEST_TURN) return;
    if (edge.faces.length !== 2 || (curve.sweepRad < LEAST_TURN && !goesOn(body, ends, edge))) return;
    const towards = normalize(subtract(curve.middle, curve.centre));
    const [a, b] = edge.faces.map((f) => faces[f]);
    const [flank, top] = dot(a.normal, towards) > dot(b.normal, towards) ? [a, b] : [b, a];
    // The flank bulges the way the arc does; the rake side looks along the arc's axis.
    if (dot(flank.normal, towards) < 0.45) return;
    const under = dot(subtract(flank.centre, curve.centre), curve.axis);
    if (Math.abs(under) < 1e-3) return;
    const rake = scale(curve.axis, under > 0 ? -1 : 1);
    if (dot(top.normal, rake) < 0.3) return;
    const legs = [legAt(body, ends, edge, index, edge.start, edge.end), legAt(body, ends, edge, index, edge.end, edge.start)];
    const [l0, l1] = legs.map((l) => l.direction);
    const middle = addScaled(l0, l1, 1);
    found.push({
      body,
      edges: [index],
      radius: curve.radius,
      centre: curve.centre,
      towards: length(middle) > 0.05 ? normalize(scale(middle, -1)) : towards,
      rake,
      includedDeg: degFromRad(Math.acos(Math.max(-1, Math.min(1, dot(l0, l1))))),
      legs: [l0, l1],
      legLengths: [legs[0].long, legs[1].long],
      legEdges: [legs[0].edge, legs[1].edge],
      flank: flank.index,
      top: top.index,
    });
  });
  const known = joinSplitArcs(found).map(alongFlanks);
  return withoutDoubles([...known, ...cornersOfNoses(body, known)]);
}

// Whether a longer arc of the same circle begins where one ends.
const goesOn = (body: BodyGeometry, ends: EndTable, { curve, start, end }: EdgeFacts): boolean =>
  [start, end].some((p) =>
    edgesAt(body, ends, p).some((i) => {
      const o = body.edges[i].curve;
      return o.kind === 'circle' && curve.kind === 'circle' && o.sweepRad >= LEAST_TURN && isSameCircle(o, curve);
    }),
  );

// One nose may be drawn as several arcs of one circle, one after the other, also beside several faces of one rake side: they are one corner, between the straight
// edges at its ends, or what goes on from its two outer ends.
function joinSplitArcs(corners: readonly Corner[]): Corner[] {
  const out: Corner[] = [];
  const used = new Set<Corner>();
  for (const c of corners) {
    if (used.has(c)) continue;
    const group = groupOf(
      c,
      corners.filter((o) => !used.has(o) && isSameCircle(o, c) && dot(o.rake, c.rake) > 0.99),
    );
    for (const g of group) used.add(g);
    const ends = group.length > 1 ? endsOfGroup(group) : undefined;
    if (!ends) {
      out.push(...group);
      continue;
    }
    const [a, b] = ends;
    const middle = addScaled(a.leg, b.leg, 1);
    const largest = group.reduce((m, g) => (g.includedDeg < m.includedDeg ? g : m));
    out.push({
      ...largest,
      edges: group.flatMap((g) => g.edges),
      towards: length(middle) > 0.05 ? normalize(scale(middle, -1)) : largest.towards,
      includedDeg: degFromRad(Math.acos(Math.max(-1, Math.min(1, dot(a.leg, b.leg))))),
      legs: [a.leg, b.leg],
      legLengths: [a.long, b.long],
      legEdges: [a.edge, b.edge],
    });
  }
  return out;
}

// A corner, and of others on its circle those that are beside the same face, or go on where one of them ends.
function groupOf(first: Corner, others: readonly Corner[]): Corner[] {
  const group = [first];
  for (let i = 0; i < group.length; i++) group.push(...others.filter((o) => !group.includes(o) && (o.top === group[i].top || isBeside(o, group[i]))));
  return group;
}

const arcOf = ({ body, edges: [index] }: Corner): EdgeFacts => body.edges[index];

// Whether the arc of one begins where that of the other ends.
const isBeside = (a: Corner, b: Corner): boolean =>
  [arcOf(a).start, arcOf(a).end].some((p) => [arcOf(b).start, arcOf(b).end].some((q) => distance(p, q) < SAME_END));

interface End {
  readonly at: Vec3;
  readonly leg: Vec3;
  readonly edge: number;
  readonly long: number;
}

// The two ends of arcs of one circle: those with a straight edge, where there are two; else, of two arcs, those furthest apart, where the others meet.
function endsOfGroup(group: readonly Corner[]): readonly [End, End] | undefined {
  const all = group.flatMap((g) => [arcOf(g).start, arcOf(g).end].map((at, k): End => ({ at, leg: g.legs[k], edge: g.legEdges[k], long: g.legLengths[k] })));
  const straight = all.filter((e) => e.edge >= 0);
  if (straight.length === 2) return [straight[0], straight[1]];
  if (group.length !== 2) return undefined;
  const pairs = all.slice(0, 2).flatMap((a) => all.slice(2).map((b) => [a, b] as const));
  const [outer] = pairs.sort((p, q) => distance(q[0].at, q[1].at) - distance(p[0].at, p[1].at));
  const [inner] = pairs.filter(([a, b]) => a !== outer[0] && b !== outer[1]);
  return distance(inner[0].at, inner[1].at) < MOST_GAP * group[0].radius ? outer : undefined;
}

// Of a nose's radius: what may lie between two of its arcs in a mesh.
const MOST_GAP = 0.15;

// A mesh may show one nose in several pieces: of those the sharpest is the corner, the others saw a piece of the nose as a flank. What a chip breaker leaves of its
// edge may be told as arcs of circles beside its own.
const withoutDoubles = (corners: readonly Corner[]): Corner[] =>
  corners.filter(
    (c) =>
      c.includedDeg < LEAST_INCLUDED ||
      !corners.some(
        (o) =>
          o !== c &&
          o.includedDeg >= LEAST_INCLUDED &&
          o.includedDeg < c.includedDeg - 1 &&
          ((dot(o.rake, c.rake) > 0.999 && isSameCircle(o, c)) || (isBluntAlone(c) && isPieceOf(c, o))),
      ),
  );
const LEAST_INCLUDED = 12;

// Shares of a nose's radius, and the cosine of 18 degrees: how far its edge may be told from where it is.
const BESIDE = 0.25;
const LEANS = 0.95;
const isPieceOf = (c: Corner, o: Corner): boolean =>
  dot(o.rake, c.rake) > LEANS && distance(o.centre, c.centre) < BESIDE * o.radius && Math.abs(o.radius - c.radius) < BESIDE * o.radius;

type EndTable = Map<string, number[]>;
const cellOf = (p: Vec3, dx = 0, dy = 0, dz = 0) => `${Math.round(p[0] * 50) + dx},${Math.round(p[1] * 50) + dy},${Math.round(p[2] * 50) + dz}`;

function endTable(body: BodyGeometry): EndTable {
  const table: EndTable = new Map();
  body.edges.forEach((e, i) => {
    for (const p of [e.start, e.end]) {
      const key = cellOf(p);
      const list = table.get(key);
      if (list) list.push(i);
      else table.set(key, [i]);
    }
  });
  return table;
}

const edgesAt = (body: BodyGeometry, table: EndTable, p: Vec3): number[] => {
  const out = new Set<number>();
  for (let x = -1; x <= 1; x++)
    for (let y = -1; y <= 1; y++)
      for (let z = -1; z <= 1; z++)
        for (const i of table.get(cellOf(p, x, y, z)) ?? [])
          if (distance(body.edges[i].start, p) < SAME_END || distance(body.edges[i].end, p) < SAME_END) out.add(i);
  return [...out];
};

// Away from the corner at one end of its arc: along the straight edge that goes on there, or the arc's tangent. A mesh may have the last
// strips of a nose as faces of their own: short steps that turn a little are walked over.
function legAt(body: BodyGeometry, table: EndTable, arc: EdgeFacts, index: number, at: Vec3, other: Vec3): { direction: Vec3; long: number; edge: number } {
  const { curve } = arc;
  if (curve.kind !== 'circle') throw new Error('corners.legAt: an arc was expected');
  const t = normalize(cross(curve.axis, subtract(at, curve.centre)));
  const tangent = dot(t, subtract(other, at)) > 0 || (curve.sweepRad > 3 && dot(t, subtract(curve.middle, at)) > 0) ? scale(t, -1) : t;
  let leg = { direction: tangent, long: 0, edge: -1 };
  let here = at;
  const seen = new Set([index]);
  for (let step = 0; step < 4; step++) {
    const next = straightOn(body, table, here, leg.direction, seen);
    if (!next) break;
    leg = next;
    here = next.far;
    seen.add(next.edge);
    if (next.long > 0.35 * curve.radius) break;
  }
  return leg;
}

function straightOn(body: BodyGeometry, table: EndTable, at: Vec3, along: Vec3, seen: ReadonlySet<number>) {
  let best: { direction: Vec3; long: number; edge: number; far: Vec3; lean: number } | undefined;
  for (const i of edgesAt(body, table, at)) {
    const e = body.edges[i];
    if (seen.has(i) || e.curve.kind !== 'line' || e.curve.length < 1e-3) continue;
    const far = distance(e.start, at) < SAME_END ? e.end : e.start;
    const direction = normalize(subtract(far, at));
    const lean = dot(direction, along);
    if (lean > 0.9 && (!best || lean > best.lean)) best = { direction, long: e.curve.length, edge: i, far, lean };
  }
  return best;
}
