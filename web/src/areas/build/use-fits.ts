import { useEffect, useMemo, useState } from 'react';
import type { Fits } from '#core/assembly';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import { geometryClient, modelsFor } from '../../workers/geometry-client.ts';

// ms without a change before it is asked: a stick-out that is dragged changes all the time.
const STILL_MS = 120;

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
  // Without fits: it could not be told.
  const [answer, setAnswer] = useState<{ readonly key: string; readonly fits?: Fits }>({ key: '' });
  useEffect(() => {
    if (!isWhole) return undefined;
    let live = true;
    const ask = async () => {
      const of = Object.fromEntries(used.map((c) => [c.id, c]));
      const result = await geometryClient.run<Fits>({ job: 'looking at what touches', limitSeconds: 120 }, async (remote) => {
        if (!live) return { ok: false, issues: [] };
        return remote.fits({ pieces: record.pieces }, of, await modelsFor(remote, used, models));
      });
      if (live) setAnswer(result.state === 'done' ? { key, fits: result.value } : { key });
    };
    const later = setTimeout(() => void ask(), STILL_MS);
    return () => {
      live = false;
      clearTimeout(later);
    };
  }, [key, isWhole]); // oxlint-disable-line react/exhaustive-deps
  const isKnown = answer.key === key;
  return { fits: isKnown ? answer.fits : undefined, isLooking: isWhole && !isKnown };
}
