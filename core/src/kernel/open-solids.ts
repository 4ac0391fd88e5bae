import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, failed, type Issue, issue, type Result } from '#core/issues';
import { changedSurfaces } from './changed-faces.ts';
import { checkStepText } from './check-step.ts';
import type { Surface } from '#core/mesh';
import { isShapeFile, readSolidShape, shapeBodies } from '#core/outline';
import { listSubShapes } from './gp.ts';
import { type Kernel, kernelErrorText } from './kernel.ts';
import { type ModelWork, NO_WORK, workSolids } from './model-work.ts';
import { type SewnFaces, sewLooseFaces } from './sew-faces.ts';
import { makeShapeSolids } from './shape-solids.ts';
import { openScope, type Own, withScope } from './scope.ts';
import type { StepFacts } from './step-facts.ts';
import type { TextToRead } from './text-to-read.ts';

const PATH = '/import.step';

/** What is known of solids before they are looked at: those of a STEP file by its text, those of a shape by their names. */
export type SolidsFacts =
  | ({ readonly format: 'step' } & Omit<StepFacts, 'toRead'>)
  | { readonly format: 'outline'; readonly unit: 'mm'; readonly unitScale: 1; readonly names: readonly string[] };

/** Solids open in the kernel: those of a STEP file in its order, or those of a shape, after their work, in mm. Nothing of it may be used once it is closed. */
export class OpenSolids {
  readonly kernel: Kernel;
  readonly file: string;
  readonly facts: SolidsFacts;
  readonly work: ModelWork;
  readonly solids: readonly TopoDS_Shape[];
  /** What was mended to have them: loose faces that were sewn. */
  readonly mended: readonly Issue[];
  /** The chord that each solid was tessellated with last. A finer tessellation would serve for a coarser one, which then would not be what it is elsewhere. */
  private readonly meshed: (number | undefined)[] = [];
  /** By solid and face, what that is, whatever it is written as. */
  private readonly surfaces: Surface[][] = [];
  private readonly release: () => void;

  private constructor(
    kernel: Kernel,
    file: string,
    facts: SolidsFacts,
    work: ModelWork,
    solids: readonly TopoDS_Shape[],
    release: () => void,
    mended: readonly Issue[] = [],
  ) {
    this.kernel = kernel;
    this.file = file;
    this.facts = facts;
    this.work = work;
    this.solids = solids;
    this.release = release;
    this.mended = mended;
  }

  /** What the faces of a solid were found to be so far; whoever finds more puts it there. */
  surfacesOf(solid: number): Surface[] {
    return (this.surfaces[solid] ??= []);
  }

  static open(kernel: Kernel, bytes: Uint8Array, file: string, work: ModelWork = NO_WORK): Result<OpenSolids> {
    return isShapeFile(file) ? OpenSolids.openShape(kernel, bytes, file, work) : OpenSolids.openStep(kernel, bytes, file, work);
  }

  /** The solids of a shape, as `solid-shape.ts` has it. */
  private static openShape(kernel: Kernel, bytes: Uint8Array, file: string, work: ModelWork): Result<OpenSolids> {
    const shape = readSolidShape(bytes, file);
    if (!shape.ok) return shape;
    const { oc } = kernel;
    const scope = openScope();
    const refused = (answer: Result<never>): Result<never> => {
      scope.close();
      return answer;
    };
    try {
      const made = makeShapeSolids(oc, scope.own, shape.value, file);
      if (!made.ok) return refused(made);
      const worked = workSolids(oc, scope.own, made.value, work, file);
      if (!worked.ok) return refused(worked);
      const facts: SolidsFacts = { format: 'outline', unit: 'mm', unitScale: 1, names: shapeBodies(shape.value).map((b) => b.name) };
      const release = () => {
        for (const solid of worked.value) oc.BRepTools.Clean(solid, true);
        scope.close();
      };
      return done(new OpenSolids(kernel, file, facts, work, worked.value, release));
    } catch (error) {
      scope.close();
      return kernelFailure(kernel, file, error);
    }
  }

