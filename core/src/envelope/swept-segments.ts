import type { SampledBody } from '#core/kernel';
import { dot } from '#core/math';
import type { Axis } from './axis.ts';
import { isBuried, isFaceBuried, type PlacesAbout, placesAbout } from './buried.ts';
import type { Coverage } from './coverage.ts';
import { FaceEdges, isFlat } from './face-edges.ts';
import type { Ring } from './fewest-pieces.ts';
import { pushGeneratrix, RoundMarks } from './generatrix.ts';
import { measureLosses } from './losses.ts';
import { SegmentList } from './segment-list.ts';
import { SAME_HEIGHT } from './upper-envelope.ts';

/** The swept pieces of a body, the circles that some of them follow, and how far (mm) they may stand outside its true faces by what the tessellation blurs. */
export interface SweptBody {
  readonly segments: Float64Array;
  /** Length of those at the beginning that are exact generatrices: straight lines in the half plane. */
  readonly exactLength: number;
  readonly rings: readonly Ring[];
  readonly blur: number;
}

interface SweptOptions {
  readonly innermost?: boolean;
  readonly withBorders?: boolean;
  readonly places?: PlacesAbout;
  /** Triangles that lie below this are left out: see `coverOf`. */
  readonly cover?: Coverage;
}

/**
 * Everything of a body that can be outermost when it spins. Faces of revolution about the axis give their own
 * generatrix, exact; planes give their borders, exact; any other face gives its triangles' edges and what
 * its tessellation has lost, measured on the true face. Where such a face borders on a face of revolution, the border lies on that one, which its
 * chords do not: they are left out, unless `withBorders` (whoever leaves them out looks at the result). With `innermost` also everything that can
 * be nearest to the axis: the line in each triangle that is nearest to it at each height.
 */
export function sweptSegments(
  body: SampledBody,
  axis: Axis,
  { innermost = false, withBorders = true, places = placesAbout(body, axis), cover }: SweptOptions = {},
): SweptBody {
  const { mesh, faceStart, surfaces } = body;
  const out = new SegmentList(cover ? 1024 : 3 * (mesh.triangles.length / 3) + 64);
  const rings: Ring[] = [];
  const { zr, flat } = places;
  let blur = 0;
  const round = surfaces.map((surface, face) => {
    const [first, last] = [faceStart[face], faceStart[face + 1]];
    return first < last && pushGeneratrix(out, rings, axis, surface, zr, mesh.triangles, first, last);
  });
  const exactLength = out.length;
  // What lies deep below the outside is not even measured (whoever leaves out borders looks at the result).
  const isDeep = surfaces.map(
    (_, face) => cover !== undefined && !withBorders && !round[face] && isFaceBuried(cover, zr, mesh.triangles, faceStart[face], faceStart[face + 1]),
  );
  const { losses, gains } = measureLosses(body, (face) => round[face] || isDeep[face]);
  const edges = new FaceEdges(mesh.positions.length / 3);
  const marks = withBorders ? undefined : new RoundMarks(body, axis, zr, round);
  surfaces.forEach((surface, face) => {
    const [first, last] = [faceStart[face], faceStart[face + 1]];
    if (first === last || round[face] || isDeep[face]) return;
    // A cylinder along the axis ends where its edges end.
    const along = surface.kind === 'cylinder' && Math.abs(dot(surface.axis, axis.direction)) > 1 - 1e-12;
    const end = along ? 0 : losses[face];
    const lost = Math.hypot(losses[face], end);
    for (let i = 3 * first; i < 3 * last; i += 3) {
      if (cover && isBuried(cover, zr, mesh.triangles, i, losses[face], end)) continue;
      const stands = gains.length > 0 ? lost + gains[i / 3] : lost;
      if (stands > blur) blur = stands;
      for (let k = 0; k < 3; k++) {
        const a = mesh.triangles[i + k];
        const b = mesh.triangles[i + ((k + 1) % 3)];
        edges.add(a, b, marks === undefined || (marks.of(a) & marks.of(b) & ~marks.of(mesh.triangles[i + ((k + 2) % 3)])) === 0);
      }
      if (innermost) pushNearest(out, zr, flat, mesh.triangles.subarray(i, i + 3), losses[face], end);
    }
    // At each height a flat face is furthest out at its border, and nearest there or at a foot of the axis.
    edges.take(
      () => surface.kind === 'plane' && isFlat(mesh, first, last),
      (a, b) => {
        const [lo, hi] = zr[2 * a] <= zr[2 * b] ? [a, b] : [b, a];
        // An edge across the axis has no height, and what has none bounds nothing that its neighbours do not.
        if (end === 0 && zr[2 * hi] - zr[2 * lo] <= SAME_HEIGHT) return;
        const [ax, ay] = [flat[2 * lo], flat[2 * lo + 1]];
        out.push(zr[2 * lo], zr[2 * hi], ax, ay, flat[2 * hi] - ax, flat[2 * hi + 1] - ay, losses[face], end);
      },
    );
  });
  return { segments: out.packed(), exactLength, rings, blur };
}

