import { z } from 'zod';
import { firstPiece } from '#core/assembly';
import { SHIPPED_MACHINES, type SetUpParts } from '#core/carrier';
import { componentSpecSchema, makeComponent, readWords, sayUnmade } from '#core/components';
import { done, failed, issue, type Issue, type Result } from '#core/issues';
import { type Kernel, readModelFile } from '#core/kernel';
import type { Model } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import {
  ASSEMBLY_VERSION,
  type AssemblyRecord,
  blankSchema,
  type ComponentRecord,
  isZip,
  type MachineRecord,
  ON_MASTER,
  placedEdgeSchema,
  placeSchema,
  readRecord,
  readText,
  SET_UP_VERSION,
  type SetUpRecord,
  type TrialRecord,
  withComponentIds,
} from '#core/records';
import { componentOfSpec, workOf } from '#core/sources';
import { openAnyPackage, openPackage } from './open-package.ts';
import { type CookMeans, cookRecipe, readRecipe } from './recipe.ts';

const key = z.string().min(1).max(40);

/** A set-up as a file: a machine, what assemblies there are, and what stands where. Documented in docs/set-up.md; mm and degrees. */
export const setUpFileSchema = z.object({
  name: z.string().min(1).max(200).default('set-up'),
  /** A machine that ships, by its id or name; a file that holds one; or one itself. */
  machine: z.union([z.string().min(1), z.record(z.string(), z.unknown())]),
  assemblies: z
    .array(
      z.union([
        z.object({ key, recipe: z.string().min(1) }),
        z.object({ key, package: z.string().min(1) }),
        /** One component of data, as words or as its specification. */
        z.object({ key, words: z.string().min(1).max(200) }),
        z.object({ key, spec: componentSpecSchema }),
      ]),
    )
    .min(1)
    .max(500),
  places: z
    .array(
      z.object({
        carrier: z.string().min(1),
        station: placeSchema.shape.station,
        assembly: key,
        turn: placeSchema.shape.turnDeg.default(0),
        /** What it stands on, by its name or id, where that is not its mount. */
        foot: z.string().min(1).max(200).optional(),
        spindle: placeSchema.shape.spindle.default('main'),
        angle: placeSchema.shape.angleDeg,
        edges: z.array(placedEdgeSchema.omit({ pieceId: true, tipId: true }).extend({ piece: z.string().optional(), tip: z.string().min(1) })).default([]),
      }),
    )
    .max(500),
  blanks: z.object({ main: blankSchema.nullable().default(null), counter: blankSchema.nullable().default(null) }).default({ main: null, counter: null }),
  counterAt: z.number().optional(),
});
export type SetUpFile = z.infer<typeof setUpFileSchema>;

/** A set-up file or package with all that it names, read. */
export interface CookedSetUp extends SetUpParts {
  readonly assemblies: Readonly<Record<string, AssemblyRecord>>;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly models: Readonly<Record<string, Model>>;
  /** Vendor files by component. */
  readonly sources: Readonly<Record<string, Uint8Array>>;
  /** Geometry that recipes ask for, by hash, where it was asked for. */
  readonly blobs: Readonly<Record<string, Uint8Array>>;
  /** Those of a package. */
  readonly trials: readonly TrialRecord[];
  readonly warnings: readonly Issue[];
}

/** How a set-up is cooked: as a recipe is, and whether the geometry that its recipes ask for is wanted, as it is for a package. */
export interface CookSetUpMeans extends Pick<CookMeans, 'now' | 'crew' | 'giveWay'> {
  readonly withGeometry?: boolean;
}

/** Reads a set-up, from a file as documented in docs/set-up.md or from its package. `fileBytes` gives the content of what a file names. */
export async function readSetUp(
  kernel: Kernel,
  bytes: Uint8Array,
  file: string,
  fileBytes: (name: string) => Uint8Array,
  means: CookSetUpMeans,
): Promise<Result<CookedSetUp>> {
  if (!isZip(bytes)) return cookSetUp(kernel, new TextDecoder().decode(bytes), file, fileBytes, means);
  const opened = openAnyPackage(bytes, file);
  if (!opened.ok) return opened;
  if (opened.value.kind !== 'set-up')
    return failed('package.bad-manifest', { file, field: 'format', text: 'it is the package of one assembly, not of a set-up' });
  const { machine, setUp, trials, components, sources } = opened.value;
  const models = await modelsOf(kernel, components, sources);
  if (!models.ok) return models;
  const assemblies = Object.fromEntries(opened.value.assemblies.map(({ assembly }) => [assembly.id, assembly]));
  return done({ machine, setUp, assemblies, components, models: models.value, sources, blobs: {}, trials, warnings: [] });
}