  private static openStep(kernel: Kernel, bytes: Uint8Array, file: string, work: ModelWork): Result<OpenSolids> {
    const facts = checkStepText(bytes, file);
    if (!facts.ok) return facts;
    const { oc } = kernel;
    const scope = openScope();
    let whole: TopoDS_Shape | undefined;
    const release = () => {
      // Without this and what follows each read the kernel keeps about 5 MB an import (measured over 50 imports).
      if (whole && !whole.IsNull()) oc.BRepTools.Clean(whole, true);
      whole = undefined;
      scope.close();
    };
    const refused = (answer: Result<never>): Result<never> => {
      release();
      return answer;
    };
    try {
      const { toRead, ...known } = facts.value;
      const read = readPlainly(oc, scope.own, bytes, toRead);
      if (read.status !== 'IFSelect_RetDone') return refused(failed('step.unreadable', { file, text: read.status.replace('IFSelect_', '') }));
      whole = read.whole;
      const sewn = whole && !whole.IsNull() && known.surfaceModels > 0 ? sewLooseFaces(oc, scope.own, whole, known.surfaceFaces) : undefined;
      const solids = whole && !whole.IsNull() ? [...listSolids(oc, scope.own, whole), ...(sewn?.bodies ?? [])] : [];
      if (solids.length === 0) return refused(noSolid(oc, scope.own, whole, file, facts.value));
      const worked = workSolids(oc, scope.own, solids, work, file);
      if (!worked.ok) return refused(worked);
      return done(new OpenSolids(kernel, file, { format: 'step', ...known }, work, worked.value, release, sewn ? sayMended(sewn, file) : []));
    } catch (error) {
      release();
      return kernelFailure(kernel, file, error);
    }
  }

  /** Does something with the solids; what the kernel throws becomes an issue of the file. */
  use<T>(work: (solids: readonly TopoDS_Shape[]) => Result<T>): Result<T> {
    try {
      return work(this.solids);
    } catch (error) {
      return kernelFailure(this.kernel, this.file, error);
    }
  }

  /** To be called before a solid is tessellated: what other chords have left is gone then. */
  beforeMeshing(index: number, chord: number): void {
    // Another solid may be the same shape in another place, with the same tessellation.
    const isOther = this.meshed.some((before) => before !== undefined && before !== chord);
    if (isOther && this.meshed[index] !== chord) this.kernel.oc.BRepTools.Clean(this.solids[index], true);
    this.meshed[index] = chord;
  }

  close(): void {
    this.release();
  }
}

/** Opens a STEP file or a shape for the length of `use`. */
export function withSolids<T>(kernel: Kernel, bytes: Uint8Array, file: string, work: ModelWork | undefined, use: (solids: OpenSolids) => Result<T>): Result<T> {
  const opened = OpenSolids.open(kernel, bytes, file, work);
  if (!opened.ok) return opened;
  try {
    return opened.value.use(() => use(opened.value));
  } finally {
    opened.value.close();
  }
}

function sayMended({ faces, bodies, closed, left }: SewnFaces, file: string): Issue[] {
  const out: Issue[] = [];
  if (bodies.length > 0)
    out.push(issue('step.sewn', { file, faces: faces - Math.min(left, faces), bodies: bodies.length === 1 ? 'one body' : `${bodies.length} bodies` }));
  if (bodies.length > 0 && closed > 0) out.push(issue('step.hole-closed', { file, holes: closed === 1 ? 'A hole' : `${closed} holes` }));
  if (left > 0) out.push(issue('step.surfaces-left', { file, faces: left === 1 ? 'one loose surface' : `${left} loose surfaces` }));
  return out;
}

// A broken kernel or one of our own invariants is thrown on: the worker decides.
function kernelFailure(kernel: Kernel, file: string, error: unknown): Result<never> {
  if (error instanceof Error) throw error;
  return failed('step.unreadable', { file, text: kernelErrorText(kernel, error) });
}

// With plain surfaces for splines that are such, but for those that the kernel takes amiss.
function readPlainly(oc: OpenCascadeInstance, own: Own, bytes: Uint8Array, toRead: TextToRead): ReturnType<typeof readShape> {
  const read = (asWritten: ReadonlySet<number>) => {
    const text = toRead.text(asWritten);
    return readShape(oc, own, text === undefined ? bytes : new TextEncoder().encode(text));
  };
  const first = read(new Set());
  const surfaces = toRead.surfaces();
  if (surfaces.size === 0) return first;
  if (!first.whole || first.whole.IsNull()) return read(surfaces);
  const changed = changedSurfaces(oc, first.whole, toRead.shells());
  return changed?.size === 0 ? first : read(changed ?? surfaces);
}

function readShape(oc: OpenCascadeInstance, own: Own, bytes: Uint8Array): { status: string; whole?: TopoDS_Shape } {
  const reader = new oc.STEPControl_Reader();
  try {
    oc.FS.writeFile(PATH, bytes);
    const status = reader.ReadFile(PATH) as unknown as string;
    if (status !== 'IFSelect_RetDone') return { status };
    reader.TransferRoots(own(new oc.Message_ProgressRange()));
    return { status, ...(reader.NbShapes() > 0 ? { whole: own(reader.OneShape()) } : {}) };
  } finally {
    // The text's own entities are not needed any more.
    const session = reader.WS();
    for (const mode of [1, 5, 6, 7]) session.ClearData(mode);
    session.delete();
    reader.delete();
    try {
      oc.FS.unlink(PATH);
    } catch {
      // the file was never written
    }
  }
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
