import { failed, type Result, done } from '#core/issues';
import type { TriMesh } from './tri-mesh.ts';

/** Bytes of a binary STL: 80 of a heading, a count, and 50 a triangle. */
export const stlSize = (triangles: number): number => 84 + 50 * triangles;

/** A mesh as binary STL in mm. */
export function writeStl({ positions: p, triangles: t }: TriMesh): Uint8Array<ArrayBuffer> {
  const count = t.length / 3;
  const bytes = new Uint8Array(stlSize(count));
  bytes.set(new TextEncoder().encode('Ruota, millimetres'));
  const view = new DataView(bytes.buffer);
  view.setUint32(80, count, true);
  for (let i = 0; i < count; i++) {
    const [a, b, c] = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const l = Math.hypot(n[0], n[1], n[2]) || 1;
    const values = [n[0] / l, n[1] / l, n[2] / l, p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2]];
    values.forEach((v, k) => view.setFloat32(84 + 50 * i + 4 * k, v, true));
  }
  return bytes;
}

/** True for the layout of a binary STL. */
export const isBinaryStl = (bytes: Uint8Array): boolean =>
  bytes.length >= 84 && stlSize(new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(80, true)) === bytes.length;

/** Reads an STL, binary or text; corners are not joined (see `weld`). */
export function readStl(bytes: Uint8Array, file: string): Result<TriMesh> {
  if (!isBinaryStl(bytes)) return readTextStl(bytes, file);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = view.getUint32(80, true);
  const positions = new Float64Array(9 * count);
  for (let i = 0; i < count; i++) for (let k = 0; k < 9; k++) positions[9 * i + k] = view.getFloat32(84 + 50 * i + 12 + 4 * k, true);
  if (!positions.every(Number.isFinite)) return failed('mesh.broken', { file, text: 'it has corners that are not numbers' });
  return done({ positions, triangles: Uint32Array.from({ length: 3 * count }, (_, i) => i) });
}

function readTextStl(bytes: Uint8Array, file: string): Result<TriMesh> {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 200));
  if (!/^\s*solid\b/i.test(head)) return failed('mesh.broken', { file, text: 'it is not an STL mesh, or it is cut off' });
  const text = new TextDecoder('latin1').decode(bytes);
  const positions: number[] = [];
  const vertex = /\bvertex\s+(\S+)\s+(\S+)\s+(\S+)/gi;
  for (let m = vertex.exec(text); m; m = vertex.exec(text)) {
    const p = [Number(m[1]), Number(m[2]), Number(m[3])];
    if (!p.every(Number.isFinite)) return failed('mesh.broken', { file, text: `line ${lineOf(text, m.index)}: "${m[0].slice(0, 40)}" is not a corner` });
    positions.push(...p);
  }
  if (positions.length % 9 !== 0 || !/\bendsolid\b/i.test(text.slice(-200)))
    return failed('mesh.broken', { file, text: 'it ends before its last triangle does' });
  return done({ positions: Float64Array.from(positions), triangles: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) });
}

const lineOf = (text: string, at: number): number => text.slice(0, at).split('\n').length;
