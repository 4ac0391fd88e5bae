import { type Axis, type CheckCost, checkCost, computeExactGeometry, type Growth, type Proof, proveEnclosure } from '#core/envelope';
import { done, failed, type Result } from '#core/issues';
import { type Kernel, type SampledBody, sampleModelFile } from '#core/kernel';
import { ENCLOSURE_SLACK } from '#core/math';
import { liesWithin, meshArea, Solids, type TriMesh, triangleCount, weldWith } from '#core/mesh';
import type { GeometryPart, GeometryRequest, PartMode, Report } from './request.ts';
import { type Made, makeExact, makeRevolved, makeWrap } from './part-builders.ts';

// Shares of the tolerance that the kernel's chords may take. Of a wrap's flats every other one goes, or three of four: with 0.2 what stays is as wide as the
// tolerance lets it be (a twelfth fewer triangles than with 0.3, on eight bodies).
const CHORDS: Readonly<Record<PartMode, number>> = { exact: 0.45, revolved: 0.22, wrap: 0.2 };

// Triangles beyond which a finer tessellation is not tried: minutes, and it is seldom the tessellation that is at fault then.
const MOST_RETRIED = 300_000;

const SAY: Readonly<Record<PartMode, string>> = { exact: 'Pushing the chords out', wrap: 'Wrapping', revolved: 'Turning the envelope' };

/** What a part was made from, and with. */
interface Origin {
  readonly sampled: readonly SampledBody[];
  readonly made: Made;
}

/**
 * Makes the parts of one request: chooses their forms, the largest body first, so that what of a smaller one lies in a larger one's part may be coarse or
 * left out.
 */
export class GeometryMaker {
  private readonly kernel: Kernel;
  private readonly request: GeometryRequest;
  private readonly report: Report;
  /** By chord tolerance and body. */
  private readonly sampled = new Map<string, SampledBody>();
  private readonly exact = new Map<string, TriMesh>();
  private readonly origins = new Map<TriMesh, Origin>();
  private readonly axis: Axis;

  constructor(kernel: Kernel, request: GeometryRequest, report: Report) {
    this.kernel = kernel;
    this.request = request;
    this.report = report;
    this.axis = { origin: request.frame.origin, direction: request.frame.z };
  }

  async make(): Promise<Result<GeometryPart[]>> {
    const { mode, bodies, overrides = {}, spins = false } = this.request;
    const step =
      (from: number, to: number): Report =>
      (share, text) =>
        this.report(0.05 + 0.9 * (from + share * (to - from)), text);
    const turned = bodies.filter((b) => (overrides[b] ?? mode) === 'revolved');
    const rest = bodies.filter((b) => !turned.includes(b));
    const free = rest.filter((b) => !overrides[b]);
    const first = turned.length > 0 ? (rest.length > 0 ? 0.3 : 1) : 0;
    const parts: GeometryPart[] = [];
    if (turned.length > 0) {
      const part = await this.part(turned, 'revolved', [], step(0, first));
      if (!part.ok) return part;
      parts.push(part.value);
    }
    const made =
      mode === 'auto' && spins && free.length > 0 ? await this.choose(free, rest, parts, step(first, 1)) : await this.each(rest, parts, step(first, 1));
    if (!made.ok) return made;
    const order = (p: GeometryPart) => bodies.indexOf(p.bodies[0]);
    return done([...parts, ...made.value].sort((a, b) => order(a) - order(b)));
  }

