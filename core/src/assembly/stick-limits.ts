import { compose, frameFromWorld, type Motion } from '#core/math';
import { type Model, movePoints } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord, Connection } from '#core/records';
import { SEATS_ON_FACE } from '#core/standards';
import { leastHeld, reachAlongMount } from './checks.ts';
import { type ComponentsById, parentFromChild } from './join.ts';
import { cuttingFrom, shoulderOf } from './stick-out.ts';

/** A stick-out at which something is felt. */
export interface StickOutStop {
  /** mm from the seat to the mount. */
  readonly at: number;
  readonly what: string;
}

/** How far a piece can go in and out of its seat. */
export interface StickOutLimits {
  /** mm: furthest in; minus infinity where nothing stops it. */
  readonly least: number;
  /** mm: furthest out, where its rear end comes to the seat and nothing holds it. */
  readonly most: number;
  /** What is met on the way, from the innermost outwards. */
  readonly stops: readonly StickOutStop[];
}

/**
 * The limits of a stick-out: the shoulder at the face, the end of the bore (on the drawn triangles, within their chords), the least length that is held, what
 * cuts at the face. Undefined where there is no stick-out to choose, or a model is not known.
 */
export function stickOutLimits(
  assembly: Pick<AssemblyRecord, 'pieces'>,
  components: ComponentsById,
  pieceId: string,
  models: Readonly<Record<string, Model | undefined>>,
): StickOutLimits | undefined {
  const piece = assembly.pieces.find((p) => p.id === pieceId);
  const component = piece && components[piece.componentId];
  const holder = components[assembly.pieces.find((p) => p.id === piece?.parent?.pieceId)?.componentId ?? ''];
  const seat = holder?.seats.find((s) => s.id === piece?.parent?.seatId);
  const [model, holderModel] = [component && models[component.id], holder && models[holder.id]];
  if (!piece || !component?.mount || !holder || !seat || !model || !holderModel || SEATS_ON_FACE.includes(component.mount.connection.standard))
    return undefined;
  const [behind] = reachAlongMount(component, model);
  const end = endOfBore(holder, holderModel, seat, component, model, piece.rollDeg);
  const shoulder = shoulderOf(component, model);
  const cuts = component.componentKind === 'cutter' ? cuttingFrom(component, model) : undefined;
  // What stops it, and what is felt on the way.
  const walls: StickOutStop[] = [
    ...(end === undefined ? [] : [{ at: end - behind, what: `at the end of the bore of ${holder.name}` }]),
    ...(shoulder === undefined ? [] : [{ at: -shoulder, what: 'shoulder at the face' }]),
  ];
  const stops: StickOutStop[] = [
    ...walls,
    { at: -behind - leastHeld(seat, component.mount), what: seat.leastIn === undefined ? 'held by twice its shank' : `held as ${seat.name} wants` },
    ...(cuts === undefined ? [] : [{ at: -cuts, what: 'out as far as it cuts' }]),
  ];
  const least = Math.max(-Infinity, ...walls.map((w) => w.at));
  const most = -behind;
  return { least, most, stops: stops.filter((s) => s.at >= least && s.at <= most).sort((a, b) => a.at - b.at) };
}

/**
 * A stick-out that a hand asks for, as it is felt: never beyond the limits, held at a stop that is nearer than `feel` mm, else in steps of `step` mm of what
 * is read, which is the stick-out and `front`; and what is felt there.
 */
export function feelStops(
  { least, most, stops }: StickOutLimits,
  asked: number,
  feel: number,
  step: number,
  front = 0,
): { readonly at: number; readonly felt: string | null } {
  const within = Math.min(most, Math.max(least, asked));
  const near = stops.reduce<StickOutStop | undefined>((a, b) => (a && Math.abs(a.at - within) <= Math.abs(b.at - within) ? a : b), undefined);
  if (near && Math.abs(near.at - within) <= feel) return { at: near.at, felt: near.what };
  if (most - within <= feel) return { at: most, felt: 'nothing is held any more' };
  return { at: Math.min(most, Math.max(least, Math.round((within + front) / step) * step - front)), felt: null };
}

