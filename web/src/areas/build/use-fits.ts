import { useMemo } from 'react';
import type { Fits } from '#core/assembly';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import { modelsFor } from '../../workers/geometry-client.ts';
import { useAsked } from '../../workers/use-asked.ts';

/** How the pieces sit and what goes through what, once it is known of what is shown now; and whether it is being looked at. */
export function useFits(
  record: AssemblyRecord,
  components: Readonly<Record<string, ComponentRecord>>,
  models: Readonly<Record<string, Model | undefined>>,
): { readonly fits: Fits | undefined; readonly isLooking: boolean } {
  const used = useMemo(
    () => [...new Set(record.pieces.map((p) => p.componentId))].map((id) => components[id]).filter((c) => c !== undefined),
    [record.pieces, components],
  );
  const isWhole = used.length > 0 && used.every((c) => models[c.id]);
  // What the answer follows from.
  const key = useMemo(
    () => JSON.stringify([record.pieces, record.gaugeLine ?? null, used.map((c) => [c.id, c.model.blob, c.mount, c.seats, c.bodies.map((b) => b.role)])]),
    [record.pieces, record.gaugeLine, used],
  );
  const { value: fits, isOpen: isLooking } = useAsked<Fits>({
    key,
    isReady: isWhole,
    job: 'looking at what touches',
    stillMs: 120,
    ask: async (remote) => remote.fits({ pieces: record.pieces }, Object.fromEntries(used.map((c) => [c.id, c])), await modelsFor(remote, used, models)),
  });
  return { fits, isLooking };
}
