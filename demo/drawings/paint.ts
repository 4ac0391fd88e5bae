// Paints a shape as a picture: a silhouette with its edge spread by a lens, noise, uneven paper, in any turn. Shares no code with what traces pictures.
import type { Random } from '../corpus/random.ts';
import type { Place, Shape } from './drawn-shapes.ts';

export interface Painted {
  readonly width: number;
  readonly height: number;
  /** 0 to 255. */
  readonly pixels: Uint8Array;
  readonly mmPerPixel: number;
  /** Where a place of the shape is in the picture: pixels from the upper left corner, y down. */
  readonly toPixel: (p: Place) => Place;
}

export interface Paint {
  readonly width: number;
  readonly height: number;
  readonly turn: number;
  /** Pixels. */
  readonly blur: number;
  /** Of 255. */
  readonly noise: number;
  readonly isLightOnDark?: boolean;
  readonly contrast?: number;
}

const placesOf = (shape: Shape): Place[] => {
  const half: Place[] = [shape.start];
  let from = shape.start;
  for (const s of shape.sides) {
    if (s.centre) {
      const [cx, cy] = s.centre;
      const radius = Math.hypot(from[0] - cx, from[1] - cy);
      const a = Math.atan2(from[1] - cy, from[0] - cx);
      let sweep = Math.atan2(s.to[1] - cy, s.to[0] - cx) - a;
      if (s.ccw && sweep <= 0) sweep += 2 * Math.PI;
      if (!s.ccw && sweep >= 0) sweep -= 2 * Math.PI;
      for (let k = 1; k < 200; k++) half.push([cx + radius * Math.cos(a + (sweep * k) / 200), cy + radius * Math.sin(a + (sweep * k) / 200)]);
    }
    half.push(s.to);
    from = s.to;
  }
  return shape.form === 'flat'
    ? half
    : [
        ...half,
        ...half
          .slice(1, -1)
          .reverse()
          .map(([z, r]): Place => [z, -r]),
      ];
};

export function paint(shape: Shape, { width, height, turn, blur, noise, isLightOnDark = false, contrast = 1 }: Paint, r: Random): Painted {
  const places = placesOf(shape);
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const turned = places.map(([x, y]): Place => [c * x - s * y, -(s * x + c * y)]);
  const range = (k: 0 | 1) => [Math.min(...turned.map((p) => p[k])), Math.max(...turned.map((p) => p[k]))];
  const [[x0, x1], [y0, y1]] = [range(0), range(1)];
  const margin = 25;
  const scale = Math.min((width - 2 * margin) / (x1 - x0), (height - 2 * margin) / (y1 - y0));
  const [dx, dy] = [margin + r.next(), margin + r.next()];
  const inPicture = turned.map(([x, y]): Place => [dx + (x - x0) * scale, dy + (y - y0) * scale]);
  let cover = new Float64Array(width * height);
  const ROWS = 8;
  for (let y = 0; y < height; y++)
    for (let k = 0; k < ROWS; k++) {
      const level = y + (k + 0.5) / ROWS;
      const cuts: number[] = [];
      inPicture.forEach((a, i) => {
        const b = inPicture[(i + 1) % inPicture.length];
        if (a[1] <= level === b[1] <= level) return;
        cuts.push(a[0] + ((level - a[1]) / (b[1] - a[1])) * (b[0] - a[0]));
      });
      cuts.sort((a, b) => a - b);
      for (let i = 0; i + 1 < cuts.length; i += 2)
        for (let x = Math.max(0, Math.floor(cuts[i])); x <= Math.min(width - 1, Math.floor(cuts[i + 1])); x++)
          cover[y * width + x] += Math.max(0, Math.min(cuts[i + 1], x + 1) - Math.max(cuts[i], x)) / ROWS;
    }
  for (let pass = 0; pass < Math.round(blur * 2); pass++) cover = spread(cover, width, height);
  const pixels = new Uint8Array(width * height);
  const [far, near] = [128 + 110 * contrast, 128 - 110 * contrast];
  for (let i = 0; i < pixels.length; i++) {
    const share = isLightOnDark ? 1 - cover[i] : cover[i];
    // Four throws of a die are near enough to a bell.
    const bell = r.next() + r.next() + r.next() + r.next() - 2;
    pixels[i] = Math.max(0, Math.min(255, Math.round(far + share * (near - far) + noise * 1.7 * bell)));
  }
  return {
    width,
    height,
    pixels,
    mmPerPixel: 1 / scale,
    toPixel: ([x, y]) => [dx + (c * x - s * y - x0) * scale, dy + (-(s * x + c * y) - y0) * scale],
  };
}

// Once over three pixels each way.
function spread(v: Float64Array, width: number, height: number): Float64Array<ArrayBuffer> {
  const out = new Float64Array(v.length);
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      out[i] =
        (4 * v[i] + 2 * (v[i - 1] + v[i + 1] + v[i - width] + v[i + width]) + v[i - width - 1] + v[i - width + 1] + v[i + width - 1] + v[i + width + 1]) / 16;
    }
  return out;
}
