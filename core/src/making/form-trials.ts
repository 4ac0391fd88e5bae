import { type Axis, type CheckCost, checkCost, computeExactGeometry, type ExactGeometry, type Growth, type Proof } from '#core/envelope';
import { done, failed, type Result } from '#core/issues';
import type { OpenModel, SampledBody } from '#core/kernel';
import { ENCLOSURE_SLACK } from '#core/math';
import { meshArea, type TriMesh, triangleCount, weldWith } from '#core/mesh';
import { DEFAULT_CLOSE_BELOW } from '#core/records';
import { ALONE, bare, proveWith } from './crew.ts';
import { type How, isMade, madeOnce } from './kept-work.ts';
import { finerWrap, keepWrap, type KeptWrap } from './kept-wraps.ts';
import { makeExact, makeRevolved } from './part-builders.ts';
import type { GeometryPart, GeometryRequest, PartMode, Report, Spent } from './request.ts';
import type { Crew, Made, WrapChoice } from './tasks.ts';

// mm. From this tolerance down a wrap takes chords half as high: what stays is then a tenth lighter (on ten models at 0.01 mm), and there are triangles enough to
// be worth the time.
const FINE = 0.02;

/**
 * mm. Chords that a form begins with at a tolerance. Of a wrap's flats every other one goes, or three of four: with a fifth of the tolerance what stays is as wide
 * as that lets it be (a twelfth fewer triangles than with 0.3, on eight bodies). An envelope takes the same, so that a body is sampled once for both.
 */
export const chordFor = (mode: PartMode, tolerance: number): number => tolerance * (mode === 'exact' ? 0.45 : mode === 'wrap' && tolerance <= FINE ? 0.1 : 0.2);

/**
 * mm. The coarsest chords that serve for a try, and what it is made with where none are there: hardly coarser than what is exact may be, so that it is seen first, made
 * of the same. Finer ones, down to some share of the usual, cost little: what was made of them within a finer tolerance is only made lighter.
 */
const triedChordFor = (mode: PartMode, tolerance: number): number => (mode === 'exact' ? chordFor(mode, tolerance) : 0.4 * tolerance);
const LEAST_OFF = 16;

// Of the places that a proof looks at: for a try. What is taken in the end is proven in full.
const TRIED_SHARE = 0.2;

// Triangles beyond which a finer tessellation is not tried: minutes, and it is seldom the tessellation that is at fault then.
const MOST_RETRIED = 300_000;

// Whether chords will do for a try.
const servesFor =
  (mode: PartMode, tolerance: number) =>
  (chord: number): boolean =>
    chord <= triedChordFor(mode, tolerance) && chord >= chordFor(mode, tolerance) / LEAST_OFF;

const SAY: Readonly<Record<PartMode, string>> = { exact: 'Pushing the chords out', wrap: 'Wrapping', revolved: 'Turning the envelope' };

/** How a part is made of its samples. */
interface Way {
  /** mm. Of the tolerance of what spins, kept for what its proof finds more than its builder knows. */
  readonly reserve: number;
  /** Of a wrap: the finer one that it is made of. */
  readonly from?: KeptWrap;
}

/** What a part was made from, and with. */
interface Origin {
  readonly sampled: readonly SampledBody[];
  readonly made: Made;
}

// Made once for a body with its chords, or a mesh, whoever asks.
const exact = new WeakMap<SampledBody, ExactGeometry>();
const welded = new WeakMap<TriMesh, TriMesh>();
const costs = new WeakMap<TriMesh, CheckCost>();

// Of what was amiss before: more than this share left by half the chords is no progress.
const STUCK = 0.75;
const isBroken = ({ proof }: GeometryPart): boolean => proof.crossings > 0 || !proof.closed;

/** Makes parts in one form each, as often as it takes to keep the tolerance, and proves them. */
export class FormTrials {
  private readonly source: OpenModel;
  private readonly request: GeometryRequest;
  private readonly origins = new Map<TriMesh, Origin>();
  private readonly crew: Crew;
  /** Of the places that a proof looks at. */
  private readonly share: number;
  readonly axis: Axis;

  constructor(source: OpenModel, request: GeometryRequest) {
    this.source = source;
    this.request = request;
    this.crew = request.crew ?? ALONE;
    this.share = request.isTry ? TRIED_SHARE : 1;
    this.axis = { origin: request.frame.origin, direction: request.frame.z };
  }

