import { type Bounds, boundsOfPoints, WELD } from '#core/math';

/**
 * A triangle mesh, packed: positions [x, y, z, ...] in mm (doubles), triangles [a, b, c, ...] counter-clockwise
 * seen from outside. Corners may be doubled along face borders; `weld` joins them.
 */
export interface TriMesh {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
}

export const triangleCount = (mesh: TriMesh): number => mesh.triangles.length / 3;

export const meshBounds = (mesh: TriMesh): Bounds | undefined => boundsOfPoints(mesh.positions);

/** Enclosed volume in mm3 (signed: negative where the mesh is inside out), by the divergence theorem. */
export function meshVolume({ positions: p, triangles: t }: TriMesh): number {
  let six = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i] * 3, t[i + 1] * 3, t[i + 2] * 3];
    six += p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) + p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return six / 6;
}

/** Centre of the enclosed volume, by the same theorem; the origin for a mesh without volume. */
export function meshCentroid({ positions: p, triangles: t }: TriMesh): [number, number, number] {
  const sum = [0, 0, 0];
  let six = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i] * 3, t[i + 1] * 3, t[i + 2] * 3];
    const v =
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) + p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
    six += v;
    for (let k = 0; k < 3; k++) sum[k] += (v * (p[a + k] + p[b + k] + p[c + k])) / 4;
  }
  return six === 0 ? [0, 0, 0] : [sum[0] / six, sum[1] / six, sum[2] / six];
}

/** Area in mm2. */
export function meshArea({ positions: p, triangles: t }: TriMesh): number {
  let twice = 0;
  for (let i = 0; i < t.length; i += 3) twice += triangleAreaTwice(p, t[i] * 3, t[i + 1] * 3, t[i + 2] * 3);
  return twice / 2;
}

/** mm2. Of one triangle of a mesh. */
export const triangleArea = ({ positions, triangles: t }: TriMesh, triangle: number): number =>
  triangleAreaTwice(positions, 3 * t[3 * triangle], 3 * t[3 * triangle + 1], 3 * t[3 * triangle + 2]) / 2;

function triangleAreaTwice(p: Float64Array, a: number, b: number, c: number): number {
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
}

/**
 * Joins corners nearer than the weld tolerance and drops triangles that collapse; keeps the order of the rest. Corners are hashed by
 * cells of four tolerances, and a corner near its cell's border is looked for beyond it as well (7 ms for 20,000 corners; a map with
 * text keys took 100).
 */
export const weld = (mesh: TriMesh, tolerance = WELD): TriMesh => weldWith(mesh, tolerance).mesh;

/** As `weld`, with the number that each triangle had before, and the corner that each corner became. */
export function weldWith(mesh: TriMesh, tolerance = WELD): { mesh: TriMesh; kept: Uint32Array; cornerOf: Uint32Array } {
  const { positions: p, triangles } = mesh;
  const count = p.length / 3;
  const target = new Uint32Array(count);
  const kept = new Float64Array(p.length);
  let keptCount = 0;
  const cell = 4 * tolerance;
  // Chains of kept corners by hash: head by bucket, next by corner; -1 ends a chain.
  const buckets = 1 << Math.max(4, Math.ceil(Math.log2(count * 2 + 1)));
  const head = new Int32Array(buckets).fill(-1);
  const next = new Int32Array(count);
  const bucketOf = (x: number, y: number, z: number) => (Math.imul(x | 0, 73856093) ^ Math.imul(y | 0, 19349663) ^ Math.imul(z | 0, 83492791)) & (buckets - 1);
  const limitSq = tolerance * tolerance;
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
    const [x0, x1] = [Math.floor((x - tolerance) / cell), Math.floor((x + tolerance) / cell)];
    const [y0, y1] = [Math.floor((y - tolerance) / cell), Math.floor((y + tolerance) / cell)];
    const [z0, z1] = [Math.floor((z - tolerance) / cell), Math.floor((z + tolerance) / cell)];
    let found = -1;
    for (let u = x0; u <= x1 && found < 0; u++)
      for (let v = y0; v <= y1 && found < 0; v++)
        for (let w = z0; w <= z1 && found < 0; w++)
          for (let j = head[bucketOf(u, v, w)]; j >= 0; j = next[j]) {
            const [dx, dy, dz] = [kept[3 * j] - x, kept[3 * j + 1] - y, kept[3 * j + 2] - z];
            if (dx * dx + dy * dy + dz * dz <= limitSq) {
              found = j;
              break;
            }
          }
    if (found < 0) {
      found = keptCount++;
      kept[3 * found] = x;
      kept[3 * found + 1] = y;
      kept[3 * found + 2] = z;
      const own = bucketOf(Math.floor(x / cell), Math.floor(y / cell), Math.floor(z / cell));
      next[found] = head[own];
      head[own] = found;
    }
    target[i] = found;
  }
  const out = new Uint32Array(triangles.length);
  const source = new Uint32Array(triangles.length / 3);
  let at = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [target[triangles[i]], target[triangles[i + 1]], target[triangles[i + 2]]];
    if (a === b || b === c || c === a) continue;
    source[at / 3] = i / 3;
    out[at++] = a;
    out[at++] = b;
    out[at++] = c;
  }
  return { mesh: { positions: kept.slice(0, 3 * keptCount), triangles: out.slice(0, at) }, kept: source.slice(0, at / 3), cornerOf: target };
}