// Corners of the rear end that are looked at, at most, and how far they are drawn in: a bore may be as wide as the shank.
const MOST_POINTS = 48;
const DRAWN_IN = 0.94;
// mm: corners so near to the last one are its rear end; what is less far in is the mouth itself.
const REAR = 0.05;
const MOUTH = 0.05;

// Where a piece that is pushed into a seat meets something with its rear end: along the seat's Z; nothing where the bore goes through.
function endOfBore(holder: ComponentRecord, holderModel: Model, seat: Connection, piece: ComponentRecord, model: Model, rollDeg: number): number | undefined {
  if (!piece.mount) return undefined;
  const inSeat = frameFromWorld(seat.frame);
  const rear = rearCorners(piece, model, compose(inSeat, parentFromChild(seat.frame, piece.mount.frame, 0, rollDeg)));
  if (rear.length === 0) return undefined;
  let end: number | undefined;
  for (const body of holderModel.bodies) {
    if (holder.bodies.find((b) => b.id === body.id)?.role === 'left out') continue;
    const p = movePoints(inSeat, body.mesh.positions);
    const t = body.mesh.triangles;
    for (let k = 0; k < t.length; k += 3) {
      const [a, b, c] = [3 * t[k], 3 * t[k + 1], 3 * t[k + 2]];
      if (Math.min(p[a + 2], p[b + 2], p[c + 2]) > -MOUTH || Math.max(p[a + 2], p[b + 2], p[c + 2]) <= (end ?? -Infinity)) continue;
      for (const [x, y] of rear) {
        const z = heightAt(p, a, b, c, x, y);
        if (z !== undefined && z < -MOUTH && z > (end ?? -Infinity)) end = z;
      }
    }
  }
  return end;
}

function rearCorners(component: ComponentRecord, model: Model, inSeat: Motion): [number, number][] {
  const found: [number, number][] = [];
  let last = Infinity;
  for (const body of model.bodies) {
    if (component.bodies.find((b) => b.id === body.id)?.role === 'left out') continue;
    const p = movePoints(inSeat, body.mesh.positions);
    for (let i = 0; i < p.length; i += 3) {
      if (p[i + 2] < last - REAR) found.length = 0;
      last = Math.min(last, p[i + 2]);
      if (p[i + 2] <= last + REAR) found.push([p[i], p[i + 1]]);
    }
  }
  const middle = [0, 1].map((k) => (Math.min(...found.map((f) => f[k])) + Math.max(...found.map((f) => f[k]))) / 2);
  const every = Math.max(1, Math.ceil(found.length / MOST_POINTS));
  return found
    .filter((_, i) => i % every === 0)
    .flatMap((f): [number, number][] => [DRAWN_IN, DRAWN_IN / 2].map((s) => [middle[0] + (f[0] - middle[0]) * s, middle[1] + (f[1] - middle[1]) * s]));
}

// Height of a triangle over a point of the X-Y plane; undefined beside it, or where it stands upright.
function heightAt(p: Float32Array | Float64Array, a: number, b: number, c: number, x: number, y: number): number | undefined {
  const [bx, by, cx, cy] = [p[b] - p[a], p[b + 1] - p[a + 1], p[c] - p[a], p[c + 1] - p[a + 1]];
  const area = bx * cy - by * cx;
  if (Math.abs(area) < 1e-12) return undefined;
  const [dx, dy] = [x - p[a], y - p[a + 1]];
  const [u, v] = [(dx * cy - dy * cx) / area, (bx * dy - by * dx) / area];
  return u < 0 || v < 0 || u + v > 1 ? undefined : p[a + 2] + u * (p[b + 2] - p[a + 2]) + v * (p[c + 2] - p[a + 2]);
}
