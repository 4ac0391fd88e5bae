import { roundTo } from '#core/math';
import type { Carrier } from '#core/records';
import type { EdgeRow, Reach, SetUpParts } from './rows.ts';
import { fromNose, noseAt } from './frames.ts';
import { jawFront } from './spindle.ts';

/** The reach of a station's edges; undefined without edges. */
export function reachOf(
  edges: readonly Pick<EdgeRow, 'own' | 'spindle' | 'atWork'>[],
  carrier: Carrier,
  { machine, setUp }: Pick<SetUpParts, 'machine' | 'setUp'>,
): Reach | undefined {
  const all = edges.flatMap((e): Reach[] => {
    const at = noseAt(machine, e.spindle, setUp);
    const spindle = machine.spindles[e.spindle];
    if (at === undefined || !spindle) return [];
    // Positions along the spindle's own Z: those of the counter spindle count the other way, from its nose.
    const [low, high] = carrier.travel.z.map((z) => fromNose(e.spindle, at, z)).sort((a, b) => a - b);
    const front = jawFront(spindle);
    return [
      {
        pastCentre: roundTo(-(carrier.travel.x[0] + e.atWork.X), 6),
        pastJaws: roundTo(front - (low + e.atWork.Z), 6),
        longest: roundTo(high + e.atWork.Z - front, 6),
        edge: e.own.name,
      },
    ];
  });
  if (all.length === 0) return undefined;
  const worst = (key: 'pastCentre' | 'pastJaws' | 'longest') => all.reduce((a, b) => (b[key] < a[key] ? b : a));
  return {
    pastCentre: worst('pastCentre').pastCentre,
    pastJaws: worst('pastJaws').pastJaws,
    longest: worst('longest').longest,
    edge: worst('pastCentre').edge,
  };
}
