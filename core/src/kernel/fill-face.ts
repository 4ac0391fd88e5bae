// A face whose border touches itself, which the kernel's mesher gives up or meshes badly, meshed between the nodes that its edges have: on the faces beside it, so that the
// body stays closed, or of their own.
import type { OpenCascadeInstance, TopoDS_Edge, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs';
import { distance } from '#core/math';
import { pairHalfEdges, triangulateFlat } from '#core/mesh';
import { polesOf } from './face-poles.ts';
import { flipSides } from './flip-sides.ts';
import { hashOf, listSubShapes, vecOfPoint } from './gp.ts';
import { type FaceMesh, refineFace } from './refine-face.ts';
import { type Own, withScope } from './scope.ts';
import { type PutPoint, surfacePoints } from './surface-points.ts';
import { readSurface } from './topology.ts';

/** Nodes along an edge: their places on it, rising, and in space, packed. */
export interface EdgeNodes {
  readonly parameters: Float64Array;
  readonly positions: Float64Array;
}

// mm. Edges that follow each other meet.
const SAME_PLACE = 1e-3;
// mm, and as far in the face's coordinates. Corners of two loops that are one.
const TOUCHING = 1e-6;
// Of a loop's area: what triangles may cover more, or less, where the curves of two edges that touch overshoot each other a little.
const SAME_AREA = 1e-5;
// Of an edge's length: how far its nodes are taken to lie inwards, in its middle, so that no triangle lies along it.
const INWARDS = 1e-4;
// Of the chord: how near the middles of its sides come, as those of the kernel do.
const WITHIN = 0.5;
const MOST_ROUNDS = 16;
// Halvings of an edge that has no nodes yet.
const MOST_HALVINGS = 9;

/**
 * The triangles of a face between its edges' nodes, within the chord (mm) of its surface, counter-clockwise in its own coordinates. `shared`: nodes of edges that have none on a meshed face,
 * by hash; those that are missing are put there, so that another face at the same edge has them too. Undefined where its border does not close, or crosses itself.
 */
export function fillFace(oc: OpenCascadeInstance, face: TopoDS_Face, chord: number, shared: Map<number, EdgeNodes>): FaceMesh | undefined {
  return withScope((own) => {
    // An edge that closes a surface is told by which way it runs.
    const forward = own(oc.TopoDS.Face(own(face.Oriented('TopAbs_FORWARD'))));
    const put = remembered(surfacePoints(own(new oc.BRepAdaptor_Surface(forward, true))));
    const loops = eachOf(oc, own, forward, 'TopAbs_WIRE').map((wire) => {
      const runs = eachOf(oc, own, wire, 'TopAbs_EDGE').map((edge) => runAlong(oc, own, own(oc.TopoDS.Edge(edge)), forward, chord, shared));
      return runs.every((run) => run !== undefined) ? chain(runs) : undefined;
    });
    if (!loops.every((loop) => loop !== undefined) || loops.length === 0) return undefined;
    const flat = triangulate(joinTouching(loops), put);
    if (!flat) return undefined;
    const nodes = flat.loops.flatMap((loop) => loop.flat());
    const uv = Float64Array.from(nodes.flatMap((n) => [n.u, n.v]));
    const coarse: FaceMesh = {
      positions: Float64Array.from(nodes.flatMap((n) => n.at)),
      uv,
      poles: polesOf(put, readSurface(oc, own, forward), uv),
      triangles: Uint32Array.from(flat.triangles),
    };
    return refined(coarse, flat.scaleOf, put, WITHIN * chord);
  });
}

// Middles of the same sides are looked at in each round.
function remembered(put: PutPoint): PutPoint {
  const known = new Map<string, Float64Array>();
  return (u, v, out, at) => {
    const key = `${u},${v}`;
    let place = known.get(key);
    if (!place) {
      place = new Float64Array(3);
      put(u, v, place, 0);
      known.set(key, place);
    }
    out.set(place, at);
  };
}

// Halved and flipped in turns until it is within the chord.
function refined(coarse: FaceMesh, [su, sv]: readonly [number, number], put: PutPoint, chord: number): FaceMesh {
  let mesh = coarse;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const flat = mesh.uv.map((x, i) => x * (i % 2 === 0 ? su : sv));
    flipSides(flat, mesh.triangles, pairHalfEdges(mesh));
    const finer = refineFace(mesh, put, chord, 1);
    if (finer === mesh) break;
    mesh = finer;
  }
  return mesh;
}

