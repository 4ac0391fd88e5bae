import { addScaled, anyAcross, cross, distance, dot, length, normalize, subtract, type Vec3 } from '#core/math';
import { fitCircle2 } from './fit-surfaces.ts';
import { nextHalf } from './half-edges.ts';
import type { Curve, EdgeFacts } from './model.ts';
import type { TriMesh } from './tri-mesh.ts';

export interface RegionEdges {
  readonly edges: EdgeFacts[];
  /** Polyline of each edge, packed. */
  readonly lines: Float64Array[];
  /** Corners where three faces or more meet, or where a border turns sharply. */
  readonly corners: Vec3[];
}

/**
 * The borders between faces as edges: runs of mesh edges between the same two faces, cut where a third face joins or where the run
 * turns sharply, and told as lines and circles where their points lie on one within `tolerance`.
 */
export function findRegionEdges(mesh: TriMesh, partner: Int32Array, faceOf: Int32Array, tolerance: number): RegionEdges {
  const { positions: p, triangles: t } = mesh;
  const at = (v: number): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  // Borders by their start corner, each once: of the two half-edges the one with the lower face number.
  const borders: number[] = [];
  const degree = new Uint16Array(p.length / 3);
  for (let h = 0; h < t.length; h++) {
    const other = partner[h];
    const mine = faceOf[(h - (h % 3)) / 3];
    const theirs = other < 0 ? -1 : faceOf[(other - (other % 3)) / 3];
    if (theirs === mine || (other >= 0 && (theirs < mine || (theirs === mine && other < h)))) continue;
    borders.push(h);
    degree[t[h]]++;
    degree[t[nextHalf(h)]]++;
  }
  const pairOf = (h: number) => {
    const other = partner[h];
    return faceOf[(h - (h % 3)) / 3] * 4294967296 + (other < 0 ? 4294967295 : faceOf[(other - (other % 3)) / 3]);
  };
  const from = new Map<number, number[]>();
  for (const h of borders) {
    const list = from.get(t[h]);
    if (list) list.push(h);
    else from.set(t[h], [h]);
  }
  const used = new Set<number>();
  const nextOf = (h: number): number | undefined => {
    const end = t[nextHalf(h)];
    if (degree[end] !== 2) return undefined;
    const key = pairOf(h);
    return from.get(end)?.find((g) => pairOf(g) === key && !used.has(g));
  };
  const startsRun = (h: number): boolean => degree[t[h]] !== 2;
  const runs: number[][] = [];
  const follow = (first: number) => {
    const run = [first];
    used.add(first);
    for (let h = nextOf(first); h !== undefined; h = nextOf(h)) {
      run.push(h);
      used.add(h);
    }
    runs.push(run);
  };
  for (const h of borders) if (!used.has(h) && startsRun(h)) follow(h);
  for (const h of borders) if (!used.has(h)) follow(h);
  const edges: EdgeFacts[] = [];
  const lines: Float64Array[] = [];
  const corners = new Map<number, Vec3>();
  for (const run of runs) {
    const vertices = [t[run[0]], ...run.map((h) => t[nextHalf(h)])];
    const h = run[0];
    const faces = [faceOf[(h - (h % 3)) / 3]];
    if (partner[h] >= 0) faces.push(faceOf[(partner[h] - (partner[h] % 3)) / 3]);
    for (const piece of cutAtTurns(vertices.map(at))) {
      const curve = curveOf(piece, tolerance);
      edges.push({ curve, start: piece[0], end: piece[piece.length - 1], faces });
      lines.push(Float64Array.from(piece.flat()));
      for (const q of [piece[0], piece[piece.length - 1]])
        if (distance(piece[0], piece[piece.length - 1]) > 1e-6)
          corners.set(Math.round(q[0] * 1e4) * 7919 + Math.round(q[1] * 1e4) * 104729 + Math.round(q[2] * 1e4), q);
    }
  }
  return { edges, lines, corners: [...corners.values()] };
}

// Radians. A border that turns by more at a point has a corner there.
const SHARP_TURN = 0.6;

function cutAtTurns(points: readonly Vec3[]): Vec3[][] {
  const out: Vec3[][] = [];
  let piece: Vec3[] = [points[0]];
  for (let i = 1; i < points.length; i++) {
    piece.push(points[i]);
    if (i + 1 >= points.length) break;
    const [a, b] = [subtract(points[i], points[i - 1]), subtract(points[i + 1], points[i])];
    if (Math.atan2(length(cross(a, b)), dot(a, b)) > SHARP_TURN) {
      out.push(piece);
      piece = [points[i]];
    }
  }
  out.push(piece);
  return out;
}

/** A polyline as a line, a circle or neither. */
export function curveOf(points: readonly Vec3[], tolerance: number): Curve {
  const [first, last] = [points[0], points[points.length - 1]];
  let long = 0;
  for (let i = 1; i < points.length; i++) long += distance(points[i], points[i - 1]);
  const free: Curve = { kind: 'free', length: long };
  const closed = distance(first, last) < 1e-6;
  if (!closed) {
    const d = normalize(subtract(last, first));
    if (points.every((q) => length(cross(subtract(q, first), d)) <= tolerance)) return { kind: 'line', length: distance(first, last) };
  }
  if (points.length < 4) return free;
  // The plane of the points: by the sum of the triangles with their middle.
  const n = closed ? points.length - 1 : points.length;
  const m = [0, 1, 2].map((k) => points.slice(0, n).reduce((s, q) => s + q[k], 0) / n) as unknown as Vec3;
  let area: Vec3 = [0, 0, 0];
  for (let i = 1; i < points.length; i++) area = addScaled(area, cross(subtract(points[i - 1], m), subtract(points[i], m)), 1);
  if (!closed) area = addScaled(area, cross(subtract(last, m), subtract(first, m)), 1);
  if (length(area) < 1e-12) return free;
  const axis = normalize(area);
  if (points.some((q) => Math.abs(dot(subtract(q, m), axis)) > tolerance)) return free;
  const u = anyAcross(axis);
  const v = cross(axis, u);
  const circle = fitCircle2(Float64Array.from(points.slice(0, n).flatMap((q) => [dot(subtract(q, m), u), dot(subtract(q, m), v)])));
  if (!circle || circle.residual > tolerance || circle.radius > 2000) return free;
  const centre = addScaled(addScaled(m, u, circle.centre[0]), v, circle.centre[1]);
  // Counter-clockwise about the axis, as the area was summed.
  let sweepRad = 0;
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [subtract(points[i - 1], centre), subtract(points[i], centre)];
    sweepRad += Math.atan2(dot(cross(a, b), axis), dot(a, b));
  }
  if (sweepRad < 0.02) return free;
  if (closed) return { kind: 'circle', centre, axis, radius: circle.radius, sweepRad: 2 * Math.PI, middle: points[n >> 1] };
  const start = subtract(first, centre);
  const half = sweepRad / 2;
  const flat = normalize(addScaled(start, axis, -dot(start, axis)));
  const middle = addScaled(addScaled(centre, flat, circle.radius * Math.cos(half)), cross(axis, flat), circle.radius * Math.sin(half));
  return { kind: 'circle', centre, axis, radius: circle.radius, sweepRad, middle };
}
