import {
  type Axis,
  type CheckCost,
  checkCost,
  computeExactGeometry,
  computeRevolvedEnvelope,
  computeWrap,
  flatsAround,
  flatsGrowth,
  type Growth,
  growthOfProfile,
  type Proof,
  proveEnclosure,
  revolveToMesh,
} from '#core/envelope';
import { failed, type Result, done } from '#core/issues';
import { type Kernel, type ModelWork, type SampledBody, sampleModelFile } from '#core/kernel';
import { ENCLOSURE_SLACK, type Frame } from '#core/math';
import { joinMeshes, type TriMesh, triangleCount, meshVolume, weld, writeStl } from '#core/mesh';
import { type BoreChoice, type HalfProfile, listPieces, validateProfile } from '#core/outline';
import { DEFAULT_CLOSE_BELOW } from '#core/records';

/** How one part is made, and for a whole target: `auto` takes what gives the fewest triangles. */
export type PartMode = 'exact' | 'revolved' | 'wrap';
export type GeometryMode = PartMode | 'auto';

export interface GeometryRequest {
  readonly bytes: Uint8Array;
  readonly file: string;
  readonly bodies: readonly string[];
  readonly work?: ModelWork;
  readonly mode: GeometryMode;
  /** Bodies that are made another way than the rest. */
  readonly overrides?: Readonly<Record<string, PartMode>>;
  readonly tolerance: number;
  /** mm. Openings of flat faces up to this width are closed in a wrap; 0 closes none. */
  readonly closeBelow?: number;
  /** Which bores of a revolved envelope stay open; those narrower than `closeBelow` do not. */
  readonly bores?: BoreChoice;
  /** mm. Gaps of a revolved envelope's outside up to this width are filled. */
  readonly bridge?: number;
  /** A half profile of all revolved bodies that stands in place of the computed one; it is proven like any other. */
  readonly drawn?: HalfProfile | null;
  /** A wrap stops at this many triangles. */
  readonly triangles?: number;
  /** Axis of revolution and origin of the profile: its Z. In the file's coordinates. */
  readonly frame: Frame;
  /** Whether the bodies spin about that axis, so that `auto` may revolve them. */
  readonly spins?: boolean;
  readonly onProgress?: (share: number, text: string) => void;
  /** Asked between steps, once others have had their turn: false ends the making with `envelope.stopped`. */
  readonly goesOn?: () => Promise<boolean>;
}

/** One mesh of the result: of one body, or of all that spin together. */
export interface GeometryPart {
  readonly bodies: readonly string[];
  readonly mode: PartMode;
  readonly mesh: TriMesh;
  /** First triangle of each of the body's faces, and the count at the end; for an exact part. */
  readonly faceStart?: Uint32Array;
  readonly profile?: HalfProfile;
  readonly trianglesIn: number;
  readonly growth: Growth;
  readonly proof: Proof;
  /** In words: what it is and why it was taken. */
  readonly why: string;
}

/** Simulation geometry in the file's coordinates, with its report. */
export interface GeometryResult {
  readonly parts: readonly GeometryPart[];
  readonly mesh: TriMesh;
  /** Where one revolved envelope is the whole result. */
  readonly profile?: HalfProfile;
  readonly trianglesIn: number;
  readonly trianglesOut: number;
  readonly bytesIn: number;
  readonly bytesOut: number;
  readonly volumeIn: number;
  readonly volumeOut: number;
  readonly growth: Growth;
  readonly closed: boolean;
  /** Boxes and triangles that a collision check looks at, the parts' sums. */
  readonly checkCost: CheckCost;
  readonly milliseconds: number;
}

type Report = (share: number, text: string) => void;

/**
 * Makes simulation geometry from bodies of a vendor file. Exact: the tessellation, pushed out by its own sag. Revolved: the outer envelope of
 * all bodies about the frame's Z. Wrap: a light mesh around each body. Every part is proven against the true faces by `proveEnclosure`. The
 * tolerance is shared out to the tessellation, the simplification and the flats, so that the sum keeps it.
 */
