import { done, failed, type Result } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { type Bounds, ENCLOSURE_SLACK } from '#core/math';
import { liesWithin, meshBounds, triangleCount } from '#core/mesh';
import { leastOfExact } from './least-of-exact.ts';
import { chordFor, type FormTrials, wasStopped } from './form-trials.ts';
import type { GeometryPart, GeometryRequest, Report } from './request.ts';

// Triangles of all bodies together from which on something is shown before it is light: fewer are made at once.
const WORTH_SHOWING = 5000;
// ms. What is bettered sooner than this after it was shown is not shown.
const BETWEEN_SHOWS = 250;

/** What became of a body: a part of its own, that it lies in the part of another one, or that it takes too many triangles, at least so many. */
type Fate = { readonly part: GeometryPart } | { readonly host: string } | { readonly tooMany: number };

/**
 * Makes each body by itself, the largest first: what of a smaller one lies in a larger one's part may be coarse or left out. Bodies that are apart need not wait
 * for each other. All together, each exact, are shown first where they are many; then each lighter one as it comes.
 */
export class EachBody {
  private readonly trials: FormTrials;
  private readonly request: GeometryRequest;
  private readonly show: ((parts: readonly GeometryPart[]) => void) | undefined;
  private readonly most: number;
  private shownAt = 0;
  /** What a body was found to take at least, where that is more than it may: there are no parts then. */
  tooMany: number | undefined;

  /** One that cannot be wrapped, or not as a solid, and surely takes more than `most` triangles as it is, is not made. */
  constructor(trials: FormTrials, request: GeometryRequest, show?: (parts: readonly GeometryPart[]) => void, most = Infinity) {
    this.trials = trials;
    this.request = request;
    this.show = show;
    this.most = most;
  }

