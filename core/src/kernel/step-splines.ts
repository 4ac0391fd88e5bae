import { argumentOf, argumentsOf, argumentsOfPart, bodyTextOf, numbersIn, type Part21File, referencesIn } from './part21.ts';
import type { SplineSurface } from './spline-surface.ts';
import type { EntitiesByType } from './step-parts.ts';

const PLAIN = 'B_SPLINE_SURFACE_WITH_KNOTS';

/** The entities of a STEP file that are B-spline surfaces with knots, rational ones too (ISO 10303-42). */
export function splineEntities(file: Part21File, byType: EntitiesByType): number[] {
  const complex = (byType.get('') ?? []).filter((id) => bodyTextOf(file, id).includes(PLAIN));
  return [...(byType.get(PLAIN) ?? []), ...complex];
}

/** One of them as its numbers, in the unit of the file times `scaleToMm`; undefined where they make none. */
export function readSpline(file: Part21File, id: number, scaleToMm: number): SplineSurface | undefined {
  const parts = file.entities.get(id)?.type === PLAIN ? partsOfPlain(file, id) : partsOfComplex(file, id);
  if (!parts) return undefined;
  const [degreeU, degreeV] = parts.degrees;
  const rows = listsIn(parts.poles).map(referencesIn);
  const [countU, countV] = [rows.length, rows[0]?.length ?? 0];
  const poles = Float64Array.from(rows.flat().flatMap((p) => pointOf(file, p)));
  const weights = parts.weights === undefined ? undefined : Float64Array.from(listsIn(parts.weights).flatMap(numbersIn));
  const [knotsU, knotsV] = [repeated(parts.timesU, parts.knotsU), repeated(parts.timesV, parts.knotsV)];
  const isWhole =
    degreeU >= 1 &&
    degreeV >= 1 &&
    poles.length === 3 * countU * countV &&
    poles.every(Number.isFinite) &&
    (!weights || (weights.length === countU * countV && weights.every((w) => w > 0))) &&
    isKnots(knotsU, degreeU, countU) &&
    isKnots(knotsV, degreeV, countV);
  if (!isWhole) return undefined;
  return { degreeU, degreeV, knotsU, knotsV, countU, countV, poles: poles.map((x) => x * scaleToMm), ...(weights ? { weights } : {}) };
}

/** The arguments of a surface as their text. */
interface Parts {
  readonly degrees: readonly [number, number];
  readonly poles: string;
  readonly timesU: string;
  readonly timesV: string;
  readonly knotsU: string;
  readonly knotsV: string;
  readonly weights?: string;
}

// name, degrees, poles, form, closed twice, self-crossing; multiplicities, knots.
function partsOfPlain(file: Part21File, id: number): Parts | undefined {
  const entity = file.entities.get(id);
  const a = entity ? argumentsOf(file, entity) : [];
  if (a.length < 12) return undefined;
  return { degrees: [Number(a[1]), Number(a[2])], poles: a[3], timesU: a[8], timesV: a[9], knotsU: a[10], knotsV: a[11] };
}

// The same without a name, in parts of their own.
function partsOfComplex(file: Part21File, id: number): Parts | undefined {
  const surface = argumentsOfPart(file, id, 'B_SPLINE_SURFACE');
  const knots = argumentsOfPart(file, id, PLAIN);
  const weights = argumentsOfPart(file, id, 'RATIONAL_B_SPLINE_SURFACE');
  if (!surface || surface.length < 3 || !knots || knots.length < 4) return undefined;
  const parts: Parts = {
    degrees: [Number(surface[0]), Number(surface[1])],
    poles: surface[2],
    timesU: knots[0],
    timesV: knots[1],
    knotsU: knots[2],
    knotsV: knots[3],
  };
  return weights ? { ...parts, weights: weights[0] } : parts;
}

// A list of lists as these, each as its text.
const listsIn = (text: string): string[] => [...text.matchAll(/\(([^()]*)\)/g)].map((m) => m[1]);

const pointOf = (file: Part21File, id: number): number[] => argumentOf(file, id, 1, numbersIn) ?? [];

function repeated(times: string, knots: string): Float64Array {
  const at = numbersIn(knots);
  return Float64Array.from(numbersIn(times).flatMap((n, i) => Array.from({ length: Math.min(n, 64) }, () => at[i])));
}

const isKnots = (knots: Float64Array, degree: number, count: number): boolean =>
  knots.length === count + degree + 1 && knots.every((k, i) => Number.isFinite(k) && (i === 0 || k >= knots[i - 1])) && knots[degree] < knots[count];
