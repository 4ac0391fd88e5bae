import { useEffect, useMemo, useState } from 'react';
import type { HeadRoom, SetUpParts } from '#core/carrier';
import type { Place } from '#core/records';
import { geometryClient, modelsFor } from '../../../workers/geometry-client.ts';
import { roomKeyOf } from '../use-room.ts';

// ms without a change before it is asked: an angle that is dragged does not ask, all else does.
const STILL_MS = 200;

/** The room of an edge of a place over the angles of its head, once it is known of what is shown now. */
export function useHeadRoom(parts: SetUpParts, place: Place, edge: number, isLoading: boolean): HeadRoom | undefined {
  const { components, models } = parts;
  // The angle that it stands at now is no part of it.
  const key = useMemo(() => {
    const places = parts.setUp.places.map((p) => (p.id === place.id ? { ...p, angleDeg: 0 } : p));
    return `${place.id} ${edge} ${roomKeyOf({ ...parts, setUp: { ...parts.setUp, places } })}`;
  }, [parts, place.id, edge]);
  const [answer, setAnswer] = useState<{ readonly key: string; readonly room?: HeadRoom }>({ key: '' });
  useEffect(() => {
    if (isLoading) return undefined;
    let live = true;
    const ask = async () => {
      const result = await geometryClient.run<HeadRoom>({ job: 'looking at the room of the head', limitSeconds: 120 }, async (remote) => {
        if (!live) return { ok: false, issues: [] };
        const { models: _, ...rest } = parts;
        return remote.headRoom(rest, place.id, edge, await modelsFor(remote, Object.values(components), models));
      });
      if (live) setAnswer(result.state === 'done' ? { key, room: result.value } : { key });
    };
    const later = setTimeout(() => void ask(), STILL_MS);
    return () => {
      live = false;
      clearTimeout(later);
    };
  }, [key, isLoading]); // oxlint-disable-line react/exhaustive-deps
  return answer.key === key ? answer.room : undefined;
}
