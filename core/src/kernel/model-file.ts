// A vendor file of any kind, by its content: STEP through the kernel, meshes by their own readers.
import { done, failed, issue, type Result } from '#core/issues';
import { DISPLAY_CHORD } from '#core/math';
import { isShapeFile } from '#core/outline';
import { type BodyGeometry, type MeshFormat, meshFormatOf, modelFromMeshes, moveBody, readMeshFile } from '#core/mesh';
import type { Kernel } from './kernel.ts';
import { readKnown } from './known-models.ts';
import { cutMeshBody } from './mesh-booleans.ts';
import { type ModelWork, NO_WORK, unknownBody, workName, workPlacements } from './model-work.ts';
import { makeNominalInsert } from './nominal-insert.ts';
import { withScope } from './scope.ts';
import { isTessellatedStep, readStepTriangles } from './step-triangles.ts';
import { readBody, type ReadModel, readSolids, type ReadSolidsOptions } from './read-solids.ts';

/** Opens a STEP, STL, OBJ, 3MF or GLB file, or the shape of an outline, as a model with faces and edges; coordinates in mm. */
export async function readModelFile(kernel: Kernel, bytes: Uint8Array, file: string, options: ReadSolidsOptions = {}): Promise<Result<ReadModel>> {
  const format = formatOf(bytes, file);
  return readKnown(kernel, bytes, file, options, () =>
    format === 'step' || format === 'outline' ? readSolids(kernel, bytes, file, options) : readMeshModel(kernel, bytes, file, options),
  );
}

/** The same of a mesh file, or of a STEP file that holds triangles. */
export async function readMeshModel(kernel: Kernel, bytes: Uint8Array, file: string, options: ReadSolidsOptions): Promise<Result<ReadModel>> {
  const work = options.work ?? NO_WORK;
  const format = formatOf(bytes, file);
  const step = format === 'step triangles' ? readStepTriangles(bytes, file) : undefined;
  const read = step ?? (await readMeshFile(bytes, file, format as MeshFormat));
  if (!read.ok) return read;
  const made = modelFromMeshes({ ...read.value, unitScale: read.value.unitScale * work.scale }, file, options.onProgress);
  if (!made.ok) return made;
  const { model, warnings } = made.value;
  const bodies = await workMeshBodies(kernel, model.bodies, work, file);
  if (!bodies.ok) return bodies;
  const named = step?.ok ? step.value.placements : [];
  return done({
    model: { ...model, bodies: bodies.value, ...workPlacements(named, work) },
    warnings: step ? [issue('step.triangles', { file }), ...warnings] : warnings,
  });
}

// What is done to the bodies of a mesh: as `workSolids` for a B-rep.
async function workMeshBodies(kernel: Kernel, vendor: readonly BodyGeometry[], work: ModelWork, file: string): Promise<Result<BodyGeometry[]>> {
  const out = [...vendor];
  for (const [i, cut] of work.cuts.entries()) {
    const index = Number(cut.body.slice(1)) - 1;
    const body = out[index];
    if (!body) return unknownBody(file, cut.body, out.length);
    const named = { inside: { id: `b${out.length + 1}`, name: workName(work, vendor.length, vendor.length + i) ?? '' }, outside: body };
    const sides = body.closed ? await cutMeshBody(body, cut, named, kernel.booleansUrl) : undefined;
    if (!sides) return failed('mesh.no-cut', { file, body: body.name });
    const { inside, outside } = sides;
    if (!inside || !outside) return failed('cut.nothing', { file, body: cut.body, cut: i + 1, what: inside ? 'inside' : 'outside' });
    out[index] = { ...outside, ...(body.colour ? { colour: body.colour } : {}) };
    out.push(inside);
  }
  for (const { insert, frame } of work.inserts) {
    const made = withScope((own) => readBody(kernel.oc, makeNominalInsert(kernel.oc, own, insert, frame), `b${out.length + 1}`, DISPLAY_CHORD, false));
    if (!made) throw new Error(`model-file.workMeshBodies: a nominal insert that meshes; got ${insert.code}`);
    out.push({ ...made, name: insert.code });
  }
  for (const { body, motion } of work.moves) {
    const index = Number(body.slice(1)) - 1;
    if (!out[index]) return unknownBody(file, body, out.length);
    out[index] = moveBody(motion, out[index]);
  }
  return done(out);
}

/** Whether a file holds a B-rep, which can be written as STEP again. */
export const hasBrep = (bytes: Uint8Array, file: string): boolean => ['step', 'outline'].includes(formatOf(bytes, file));

/** What a file holds, by its content and its name. A STEP file that is not one is told by the STEP reader, with what it holds. */
export function formatOf(bytes: Uint8Array, file: string): MeshFormat | 'step' | 'step triangles' | 'outline' {
  if (isShapeFile(file)) return 'outline';
  const mesh = /\.(step|stp)$/i.test(file) ? undefined : meshFormatOf(bytes, file);
  return mesh ?? (isTessellatedStep(bytes) ? 'step triangles' : 'step');
}
