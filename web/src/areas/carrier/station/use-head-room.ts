import { useMemo } from 'react';
import type { HeadRoom, SetUpParts } from '#core/carrier';
import type { Place } from '#core/records';
import { modelsFor } from '../../../workers/geometry-client.ts';
import { useAsked } from '../../../workers/use-asked.ts';
import { roomKeyOf } from '../use-room.ts';

/** The room of an edge of a place over the angles of its head, once it is known of what is shown now. */
export function useHeadRoom(parts: SetUpParts, place: Place, edge: number, isLoading: boolean): HeadRoom | undefined {
  const { components, models } = parts;
  // The angle that it stands at now is no part of it.
  const key = useMemo(() => {
    const places = parts.setUp.places.map((p) => (p.id === place.id ? { ...p, angleDeg: 0 } : p));
    return `${place.id} ${edge} ${roomKeyOf({ ...parts, setUp: { ...parts.setUp, places } })}`;
  }, [parts, place.id, edge]);
  return useAsked<HeadRoom>({
    key,
    isReady: !isLoading,
    job: 'looking at the room of the head',
    stillMs: 200,
    ask: async (remote) => {
      const { models: _, ...rest } = parts;
      return remote.headRoom(rest, place.id, edge, await modelsFor(remote, Object.values(components), models));
    },
  }).value;
}
