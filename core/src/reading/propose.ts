import { addScaled, cross, dot, type Frame, fromZAndX, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { findSeats, findShanks, flangeOf, type FoundConnection, type Shank } from './connections.ts';
import { reachAlong } from './face-table.ts';
import { plateOf, proposeRoles, type RoleProposal } from './roles.ts';
import { type FoundTip, rakeSide, readTip } from './tips.ts';

export const READING_KINDS = ['turning', 'boring', 'grooving', 'rotating', 'block', 'auto'] as const;
export type ReadingKind = (typeof READING_KINDS)[number];

export interface ReadingWarning {
  readonly code: string;
  readonly message: string;
}

/** What could be read from a model: proposals with evidence and confidence (0 to 1), in the coordinates of the file, mm and degrees. */
export interface Reading {
  readonly kind: Exclude<ReadingKind, 'auto'> | 'adapter';
  readonly roles: readonly RoleProposal[];
  readonly axis?: { readonly origin: Vec3; readonly direction: Vec3; readonly confidence: number };
  readonly mount?: FoundConnection;
  readonly seats: readonly FoundConnection[];
  readonly tips: readonly FoundTip[];
  readonly warnings: readonly ReadingWarning[];
}

/** Reads a model: roles, axis, mount, seats and tip. `kind` says what it is where that is known. */
export function proposeReading(model: Model, kind: ReadingKind = 'auto'): Reading {
  const warnings: ReadingWarning[] = [];
  const heaviest = [...model.bodies].sort((a, b) => b.volume - a.volume)[0];
  const first = findShanks([heaviest])[0];
  const roles = proposeRoles(model, first ? squareAxes(first) : AXES, first);
  const bodiesOf = (role: string) => model.bodies.filter((b) => roles.find((r) => r.body === b.id)?.role === role);
  const tool = bodiesOf('tool body');
  const cutting = bodiesOf('cutting');
  const shanks = findShanks(tool);
  const shank = shanks[0];
  if (!shank) {
    warnings.push({ code: 'no-shank', message: 'No shank or taper of a known standard was found; mark the mount by hand.' });
    return { kind: kind === 'auto' ? 'rotating' : kind, roles, seats: [], tips: [], warnings };
  }
  const doubt = shanks.find((s) => s !== shank && s.confidence > shank.confidence - 0.03 && s.connection.standard !== shank.connection.standard);
  if (doubt) warnings.push({ code: 'two-shanks', message: `It could also be ${doubt.connection.standard} ${doubt.connection.size} (${doubt.evidence}).` });
  const isTurning = cutting.length > 0 && ['square', 'cylindrical'].includes(shank.connection.standard);
  const guessed = isTurning
    ? shank.connection.standard === 'square'
      ? 'turning'
      : 'boring'
    : shank.connection.standard === 'VDI'
      ? 'block'
      : cutting.length > 0
        ? 'rotating'
        : 'adapter';
  const found = isTurning ? readTurning(shank, tool, cutting, model, warnings) : readHolder(shank, tool);
  const axis = { origin: shank.origin, direction: found.mount.frame.z, confidence: shank.confidence };
  const seats = cutting.length > 0 ? [] : findSeats(tool, found.mount.frame, guessed === 'block');
  return { kind: kind === 'auto' ? guessed : kind, roles, axis, mount: found.mount, seats, tips: found.tips, warnings };
}

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

function squareAxes(shank: Shank): Vec3[] {
  const x = shank.sides?.[0].outward ?? fromZAndX([0, 0, 0], shank.direction).x;
  return [shank.direction, x, cross(shank.direction, x)];
}

function readTurning(
  shank: Shank,
  tool: readonly BodyGeometry[],
  cutting: readonly BodyGeometry[],
  model: Model,
  warnings: ReadingWarning[],
): { mount: FoundConnection; tips: FoundTip[] } {
  const insert = cutting[0];
  const d = dot(subtract(insert.centroid, shank.origin), shank.direction);
  const z = scale(shank.direction, d > (shank.from + shank.to) / 2 ? 1 : -1);
  const plate = plateOf(insert);
  const others = model.bodies.filter((b) => !cutting.includes(b));
  const rake = plate && rakeSide(insert, plate.normal, others);
  const normal = rake?.top ?? [0, 0, 1];
  if (rake && !rake.sure)
    warnings.push({ code: 'rake-unsure', message: 'Both sides of the insert are free; which one is the rake face was taken from its shape only.' });
  const rear = rearOf(tool, z);
  const aside = across(subtract(insert.centroid, shank.origin), z);
  let frame: Frame;
  if (shank.sides) {
    // X: the side of the square that is most square to the rake, towards the insert; Y is then along the rake.
    const sides = [...shank.sides].sort((a, b) => Math.abs(dot(a.outward, normal)) - Math.abs(dot(b.outward, normal)));
    const [one, two] = sides;
    const x = dot(one.outward, aside) > dot(two.outward, aside) ? one.outward : two.outward;
    const back = x === one.outward ? two : one;
    const topSide = [...shank.sides].sort((a, b) => dot(b.outward, normal) - dot(a.outward, normal))[0];
    // Back side, rake-side face and rear face meet in the origin (ISO 5608: WF from the back side, HF at the top of the shank).
    const at = addScaled(addScaled(scale(z, rear.position), x, -back.offset), topSide.outward, topSide.offset);
    frame = fromZAndX(at, z, x);
  } else {
    const x = length(across(aside, normal)) > 0.05 ? across(aside, normal) : cross(normal, z);
    const origin = addScaled(shank.origin, z, rear.position - dot(shank.origin, z));
    frame = fromZAndX(origin, z, x);
  }
  const tip = readTip(insert, normal, frame, shank.sides ? 'square' : 'round');
  if (!tip) warnings.push({ code: 'no-nose', message: 'The insert has no rounded corner on its rake face; mark the tip by hand.' });
  return {
    mount: {
      frame,
      connection: shank.connection,
      confidence: Math.min(shank.confidence, rake?.sure === false ? 0.85 : 1),
      evidence: `${shank.evidence}; rear face at ${rear.evidence}`,
    },
    tips: tip ? [tip] : [],
  };
}

const across = (v: Vec3, n: Vec3): Vec3 => addScaled(v, n, -dot(v, n));

// The rear end of a shank: the furthest point away from the work.
function rearOf(tool: readonly BodyGeometry[], z: Vec3): { position: number; evidence: string } {
  const position = Math.min(...tool.map((b) => reachAlong(b, z)[0]));
  return { position, evidence: 'the end away from the insert' };
}

// Holders, adapters and blocks: the flange tells which way the work lies.
function readHolder(shank: Shank, tool: readonly BodyGeometry[]): { mount: FoundConnection; tips: FoundTip[] } {
  const isTaper = ['HSK-A', '7/24', 'PSC'].includes(shank.connection.standard);
  const options = [1, -1].map((s) => {
    const z = normalize(scale(shank.direction, s));
    return { z, flange: flangeOf(tool, shank, z) };
  });
  options.sort((a, b) => (b.flange?.area ?? 0) - (a.flange?.area ?? 0));
  const [best, other] = options;
  if (!best.flange) {
    // A plain round piece: the larger share beyond the shank is the work side.
    const middle = (shank.from + shank.to) / 2;
    const beyond =
      tool.map((b) => reachAlong(b, shank.direction)).reduce((sum, [a, b]) => sum + (a + b) / 2, 0) / tool.length - dot(shank.origin, shank.direction);
    const z = scale(shank.direction, beyond >= middle ? 1 : -1);
    const position = Math.min(...tool.map((b) => reachAlong(b, z)[0]));
    const origin = addScaled(shank.origin, z, position - dot(shank.origin, z));
    return {
      mount: {
        frame: fromZAndX(origin, z),
        connection: shank.connection,
        confidence: 0.6 * shank.confidence,
        evidence: `${shank.evidence}; no flange found, rear end taken`,
      },
      tips: [],
    };
  }
  const clear = !other.flange || best.flange.area > 1.5 * other.flange.area;
  const origin = addScaled(shank.origin, best.z, best.flange.position);
  return {
    mount: {
      frame: fromZAndX(origin, best.z, shank.index ?? tidyAcross(best.z)),
      connection: shank.connection,
      confidence: shank.confidence * (clear || isTaper ? 1 : 0.8),
      evidence: `${shank.evidence}; ${best.flange.evidence}`,
    },
    tips: [],
  };
}

// X where nothing tells it: the file's own axis that is most square to Z.
function tidyAcross(z: Vec3): Vec3 {
  return AXES.reduce((a, b) => (Math.abs(dot(a, z)) <= Math.abs(dot(b, z)) + 1e-9 ? a : b));
}
