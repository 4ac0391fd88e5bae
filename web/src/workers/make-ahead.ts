import { type Crew, chordFor, makeGeometry } from '#core/making';
import type { Kernel, OpenModel } from '#core/kernel';
import { IDENTITY_FRAME } from '#core/math';
import { type Reading, spinsAsRead } from '#core/reading';
import { bodiesFor, chosenGeometry, DEFAULT_TOLERANCE, type GeometryTarget } from '#core/records';

/**
 * Makes what will be asked for first of a model that was just read: the geometry of its cutting part and its holder, as they are made where nothing is chosen.
 * Whoever asks for it, or for something like it, finds what was done by then; where it was read wrongly it was made in vain. Ends at the next step once it `isOver`.
 */
export async function makeAhead(kernel: Kernel, opened: OpenModel, reading: Reading, crew: Crew, isOver: () => Promise<boolean>): Promise<void> {
  // Every wrap begins with these, whatever becomes of the proposals.
  for (const id of opened.bodyIds) {
    if (await isOver()) return;
    opened.sample({ ids: [id], chordTolerance: chordFor('wrap', DEFAULT_TOLERANCE['non-cutting']) });
  }
  const bodies = opened.bodyIds.map((id) => ({ id, role: reading.roles.find((r) => r.body === id)?.role ?? ('tool body' as const) }));
  const make = async (target: GeometryTarget, spins: boolean) => {
    const ids = bodiesFor({ bodies }, target);
    if (ids.length === 0 || (await isOver())) return;
    await makeGeometry(kernel, {
      ...chosenGeometry({ geometry: [] }, target),
      bytes: new Uint8Array(0),
      file: 'ahead',
      opened,
      bodies: ids,
      frame: reading.mount?.frame ?? IDENTITY_FRAME,
      spins,
      crew,
      goesOn: async () => !(await isOver()),
    });
  };
  await make('non-cutting', spinsAsRead(reading));
  await make('cutting', false);
}
