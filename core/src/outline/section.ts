import { type Frame, frameFromWorld, type Motion } from '#core/math';
import { movePoints, type TriMesh } from '#core/mesh';

/** A closed or open polyline of a section, in the section's coordinates: [z, x, z, x, ...] in mm. */
export interface SectionLoop {
  readonly points: Float64Array;
  readonly closed: boolean;
}

/**
 * The section of a mesh by the plane Y = `y` of `frame` (a mount frame, say), as loops in that frame's (z, x).
 * Corners on the plane count as above it, so that no triangle is cut twice or missed.
 */
export function sectionMesh(mesh: TriMesh, frame: Frame, y = 0): SectionLoop[] {
  const frameFromMesh: Motion = frameFromWorld(frame);
  const p = movePoints(frameFromMesh, mesh.positions);
  const { triangles: t } = mesh;
  // Ends of the cut pieces are joined by their place: the corners of a B-rep mesh are doubled along face borders.
  const pieces: number[] = [];
  for (let i = 0; i < t.length; i += 3) {
    const at: number[] = [];
    for (let k = 0; k < 3; k++) {
      const a = 3 * t[i + k];
      const b = 3 * t[i + ((k + 1) % 3)];
      const [ha, hb] = [p[a + 1] - y, p[b + 1] - y];
      if (ha >= 0 === hb >= 0) continue;
      const s = ha / (ha - hb);
      at.push(p[a + 2] + s * (p[b + 2] - p[a + 2]), p[a] + s * (p[b] - p[a]));
    }
    if (at.length === 4 && Math.hypot(at[2] - at[0], at[3] - at[1]) > 1e-9) pieces.push(...at);
  }
  return chain(pieces);
}

const JOIN = 1e-4; // mm: single-precision corners agree to 1e-5

function chain(pieces: number[]): SectionLoop[] {
  const count = pieces.length / 4;
  const ends = new Map<string, number[]>();
  const key = (z: number, x: number) => `${Math.round(z / JOIN)},${Math.round(x / JOIN)}`;
  const near = (z: number, x: number): number[] => {
    const found: number[] = [];
    for (const dz of [0, -1, 1]) for (const dx of [0, -1, 1]) found.push(...(ends.get(key(z + dz * JOIN, x + dx * JOIN)) ?? []));
    return found;
  };
  for (let i = 0; i < count; i++) {
    for (const end of [0, 1]) {
      const k = key(pieces[4 * i + 2 * end], pieces[4 * i + 2 * end + 1]);
      const list = ends.get(k);
      if (list) list.push(2 * i + end);
      else ends.set(k, [2 * i + end]);
    }
  }
  const used = new Uint8Array(count);
  const loops: SectionLoop[] = [];
  const pointAt = (end: number): [number, number] => [pieces[2 * end], pieces[2 * end + 1]];
  const walk = (start: number): number[] => {
    // From the far end of piece `start >> 1`, on to whichever unused piece begins there.
    const out: number[] = [];
    let end = start ^ 1;
    for (;;) {
      out.push(...pointAt(end));
      const next = near(...pointAt(end)).find((e) => !used[e >> 1]);
      if (next === undefined) return out;
      used[next >> 1] = 1;
      end = next ^ 1;
    }
  };
  for (let i = 0; i < count; i++) {
    if (used[i]) continue;
    used[i] = 1;
    const forward = walk(2 * i);
    const backward = walk(2 * i + 1); // only for an open chain does this lead anywhere
    const points: number[] = [];
    for (let k = backward.length - 2; k >= 0; k -= 2) points.push(backward[k], backward[k + 1]);
    points.push(...forward);
    const n = points.length;
    const closed = n > 6 && Math.hypot(points[n - 2] - points[0], points[n - 1] - points[1]) < 2 * JOIN;
    loops.push({ points: Float64Array.from(closed ? points.slice(0, n - 2) : points), closed });
  }
  return loops;
}

/** Area of a loop in mm2, positive whatever its sense. */
export function loopArea({ points: p }: SectionLoop): number {
  let twice = 0;
  for (let i = 0; i < p.length; i += 2) {
    const j = (i + 2) % p.length;
    twice += p[i] * p[j + 1] - p[j] * p[i + 1];
  }
  return Math.abs(twice) / 2;
}