  /** Bodies with the chords that a form begins with. */
  sample(ids: readonly string[], mode: PartMode, report: Report): Result<SampledBody[]> {
    const { tolerance, isTry } = this.request;
    return isTry ? this.takeTried(ids, mode, report) : this.take(ids, chordFor(mode, tolerance), report);
  }

  private take(ids: readonly string[], chordTolerance: number, onProgress: Report): Result<SampledBody[]> {
    return this.source.sample({ chordTolerance, ids, onProgress });
  }

  // Whether chords were taken, other than usual.
  private tookOthers = false;

  // With the usual chords where they are there: so was what was made in earnest. Else with what is there, a little coarser or finer than it should be, else with coarse ones.
  private takeTried(ids: readonly string[], mode: PartMode, onProgress: Report): Result<SampledBody[]> {
    const { tolerance } = this.request;
    const usual = this.source.sampledBefore(ids, (chord) => chord === chordFor(mode, tolerance));
    if (usual) return done(usual);
    const sampled = this.source.sample({ chordTolerance: triedChordFor(mode, tolerance), ids, onProgress, good: servesFor(mode, tolerance) });
    if (sampled.ok) this.tookOthers ||= sampled.value.some((b) => b.chordTolerance > 0 && b.chordTolerance !== chordFor(mode, tolerance));
    return sampled;
  }

  /**
   * Bodies with chords that are there from another tolerance, where those that a form begins with are still to be taken; undefined where they are there, or none with which the form
   * `shown` is likely to keep the tolerance.
   */
  atHand(ids: readonly string[], form: PartMode, shown: PartMode): SampledBody[] | undefined {
    const { tolerance } = this.request;
    const usual = chordFor(form, tolerance);
    const serves = servesFor(form, tolerance);
    const isFine = (chord: number) => serves(chord) || (chord >= usual && chord <= chordFor(shown, tolerance));
    return this.source.sampledBefore(ids, (chord) => chord === usual) ? undefined : this.source.sampledBefore(ids, isFine);
  }

  /** Whether a body's wrap is there within a finer tolerance, which a try only makes lighter. */
  hasFinerWrap = (id: string): boolean => finerWrap(this.source.samplesOf(id), this.wrapChoice()) !== undefined;

  /** The exact geometry of a body with these chords, made once. */
  exactOf(body: SampledBody): ExactGeometry {
    const known = exact.get(body);
    if (known) return known;
    const made = computeExactGeometry(body);
    exact.set(body, made);
    return made;
  }

  /** A part's mesh with its corners joined, made once. */
  weldedOf({ mesh }: GeometryPart): TriMesh {
    const known = welded.get(mesh);
    if (known) return known;
    const made = weldWith(mesh, 1e-7).mesh;
    welded.set(mesh, made);
    return made;
  }

  async isStopped(): Promise<boolean> {
    const { goesOn } = this.request;
    return goesOn !== undefined && !(await goesOn());
  }

  /** A part that stands with `others`, in a form. `isSpare`: where there is a good one of another form, one that goes through itself is made finer once only. */
  async part(bodies: readonly string[], mode: PartMode, others: readonly GeometryPart[], report: Report, isSpare = false): Promise<Result<GeometryPart>> {
    if (mode === 'wrap' && this.request.isTry) {
      const lightened = await this.lightened(bodies[0], others);
      if (lightened) return lightened;
    }
    const part = await this.partWithin(bodies, mode, others, report, isSpare);
    const origin = part.ok && mode === 'wrap' && !this.request.isTry && this.isGood(part.value) ? this.origins.get(part.value.mesh) : undefined;
    if (origin) keepWrap(origin.sampled[0], { choice: this.wrapChoice(), made: origin.made });
    return part;
  }

  // For a try: what was made within a finer tolerance, made lighter. Undefined where there is none, or where it does not keep the tolerance.
  private async lightened(id: string, others: readonly GeometryPart[]): Promise<Result<GeometryPart> | undefined> {
    const finer = finerWrap(this.source.samplesOf(id), this.wrapChoice());
    if (!finer) return undefined;
    const part = await this.proven([id], 'wrap', [finer.body], others, () => undefined, { reserve: 0, from: finer.wrap });
    return wasStopped(part) || (part.ok && this.isGood(part.value)) ? part : undefined;
  }

