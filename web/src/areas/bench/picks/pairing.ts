// Pairs of picks that belong together: what is picked on a body that moves, and what on the bodies that stay.
import type { LocatingPair } from '#core/assembly';
import type { Model } from '#core/mesh';
import type { PickRef } from '../../../scene/picks.ts';
import { axisOfPick, planeOfPick, pointOfPick } from './pick-frames.ts';

export interface Pairing {
  readonly body: string;
  readonly pairs: readonly LocatingPair[];
}

/** Pairs in the order of the picks: the first on the body of the first pick with the first on another one, and so on; undefined where one has no partner of its kind. */
export function pairingOf(model: Model, picks: readonly PickRef[]): Pairing | undefined {
  const body = picks[0]?.body;
  const moving = picks.filter((p) => p.body === body);
  const fixed = picks.filter((p) => p.body !== body);
  if (moving.length === 0 || moving.length !== fixed.length || moving.length > 3) return undefined;
  const pairs = moving.map((m, i) => pairOf(model, m, fixed[i]));
  return pairs.every((p) => p !== undefined) ? { body, pairs } : undefined;
}

function pairOf(model: Model, moving: PickRef, fixed: PickRef): LocatingPair | undefined {
  const faces = [moving, fixed].map((p) => faceOf(model, p));
  if (faces[0] && faces[1]) return { kind: 'face', moving: faces[0], fixed: faces[1] };
  const axes = [moving, fixed].map((p) => axisOfPick(model, p));
  if (axes[0] && axes[1]) return { kind: 'axis', moving: axes[0], fixed: axes[1] };
  const points = [moving, fixed].map((p) => (p.kind === 'corner' ? pointOfPick(model, p) : undefined));
  return points[0] && points[1] ? { kind: 'corner', moving: points[0], fixed: points[1] } : undefined;
}

// A flat face, which lies on another one; the plane of a circle is its axis.
function faceOf(model: Model, pick: PickRef) {
  const plane = pick.kind === 'face' ? planeOfPick(model, pick) : undefined;
  return plane && { origin: plane.origin, direction: plane.normal };
}
