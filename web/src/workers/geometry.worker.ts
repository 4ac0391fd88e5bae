import * as Comlink from 'comlink';
import booleansUrl from 'manifold-3d/manifold.wasm?url';
import wasmUrl from 'replicad-opencascadejs/wasm?url';
import { type ChainOfPieces, findFits, type Fits } from '#core/assembly';
import { type Issue, issue, type Result, done } from '#core/issues';
import { silhouetteOf } from '#core/envelope';
import type { FlatPoint } from '#core/outline';
import { type Kernel, kernelErrorText, loadFlatBooleans, loadKernel, NO_WORK, OpenModel, OverlapSolver, readModelFile } from '#core/kernel';
import type { Frame } from '#core/math';
import { decodeModel, encodeModel, weld } from '#core/mesh';
import { makeRecordGeometry, makeRecordGeometryWithin, makeRecordPlan, makeRecordPlanSolid, mapGrowth, type RecordGeometry } from '#core/making';
import { readShelfFile, type ShelfContent, writeShelfFile } from '#core/shelf';
import { computeFacts, proposeReading, type Reading, type ToolFacts } from '#core/reading';
import {
  type ComponentRecord,
  type DrawingChoice,
  type GeometryChoice,
  hashBytes,
  type MadeGeometry,
  type ModelSummary,
  type OutlineRecord,
  type PlanRecord,
  summarizeModel,
} from '#core/records';
import {
  componentFromFile,
  type DrawingGhost,
  OpenSources,
  type OutlineFileKind,
  outlinePartOf,
  type PartSection,
  readPartSection,
  type ReadPart,
  readForSheet,
  writeOutlineFile,
} from '#core/sources';
import { nextTurn } from '../common/next-turn.ts';
import { goAhead } from './go-ahead.ts';
import { crew } from './helper-crew.ts';
import { heldModel, hold, isHeld, modelsOf } from './held-models.ts';
import type { JobAnswer, Progress } from './job-answer.ts';
import { machineJobs } from './machine-jobs.ts';
import { packageJobs } from './package-jobs.ts';
import { makeAhead } from './make-ahead.ts';
import { warmUp } from './warm-up.ts';

// Jobs that have come so far: what is done ahead ends when one comes.
let jobs = 0;
let isWarm = false;
// Solids of what was asked last, for the next question.
let overlaps: Promise<OverlapSolver> | undefined;
let kernel: Promise<Kernel> | undefined;
const getKernel = (): Promise<Kernel> => (kernel ??= loadKernel(wasmUrl, booleansUrl));

// Files of this worker's components that stay open.
let sources: OpenSources | undefined;
const sourcesOf = (k: Kernel): OpenSources => (sources ??= new OpenSources(k));

/** Takes proven geometry that is not the lightest yet. */
export type TakeFirst = (geometry: MadeGeometry, blob: Uint8Array<ArrayBuffer>) => void;
const given =
  (first: TakeFirst) =>
  ({ geometry, blob }: RecordGeometry) =>
    first(geometry, Comlink.transfer(blob, [blob.buffer]));

async function guarded<T>(job: string, work: (kernel: Kernel) => Result<T> | Promise<Result<T>>): Promise<JobAnswer<T>> {
  jobs++;
  const loaded = await getKernel();
  try {
    return await work(loaded);
  } catch (error) {
    const text = kernelErrorText(loaded, error);
    return { ok: false, issues: [issue('kernel.crashed', { job, text })], lost: true };
  }
}

async function withSource<T>(k: Kernel, record: ComponentRecord, bytes: Uint8Array, work: (opened: OpenModel) => Promise<Result<T>>): Promise<Result<T>> {
  const opened = await sourcesOf(k).of(record, bytes);
  return opened.ok ? work(opened.value) : opened;
}

export interface OpenedModel {
  readonly record: ComponentRecord;
  readonly model: Uint8Array<ArrayBuffer>;
  readonly warnings: readonly Issue[];
}

export interface ReopenedModel {
  readonly made: ModelSummary;
  readonly blob: string;
  readonly model: Uint8Array<ArrayBuffer>;
  readonly warnings: readonly Issue[];
}