/** Whether two loops of a face's border meet at a corner: at one that both have, or at one of each at the same place. */
export function touchesItself(oc: OpenCascadeInstance, face: TopoDS_Shape): boolean {
  return withScope((own) => {
    const wires = eachOf(oc, own, face, 'TopAbs_WIRE');
    if (wires.length < 2) return false;
    const before: (readonly [number, number, number])[] = [];
    return wires.some((wire) => {
      const corners = listSubShapes(oc, own, wire, 'TopAbs_VERTEX').map(({ shape }) => vecOfPoint(oc.BRep_Tool.Pnt(own(oc.TopoDS.Vertex(shape)))));
      const touches = corners.some((corner) => before.some((other) => distance(corner, other) < TOUCHING));
      before.push(...corners);
      return touches;
    });
  });
}

// Each time that a shape is used, the way that it is used: an edge that closes a surface twice.
function eachOf(oc: OpenCascadeInstance, own: Own, shape: TopoDS_Shape, kind: 'TopAbs_WIRE' | 'TopAbs_EDGE'): TopoDS_Shape[] {
  const found: TopoDS_Shape[] = [];
  const explorer = own(new oc.TopExp_Explorer(shape, kind as never));
  for (; explorer.More(); explorer.Next()) found.push(own(explorer.Current()));
  return found;
}

interface Node {
  readonly u: number;
  readonly v: number;
  readonly at: readonly [number, number, number];
}
/** Nodes the way that a border runs, both ends of the edge included. */
type Run = readonly Node[];

function runAlong(oc: OpenCascadeInstance, own: Own, edge: TopoDS_Edge, face: TopoDS_Face, chord: number, shared: Map<number, EdgeNodes>): Run | undefined {
  const curve = own(new oc.BRepAdaptor_Curve2d(edge, face));
  const nodes = oc.BRep_Tool.Degenerated(edge) ? poleNodes(oc, own, edge, face) : (nodesBeside(oc, own, edge) ?? ownNodes(oc, own, edge, chord, shared));
  if (!nodes) return undefined;
  const { parameters, positions: p } = nodes;
  const run = Array.from(parameters, (t, i): Node => {
    const flat = own(curve.Value(t));
    return { u: flat.X(), v: flat.Y(), at: [p[3 * i], p[3 * i + 1], p[3 * i + 2]] };
  });
  return (edge.Orientation() as unknown as string) === 'TopAbs_REVERSED' ? run.reverse() : run;
}

// The nodes that an edge has on a face that is meshed.
function nodesBeside(oc: OpenCascadeInstance, own: Own, edge: TopoDS_Edge): EdgeNodes | undefined {
  const location = own(new oc.TopLoc_Location());
  const { P: polygon, T: mesh } = oc.BRep_Tool.PolygonOnTriangulation(edge, location, 1);
  if (!polygon || !mesh) return undefined;
  own(polygon);
  own(mesh);
  if (!polygon.HasParameters()) return undefined;
  const moved = own(location.Transformation());
  const count = polygon.NbNodes();
  const positions = new Float64Array(3 * count);
  const parameters = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    positions.set(vecOfPoint(own(mesh.Node(polygon.Node(i + 1))).Transformed(moved)), 3 * i);
    parameters[i] = polygon.Parameter(i + 1);
  }
  return { parameters, positions };
}

