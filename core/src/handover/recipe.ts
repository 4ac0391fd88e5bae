import { z } from 'zod';
import { failed, type Issue, issue, type Result, done } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { encodeModel, type Model } from '#core/mesh';
import {
  ASSEMBLY_VERSION,
  type AssemblyRecord,
  COMPONENT_KINDS,
  type ComponentRecord,
  connectionSizeSchema,
  DEFAULT_CHOICE,
  frameSchema,
  geometryChoiceSchema,
  hashBytes,
  type MadeGeometry,
  readRecord,
  roleSchema,
  tipSchema,
} from '#core/records';
import { makeRecordGeometry } from '#core/making';
import { componentFromFile } from '#core/sources';

const markedSchema = z.object({ name: z.string().default(''), connection: connectionSizeSchema, frame: frameSchema });

/** A recipe: model files with their marks, and how they join. Documented in docs/recipe.md; frames in each file's coordinates, mm. */
export const recipeSchema = z.object({
  name: z.string().min(1),
  components: z
    .array(
      z.object({
        key: z.string().min(1),
        file: z.string().min(1),
        name: z.string().optional(),
        kind: z.enum(COMPONENT_KINDS).default('other'),
        roles: z.record(z.string(), roleSchema).default({}),
        mount: markedSchema.nullable().default(null),
        seats: z.array(markedSchema.extend({ id: z.string().min(1) })).default([]),
        tips: z.array(tipSchema.partial({ origin: true, programmedPoint: true, name: true })).default([]),
        geometry: z
          .array(
            geometryChoiceSchema
              .partial({ closeBelow: true, overrides: true, bores: true, bridge: true, drawn: true })
              .extend({ target: z.enum(['cutting', 'non-cutting']) }),
          )
          .default([]),
      }),
    )
    .min(1),
  pieces: z
    .array(
      z.object({
        id: z.string().min(1),
        component: z.string().min(1),
        parent: z.object({ piece: z.string(), seat: z.string() }).nullable().default(null),
        stickOut: z.number().default(0),
        rollDeg: z.number().default(0),
      }),
    )
    .min(1),
});
export type Recipe = z.infer<typeof recipeSchema>;

/** Records, files and geometry that a recipe describes. */
export interface Cooked {
  readonly assembly: AssemblyRecord;
  readonly components: Record<string, ComponentRecord>;
  readonly sources: Record<string, Uint8Array>;
  readonly models: Record<string, Model>;
  /** Made geometry as model blobs by hash (STL bytes are made at packing), and the encoded models. */
  readonly blobs: Record<string, Uint8Array>;
  readonly warnings: readonly Issue[];
}

/** Validates a recipe's text. */
export function readRecipe(text: string, file: string): Result<Recipe> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return failed('record.bad', { file, field: 'recipe', text: error instanceof Error ? error.message : 'not JSON' });
  }
  const parsed = recipeSchema.safeParse(json);
  if (!parsed.success)
    return {
      ok: false,
      issues: parsed.error.issues.slice(0, 5).map((i) => issue('record.bad', { file, field: i.path.join('.') || 'recipe', text: i.message })),
    };
  const recipe = parsed.data;
  const missing = (field: string, text: string) => failed('recipe.missing', { file, field, text });
  const ids = new Set(recipe.pieces.map((p) => p.id));
  if (ids.size !== recipe.pieces.length) return failed('record.bad', { file, field: 'pieces', text: 'two pieces have the same id' });
  for (const [i, piece] of recipe.pieces.entries()) {
    const component = recipe.components.find((c) => c.key === piece.component);
    if (!component) return missing(`pieces.${i}.component`, piece.component);
    const parent = recipe.pieces.find((p) => p.id === piece.parent?.piece);
    if (piece.parent && !parent) return missing(`pieces.${i}.parent.piece`, piece.parent.piece);
    const seats = recipe.components.find((c) => c.key === parent?.component)?.seats ?? [];
    if (piece.parent && !seats.some((s) => s.id === piece.parent?.seat)) return missing(`pieces.${i}.parent.seat`, piece.parent.seat);
  }
  return done(recipe);
}

/** Reads the files of a recipe, marks them, and makes the geometry it asks for. `fileBytes` gives a file's content by its name. */
export async function cookRecipe(
  kernel: Kernel,
  recipe: Recipe,
  fileBytes: (name: string) => Uint8Array,
  options: { now: string; onProgress?: (share: number, text: string) => void },
): Promise<Result<Cooked>> {
  const components: Record<string, ComponentRecord> = {};
  const sources: Record<string, Uint8Array> = {};
  const models: Record<string, Model> = {};
  const blobs: Record<string, Uint8Array> = {};
  const warnings: Issue[] = [];
  for (const [index, given] of recipe.components.entries()) {
    options.onProgress?.(index / recipe.components.length, given.file);
    const bytes = fileBytes(given.file);
    const fileName = given.file.split('/').at(-1) ?? given.file;
    let encoded: Uint8Array | undefined;
    const read = await componentFromFile(kernel, {
      bytes,
      fileName,
      id: given.key,
      now: options.now,
      modelBlobOf: (model) => {
        encoded = encodeModel(model);
        return hashBytes(encoded);
      },
    });
    if (!read.ok) return read;
    const { record, model } = read.value;
    warnings.push(...read.value.warnings);
    const unknown = Object.keys(given.roles).find((id) => !record.bodies.some((b) => b.id === id));
    if (unknown !== undefined) return failed('envelope.unknown-body', { file: given.file, body: unknown, found: record.bodies.map((b) => b.id).join(', ') });
    const typed = { from: 'typed' as const, evidence: 'recipe' };
    const marked: ComponentRecord = {
      ...record,
      name: given.name ?? record.name,
      componentKind: given.kind,
      bodies: record.bodies.map((b) => ({ ...b, role: given.roles[b.id] ?? b.role })),
      mount: given.mount ? { id: 'mount', origin: typed, ...given.mount } : null,
      seats: given.seats.map((s) => ({ ...s, origin: typed })),
      tips: given.tips.map((t) => ({ ...t, name: t.name ?? 'Tip', programmedPoint: t.programmedPoint ?? 'virtual tip', origin: t.origin ?? typed })),
    };
    const geometry: MadeGeometry[] = [];
    for (const { target, ...choice } of given.geometry) {
      const made = await makeRecordGeometry(kernel, marked, bytes, target, { ...DEFAULT_CHOICE, ...choice });
      if (!made.ok) return made;
      geometry.push(made.value.geometry);
      blobs[made.value.geometry.blob] = made.value.blob;
    }
    const valid = readRecord({ ...marked, geometry }, given.file);
    if (!valid.ok) return valid;
    components[given.key] = valid.value as ComponentRecord;
    sources[given.key] = bytes;
    models[given.key] = model;
    if (encoded) blobs[record.model.blob] = encoded;
  }
  const assembly: AssemblyRecord = {
    kind: 'assembly',
    version: ASSEMBLY_VERSION,
    id: 'assembly',
    name: recipe.name,
    pieces: recipe.pieces.map((p) => ({
      id: p.id,
      componentId: p.component,
      parent: p.parent ? { pieceId: p.parent.piece, seatId: p.parent.seat } : null,
      stickOut: p.stickOut,
      rollDeg: p.rollDeg,
    })),
    createdAt: options.now,
    changedAt: options.now,
  };
  return done({ assembly, components, sources, models, blobs, warnings });
}
