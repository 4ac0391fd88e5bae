import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, type Result } from '#core/issues';
import type { Frame, Motion } from '#core/math';
import type { NamedPlacement } from '#core/mesh';
import type { HalfProfile } from '#core/outline';
import { trsfOf } from './gp.ts';
import type { Kernel } from './kernel.ts';
import type { ModelWork } from './model-work.ts';
import { withNamedPlacements } from './named-placements.ts';
import { type Own, withScope } from './scope.ts';
import { revolveLoop } from './shape-solids.ts';
import { type OpenSolids, withSolids } from './open-solids.ts';

/** Some bodies of a vendor file, moved, as one STEP file in mm; each body keeps its name. */
export interface StepPart {
  readonly bytes: Uint8Array;
  readonly file: string;
  readonly bodies: readonly { readonly id: string; readonly name: string }[];
  readonly targetFromFile: Motion;
  /** Coordinate systems to be written by name, in the target's frame. */
  readonly placements?: readonly NamedPlacement[];
  readonly work?: ModelWork;
}

/** Writes the bodies of a part, moved to their target, as a STEP file. The source is only read. */
export function writeStepPart(kernel: Kernel, part: StepPart): Result<Uint8Array> {
  return withSolids(kernel, part.bytes, part.file, part.work, (step) => writeOpenSolids(step, part));
}

/** The same of a file that is open. */
export const writeOpenSolids = (
  { kernel, solids }: OpenSolids,
  { bodies, targetFromFile, placements }: Pick<StepPart, 'bodies' | 'targetFromFile' | 'placements'>,
): Result<Uint8Array> =>
  done(
    withScope((own) => {
      const trsf = trsfOf(kernel.oc, own, targetFromFile);
      const moved = bodies.map(({ id, name }) => {
        const transform = own(new kernel.oc.BRepBuilderAPI_Transform(solids[Number(id.slice(1)) - 1], trsf, true, false));
        return { name, shape: own(transform.Shape()) };
      });
      return writeShapes(kernel.oc, own, moved, placements);
    }),
  );

/** A half profile turned once about the Z of its frame, as a STEP file in mm: true cylinders, cones, tori and balls. */
export const writeRevolvedStep = ({ oc }: Kernel, profile: HalfProfile, frame: Frame, name: string, placements: readonly NamedPlacement[] = []): Uint8Array =>
  withScope((own) =>
    writeShapes(
      oc,
      own,
      profile.map((loop) => ({ name, shape: revolveLoop(oc, own, loop, frame) })),
      placements,
    ),
  );

/** Shapes as a STEP file in mm, one product each, with their names; equal shapes give equal bytes. */
export function writeShapes(
  oc: OpenCascadeInstance,
  own: Own,
  shapes: { name: string; shape: TopoDS_Shape }[],
  placements: readonly NamedPlacement[] = [],
): Uint8Array {
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
  return new TextEncoder().encode(withNamedPlacements(named, placements));
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
