import { flattenPath, type FlatPoint, type HalfProfile } from '#core/outline';
import type { TrialSetting } from '../setting.ts';
import { CLEARS, type MissingEdge } from './missing.ts';

/** The angles of an edge as its holder has them, degrees. */
export interface EdgeAngles {
  readonly enteringAngle: number;
  readonly includedAngle: number;
  readonly hand: 'right' | 'left' | 'neutral';
}

/** Whether an edge in its usual pose clears what is wanted, on either side. A grooving edge is none of these. */
export function suitsMissing({ enteringAngle, includedAngle, hand }: EdgeAngles, { included, towardsChuck, away }: MissingEdge): boolean {
  if (included === undefined) return false;
  const end = 180 - enteringAngle - includedAngle;
  // Fed towards the chuck a right-hand tool has its main edge on that side, a left-hand one its end cutting edge.
  const [chuckSide, other] = hand === 'left' ? [end, enteringAngle] : [enteringAngle, end];
  return chuckSide >= towardsChuck + CLEARS && other >= away + CLEARS;
}

interface Usual {
  readonly words: string;
  readonly enteringAngle: number;
  readonly includedAngle: number;
  readonly size: string;
}
// ISO 5608 and 6261: sturdy inserts first; neutral ones last.
const OUTSIDE: readonly Usual[] = [
  { words: 'DCLN', enteringAngle: 95, includedAngle: 80, size: '12' },
  { words: 'DTJN', enteringAngle: 93, includedAngle: 60, size: '16' },
  { words: 'DDJN', enteringAngle: 93, includedAngle: 55, size: '15' },
  { words: 'SDHC', enteringAngle: 107.5, includedAngle: 55, size: '11' },
  { words: 'DVJN', enteringAngle: 93, includedAngle: 35, size: '16' },
  { words: 'SVHC', enteringAngle: 107.5, includedAngle: 35, size: '16' },
  { words: 'SDPC', enteringAngle: 62.5, includedAngle: 55, size: '11' },
  { words: 'SVVC', enteringAngle: 72.5, includedAngle: 35, size: '16' },
];
const INSIDE: readonly Usual[] = [
  { words: 'SCLC', enteringAngle: 95, includedAngle: 80, size: '06' },
  { words: 'SDUC', enteringAngle: 93, includedAngle: 55, size: '07' },
  { words: 'SDQC', enteringAngle: 107.5, includedAngle: 55, size: '07' },
  { words: 'SVUC', enteringAngle: 93, includedAngle: 35, size: '11' },
  { words: 'SVQC', enteringAngle: 107.5, includedAngle: 35, size: '11' },
];
const NEUTRAL = ['SDPC', 'SVVC'];
// Bars of ISO 6261 with their usual length, and the bore that one goes into at least, mm: their width is about 0.7 of their diameter.
const BARS: readonly (readonly [string, number])[] = [
  ['A12K', 18],
  ['A16M', 22],
  ['A20Q', 27],
  ['A25R', 34],
  ['A32S', 44],
];

/**
 * Designations of usual tools that would do for what is missing, sturdy ones first: for outside with a square shank ("2525 M"), for inside the thickest bar that
 * the bore in front of the place lets in. None for what only a grooving edge gets into, and for bores that are too narrow.
 */
export function usualToolsFor(missing: MissingEdge, contour: HalfProfile, shank: string): string[] {
  const bar = missing.isInside ? BARS.findLast(([, least]) => boreBefore(missing.at, contour) >= least) : undefined;
  if (missing.isInside && !bar) return [];
  return (missing.isInside ? INSIDE : OUTSIDE).flatMap((u): string[] => {
    const hands = NEUTRAL.includes(u.words) ? (['neutral'] as const) : ([missing.hand, missing.hand === 'right' ? 'left' : 'right'] as const);
    const hand = hands.find((h) => suitsMissing({ ...u, hand: h }, missing));
    if (!hand) return [];
    const letter = { right: 'R', left: 'L', neutral: 'N' }[hand];
    return [bar ? `${bar[0]}-${u.words}${letter} ${u.size}` : `${u.words}${letter} ${shank}${u.size}`];
  });
}

// Usual lengths to square shanks, by their letter.
const SHANKS: Readonly<Record<string, string>> = { '12x12': '1212 F', '16x16': '1616 H', '20x20': '2020 K', '25x25': '2525 M', '32x32': '3232 P' };

/** The square shank that the tools of a set-up have, as designations say it; 25 where none has one. */
export function shankOf({ parts }: TrialSetting): string {
  for (const component of Object.values(parts.components)) {
    const connection = component?.mount?.connection;
    const words = connection?.standard === 'square' ? SHANKS[String(connection.size)] : undefined;
    if (words) return words;
  }
  return '2525 M';
}

// The narrowest diameter of the bore from a place to its front.
function boreBefore([z, r]: FlatPoint, contour: HalfProfile): number {
  const inFront = contour
    .flatMap((l) => flattenPath(l, 0.05, false))
    .filter((p) => p[0] >= z && p[1] > 0)
    .map((p) => p[1]);
  return 2 * Math.min(r, ...inFront);
}
