import { degFromRad } from '#core/math';
import { boxOfPath, flatDistance, type HalfProfile, listPieces, type PathPiece, profileVolume, areaOfPath, stretchOfProfile } from '#core/outline';
import type { OutlineRecord, TypedValue } from '#core/records';

/** A number that follows from an outline, by its ISO 13399 name where it has one. */
export interface OutlineFact {
  readonly name: string;
  readonly meaning: string;
  readonly value: number;
  readonly unit: 'mm' | 'deg' | 'mm2' | 'mm3';
  /** How it was found. */
  readonly from: string;
}

/** A typed value that the profile contradicts. */
export interface Contradiction {
  readonly name: TypedValue;
  readonly typed: number;
  readonly found?: number;
  readonly message: string;
}

/** From where to where a profile reaches along z, and its largest radius. */
export function extentOf(profile: HalfProfile): { readonly low: number; readonly high: number; readonly radius: number } {
  const [low, , high, radius] = boxOfPath(profile.flat());
  return { low, high, radius };
}

/** The cutting stretch in the profile's own z; null where nothing cuts. */
export function cuttingStretch({ profile, cutting }: Pick<OutlineRecord, 'profile' | 'cutting'>): { readonly from: number; readonly to: number } | null {
  if (!cutting || profile.length === 0) return null;
  const { low, high } = extentOf(profile);
  const [from, to] = [Math.max(low, high - cutting.to), Math.min(high, high - cutting.from)];
  return to - from > 1e-6 ? { from, to } : null;
}

// mm. Radii below are edges that were broken.
const LEAST_RADIUS = 0.02;

/** The numbers of an outline. */
export function outlineFacts(outline: OutlineRecord): OutlineFact[] {
  const { profile, purpose } = outline;
  if (profile.length === 0) return [];
  if (purpose === 'insert') return insertFacts(outline);
  const { low, high, radius } = extentOf(profile);
  const facts: OutlineFact[] = [];
  const add = (name: string, meaning: string, value: number, unit: OutlineFact['unit'], from: string) =>
    void facts.push({ name, meaning, value: Math.round(value * 1e6) / 1e6, unit, from });
  const cuts = cuttingStretch(outline);
  if (cuts) {
    const part = stretchOfProfile(profile, cuts.from, cuts.to);
    if (part.length > 0) add('DC', 'cutting diameter', 2 * extentOf(part).radius, 'mm', 'the widest place of the stretch that cuts');
    add('LCF', 'length of the cutting part', cuts.to - cuts.from, 'mm', 'the stretch that cuts');
  } else add('BDX', 'largest diameter', 2 * radius, 'mm', 'the widest place');
  const shank = shankOf(profile, cuts?.from);
  if (shank) {
    add('DCON', 'shank diameter', shank.diameter, 'mm', 'the cylinder at the machine’s end');
    add('LS', 'shank length', shank.length, 'mm', 'that cylinder with its chamfer');
  }
  add('OAL', 'overall length', high - low, 'mm', 'from end to end');
  const point = pointAngle(profile, high);
  if (point !== undefined && cuts) add('SIG', 'point angle', point, 'deg', 'the cone that ends on the axis');
  const edge = cuts ? listPieces(profile).filter((p) => Math.min(p.from[0], p.to[0]) >= cuts.from - 1e-6) : [];
  const taper = edge.find((p) => p.kind === 'line' && p.from[0] !== p.to[0] && p.from[1] !== p.to[1] && p.from[1] > 0 && p.to[1] > 0);
  if (taper && cuts)
    add(
      '',
      'taper, half angle',
      degFromRad(Math.abs(Math.atan((taper.to[1] - taper.from[1]) / (taper.to[0] - taper.from[0])))),
      'deg',
      'the first cone of the stretch that cuts',
    );
  radiiOf(edge).forEach((r, i) => add(i === 0 ? 'RE' : '', 'corner radius', r, 'mm', 'a rounded corner of the stretch that cuts'));
  add('', 'volume', profileVolume(profile), 'mm3', 'turned once about the axis');
  return facts;
}