// Halved until its chords are within what is asked for.
function ownNodes(oc: OpenCascadeInstance, own: Own, edge: TopoDS_Edge, chord: number, shared: Map<number, EdgeNodes>): EdgeNodes {
  const key = hashOf(oc, edge);
  const before = shared.get(key);
  if (before) return before;
  const curve = own(new oc.BRepAdaptor_Curve(edge));
  const [from, to] = [curve.FirstParameter(), curve.LastParameter()];
  const at = (t: number) => vecOfPoint(curve.Value(t));
  const isLine = (curve.GetType() as unknown as string) === 'GeomAbs_Line';
  let parameters = isLine ? [from, to] : [from, (from + to) / 2, to];
  for (let round = 0; round < MOST_HALVINGS && !isLine; round++) {
    const halved = parameters.flatMap((t, i) => (i === 0 ? [t] : [(parameters[i - 1] + t) / 2, t]));
    const places = halved.map(at);
    const isWithin = places.every((p, i) => i % 2 === 0 || Math.hypot(...p.map((x, k) => x - (places[i - 1][k] + places[i + 1][k]) / 2)) <= chord);
    if (isWithin) break;
    parameters = halved;
  }
  const nodes = { parameters: Float64Array.from(parameters), positions: Float64Array.from(parameters.flatMap(at)) };
  shared.set(key, nodes);
  return nodes;
}

// An edge that is a pole of its surface has one place.
function poleNodes(oc: OpenCascadeInstance, own: Own, edge: TopoDS_Edge, face: TopoDS_Face): EdgeNodes {
  const curve = own(new oc.BRepAdaptor_Curve2d(edge, face));
  const surface = own(new oc.BRepAdaptor_Surface(face, true));
  const parameters = [curve.FirstParameter(), curve.LastParameter()];
  const flat = own(curve.Value(parameters[0]));
  const at = vecOfPoint(surface.Value(flat.X(), flat.Y()));
  return { parameters: Float64Array.from(parameters), positions: Float64Array.from([...at, ...at]) };
}

const apart = (a: Node, b: Node): number => Math.hypot(...a.at.map((x, k) => x - b.at[k]));
const apartFlat = (a: Node, b: Node): number => Math.hypot(a.u - b.u, a.v - b.v);

// The edges of a wire one after the other, each without its last node, which is the next one's first; undefined where they do not close.
function chain(runs: readonly Run[]): Run[] | undefined {
  const left = [...runs];
  const out: Run[] = [];
  let end: Node | undefined;
  while (left.length > 0) {
    const last = end;
    const next = last ? left.reduce((best, run) => (apartFlat(run[0], last) < apartFlat(best[0], last) ? run : best)) : left[0];
    if (last && apart(next[0], last) > SAME_PLACE) return undefined;
    left.splice(left.indexOf(next), 1);
    end = next[next.length - 1];
    out.push(next.slice(0, -1));
  }
  return end && apart(end, out[0][0]) <= SAME_PLACE ? out : undefined;
}

// Loops that meet at a corner, as one that runs through it twice: what lies between them is at its left all along.
function joinTouching(loops: readonly Run[][]): Run[][] {
  const left = [...loops];
  const out: Run[][] = [];
  for (let loop = left.shift(); loop; loop = left.shift()) {
    for (let i = 0; i < left.length; i++) {
      const meeting = meetingOf(loop, left[i]);
      if (!meeting) continue;
      loop = [...turned(loop, meeting[0]), ...turned(left[i], meeting[1])];
      left.splice(i, 1);
      i = -1;
    }
    out.push(loop);
  }
  return out;
}

const turned = (loop: readonly Run[], first: number): Run[] => [...loop.slice(first), ...loop.slice(0, first)];

// The runs of two loops that begin at the same place.
function meetingOf(one: readonly Run[], other: readonly Run[]): readonly [number, number] | undefined {
  for (const [i, { 0: a }] of one.entries())
    for (const [k, { 0: b }] of other.entries()) if (apart(a, b) < TOUCHING && apartFlat(a, b) < TOUCHING) return [i, k];
  return undefined;
}

interface Flat {
  readonly loops: readonly Run[][];
  readonly triangles: number[];
  /** mm for one unit of each coordinate. */
  readonly scaleOf: readonly [number, number];
}

