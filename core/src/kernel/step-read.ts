import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { failed, type Issue, issue, type Result, done } from '#core/issues';
import { type Bounds, boundsDiagonal, DISPLAY_CHORD, LARGEST_LENGTH, type Vec3 } from '#core/math';
import { type BodyGeometry, isClosedMesh, meshArea, meshBounds, meshCentroid, meshVolume, type Model, validateMesh, weld } from '#core/mesh';
import { listSubShapes, vecOfPoint } from './gp.ts';
import { type Kernel, kernelErrorText } from './kernel.ts';
import { scanPart21 } from './part21.ts';
import { type ModelWork, NO_WORK, workName, workSolids } from './model-work.ts';
import { type Own, withScope } from './scope.ts';
import { gyration, matchSolids, readStepFacts, type StepFacts } from './step-facts.ts';
import { readEdgePolylines, tessellate } from './tessellate.ts';
import { readTopology } from './topology.ts';

/** Bytes. Larger STEP files are whole machines; they would fill the browser's memory. */
export const LARGEST_STEP_FILE = 120e6;

export interface ReadStepOptions {
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

/** Looks at the bytes of a STEP file before the kernel does: size, kind, text, references, unit and names. */
export function checkStepText(bytes: Uint8Array, file: string): Result<StepFacts> {
  if (bytes.length === 0) return failed('file.empty', { file });
  if (bytes.length > LARGEST_STEP_FILE) return failed('file.too-large', { file, megabytes: Math.round(bytes.length / 1e6), limit: LARGEST_STEP_FILE / 1e6 });
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 400));
  if (!/ISO-10303-21/.test(head)) {
    const found = otherFormat(bytes, head);
    return found ? failed('file.other-format', { file, found }) : failed('file.unknown-format', { file, start: JSON.stringify(head.slice(0, 12)) });
  }
  const scanned = scanPart21(decodeText(bytes), file);
  return scanned.ok ? done(readStepFacts(scanned.value)) : scanned;
}

// Part 21 is ASCII with escapes; files with raw UTF-8 or Latin-1 names exist all the same.
function decodeText(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}

function otherFormat(bytes: Uint8Array, head: string): string | undefined {
  if (head.startsWith('PK')) return 'a zip archive';
  if (head.startsWith('glTF')) return 'a GLB model';
  if (/^\s*solid\b/.test(head)) return 'an STL mesh';
  if (bytes.length >= 84 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true) * 50 + 84 === bytes.length) return 'an STL mesh';
  if (/^\s*<\?xml|^\s*<!?\w/.test(head)) return 'an XML or web page';
  if (/^.{72}S\s*\d+/m.test(head)) return 'an IGES model';
  if (head.startsWith('%PDF')) return 'a PDF';
  return undefined;
}

/** Reads a STEP file into a tessellated model with topology tables, names and colours. Frees all it took from the kernel. */
export function readStep(kernel: Kernel, bytes: Uint8Array, file: string, options: ReadStepOptions = {}): Result<ReadModel> {
  const report = options.onProgress ?? (() => undefined);
  report(0.02, 'Checking the file');
  const facts = checkStepText(bytes, file);
  if (!facts.ok) return facts;
  report(0.15, 'Reading the geometry');
  const work = options.work ?? NO_WORK;
  return withStepSolids<ReadModel>(kernel, bytes, file, { ...facts.value, work }, (solids) => {
    const chordTolerance = options.chordTolerance ?? DISPLAY_CHORD;
    const warnings: Issue[] = [];
    const read: BodyGeometry[] = [];
    for (const [i, solid] of solids.entries()) {
      report(0.5 + (0.45 * i) / solids.length, `Meshing body ${i + 1} of ${solids.length}`);
      const body = readBody(kernel.oc, solid, `b${i + 1}`, chordTolerance, options.exactProperties ?? false);
      if (!body) return failed('step.unreadable', { file, text: `a face of body ${i + 1} is damaged and cannot be meshed` });
      read.push(body);
    }
    const signatures = read.map((b) => ({
      faceCount: b.faces.length,
      gyration: gyration(Array.from({ length: b.corners.length / 3 }, (_, i) => [b.corners[3 * i], b.corners[3 * i + 1], b.corners[3 * i + 2]])),
    }));
    const vendorCount = solids.length - work.cuts.length - work.inserts.length;
    const texts = matchSolids(signatures, facts.value.solids);
    const bodies = read.map((body, i): BodyGeometry => {
      const name = workName(work, vendorCount, i) ?? (texts[i]?.name || `Body ${i + 1}`);
      const extent = boundsDiagonal(body.bbox);
      if (!body.valid) warnings.push(issue('step.invalid-body', { file, body: name }));
      if (!body.closed) warnings.push(issue('step.open-body', { file, body: name }));
      if (extent > LARGEST_LENGTH || extent < 0.1) warnings.push(issue('step.absurd-size', { file, body: name, extent: Number(extent.toPrecision(3)) }));
      return { ...body, name, ...(texts[i]?.colour ? { colour: texts[i]?.colour } : {}) };
    });
    report(0.97, 'Finishing');
    const { unit, unitScale } = facts.value;
    return done({ model: { format: 'step', unit, unitScale: unitScale * work.scale, chordTolerance, bodies }, warnings });
  });
}

