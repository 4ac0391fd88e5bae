import { useMemo } from 'react';
import type { Room, SetUpParts } from '#core/carrier';
import { modelsFor } from '../../workers/geometry-client.ts';
import { useAsked } from '../../workers/use-asked.ts';

/** What the room of a set-up follows from: names and numbers of tools are no part of it. */
export const roomKeyOf = ({ machine, setUp, assemblies, components }: Omit<SetUpParts, 'models'>): string =>
  JSON.stringify([
    machine.spindles,
    machine.carriers,
    setUp.blanks,
    setUp.counterAt ?? null,
    setUp.places.map(({ edges, ...place }) => [place, edges.map((e) => [e.pieceId, e.tipId, e.spindle])]),
    Object.values(assemblies).map((a) => [a?.id, a?.pieces, a?.gaugeLine]),
    Object.values(components).map((c) => [c?.id, c?.model.blob, c?.mount, c?.feet, c?.seats, c?.tips, c?.bodies.map((b) => b.role)]),
  ]);

/** How much room a set-up leaves, once it is known of what is shown now; undefined until then. */
export function useRoom(parts: SetUpParts, isLoading: boolean): Room | undefined {
  const { machine, setUp, assemblies, components, models } = parts;
  const key = useMemo(() => roomKeyOf({ machine, setUp, assemblies, components }), [machine, setUp, assemblies, components]);
  return useAsked<Room>({
    key,
    isReady: !isLoading && setUp.places.length > 0,
    job: 'looking at the room of the stations',
    stillMs: 250,
    ask: async (remote) => {
      const { models: _, ...rest } = parts;
      return remote.room(rest, await modelsFor(remote, Object.values(components), models));
    },
  }).value;
}