/** Reads the text of a set-up file and what it names. */
export async function cookSetUp(
  kernel: Kernel,
  text: string,
  file: string,
  fileBytes: (name: string) => Uint8Array,
  means: CookSetUpMeans,
): Promise<Result<CookedSetUp>> {
  const read = readText(setUpFileSchema, text, file, 'set-up');
  if (!read.ok) return read;
  const said = read.value;
  const machine = machineOf(said.machine, file, fileBytes);
  if (!machine.ok) return machine;
  const assemblies: Record<string, AssemblyRecord> = {};
  const components: Record<string, ComponentRecord> = {};
  const models: Record<string, Model> = {};
  const sources: Record<string, Uint8Array> = {};
  const blobs: Record<string, Uint8Array> = {};
  const warnings: Issue[] = [];
  for (const given of said.assemblies) {
    if (assemblies[given.key]) return failed('record.bad', { file, field: 'assemblies', text: `two are called ${given.key}` });
    const cooked = await cookAssembly(kernel, given, fileBytes, means);
    if (!cooked.ok) return cooked;
    // Two assemblies may call different components the same.
    const idOf = (id: string) => `${given.key}/${id}`;
    assemblies[given.key] = withComponentIds({ ...cooked.value.assembly, id: given.key }, idOf);
    for (const [id, c] of Object.entries(cooked.value.components)) components[idOf(id)] = { ...c, id: idOf(id) };
    for (const [id, m] of Object.entries(cooked.value.models)) models[idOf(id)] = m;
    for (const [id, b] of Object.entries(cooked.value.sources)) sources[idOf(id)] = b;
    Object.assign(blobs, cooked.value.blobs);
    warnings.push(...cooked.value.warnings);
  }
  const setUp = setUpOf(said, machine.value, assemblies, components, file, means.now);
  return setUp.ok ? done({ machine: machine.value, setUp: setUp.value, assemblies, components, models, sources, blobs, trials: [], warnings }) : setUp;
}

function machineOf(said: SetUpFile['machine'], file: string, fileBytes: (name: string) => Uint8Array): Result<MachineRecord> {
  if (typeof said === 'string') {
    const shipped = SHIPPED_MACHINES.find((m) => [m.id, m.name].some((n) => n.toLowerCase() === said.toLowerCase()));
    if (shipped) return done(shipped);
    if (!/\.json$/i.test(said)) {
      const known = SHIPPED_MACHINES.map((m) => m.id).join(', ');
      return failed('record.bad', { file, field: 'machine', text: `there is no machine ${said}; those that ship are ${known}, others are files` });
    }
    let raw: unknown;
    try {
      raw = JSON.parse(new TextDecoder().decode(fileBytes(said)));
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error;
      return failed('record.bad', { file: said, field: 'machine', text: error.message });
    }
    return asMachine(raw, said);
  }
  return asMachine(said, file);
}

function asMachine(raw: unknown, file: string): Result<MachineRecord> {
  const read = readRecord(raw, file);
  if (!read.ok) return read;
  return read.value.kind === 'machine' ? done(read.value) : failed('record.bad', { file, field: 'machine', text: `it is a ${read.value.kind}` });
}

type Given = SetUpFile['assemblies'][number];
interface OneAssembly {
  readonly assembly: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly models: Readonly<Record<string, Model>>;
  readonly sources: Readonly<Record<string, Uint8Array>>;
  readonly blobs?: Readonly<Record<string, Uint8Array>>;
  readonly warnings: readonly Issue[];
}

async function cookAssembly(
  kernel: Kernel,
  given: Given,
  fileBytes: (name: string) => Uint8Array,
  { withGeometry = false, ...means }: CookSetUpMeans,
): Promise<Result<OneAssembly>> {
  if ('recipe' in given) {
    const recipe = readRecipe(new TextDecoder().decode(fileBytes(given.recipe)), given.recipe);
    if (!recipe.ok) return recipe;
    const plain = withGeometry ? recipe.value : { ...recipe.value, components: recipe.value.components.map((c) => ({ ...c, geometry: [] })) };
    const folder = given.recipe.includes('/') ? given.recipe.slice(0, given.recipe.lastIndexOf('/') + 1) : '';
    return cookRecipe(kernel, plain, (name) => fileBytes(folder + name), means);
  }
  if ('package' in given) return fromPackage(kernel, given.package, fileBytes(given.package));
  return ofData(kernel, given, means.now);
}

async function fromPackage(kernel: Kernel, file: string, bytes: Uint8Array): Promise<Result<OneAssembly>> {
  const opened = openPackage(bytes, file);
  if (!opened.ok) return opened;
  const { assembly, components, sources } = opened.value;
  const models = await modelsOf(kernel, components, sources);
  return models.ok ? done({ assembly, components, models: models.value, sources, warnings: [] }) : models;
}

