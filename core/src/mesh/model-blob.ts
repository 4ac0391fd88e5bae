import { failed, type Result, done } from '#core/issues';
import type { BodyGeometry, Model } from './model.ts';

// Layout, little endian:
//   0  magic 'RUOM'   4  version   8  bytes of the header   12  number of arrays
//   16 header: JSON of the model without its arrays, padded with blanks to a multiple of 8
//   then per array, in the order of the bodies and of ARRAYS: length in elements (as double), elements, padded to 8
const MAGIC = 0x4d4f5552;
const VERSION = 1;
const ARRAYS = ['corners', 'positions', 'triangles', 'faceStart', 'edgePoints', 'edgeStart'] as const;
type ArrayName = (typeof ARRAYS)[number];
const isDoubles = (name: ArrayName) => name === 'corners' || name === 'positions' || name === 'edgePoints';
const pad8 = (n: number) => (n + 7) & ~7;

const arrayOf = (body: BodyGeometry, name: ArrayName): Float64Array | Uint32Array =>
  name === 'positions' ? body.mesh.positions : name === 'triangles' ? body.mesh.triangles : body[name];

/** A model as one block of bytes: for storage, and for handing over between threads without copying. */
export function encodeModel(model: Model): Uint8Array<ArrayBuffer> {
  const plain = {
    ...model,
    bodies: model.bodies.map(({ corners: _c, mesh: _m, faceStart: _f, edgePoints: _p, edgeStart: _s, ...rest }) => rest),
  };
  const header = new TextEncoder().encode(JSON.stringify(plain));
  const arrays = model.bodies.flatMap((body) => ARRAYS.map((name) => arrayOf(body, name)));
  const size = 16 + pad8(header.length) + arrays.reduce((sum, a) => sum + 8 + pad8(a.byteLength), 0);
  const bytes = new Uint8Array(size);
  const view = new DataView(bytes.buffer);
  [MAGIC, VERSION, header.length, arrays.length].forEach((v, i) => view.setUint32(4 * i, v, true));
  bytes.fill(32, 16, 16 + pad8(header.length));
  bytes.set(header, 16);
  let at = 16 + pad8(header.length);
  for (const array of arrays) {
    view.setFloat64(at, array.length, true);
    bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at + 8);
    at += 8 + pad8(array.byteLength);
  }
  return bytes;
}

/** Reads what `encodeModel` wrote; the arrays are views into `bytes` where it is aligned. */
export function decodeModel(bytes: Uint8Array): Result<Model> {
  const bad = (text: string) => failed('mesh.broken', { file: 'stored model', text });
  const own = bytes.byteOffset % 8 === 0 ? bytes : bytes.slice();
  const view = new DataView(own.buffer, own.byteOffset, own.byteLength);
  if (own.length < 16 || view.getUint32(0, true) !== MAGIC) return bad('not a stored model');
  if (view.getUint32(4, true) !== VERSION) return bad(`stored by version ${view.getUint32(4, true)}, this is ${VERSION}`);
  const headerSize = view.getUint32(8, true);
  let at = 16 + pad8(headerSize);
  if (at > own.length) return bad('its header is cut off');
  const plain = JSON.parse(new TextDecoder().decode(own.subarray(16, 16 + headerSize))) as Model;
  if (view.getUint32(12, true) !== plain.bodies.length * ARRAYS.length) return bad('its arrays do not belong to its header');
  const bodies: BodyGeometry[] = [];
  for (const body of plain.bodies) {
    const read: Partial<Record<ArrayName, Float64Array | Uint32Array>> = {};
    for (const name of ARRAYS) {
      if (at + 8 > own.length) return bad('it is cut off');
      const count = view.getFloat64(at, true);
      const bytesPer = isDoubles(name) ? 8 : 4;
      if (!Number.isInteger(count) || count < 0 || at + 8 + count * bytesPer > own.length) return bad('it is cut off');
      const start = own.byteOffset + at + 8;
      read[name] = isDoubles(name) ? new Float64Array(own.buffer, start, count) : new Uint32Array(own.buffer, start, count);
      at += 8 + pad8(count * bytesPer);
    }
    const { positions, triangles, ...rest } = read as Record<ArrayName, never>;
    bodies.push({ ...body, ...(rest as Pick<BodyGeometry, 'corners' | 'faceStart' | 'edgePoints' | 'edgeStart'>), mesh: { positions, triangles } });
  }
  return done({ ...plain, bodies });
}
