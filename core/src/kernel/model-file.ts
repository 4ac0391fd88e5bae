// A vendor file of any kind, by its content: STEP through the kernel, meshes by their own readers.
import { done, failed, type Result } from '#core/issues';
import { meshFormatOf, type MeshFile, type Model, modelFromMeshes, readMeshFile } from '#core/mesh';
import type { Kernel } from './kernel.ts';
import { type ModelWork, NO_WORK } from './model-work.ts';
import { type SampledBody, sampleStep } from './sample-faces.ts';
import { type ReadModel, readStep, type ReadStepOptions } from './step-read.ts';

/** Opens a STEP, STL, OBJ, 3MF or GLB file as a model with faces and edges; coordinates in mm. */
export async function readModelFile(kernel: Kernel, bytes: Uint8Array, file: string, options: ReadStepOptions = {}): Promise<Result<ReadModel>> {
  const format = formatOf(bytes, file);
  if (format === 'step') return readStep(kernel, bytes, file, options);
  const read = await readMeshes(bytes, file, format, options.work);
  return read.ok ? modelFromMeshes(read.value, file, options.onProgress) : read;
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
  return done(ids.map((id) => sampleMesh(model, id)));
}

/** Whether a file holds a B-rep, which can be written as STEP again. */
export const hasBrep = (bytes: Uint8Array, file: string): boolean => formatOf(bytes, file) === 'step';

// A STEP file that is not one is told by the STEP reader, with what it holds.
const formatOf = (bytes: Uint8Array, file: string) => (/\.(step|stp)$/i.test(file) ? 'step' : (meshFormatOf(bytes, file) ?? 'step'));

async function readMeshes(bytes: Uint8Array, file: string, format: MeshFile['format'], work: ModelWork = NO_WORK): Promise<Result<MeshFile>> {
  if (work.cuts.length > 0) return failed('mesh.no-cut', { file });
  const read = await readMeshFile(bytes, file, format);
  return read.ok ? done({ ...read.value, unitScale: read.value.unitScale * work.scale }) : read;
}

function sampleMesh(model: Model, id: string): SampledBody {
  const body = model.bodies.find((b) => b.id === id) as Model['bodies'][number];
  const { positions: p, triangles: t } = body.mesh;
  const skin = new Float64Array(p.length + t.length);
  skin.set(p);
  for (let i = 0; i < t.length; i += 3) for (let k = 0; k < 3; k++) skin[p.length + i + k] = (p[3 * t[i] + k] + p[3 * t[i + 1] + k] + p[3 * t[i + 2] + k]) / 3;
  return {
    id,
    mesh: body.mesh,
    faceStart: body.faceStart,
    // Flat to the builders: whatever its face was fitted as, a triangle of the file is its own surface.
    surfaces: body.faces.map(() => ({ kind: 'plane', origin: [0, 0, 0], normal: [0, 0, 1] })),
    volume: body.volume,
    points: new Float64Array(0),
    pointTriangle: new Uint32Array(0),
    skin,
  };
}
