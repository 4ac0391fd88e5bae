// What is asked of a worker about packages.
import * as Comlink from 'comlink';
import { openAnyPackage, type OpenedPackage, OUT_OF_DATE, packAssembly, type PackInput, packSetUp, type PackSetUpInput, recordsOfSetUp } from '#core/handover';
import { done, type Result } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { encodeModel } from '#core/mesh';
import { type AnyRecord, type AssemblyRecord, type ComponentRecord, hashBytes, type OutlineRecord } from '#core/records';
import { type Archive, componentFromFile, openArchive, type OpenSources, workOf } from '#core/sources';
import { withoutLostSets } from '#core/shelf';
import { crew } from './helper-crew.ts';
import type { JobAnswer, Progress } from './job-answer.ts';

export interface OpenedPackageModels {
  readonly kind: 'assembly';
  readonly assembly: AssemblyRecord;
  readonly components: Record<string, ComponentRecord>;
  readonly sources: Record<string, Uint8Array>;
  readonly models: Record<string, Uint8Array>;
  readonly outlines: Record<string, OutlineRecord>;
  readonly drawings: Record<string, Uint8Array>;
}

/** The package of a set-up: its records as another Shelf's, to be brought in. */
export interface OpenedSetUpRecords {
  readonly kind: 'set-up';
  readonly records: Record<string, AnyRecord>;
  readonly blobs: Record<string, Uint8Array>;
}

type Means<T> = Omit<T, 'onProgress' | 'open' | 'crew'>;

export interface PackageMeans {
  readonly guarded: <T>(job: string, work: (kernel: Kernel) => Result<T> | Promise<Result<T>>) => Promise<JobAnswer<T>>;
  readonly sourcesOf: (kernel: Kernel) => OpenSources;
}

export const packageJobs = ({ guarded, sourcesOf }: PackageMeans) => ({
  pack(input: Means<PackInput>, progress: Progress) {
    return guarded('writing the package', (k) => packAssembly(k, { ...input, crew, open: sourcesOf(k), onProgress: progress }));
  },

  packSetUp(input: Means<PackSetUpInput>, progress: Progress) {
    return guarded('writing the package', (k) => packSetUp(k, { ...input, crew, open: sourcesOf(k), onProgress: progress }));
  },

  /** What is packed in a zip or gzip file; needs no kernel. */
  unpack(bytes: Uint8Array, file: string): JobAnswer<Archive> {
    const answer = openArchive(bytes, file);
    return answer.ok ? Comlink.transfer(answer, [...new Set(answer.value.files.map((f) => f.bytes.buffer))]) : answer;
  },

  /** Opens a package; of an assembly its vendor files are read again, and models come encoded, by component id. */
  openPackage(bytes: Uint8Array, file: string, progress: Progress) {
    return guarded(`opening ${file}`, async (k): Promise<Result<OpenedPackageModels | OpenedSetUpRecords>> => {
      const opened = openAnyPackage(bytes, file);
      if (!opened.ok) return opened;
      if (opened.value.kind === 'assembly') return withModels(k, opened.value, progress);
      const { records, blobs } = recordsOfSetUp(opened.value);
      return done({ kind: 'set-up', records: withoutLostSets(records), blobs });
    });
  },
});

async function withModels(k: Kernel, opened: OpenedPackage, progress: Progress): Promise<Result<OpenedPackageModels>> {
  const { assembly, components, sources, outlines, drawings } = opened;
  const models: Record<string, Uint8Array> = {};
  const records: Record<string, ComponentRecord> = {};
  const ids = Object.keys(components);
  for (const [index, id] of ids.entries()) {
    const record = components[id];
    progress(index / ids.length, record.name);
    let blob = '';
    const read = await componentFromFile(k, {
      bytes: sources[id],
      fileName: record.source.fileName,
      id,
      now: record.createdAt,
      work: workOf(record),
      modelBlobOf: (model) => {
        models[id] = encodeModel(model);
        blob = hashBytes(models[id]);
        return blob;
      },
    });
    if (!read.ok) return read;
    // Made geometry is derived: its exact meshes are not in the package, so it stands as out of date, with how it was made.
    const geometry = record.geometry.map((g) => ({ ...g, inputs: OUT_OF_DATE }));
    records[id] = { ...record, model: read.value.record.model, geometry };
  }
  return done({ kind: 'assembly', assembly, components: records, sources, models, outlines, drawings });
}