/** What a mesh lacks to be the border of a solid; all zero (and finite) for a good one. */
export interface MeshFaults {
  /** Edges with a triangle on one side only. */
  readonly openEdges: number;
  /** Edges with more than two triangles, or two that disagree on the direction. */
  readonly badEdges: number;
  readonly degenerate: number;
  readonly nonFinite: number;
  readonly insideOut: boolean;
}

/** Looks at a welded mesh: closedness, orientation, degenerate triangles, non-finite corners. */
export function validateMesh(mesh: TriMesh): MeshFaults {
  const { positions: p, triangles: t } = mesh;
  const count = p.length / 3;
  let degenerate = 0;
  for (let i = 0; i < t.length; i += 3) if (triangleAreaTwice(p, t[i] * 3, t[i + 1] * 3, t[i + 2] * 3) < 1e-14) degenerate++;
  // Half-edges by their lower corner, as its other end; forward ones as they are, backward ones negative (6 times a map's speed).
  const start = new Uint32Array(count + 1);
  const next = (h: number) => (h % 3 === 2 ? h - 2 : h + 1);
  for (let h = 0; h < t.length; h++) start[Math.min(t[h], t[next(h)]) + 1]++;
  for (let v = 0; v < count; v++) start[v + 1] += start[v];
  const fill = start.slice();
  const ends = new Float64Array(t.length);
  for (let h = 0; h < t.length; h++) {
    const [a, b] = [t[h], t[next(h)]];
    ends[fill[Math.min(a, b)]++] = a < b ? b : -a;
  }
  let openEdges = 0;
  let badEdges = 0;
  for (let v = 0; v < count; v++) {
    const [from, to] = [start[v], start[v + 1]];
    for (let i = from; i < to; i++) {
      const end = Math.abs(ends[i]);
      let isFirst = true;
      for (let j = from; j < i && isFirst; j++) isFirst = Math.abs(ends[j]) !== end;
      if (!isFirst) continue;
      let [forward, backward] = [0, 0];
      for (let j = i; j < to; j++) {
        if (ends[j] === end) forward++;
        else if (ends[j] === -end) backward++;
      }
      if (forward + backward === 1) openEdges++;
      else if (forward !== backward) badEdges++;
    }
  }
  let nonFinite = 0;
  for (const v of p) if (!Number.isFinite(v)) nonFinite++;
  return { openEdges, badEdges, degenerate, nonFinite, insideOut: meshVolume(mesh) < 0 };
}

/** True where every edge has exactly two triangles that agree, and every number is finite. */
export const isClosedMesh = (faults: MeshFaults): boolean => faults.openEdges === 0 && faults.badEdges === 0 && faults.nonFinite === 0;

/** Several meshes as one, corners kept apart. */
export function joinMeshes(meshes: readonly TriMesh[]): TriMesh {
  const positions = new Float64Array(meshes.reduce((sum, m) => sum + m.positions.length, 0));
  const triangles = new Uint32Array(meshes.reduce((sum, m) => sum + m.triangles.length, 0));
  let at = 0;
  let offset = 0;
  for (const m of meshes) {
    const base = offset / 3;
    positions.set(m.positions, offset);
    for (let i = 0; i < m.triangles.length; i++) triangles[at++] = m.triangles[i] + base;
    offset += m.positions.length;
  }
  return { positions, triangles };
}
