import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { failed, type Issue, issue, type Result, done } from '#core/issues';
import { type Bounds, boundsDiagonal, DISPLAY_CHORD, LARGEST_LENGTH, type Vec3 } from '#core/math';
import { type BodyGeometry, bodyNames, isClosedMesh, meshArea, meshBounds, meshCentroid, meshVolume, type Model, validateMesh, weld } from '#core/mesh';
import { vecOfPoint } from './gp.ts';
import type { Kernel } from './kernel.ts';
import { type ModelWork, workName, workPlacements } from './model-work.ts';
import { type OpenSolids, withSolids } from './open-solids.ts';
import { withScope } from './scope.ts';
import { gyration, matchSolids } from './step-facts.ts';
import { readEdgePolylines, tessellate } from './tessellate.ts';
import { readTopology } from './topology.ts';

export interface ReadSolidsOptions {
  readonly chordTolerance?: number;
  /**
   * Volume, area, centre and box from the true faces to 1e-9, instead of from the mesh (some 1e-3). Integrating takes longer than
   * the rest of the import (measured on the demo's boring bar: 390 ms against 160 ms).
   */
  readonly exactProperties?: boolean;
  /** What is done to the vendor's bodies before they are looked at: another unit, bodies cut in two. */
  readonly work?: ModelWork;
  /** Called with a share of 1 and what is going on. */
  readonly onProgress?: (share: number, text: string) => void;
}

export interface ReadModel {
  readonly model: Model;
  /** What is not wrong enough to refuse the file: open or invalid bodies, absurd sizes. */
  readonly warnings: readonly Issue[];
}

/** Reads a STEP file, or the shape of an outline, into a tessellated model with topology tables, names and colours. Frees all it took from the kernel. */
export function readSolids(kernel: Kernel, bytes: Uint8Array, file: string, options: ReadSolidsOptions = {}): Result<ReadModel> {
  options.onProgress?.(0.05, 'Reading the geometry');
  return withSolids(kernel, bytes, file, options.work, (step) => readOpenSolids(step, options));
}

/** The same of a file that is open. */
export function readOpenSolids(step: OpenSolids, options: Omit<ReadSolidsOptions, 'work'> = {}): Result<ReadModel> {
  const report = options.onProgress ?? (() => undefined);
  const { kernel, file, facts, work } = step;
  return step.use((solids) => {
    const chordTolerance = options.chordTolerance ?? DISPLAY_CHORD;
    const warnings: Issue[] = [...step.mended];
    const read: BodyGeometry[] = [];
    for (const [i, solid] of solids.entries()) {
      report(0.5 + (0.45 * i) / solids.length, `Meshing body ${i + 1} of ${solids.length}`);
      step.beforeMeshing(i, chordTolerance);
      const body = readBody(kernel.oc, solid, `b${i + 1}`, chordTolerance, options.exactProperties ?? false);
      if (!body)
        return facts.format === 'step'
          ? failed('step.unreadable', { file, text: `a face of body ${i + 1} is damaged and cannot be meshed` })
          : failed('outline.bad-shape', { text: 'its faces do not close, where flanks lean into each other' });
      read.push(body);
      Object.assign(
        step.surfacesOf(i),
        body.faces.map((face) => face.surface),
      );
    }
    const signatures = read.map((b) => ({
      faceCount: b.faces.length,
      gyration: gyration(Array.from({ length: b.corners.length / 3 }, (_, i) => [b.corners[3 * i], b.corners[3 * i + 1], b.corners[3 * i + 2]])),
    }));
    const vendorCount = solids.length - work.cuts.length - work.inserts.length;
    const texts: readonly ({ readonly name: string; readonly colour?: string } | undefined)[] =
      facts.format === 'step' ? matchSolids(signatures, facts.solids) : facts.names.map((name) => ({ name }));
    const names = bodyNames(read.map((_, i) => workName(work, vendorCount, i) ?? texts[i]?.name ?? ''));
    const bodies = read.map((body, i): BodyGeometry => {
      const name = names[i];
      const extent = boundsDiagonal(body.bbox);
      if (!body.valid) warnings.push(issue('step.invalid-body', { file, body: name }));
      if (!body.closed) warnings.push(issue('step.open-body', { file, body: name }));
      if (extent > LARGEST_LENGTH || extent < 0.1) warnings.push(issue('step.absurd-size', { file, body: name, extent: Number(extent.toPrecision(3)) }));
      return { ...body, name, ...(texts[i]?.colour ? { colour: texts[i]?.colour } : {}) };
    });
    report(0.97, 'Finishing');
    const { format, unit, unitScale } = facts;
    const named = facts.format === 'step' ? facts.placements : [];
    const model: Model = { format, unit, unitScale: unitScale * work.scale, chordTolerance, bodies, ...workPlacements(named, work) };
    return done({ model, warnings });
  });
}

