// A vendor file of any kind, by its content: STEP through the kernel, meshes by their own readers.
import { done, failed, type Result } from '#core/issues';
import { DISPLAY_CHORD } from '#core/math';
import { type BodyGeometry, meshFormatOf, type Model, modelFromMeshes, moveBody, readMeshFile } from '#core/mesh';
import type { Kernel } from './kernel.ts';
import { cutMeshBody } from './mesh-booleans.ts';
import { type ModelWork, moveShape, NO_WORK, unknownBody, workName } from './model-work.ts';
import { makeNominalInsert } from './nominal-insert.ts';
import { withScope } from './scope.ts';
import { sampleBody, type SampledBody, sampleStep } from './sample-faces.ts';
import { sampledMesh } from './sampled-mesh.ts';
import { readBody, type ReadModel, readStep, type ReadStepOptions } from './step-read.ts';

/** Opens a STEP, STL, OBJ, 3MF or GLB file as a model with faces and edges; coordinates in mm. */
export async function readModelFile(kernel: Kernel, bytes: Uint8Array, file: string, options: ReadStepOptions = {}): Promise<Result<ReadModel>> {
  const format = formatOf(bytes, file);
  if (format === 'step') return readStep(kernel, bytes, file, options);
  const work = options.work ?? NO_WORK;
  const read = await readMeshFile(bytes, file, format);
  if (!read.ok) return read;
  const made = modelFromMeshes({ ...read.value, unitScale: read.value.unitScale * work.scale }, file, options.onProgress);
  if (!made.ok) return made;
  const bodies = await workMeshBodies(kernel, made.value.model.bodies, work, file);
  return bodies.ok ? done({ ...made.value, model: { ...made.value.model, bodies: bodies.value } }) : bodies;
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

/**
 * Bodies of a vendor file as envelopes are built from. A mesh file is what it is: its triangles are the true surface, nothing is lost
 * between them, and `chordTolerance` does not matter.
 */
export async function sampleModelFile(
  kernel: Kernel,
  bytes: Uint8Array,
  file: string,
  options: Parameters<typeof sampleStep>[3],
): Promise<Result<SampledBody[]>> {
  const format = formatOf(bytes, file);
  if (format === 'step') return sampleStep(kernel, bytes, file, options);
  const read = await readModelFile(kernel, bytes, file, { work: options.work });
  if (!read.ok) return read;
  const { model } = read.value;
  const ids = options.ids ?? model.bodies.map((b) => b.id);
  const unknown = ids.find((id) => !model.bodies.some((b) => b.id === id));
  if (unknown !== undefined) return failed('envelope.unknown-body', { file, body: unknown, found: model.bodies.map((b) => b.id).join(', ') });
  const vendorCount = model.bodies.length - (options.work?.inserts.length ?? 0);
  return done(ids.map((id) => sampleAdded(kernel, options, id, vendorCount) ?? sampleMesh(model, id)));
}

// A nominal insert has true faces, also beside a mesh.
function sampleAdded(kernel: Kernel, { work, chordTolerance }: Parameters<typeof sampleStep>[3], id: string, vendorCount: number): SampledBody | undefined {
  const added = work?.inserts[Number(id.slice(1)) - 1 - vendorCount];
  if (!added || !work) return undefined;
  return withScope((own) => {
    const shape = makeNominalInsert(kernel.oc, own, added.insert, added.frame);
    return sampleBody(kernel.oc, moveShape(kernel.oc, own, shape, work, id), id, chordTolerance);
  });
}

/** Whether a file holds a B-rep, which can be written as STEP again. */
export const hasBrep = (bytes: Uint8Array, file: string): boolean => formatOf(bytes, file) === 'step';

// A STEP file that is not one is told by the STEP reader, with what it holds.
const formatOf = (bytes: Uint8Array, file: string) => (/\.(step|stp)$/i.test(file) ? 'step' : (meshFormatOf(bytes, file) ?? 'step'));

function sampleMesh(model: Model, id: string): SampledBody {
  const body = model.bodies.find((b) => b.id === id) as Model['bodies'][number];
  const { positions: p, triangles: t } = body.mesh;
  const skin = new Float64Array(p.length + t.length);
  skin.set(p);
  for (let i = 0; i < t.length; i += 3) for (let k = 0; k < 3; k++) skin[p.length + i + k] = (p[3 * t[i] + k] + p[3 * t[i + 1] + k] + p[3 * t[i + 2] + k]) / 3;
  return {
    ...sampledMesh(body.mesh, id),
    faceStart: body.faceStart,
    // Flat to the builders: whatever its face was fitted as, a triangle of the file is its own surface.
    surfaces: body.faces.map(() => ({ kind: 'plane', origin: [0, 0, 0], normal: [0, 0, 1] })),
    fitted: body.faces.map((f) => f.surface),
    volume: body.volume,
    skin,
    skinEdges: skin.length,
  };
}