/** A drawing with what was read of it. */
export interface ReadSheet {
  /** Null where no outline was found; `issues` say why. */
  readonly part: ReadPart | null;
  readonly issues: readonly Issue[];
  readonly ghost: DrawingGhost;
  /** Where what is wrong is, in the sheet's mm. */
  readonly places: readonly FlatPoint[];
  /** Of a picture, in pixels. */
  readonly size?: { readonly width: number; readonly height: number };
}

// ms. After a model was read nothing is wanted for a while: whoever opened it looks at what was read.
const AHEAD_MS = 300;
// What was opened last, of which geometry is made ahead.
let ahead: { readonly blob: string; readonly opened: OpenModel } | undefined;
// What comes after a broken kernel gets a new one, which opens the file anew.
const AHEAD = {
  jobs: () => jobs,
  onBroken: () => {
    kernel = undefined;
    sources = undefined;
  },
};

// Tries that are not wanted any more.
const stopped = new Set<string>();

const api = {
  ...machineJobs,
  ...packageJobs({ guarded, sourcesOf }),

  /** Loads the kernel and opens small models, so that the first file finds its code compiled (a second instead of four for a collet chuck). Ends when work comes. */
  async warm(): Promise<true> {
    const loaded = await getKernel();
    if (!isWarm) {
      isWarm = true;
      await warmUp(loaded, crew, () => jobs > 0);
    }
    return true;
  },

  async openModel(bytes: Uint8Array, fileName: string, id: string, now: string, progress: Progress): Promise<JobAnswer<OpenedModel>> {
    const answer = await guarded(`opening ${fileName}`, async (k): Promise<Result<OpenedModel>> => {
      let encoded: Uint8Array<ArrayBuffer> | undefined;
      const opened = await OpenModel.open(k, bytes, fileName, NO_WORK, progress);
      if (!opened.ok) return opened;
      const read = await componentFromFile(k, {
        bytes,
        fileName,
        id,
        now,
        opened: opened.value,
        onProgress: progress,
        modelBlobOf: (model) => {
          encoded = encodeModel(model);
          return hashBytes(encoded);
        },
      });
      if (!read.ok || !encoded) {
        opened.value.close();
        return read as Result<never>;
      }
      const { record, warnings } = read.value;
      sourcesOf(k).take(record, opened.value);
      hold(record.model.blob, read.value.model);
      ahead = { blob: record.model.blob, opened: opened.value };
      return done({ record, model: encoded, warnings });
    });
    return answer.ok ? Comlink.transfer(answer, [answer.value.model.buffer]) : answer;
  },

  /** Opens a component's file with the unit and the cuts that the record asks for. */
  async reopen(record: ComponentRecord, bytes: Uint8Array, progress: Progress): Promise<JobAnswer<ReopenedModel>> {
    const { fileName } = record.source;
    const answer = await guarded(`working on ${fileName}`, async (k): Promise<Result<ReopenedModel>> => {
      const opened = await sourcesOf(k).of(record, bytes, progress);
      if (!opened.ok) return opened;
      const read = opened.value.read({ onProgress: progress });
      if (!read.ok) return read;
      const { model, warnings } = read.value;
      const encoded = encodeModel(model);
      return done({ made: summarizeModel(model), blob: hashBytes(encoded), model: encoded, warnings });
    });
    return answer.ok ? Comlink.transfer(answer, [answer.value.model.buffer]) : answer;
  },

  /** Reads a drawing or a picture as an outline; needs no kernel. */
  readDrawing(bytes: Uint8Array, fileName: string, choice: DrawingChoice): JobAnswer<ReadSheet> {
    const sheet = readForSheet(bytes, fileName, choice);
    if (!sheet.ok) return sheet;
    const { read, ghost, places, size } = sheet.value;
    const answer = done({ part: read.ok ? outlinePartOf(read.value) : null, issues: read.ok ? [] : read.issues, ghost, places, ...(size ? { size } : {}) });
    return Comlink.transfer(answer, [ghost.lines.buffer as ArrayBuffer]);
  },

  /** The model of an outline's shape, as a component has it. */
  async modelOfShape(bytes: Uint8Array, fileName: string): Promise<JobAnswer<ReopenedModel>> {
    const answer = await guarded(`making ${fileName}`, async (k): Promise<Result<ReopenedModel>> => {
      const read = await readModelFile(k, bytes, fileName);
      if (!read.ok) return read;
      const { model, warnings } = read.value;
      const encoded = encodeModel(model);
      return done({ made: summarizeModel(model), blob: hashBytes(encoded), model: encoded, warnings });
    });
    return answer.ok ? Comlink.transfer(answer, [answer.value.model.buffer]) : answer;
  },

  async writeOutline(outline: OutlineRecord, kind: OutlineFileKind): Promise<JobAnswer<Uint8Array>> {
    return guarded(`writing ${outline.name}`, (k) => writeOutlineFile(() => Promise.resolve(k), outline, kind));
  },

  /** `first` is given proven geometry as it comes, each time better, before the answer. */
  async makeGeometry(
    record: ComponentRecord,
    bytes: Uint8Array,
    target: MadeGeometry['target'],
    choice: GeometryChoice,
    progress: Progress,
    first?: TakeFirst,
  ) {
    const answer = await guarded(`making ${choice.mode} geometry`, (k) =>
      withSource(k, record, bytes, (opened) =>
        makeRecordGeometry(k, record, bytes, target, choice, { opened, crew, onProgress: progress, onResult: first && given(first) }),
      ),
    );
    return answer.ok ? Comlink.transfer(answer, [answer.value.blob.buffer]) : answer;
  },

  /** As `makeGeometry`, to look at: `stopTrying` with the same name ends it at its next step. */
  async tryGeometry(
    record: ComponentRecord,
    bytes: Uint8Array,
    target: MadeGeometry['target'],
    choice: GeometryChoice,
    name: string,
    progress: Progress,
    first: TakeFirst,
  ) {
    const goesOn = async () => {
      await nextTurn();
      return !stopped.has(name);
    };
    const answer = await guarded(`trying ${choice.mode} geometry`, (k) =>
      withSource(k, record, bytes, (opened) =>
        makeRecordGeometry(k, record, bytes, target, choice, { opened, crew, isTry: true, onProgress: progress, onResult: given(first), goesOn }),
      ),
    );
    stopped.delete(name);
    return answer.ok ? Comlink.transfer(answer, [answer.value.blob.buffer]) : answer;
  },

  stopTrying(name: string): void {
    stopped.add(name);
  },

  /** A try that nobody asked for: for what it leaves behind. No job, it ends where one comes. */
  async tryAhead(record: ComponentRecord, bytes: Uint8Array, target: MadeGeometry['target'], choice: GeometryChoice): Promise<void> {
    const k = await getKernel();
    let opened: OpenModel | undefined;
    await goAhead({
      ...AHEAD,
      open: async () => {
        const source = await sourcesOf(k).of(record, bytes);
        opened = source.ok ? source.value : undefined;
        return opened;
      },
      work: (isOver) =>
        makeRecordGeometry(k, record, bytes, target, choice, {
          opened,
          crew,
          isTry: true,
          // What is shown first is made only where somebody takes it.
          onResult: () => undefined,
          goesOn: async () => !(await isOver()),
        }),
    });
  },

  /** As `makeGeometry`, with the least tolerance that takes no more than `budget` triangles. */
  async makeGeometryWithin(
    record: ComponentRecord,
    bytes: Uint8Array,
    target: MadeGeometry['target'],
    choice: GeometryChoice,
    budget: number,
    progress: Progress,
  ) {
    const answer = await guarded(`making ${choice.mode} geometry`, (k) =>
      withSource(k, record, bytes, (opened) => makeRecordGeometryWithin(k, record, bytes, target, choice, budget, { opened, crew, onProgress: progress })),
    );
    return answer.ok ? Comlink.transfer(answer, [answer.value.blob.buffer]) : answer;
  },

  makePlan(record: ComponentRecord, bytes: Uint8Array, tolerance: number, progress: Progress): Promise<JobAnswer<PlanRecord>> {
    return guarded('outlining', (k) => withSource(k, record, bytes, (opened) => makeRecordPlan(k, record, bytes, tolerance, { opened, onProgress: progress })));
  },

  /** The solid of the plan outlines, as an STL file in the mount's frame. */
  async makePlanSolid(record: ComponentRecord, bytes: Uint8Array, tolerance: number, progress: Progress) {
    const answer = await guarded('outlining', (k) =>
      withSource(k, record, bytes, (opened) => makeRecordPlanSolid(k, record, bytes, tolerance, { opened, onProgress: progress })),
    );
    return answer.ok ? Comlink.transfer(answer, [answer.value.stl.buffer]) : answer;
  },

  /** Measures made geometry again, spot by spot, for the picture of its growth. */
  async growthMap(record: ComponentRecord, geometry: MadeGeometry, bytes: Uint8Array, blob: Uint8Array, progress: Progress) {
    const answer = await guarded('measuring the growth', (k) =>
      withSource(k, record, bytes, (opened) => mapGrowth(k, record, geometry, bytes, blob, { opened, onProgress: progress })),
    );
    if (!answer.ok) return answer;
    const { positions, triangles, growth } = answer.value;
    return Comlink.transfer(answer, [positions.buffer, triangles.buffer, growth.buffer]);
  },

  /** Packs a Shelf's file; needs no kernel. */
  writeShelf(content: ShelfContent, now: string): JobAnswer<Uint8Array> {
    const bytes = writeShelfFile(content, now) as Uint8Array<ArrayBuffer>;
    return Comlink.transfer(done(bytes), [bytes.buffer]);
  },

  readShelf: (bytes: Uint8Array, fileName: string): JobAnswer<ShelfContent & { readonly faults: readonly Issue[] }> => readShelfFile(bytes, fileName),

  /** Keeps a model for the jobs that ask for it by its hash; the last ones are kept. */
  holdModel(blob: string, model: Uint8Array): JobAnswer<true> {
    const decoded = decodeModel(model);
    if (!decoded.ok) return decoded;
    hold(blob, decoded.value);
    return done(true);
  },

  isHeld,

  /** The facts of a marked component whose model is held and, for bars, its minimum bore; needs no kernel. */
  facts(record: ComponentRecord): JobAnswer<ToolFacts> {
    return done(computeFacts(record, heldModel(record.model.blob)));
  },

  /** Reads roles, mount, seats and tip from a model that is held; needs no kernel. */
  read(blob: string): JobAnswer<Reading> {
    const reading = proposeReading(heldModel(blob));
    const next = ahead?.blob === blob ? ahead : undefined;
    ahead = undefined;
    if (next)
      setTimeout(
        () =>
          void getKernel().then((k) =>
            goAhead({ ...AHEAD, open: () => Promise.resolve(next.opened), work: (isOver) => makeAhead(k, next.opened, reading, crew, isOver) }),
          ),
        AHEAD_MS,
      );
    return done(reading);
  },

  /** How the pieces of an assembly sit, and what goes through what. Models that are not held come with it, encoded, by their hash: there may be more than are held. */
  async fits(
    assembly: ChainOfPieces,
    components: Readonly<Record<string, ComponentRecord>>,
    sent: Readonly<Record<string, Uint8Array>>,
  ): Promise<JobAnswer<Fits>> {
    const models = modelsOf(Object.values(components), sent);
    if (!models.ok) return models;
    overlaps ??= OverlapSolver.load(booleansUrl);
    return done(findFits(await overlaps, assembly, components, models.value));
  },

  /** The half section of a part, from a drawing or a model. */
  async partSection(bytes: Uint8Array, fileName: string): Promise<JobAnswer<PartSection>> {
    return guarded(`reading ${fileName}`, (k) => readPartSection(k, bytes, fileName));
  },

  /** What of a model that is held lies behind the plane Y = `y` of a frame, in its coordinates: the outline of its bodies together as loops of z, x. */
  async outlineBehind(blob: string, bodies: readonly string[], frame: Frame, y: number): Promise<JobAnswer<Float64Array[]>> {
    const flat = await loadFlatBooleans({ booleansUrl });
    const meshes = heldModel(blob).bodies.filter((b) => bodies.includes(b.id) && b.closed);
    const seen = silhouetteOf(
      meshes.map((b) => weld(b.mesh)),
      frame,
      flat,
      { low: -Infinity, high: y },
    );
    return done(seen.map((loop) => Float64Array.from(loop.flat())));
  },
};

export type GeometryApi = typeof api;
Comlink.expose(api);
