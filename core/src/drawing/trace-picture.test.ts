import { describe, expect, it } from '@jest/globals';
import { encode } from 'fast-png';
import { encode as encodeJpeg } from 'jpeg-js';
import { say } from '#core/issues';
import { Random } from '../../../demo/corpus/random.ts';
import { ballNose, countersink, drill, type Shape } from '../../../demo/drawings/drawn-shapes.ts';
import { paint, type Paint } from '../../../demo/drawings/paint.ts';
import { type Picture, type ReadOutline, readPicture, readTraced, traceEdge } from './index.ts';

const asPicture = ({ width, height, pixels }: { width: number; height: number; pixels: Uint8Array }): Picture => ({
  width,
  height,
  grey: Float32Array.from(pixels, (v) => v / 255),
});
function traced(picture: Picture, mmPerPixel: number): ReadOutline {
  const edge = traceEdge(picture, 'x.png');
  if (!edge.ok) throw new Error(edge.issues.map(say).join());
  const read = readTraced(edge.value, 'x.png', mmPerPixel);
  if (!read.ok) throw new Error(read.issues.map(say).join());
  return read.value;
}
const sizesOf = (shape: Shape) => ({ diameter: 2 * Math.max(...shape.sides.map((s) => s.to[1])), length: Math.max(...shape.sides.map((s) => s.to[0])) });
const PAINT: Paint = { width: 900, height: 600, turn: 0, blur: 1, noise: 3 };

describe('a picture that is traced', () => {
  it.each([
    ['sharp and straight', drill, { turn: 0, blur: 0, noise: 0 }],
    ['turned, spread and noisy', ballNose, { turn: 0.7, blur: 2, noise: 8 }],
    ['light on dark, upright', countersink, { turn: Math.PI / 2, isLightOnDark: true }],
    ['pale', drill, { turn: -2.1, contrast: 0.3 }],
  ] as const)('%s: its sizes and its tip are right within half a pixel at each edge', (_, make, how) => {
    const r = new Random(31);
    const shape = make(r, false);
    const painted = paint(shape, { ...PAINT, ...how }, r);
    const o = traced(asPicture(painted), painted.mmPerPixel);
    const { diameter, length } = sizesOf(shape);
    expect(o.form).toBe('revolved');
    expect(Math.abs(o.largestDiameter - diameter) / painted.mmPerPixel).toBeLessThan(1);
    expect(Math.abs(o.length - length) / painted.mmPerPixel).toBeLessThan(1);
    const [x, y] = painted.toPixel([0, 0]);
    // A point is worn round by what spreads it: along the axis it may lie a little deeper.
    expect(Math.hypot((o.tip?.[0] ?? NaN) - x, (o.tip?.[1] ?? NaN) - y)).toBeLessThan(1.5);
    expect(Math.abs((o.shank?.diameter ?? NaN) - (shape.shank?.diameter ?? 0)) / painted.mmPerPixel).toBeLessThan(1);
    expect(o.steps[0].code).toBe('traced');
  });
  it('the edge of a disc is where its formula says, everywhere within half a pixel', () => {
    const [width, height, cx, cy, radius] = [300, 260, 151.3, 128.6, 90.4];
    // Covered shares by distance from the edge, as a lens spreads it.
    const grey = Float32Array.from({ length: width * height }, (_, i) => {
      const d = Math.hypot((i % width) + 0.5 - cx, Math.floor(i / width) + 0.5 - cy) - radius;
      return Math.max(0, Math.min(1, 0.5 + d / 2));
    });
    const edge = traceEdge({ width, height, grey }, 'disc');
    if (!edge.ok) throw new Error('an edge');
    const off = edge.value.points.map(([x, y]) => Math.abs(Math.hypot(x - cx, -y - cy) - radius));
    expect(Math.max(...off)).toBeLessThan(0.1);
  });
  it.each([0, 0.4, Math.PI / 2])('a stepped shaft, turned by %d, has its five lines with sharp corners, each within a tenth of a pixel', (turn) => {
    const shape: Shape = {
      kind: 'shaft',
      form: 'revolved',
      start: [0, 0],
      sides: [{ to: [0, 6] }, { to: [20, 6] }, { to: [20, 10] }, { to: [60, 10] }, { to: [60, 0] }],
    };
    const painted = paint(shape, { ...PAINT, turn, noise: 2 }, new Random(3));
    const { profile } = traced(asPicture(painted), painted.mmPerPixel);
    expect(profile[0].map((p) => p.kind)).toEqual(['line', 'line', 'line', 'line', 'line']);
    profile[0].forEach((p, i) => expect(Math.hypot(p.to[0] - shape.sides[i].to[0], p.to[1] - shape.sides[i].to[1]) / painted.mmPerPixel).toBeLessThan(0.15));
  });
  it('PNG in grey, colour, with what can be seen through, and JPEG give the same edge', () => {
    const r = new Random(5);
    const { width, height, pixels } = paint(drill(r, false), { ...PAINT, noise: 0 }, r);
    const rgba = new Uint8Array(4 * pixels.length);
    pixels.forEach((v, i) => rgba.set([0, 0, 0, 255 - v], 4 * i));
    const files = [
      encode({ width, height, data: pixels, channels: 1 }),
      encode({ width, height, data: Uint8Array.from({ length: 3 * pixels.length }, (_, i) => pixels[Math.floor(i / 3)]), channels: 3 }),
      encode({ width, height, data: rgba, channels: 4 }),
      new Uint8Array(
        encodeJpeg({ width, height, data: Uint8Array.from({ length: 4 * pixels.length }, (_, i) => (i % 4 === 3 ? 255 : pixels[i >> 2])) }, 95).data,
      ),
    ];
    const lengths = files.map((bytes) => {
      const picture = readPicture(bytes, 'x');
      if (!picture.ok) throw new Error(picture.issues.map(say).join());
      return traced(picture.value, 0.1).length;
    });
    for (const length of lengths) expect(Math.abs(length - lengths[0])).toBeLessThan(0.05);
  });
});

describe('a picture that cannot be traced', () => {
  const codeOf = (bytes: Uint8Array) => {
    const picture = readPicture(bytes, 'x.png');
    if (!picture.ok) return picture.issues[0].code;
    const edge = traceEdge(picture.value, 'x.png');
    return edge.ok ? undefined : edge.issues[0].code;
  };
  const png = (width: number, height: number, grey: (x: number, y: number) => number) =>
    encode({ width, height, channels: 1, data: Uint8Array.from({ length: width * height }, (_, i) => grey(i % width, Math.floor(i / width))) });
  const huge = png(8, 8, () => 255);
  new DataView(huge.buffer, huge.byteOffset).setUint32(16, 20000);
  new DataView(huge.buffer, huge.byteOffset).setUint32(20, 20000);
  it.each([
    ['empty', new Uint8Array(0), 'file.empty'],
    ['no picture', new TextEncoder().encode('hello'), 'picture.other-format'],
    ['too large, by its first bytes', huge, 'picture.too-large'],
    ['cut off', png(60, 60, (x) => (x > 20 && x < 40 ? 0 : 255)).slice(0, 60), 'picture.broken'],
    ['all of one grey', png(60, 60, () => 200), 'picture.no-contrast'],
    ['of a few specks', png(200, 200, (x, y) => (x === 50 && y === 50 ? 0 : 255)), 'picture.no-contrast'],
    ['cut off by its frame', png(200, 100, (_, y) => (y > 30 && y < 60 ? 0 : 255)), 'picture.cut-off'],
  ])('%s: said by its code', (_, bytes, code) => {
    expect(codeOf(bytes)).toBe(code);
  });
});
