import { done, failed, type Result } from '#core/issues';
import type { Model } from '#core/mesh';
import type { Kernel } from './kernel.ts';
import { formatOf, readMeshModel } from './model-file.ts';
import { type ModelWork, moveShape, NO_WORK } from './model-work.ts';
import { makeNominalInsert } from './nominal-insert.ts';
import { OpenSolids } from './open-solids.ts';
import { sampleBody, type SampledBody, sampleOpenSolids, type SampleOptions } from './sample-faces.ts';
import { sampledMesh } from './sampled-mesh.ts';
import { type Own, withScope } from './scope.ts';
import { type ReadModel, readOpenSolids, type ReadSolidsOptions } from './read-solids.ts';
import { type StepPart, writeOpenSolids } from './step-write.ts';

// Bytes of sampled bodies that an open model keeps: some million triangles.
const MOST_KEPT = 300e6;

/**
 * A vendor file, or the shape of an outline, that stays open while things are made of it, so that it is read once, and each body sampled once for a chord. Of a mesh file the triangles
 * are the true surface: nothing is lost between them, and chords do not matter. To be closed when it is not needed any more.
 */
export class OpenModel {
  private readonly kernel: Kernel;
  private readonly file: string;
  private readonly work: ModelWork;
  private readonly solids: OpenSolids | undefined;
  private readonly mesh: ReadModel | undefined;
  /** By body and chord, the oldest first. */
  private readonly kept = new Map<string, SampledBody>();
  private keptBytes = 0;

  private constructor(kernel: Kernel, file: string, work: ModelWork, solids: OpenSolids | undefined, mesh: ReadModel | undefined) {
    this.kernel = kernel;
    this.file = file;
    this.work = work;
    this.solids = solids;
    this.mesh = mesh;
  }

  static async open(
    kernel: Kernel,
    bytes: Uint8Array,
    file: string,
    work: ModelWork = NO_WORK,
    onProgress: SampleOptions['onProgress'] = undefined,
  ): Promise<Result<OpenModel>> {
    const format = formatOf(bytes, file);
    if (format === 'step' || format === 'outline') {
      onProgress?.(0.05, 'Reading the geometry');
      const solids = OpenSolids.open(kernel, bytes, file, work);
      return solids.ok ? done(new OpenModel(kernel, file, work, solids.value, undefined)) : solids;
    }
    const mesh = await readMeshModel(kernel, bytes, file, { work, onProgress });
    return mesh.ok ? done(new OpenModel(kernel, file, work, undefined, mesh.value)) : mesh;
  }

  /** The model with its faces and edges, as `readModelFile` gives it. */
  read(options: Omit<ReadSolidsOptions, 'work'> = {}): Result<ReadModel> {
    return this.mesh ? done(this.mesh) : readOpenSolids(this.solids as OpenSolids, options);
  }

  /**
   * Bodies as envelopes are built from. What was sampled before with the same chord is given again; where another one is `good`, what was sampled with such a
   * one, the coarsest of them.
   */
  sample({ chordTolerance, ids, onProgress, good }: Omit<SampleOptions, 'work'> & { readonly good?: (chord: number) => boolean }): Result<SampledBody[]> {
    if (this.closed) throw new Error('open-model.OpenModel.sample: a model that is open; got one that was closed');
    const known = this.bodyIds;
    const wanted = ids ?? known;
    const unknown = wanted.find((id) => !known.includes(id));
    if (unknown !== undefined) return failed('envelope.unknown-body', { file: this.file, body: unknown, found: known.join(', ') });
    const out: SampledBody[] = [];
    for (const [i, id] of wanted.entries()) {
      const isExact = !this.solids && !this.addedInsert(id);
      const chord = isExact || this.kept.has(keyOf(id, chordTolerance)) ? chordTolerance : (good && this.keptChord(id, good)) || chordTolerance;
      const key = keyOf(id, isExact ? 0 : chord);
      let body = this.kept.get(key);
      if (!body) {
        onProgress?.(i / wanted.length, `Sampling body ${i + 1} of ${wanted.length}`);
        const made = this.sampleOne(id, chordTolerance);
        if (!made.ok) return made;
        body = made.value;
      }
      this.keep(key, body);
      out.push(body);
    }
    return done(out);
  }

