import { useEffect, useMemo, useState } from 'react';
import type { Room, SetUpParts } from '#core/carrier';
import { geometryClient, modelsFor } from '../../workers/geometry-client.ts';

// ms without a change before it is asked.
const STILL_MS = 250;

/** What the room of a set-up follows from: names and numbers of tools are no part of it. */
export const roomKeyOf = ({ machine, setUp, assemblies, components }: Omit<SetUpParts, 'models'>): string =>
  JSON.stringify([
    machine.spindles,
    machine.carriers,
    setUp.blanks,
    setUp.counterAt ?? null,
    setUp.places.map(({ edges, ...place }) => [place, edges.map((e) => [e.pieceId, e.tipId, e.spindle])]),
    Object.values(assemblies).map((a) => [a?.id, a?.pieces, a?.gaugeLine]),
    Object.values(components).map((c) => [c?.id, c?.model.blob, c?.mount, c?.seats, c?.tips, c?.bodies.map((b) => b.role)]),
  ]);

/** How much room a set-up leaves, once it is known of what is shown now; undefined until then. */
export function useRoom(parts: SetUpParts, isLoading: boolean): Room | undefined {
  const { machine, setUp, assemblies, components, models } = parts;
  const key = useMemo(() => roomKeyOf({ machine, setUp, assemblies, components }), [machine, setUp, assemblies, components]);
  const [answer, setAnswer] = useState<{ readonly key: string; readonly room?: Room }>({ key: '' });
  useEffect(() => {
    if (isLoading || setUp.places.length === 0) return undefined;
    let live = true;
    const ask = async () => {
      const result = await geometryClient.run<Room>({ job: 'looking at the room of the stations', limitSeconds: 120 }, async (remote) => {
        if (!live) return { ok: false, issues: [] };
        const { models: _, ...rest } = parts;
        return remote.room(rest, await modelsFor(remote, Object.values(components), models));
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
