import { addScaled, cross, degFromRad, distance, dot, length, mix, move, normalize, projectOnLine, subtract, turn, type Vec3 } from '#core/math';
import { type BodyGeometry, cornerOf, type TriMesh, TriangleTree } from '#core/mesh';
import type { PlacedSolid } from './overlaps.ts';

/** A face, an edge or a corner of a body, where that stands. */
export interface Picked extends PlacedSolid {
  readonly kind: 'face' | 'edge' | 'corner';
  readonly index: number;
}

/** What two picks are to each other. World coordinates, mm. */
export interface Measure {
  /** What each was taken for. */
  readonly between: readonly [Meant, Meant];
  /** From the first to the second, the short way between what they stand for; undefined where that has no one length: planes and axes that are askew. */
  readonly by: Vec3 | undefined;
  /** Degrees between their directions, 0 to 90; undefined where one has none. */
  readonly angle: number | undefined;
  /** The shortest way between the two themselves, on the drawn triangles, within their chords; 0 where they touch. */
  readonly gap: number;
  readonly gapAt: readonly [Vec3, Vec3];
}
export type Meant = 'point' | 'centre' | 'axis' | 'edge' | 'plane' | 'surface';

interface Sense {
  readonly meant: Meant;
  readonly at: Vec3;
  /** Along an axis or an edge, or square to a plane. */
  readonly direction?: Vec3;
}

// Sine: directions that differ by less are parallel.
const PARALLEL = 1e-5;

/** Measures between two picks: of what they stand for (a corner, the centre of a circle, an axis, a straight edge, a plane), and between the two themselves. */
export function measure(a: Picked, b: Picked): Measure {
  const [s, t] = [senseOf(a), senseOf(b)];
  const [from, to] = nearestBetween(a, b);
  return { between: [s.meant, t.meant], by: wayBetween(s, t), angle: angleBetween(s, t), gap: distance(from, to), gapAt: [from, to] };
}

function senseOf({ body, worldFromFile, kind, index }: Picked): Sense {
  const at = (p: Vec3) => move(worldFromFile, p);
  const along = (d: Vec3) => turn(worldFromFile, d);
  if (kind === 'corner') return { meant: 'point', at: at(cornerOf(body, index)) };
  if (kind === 'edge') {
    const { curve, start, end } = body.edges[index];
    if (curve.kind === 'circle') return { meant: 'centre', at: at(curve.centre), direction: along(curve.axis) };
    if (curve.kind === 'line' && distance(start, end) > 1e-9) return { meant: 'edge', at: at(start), direction: along(normalize(subtract(end, start))) };
    return { meant: 'surface', at: at(start) };
  }
  const s = body.faces[index].surface;
  switch (s.kind) {
    case 'plane':
      return { meant: 'plane', at: at(s.origin), direction: along(s.normal) };
    case 'cylinder':
    case 'cone':
      return { meant: 'axis', at: at(s.origin), direction: along(s.axis) };
    case 'torus':
      return { meant: 'axis', at: at(s.centre), direction: along(s.axis) };
    case 'sphere':
      return { meant: 'centre', at: at(s.centre) };
    default:
      return { meant: 'surface', at: at(body.centroid) };
  }
}

const isLine = (m: Meant) => m === 'axis' || m === 'edge';
const isPoint = (m: Meant) => m === 'point' || m === 'centre';

function wayBetween(a: Sense, b: Sense): Vec3 | undefined {
  if (a.meant === 'surface' || b.meant === 'surface') return undefined;
  const [u, v] = [a.direction ?? [0, 0, 0], b.direction ?? [0, 0, 0]] as [Vec3, Vec3];
  const between = subtract(b.at, a.at);
  if (isPoint(a.meant) && isPoint(b.meant)) return between;
  // From the second to the first, then turned round: what is a line or a plane comes second.
  const rank = (m: Meant) => (isPoint(m) ? 0 : isLine(m) ? 1 : 2);
  if (rank(a.meant) > rank(b.meant)) {
    const back = wayBetween(b, a);
    return back && ([-back[0], -back[1], -back[2]] as Vec3);
  }
  if (isPoint(a.meant)) return isLine(b.meant) ? subtract(projectOnLine(a.at, b.at, v), a.at) : ofLength(v, dot(between, v));
  const across = cross(u, v);
  const isParallel = length(across) < PARALLEL;
  if (isLine(a.meant) && isLine(b.meant)) {
    if (isParallel) return subtract(between, ofLength(u, dot(between, u)));
    const square = normalize(across);
    return ofLength(square, dot(between, square));
  }
  // A plane, with a line along it or a plane beside it.
  const isAlong = isLine(a.meant) ? Math.abs(dot(u, v)) < PARALLEL : isParallel;
  return isAlong ? ofLength(v, dot(between, v)) : undefined;
}

