import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { hashOf, listSubShapes } from './gp.ts';
import { type Own, withScope } from './scope.ts';

/** What loose faces became. */
export interface SewnFaces {
  readonly bodies: readonly TopoDS_Shape[];
  /** Faces of the file that were no part of a solid. */
  readonly faces: number;
  /** Holes that one plane face closes, and that were closed by it. */
  readonly closed: number;
  /** Faces that belong to no body: single ones, and what is not connected to more. */
  readonly left: number;
}

// mm. Edges of one vendor's faces meet within this; the least gap that a machine's simulation could notice is ten times as large.
const SEW_WITHIN = 1e-3;
// An open piece of fewer faces is a label, a sketch or a construction plane.
const LEAST_FACES = 4;
// Of an open piece's edges, that may be free.
const MOST_OPEN = 0.3;

/**
 * Sews the faces of a shape that belong to no solid into bodies, and closes plane holes. Nothing where there are none. `counts` is how many faces each of the file's
 * parts has, in its order: each by itself first, because bodies that touch have edges in the same place.
 */
export function sewLooseFaces(oc: OpenCascadeInstance, own: Own, shape: TopoDS_Shape, counts: readonly number[] = []): SewnFaces | undefined {
  const loose = looseFaces(oc, own, shape);
  if (loose.length === 0) return undefined;
  const together = () => sewGroup(oc, own, loose);
  if (counts.length < 2 || counts.reduce((a, b) => a + b, 0) !== loose.length) return together();
  let at = 0;
  const parts = counts.map((count) => sewGroup(oc, own, loose.slice(at, (at += count))));
  const sum = (of: (s: Sewn) => number) => parts.reduce((a, s) => a + of(s), 0);
  const apart = {
    bodies: parts.flatMap((s) => s.bodies),
    faces: loose.length,
    closed: sum((s) => s.closed),
    left: sum((s) => s.left),
    free: sum((s) => s.free),
  };
  if (apart.left + apart.free === 0) return apart;
  // A body may be spread over several parts.
  const whole = together();
  return apart.left + apart.free <= whole.left + whole.free ? apart : whole;
}

interface Sewn extends SewnFaces {
  /** Edges of its bodies that one face alone has. */
  readonly free: number;
}

function sewGroup(oc: OpenCascadeInstance, own: Own, loose: readonly TopoDS_Shape[]): Sewn {
  let sewn = sew(oc, own, loose);
  const caps = planeCaps(oc, own, sewn);
  if (caps.length > 0) sewn = sew(oc, own, [...shellsOf(oc, own, sewn), ...caps]);
  const bodies: TopoDS_Shape[] = [];
  let [used, open] = [0, 0];
  for (const shell of shellsOf(oc, own, sewn)) {
    const faces = withScope((inner) => listSubShapes(oc, inner, shell, 'TopAbs_FACE').length);
    const free = freeEdges(oc, own, shell);
    const edges = withScope((inner) => listSubShapes(oc, inner, shell, 'TopAbs_EDGE').length);
    if (free.length > 0 && (faces < LEAST_FACES || free.length > MOST_OPEN * edges)) continue;
    used += faces;
    open += free.length;
    bodies.push(solidOf(oc, own, shell));
  }
  return { bodies, faces: loose.length, closed: caps.length, left: Math.max(0, loose.length + caps.length - used), free: open };
}

function looseFaces(oc: OpenCascadeInstance, own: Own, whole: TopoDS_Shape): TopoDS_Shape[] {
  const faces = listSubShapes(oc, own, whole, 'TopAbs_FACE');
  const held = new Set<number>();
  withScope((inner) => {
    for (const { shape } of listSubShapes(oc, inner, whole, 'TopAbs_SOLID'))
      for (const { hash } of listSubShapes(oc, inner, shape, 'TopAbs_FACE')) held.add(hash);
  });
  return faces.filter((f) => !held.has(f.hash)).map((f) => f.shape);
}

function sew(oc: OpenCascadeInstance, own: Own, parts: readonly TopoDS_Shape[]): TopoDS_Shape {
  const sewing = own(new oc.BRepBuilderAPI_Sewing(SEW_WITHIN, true, true, true, false));
  for (const part of parts) sewing.Add(part);
  sewing.Perform(own(new oc.Message_ProgressRange()));
  return own(sewing.SewedShape());
}

