import { done, failed, type Result } from '#core/issues';
import type { TriMesh } from './tri-mesh.ts';

/** Reads the polygons of a Wavefront OBJ text, one mesh for each object or group; polygons are cut into fans. OBJ has no unit. */
export function readObj(bytes: Uint8Array, file: string): Result<{ name: string; mesh: TriMesh }[]> {
  const bad = (line: number, text: string) => failed('mesh.broken', { file, text: `line ${line}: ${text}` });
  const points: number[] = [];
  const parts: { name: string; triangles: number[] }[] = [];
  let part: { name: string; triangles: number[] } | undefined;
  const lines = new TextDecoder('latin1')
    .decode(bytes)
    .replace(/\\\r?\n/g, ' ')
    .split('\n');
  for (const [i, raw] of lines.entries()) {
    const line = raw.trim();
    if (line.startsWith('v ')) {
      const p = line.split(/\s+/).slice(1, 4).map(Number);
      if (p.length < 3 || !p.every(Number.isFinite)) return bad(i + 1, `"${line.slice(0, 40)}" is not a corner`);
      points.push(...p);
    } else if (line.startsWith('f ')) {
      const count = points.length / 3;
      const corners = line
        .split(/\s+/)
        .slice(1)
        .map((c) => Number.parseInt(c, 10))
        .map((c) => (c < 0 ? count + c : c - 1));
      if (corners.length < 3 || corners.some((c) => !(c >= 0 && c < count))) return bad(i + 1, `"${line.slice(0, 40)}" names a corner that is not there`);
      if (!part) parts.push((part = { name: '', triangles: [] }));
      for (let k = 1; k + 1 < corners.length; k++) part.triangles.push(corners[0], corners[k], corners[k + 1]);
    } else if (/^[og]\s/.test(line)) parts.push((part = { name: line.slice(2).trim(), triangles: [] }));
  }
  const used = parts.filter((p) => p.triangles.length > 0);
  if (used.length === 0) return failed('mesh.broken', { file, text: 'it has no polygons' });
  const positions = Float64Array.from(points);
  return done(used.map(({ name, triangles }) => ({ name, mesh: { positions, triangles: Uint32Array.from(triangles) } })));
}
