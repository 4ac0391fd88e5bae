import { computePlanOutline, type PlanOptions, type PlanOutline, type Proof, proveEnclosure } from '#core/envelope';
import { done, type Result } from '#core/issues';
import { type Kernel, loadFlatBooleans, type OpenModel, type SampledBody, sampleModelFile } from '#core/kernel';
import { ENCLOSURE_SLACK, type Frame, frameFromWorld } from '#core/math';
import { joinMeshes, moveMesh, writeStl } from '#core/mesh';
import { bodiesFor, type ComponentRecord, GEOMETRY_TARGETS, mountFrameOf, type PlanRecord, planInputs } from '#core/records';
import { workOf } from '#core/sources';

/** Share of a plan outline's tolerance that the kernel's chords may take. */
export const PLAN_CHORDS = 0.2;

/** A plan outline with the proof of its solid, which has the last word on the least growth; steps that would not hold are left out. */
export function provenPlan(bodies: readonly SampledBody[], frame: Frame, options: PlanOptions): Result<PlanOutline & { readonly proof: Proof }> {
  const plan = computePlanOutline(bodies, frame, options);
  if (!plan.ok) return plan;
  const proof = proveEnclosure({ bodies }, plan.value.mesh);
  const isSound = proof.least >= -ENCLOSURE_SLACK && proof.closed && proof.crossings === 0;
  if (plan.value.steps.length > 1 && !isSound) return provenPlan(bodies, frame, { ...options, steps: false });
  return done({ ...plan.value, growth: { ...plan.value.growth, min: Math.min(plan.value.growth.min, proof.least) }, proof });
}

type Report = (share: number, text: string) => void;

/** The component's file where it is open, and who is told how far it is. */
interface PlanMeans {
  readonly opened?: OpenModel;
  readonly onProgress?: Report;
}

/** The plan outlines of a component in the turning plane of its mount, cutting and non-cutting apart; see `provenPlan`. */
export async function makeRecordPlan(
  kernel: Kernel,
  record: ComponentRecord,
  bytes: Uint8Array,
  tolerance: number,
  { opened, onProgress = () => undefined }: PlanMeans = {},
): Promise<Result<PlanRecord>> {
  const made = await plansOf(kernel, record, bytes, tolerance, false, onProgress, opened);
  if (!made.ok) return made;
  const parts = made.value.map(({ target, plan: { loops, growth, low, high } }) => ({ target, loops: [...loops], growth, low, high }));
  return done({ tolerance, inputs: planInputs(record, tolerance), parts });
}

/** The solid of the plan outlines, in steps where the tool is much lower, as an STL file in the mount's frame; and how many steps its parts have. */
export async function makeRecordPlanSolid(
  kernel: Kernel,
  record: ComponentRecord,
  bytes: Uint8Array,
  tolerance: number,
  { opened, onProgress = () => undefined }: PlanMeans = {},
): Promise<Result<{ readonly stl: Uint8Array; readonly triangles: number; readonly steps: readonly number[] }>> {
  const made = await plansOf(kernel, record, bytes, tolerance, true, onProgress, opened);
  if (!made.ok) return made;
  const mesh = moveMesh(frameFromWorld(mountFrameOf(record)), joinMeshes(made.value.map(({ plan }) => plan.mesh)));
  return done({ stl: writeStl(mesh), triangles: mesh.triangles.length / 3, steps: made.value.map(({ plan }) => plan.steps.length) });
}

async function plansOf(
  kernel: Kernel,
  record: ComponentRecord,
  bytes: Uint8Array,
  tolerance: number,
  steps: boolean,
  onProgress: Report,
  opened: OpenModel | undefined,
): Promise<Result<{ readonly target: PlanRecord['parts'][number]['target']; readonly plan: PlanOutline }[]>> {
  const flat = await loadFlatBooleans(kernel);
  const plans: { target: PlanRecord['parts'][number]['target']; plan: PlanOutline }[] = [];
  const targets = GEOMETRY_TARGETS.filter((t) => bodiesFor(record, t).length > 0);
  for (const [i, target] of targets.entries()) {
    const step: Report = (share, text) => onProgress((i + share) / targets.length, text);
    const ids = bodiesFor(record, target);
    const options = { chordTolerance: PLAN_CHORDS * tolerance, ids, onProgress: (s: number, text: string) => step(0.7 * s, text) };
    const sampled = opened ? opened.sample(options) : await sampleModelFile(kernel, bytes, record.source.fileName, { ...options, work: workOf(record) });
    if (!sampled.ok) return sampled;
    step(0.7, target === 'cutting' ? 'Outlining the cutting part' : 'Outlining the holder');
    const plan = provenPlan(sampled.value, mountFrameOf(record), { tolerance, flat, steps });
    if (!plan.ok) return plan;
    plans.push({ target, plan: plan.value });
  }
  return done(plans);
}
