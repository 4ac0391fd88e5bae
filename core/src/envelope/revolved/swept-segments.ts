import type { SampledBody } from '#core/kernel';
import { dot } from '#core/math';
import type { Axis } from '../axis.ts';
import { isBuried, isFaceBuried, type PlacesAbout, placesAbout } from './buried.ts';
import type { Coverage } from './coverage.ts';
import { borderOf, isFlat } from './flat-faces.ts';
import type { Ring } from './fewest-pieces.ts';
import { pushGeneratrix, RoundMarks } from './generatrix.ts';
import { measureLosses } from './losses.ts';
import { SegmentList } from './segment-list.ts';
import { TwinFilter } from './twin-filter.ts';
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
  const sides = new SideList(out, places);
  const marks = withBorders || !round.some(Boolean) ? undefined : new RoundMarks(body, axis, zr, round);
  surfaces.forEach((surface, face) => {
    const [first, last] = [faceStart[face], faceStart[face + 1]];
    if (first === last || round[face] || isDeep[face]) return;
    // A cylinder along the axis ends where its edges end.
    const along = surface.kind === 'cylinder' && Math.abs(dot(surface.axis, axis.direction)) > 1 - 1e-12;
    sides.loss = losses[face];
    sides.end = along ? 0 : losses[face];
    const lost = Math.hypot(sides.loss, sides.end);
    // At each height a flat face is furthest out at its border, and nearest there or at a foot of the axis.
    const border = surface.kind === 'plane' && isFlat(mesh, first, last) ? borderOf(mesh.triangles, first, last) : undefined;
    for (let i = 3 * first; i < 3 * last; i += 3) {
      if (cover && isBuried(cover, zr, mesh.triangles, i, sides.loss, sides.end)) continue;
      const stands = gains.length > 0 ? lost + gains[i / 3] : lost;
      if (stands > blur) blur = stands;
      sides.pushOf(mesh.triangles, i, border?.[i / 3 - first] ?? ALL_SIDES, marks);
      if (innermost) pushNearest(out, zr, flat, mesh.triangles.subarray(i, i + 3), sides.loss, sides.end);
    }
  });
  return { segments: out.packed(), exactLength, rings, blur };
}

// Bits of a triangle's sides: from its first corner to its second, and so on.
const ALL_SIDES = 0b111;

// Sides of triangles as swept edges, each kind once.
class SideList {
  loss = 0;
  end = 0;
  private readonly out: SegmentList;
  private readonly zr: Float64Array;
  private readonly flat: Float64Array;
  private readonly twins = new TwinFilter();

  constructor(out: SegmentList, { zr, flat }: PlacesAbout) {
    this.out = out;
    this.zr = zr;
    this.flat = flat;
  }

  /** Some sides of the triangle at `i`; none that is the border of a face of revolution, where it is known which corners lie on one. */
  pushOf(t: Uint32Array, i: number, sides: number, marks: RoundMarks | undefined): void {
    const a = t[i];
    const b = t[i + 1];
    const c = t[i + 2];
    const ofA = marks ? marks.of(a) : 0;
    const ofB = marks ? marks.of(b) : 0;
    const ofC = marks ? marks.of(c) : 0;
    if (sides & 1 && (ofA & ofB & ~ofC) === 0) this.push(a, b);
    if (sides & 2 && (ofB & ofC & ~ofA) === 0) this.push(b, c);
    if (sides & 4 && (ofC & ofA & ~ofB) === 0) this.push(c, a);
  }

  private push(a: number, b: number): void {
    const { zr, flat, loss, end } = this;
    const lo = zr[2 * a] <= zr[2 * b] ? a : b;
    const hi = lo === a ? b : a;
    const z0 = zr[2 * lo];
    const z1 = zr[2 * hi];
    // An edge across the axis has no height, and what has none bounds nothing that its neighbours do not.
    if (end === 0 && z1 - z0 <= SAME_HEIGHT) return;
    const ax = flat[2 * lo];
    const ay = flat[2 * lo + 1];
    const bx = flat[2 * hi] - ax;
    const by = flat[2 * hi + 1] - ay;
    if (this.twins.isNew(z0, z1, ax, ay, bx, by, loss, end)) this.out.push(z0, z1, ax, ay, bx, by, loss, end);
  }
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