export async function makeGeometry(kernel: Kernel, request: GeometryRequest): Promise<Result<GeometryResult>> {
  const start = performance.now();
  const { bytes, bodies, tolerance, closeBelow = DEFAULT_CLOSE_BELOW, bridge = 0, triangles } = request;
  const report: Report = request.onProgress ?? (() => undefined);
  if (!Number.isFinite(tolerance) || tolerance < 0.001 || tolerance > 5) return failed('envelope.bad-tolerance', { tolerance });
  if (!(closeBelow >= 0 && closeBelow <= 200)) return failed('envelope.bad-opening', { width: closeBelow });
  if (!(bridge >= 0 && bridge <= 200)) return failed('envelope.bad-gap', { width: bridge });
  if (triangles !== undefined && !(triangles >= 12 && triangles <= 1e7)) return failed('envelope.bad-budget', { triangles });
  if (bodies.length === 0) return failed('envelope.no-bodies');
  report(0.02, 'Reading the file');
  const maker = new Maker(kernel, request, report);
  const made = await maker.make();
  if (!made.ok) return made;
  const parts = made.value;
  report(0.97, 'Finishing');
  const mesh = joinMeshes(parts.map((p) => p.mesh));
  const area = parts.reduce((a, p) => a + p.proof.area, 0) || 1;
  return done({
    parts,
    mesh,
    ...(parts.length === 1 && parts[0].profile ? { profile: parts[0].profile } : {}),
    trianglesIn: parts.reduce((n, p) => n + p.trianglesIn, 0),
    trianglesOut: triangleCount(mesh),
    bytesIn: bytes.length,
    bytesOut: writeStl(mesh).length,
    volumeIn: parts.reduce((v, p) => v + p.proof.volumeBefore, 0),
    volumeOut: meshVolume(mesh),
    growth: {
      min: Math.min(...parts.map((p) => p.growth.min)),
      mean: parts.reduce((s, p) => s + (p.growth.mean * p.proof.area) / area, 0),
      max: Math.max(...parts.map((p) => p.growth.max)),
    },
    closed: parts.every((p) => p.proof.closed),
    checkCost: maker.checkCost(parts),
    milliseconds: performance.now() - start,
  });
}

// Shares of the tolerance that the kernel's chords may take.
const CHORDS: Readonly<Record<PartMode, number>> = { exact: 0.45, revolved: 0.22, wrap: 0.3 };

// Triangles beyond which a finer tessellation is not tried: minutes, and it is seldom the tessellation that is at fault then.
const MOST_RETRIED = 300_000;

class Maker {
  private readonly kernel: Kernel;
  private readonly request: GeometryRequest;
  private readonly report: Report;
  /** By chord tolerance and body. */
  private readonly sampled = new Map<string, SampledBody>();
  /** What each made mesh was made from. */
  private readonly originals = new Map<TriMesh, readonly TriMesh[]>();
  private readonly axis: Axis;

  constructor(kernel: Kernel, request: GeometryRequest, report: Report) {
    this.kernel = kernel;
    this.request = request;
    this.report = report;
    this.axis = { origin: request.frame.origin, direction: request.frame.z };
  }

  async make(): Promise<Result<GeometryPart[]>> {
    const { mode, bodies, overrides = {}, spins = false } = this.request;
    const own = bodies.filter((b) => overrides[b] && overrides[b] !== 'revolved');
    const rest = bodies.filter((b) => !own.includes(b));
    const groups: { bodies: string[]; mode: GeometryMode }[] = own.map((b) => ({ bodies: [b], mode: overrides[b] }));
    const turned = rest.filter((b) => mode === 'revolved' || overrides[b] === 'revolved');
    if (turned.length > 0) groups.push({ bodies: turned, mode: 'revolved' });
    const left = rest.filter((b) => !turned.includes(b));
    if (mode === 'auto' && spins && left.length > 0) groups.push({ bodies: left, mode: 'auto' });
    else groups.push(...left.map((b) => ({ bodies: [b], mode })));
    const parts: GeometryPart[] = [];
    for (const [i, group] of groups.entries()) {
      const before = i / groups.length;
      const step: Report = (share, text) => this.report(0.05 + 0.9 * (before + share / groups.length), text);
      const made = group.mode === 'auto' ? await this.choose(group.bodies, spins, step) : await this.part(group.bodies, group.mode, step);
      if (!made.ok) return made;
      parts.push(...(Array.isArray(made.value) ? made.value : [made.value]));
    }
    return done(parts);
  }

