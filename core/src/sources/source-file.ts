import { done } from '#core/issues';
import { type Kernel, type ModelWork, NO_WORK, type OpenModel, readModelFile } from '#core/kernel';
import { DISPLAY_CHORD } from '#core/math';
import type { Model } from '#core/mesh';
import { type ComponentRecord, hashBytes, newComponent, stepMotion, summarizeModel } from '#core/records';
import { nominalInsertOf } from '#core/standards';

/** What is done to a component's vendor bodies when its file is opened. */
export function workOf({ source, cuts, inserts, moves }: Pick<ComponentRecord, 'source' | 'cuts' | 'inserts' | 'moves'>): ModelWork {
  return {
    scale: source.unitScale / source.foundScale,
    cuts,
    inserts: inserts.map(({ designation, frame }) => {
      const insert = nominalInsertOf(designation);
      if (!insert.ok) throw new Error(`source-file.workOf: a designation that was read before; got ${designation}`);
      return { insert: insert.value, frame };
    }),
    moves: moves.map(({ body, step }) => ({ body, motion: stepMotion(step) })),
  };
}

/** Reads a vendor file into a new component record and its model; the caller stores the bytes and the model's blob. */
export async function componentFromFile(
  kernel: Kernel,
  given: {
    bytes: Uint8Array;
    fileName: string;
    id: string;
    now: string;
    modelBlobOf: (model: Model) => string;
    chordTolerance?: number;
    work?: ModelWork;
    /** The file with that work, where it is open already. */
    opened?: OpenModel;
    onProgress?: (share: number, text: string) => void;
  },
) {
  const { bytes, fileName, work = NO_WORK, opened, onProgress } = given;
  const options = { chordTolerance: given.chordTolerance ?? DISPLAY_CHORD, onProgress };
  const read = opened ? opened.read(options) : await readModelFile(kernel, bytes, fileName, { ...options, work });
  if (!read.ok) return read;
  const { model, warnings } = read.value;
  const record = newComponent(
    {
      id: given.id,
      name: fileName.replace(/\.(step|stp|stl|obj|3mf|glb)$/i, '') || 'Component',
      source: {
        kind: 'file',
        blob: hashBytes(bytes),
        fileName,
        format: model.format,
        unit: model.unit,
        unitScale: model.unitScale,
        foundScale: model.unitScale / work.scale,
        bytes: bytes.length,
      },
      modelBlob: given.modelBlobOf(model),
      now: given.now,
    },
    summarizeModel(model),
  );
  return done({ record, model, warnings });
}
