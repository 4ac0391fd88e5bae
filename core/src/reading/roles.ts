import { cross, dot, fromZAndX, length, normalize, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import type { BodyRole } from '#core/records';
import { lookAtFaces, planesOf, reachAlong } from './face-table.ts';
import { groupRound, isAboutLine } from './round-groups.ts';

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

// Of all its area that a plate's largest flat face has: a small insert with a large countersink has least.
const LEAST_BASE = 0.08;
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
    if (thickness > 0.8 * across || base.area < LEAST_BASE * whole) continue;
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

// Shares: volume and area of equal bodies differ by less, also as meshes.
const SAME_SIZE = 3e-3;

/** Whether two bodies have the same form, as far as their sizes tell. */
export const isAlike = (a: BodyGeometry, b: BodyGeometry): boolean =>
  Math.abs(a.volume / b.volume - 1) < SAME_SIZE && Math.abs(a.area / b.area - 1) < SAME_SIZE;

/** Bodies that cut, with how that was told: those that bear the cutting corner, and their like. */
export interface CuttingPart {
  readonly body: BodyGeometry;
  readonly sure: number;
  readonly evidence: string;
  /** All that are known to cut, where there are several. */
  readonly all?: readonly BodyGeometry[];
}

/**
 * Which body is what. `tool` is what it is built on; `cutting` is what bears the cutting corner, and other bodies of the same form that stand
 * elsewhere cut as well; screws, pins, shims and clamps are hardware; a ring about the tool's own axis is a nut, which belongs to it.
 */
export function proposeRoles(
  model: Model,
  tool: BodyGeometry,
  cutting: CuttingPart | undefined,
  axis?: { readonly origin: Vec3; readonly direction: Vec3 },
): RoleProposal[] {
  const roles = rolesByShape(model, tool, cutting, axis);
  return roles.map((role, i) =>
    asNamed(
      role,
      model.bodies[i].name,
      roles.some((r) => r.role === 'cutting'),
    ),
  );
}

// CUT and NOCUT are the names that ISO/TS 13399-80 gives to what cuts and what does not.
const CUTS = /(?:^|[ _.,-])cut(?:$|[ _.,-])/i;
const CUTS_NOT = /(?:^|[ _.,-])no[ _-]?cut(?:$|[ _.,-])/i;

function asNamed(role: RoleProposal, name: string, someCuts: boolean): RoleProposal {
  const said = CUTS_NOT.test(name) ? 'NOCUT' : CUTS.test(name) ? 'CUT' : undefined;
  if (!said) return role;
  const agrees = (said === 'CUT') === (role.role === 'cutting');
  if (agrees) return { ...role, confidence: Math.max(role.confidence, 0.985), evidence: `${role.evidence}; called ${said}` };
  // Where the shape shows nothing that cuts, the name does.
  if (said === 'CUT' && !someCuts && role.confidence < 0.98) return { ...role, role: 'cutting', confidence: 0.9, evidence: 'called CUT' };
  return { ...role, confidence: Math.min(role.confidence, 0.6), evidence: `${role.evidence}; but it is called ${said}` };
}

function rolesByShape(
  model: Model,
  tool: BodyGeometry,
  cutting: CuttingPart | undefined,
  axis?: { readonly origin: Vec3; readonly direction: Vec3 },
): RoleProposal[] {
  const [second] = model.bodies.filter((b) => b !== tool).sort((a, b) => b.volume - a.volume);
  return model.bodies.map((body): RoleProposal => {
    if (body === tool) {
      const clear = !second || tool.volume > 2 * second.volume;
      return {
        body: body.id,
        role: 'tool body',
        confidence: clear ? 0.98 : 0.9,
        evidence: second ? `has the mount; ${sayRatio(tool, second)}` : 'the only body',
      };
    }
    if (cutting && (cutting.body === body || cutting.all?.includes(body)))
      return { body: body.id, role: 'cutting', confidence: cutting.sure, evidence: cutting.evidence };
    if (cutting && isAlike(body, cutting.body))
      return { body: body.id, role: 'cutting', confidence: 0.85, evidence: `the same form as ${cutting.body.id}, which cuts` };
    if (axis && isRing(body, axis)) return { body: body.id, role: 'tool body', confidence: 0.92, evidence: 'a ring about the axis of the tool, as a nut is' };
    if (axis && isShaft(body, tool, axis))
      return { body: body.id, role: 'tool body', confidence: 0.85, evidence: 'turns about the axis of the tool and goes through it, as a driven shaft does' };
    const round = roundness(body);
    if (round > 0.6) {
      const heavy = body.volume > 0.15 * tool.volume || body.volume > LARGEST_SCREW;
      return {
        body: body.id,
        role: heavy ? 'tool body' : 'hardware',
        confidence: heavy ? 0.7 : 0.95,
        evidence: `turns about its axis (${Math.round(round * 100)} % of its area)${heavy ? ' and is too heavy for a screw' : ', as screws and pins do'}`,
      };
    }
    if (body.volume >= 0.2 * tool.volume) return { body: body.id, role: 'tool body', confidence: 0.6, evidence: 'too heavy for hardware' };
    const isPlate = plateOf(body) !== undefined;
    // A plate without a found corner next to it may be the insert itself.
    return {
      body: body.id,
      role: 'hardware',
      confidence: cutting ? (isPlate ? 0.92 : 0.9) : 0.6,
      evidence: isPlate ? 'a plate behind the cutting corner: a shim' : 'small, and no plate: a clamp or the like',
    };
  });
}

// mm3: a screw of 16 mm with its head, 60 mm long.
const LARGEST_SCREW = 17_000;

// On the tool's own axis, for a good part of its length.
function isShaft(body: BodyGeometry, tool: BodyGeometry, line: { readonly origin: Vec3; readonly direction: Vec3 }): boolean {
  const [main] = groupRound(lookAtFaces(body));
  if (!main || !isAboutLine(main, line)) return false;
  const [[from, to], [low, high]] = [reachAlong(body, line.direction), reachAlong(tool, line.direction)];
  return to - from > 0.3 * (high - low) && roundness(body) > 0.5;
}

// Hollow, and turning about the given axis.
function isRing(body: BodyGeometry, line: { readonly origin: Vec3; readonly direction: Vec3 }): boolean {
  const [main] = groupRound(lookAtFaces(body));
  return main !== undefined && isAboutLine(main, line) && main.cylinders.some((c) => c.concave && c.radius > 2);
}

// An open body may have any volume.
const sayRatio = (tool: BodyGeometry, next: BodyGeometry): string =>
  next.volume > 0 ? `${(tool.volume / next.volume).toFixed(1)} times the next body's volume` : 'the next body is open';