  // What gives the fewest triangles: of all that spin one revolved envelope, or else of each body its wrap or itself. Where the envelope takes
  // less than a tenth of what the bodies have, no wrap is tried: none comes near that.
  private async choose(bodies: readonly string[], spins: boolean, report: Report): Promise<Result<GeometryPart[]>> {
    const turned = spins ? await this.part(bodies, 'revolved', (share, text) => report(0.3 * share, text)) : undefined;
    if (await this.isStopped()) return failed('envelope.stopped');
    const envelope = turned?.ok ? turned.value : undefined;
    const rest: Report = spins ? (share, text) => report(0.3 + 0.7 * share, text) : report;
    const exact: GeometryPart[] = [];
    for (const [i, body] of bodies.entries()) {
      const made = await this.part([body], 'exact', (share, text) => rest((0.3 * (i + share)) / bodies.length, text));
      if (!made.ok) return made;
      exact.push(made.value);
    }
    const own = countOf(exact);
    if (envelope && countOf([envelope]) < own / 10) return done([{ ...envelope, why: `${envelope.why}; exact takes ${own.toLocaleString('en')}` }]);
    const each: GeometryPart[] = [];
    for (const [i, body] of bodies.entries()) {
      const wrap = await this.part([body], 'wrap', (share, text) => rest(0.3 + (0.7 * (i + share)) / bodies.length, text));
      if (await this.isStopped()) return failed('envelope.stopped');
      // A body that cannot be wrapped (it is open) stays what it is.
      const isBetter =
        wrap.ok &&
        wrap.value.growth.min >= -ENCLOSURE_SLACK &&
        wrap.value.proof.crossings <= exact[i].proof.crossings &&
        (wrap.value.proof.closed || !exact[i].proof.closed) &&
        countOf([wrap.value]) < countOf([exact[i]]);
      each.push(isBetter ? chosen(wrap.value, exact[i]) : exact[i]);
    }
    const others = countOf(each);
    return done(
      envelope && countOf([envelope]) < others ? [{ ...envelope, why: `${envelope.why}; its bodies one by one take ${others.toLocaleString('en')}` }] : each,
    );
  }

  private async part(bodies: readonly string[], mode: PartMode, report: Report): Promise<Result<GeometryPart>> {
    const { tolerance, drawn } = this.request;
    let chord = tolerance * CHORDS[mode];
    let best = await this.attempt(bodies, mode, chord, report);
    // The kernel's chords may miss their tolerance on cones (0.062 for 0.022 was seen), and where corners cannot move a coarse one may stay inside:
    // once more, finer. What was drawn is taken as it is.
    // Nor may a wrap go through itself or touch itself, where a body's walls come near each other.
    const isGood = ({ growth, proof }: GeometryPart) =>
      growth.max <= tolerance && growth.min >= -ENCLOSURE_SLACK && !(mode === 'wrap' && (proof.crossings > 0 || !proof.closed));
    for (let retry = 0; retry < 3 && best.ok && !isGood(best.value) && best.value.trianglesIn < MOST_RETRIED && !(mode === 'revolved' && drawn); retry++) {
      chord /= 2;
      const next = await this.attempt(bodies, mode, chord, report);
      if (!next.ok || next.value.growth.min >= Math.min(best.value.growth.min, -ENCLOSURE_SLACK)) best = next;
    }
    return best;
  }

  private async attempt(bodies: readonly string[], mode: PartMode, chordTolerance: number, report: Report): Promise<Result<GeometryPart>> {
    const sampled = await this.sample(bodies, chordTolerance, (share, text) => report(0.5 * share, text));
    if (!sampled.ok) return sampled;
    if (await this.isStopped()) return failed('envelope.stopped');
    report(0.5, SAY[mode]);
    const made =
      mode === 'exact'
        ? makeExact(sampled.value[0])
        : mode === 'wrap'
          ? makeWrap(sampled.value[0], this.request, report)
          : makeRevolved(sampled.value, this.axis, this.request);
    if (!made.ok) return made;
    if (await this.isStopped()) return failed('envelope.stopped');
    report(0.85, 'Proving that it encloses');
    const { mesh, closedMesh, pushed = 0, built, ...rest } = made.value;
    const proof = proveEnclosure(
      { bodies: sampled.value, closedMesh, spin: mode === 'revolved' ? { axis: this.axis, bridge: this.request.bridge } : undefined },
      mesh,
    );
    // The builder knows the true faces where it measured growth on them; the proof has the last word on the least, and of what spins on the greatest.
    const growth = built
      ? { ...built, min: Math.min(built.min, proof.least), max: mode === 'revolved' ? Math.max(built.max, proof.greatest) : built.max }
      : { min: proof.least, mean: proof.mean, max: proof.greatest + pushed };
    const trianglesIn = sampled.value.reduce((n, b) => n + triangleCount(b.mesh), 0);
    const why = `${mode}: ${triangleCount(mesh).toLocaleString('en')} triangles, growth up to ${growth.max.toFixed(3)}${rest.say ?? ''}`;
    const { faceStart, profile } = rest;
    this.originals.set(
      mesh,
      sampled.value.map((b) => b.mesh),
    );
    return done({ bodies, mode, mesh, ...(faceStart ? { faceStart } : {}), ...(profile ? { profile } : {}), trianglesIn, growth, proof, why });
  }

  private async isStopped(): Promise<boolean> {
    const { goesOn } = this.request;
    return goesOn !== undefined && !(await goesOn());
  }

  /** What a collision check costs with what was taken in the end. */
  checkCost(parts: readonly GeometryPart[]): CheckCost {
    const costs = parts.map(({ mesh }) => checkCost(this.originals.get(mesh) ?? [], mesh));
    return { before: costs.reduce((s, c) => s + c.before, 0), after: costs.reduce((s, c) => s + c.after, 0) };
  }

