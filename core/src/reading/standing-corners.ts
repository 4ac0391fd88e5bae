import { addScaled, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import { type BodyGeometry, furthestAlong, type Model } from '#core/mesh';
import { apexOf, type Corner, isSameCircle } from './corner.ts';
import { cornersOf } from './corners.ts';
import { lookAtFaces } from './face-table.ts';

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
 * normal is the one of the sides of a square shank next to the rake; else the plane goes through the axis and the corner, where the rake looks out of it.
 */
export function standingCorners(
  model: Model,
  { origin, direction: axis, sides: planes }: { readonly origin: Vec3; readonly direction: Vec3; readonly sides?: readonly { readonly outward: Vec3 }[] },
): StandingCorner[] {
  const sides = planes?.map((p) => p.outward) ?? [];
  const out: StandingCorner[] = [];
  for (const body of model.bodies) {
    const corners = [...cornersOf(body), ...roundPlates(body, model)].filter((c) => Math.abs(dot(c.rake, axis)) < 0.4);
    for (const c of corners.slice(0, MOST_CORNERS)) {
      const up = sides.length > 0 ? sides.reduce((a, b) => (dot(b, c.rake) > dot(a, c.rake) ? b : a)) : turningNormal(c, origin, axis);
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

// Degrees as a cosine. A rake face that leans more from the plane through the axis and its corner does not turn in it.
const IN_PLANE = 0.95;

function turningNormal(c: Corner, origin: Vec3, axis: Vec3): Vec3 {
  const byRake = normalize(addScaled(c.rake, axis, -dot(c.rake, axis)));
  const normal = cross(axis, subtract(apexOf(c), origin));
  if (length(normal) < 0.5) return byRake;
  const byPlace = scale(normal, (dot(normal, byRake) < 0 ? -1 : 1) / length(normal));
  return dot(byPlace, byRake) > IN_PLANE ? byPlace : byRake;
}

// Radians: a whole turn, in one arc or several.
const WHOLE = 6.28;

// A round insert has no corner: its edge is a whole circle, in one arc or several. It cuts where it stands out most.
function roundPlates(body: BodyGeometry, model: Model): Corner[] {
  if (model.bodies.length < 2) return [];
  const faces = lookAtFaces(body);
  const arcs = body.edges.flatMap(({ curve, faces: beside }, index) =>
    curve.kind === 'circle' && curve.radius <= 16 && curve.radius >= 1 && beside.length === 2 ? [{ curve, index }] : [],
  );
  return arcs.flatMap(({ curve, index }): Corner[] => {
    const edge = body.edges[index];
    const rim = arcs.filter((arc) => isSameCircle(arc.curve, curve));
    if (rim[0].index !== index || rim.reduce((turn, arc) => turn + arc.curve.sweepRad, 0) < WHOLE) return [];
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
        edges: rim.map((arc) => arc.index),
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
