import { leastOfWrap, leastTriangles } from '#core/envelope';
import { done, failed, type Result } from '#core/issues';
import type { OpenModel, SampledBody } from '#core/kernel';
import { triangleCount } from '#core/mesh';
import { DEFAULT_CLOSE_BELOW } from '#core/records';
import { EachBody, isSolid } from './each-body.ts';
import { FormTrials, wasStopped } from './form-trials.ts';
import type { GeometryPart, GeometryRequest, Report } from './request.ts';

// How many times the fewest triangles that any mesh of a turned body can have a wrap has at least: 1.63 was the least over 36 models that spin.
const WRAP_AT_LEAST = 1.5;

// Share of a mesh file's triangles that a wrap has at least, where they are fewer than that: what goes is mostly flat.
const FACETS_AT_LEAST = 0.25;

// Of bodies that spin, what was taken when they were made last: while a tolerance is dragged it need not be found out at each place.
const taken = new WeakMap<OpenModel, Map<string, 'envelope' | 'each'>>();

/** Makes the parts of one request: chooses their forms, and shows proven ones as they come. A form that cannot have the fewest triangles is not made. */
export class GeometryMaker {
  private readonly request: GeometryRequest;
  private readonly report: Report;
  private readonly trials: FormTrials;
  private readonly taken: Map<string, 'envelope' | 'each'>;
  private readonly show: ((parts: readonly GeometryPart[]) => void) | undefined;