  // Reading the file costs more than sampling a body: what a mode begins with is sampled for all bodies at once, a finer retry for its own.
  private async sample(ids: readonly string[], chordTolerance: number, report: Report): Promise<Result<SampledBody[]>> {
    const { bytes, file, work, bodies, tolerance } = this.request;
    const key = (id: string) => `${chordTolerance} ${id}`;
    if (ids.some((id) => !this.sampled.has(key(id)))) {
      const isFirst = Object.values(CHORDS).some((share) => chordTolerance === tolerance * share);
      const made = await sampleModelFile(this.kernel, bytes, file, { chordTolerance, ids: isFirst ? bodies : ids, work, onProgress: report });
      if (!made.ok) return made;
      for (const body of made.value) this.sampled.set(key(body.id), body);
    }
    return done(ids.map((id) => this.sampled.get(key(id)) as SampledBody));
  }
}

const SAY: Readonly<Record<PartMode, string>> = { exact: 'Pushing the chords out', wrap: 'Wrapping', revolved: 'Turning the envelope' };

const countOf = (parts: readonly GeometryPart[]): number => parts.reduce((n, p) => n + triangleCount(p.mesh), 0);

const chosen = (part: GeometryPart, instead: GeometryPart): GeometryPart => ({
  ...part,
  why: `${part.why}; exact takes ${triangleCount(instead.mesh).toLocaleString('en')}`,
});

interface Made {
  readonly mesh: TriMesh;
  readonly faceStart?: Uint32Array;
  readonly profile?: HalfProfile;
  /** Growth as the builder measured it on the true faces. */
  readonly built?: Growth;
  readonly closedMesh?: TriMesh;
  readonly pushed?: number;
  readonly say?: string;
}

function makeExact(body: SampledBody): Result<Made> {
  const { mesh, faceOf, growth } = computeExactGeometry(body);
  // Triangles come face by face.
  const faceStart = new Uint32Array(body.surfaces.length + 1);
  for (const f of faceOf) faceStart[f + 1]++;
  for (let f = 0; f < body.surfaces.length; f++) faceStart[f + 1] += faceStart[f];
  return done({ mesh, faceStart, built: growth });
}

function makeWrap(body: SampledBody, { tolerance, closeBelow = DEFAULT_CLOSE_BELOW, triangles }: GeometryRequest, report: Report): Result<Made> {
  const wrap = computeWrap(body, { tolerance, closeBelow, triangles, onProgress: (share) => report(0.5 + 0.35 * share, SAY.wrap) });
  if (!wrap.ok) return wrap;
  const { mesh, around, pushed, openings, widest, hollows } = wrap.value;
  const say = [
    openings > 0 ? `; ${openings} ${openings === 1 ? 'opening' : 'openings'} up to ${widest.toFixed(1)} wide closed` : '',
    hollows > 0 ? `; ${hollows} hollows filled` : '',
  ].join('');
  return done({ mesh, closedMesh: around, pushed, say });
}

function makeRevolved(
  sampled: readonly SampledBody[],
  axis: Axis,
  { tolerance, closeBelow = DEFAULT_CLOSE_BELOW, bores = 'closed', bridge = 0, drawn }: GeometryRequest,
): Result<Made> {
  const envelope = computeRevolvedEnvelope(sampled, axis, tolerance * 0.3, { keep: bores, closeBelow, bridge });
  if (!envelope.ok) return envelope;
  const profile = drawn ?? envelope.value.profile;
  const faults = validateProfile(profile);
  if (faults.length > 0) {
    if (drawn) return failed('envelope.bad-profile', { text: faults.join('; ') });
    throw new Error(`make-geometry.makeRevolved: a bad profile; ${faults.join('; ')}`);
  }
  const growth = drawn ? growthOfProfile(sampled, axis, drawn, envelope.value) : envelope.value.growth;
  const largest = Math.max(...profile.flat().flatMap((p) => [p.from[1], p.to[1]]));
  const flats = flatsAround(largest, tolerance * 0.25);
  const sag = tolerance * 0.1;
  const mesh = weld(revolveToMesh(profile, axis, flats, sag), 1e-7);
  const pieces = listPieces(profile);
  const arcs = pieces.filter((p) => p.kind === 'arc').length;
  const say = `; ${pieces.length} pieces${arcs > 0 ? ` with ${arcs} ${arcs === 1 ? 'arc' : 'arcs'}` : ''}${bridge > 0 && !drawn ? `, gaps up to ${bridge.toFixed(1)} bridged` : ''}${drawn ? ', changed by hand' : ''}`;
  return done({ mesh, profile, built: { ...growth, max: growth.max + flatsGrowth(largest, flats) + (arcs > 0 ? sag : 0) }, say });
}