function insertFacts({ profile: [loop], insert }: OutlineRecord): OutlineFact[] {
  const [x0, y0, x1, y1] = boxOfPath(loop);
  const fact = (name: string, meaning: string, value: number, unit: OutlineFact['unit'], from: string): OutlineFact => ({ name, meaning, value, unit, from });
  return [
    fact('L', 'length', Math.max(x1 - x0, y1 - y0), 'mm', 'the longer side of its box'),
    fact('W1', 'width', Math.min(x1 - x0, y1 - y0), 'mm', 'the shorter side of its box'),
    fact('S', 'thickness', insert.thickness, 'mm', 'typed'),
    fact('AN', 'clearance angle', insert.reliefDeg, 'deg', 'typed'),
    ...radiiOf(loop).map((r, i) => fact(i === 0 ? 'RE' : '', 'corner radius', r, 'mm', 'a rounded corner')),
    fact('', 'area', areaOfPath(loop), 'mm2', 'inside the outline'),
  ];
}

// Radii of convex corners, the smallest first, each once.
const radiiOf = (pieces: readonly PathPiece[]): number[] =>
  [...new Set(pieces.flatMap((p) => (p.kind === 'arc' && p.ccw ? [Math.round(flatDistance(p.from, p.centre) * 1000) / 1000] : [])))]
    .filter((r) => r >= LEAST_RADIUS)
    .sort((a, b) => a - b)
    .slice(0, 4);

/** The cylinder at the machine's end, with what is broken off its edge; `before`: it ends where the cutting part begins. */
export function shankOf(profile: HalfProfile, before = Infinity): { readonly diameter: number; readonly length: number } | undefined {
  const { low } = extentOf(profile);
  const even = listPieces(profile)
    .filter((p) => p.kind === 'line' && p.from[1] === p.to[1] && p.from[0] > p.to[0])
    .sort((a, b) => a.to[0] - b.to[0]);
  const first = even.find((p) => p.to[0] - low <= 0.7 * p.from[1]);
  if (!first) return undefined;
  // It goes on as the cutting part where that is as wide.
  const end = Math.min(first.from[0], before);
  return end - low > 1e-6 ? { diameter: 2 * first.from[1], length: end - low } : undefined;
}

// Whole angle of a cone that ends on the axis at the work end, degrees.
function pointAngle(profile: HalfProfile, high: number): number | undefined {
  const cone = listPieces(profile).find((p) => p.kind === 'line' && Math.abs(p.from[0] - high) < 1e-6 && p.from[1] < 1e-6 && p.to[0] < p.from[0] - 1e-9);
  return cone && 2 * degFromRad(Math.atan2(cone.to[1] - cone.from[1], cone.from[0] - cone.to[0]));
}

// mm. Typed values are given to hundredths.
const AGREES = 0.006;

/** What was typed and the profile says otherwise, with what would agree. */
export function contradictionsOf(outline: OutlineRecord): Contradiction[] {
  const facts = outlineFacts(outline);
  const out: Contradiction[] = [];
  const { profile, cutting, typed } = outline;
  if (profile.length > 0 && cutting) {
    const { low, high } = extentOf(profile);
    const over = Math.max(cutting.from, cutting.to) - (high - low);
    if (over > AGREES)
      out.push({
        name: 'LCF',
        typed: cutting.to,
        found: high - low,
        message: `The cutting part is ${over.toFixed(3)} mm longer than the body: at most ${(high - low).toFixed(3)}.`,
      });
  }
  for (const [name, value] of Object.entries(typed) as [TypedValue, number][]) {
    const fact = facts.find((f) => f.name === name);
    if (!fact) out.push({ name, typed: value, message: `${name} was typed as ${value}, and the profile has none.` });
    else if (Math.abs(fact.value - value) > AGREES)
      out.push({
        name,
        typed: value,
        found: fact.value,
        message: `${name} was typed as ${value}, and the profile gives ${fact.value.toFixed(3)} (${fact.from}): type that, or change the profile by ${(value - fact.value).toFixed(3)}.`,
      });
  }
  return out;
}
