import { cross, distance, dot, length, projectOnLine, subtract, type Frame } from '#core/math';
import type { Model, Surface } from '#core/mesh';
import type { ComponentRecord } from '#core/records';
import type { PickRef } from '../../../scene/picks.ts';

// mm, and sine of an angle.
const NEAR = 0.05;
const PARALLEL = 1e-3;

/** Titles of the Ledger's entries that picked faces belong to: marks whose frame stands on them, the insert, the tip. */
export function pickedEntries(record: ComponentRecord, model: Model, picks: readonly PickRef[]): ReadonlySet<string> {
  const titles = new Set<string>();
  for (const pick of picks) {
    const surface = pick.kind === 'face' ? model.bodies.find((b) => b.id === pick.body)?.faces[pick.index]?.surface : undefined;
    if (!surface) continue;
    if (record.mount && isOn(surface, record.mount.frame)) titles.add('Mount');
    if (record.seats.some((s) => isOn(surface, s.frame))) titles.add('Seats');
    if (record.tips.some((t) => surface.kind === 'cylinder' && Math.abs(surface.radius - t.noseRadius) < NEAR && offAxis(surface, t.noseCentre) < NEAR))
      titles.add('Tip');
    if (record.inserts.length + record.moves.length > 0 && record.bodies.find((b) => b.id === pick.body)?.role === 'cutting') titles.add('Insert');
  }
  return titles;
}

const offAxis = (surface: { readonly origin: Frame['origin']; readonly axis: Frame['z'] }, point: Frame['origin']): number =>
  distance(point, projectOnLine(point, surface.origin, surface.axis));

// A flat face that a frame's origin lies in, square to its Z; a round one about its Z.
function isOn(surface: Surface, { origin, z }: Frame): boolean {
  if (surface.kind === 'plane') return length(cross(surface.normal, z)) < PARALLEL && Math.abs(dot(subtract(origin, surface.origin), z)) < NEAR;
  if (surface.kind === 'cylinder' || surface.kind === 'cone') return length(cross(surface.axis, z)) < PARALLEL && offAxis(surface, origin) < NEAR;
  return false;
}