// Triangles between loops of runs, by the numbers of their nodes; the loops with that around the others first.
function triangulate(loops: readonly Run[][], put: PutPoint): Flat | undefined {
  const scaleOf = lengthsOf(
    loops.flatMap((loop) => loop.flat()),
    put,
  );
  const flats = loops.map((loop) => inwards(loop, scaleOf));
  const areas = flats.map(({ area }) => Math.abs(area));
  const outer = areas.indexOf(Math.max(...areas));
  const order = [outer, ...loops.map((_, i) => i).filter((i) => i !== outer)];
  const polygons = order.map((i) => (i === outer ? flats[i].asOuter : flats[i].asHole));
  const flat = polygons.flat();
  const corners = flat.length / 2;
  const holes = polygons.slice(0, -1).map((_, k) => polygons.slice(0, k + 1).flat().length / 2);
  const triangles = triangulateFlat(flat, holes);
  // Each side of the border belongs to a triangle, and nothing is covered twice.
  if (triangles.length / 3 !== corners - 2 + 2 * holes.length) return undefined;
  const wanted = polygons.reduce((s, polygon, k) => s + (k === 0 ? 1 : -1) * Math.abs(areaOf(polygon)), 0);
  let covered = 0;
  for (let t = 0; t < triangles.length; t += 3) covered += areaOf(triangles.slice(t, t + 3).flatMap((i) => [flat[2 * i], flat[2 * i + 1]]));
  return Math.abs(covered - wanted) <= SAME_AREA * areas[outer] ? { loops: order.map((i) => loops[i]), triangles, scaleOf } : undefined;
}

// How long the ranges of both coordinates are in mm, each for one unit of it.
function lengthsOf(nodes: readonly Node[], put: PutPoint): readonly [number, number] {
  const [us, vs] = [nodes.map((n) => n.u), nodes.map((n) => n.v)];
  const [u0, u1, v0, v1] = [Math.min(...us), Math.max(...us), Math.min(...vs), Math.max(...vs)];
  const place = new Float64Array(3);
  const along = (at: (t: number) => readonly [number, number]) => {
    let long = 0;
    let before: number[] | undefined;
    for (let i = 0; i <= 8; i++) {
      put(...at(i / 8), place, 0);
      const here = Array.from(place);
      if (before) long += Math.hypot(...here.map((x, k) => x - (before as number[])[k]));
      before = here;
    }
    return long;
  };
  const inU = along((t) => [u0 + t * (u1 - u0), (v0 + v1) / 2]);
  const inV = along((t) => [(u0 + u1) / 2, v0 + t * (v1 - v0)]);
  return [inU / (u1 - u0) || 1, inV / (v1 - v0) || 1];
}

// A loop in the plane, its edges bent a little towards the face, and its area: nodes on one line would be left out, or be triangles that lie along the border.
function inwards(loop: readonly Run[], [su, sv]: readonly [number, number]) {
  const plain = loop.flat().flatMap((n) => [n.u * su, n.v * sv]);
  const area = areaOf(plain);
  const bent = (side: number) =>
    loop.flatMap((run, r) => {
      const [first, after] = [run[0], loop[(r + 1) % loop.length][0]];
      const [du, dv] = [(after.u - first.u) * su, (after.v - first.v) * sv];
      return run.flatMap((n, i) => {
        const t = i / run.length;
        const by = side * 4 * INWARDS * t * (1 - t);
        return [n.u * su - dv * by, n.v * sv + du * by];
      });
    });
  return { area, asOuter: bent(Math.sign(area)), asHole: bent(-Math.sign(area)) };
}

// Of a polygon by the x and y of its corners, positive counter-clockwise.
function areaOf(flat: readonly number[]): number {
  let twice = 0;
  for (let i = 0; i < flat.length; i += 2) {
    const k = (i + 2) % flat.length;
    twice += flat[i] * flat[k + 1] - flat[k] * flat[i + 1];
  }
  return twice / 2;
}