async function modelsOf(
  kernel: Kernel,
  components: Readonly<Record<string, ComponentRecord>>,
  sources: Readonly<Record<string, Uint8Array>>,
): Promise<Result<Record<string, Model>>> {
  const models: Record<string, Model> = {};
  for (const [id, record] of Object.entries(components)) {
    const read = await readModelFile(kernel, sources[id], record.source.fileName, { work: workOf(record) });
    if (!read.ok) return read;
    models[id] = read.value.model;
  }
  return done(models);
}

async function ofData(kernel: Kernel, given: Extract<Given, { words: string } | { spec: unknown }>, now: string): Promise<Result<OneAssembly>> {
  const words = 'words' in given ? readWords(given.words) : undefined;
  const [odd] = words?.unknown ?? [];
  if (odd) return failed('component.odd-word', { text: odd.text, at: odd.at + 1, why: odd.why });
  const spec = 'spec' in given ? given.spec : words?.spec;
  if (!spec) return failed('component.no-kind', { text: 'words' in given ? given.words : given.key });
  const made = makeComponent(spec);
  if (!made.ok) return { ok: false, issues: sayUnmade(made).map((text) => issue('component.unmade', { name: given.key, text })) };
  const record = componentOfSpec(spec, made.part, { id: 'component', name: made.part.name, now });
  const bytes = writeSolidShape(made.part.shape);
  const read = await readModelFile(kernel, bytes, shapeFileName(made.part.name), { exactProperties: true });
  if (!read.ok) return read;
  const assembly: AssemblyRecord = {
    kind: 'assembly',
    version: ASSEMBLY_VERSION,
    id: given.key,
    name: made.part.name,
    pieces: [{ id: 'p1', componentId: record.id, parent: null, stickOut: 0, rollDeg: 0 }],
    edges: [],
    shelf: ON_MASTER,
    createdAt: now,
    changedAt: now,
  };
  return done({ assembly, components: { component: record }, models: { component: read.value.model }, sources: { component: bytes }, warnings: [] });
}

/** The record of a set-up file; `assemblies` by their keys, `components` by the ids that their pieces have. What is named and not there is a fault with its field. */
export function setUpOf(
  said: SetUpFile,
  machine: MachineRecord,
  assemblies: Readonly<Record<string, AssemblyRecord>>,
  components: Readonly<Record<string, ComponentRecord>>,
  file: string,
  now: string,
): Result<SetUpRecord> {
  const bad = (field: string, text: string) => failed('record.bad', { file, field, text });
  const places: SetUpRecord['places'] = [];
  for (const [i, place] of said.places.entries()) {
    const assembly = assemblies[place.assembly];
    if (!assembly) return bad(`places.${i}.assembly`, `there is no assembly ${place.assembly}`);
    if (!machine.carriers.some((c) => c.id === place.carrier))
      return bad(`places.${i}.carrier`, `${machine.name} has no carrier ${place.carrier}; it has ${machine.carriers.map((c) => c.id).join(', ')}`);
    const edges: SetUpRecord['places'][number]['edges'] = [];
    for (const [k, { piece, tip, ...edge }] of place.edges.entries()) {
      const on = assembly.pieces.find((p) => (piece === undefined || p.id === piece) && components[p.componentId]?.tips.some((t) => t.id === tip));
      if (!on) return bad(`places.${i}.edges.${k}`, `${assembly.name} has no tip ${tip}${piece === undefined ? '' : ` on ${piece}`}`);
      edges.push({ ...edge, pieceId: on.id, tipId: tip });
    }
    const { angle } = place;
    const first = firstPiece(assembly, components);
    const foot = first?.feet?.find((f) => [f.id, f.name].some((n) => n.toLowerCase() === place.foot?.toLowerCase()));
    if (place.foot !== undefined && !foot) {
      const feet = first?.feet?.map((f) => f.name).join(', ');
      return bad(`places.${i}.foot`, `${first?.name ?? assembly.name} has no foot ${place.foot} beside its mount${feet ? `; it has ${feet}` : ''}`);
    }
    places.push({
      id: `place-${i + 1}`,
      carrierId: place.carrier,
      station: place.station,
      assemblyId: place.assembly,
      turnDeg: place.turn,
      spindle: place.spindle,
      ...(angle === undefined ? {} : { angleDeg: angle }),
      ...(foot ? { foot: foot.id } : {}),
      edges,
    });
  }
  return done({
    kind: 'set-up',
    version: SET_UP_VERSION,
    id: 'set-up',
    name: said.name,
    machineId: machine.id,
    places,
    blanks: said.blanks,
    ...(said.counterAt === undefined ? {} : { counterAt: said.counterAt }),
    createdAt: now,
    changedAt: now,
  });
}
