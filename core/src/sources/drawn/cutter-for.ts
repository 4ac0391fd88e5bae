import { done, failed, type Result } from '#core/issues';
import { boxOfPath, type FlatPoint, type HalfProfile, mapPiece, type PathPiece, reversePath, stretchOfProfile, validateProfile } from '#core/outline';

/** What a cutter for a part is to be. */
export interface CutterWish {
  /** The stretch of the part that it makes, in the part's z. */
  readonly from: number;
  readonly to: number;
  /** Where it is widest, mm. */
  readonly diameter: number;
  readonly shank: { readonly diameter: number; readonly length: number };
}

// mm.
const SAME = 1e-6;

/**
 * The half section of a cutter that leaves a part's outside: it turns about an axis along the part's, as far away as its radius goes into the deepest place, so that it is as
 * much narrower everywhere as the part stands out there. It points at the part's chuck: its z runs against the part's. Its shank comes first.
 */
export function cutterFor(part: HalfProfile, { from, to, diameter, shank }: CutterWish): Result<HalfProfile> {
  const [low, , high] = part.length > 0 ? boxOfPath(part.flat()) : [0, 0, 0];
  if (!(to - from > SAME) || from < low - SAME || to > high + SAME)
    return failed('outline.bad-stretch', { from: from.toFixed(3), to: to.toFixed(3), low: low.toFixed(3), high: high.toFixed(3) });
  const outside = outsideOf(stretchOfProfile(part, from, to), from, to);
  if (!outside) return failed('outline.bad-shape', { text: 'the part has no outside all along that stretch' });
  const box = boxOfPath(outside);
  const away = diameter / 2 + box[1];
  if (away - box[3] <= SAME) return failed('outline.thin-cutter', { diameter: diameter.toFixed(3), least: (2 * (box[3] - box[1])).toFixed(3) });
  const end = shank.length + to - from;
  // Turned by half a turn: what ran against the part's z runs along the cutter's, with its material on the other side.
  const path = reversePath(outside.map((p) => mapPiece(p, ([z, r]) => [shank.length + to - z, away - r])));
  const loop: PathPiece[] = [];
  const line = (a: FlatPoint, b: FlatPoint) => {
    if (Math.hypot(b[0] - a[0], b[1] - a[1]) > SAME) loop.push({ kind: 'line', from: a, to: b });
  };
  line([end, 0], path[0].from);
  loop.push(...path);
  const last = path[path.length - 1].to;
  const held = shank.diameter / 2;
  line(last, [shank.length, held]);
  line([shank.length, held], [0, held]);
  line([0, held], [0, 0]);
  loop.push({ kind: 'line', from: [0, 0], to: [end, 0] });
  const [fault] = validateProfile([loop]);
  return fault === undefined ? done([loop]) : failed('outline.bad-shape', { text: fault });
}

// Of a stretch the pieces from its outer corner at the upper end to the one at the lower; they run against z.
function outsideOf(profile: HalfProfile, from: number, to: number): PathPiece[] | undefined {
  for (const loop of profile) {
    const at = (z: number) => loop.filter((p) => Math.abs(p.from[0] - z) < SAME);
    const outermost = (z: number) => at(z).reduce<PathPiece | undefined>((best, p) => (!best || p.from[1] > best.from[1] ? p : best), undefined);
    const [first, last] = [outermost(to), outermost(from)];
    if (!first || !last) continue;
    const start = loop.indexOf(first);
    const n = (loop.indexOf(last) - start + loop.length) % loop.length;
    return Array.from({ length: n }, (_, i) => loop[(start + i) % loop.length]);
  }
  return undefined;
}