  /** `show` is given parts that stand for all bodies, each time better ones. */
  constructor(source: OpenModel, request: GeometryRequest, report: Report, show?: (parts: readonly GeometryPart[]) => void) {
    this.request = request;
    this.report = report;
    this.show = show;
    this.trials = new FormTrials(source, request);
    this.taken = taken.get(source) ?? new Map<string, 'envelope' | 'each'>();
    taken.set(source, this.taken);
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
      const part = await this.trials.part(turned, 'revolved', [], step(0, first));
      if (!part.ok) return part;
      parts.push(part.value);
    }
    const made =
      mode === 'auto' && spins && free.length > 0
        ? await this.choose(free, rest, parts, step(first, 1))
        : await this.each(rest, parts, step(first, 1), this.showWith(parts));
    return made.ok ? done(this.inOrder([...parts, ...made.value])) : made;
  }

  /** What a collision check costs with the parts. */
  checkCost = (parts: readonly GeometryPart[]) => this.trials.checkCost(parts);

  private inOrder(parts: readonly GeometryPart[]): GeometryPart[] {
    const order = (p: GeometryPart) => this.request.bodies.indexOf(p.bodies[0]);
    return [...parts].sort((a, b) => order(a) - order(b));
  }

  private showWith(parts: readonly GeometryPart[]): EachBodyShow {
    const { show } = this;
    return show ? (more) => show(this.inOrder([...parts, ...more])) : undefined;
  }

  private each(bodies: readonly string[], before: readonly GeometryPart[], report: Report, show?: EachBodyShow): Promise<Result<GeometryPart[]>> {
    return bodies.length > 0 ? new EachBody(this.trials, this.request, show).make(bodies, before, report) : Promise.resolve(done([]));
  }

  // Of what spins the form with the fewest triangles: one revolved envelope of all that is free to be one, or each body by itself. Where no mesh of the bodies
  // can have fewer than the envelope, none is made.
  private async choose(free: readonly string[], rest: readonly string[], before: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart[]>> {
    const own = rest.filter((b) => !free.includes(b));
    const { frame, closeBelow, bridge, bores, isTry } = this.request;
    const asked = JSON.stringify([free, own, frame, closeBelow, bridge, bores]);
    const last = isTry ? this.taken.get(asked) : undefined;
    const wraps: Report = (share, text) => report(0.4 + 0.6 * share, text);
    if (last === 'each') return this.each(rest, before, wraps);
    // A try is made with these anyway.
    if (own.length === 0 && !isTry) await this.showAtHand(free, before);
    const turned = await this.trials.part(free, 'revolved', [], (share, text) => report(0.4 * share, text));
    if (wasStopped(turned)) return failed('envelope.stopped');
    const envelope = turned.ok ? turned.value : undefined;
    const withEnvelope = async (why: string): Promise<Result<GeometryPart[]>> => {
      this.taken.set(asked, 'envelope');
      const part = { ...(envelope as GeometryPart), why: `${envelope?.why}; ${why}` };
      const made = await this.each(own, [...before, part], wraps);
      return made.ok ? done([part, ...made.value]) : made;
    };
    if (envelope) {
      if (last === 'envelope' && this.isWithin(envelope)) return withEnvelope('as when it was made last');
      if (own.length === 0 && isSolid(envelope)) this.show?.(this.inOrder([...before, envelope]));
      const sampled = this.trials.sample(free, 'revolved', wraps);
      if (!sampled.ok) return sampled;
      const least = this.leastOfWraps(sampled.value, envelope);
      if (countOf([envelope]) <= least) return withEnvelope(`its bodies one by one take more than ${sayCount(least)}`);
    }
    const isGood = envelope !== undefined && this.isWithin(envelope);
    const bodies = new EachBody(this.trials, this.request, undefined, isGood && own.length === 0 ? countOf([envelope]) : Infinity);
    const each = await bodies.make(rest, before, wraps);
    if (!each.ok) return each;
    if (bodies.tooMany !== undefined) return withEnvelope(`its bodies one by one take more than ${sayCount(bodies.tooMany)}`);
    const freed = each.value.filter((p) => free.includes(p.bodies[0]));
    const others = countOf(freed);
    if (isGood && !freed.every(isSolid)) return withEnvelope('not all of its bodies one by one are solids');
    if (envelope && countOf([envelope]) < others) return withEnvelope(`its bodies one by one take ${sayCount(others)}`);
    this.taken.set(asked, 'each');
    return each;
  }

  // An envelope of chords that are there from another tolerance, while the usual ones are still to come.
  private async showAtHand(bodies: readonly string[], before: readonly GeometryPart[]): Promise<void> {
    const sampled = this.show && this.trials.atHand(bodies, 'revolved', 'revolved');
    const part = sampled && (await this.trials.partOf(sampled, 'revolved'));
    if (part && this.isWithin(part)) this.show?.(this.inOrder([...before, part]));
  }

  private isWithin = (part: GeometryPart): boolean => isSolid(part) && part.growth.max <= this.request.tolerance;

  // What bodies that spin take at least, each by itself: of what they have in common with their envelope; where that is not enough to know, by the bends of the
  // largest body (what of the others lies in that may take nothing).
  private leastOfWraps(sampled: readonly SampledBody[], envelope: GeometryPart): number {
    const { tolerance, closeBelow = DEFAULT_CLOSE_BELOW } = this.request;
    const round = envelope.profile ? WRAP_AT_LEAST * leastTriangles(sampled, envelope.profile, this.trials.axis, tolerance) : 0;
    // Facets of a mesh file are its true faces, and may be wider than the tolerance would let flats around a round face be.
    const facets = sampled.every((b) => b.points.length === 0) ? FACETS_AT_LEAST * sampled.reduce((n, b) => n + triangleCount(b.mesh), 0) : Infinity;
    const turned = Math.min(round, facets);
    if (countOf([envelope]) <= turned) return turned;
    const largest = sampled.reduce((a, b) => (b.volume > a.volume ? b : a));
    return Math.max(turned, leastOfWrap(largest, this.trials.exactOf(largest), tolerance, closeBelow));
  }
}

type EachBodyShow = ((parts: readonly GeometryPart[]) => void) | undefined;

const countOf = (parts: readonly GeometryPart[]): number => parts.reduce((n, p) => n + triangleCount(p.mesh), 0);

const sayCount = (count: number): string => Math.floor(count).toLocaleString('en');