/** A shape as a body with its topology and mesh; undefined where a face of it cannot be meshed. */
export function readBody(oc: OpenCascadeInstance, solid: TopoDS_Shape, id: string, chordTolerance: number, exactProperties: boolean): BodyGeometry | undefined {
  const tessellation = tessellate(oc, solid, { chordTolerance });
  // Not gone on with: edges of a face that is not meshed may keep the kernel busy for minutes.
  if (!tessellation) return undefined;
  const { mesh, faceStart, faceHashes } = tessellation;
  const polylines = readEdgePolylines(oc, solid, chordTolerance, tessellation);
  const topology = readTopology(oc, solid, polylines);
  if (faceHashes.some((h, i) => h !== topology.faceHashes[i])) return undefined;
  const edgeStart = new Uint32Array(topology.edges.length + 1);
  const lines = topology.edgeHashes.map((h) => polylines.get(h) ?? new Float64Array(0));
  lines.forEach((line, i) => {
    edgeStart[i + 1] = edgeStart[i] + line.length / 3;
  });
  const edgePoints = new Float64Array(edgeStart[lines.length] * 3);
  lines.forEach((line, i) => edgePoints.set(line, edgeStart[i] * 3));
  return {
    id,
    name: '',
    ...(exactProperties ? massProperties(oc, solid) : { volume: meshVolume(mesh), area: meshArea(mesh), centroid: meshCentroid(mesh) }),
    // Corners of the mesh lie on the true faces; between them a curved face may reach out further by the chord tolerance.
    bbox: exactProperties ? tightBox(oc, solid) : (meshBounds(mesh) ?? tightBox(oc, solid)),
    closed: isClosedMesh(validateMesh(weld(mesh, 1e-4))),
    valid: isValidShape(oc, solid),
    faces: topology.faces,
    edges: topology.edges,
    corners: Float64Array.from(topology.corners.flat()),
    mesh,
    faceStart,
    edgePoints,
    edgeStart,
  };
}

// The analyzer keeps its results when it is deleted (1.2 MB an import); looking at a single vertex first lets them go.
function isValidShape(oc: OpenCascadeInstance, shape: TopoDS_Shape): boolean {
  return withScope((own) => {
    const analyzer = own(new oc.BRepCheck_Analyzer(shape, true, false, false));
    const valid = analyzer.IsValid();
    const vertex = own(own(new oc.BRepBuilderAPI_MakeVertex(own(new oc.gp_Pnt(0, 0, 0)))).Vertex());
    analyzer.Init(vertex, false);
    return valid;
  });
}

// Volume (mm3), area (mm2) and centre of volume, of the true faces.
function massProperties(oc: OpenCascadeInstance, shape: TopoDS_Shape): { volume: number; area: number; centroid: Vec3 } {
  return withScope((own) => {
    const volume = own(new oc.GProp_GProps());
    const area = own(new oc.GProp_GProps());
    oc.BRepGProp.VolumeProperties(shape, volume, 1e-9, true, true);
    oc.BRepGProp.SurfaceProperties(shape, area, 1e-9, true);
    return { volume: volume.Mass(), area: area.Mass(), centroid: vecOfPoint(volume.CentreOfMass()) };
  });
}

function tightBox(oc: OpenCascadeInstance, shape: TopoDS_Shape): Bounds {
  return withScope((own) => {
    const box = own(new oc.Bnd_Box());
    oc.BRepBndLib.AddOptimal(shape, box, false, false);
    return { min: vecOfPoint(box.CornerMin()), max: vecOfPoint(box.CornerMax()) };
  });
}
