import { cross, dot, fromZAndX, length, normalize, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import type { BodyRole } from '#core/records';
import { lookAtFaces, planesOf, reachAlong } from './face-table.ts';
import { groupRound } from './round-groups.ts';

export interface RoleProposal {
  readonly body: string;
  readonly role: BodyRole;
  /** 0 to 1. */
  readonly confidence: number;
  readonly evidence: string;
}

/** A body that is flat like an insert or a shim: two large parallel faces, sides nearly square to them. */
export interface Plate {
  readonly body: BodyGeometry;
  readonly normal: Vec3;
  readonly thickness: number;
}

// The widest clearance of an insert (ISO 1832 G) and a little: sides that lean more are no insert's.
const MOST_CLEARANCE = Math.sin((36 * Math.PI) / 180);

/** The body as a plate, or nothing. */
export function plateOf(body: BodyGeometry): Plate | undefined {
  const faces = lookAtFaces(body);
  const planes = planesOf(faces).sort((a, b) => b.area - a.area);
  const whole = faces.reduce((a, f) => a + f.area, 0);
  // The largest plane that has one opposite: the seat of an insert is whole, its top may be a chip breaker.
  for (const base of planes.slice(0, 4)) {
    const [low, high] = reachAlong(body, base.outward);
    const thickness = high - low;
    if (Math.abs(base.offset - high) > 0.02 * thickness + 1e-3) continue;
    const across = extentAcross(body, base.outward);
    if (thickness > 0.8 * across || base.area < 0.1 * whole) continue;
    const sides = faces.filter((f) => length(f.normal) < 0.05 || Math.abs(dot(normalizeSafe(f.normal), base.outward)) < MOST_CLEARANCE);
    const flat = faces.filter((f) => f.surface.kind === 'plane' && Math.abs(dot(normalizeSafe(f.normal), base.outward)) > 0.97);
    const both = sides.reduce((a, f) => a + f.area, 0) + flat.reduce((a, f) => a + f.area, 0);
    if (both > 0.7 * whole) return { body, normal: base.outward, thickness };
  }
  return undefined;
}

const normalizeSafe = (v: Vec3): Vec3 => (length(v) > 1e-9 ? normalize(v) : [0, 0, 0]);

// The least width across a direction: square to the straight edges that run across it, and every fifteen degrees.
function extentAcross(body: BodyGeometry, normal: Vec3): number {
  const { x: u } = fromZAndX([0, 0, 0], normal);
  const v = cross(normal, u);
  const turned = Array.from({ length: 12 }, (_, i): Vec3 => {
    const [c, s] = [Math.cos((i * Math.PI) / 12), Math.sin((i * Math.PI) / 12)];
    return [c * u[0] + s * v[0], c * u[1] + s * v[1], c * u[2] + s * v[2]];
  });
  const square = body.edges
    .filter((e) => e.curve.kind === 'line' && e.curve.length > 1e-6)
    .map((e) => cross(normal, normalize(subtract(e.end, e.start))))
    .filter((d) => length(d) > 0.999);
  return Math.min(...[...turned, ...square].map((d) => reachAlong(body, normalize(d))).map(([low, high]) => high - low));
}

/** Share of a body's area that turns about its main axis: near 1 for screws and pins. */
export function roundness(body: BodyGeometry): number {
  const faces = lookAtFaces(body);
  const whole = faces.reduce((a, f) => a + f.area, 0);
  const [main] = groupRound(faces);
  if (!main || whole === 0) return 0;
  const ends = planesOf(faces).filter((f) => Math.abs(dot(f.outward, main.direction)) > 0.9999);
  return (main.area + ends.reduce((a, f) => a + f.area, 0)) / whole;
}

/**
 * Which body is what. The heaviest is the tool's; a plate that stands out of it, at a corner of the whole, cuts; screws, pins, shims and
 * clamps are hardware; a ring about the tool's own axis is a nut, which belongs to it. `directions` are the axes along which standing
 * out is looked for (those of the shank).
 */
export function proposeRoles(model: Model, directions: readonly Vec3[], axis?: { readonly origin: Vec3; readonly direction: Vec3 }): RoleProposal[] {
  const byVolume = [...model.bodies].sort((a, b) => b.volume - a.volume);
  const [tool, second] = byVolume;
  const ways = spread(directions);
  const plates = byVolume
    .slice(1)
    .map(plateOf)
    .filter((p) => p !== undefined);
  const standing = plates
    .map((plate) => ({ plate, out: Math.max(...ways.map((d) => reachAlong(plate.body, d)[1] - reachAlong(tool, d)[1])) }))
    .sort((a, b) => b.out - a.out);
  const best = standing[0];
  const isCutting = (body: BodyGeometry): number | undefined => {
    const own = standing.find((s) => s.plate.body === body);
    if (!own || !best || own.out < 1e-3) return undefined;
    if (own === best) return own.out - (standing[1]?.out ?? -1) > 0.05 ? 0.96 : 0.8;
    // Several cutting edges of one kind: the same plate again, standing out as well.
    const same = Math.abs(body.volume / best.plate.body.volume - 1) < 1e-3 && body.faces.length === best.plate.body.faces.length;
    return same && own.out > 0.5 * best.out ? 0.85 : undefined;
  };
  return model.bodies.map((body): RoleProposal => {
    if (body === tool) {
      const clear = !second || tool.volume > 3 * second.volume;
      return {
        body: body.id,
        role: 'tool body',
        confidence: clear ? 0.98 : 0.75,
        evidence: second ? `${(tool.volume / second.volume).toFixed(1)} times the next body's volume` : 'the only body',
      };
    }
    const cutting = isCutting(body);
    if (cutting !== undefined) {
      const own = standing.find((s) => s.plate.body === body);
      return {
        body: body.id,
        role: 'cutting',
        confidence: cutting,
        evidence: `a plate, ${own?.plate.thickness.toFixed(2)} thick, that stands ${own?.out.toFixed(2)} out of the tool`,
      };
    }
    const round = roundness(body);
    if (round > 0.6) {
      if (axis && isRing(body, axis)) return { body: body.id, role: 'tool body', confidence: 0.9, evidence: 'a ring about the axis of the tool, as a nut is' };
      const part = body.volume > 0.15 * tool.volume;
      return part
        ? {
            body: body.id,
            role: 'tool body',
            confidence: 0.7,
            evidence: `turns about its axis (${Math.round(round * 100)} % of its area) and is too heavy for a screw`,
          }
        : {
            body: body.id,
            role: 'hardware',
            confidence: 0.93,
            evidence: `turns about its axis (${Math.round(round * 100)} % of its area), as screws and pins do`,
          };
    }
    const small = body.volume < 0.2 * tool.volume;
    if (standing.some((s) => s.plate.body === body))
      return { body: body.id, role: 'hardware', confidence: 0.85, evidence: 'a plate that does not stand out: a shim' };
    return small
      ? { body: body.id, role: 'hardware', confidence: 0.8, evidence: 'small, and no plate: a clamp or the like' }
      : { body: body.id, role: 'tool body', confidence: 0.6, evidence: 'too heavy for hardware' };
  });
}

// Hollow, and turning about the given axis.
function isRing(body: BodyGeometry, { origin, direction }: { readonly origin: Vec3; readonly direction: Vec3 }): boolean {
  const [main] = groupRound(lookAtFaces(body));
  if (!main || length(cross(main.direction, direction)) > 1e-3) return false;
  const aside = cross([main.origin[0] - origin[0], main.origin[1] - origin[1], main.origin[2] - origin[2]], direction);
  return length(aside) < 0.05 && main.cylinders.some((c) => c.concave && c.radius > 2);
}

// The axes, their opposites and the diagonals between them.
function spread(directions: readonly Vec3[]): Vec3[] {
  const [a, b, c] = directions;
  const out: Vec3[] = [];
  for (const i of [-1, 0, 1])
    for (const j of [-1, 0, 1])
      for (const k of [-1, 0, 1]) {
        const d: Vec3 = [0, 1, 2].map((n) => i * a[n] + j * b[n] + k * c[n]) as unknown as Vec3;
        if (length(d) > 0.5) out.push(normalize(d));
      }
  return out;
}
