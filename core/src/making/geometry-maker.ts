import { leastOfWrap, leastTriangles } from '#core/envelope';
import { done, failed, type Result } from '#core/issues';
import type { OpenModel, SampledBody } from '#core/kernel';
import { ENCLOSURE_SLACK } from '#core/math';
import { liesWithin, triangleCount } from '#core/mesh';
import { DEFAULT_CLOSE_BELOW } from '#core/records';
import { leastOfExact } from './least-of-exact.ts';
import { CHORDS, PartMaker, wasStopped } from './part-maker.ts';
import type { GeometryPart, GeometryRequest, Report } from './request.ts';

// How many times the fewest triangles that any mesh of a turned body can have a wrap has at least: 1.63 was the least over 36 models that spin.
const WRAP_AT_LEAST = 1.5;

/**
 * Makes the parts of one request: chooses their forms, the largest body first, so that what of a smaller one lies in a larger one's part may be coarse or
 * left out. A form that cannot have the fewest triangles is not made.
 */
export class GeometryMaker {
  private readonly request: GeometryRequest;
  private readonly report: Report;
  private readonly maker: PartMaker;

  constructor(source: OpenModel, request: GeometryRequest, report: Report) {
    this.request = request;
    this.report = report;
    this.maker = new PartMaker(source, request);
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
      const part = await this.maker.part(turned, 'revolved', [], step(0, first));
      if (!part.ok) return part;
      parts.push(part.value);
    }
    const made =
      mode === 'auto' && spins && free.length > 0 ? await this.choose(free, rest, parts, step(first, 1)) : await this.each(rest, parts, step(first, 1));
    if (!made.ok) return made;
    const order = (p: GeometryPart) => bodies.indexOf(p.bodies[0]);
    return done([...parts, ...made.value].sort((a, b) => order(a) - order(b)));
  }

  /** What a collision check costs with the parts. */
  checkCost = (parts: readonly GeometryPart[]) => this.maker.checkCost(parts);

  // Of what spins the form with the fewest triangles: one revolved envelope of all that is free to be one, or each body by itself. Where no mesh of the bodies
  // can have fewer than the envelope, none is made.
  private async choose(free: readonly string[], rest: readonly string[], before: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart[]>> {
    const own = rest.filter((b) => !free.includes(b));
    const turned = await this.maker.part(free, 'revolved', [], (share, text) => report(0.4 * share, text));
    if (wasStopped(turned)) return failed('envelope.stopped');
    const envelope = turned.ok ? turned.value : undefined;
    const wraps: Report = (share, text) => report(0.4 + 0.6 * share, text);
    const withEnvelope = async (why: string): Promise<Result<GeometryPart[]>> => {
      const part = { ...(envelope as GeometryPart), why: `${envelope?.why}; ${why}` };
      const made = await this.each(own, [...before, part], wraps);
      return made.ok ? done([part, ...made.value]) : made;
    };
    if (envelope) {
      const sampled = this.maker.sample(free, 'revolved', wraps);
      if (!sampled.ok) return sampled;
      const least = this.leastOfWraps(sampled.value, envelope);
      if (countOf([envelope]) <= least) return withEnvelope(`its bodies one by one take more than ${sayCount(least)}`);
    }
    const each = await this.each(rest, before, wraps);
    if (!each.ok) return each;
    const others = countOf(each.value.filter((p) => free.includes(p.bodies[0])));
    return envelope && countOf([envelope]) < others ? withEnvelope(`its bodies one by one take ${sayCount(others)}`) : each;
  }

  // What bodies that spin take at least, each by itself: of what they have in common with their envelope; where that is not enough to know, by the bends of the
  // largest body (what of the others lies in that may take nothing).
  private leastOfWraps(sampled: readonly SampledBody[], envelope: GeometryPart): number {
    const { tolerance, closeBelow = DEFAULT_CLOSE_BELOW } = this.request;
    const turned = envelope.profile ? WRAP_AT_LEAST * leastTriangles(sampled, envelope.profile, this.maker.axis, tolerance) : 0;
    if (countOf([envelope]) <= turned) return turned;
    const largest = sampled.reduce((a, b) => (b.volume > a.volume ? b : a));
    return Math.max(turned, leastOfWrap(largest, this.maker.exactOf(largest), tolerance, closeBelow));
  }

  // Each body by itself, the largest first.
  private async each(bodies: readonly string[], before: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart[]>> {
    const parts: GeometryPart[] = [];
    // Bodies that lie in a part, by that part's own ones.
    const inside = new Map<string, string[]>();
    const ordered = this.bySize(bodies, (share, text) => report(0.1 * share, text));
    if (!ordered.ok) return ordered;
    for (const [i, body] of ordered.value.entries()) {
      const step: Report = (share, text) => report(0.1 + (0.9 * (i + share)) / bodies.length, text);
      const mode = this.request.overrides?.[body] ?? this.request.mode;
      const others = mode === 'exact' ? [] : [...before, ...parts].filter(isSolid);
      // What a person has asked for is made.
      const host = this.request.overrides?.[body]
        ? undefined
        : this.hostOf(
            body,
            parts.filter((p) => others.includes(p)),
          );
      if (host) inside.set(host.bodies[0], [...(inside.get(host.bodies[0]) ?? []), body]);
      else {
        const made = mode === 'auto' ? await this.lighter(body, others, step) : await this.maker.part([body], mode, others, step);
        if (!made.ok) return made;
        parts.push(made.value);
      }
      if (await this.maker.isStopped()) return failed('envelope.stopped');
    }
    const whole = parts.map((part): Result<GeometryPart> => {
      const ids = inside.get(part.bodies[0]);
      if (!ids) return done(part);
      const sampled = this.maker.sample(ids, 'wrap', () => undefined);
      return sampled.ok ? done({ ...this.maker.withInside(part, sampled.value), inside: ids }) : sampled;
    });
    const refused = whole.find((p) => !p.ok);
    return refused && !refused.ok ? refused : done(whole.flatMap((p) => (p.ok ? [p.value] : [])));
  }

  private bySize(bodies: readonly string[], report: Report): Result<string[]> {
    if (bodies.length < 2) return done([...bodies]);
    const sampled = this.maker.sample(bodies, this.request.mode === 'exact' ? 'exact' : 'wrap', report);
    // Equal ones, as far as their volumes are known, stay in the order that they were given in.
    const sizeOf = ({ volume }: SampledBody) => Number(volume.toPrecision(5));
    return sampled.ok ? done([...sampled.value].sort((a, b) => sizeOf(b) - sizeOf(a)).map((b) => b.id)) : sampled;
  }

  // A part that a body lies in wholly.
  private hostOf(body: string, parts: readonly GeometryPart[]): GeometryPart | undefined {
    if (parts.length === 0) return undefined;
    const sampled = this.maker.sample([body], 'wrap', () => undefined);
    if (!sampled.ok) return undefined;
    const { mesh } = this.maker.exactOf(sampled.value[0]);
    return parts.find((part) => liesWithin(mesh, part.mesh));
  }

  // A body as its wrap or exact, whichever has fewer triangles. One that cannot be wrapped (it is open) stays what it is.
  private async lighter(body: string, others: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart>> {
    const wrap = await this.maker.part([body], 'wrap', others, (share, text) => report(0.8 * share, text));
    if (wasStopped(wrap)) return wrap;
    const wrapped = (exact: string): Result<GeometryPart> => (wrap.ok ? done({ ...wrap.value, why: `${wrap.value.why}; exact takes ${exact}` }) : wrap);
    // Mostly it is lighter by far, and exact geometry need not be made to know that.
    const sampled = this.maker.sample([body], 'wrap', () => undefined);
    const least = sampled.ok ? leastOfExact(sampled.value[0], CHORDS.exact / CHORDS.wrap) : 0;
    if (wrap.ok && isSolid(wrap.value) && countOf([wrap.value]) < least) return wrapped(`more than ${sayCount(least)}`);
    const exact = await this.maker.part([body], 'exact', [], (share, text) => report(0.8 + 0.2 * share, text));
    if (!exact.ok) return exact;
    const isBetter =
      wrap.ok &&
      wrap.value.growth.min >= -ENCLOSURE_SLACK &&
      wrap.value.proof.crossings <= exact.value.proof.crossings &&
      (wrap.value.proof.closed || !exact.value.proof.closed) &&
      countOf([wrap.value]) < countOf([exact.value]);
    return isBetter ? wrapped(sayCount(countOf([exact.value]))) : exact;
  }
}

const countOf = (parts: readonly GeometryPart[]): number => parts.reduce((n, p) => n + triangleCount(p.mesh), 0);

const sayCount = (count: number): string => Math.floor(count).toLocaleString('en');

// Only what surely is a solid may hide anything.
const isSolid = ({ proof, growth }: GeometryPart): boolean => proof.closed && proof.crossings === 0 && growth.min >= -ENCLOSURE_SLACK;
