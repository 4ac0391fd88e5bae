import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, type Result } from '#core/issues';
import { addScaled, type Frame, type Motion, type Vec3 } from '#core/math';
import { type HalfProfile, lengthOfPiece, type PathPiece, placeOnPiece, type ProfilePoint } from '#core/outline';
import { trsfOf } from './gp.ts';
import type { Kernel } from './kernel.ts';
import type { ModelWork } from './model-work.ts';
import { type Own, withScope } from './scope.ts';
import { type OpenStep, withStep } from './open-step.ts';

/** Some bodies of a vendor file, moved, as one STEP file in mm; each body keeps its name. */
export interface StepPart {
  readonly bytes: Uint8Array;
  readonly file: string;
  readonly bodies: readonly { readonly id: string; readonly name: string }[];
  readonly targetFromFile: Motion;
  readonly work?: ModelWork;
}

/** Writes the bodies of a part, moved to their target, as a STEP file. The source is only read. */
export function writeStepPart(kernel: Kernel, part: StepPart): Result<Uint8Array> {
  return withStep(kernel, part.bytes, part.file, part.work, (step) => writeOpenStep(step, part));
}

/** The same of a file that is open. */
export const writeOpenStep = ({ kernel, solids }: OpenStep, { bodies, targetFromFile }: Pick<StepPart, 'bodies' | 'targetFromFile'>): Result<Uint8Array> =>
  done(
    withScope((own) => {
      const trsf = trsfOf(kernel.oc, own, targetFromFile);
      const moved = bodies.map(({ id, name }) => {
        const transform = own(new kernel.oc.BRepBuilderAPI_Transform(solids[Number(id.slice(1)) - 1], trsf, true, false));
        return { name, shape: own(transform.Shape()) };
      });
      return writeShapes(kernel.oc, own, moved);
    }),
  );

/** A half profile turned once about the Z of its frame, as a STEP file in mm: true cylinders, cones, tori and balls. */
export function writeRevolvedStep(kernel: Kernel, profile: HalfProfile, { origin, z: direction, x }: Frame, name: string): Uint8Array {
  const { oc } = kernel;
  const placed = ([z, r]: ProfilePoint): Vec3 => addScaled(addScaled(origin, direction, z), x, r);
  return withScope((own) => {
    const line = own(new oc.gp_Ax1(own(new oc.gp_Pnt(...origin)), own(new oc.gp_Dir(...direction))));
    const point = (p: ProfilePoint) => own(new oc.gp_Pnt(...placed(p)));
    const shapes = profile.map((loop) => {
      const wire = own(new oc.BRepBuilderAPI_MakeWire());
      for (const piece of withoutSpecks(loop)) {
        const curve =
          piece.kind === 'line' ? undefined : own(own(new oc.GC_MakeArcOfCircle(point(piece.from), point(placeOnPiece(piece, 0.5)), point(piece.to))).Value());
        const edge = curve ? new oc.BRepBuilderAPI_MakeEdge(curve) : new oc.BRepBuilderAPI_MakeEdge(point(piece.from), point(piece.to));
        wire.Add(own(own(edge).Edge()));
      }
      const face = own(own(new oc.BRepBuilderAPI_MakeFace(own(wire.Wire()), true)).Face());
      const revolved = own(own(new oc.BRepPrimAPI_MakeRevol(face, line, false)).Shape());
      return { name, shape: revolved };
    });
    return writeShapes(oc, own, shapes);
  });
}

// mm. The kernel makes no edge shorter than a tenth of this; the point of a drill that was read from a mesh may have one.
const SPECK = 1e-6;

// The pieces of a loop but for those that are next to nothing: what comes before and after one meets.
function withoutSpecks(loop: HalfProfile[number]): PathPiece[] {
  const kept = loop.filter((piece) => lengthOfPiece(piece) >= SPECK);
  return kept.map((piece, i) => ({ ...piece, from: kept[(i + kept.length - 1) % kept.length].to }));
}

/** Shapes as a STEP file in mm, one product each, with their names; equal shapes give equal bytes. */
export function writeShapes(oc: OpenCascadeInstance, own: Own, shapes: { name: string; shape: TopoDS_Shape }[]): Uint8Array {
  const writer = own(new oc.STEPControl_Writer());
  const range = own(new oc.Message_ProgressRange());
  for (const { shape } of shapes) writer.Transfer(shape, 'STEPControl_AsIs', true, range);
  const path = '/export.step';
  const status = writer.Write(path) as unknown as string;
  if (status !== 'IFSelect_RetDone') throw new Error(`step-write.writeShapes: the kernel could not write; got ${status}`);
  const text = new TextDecoder().decode(oc.FS.readFile(path));
  oc.FS.unlink(path);
  const session = writer.WS();
  for (const mode of [1, 5, 6, 7]) session.ClearData(mode);
  session.delete();
  // The kernel names products after itself and stamps the time; both are replaced, so that equal parts give equal files.
  let at = 0;
  const named = text
    .replace(/=\s*PRODUCT\(\s*'(?:[^']|'')*'\s*,\s*'(?:[^']|'')*'/g, () => {
      const name = part21String(shapes[Math.min(at++, shapes.length - 1)].name);
      return `=PRODUCT(${name},${name}`;
    })
    .replace(/FILE_NAME\([^;]*;/, "FILE_NAME('part','1970-01-01T00:00:00',(''),(''),'Ruota','Ruota','');");
  return new TextEncoder().encode(named);
}

/** Text as a Part 21 string: apostrophes doubled, everything beyond ASCII escaped. */
export function part21String(text: string): string {
  const escaped = text
    .replaceAll('\\', '\\\\')
    .replaceAll("'", "''")
    // biome-ignore lint: control characters are what is looked for
    .replace(
      /[^\x20-\x7e]+/g,
      (run) => `\\X2\\${[...Array(run.length).keys()].map((i) => run.charCodeAt(i).toString(16).toUpperCase().padStart(4, '0')).join('')}\\X0\\`,
    );
  return `'${escaped}'`;
}
