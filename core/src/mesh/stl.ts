import { failed, type Result, done } from '#core/issues';
import type { TriMesh } from './tri-mesh.ts';

/** A mesh as binary STL in mm. */
export function writeStl({ positions: p, triangles: t }: TriMesh): Uint8Array<ArrayBuffer> {
  const count = t.length / 3;
  const bytes = new Uint8Array(84 + 50 * count);
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

/** Reads a binary STL; corners are not joined (see `weld`). */
export function readStl(bytes: Uint8Array, file: string): Result<TriMesh> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = bytes.length >= 84 ? view.getUint32(80, true) : -1;
  if (count < 0 || 84 + 50 * count !== bytes.length) return failed('mesh.broken', { file, text: 'it is not a binary STL mesh, or it is cut off' });
  const positions = new Float64Array(9 * count);
  for (let i = 0; i < count; i++) for (let k = 0; k < 9; k++) positions[9 * i + k] = view.getFloat32(84 + 50 * i + 12 + 4 * k, true);
  if (!positions.every(Number.isFinite)) return failed('mesh.broken', { file, text: 'it has corners that are not numbers' });
  return done({ positions, triangles: Uint32Array.from({ length: 3 * count }, (_, i) => i) });
}
