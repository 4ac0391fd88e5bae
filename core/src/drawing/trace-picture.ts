import { contours } from 'd3-contour';
import { done, failed, type Result } from '#core/issues';
import { areaOfPolygon, type FlatPoint } from '#core/outline';
import type { Picture } from './picture-file.ts';

// Difference of grey between a thing and what is behind it, 0 to 1, from which there is an edge to find.
const LEAST_CONTRAST = 0.12;
// Share of the picture that a thing takes up at least.
const LEAST_SHARE = 5e-4;

/** The edge of the largest thing in a picture. */
export interface TracedEdge {
  /** Counter-clockwise, in pixels from the upper left corner of the picture, y upwards: all y are negative. */
  readonly points: readonly FlatPoint[];
  /** Difference of grey between the thing and what is behind it, 0 to 1. */
  readonly contrast: number;
}

/**
 * Finds the largest thing that stands out from what is behind it, and its edge to a fraction of a pixel: where the grey is half way between the two, between the
 * middles of pixels in proportion (marching squares). What is behind is what most of the picture's rim is.
 */
export function traceEdge({ width, height, grey }: Picture, file: string): Result<TracedEdge> {
  if (width < 8 || height < 8) return failed('picture.no-contrast', { file, text: `it has ${width} x ${height} pixels` });
  const soft = soften(grey, width, height);
  const threshold = otsu(soft);
  let [below, above, n] = [0, 0, 0];
  for (const v of soft) {
    if (v < threshold) {
      below += v;
      n++;
    } else above += v;
  }
  const [dark, light] = [below / (n || 1), above / (soft.length - n || 1)];
  if (!(light - dark >= LEAST_CONTRAST)) return failed('picture.no-contrast', { file, text: 'nothing in it stands out from the rest' });
  // Half way between the two sides: there an edge lies that the lens or the scaling has spread.
  const level = (dark + light) / 2;
  const rim = rimOf(soft, width, height);
  const isDarkThing = rim.filter((v) => v > level).length * 2 >= rim.length;
  const values = Array.from(soft, (v) => (isDarkThing ? 1 - v : v));
  const [found] = contours()
    .size([width, height])
    .thresholds([isDarkThing ? 1 - level : level])(values);
  let best: FlatPoint[] | undefined;
  let largest = LEAST_SHARE * width * height;
  for (const [outer] of found.coordinates) {
    const points = outer.slice(0, -1).map(([x, y]): FlatPoint => [x, -y]);
    const area = Math.abs(areaOfPolygon(points));
    if (area <= largest) continue;
    largest = area;
    best = points;
  }
  if (!best) return failed('picture.no-contrast', { file, text: 'what stands out is too small' });
  const isCut = best.some(([x, y]) => x < 1 || -y < 1 || x > width - 1 || -y > height - 1);
  if (isCut) return failed('picture.cut-off', { file });
  return done({ points: areaOfPolygon(best) > 0 ? best : best.reverse(), contrast: light - dark });
}

// Once with a quarter, a half and a quarter, along and across: noise of single pixels goes, straight edges stay where they are.
function soften(grey: Float32Array, width: number, height: number): Float32Array {
  const along = new Float32Array(grey.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      along[i] = (grey[x > 0 ? i - 1 : i] + 2 * grey[i] + grey[x + 1 < width ? i + 1 : i]) / 4;
    }
  const out = new Float32Array(grey.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      out[i] = (along[y > 0 ? i - width : i] + 2 * along[i] + along[y + 1 < height ? i + width : i]) / 4;
    }
  return out;
}

// The grey that parts the picture into two sides most unlike each other (Otsu, A threshold selection method from gray-level histograms, 1979).
function otsu(values: Float32Array): number {
  const bins = new Float64Array(256);
  for (const v of values) bins[Math.max(0, Math.min(255, Math.floor(v * 256)))]++;
  let sum = 0;
  bins.forEach((n, i) => (sum += n * i));
  let [best, at, below, sumBelow] = [-1, 128, 0, 0];
  for (let i = 0; i < 256; i++) {
    below += bins[i];
    sumBelow += bins[i] * i;
    const above = values.length - below;
    if (below === 0 || above === 0) continue;
    const apart = sumBelow / below - (sum - sumBelow) / above;
    const between = below * above * apart * apart;
    if (between <= best) continue;
    best = between;
    at = i + 1;
  }
  return at / 256;
}

function rimOf(values: Float32Array, width: number, height: number): number[] {
  const out: number[] = [];
  for (let x = 0; x < width; x++) out.push(values[x], values[(height - 1) * width + x]);
  for (let y = 0; y < height; y++) out.push(values[y * width], values[y * width + width - 1]);
  return out;
}
