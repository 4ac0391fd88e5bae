import { decode as decodePng } from 'fast-png';
import { decode as decodeJpeg } from 'jpeg-js';
import { done, failed, type Result } from '#core/issues';

/** A picture in grey: 0 black to 1 white, row by row from the top; what can be seen through is on white. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly grey: Float32Array;
}

// Pixels. 4 bytes each, and as much again a few times while it is traced.
const MOST_PIXELS = 60e6;

const isPng = (b: Uint8Array) => b[0] === 0x89 && b[1] === 0x50 && b[2] === 0x4e && b[3] === 0x47;
const isJpeg = (b: Uint8Array) => b[0] === 0xff && b[1] === 0xd8;
const isWebp = (b: Uint8Array) => b[0] === 0x52 && b[1] === 0x49 && b[8] === 0x57 && b[9] === 0x45;

/** Reads a PNG or JPEG picture. */
export function readPicture(bytes: Uint8Array, file: string): Result<Picture> {
  if (bytes.length === 0) return failed('file.empty', { file });
  if (isWebp(bytes)) return failed('picture.other-format', { file, found: 'WebP' });
  if (!isPng(bytes) && !isJpeg(bytes)) return failed('picture.other-format', { file, found: 'something else' });
  // Of a PNG its size stands in the first bytes: nothing is unpacked that would be too much.
  if (isPng(bytes) && bytes.length > 24) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const [width, height] = [view.getUint32(16), view.getUint32(20)];
    if (width * height > MOST_PIXELS) return failed('picture.too-large', { file, width, height, limit: MOST_PIXELS / 1e6 });
  }
  try {
    return isPng(bytes) ? done(fromPng(bytes)) : done(fromJpeg(bytes));
  } catch (error) {
    return failed('picture.broken', { file, text: error instanceof Error ? error.message : String(error) });
  }
}

function fromPng(bytes: Uint8Array): Picture {
  const { width, height, data, channels, depth, palette, transparency } = decodePng(bytes);
  const grey = new Float32Array(width * height);
  if (palette) {
    const most = depth < 8 ? depth : 8;
    const rowBytes = Math.ceil((width * most) / 8);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        // Several pixels in a byte, the first in its high bits.
        const at = (x * most) >> 3;
        const index = most === 8 ? data[y * width + x] : (data[y * rowBytes + at] >> (8 - most - ((x * most) & 7))) & (2 ** most - 1);
        const [r, g, b, a = 255] = palette[index] as readonly number[];
        grey[y * width + x] = onWhite(luminance(r, g, b) / 255, a / 255);
      }
    return { width, height, grey };
  }
  if (depth < 8) throw new Error(`${depth} bits a pixel without a palette`);
  const full = depth === 16 ? 65535 : 255;
  const clear = transparency && transparency.length === 1 ? transparency[0] : undefined;
  for (let i = 0; i < grey.length; i++) {
    const at = i * channels;
    const value = channels < 3 ? data[at] : luminance(data[at], data[at + 1], data[at + 2]);
    const alpha = channels === 2 ? data[at + 1] / full : channels === 4 ? data[at + 3] / full : channels === 1 && data[at] === clear ? 0 : 1;
    grey[i] = onWhite(value / full, alpha);
  }
  return { width, height, grey };
}

function fromJpeg(bytes: Uint8Array): Picture {
  const { width, height, data } = decodeJpeg(bytes, { useTArray: true, maxResolutionInMP: MOST_PIXELS / 1e6, maxMemoryUsageInMB: 1500, formatAsRGBA: true });
  const grey = new Float32Array(width * height);
  for (let i = 0; i < grey.length; i++) grey[i] = luminance(data[4 * i], data[4 * i + 1], data[4 * i + 2]) / 255;
  return { width, height, grey };
}

// ITU-R BT.601.
const luminance = (r: number, g: number, b: number): number => 0.299 * r + 0.587 * g + 0.114 * b;
const onWhite = (value: number, alpha: number): number => value * alpha + 1 - alpha;
