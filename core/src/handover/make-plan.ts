import { computePlanOutline } from '#core/envelope';
import { done, type Result } from '#core/issues';
import { type Kernel, loadFlatBooleans, sampleModelFile } from '#core/kernel';
import { bodiesFor, type ComponentRecord, GEOMETRY_TARGETS, mountFrameOf, type PlanRecord, planInputs } from '#core/records';
import { workOf } from './pack.ts';

// Share of the tolerance that the kernel's chords may take.
const CHORDS = 0.2;

/** The plan outlines of a component in the turning plane of its mount, cutting and non-cutting apart; see `computePlanOutline`. */
export async function makeRecordPlan(
  kernel: Kernel,
  record: ComponentRecord,
  bytes: Uint8Array,
  tolerance: number,
  onProgress: (share: number, text: string) => void = () => undefined,
): Promise<Result<PlanRecord>> {
  const flat = await loadFlatBooleans(kernel);
  const parts: PlanRecord['parts'] = [];
  const targets = GEOMETRY_TARGETS.filter((t) => bodiesFor(record, t).length > 0);
  for (const [i, target] of targets.entries()) {
    const step = (share: number, text: string) => onProgress((i + share) / targets.length, text);
    const ids = bodiesFor(record, target);
    const options = { chordTolerance: CHORDS * tolerance, ids, work: workOf(record), onProgress: (s: number, text: string) => step(0.7 * s, text) };
    const sampled = await sampleModelFile(kernel, bytes, record.source.fileName, options);
    if (!sampled.ok) return sampled;
    step(0.7, target === 'cutting' ? 'Outlining the cutting part' : 'Outlining the holder');
    const plan = computePlanOutline(sampled.value, mountFrameOf(record), { tolerance, flat });
    if (!plan.ok) return plan;
    const { loops, growth, low, high } = plan.value;
    parts.push({ target, loops: loops.map(({ hole, pieces }) => ({ hole, pieces: pieces.map((p) => ({ ...p })) })), growth, low, high });
  }
  return done({ tolerance, inputs: planInputs(record, tolerance), parts });
}