const shellsOf = (oc: OpenCascadeInstance, own: Own, shape: TopoDS_Shape): TopoDS_Shape[] =>
  shape.IsNull() ? [] : listSubShapes(oc, own, shape, 'TopAbs_SHELL').map((s) => s.shape);

// The edges of a shell that one face alone has, once each. A seam belongs to one face twice.
function freeEdges(oc: OpenCascadeInstance, own: Own, shell: TopoDS_Shape): TopoDS_Shape[] {
  const uses = new Map<number, { shape: TopoDS_Shape; count: number }>();
  withScope((inner) => {
    for (const { shape: face } of listSubShapes(oc, inner, shell, 'TopAbs_FACE')) {
      const explorer = inner(new oc.TopExp_Explorer(face, 'TopAbs_EDGE'));
      for (; explorer.More(); explorer.Next()) {
        const edge = own(explorer.Current());
        const hash = hashOf(oc, edge);
        const known = uses.get(hash);
        if (known) known.count++;
        else uses.set(hash, { shape: edge, count: 1 });
      }
    }
  });
  return [...uses.values()].filter(({ shape, count }) => count === 1 && !isDegenerated(oc, shape) && lengthOf(oc, shape) > SEW_WITHIN).map((u) => u.shape);
}

const isDegenerated = (oc: OpenCascadeInstance, edge: TopoDS_Shape): boolean => withScope((inner) => oc.BRep_Tool.Degenerated(inner(oc.TopoDS.Edge(edge))));

// mm. What is shorter than what faces are sewn within is a splinter at a corner, no border.
const lengthOf = (oc: OpenCascadeInstance, edge: TopoDS_Shape): number =>
  withScope((inner) => {
    const props = inner(new oc.GProp_GProps());
    oc.BRepGProp.LinearProperties(edge, props, false, false);
    return props.Mass();
  });

// Plane faces over the loops of free edges that lie in one plane.
function planeCaps(oc: OpenCascadeInstance, own: Own, sewn: TopoDS_Shape): TopoDS_Shape[] {
  const caps: TopoDS_Shape[] = [];
  for (const shell of shellsOf(oc, own, sewn))
    for (const loop of loopsOf(oc, freeEdges(oc, own, shell))) {
      const wire = own(new oc.BRepBuilderAPI_MakeWire());
      for (const edge of loop) wire.Add(own(oc.TopoDS.Edge(edge)));
      if (!wire.IsDone()) continue;
      const face = own(new oc.BRepBuilderAPI_MakeFace(own(wire.Wire()), true));
      if (face.IsDone()) caps.push(own(face.Face()));
    }
  return caps;
}

// Edges in closed rows by the corners that they share.
function loopsOf(oc: OpenCascadeInstance, edges: readonly TopoDS_Shape[]): TopoDS_Shape[][] {
  const ends = edges.map((edge) => withScope((inner) => listSubShapes(oc, inner, edge, 'TopAbs_VERTEX').map((v) => v.hash)));
  const loops: TopoDS_Shape[][] = [];
  const used = new Set<number>();
  for (let first = 0; first < edges.length; first++) {
    if (used.has(first)) continue;
    const row = [first];
    used.add(first);
    const [start] = ends[first];
    let at = ends[first][1] ?? start;
    while (at !== start) {
      const next = edges.findIndex((_, i) => !used.has(i) && ends[i].includes(at));
      if (next < 0) break;
      used.add(next);
      row.push(next);
      at = ends[next][0] === at ? (ends[next][1] ?? ends[next][0]) : ends[next][0];
    }
    if (at === start) loops.push(row.map((i) => edges[i]));
  }
  return loops;
}

// A solid over a shell, its faces looking outwards; an open one stays open.
function solidOf(oc: OpenCascadeInstance, own: Own, shell: TopoDS_Shape): TopoDS_Shape {
  const solid = own(own(new oc.BRepBuilderAPI_MakeSolid(own(oc.TopoDS.Shell(shell)))).Solid());
  const turned = withScope((inner) => {
    const props = inner(new oc.GProp_GProps());
    oc.BRepGProp.VolumeProperties(solid, props, false, false, false);
    return props.Mass() < 0;
  });
  return turned ? own(solid.Reversed()) : solid;
}