// mm. A triangle that spans less than this along the axis has no nearest line of its own.
const LEVEL = 1e-9;

// At each height a triangle is a straight stretch; where the foot of the axis' perpendicular lies within it, it is nearest there. Over all
// heights these feet lie on one straight line in the triangle's plane: its part within the triangle is one more swept edge.
function pushNearest(out: SegmentList, zr: Float64Array, flat: Float64Array, triangle: Uint32Array, loss: number, end: number): void {
  const [a, b, c] = [...triangle].sort((p, q) => zr[2 * p] - zr[2 * q]);
  const [za, zb, zc] = [zr[2 * a], zr[2 * b], zr[2 * c]];
  if (zc - za < LEVEL) return;
  // The stretch at height z runs from the long edge a-c to the short ones, always the same way.
  const onLong = (z: number): [number, number] => between(flat, a, c, (z - za) / (zc - za));
  const onShort = (z: number): [number, number] => (z < zb ? between(flat, a, b, (z - za) / (zb - za || 1)) : between(flat, b, c, (z - zb) / (zc - zb || 1)));
  const [lx, ly] = onLong(zb);
  const [mx, my] = [flat[2 * b] - lx, flat[2 * b + 1] - ly];
  const width = Math.hypot(mx, my);
  if (width < LEVEL) return;
  const [dx, dy] = [mx / width, my / width];
  // Where the foot is, along the stretch, from either of its ends: it is within while these have two signs.
  const alongOf = ([x, y]: [number, number]) => x * dx + y * dy;
  const stops = [za, zb, zc];
  for (const [from, to] of [
    [za, zb],
    [zb, zc],
  ] as const) {
    if (to - from < LEVEL) continue;
    for (const edge of [onLong, onShort]) {
      const [s0, s1] = [alongOf(edge(from)), alongOf(edge(to - 1e-12 * (to - from)))];
      if (s0 * s1 < 0) stops.push(from + ((to - from) * s0) / (s0 - s1));
    }
  }
  stops.sort((p, q) => p - q);
  const foot = (z: number): [number, number] => {
    const [x, y] = onLong(z);
    const s = x * dx + y * dy;
    return [x - s * dx, y - s * dy];
  };
  for (let k = 0; k + 1 < stops.length; k++) {
    const [z0, z1] = [stops[k], stops[k + 1]];
    if (z1 - z0 < LEVEL) continue;
    const z = (z0 + z1) / 2;
    if (alongOf(onLong(z)) * alongOf(onShort(z)) > 0) continue;
    const [p, q] = [foot(z0), foot(z1)];
    out.push(z0, z1, p[0], p[1], q[0] - p[0], q[1] - p[1], loss, end);
  }
}

const between = (flat: Float64Array, a: number, b: number, s: number): [number, number] => [
  flat[2 * a] + s * (flat[2 * b] - flat[2 * a]),
  flat[2 * a + 1] + s * (flat[2 * b + 1] - flat[2 * a + 1]),
];