  private wrapChoice(): WrapChoice {
    const { tolerance, closeBelow, triangles } = this.request;
    return { tolerance, closeBelow, triangles };
  }

  // Nor may a wrap go through itself or touch itself, where a body's walls come near each other.
  private isGood(part: GeometryPart): boolean {
    return this.faultOf(part) === 0 && !(part.mode === 'wrap' && isBroken(part));
  }

  // mm, how far a part is from what is asked for.
  private readonly faultOf = ({ growth }: GeometryPart): number => Math.max(0, growth.max - this.request.tolerance, -growth.min - ENCLOSURE_SLACK);

  private async partWithin(
    bodies: readonly string[],
    mode: PartMode,
    others: readonly GeometryPart[],
    report: Report,
    isSpare: boolean,
  ): Promise<Result<GeometryPart>> {
    const { tolerance, drawn } = this.request;
    let chord = chordFor(mode, tolerance);
    let reserve = 0;
    let best = await this.attempt(bodies, mode, chord, others, report, { reserve, isStrict: false });
    // Chords that were there were too coarse: the usual ones.
    const wasRough = this.tookOthers;
    // The kernel's chords may miss their tolerance on cones (0.062 for 0.022 was seen), and where corners cannot move a coarse one may stay inside:
    // once more, finer. What was drawn is taken as it is.
    for (let retry = 0; retry < 3 && best.ok && !this.isGood(best.value) && best.value.trianglesIn < MOST_RETRIED && !(mode === 'revolved' && drawn); retry++) {
      // Of what spins the proof may find more than the builder knows, by chords: then that much less is allowed, which needs no finer ones.
      const { min, max } = best.value.growth;
      const more = max - 0.995 * tolerance;
      if (mode === 'revolved' && min >= -ENCLOSURE_SLACK && reserve + more < tolerance / 2) reserve += more;
      else if (!wasRough || retry > 0) chord /= 2;
      const next = await this.attempt(bodies, mode, chord, others, report, { reserve, isStrict: true });
      if (!next.ok) {
        // A finer tessellation may have gaps where a coarse one has none: that stays.
        if (wasStopped(next)) return next;
        break;
      }
      const spent = addSpent(best.value.spent, next.value.spent);
      const isTaken = next.value.growth.min >= Math.min(best.value.growth.min, -ENCLOSURE_SLACK);
      const isStuck = isBroken(best.value) && (isSpare || this.isHardlyBetter(next.value, best.value));
      best = done({ ...(isTaken ? next : best).value, spent });
      // Of a body with a hole, or whose faces cross each other, the fault is not one of chords.
      if (isStuck) break;
    }
    return best;
  }

  // By what is at fault: where the tolerance is kept, how often it crosses itself.
  private isHardlyBetter(part: GeometryPart, before: GeometryPart): boolean {
    const [now, then] = [this.faultOf(part), this.faultOf(before)];
    return then > 0 ? now > STUCK * then : now > 0 || part.proof.crossings > STUCK * before.proof.crossings;
  }

  private async attempt(
    bodies: readonly string[],
    mode: PartMode,
    chordTolerance: number,
    others: readonly GeometryPart[],
    report: Report,
    { reserve, isStrict }: { readonly reserve: number; readonly isStrict: boolean },
  ): Promise<Result<GeometryPart>> {
    const started = performance.now();
    const onProgress: Report = (part, text) => report(0.3 * part, text);
    const sampled = this.request.isTry && !isStrict ? this.takeTried(bodies, mode, onProgress) : this.take(bodies, chordTolerance, onProgress);
    if (!sampled.ok) return sampled;
    const gathered = performance.now();
    if (await this.isStopped()) return failed('envelope.stopped');
    report(0.3, SAY[mode]);
    const kept = await this.proven(bodies, mode, sampled.value, others, report, { reserve });
    if (!kept.ok) return kept;
    if (await this.isStopped()) return failed('envelope.stopped');
    return done({ ...kept.value, spent: { ...kept.value.spent, sampling: gathered - started } });
  }