  /** Bodies as they were sampled before with a chord that is `good`, the coarsest such; undefined where one of them was not, or has no chords. */
  sampledBefore(ids: readonly string[], good: (chord: number) => boolean): SampledBody[] | undefined {
    const found = ids.map((id) => {
      const chord = this.keptChord(id, good);
      return chord === undefined ? undefined : this.kept.get(keyOf(id, chord));
    });
    const all = found.filter((body) => body !== undefined);
    return all.length === ids.length ? all : undefined;
  }

  /** A body with all chords that it is kept with. */
  samplesOf(id: string): SampledBody[] {
    return [...this.kept.values()].filter((body) => body.id === id);
  }

  /** Bodies as they came, moved, as a STEP file; undefined where the file has no true faces. */
  writeStep(part: Pick<StepPart, 'bodies' | 'targetFromFile' | 'placements'>): Result<Uint8Array> | undefined {
    const { solids } = this;
    return solids?.use(() => writeOpenSolids(solids, part));
  }

  private closed = false;

  /** Nothing can be asked of it any more. */
  get isClosed(): boolean {
    return this.closed;
  }

  get bodyIds(): string[] {
    return this.solids ? this.solids.solids.map((_, i) => `b${i + 1}`) : (this.mesh as ReadModel).model.bodies.map((b) => b.id);
  }

  close(): void {
    this.closed = true;
    this.solids?.close();
    this.kept.clear();
    this.keptBytes = 0;
  }

  private sampleOne(id: string, chordTolerance: number): Result<SampledBody> {
    if (this.solids) {
      const made = sampleOpenSolids(this.solids, { chordTolerance, ids: [id] });
      return made.ok ? done(made.value[0]) : made;
    }
    const { oc } = this.kernel;
    const added = this.addedInsert(id);
    // A nominal insert has true faces, also beside a mesh.
    if (added) {
      const shapeOf = (own: Own) => moveShape(oc, own, makeNominalInsert(oc, own, added.insert, added.frame), this.work, id);
      const made = withScope((own) => sampleBody(oc, shapeOf(own), id, chordTolerance));
      if (!made) throw new Error(`open-model.sampleOne: a nominal insert that meshes; got ${added.insert.code}`);
      return done(made);
    }
    return done(sampleMesh((this.mesh as ReadModel).model, id));
  }

  private keptChord(id: string, good: (chord: number) => boolean): number | undefined {
    const chords = [...this.kept.keys()].filter((key) => key.startsWith(`${id} `)).map((key) => Number(key.slice(id.length + 1)));
    const fitting = chords.filter((chord) => chord > 0 && good(chord));
    return fitting.length > 0 ? Math.max(...fitting) : undefined;
  }

  private addedInsert(id: string): ModelWork['inserts'][number] | undefined {
    if (!this.mesh) return undefined;
    const vendorCount = this.mesh.model.bodies.length - this.work.inserts.length;
    return this.work.inserts[Number(id.slice(1)) - 1 - vendorCount];
  }

  // The newest stays in any case.
  private keep(key: string, body: SampledBody): void {
    if (this.kept.delete(key)) this.keptBytes -= bytesOf(body);
    this.kept.set(key, body);
    this.keptBytes += bytesOf(body);
    for (const [oldest, other] of this.kept) {
      if (this.keptBytes <= MOST_KEPT || oldest === key) break;
      this.kept.delete(oldest);
      this.keptBytes -= bytesOf(other);
    }
  }
}

const keyOf = (id: string, chord: number): string => `${id} ${chord}`;

const bytesOf = ({ mesh, points, pointTriangle, skin }: SampledBody): number =>
  mesh.positions.byteLength + mesh.triangles.byteLength + points.byteLength + pointTriangle.byteLength + skin.byteLength;

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

/** Bodies of a vendor file as envelopes are built from: see `OpenModel`. */
export async function sampleModelFile(kernel: Kernel, bytes: Uint8Array, file: string, { work, ...options }: SampleOptions): Promise<Result<SampledBody[]>> {
  const opened = await OpenModel.open(kernel, bytes, file, work, options.onProgress);
  if (!opened.ok) return opened;
  try {
    return opened.value.sample(options);
  } finally {
    opened.value.close();
  }
}