const ofLength = (d: Vec3, by: number): Vec3 => addScaled([0, 0, 0], d, by);

function angleBetween(a: Sense, b: Sense): number | undefined {
  if (!a.direction || !b.direction) return undefined;
  const between = degFromRad(Math.atan2(length(cross(a.direction, b.direction)), Math.abs(dot(a.direction, b.direction))));
  // The direction of a plane is square to it.
  return (a.meant === 'plane') === (b.meant === 'plane') ? between : 90 - between;
}

// Places that are looked from, at most; and how often the nearest of them go to and fro: each time they come nearer.
const MOST_PLACES = 4000;
const BEST = 8;
const TO_AND_FRO = 60;

function nearestBetween(a: Picked, b: Picked): [Vec3, Vec3] {
  const [p, q] = [extentOf(a), extentOf(b)];
  const starts = [...q.places.map((y) => ({ x: p.nearest(y), y })), ...p.places.map((x) => ({ x, y: q.nearest(x) }))]
    .map((pair) => ({ ...pair, away: distance(pair.x, pair.y) }))
    .sort((m, n) => m.away - n.away)
    .slice(0, BEST);
  let best = starts[0];
  for (const start of starts) {
    let now = start;
    for (let i = 0; i < TO_AND_FRO; i++) {
      const x = p.nearest(now.y);
      const y = q.nearest(x);
      const away = distance(x, y);
      const isThere = now.away - away < 1e-9;
      now = { x, y, away };
      if (isThere) break;
    }
    if (now.away < best.away) best = now;
  }
  return [best.x, best.y];
}

interface Extent {
  readonly places: readonly Vec3[];
  nearest(to: Vec3): Vec3;
}

function extentOf({ body, worldFromFile, kind, index }: Picked): Extent {
  if (kind === 'corner') {
    const at = move(worldFromFile, cornerOf(body, index));
    return { places: [at], nearest: () => at };
  }
  const corners = kind === 'edge' ? edgeCorners(body, index) : faceCorners(body, index);
  const positions = new Float64Array(corners.length);
  for (let i = 0; i < positions.length; i += 3) positions.set(move(worldFromFile, [corners[i], corners[i + 1], corners[i + 2]]), i);
  const placed = { positions, triangles: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) };
  const tree = new TriangleTree(placed);
  return {
    places: placesOf(placed),
    nearest: ([x, y, z]) => {
      tree.nearest(x, y, z);
      return [tree.point[0], tree.point[1], tree.point[2]];
    },
  };
}

// Corners of triangles, three by three: of a face, and of the stretches of an edge as triangles without a width.
function faceCorners({ mesh: { positions: p, triangles: t }, faceStart }: BodyGeometry, face: number): number[] {
  return Array.from(t.subarray(3 * faceStart[face], 3 * faceStart[face + 1])).flatMap((i) => [p[3 * i], p[3 * i + 1], p[3 * i + 2]]);
}

function edgeCorners({ edgePoints: p, edgeStart }: BodyGeometry, edge: number): number[] {
  const at = (i: number) => [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
  const [from, last] = [edgeStart[edge], edgeStart[edge + 1] - 1];
  return Array.from({ length: Math.max(1, last - from) }, (_, i) => from + i).flatMap((i) => [
    ...at(i),
    ...at(Math.min(i + 1, last)),
    ...at(Math.min(i + 1, last)),
  ]);
}

// Corners, and the middles of sides and of triangles.
function placesOf({ positions: p, triangles: t }: TriMesh): Vec3[] {
  const at = (i: number): Vec3 => [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
  const every = Math.max(1, Math.ceil(t.length / 3 / (MOST_PLACES / 7)));
  const places: Vec3[] = [];
  for (let k = 0; k < t.length; k += 3 * every) {
    const [a, b, c] = [at(t[k]), at(t[k + 1]), at(t[k + 2])];
    places.push(a, b, c, mix(a, b, 0.5), mix(b, c, 0.5), mix(c, a, 0.5), mix(mix(a, b, 0.5), c, 1 / 3));
  }
  return places;
}