  // A part of these samples, made and proven once.
  private async proven(
    bodies: readonly string[],
    mode: PartMode,
    sampled: readonly SampledBody[],
    others: readonly GeometryPart[],
    report: Report,
    way: Way,
  ): Promise<Result<GeometryPart>> {
    const tag = [way.reserve, way.from?.choice.tolerance];
    const share = this.shareOf(sampled[0], (places) => this.how(['proven', places, ...tag], mode, sampled, others));
    const kept = await this.once(['proven', share, ...tag], mode, sampled, others, async () => {
      // What was tried, and proven by a few places only, need not be made again.
      const started = performance.now();
      const made = await this.once(['made', ...tag], mode, sampled, others, () => this.build(sampled, mode, others, report, way));
      if (!made.ok) return made;
      if (await this.isStopped()) return failed('envelope.stopped');
      return this.partFrom(bodies, mode, sampled, others, report, made.value, { started, share });
    });
    if (!kept.ok) return kept;
    const { part, made } = kept.value;
    this.origins.set(part.mesh, { sampled, made });
    return done(part);
  }

  private once<T>(
    what: readonly unknown[],
    mode: PartMode,
    sampled: readonly SampledBody[],
    others: readonly GeometryPart[],
    make: () => Promise<Result<T>>,
  ): Promise<Result<T>> {
    return madeOnce(sampled[0], this.how(what, mode, sampled, others), make, (m) => !wasStopped(m));
  }

  private how(what: readonly unknown[], mode: PartMode, [, ...rest]: readonly SampledBody[], others: readonly GeometryPart[]): How {
    return { plain: [mode, ...what, this.choice(mode)], objects: [...rest, ...others.map((p) => p.mesh)] };
  }

  // Of the places that a proof looks at: where all of them were looked at in earnest, a try has that.
  private shareOf = (body: SampledBody, how: (share: number) => How): number => (isMade(body, how(1)) ? 1 : this.share);

  /** Whether all these bodies have been made as light as they can be before, by the request's choice: then it is all there. */
  wasMadeLight = ([body, ...rest]: readonly SampledBody[]): boolean => [1, this.share].some((share) => isMade(body, this.lightest(rest, share)));
  async setMadeLight([body, ...rest]: readonly SampledBody[]): Promise<void> {
    await madeOnce(body, this.lightest(rest, this.share), () => Promise.resolve(true));
  }
  private lightest(rest: readonly SampledBody[], share: number): How {
    const { mode, overrides } = this.request;
    return { plain: ['all light', share, mode, overrides, this.choice('wrap')], objects: rest };
  }

  // All of the request that a form depends on.
  private choice(mode: PartMode): unknown {
    const { tolerance, closeBelow = DEFAULT_CLOSE_BELOW, triangles, bores = 'closed', bridge = 0, drawn } = this.request;
    if (mode === 'exact') return [];
    return mode === 'wrap' ? [tolerance, closeBelow, triangles] : [tolerance, closeBelow, bores, bridge, drawn, this.axis];
  }

  private async partFrom(
    bodies: readonly string[],
    mode: PartMode,
    sampled: readonly SampledBody[],
    others: readonly GeometryPart[],
    report: Report,
    made: Made,
    { started, share }: { readonly started: number; readonly share: number },
  ): Promise<Result<{ readonly part: GeometryPart; readonly made: Made }>> {
    report(0.75, 'Proving that it encloses');
    const { mesh, faceStart, profile, say = '' } = made;
    const built = performance.now();
    const proof = await this.prove(mode, sampled, made, { others, share });
    const spent = { sampling: 0, making: built - started, proof: performance.now() - built };
    const growth = growthOf(mode, made, proof);
    const hidden = 1 - proof.area / meshArea(mesh);
    const where = hidden > 0.01 ? `; ${Math.round(100 * hidden)} % of it hidden in other parts` : '';
    const why = `${mode}: ${triangleCount(mesh).toLocaleString('en')} triangles, growth up to ${growth.max.toFixed(3)}${say}${where}`;
    const own = { ...(faceStart ? { faceStart } : {}), ...(profile ? { profile } : {}) };
    const part: GeometryPart = { bodies, inside: [], mode, mesh, ...own, trianglesIn: trianglesOf(sampled), growth, proof, why, spent };
    return done({ part, made });
  }

