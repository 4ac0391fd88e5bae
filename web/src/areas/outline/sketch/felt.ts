import type { FlatPoint } from '#core/outline';
import type { SheetView } from '../sheet/use-sheet-view.ts';

/** Whole steps of what a pixel is, mm. */
export const gridOf = ({ scale }: Pick<SheetView, 'scale'>): number => 10 ** Math.ceil(Math.log10(0.5 / scale));

/** The end of what was drawn, or of a picture's own edge, that is nearest to a place, where one is near. */
export function nearUnder(lines: Float64Array | undefined, [x, y]: FlatPoint, reach: number): FlatPoint[] {
  if (!lines) return [];
  let best: FlatPoint | undefined;
  let away = reach;
  for (let i = 0; i < lines.length; i += 2) {
    const off = Math.hypot(lines[i] - x, lines[i + 1] - y);
    if (off < away) [best, away] = [[lines[i], lines[i + 1]], off];
  }
  return best ? [best] : [];
}
