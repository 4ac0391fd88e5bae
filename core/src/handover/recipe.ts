import { z } from 'zod';
import { failed, type Issue, type Result, done } from '#core/issues';
import { SENSES } from '#core/cutting';
import { type Kernel, OpenModel } from '#core/kernel';
import { encodeModel, type Model } from '#core/mesh';
import {
  assemblyEdgeSchema,
  ASSEMBLY_VERSION,
  type AssemblyRecord,
  COMPONENT_KINDS,
  type ComponentRecord,
  connectionSizeSchema,
  DEFAULT_CHOICE,
  frameSchema,
  geometryChoiceSchema,
  hashBytes,
  readRecord,
  readText,
  roleSchema,
  tipSchema,
  vec3Schema,
  ON_MASTER,
} from '#core/records';
import { stickOutOf, stickOutSchema } from '#core/assembly';
import { type Crew, makeRecordGeometry, type RecordGeometry } from '#core/making';
import { componentFromFile, type OpenSources } from '#core/sources';

const markedSchema = z.object({
  name: z.string().default(''),
  connection: connectionSizeSchema,
  frame: frameSchema,
  leastIn: z.number().min(0).max(1000).optional(),
});

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
        feet: z.array(markedSchema.extend({ id: z.string().min(1) })).default([]),
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
        /** A number is mm from the seat to the mount; else by how it is measured. */
        stickOut: z.union([z.number(), stickOutSchema]).default(0),
        rollDeg: z.number().default(0),
        pressed: z.boolean().optional(),
      }),
    )
    .min(1),
  edges: z
    .array(
      z.object({
        piece: z.string().min(1),
        tip: z.string().min(1),
        name: z.string().max(200).optional(),
        number: z.number().int().min(1).max(99_999).optional(),
        sense: z.enum(SENSES).optional(),
        spindle: z.enum(['main', 'counter']).optional(),
        point: assemblyEdgeSchema.shape.point,
      }),
    )
    .default([]),
  /** Where the gauge line stands, if not at the mount of the first piece. */
  gaugeLine: z
    .union([
      z.object({ piece: z.string().min(1), seat: z.string().min(1) }),
      z.object({ piece: z.string().min(1), name: z.string().max(200).default('typed point'), at: vec3Schema }),
    ])
    .optional(),
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
  const read = readText(recipeSchema, text, file, 'recipe');
  if (!read.ok) return read;
  const recipe = read.value;
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
  if (recipe.gaugeLine) {
    const { piece: id } = recipe.gaugeLine;
    const piece = recipe.pieces.find((p) => p.id === id);
    if (!piece) return missing('gaugeLine.piece', id);
    const seats = recipe.components.find((c) => c.key === piece.component)?.seats ?? [];
    if ('seat' in recipe.gaugeLine && !seats.some((s) => s.id === (recipe.gaugeLine as { seat: string }).seat))
      return missing('gaugeLine.seat', recipe.gaugeLine.seat);
  }
  return done(recipe);
}

/** How a recipe is cooked: who makes geometry, and where its files stay open for what comes after. */
export interface CookMeans {
  readonly now: string;
  readonly crew?: Crew;
  readonly open?: OpenSources;
  /** Lets others have their turn, such as the crew with what it has done. */
  readonly giveWay?: () => Promise<unknown>;
  readonly onProgress?: (share: number, text: string) => void;
}

/** A component of a recipe: its record with all marks, but without geometry yet. */
interface Marked {
  readonly given: Recipe['components'][number];
  readonly bytes: Uint8Array;
  /** Where something is to be made of it. */
  readonly opened: OpenModel | undefined;
  readonly record: ComponentRecord;
  readonly model: Model;
  readonly encoded: Uint8Array;
  readonly warnings: readonly Issue[];
}

/** Reads the files of a recipe, marks them, and makes the geometry it asks for. `fileBytes` gives a file's content by its name. */
export async function cookRecipe(
  kernel: Kernel,
  recipe: Recipe,
  fileBytes: (name: string) => Uint8Array,
  { now, crew, open, giveWay = () => Promise.resolve(), onProgress }: CookMeans,
): Promise<Result<Cooked>> {
  const marked: Marked[] = [];
  const making: Promise<Result<RecordGeometry[]>>[] = [];
  const report = (text: string, done: number) => onProgress?.((marked.length + done) / (2 * recipe.components.length), text);
  let made = 0;
  let refused: Result<never> | undefined;
  for (const given of recipe.components) {
    report(given.file, made);
    const component = await markComponent(kernel, given, fileBytes(given.file), now, open !== undefined);
    if (!component.ok) {
      refused = component;
      break;
    }
    marked.push(component.value);
    // The crew makes it while the next one is read.
    making.push(
      makeAll(kernel, component.value, crew, giveWay).then((all) => {
        report(given.file, ++made);
        return all;
      }),
    );
    await giveWay();
  }
  const geometry = await Promise.all(making);
  refused ??= geometry.find((g) => !g.ok);
  const components: Record<string, ComponentRecord> = {};
  const blobs: Record<string, Uint8Array> = {};
  for (const [i, { given, record, encoded }] of marked.entries()) {
    const all = geometry[i];
    if (!all.ok) break;
    const valid = readRecord({ ...record, geometry: all.value.map((g) => g.geometry) }, given.file);
    if (!valid.ok) refused ??= valid;
    else components[given.key] = valid.value as ComponentRecord;
    blobs[record.model.blob] = encoded;
    for (const g of all.value) blobs[g.geometry.blob] = g.blob;
  }
  for (const { given, opened } of marked) {
    if (open && opened && !refused) open.take(components[given.key], opened);
    else opened?.close();
  }
  if (refused) return refused;
  const models = Object.fromEntries(marked.map(({ given, model }) => [given.key, model]));
  const assembly = assemblyOf(recipe, components, models, now);
  if (!assembly.ok) return assembly;
  return done({
    assembly: assembly.value,
    components,
    sources: Object.fromEntries(marked.map(({ given, bytes }) => [given.key, bytes])),
    models,
    blobs,
    warnings: marked.flatMap((m) => m.warnings),
  });
}

