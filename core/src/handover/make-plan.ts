import { computePlanOutline, type PlanOptions, type PlanOutline, type Proof, proveEnclosure } from '#core/envelope';
import { done, type Result } from '#core/issues';
import { type Kernel, loadFlatBooleans, type SampledBody, sampleModelFile } from '#core/kernel';
import type { Frame } from '#core/math';
import { bodiesFor, type ComponentRecord, GEOMETRY_TARGETS, mountFrameOf, type PlanRecord, planInputs } from '#core/records';
import { workOf } from './source-file.ts';

/** Share of a plan outline's tolerance that the kernel's chords may take. */
export const PLAN_CHORDS = 0.2;

/** A plan outline with the proof of its solid, which has the last word on the least growth. */
export function provenPlan(bodies: readonly SampledBody[], frame: Frame, options: PlanOptions): Result<PlanOutline & { readonly proof: Proof }> {
  const plan = computePlanOutline(bodies, frame, options);
  if (!plan.ok) return plan;
  const proof = proveEnclosure({ bodies }, plan.value.mesh);
  return done({ ...plan.value, growth: { ...plan.value.growth, min: Math.min(plan.value.growth.min, proof.least) }, proof });
}

/** The plan outlines of a component in the turning plane of its mount, cutting and non-cutting apart; see `provenPlan`. */
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
    const options = { chordTolerance: PLAN_CHORDS * tolerance, ids, work: workOf(record), onProgress: (s: number, text: string) => step(0.7 * s, text) };
    const sampled = await sampleModelFile(kernel, bytes, record.source.fileName, options);
    if (!sampled.ok) return sampled;
    step(0.7, target === 'cutting' ? 'Outlining the cutting part' : 'Outlining the holder');
    const plan = provenPlan(sampled.value, mountFrameOf(record), { tolerance, flat });
    if (!plan.ok) return plan;
    const { loops, growth, low, high } = plan.value;
    parts.push({ target, loops, growth, low, high });
  }
  return done({ tolerance, inputs: planInputs(record, tolerance), parts });
}