/**
 * Opens a STEP file in the kernel for the length of `use`, which gets its solids in the order of the file, worked as
 * `facts.work` says (coordinates in mm). The shapes must not leave `use`.
 */
export function withStepSolids<T>(
  kernel: Kernel,
  bytes: Uint8Array,
  file: string,
  facts: Pick<StepFacts, 'surfaceModels'> & { readonly work?: ModelWork },
  use: (solids: TopoDS_Shape[]) => Result<T>,
): Result<T> {
  const { oc } = kernel;
  const path = '/import.step';
  return withScope((own) => {
    const reader = own(new oc.STEPControl_Reader());
    let whole: TopoDS_Shape | undefined;
    try {
      oc.FS.writeFile(path, bytes);
      const status = reader.ReadFile(path) as unknown as string;
      if (status !== 'IFSelect_RetDone') return failed('step.unreadable', { file, text: status.replace('IFSelect_', '') });
      reader.TransferRoots(own(new oc.Message_ProgressRange()));
      whole = reader.NbShapes() > 0 ? own(reader.OneShape()) : undefined;
      const solids = whole && !whole.IsNull() ? listSolids(oc, own, whole) : [];
      if (solids.length === 0) return noSolid(oc, own, whole, file, facts);
      const worked = workSolids(oc, own, solids, facts.work ?? NO_WORK, file);
      return worked.ok ? use(worked.value) : worked;
    } catch (error) {
      const text = kernelErrorText(kernel, error);
      if (error instanceof Error) throw error; // a broken kernel or one of our own invariants: the worker decides
      return failed('step.unreadable', { file, text });
    } finally {
      // Without these three the kernel keeps about 5 MB an import (measured over 50 imports).
      if (whole && !whole.IsNull()) oc.BRepTools.Clean(whole, true);
      const session = reader.WS();
      for (const mode of [1, 5, 6, 7]) session.ClearData(mode);
      session.delete();
      try {
        oc.FS.unlink(path);
      } catch {
        // the file was never written
      }
    }
  });
}

// Solids by position as well as by shape: an assembly may use one part twice.
function listSolids(oc: OpenCascadeInstance, own: Own, shape: TopoDS_Shape): TopoDS_Shape[] {
  return listSubShapes(oc, own, shape, 'TopAbs_SOLID')
    .map((s) => s.shape)
    .filter((solid) => withScope((inner) => listSubShapes(oc, inner, solid, 'TopAbs_FACE').length > 0));
}

function noSolid(oc: OpenCascadeInstance, own: Own, whole: TopoDS_Shape | undefined, file: string, facts: Pick<StepFacts, 'surfaceModels'>) {
  const shells = whole && !whole.IsNull() ? listSubShapes(oc, own, whole, 'TopAbs_SHELL').length : 0;
  const faces = whole && !whole.IsNull() ? listSubShapes(oc, own, whole, 'TopAbs_FACE').length : 0;
  const found =
    faces > 0
      ? `${faces} loose surfaces in ${Math.max(shells, 1)} shell${shells > 1 ? 's' : ''}`
      : facts.surfaceModels > 0
        ? 'surfaces or curves only'
        : 'no geometry';
  return failed('step.no-solid', { file, found });
}

/** A shape as a body with its topology and mesh; undefined where a face of it cannot be meshed. */
export function readBody(oc: OpenCascadeInstance, solid: TopoDS_Shape, id: string, chordTolerance: number, exactProperties: boolean): BodyGeometry | undefined {
  const { mesh, faceStart, faceHashes } = tessellate(oc, solid, { chordTolerance });
  const polylines = readEdgePolylines(oc, solid, chordTolerance);
  const topology = readTopology(oc, solid, polylines);
  // A damaged face has a border but no surface that could be meshed: the body would have a hole without a word.
  if (faceHashes.length !== topology.faceHashes.length || faceHashes.some((h, i) => h !== topology.faceHashes[i])) return undefined;
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
