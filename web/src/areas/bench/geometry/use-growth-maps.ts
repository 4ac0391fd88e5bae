import { useEffect, useMemo, useState } from 'react';
import type { GrowthMap } from '#core/making';
import { type ComponentRecord, freshGeometry, GEOMETRY_TARGETS } from '#core/records';
import { runShown } from '../../../app/jobs.tsx';
import { getBlob } from '../../../store/blobs.ts';
import { sourceBytes } from '../../../store/source-bytes.ts';
import { readLimitSeconds } from '../../../workers/geometry-client.ts';

export interface GrowthMaps {
  readonly maps: readonly GrowthMap[];
  readonly greatest: number;
}

// The maps of the last component that was looked at, by the geometry that they are of.
let last: { key: string; maps: GrowthMaps } | undefined;

/** How far the made geometry of a component stands outside, measured anew when it is asked for; undefined until it is known. */
export function useGrowthMaps(record: ComponentRecord, wanted: boolean): GrowthMaps | undefined {
  const made = useMemo(() => GEOMETRY_TARGETS.map((t) => freshGeometry(record, t)).filter((g) => g !== undefined), [record]);
  const key = made.map((g) => g.blob).join();
  const [known, setKnown] = useState(last);
  useEffect(() => {
    if (!wanted || made.length === 0 || last?.key === key) return;
    let live = true;
    void (async () => {
      const bytes = await sourceBytes(record);
      if (!bytes) return;
      const maps: GrowthMap[] = [];
      for (const g of made) {
        const blob = await getBlob(g.blob);
        if (!blob || !live) return;
        const map = await runShown<GrowthMap>(
          `Measuring the growth of ${record.name}`,
          { job: 'measuring the growth', limitSeconds: 120 + readLimitSeconds(bytes.length) },
          (remote, progress) => remote.growthMap(record, g, bytes, blob, progress),
        );
        if (!map) return;
        maps.push(map);
      }
      last = { key, maps: { maps, greatest: Math.max(...maps.map((m) => m.greatest)) } };
      if (live) setKnown(last);
    })();
    return () => {
      live = false;
    };
  }, [wanted, key, made, record]);
  return known?.key === key ? known.maps : undefined;
}