  async make(bodies: readonly string[], before: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart[]>> {
    const isExact = this.request.mode === 'exact';
    // Nothing is shown before what is there as soon: where they were made within a finer tolerance, that is made lighter.
    const isSoon = isExact || (this.request.isTry === true && bodies.some(this.trials.hasFinerWrap));
    const atHand = isSoon ? undefined : await this.showAtHand(bodies, report);
    const sampled = this.trials.sample(bodies, isExact ? 'exact' : 'wrap', (share, text) => report(0.15 * share, text));
    if (!sampled.ok) return sampled;
    const ordered = bySize(sampled.value);
    const boxes = ordered.map(({ mesh }) => meshBounds(mesh));
    const total = ordered.reduce((n, b) => n + triangleCount(b.mesh), 0);
    const isWorth = !isSoon && total >= WORTH_SHOWING;
    const first = atHand ?? (isWorth ? await this.exactFirst(ordered, report) : new Map<string, GeometryPart>());
    if (await this.trials.isStopped()) return failed('envelope.stopped');
    const shares = new Float64Array(ordered.length);
    const step =
      (i: number): Report =>
      (share, text) => {
        shares[i] = share;
        report(0.15 + 0.85 * ordered.reduce((s, b, k) => s + (shares[k] * triangleCount(b.mesh)) / total, 0), text);
      };
    const fates: Promise<Result<Fate>>[] = [];
    const known = new Map<string, Fate>();
    ordered.forEach((body, i) => {
      const near = ordered.map((_, k) => k).filter((k) => k < i && meet(boxes[k], boxes[i], this.request.tolerance));
      const fate = Promise.all(near.map((k) => fates[k])).then(async (settled): Promise<Result<Fate>> => {
        const refused = settled.find((f) => !f.ok);
        if (refused) return refused;
        const parts = near.flatMap((k) => {
          const f = known.get(ordered[k].id);
          return f && 'part' in f ? [f.part] : [];
        });
        const made = await this.fateOf(body, parts, before, step(i));
        if (made.ok) {
          step(i)(1, `Body ${i + 1} of ${ordered.length}`);
          known.set(body.id, made.value);
          this.showBettered(ordered, first, known);
        }
        return made;
      });
      fates.push(fate);
    });
    const settled = await Promise.all(fates);
    const refused = settled.find((f) => !f.ok);
    if (refused && !refused.ok) return refused;
    for (const fate of known.values()) if ('tooMany' in fate) this.tooMany = fate.tooMany;
    if (this.tooMany !== undefined) return done([]);
    const parts = await this.withThoseInside(ordered, known);
    await this.trials.setMadeLight(ordered);
    return done(parts);
  }

  private async fateOf(body: SampledBody, near: readonly GeometryPart[], before: readonly GeometryPart[], report: Report): Promise<Result<Fate>> {
    if (await this.trials.isStopped()) return failed('envelope.stopped');
    const { overrides, mode: all } = this.request;
    const own = overrides?.[body.id];
    const mode = own ?? all;
    const solids = mode === 'exact' ? [] : near.filter(isSolid);
    // What a person has asked for is made.
    const host = own ? undefined : this.hostOf(body, solids);
    if (host) return done({ host: host.bodies[0] });
    const others = mode === 'exact' ? [] : [...before.filter(isSolid), ...solids];
    if (mode === 'auto') return this.lighter(body, others, report);
    const made = await this.trials.part([body.id], mode, others, report);
    return made.ok ? done({ part: made.value }) : made;
  }

  // A part that a body lies in wholly.
  private hostOf(body: SampledBody, parts: readonly GeometryPart[]): GeometryPart | undefined {
    const box = meshBounds(body.mesh);
    const around = parts.filter((part) => isIn(box, meshBounds(part.mesh)));
    return around.length === 0 ? undefined : around.find((part) => liesWithin(this.trials.exactOf(body).mesh, this.trials.weldedOf(part)));
  }

  // A body as its wrap or exact, whichever has fewer triangles. One that cannot be wrapped (it is open) stays what it is.
  private async lighter(body: SampledBody, others: readonly GeometryPart[], report: Report): Promise<Result<Fate>> {
    const wrap = await this.trials.part([body.id], 'wrap', others, (share, text) => report(0.9 * share, text), this.most < Infinity);
    if (!wrap.ok && wasStopped(wrap)) return wrap;
    const wrapped = (exact: string): Result<Fate> => (wrap.ok ? done({ part: { ...wrap.value, why: `${wrap.value.why}; exact takes ${exact}` } }) : wrap);
    // Mostly it is lighter by far, and exact geometry need not be made to know that.
    const { tolerance } = this.request;
    const least = leastOfExact(body, chordFor('exact', tolerance) / body.chordTolerance);
    if (wrap.ok && isSolid(wrap.value) && countOf(wrap.value) < least) return wrapped(`more than ${Math.floor(least).toLocaleString('en')}`);
    if (!(wrap.ok && isSolid(wrap.value)) && least > this.most) return done({ tooMany: least });
    const exact = await this.trials.part([body.id], 'exact', [], (share, text) => report(0.9 + 0.1 * share, text));
    if (!exact.ok) return exact;
    const isBetter =
      wrap.ok &&
      wrap.value.growth.min >= -ENCLOSURE_SLACK &&
      wrap.value.proof.crossings <= exact.value.proof.crossings &&
      (wrap.value.proof.closed || !exact.value.proof.closed) &&
      countOf(wrap.value) < countOf(exact.value);
    return isBetter ? wrapped(countOf(exact.value).toLocaleString('en')) : done({ part: exact.value });
  }

  // The same with chords that are there from another tolerance, while those of a wrap are still to come. Undefined where there are none that serve.
  private async showAtHand(ids: readonly string[], report: Report): Promise<Map<string, GeometryPart> | undefined> {
    const sampled = this.show && this.trials.atHand(ids, 'wrap', 'exact');
    if (!sampled || sampled.reduce((n, b) => n + triangleCount(b.mesh), 0) < WORTH_SHOWING) return undefined;
    const shown = await this.exactFirst(bySize(sampled), report);
    return shown.size > 0 ? shown : undefined;
  }

  // Every body exact, with the chords of a wrap, which its wrap begins with anyway: what can be shown first.
  private async exactFirst(bodies: readonly SampledBody[], report: Report): Promise<Map<string, GeometryPart>> {
    const out = new Map<string, GeometryPart>();
    if (!this.show || this.trials.wasMadeLight(bodies)) return out;
    report(0.15, 'Proving them as they are');
    const parts = await Promise.all(bodies.map((body) => this.trials.partOf([body], 'exact')));
    const all = parts.filter((part) => part !== undefined);
    if (all.length < parts.length || !all.every((part) => isSolid(part) && part.growth.max <= this.request.tolerance)) return out;
    bodies.forEach((body, i) => out.set(body.id, all[i]));
    this.show(all);
    this.shownAt = performance.now();
    return out;
  }

  private showBettered(bodies: readonly SampledBody[], first: ReadonlyMap<string, GeometryPart>, known: ReadonlyMap<string, Fate>): void {
    if (!this.show || first.size === 0 || known.size === bodies.length || performance.now() - this.shownAt < BETWEEN_SHOWS) return;
    this.show(
      bodies.flatMap(({ id }) => {
        const fate = known.get(id);
        return fate && 'part' in fate ? [fate.part] : [first.get(id) as GeometryPart];
      }),
    );
    this.shownAt = performance.now();
  }

  // The parts, those with bodies in them proven around these too.
  private withThoseInside(bodies: readonly SampledBody[], known: ReadonlyMap<string, Fate>): Promise<GeometryPart[]> {
    const parts = bodies.flatMap(({ id }) => {
      const fate = known.get(id);
      return fate && 'part' in fate ? [fate.part] : [];
    });
    return Promise.all(
      parts.map(async (part) => {
        const inside = bodies.filter(({ id }) => {
          const fate = known.get(id);
          return fate !== undefined && 'host' in fate && fate.host === part.bodies[0];
        });
        return inside.length > 0 ? { ...(await this.trials.withInside(part, inside)), inside: inside.map((b) => b.id) } : part;
      }),
    );
  }
}

// Equal ones, as far as their volumes are known, stay in the order that they were given in.
function bySize(bodies: readonly SampledBody[]): SampledBody[] {
  const sizeOf = ({ volume }: SampledBody) => Number(volume.toPrecision(5));
  return [...bodies].sort((a, b) => sizeOf(b) - sizeOf(a));
}

const countOf = (part: GeometryPart): number => triangleCount(part.mesh);

/** Only what surely is a solid may hide anything. */
export const isSolid = ({ proof, growth }: GeometryPart): boolean => proof.closed && proof.crossings === 0 && growth.min >= -ENCLOSURE_SLACK;

const meet = (a: Bounds | undefined, b: Bounds | undefined, by: number): boolean =>
  a !== undefined && b !== undefined && [0, 1, 2].every((k) => a.min[k] - by <= b.max[k] && b.min[k] - by <= a.max[k]);

const isIn = (a: Bounds | undefined, b: Bounds | undefined): boolean =>
  a !== undefined && b !== undefined && [0, 1, 2].every((k) => a.min[k] >= b.min[k] - ENCLOSURE_SLACK && a.max[k] <= b.max[k] + ENCLOSURE_SLACK);