  // Of what spins the form with the fewest triangles: one revolved envelope of all that is free to be one, or each body by itself. Where the envelope
  // takes less than a tenth of what the bodies have, no wrap is tried: none comes near that.
  private async choose(free: readonly string[], rest: readonly string[], before: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart[]>> {
    const own = rest.filter((b) => !free.includes(b));
    const turned = await this.part(free, 'revolved', [], (share, text) => report(0.3 * share, text));
    if (wasStopped(turned)) return failed('envelope.stopped');
    const envelope = turned.ok ? turned.value : undefined;
    const sampled = await this.sample(free, this.request.tolerance * CHORDS.exact, (share, text) => report(0.3 + 0.1 * share, text));
    if (!sampled.ok) return sampled;
    const exact = sampled.value.reduce((n, body) => n + triangleCount(computeExactGeometry(body).mesh), 0);
    const wraps: Report = (share, text) => report(0.4 + 0.6 * share, text);
    const withEnvelope = async (why: string): Promise<Result<GeometryPart[]>> => {
      const part = { ...(envelope as GeometryPart), why: `${envelope?.why}; ${why}` };
      const made = await this.each(own, [...before, part], wraps);
      return made.ok ? done([part, ...made.value]) : made;
    };
    if (envelope && countOf([envelope]) < exact / 10) return withEnvelope(`exact takes ${exact.toLocaleString('en')}`);
    const each = await this.each(rest, before, wraps);
    if (!each.ok) return each;
    const others = countOf(each.value.filter((p) => free.includes(p.bodies[0])));
    return envelope && countOf([envelope]) < others ? withEnvelope(`its bodies one by one take ${others.toLocaleString('en')}`) : each;
  }

  // Each body by itself, the largest first.
  private async each(bodies: readonly string[], before: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart[]>> {
    const parts: GeometryPart[] = [];
    const ordered = await this.bySize(bodies, (share, text) => report(0.1 * share, text));
    if (!ordered.ok) return ordered;
    for (const [i, body] of ordered.value.entries()) {
      const step: Report = (share, text) => report(0.1 + (0.9 * (i + share)) / bodies.length, text);
      const mode = this.request.overrides?.[body] ?? this.request.mode;
      const others = mode === 'exact' ? [] : [...before, ...parts].filter(isSolid);
      // What a person has asked for is made.
      const host = this.request.overrides?.[body]
        ? undefined
        : await this.hostOf(
            body,
            parts.filter((p) => others.includes(p)),
          );
      if (host) parts[parts.indexOf(host)] = this.withInside(host, body);
      else {
        const made = mode === 'auto' ? await this.lighter(body, others, step) : await this.part([body], mode, others, step);
        if (!made.ok) return made;
        parts.push(made.value);
      }
      if (await this.isStopped()) return failed('envelope.stopped');
    }
    return done(parts.map((part) => (part.inside.length > 0 ? this.provenAnew(part) : part)));
  }

  private async bySize(bodies: readonly string[], report: Report): Promise<Result<string[]>> {
    if (bodies.length < 2) return done([...bodies]);
    const sampled = await this.sample(bodies, this.request.tolerance * CHORDS.exact, report);
    if (!sampled.ok) return sampled;
    return done([...sampled.value].sort((a, b) => b.volume - a.volume).map((b) => b.id));
  }

  // A part that a body lies in wholly.
  private async hostOf(body: string, parts: readonly GeometryPart[]): Promise<GeometryPart | undefined> {
    if (parts.length === 0) return undefined;
    const mesh = await this.exactMesh(body);
    return mesh && parts.find((part) => liesWithin(mesh, part.mesh));
  }

  private withInside(part: GeometryPart, body: string): GeometryPart {
    return { ...part, inside: [...part.inside, body] };
  }

  // Around what lies in it too.
  private provenAnew(part: GeometryPart): GeometryPart {
    const { sampled, made } = this.origins.get(part.mesh) as Origin;
    const inside = part.inside.map((id) => this.sampled.get(sampleKey(this.request.tolerance * CHORDS.exact, id)) as SampledBody);
    const proof = this.prove(part.mode, sampled, made, [], inside);
    this.origins.set(part.mesh, { sampled: [...sampled, ...inside], made });
    return { ...part, proof, trianglesIn: trianglesOf([...sampled, ...inside]), growth: growthOf(part.mode, made, proof) };
  }

  // A body as its wrap or exact, whichever has fewer triangles. One that cannot be wrapped (it is open) stays what it is.
  private async lighter(body: string, others: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart>> {
    const wrap = await this.part([body], 'wrap', others, (share, text) => report(0.8 * share, text));
    if (wasStopped(wrap)) return wrap;
    const wrapped = (exact: number): Result<GeometryPart> =>
      wrap.ok ? done({ ...wrap.value, why: `${wrap.value.why}; exact takes ${exact.toLocaleString('en')}` }) : wrap;
    // Mostly it is lighter by far, and exact geometry need not be proven to know that.
    const own = await this.exactMesh(body);
    if (own && wrap.ok && isSolid(wrap.value) && countOf([wrap.value]) < triangleCount(own)) return wrapped(triangleCount(own));
    const exact = await this.part([body], 'exact', [], (share, text) => report(0.8 + 0.2 * share, text));
    if (!exact.ok) return exact;
    const isBetter =
      wrap.ok &&
      wrap.value.growth.min >= -ENCLOSURE_SLACK &&
      wrap.value.proof.crossings <= exact.value.proof.crossings &&
      (wrap.value.proof.closed || !exact.value.proof.closed) &&
      countOf([wrap.value]) < countOf([exact.value]);
    return isBetter ? wrapped(countOf([exact.value])) : exact;
  }

  private async exactMesh(body: string): Promise<TriMesh | undefined> {
    const known = this.exact.get(body);
    if (known) return known;
    const sampled = await this.sample([body], this.request.tolerance * CHORDS.exact, () => undefined);
    if (!sampled.ok) return undefined;
    const { mesh } = computeExactGeometry(sampled.value[0]);
    this.exact.set(body, mesh);
    return mesh;
  }

  private async part(bodies: readonly string[], mode: PartMode, others: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart>> {
    const { tolerance, drawn } = this.request;
    let chord = tolerance * CHORDS[mode];
    let reserve = 0;
    let best = await this.attempt(bodies, mode, chord, others, report);
    // The kernel's chords may miss their tolerance on cones (0.062 for 0.022 was seen), and where corners cannot move a coarse one may stay inside:
    // once more, finer. What was drawn is taken as it is.
    // Nor may a wrap go through itself or touch itself, where a body's walls come near each other.
    const isGood = ({ growth, proof }: GeometryPart) =>
      growth.max <= tolerance && growth.min >= -ENCLOSURE_SLACK && !(mode === 'wrap' && (proof.crossings > 0 || !proof.closed));
    for (let retry = 0; retry < 3 && best.ok && !isGood(best.value) && best.value.trianglesIn < MOST_RETRIED && !(mode === 'revolved' && drawn); retry++) {
      // Of what spins the proof may find more than the builder knows, by chords: then that much less is allowed, which needs no finer ones.
      const { min, max } = best.value.growth;
      const more = max - 0.995 * tolerance;
      if (mode === 'revolved' && min >= -ENCLOSURE_SLACK && reserve + more < tolerance / 2) reserve += more;
      else chord /= 2;
      const next = await this.attempt(bodies, mode, chord, others, report, reserve);
      if (!next.ok) {
        // A finer tessellation may have gaps where a coarse one has none: that stays.
        if (wasStopped(next)) return next;
        break;
      }
      if (next.value.growth.min >= Math.min(best.value.growth.min, -ENCLOSURE_SLACK)) best = next;
    }
    return best;
  }

  private async attempt(
    bodies: readonly string[],
    mode: PartMode,
    chordTolerance: number,
    others: readonly GeometryPart[],
    report: Report,
    reserve = 0,
  ): Promise<Result<GeometryPart>> {
    const sampled = await this.sample(bodies, chordTolerance, (share, text) => report(0.5 * share, text));
    if (!sampled.ok) return sampled;
    if (await this.isStopped()) return failed('envelope.stopped');
    report(0.5, SAY[mode]);
    const solids = () => new Solids(others.map((p) => weldWith(p.mesh, 1e-7).mesh));
    const made =
      mode === 'exact'
        ? makeExact(sampled.value[0])
        : mode === 'wrap'
          ? makeWrap(sampled.value[0], this.request, solids(), (share) => report(0.5 + 0.35 * share, SAY.wrap))
          : makeRevolved(sampled.value, this.axis, { ...this.request, tolerance: this.request.tolerance - reserve });
    if (!made.ok) return made;
    if (await this.isStopped()) return failed('envelope.stopped');
    report(0.85, 'Proving that it encloses');
    const { mesh, faceStart, profile, say = '' } = made.value;
    const proof = this.prove(mode, sampled.value, made.value, others);
    const growth = growthOf(mode, made.value, proof);
    const hidden = 1 - proof.area / meshArea(mesh);
    const where = hidden > 0.01 ? `; ${Math.round(100 * hidden)} % of it hidden in other parts` : '';
    const why = `${mode}: ${triangleCount(mesh).toLocaleString('en')} triangles, growth up to ${growth.max.toFixed(3)}${say}${where}`;
    this.origins.set(mesh, { sampled: sampled.value, made: made.value });
    const own = { ...(faceStart ? { faceStart } : {}), ...(profile ? { profile } : {}) };
    return done({ bodies, inside: [], mode, mesh, ...own, trianglesIn: trianglesOf(sampled.value), growth, proof, why });
  }

  private prove(
    mode: PartMode,
    bodies: readonly SampledBody[],
    { mesh, closedMesh }: Made,
    others: readonly GeometryPart[],
    inside: SampledBody[] = [],
  ): Proof {
    const spin = mode === 'revolved' ? { axis: this.axis, bridge: this.request.bridge } : undefined;
    return proveEnclosure({ bodies, closedMesh, spin, inside, others: others.map((p) => p.mesh) }, mesh);
  }

  private async isStopped(): Promise<boolean> {
    const { goesOn } = this.request;
    return goesOn !== undefined && !(await goesOn());
  }

  /** What a collision check costs with what was taken in the end. */
  checkCost(parts: readonly GeometryPart[]): CheckCost {
    const costs = parts.map(({ mesh }) => checkCost(this.origins.get(mesh)?.sampled.map((b) => b.mesh) ?? [], mesh));
    return { before: costs.reduce((s, c) => s + c.before, 0), after: costs.reduce((s, c) => s + c.after, 0) };
  }

  // Reading the file costs more than sampling a body: what a mode begins with is sampled for all bodies at once, a finer retry for its own.
  private async sample(ids: readonly string[], chordTolerance: number, report: Report): Promise<Result<SampledBody[]>> {
    const { bytes, file, work, bodies, tolerance } = this.request;
    if (ids.some((id) => !this.sampled.has(sampleKey(chordTolerance, id)))) {
      const isFirst = Object.values(CHORDS).some((share) => chordTolerance === tolerance * share);
      const made = await sampleModelFile(this.kernel, bytes, file, { chordTolerance, ids: isFirst ? bodies : ids, work, onProgress: report });
      if (!made.ok) return made;
      for (const body of made.value) this.sampled.set(sampleKey(chordTolerance, body.id), body);
    }
    return done(ids.map((id) => this.sampled.get(sampleKey(chordTolerance, id)) as SampledBody));
  }
}

const wasStopped = (made: Result<unknown>): boolean => !made.ok && made.issues[0].code === 'envelope.stopped';

const sampleKey = (chordTolerance: number, id: string): string => `${chordTolerance} ${id}`;

const countOf = (parts: readonly GeometryPart[]): number => parts.reduce((n, p) => n + triangleCount(p.mesh), 0);

const trianglesOf = (bodies: readonly SampledBody[]): number => bodies.reduce((n, b) => n + triangleCount(b.mesh), 0);

// Only what surely is a solid may hide anything.
const isSolid = ({ proof, growth }: GeometryPart): boolean => proof.closed && proof.crossings === 0 && growth.min >= -ENCLOSURE_SLACK;

// The builder knows the true faces where it measured growth on them; the proof has the last word on the least, and of what spins on the greatest.
function growthOf(mode: PartMode, { built, pushed = 0 }: Made, proof: Proof): Growth {
  if (!built) return { min: proof.least, mean: proof.mean, max: proof.greatest + pushed };
  return { ...built, min: Math.min(built.min, proof.least), max: mode === 'revolved' ? Math.max(built.max, proof.greatest) : built.max };
}
