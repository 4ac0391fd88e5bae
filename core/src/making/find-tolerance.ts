import { failed, type Result, done } from '#core/issues';
import { roundTo } from '#core/math';

// mm. Between these a tolerance is looked for.
const FINEST = 0.001;
const COARSEST = 5;
// Where two tolerances differ by less than this factor, the coarser one, which keeps the budget, is taken.
const NEAR_ENOUGH = 1.15;

/**
 * What is made with nearly the least tolerance that takes at most `budget` triangles: by threes from the first tolerance on, then by halving (of the
 * logarithm) between one that keeps the budget and one that does not. Refused where even the greatest takes more.
 */
export async function findTolerance<T>(
  first: number,
  budget: number,
  attempt: (tolerance: number) => Promise<Result<{ readonly triangles: number; readonly value: T }>>,
): Promise<Result<T>> {
  let tolerance = Math.min(COARSEST, Math.max(FINEST, first));
  let best: T | undefined;
  // The finest tolerance that was seen to keep the budget, and the coarsest that was seen not to.
  let [keeps, breaks] = [Infinity, 0];
  for (;;) {
    const made = await attempt(tolerance);
    if (!made.ok) return made;
    const { triangles, value } = made.value;
    if (triangles <= budget) {
      keeps = tolerance;
      best = value;
    } else breaks = tolerance;
    if (breaks >= COARSEST) return failed('envelope.budget-too-small', { triangles: budget, least: triangles, tolerance: COARSEST });
    if (best !== undefined && (keeps <= FINEST || keeps < NEAR_ENOUGH * breaks)) return done(best);
    const next = breaks === 0 ? Math.max(FINEST, keeps / 3) : keeps === Infinity ? Math.min(COARSEST, breaks * 3) : Math.sqrt(keeps * breaks);
    tolerance = roundTo(next, 4);
  }
}