async function makeAll(
  kernel: Kernel,
  { given, record, bytes, opened }: Marked,
  crew: Crew | undefined,
  giveWay: () => Promise<unknown>,
): Promise<Result<RecordGeometry[]>> {
  const means = { ...(opened ? { opened } : {}), ...(crew ? { crew } : {}), goesOn: () => giveWay().then(() => true) };
  const all: RecordGeometry[] = [];
  for (const { target, ...choice } of given.geometry) {
    const made = await makeRecordGeometry(kernel, record, bytes, target, { ...DEFAULT_CHOICE, ...choice }, means);
    if (!made.ok) return made;
    all.push(made.value);
  }
  return done(all);
}

async function markComponent(kernel: Kernel, given: Marked['given'], bytes: Uint8Array, now: string, staysOpen: boolean): Promise<Result<Marked>> {
  const fileName = given.file.split('/').at(-1) ?? given.file;
  // Of what nothing is made, it is enough to know its model.
  const isOpened = staysOpen || given.geometry.length > 0;
  const opening = isOpened ? await OpenModel.open(kernel, bytes, fileName) : done(undefined);
  if (!opening.ok) return opening;
  const opened = opening.value;
  const refused = (answer: Result<never>) => {
    opened?.close();
    return answer;
  };
  let encoded = new Uint8Array(0);
  const modelBlobOf = (model: Model) => {
    encoded = encodeModel(model);
    return hashBytes(encoded);
  };
  const read = await componentFromFile(kernel, { bytes, fileName, id: given.key, now, modelBlobOf, ...(opened ? { opened } : {}) });
  if (!read.ok) return refused(read);
  const { record, model, warnings } = read.value;
  const unknown = Object.keys(given.roles).find((id) => !record.bodies.some((b) => b.id === id));
  if (unknown !== undefined)
    return refused(failed('envelope.unknown-body', { file: given.file, body: unknown, found: record.bodies.map((b) => b.id).join(', ') }));
  const typed = { from: 'typed' as const, evidence: 'recipe' };
  const marked: ComponentRecord = {
    ...record,
    name: given.name ?? record.name,
    componentKind: given.kind,
    bodies: record.bodies.map((b) => ({ ...b, role: given.roles[b.id] ?? b.role })),
    mount: given.mount ? { id: 'mount', origin: typed, ...given.mount } : null,
    ...(given.feet.length > 0 ? { feet: given.feet.map((f) => ({ ...f, origin: typed })) } : {}),
    seats: given.seats.map((s) => ({ ...s, origin: typed })),
    tips: given.tips.map((t) => ({ ...t, name: t.name ?? 'Tip', programmedPoint: t.programmedPoint ?? 'virtual tip', origin: t.origin ?? typed })),
  };
  return done({ given, bytes, opened, record: marked, model, encoded, warnings });
}

function gaugeLineOf({ gaugeLine: said, pieces }: Recipe): Pick<AssemblyRecord, 'gaugeLine'> {
  if (!said) return {};
  if ('seat' in said) return { gaugeLine: { pieceId: said.piece, seatId: said.seat } };
  return { gaugeLine: { pieceId: said.piece, componentId: pieces.find((p) => p.id === said.piece)?.component ?? '', name: said.name, at: said.at } };
}

// Stick-outs that are no numbers yet follow from the pieces in front of them; what is said as a gauge length comes last.
function assemblyOf(recipe: Recipe, components: Record<string, ComponentRecord>, models: Record<string, Model>, now: string): Result<AssemblyRecord> {
  let assembly: AssemblyRecord = {
    kind: 'assembly',
    version: ASSEMBLY_VERSION,
    id: 'assembly',
    name: recipe.name,
    pieces: recipe.pieces.map((p) => ({
      id: p.id,
      componentId: p.component,
      parent: p.parent ? { pieceId: p.parent.piece, seatId: p.parent.seat } : null,
      stickOut: typeof p.stickOut === 'number' ? p.stickOut : 0,
      rollDeg: p.rollDeg,
      ...(p.pressed ? { pressed: true } : {}),
    })),
    edges: recipe.edges.map(({ piece, tip, ...said }) => ({ name: '', ...said, pieceId: piece, tipId: tip })),
    ...gaugeLineOf(recipe),
    shelf: ON_MASTER,
    createdAt: now,
    changedAt: now,
  };
  const said = recipe.pieces.flatMap(({ id, component, stickOut }) => (typeof stickOut === 'number' ? [] : [{ id, component, way: stickOut }]));
  for (const { id, component, way } of said.sort((a, b) => Number(a.way.by === 'gauge length') - Number(b.way.by === 'gauge length'))) {
    const found = stickOutOf(way, assembly, components, id, models[component]);
    if (!found.ok) return found;
    assembly = { ...assembly, pieces: assembly.pieces.map((p) => (p.id === id ? { ...p, stickOut: found.value } : p)) };
  }
  return done(assembly);
}
