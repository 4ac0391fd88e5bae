import { normalize, radFromDeg, type Vec3 } from '#core/math';
import type { FlatPoint, PathPiece } from '#core/outline';
import type { Filling } from '../filling.ts';
import type { PlacedTip } from '../made-part.ts';
import { roundedLoop } from './plate-loop.ts';

/** A wiper that is ground at each corner that cuts: a straight edge that lies in the face that is milled. Angles in degrees, lengths in mm. */
export interface Wiper {
  /** Entering angle that it is ground for: by so much the outline turns from it to the main edge. */
  readonly kapr: number;
  /** The same to the other edge. */
  readonly beside: number;
  readonly length: number;
  readonly hand: 'right' | 'left';
}

/** Whether a corner of an included angle can have a wiper for an entering angle: it turns to the other edge as well. */
export const hasRoomForWiper = (kapr: number, eps: number): boolean => 180 - eps - kapr >= LEAST;
const LEAST = 0.5;

/** The wiper of an insert whose designation has letters in place of a corner radius (ISO 1832, symbol 7). `edge`: length of its edges. */
export function wiperOf(f: Filling, kapr: number, eps: number, edge: number, hand: 'right' | 'left' | 'neutral' | undefined): Wiper {
  const beside = 180 - eps - kapr;
  if (hand !== 'right' && hand !== 'left' && Math.abs(kapr - beside) > 1e-6)
    f.note('its wipers are drawn for a right-hand cutter: the designation says no hand');
  const length = f.assume('BS', Math.round(edge) / 10, 'a tenth of its edge: catalogues say it');
  const wiper = { kapr, beside, length, hand: hand === 'left' ? hand : 'right' } as const;
  // From corner to corner each edge gives a piece to both wipers, and some of it has to stay.
  f.atMost('BS', ((0.9 * edge) / (alongMain(wiper) + alongOther(wiper))) * length, 'or nothing of its edges is left');
  f.atMost('RE', (0.95 * length) / (Math.tan(radFromDeg(kapr / 2)) + Math.tan(radFromDeg(beside / 2))), 'or nothing of its wiper is left between its rounds');
  return wiper;
}
// What it takes of the main edge, and of the other one: by the law of sines in the piece that is ground off.
const alongMain = ({ kapr, beside, length }: Wiper): number => (length * Math.sin(radFromDeg(beside))) / Math.sin(radFromDeg(kapr + beside));
const alongOther = ({ kapr, beside, length }: Wiper): number => (length * Math.sin(radFromDeg(kapr))) / Math.sin(radFromDeg(kapr + beside));

/**
 * The outline of an insert with its wipers, counter-clockwise seen on its rake face, and its tips where wiper and main edge meet. `corners`: of the plate without
 * them; `cuts`: which of them have one; `re`: radius at both ends of a wiper.
 */
export function withWipers(
  corners: readonly FlatPoint[],
  cuts: readonly boolean[],
  wiper: Wiper,
  re: number,
): { readonly loop: PathPiece[]; readonly tips: readonly PlacedTip[] } {
  // Seen on the rake face of a right-hand cutter's insert, with the milled face below, the main edge rises at the right: it follows the wiper.
  const [before, after] = wiper.hand === 'right' ? [alongOther(wiper), alongMain(wiper)] : [alongMain(wiper), alongOther(wiper)];
  const points: FlatPoint[] = [];
  const radii: number[] = [];
  const tipAt: number[] = [];
  for (const [i, at] of corners.entries()) {
    if (!cuts[i]) {
      points.push(at);
      radii.push(0);
      continue;
    }
    tipAt.push(points.length + (wiper.hand === 'right' ? 1 : 0));
    points.push(towards(at, corners[(i + corners.length - 1) % corners.length], before), towards(at, corners[(i + 1) % corners.length], after));
    radii.push(re, re);
  }
  const n = points.length;
  const tips = tipAt.map((i): PlacedTip => {
    const [u, v] = [way(points[(i + n - 1) % n], points[i]), way(points[i], points[(i + 1) % n])];
    const out = normalize([u[0] - v[0], u[1] - v[1], 0]);
    // Half of what the outline turns by here.
    const half = Math.acos(Math.max(-1, Math.min(1, u[0] * v[0] + u[1] * v[1]))) / 2;
    const inside = re / Math.cos(half);
    return {
      noseRadius: re,
      noseCentre: [points[i][0] - inside * out[0], points[i][1] - inside * out[1], 0],
      towards: out,
      rake: [0, 0, 1],
      evidence: 'where its wiper meets its main edge',
    };
  });
  return { loop: roundedLoop(points, radii), tips };
}

const way = (a: FlatPoint, b: FlatPoint): Vec3 => normalize([b[0] - a[0], b[1] - a[1], 0]);
const towards = (a: FlatPoint, b: FlatPoint, by: number): FlatPoint => {
  const [x, y] = way(a, b);
  return [a[0] + by * x, a[1] + by * y];
};
