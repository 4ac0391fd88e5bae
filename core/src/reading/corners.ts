import { addScaled, cross, degFromRad, distance, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import { type BodyGeometry, type EdgeFacts, furthestAlong, type Model } from '#core/mesh';
import { lookAtFaces } from './face-table.ts';

/** A rounded corner with a flank under it, as a cutting corner has: an arc between a rake side and a nose. */
export interface Corner {
  readonly body: BodyGeometry;
  /** The arc's edges: one, or two where a full radius is drawn in halves. */
  readonly edges: readonly number[];
  readonly radius: number;
  readonly centre: Vec3;
  /** Where the corner points: the middle of its two legs, turned outwards. Unit. */
  readonly towards: Vec3;
  /** Out of the material on the rake side. Unit. */
  readonly rake: Vec3;
  readonly includedDeg: number;
  /** Directions away from the corner along its two edges, unit. */
  readonly legs: readonly [Vec3, Vec3];
  /** Lengths of the straight edges that the legs run along, and their indices; 0 and -1 where there is none. */
  readonly legLengths: readonly [number, number];
  readonly legEdges: readonly [number, number];
  /** The faces under the arc and beside it: nose flank and rake side. */
  readonly flank: number;
  readonly top: number;
}

const LARGEST_NOSE = 8;
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
  return joinSplitArcs(found);
}

// Whether a longer arc of the same circle begins where one ends.
const goesOn = (body: BodyGeometry, ends: EndTable, { curve, start, end }: EdgeFacts): boolean =>
  [start, end].some((p) =>
    edgesAt(body, ends, p).some((i) => {
      const o = body.edges[i].curve;
      return o.kind === 'circle' && curve.kind === 'circle' && o.sweepRad >= LEAST_TURN && isSameCircle(o, curve);
    }),
  );

const isSameCircle = (a: { readonly radius: number; readonly centre: Vec3 }, b: { readonly radius: number; readonly centre: Vec3 }): boolean =>
  Math.abs(a.radius - b.radius) < 3e-3 && distance(a.centre, b.centre) < 0.02;

// One nose may be drawn as several arcs of one circle, one after the other: they are one corner, between the straight edges at its ends.
function joinSplitArcs(corners: readonly Corner[]): Corner[] {
  const out: Corner[] = [];
  const used = new Set<Corner>();
  for (const c of corners) {
    if (used.has(c)) continue;
    const group = corners.filter((o) => !used.has(o) && o.top === c.top && isSameCircle(o, c) && dot(o.rake, c.rake) > 0.99);
    for (const g of group) used.add(g);
    const ends = group.flatMap((g) => [0, 1].filter((k) => g.legEdges[k] >= 0).map((k) => ({ leg: g.legs[k], edge: g.legEdges[k], long: g.legLengths[k] })));
    if (group.length === 1 || ends.length !== 2) {
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

/** The furthest point of a corner's arc. */
export const apexOf = (c: Pick<Corner, 'centre' | 'towards' | 'radius'>): Vec3 => addScaled(c.centre, c.towards, c.radius);

/** A corner that could cut: nothing of its own body reaches further the way it points. */
export interface StandingCorner extends Corner {
  /** mm beyond all other bodies, along its own direction; negative where one of them reaches further. */
  readonly out: number;
}

// mm. A corner this far behind the furthest point of its own body is still its extreme (chamfers, lands, tessellation).
const EXTREME = 0.03;
const MOST_CORNERS = 600;

/**
 * The corners of a model that could cut, those that stand out most first. Corners along the shank's `axis` (its own edges) are left out.
 * Standing out is looked for in the turning plane: a tilted corner points down a little, and there the shank would reach further. Its
 * normal is the one of `sides` (of a square shank) next to the rake, or else the rake's part square to the axis.
 */
export function standingCorners(model: Model, axis: Vec3, sides: readonly Vec3[] = []): StandingCorner[] {
  const out: StandingCorner[] = [];
  for (const body of model.bodies) {
    const corners = [...cornersOf(body), ...roundPlates(body, model)].filter((c) => Math.abs(dot(c.rake, axis)) < 0.4);
    for (const c of corners.slice(0, MOST_CORNERS)) {
      const up = normalize(sides.length > 0 ? sides.reduce((a, b) => (dot(b, c.rake) > dot(a, c.rake) ? b : a)) : addScaled(c.rake, axis, -dot(c.rake, axis)));
      const flat = addScaled(c.towards, up, -dot(c.towards, up));
      if (length(flat) < 0.5) continue;
      const way = normalize(flat);
      const reach = dot(apexOf(c), way);
      if (furthestAlong(body.mesh, way) - reach > EXTREME) continue;
      out.push({ ...c, out: reach - Math.max(-Infinity, ...model.bodies.filter((b) => b !== body).map((b) => furthestAlong(b.mesh, way))) });
    }
  }
  return out.sort((a, b) => b.out - a.out);
}

// A round insert has no corner: its edge is a whole circle. It cuts where it stands out most.
function roundPlates(body: BodyGeometry, model: Model): Corner[] {
  if (model.bodies.length < 2) return [];
  const faces = lookAtFaces(body);
  return body.edges.flatMap((edge, index): Corner[] => {
    const { curve } = edge;
    if (curve.kind !== 'circle' || curve.sweepRad < 6.28 || curve.radius > 16 || curve.radius < 1 || edge.faces.length !== 2) return [];
    const [a, b] = edge.faces.map((f) => faces[f]);
    const [flank, top] = length(a.normal) < length(b.normal) ? [a, b] : [b, a];
    const s = flank.surface;
    if ((s.kind !== 'cylinder' && s.kind !== 'cone') || s.concave) return [];
    const under = dot(subtract(flank.centre, curve.centre), curve.axis);
    if (Math.abs(under) < 1e-3 || Math.abs(under) > 4) return [];
    const rake = scale(curve.axis, under > 0 ? -1 : 1);
    if (dot(top.normal, rake) < 0.3) return [];
    const u = normalize(subtract(edge.start, curve.centre));
    const v = cross(curve.axis, u);
    const ways = Array.from({ length: 72 }, (_, i): Vec3 => {
      const t = (i * Math.PI) / 36;
      return addScaled(scale(u, Math.cos(t)), v, Math.sin(t));
    }).map((d) => ({ d, out: dot(curve.centre, d) + curve.radius - Math.max(...model.bodies.filter((o) => o !== body).map((o) => furthestAlong(o.mesh, d))) }));
    const best = ways.sort((p, q) => q.out - p.out)[0];
    if (best.out < 0) return [];
    const side = cross(rake, best.d);
    return [
      {
        body,
        edges: [index],
        radius: curve.radius,
        centre: curve.centre,
        towards: best.d,
        rake,
        includedDeg: 0,
        legs: [side, scale(side, -1)],
        legLengths: [0, 0],
        legEdges: [-1, -1],
        flank: flank.index,
        top: top.index,
      },
    ];
  });
}