  private async build(
    sampled: readonly SampledBody[],
    mode: PartMode,
    others: readonly GeometryPart[],
    report: Report,
    { reserve, from }: Way,
  ): Promise<Result<Made>> {
    const [body] = sampled;
    const { tolerance } = this.request;
    const around = others.map((p) => this.weldedOf(p));
    const onProgress = (share: number) => report(0.3 + 0.45 * share, SAY[mode]);
    switch (mode) {
      case 'exact':
        return done(makeExact(body, this.exactOf(body)));
      case 'wrap': {
        if (from) {
          const mesh = await this.crew.do({ kind: 'lighten', mesh: from.made.mesh, more: tolerance - from.choice.tolerance, others: around }, onProgress);
          return done({ ...from.made, mesh });
        }
        const known = exact.get(body);
        const choice = this.wrapChoice();
        return this.crew.do({ kind: 'wrap', body: known ? bare(body) : body, ...(known ? { exact: known } : {}), others: around, choice }, onProgress);
      }
      case 'revolved':
        return makeRevolved(sampled, this.axis, { ...this.request, tolerance: tolerance - reserve });
    }
  }

  /** A part of bodies with the chords that they were sampled with, proven, within the tolerance or not. Undefined where it was stopped or cannot be made. */
  async partOf(sampled: readonly SampledBody[], mode: PartMode): Promise<GeometryPart | undefined> {
    const ids = sampled.map((b) => b.id);
    const kept = await this.proven(ids, mode, sampled, [], () => undefined, { reserve: 0 });
    return kept.ok ? { ...kept.value, why: `${kept.value.why}; not made lighter yet` } : undefined;
  }

  /** A part with bodies that lie in it: proven around them too. */
  async withInside(part: GeometryPart, inside: readonly SampledBody[]): Promise<GeometryPart> {
    const { sampled, made } = this.origins.get(part.mesh) as Origin;
    const started = performance.now();
    const how = (share: number): How => ({ plain: ['around those inside', share], objects: [part.mesh, ...inside] });
    const share = this.shareOf(sampled[0], how);
    const task = { kind: 'prove around', proof: part.proof, bodies: inside, share, mesh: part.mesh } as const;
    const proof = await madeOnce(sampled[0], how(share), () => this.crew.do(task));
    const spent = addSpent(part.spent, { sampling: 0, making: 0, proof: performance.now() - started });
    const all = [...sampled, ...inside];
    this.origins.set(part.mesh, { sampled: all, made });
    return { ...part, proof, trianglesIn: trianglesOf(all), growth: growthOf(part.mode, made, proof), spent };
  }

  private prove(
    mode: PartMode,
    bodies: readonly SampledBody[],
    { mesh, closedMesh }: Made,
    { others, share }: { readonly others: readonly GeometryPart[]; readonly share: number },
  ): Promise<Proof> {
    const spin = mode === 'revolved' ? { axis: this.axis, bridge: this.request.bridge } : undefined;
    return proveWith(this.crew, { bodies, closedMesh, spin, others: others.map((p) => this.weldedOf(p)), share }, mesh);
  }

  /** What a collision check costs with what was taken in the end. */
  checkCost(parts: readonly GeometryPart[]): CheckCost {
    const all = parts.map((part) => this.costOf(part));
    return { before: all.reduce((s, c) => s + c.before, 0), after: all.reduce((s, c) => s + c.after, 0) };
  }

  private costOf({ mesh, inside }: GeometryPart): CheckCost {
    // With bodies in it there is more before than without.
    const known = inside.length === 0 ? costs.get(mesh) : undefined;
    if (known) return known;
    const cost = checkCost(this.origins.get(mesh)?.sampled.map((b) => b.mesh) ?? [], mesh);
    if (inside.length === 0) costs.set(mesh, cost);
    return cost;
  }
}

const addSpent = (a: Spent, b: Spent): Spent => ({ sampling: a.sampling + b.sampling, making: a.making + b.making, proof: a.proof + b.proof });

export const wasStopped = (made: Result<unknown>): boolean => !made.ok && made.issues[0].code === 'envelope.stopped';

const trianglesOf = (bodies: readonly SampledBody[]): number => bodies.reduce((n, b) => n + triangleCount(b.mesh), 0);

// The builder knows the true faces where it measured growth on them; the proof has the last word on the least, and of what spins on the greatest.
function growthOf(mode: PartMode, { built, pushed = 0 }: Made, proof: Proof): Growth {
  if (!built) return { min: proof.least, mean: proof.mean, max: proof.greatest + pushed };
  return { ...built, min: Math.min(built.min, proof.least), max: mode === 'revolved' ? Math.max(built.max, proof.greatest) : built.max };
}
