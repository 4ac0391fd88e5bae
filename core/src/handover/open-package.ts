import { SHIPPED_MACHINES } from '#core/carrier';
import { done, failed, issue, type Result } from '#core/issues';
import { writeSolidShape } from '#core/outline';
import {
  type AnyManifest,
  type AnyRecord,
  type AssemblyManifest,
  type AssemblyRecord,
  type ComponentRecord,
  hashBytes,
  hashPlain,
  type MachineRecord,
  type Manifest,
  type OutlineRecord,
  readPackage,
  readRecord,
  type SetUpManifest,
  type SetUpRecord,
  type TrialRecord,
} from '#core/records';

/** What packages of both kinds hold: records, with ids as they were packed, and the vendor files. */
export interface PackedRecords {
  readonly files: Record<string, Uint8Array>;
  readonly components: Record<string, ComponentRecord>;
  readonly sources: Record<string, Uint8Array>;
  readonly outlines: Record<string, OutlineRecord>;
  /** By the hash of their content. */
  readonly drawings: Record<string, Uint8Array>;
}

/** The package of an assembly opened again. */
export interface OpenedPackage extends PackedRecords {
  readonly manifest: Pick<Manifest, 'files'> & AssemblyManifest;
  readonly assembly: AssemblyRecord;
}

/** The package of a set-up opened again. */
export interface OpenedSetUp extends PackedRecords {
  readonly manifest: SetUpManifest;
  readonly machine: MachineRecord;
  readonly setUp: SetUpRecord;
  readonly trials: readonly TrialRecord[];
  readonly assemblies: readonly OpenedPackage[];
}

export type AnyOpened = ({ readonly kind: 'assembly' } & OpenedPackage) | ({ readonly kind: 'set-up' } & OpenedSetUp);

/** Opens the package of an assembly: manifest, hashes and every record validated. */
export function openPackage(bytes: Uint8Array, file: string): Result<OpenedPackage> {
  const opened = openAnyPackage(bytes, file);
  if (!opened.ok || opened.value.kind === 'assembly') return opened as Result<OpenedPackage>;
  return failed('package.bad-manifest', { file, field: 'format', text: 'it is the package of a set-up, not of one assembly' });
}

/** Opens a package of an assembly or of a set-up: manifest, hashes and every record validated. */
export function openAnyPackage(bytes: Uint8Array, file: string): Result<AnyOpened> {
  const read = readPackage(bytes, file);
  if (!read.ok) return read;
  const { manifest, files } = read.value;
  const packed = packedRecords(manifest, files, file);
  if (!packed.ok) return packed;
  if (manifest.format === 'ruota-package') {
    const opened = openAssembly({ ...manifest, files: manifest.files }, packed.value, file, 'assembly');
    return opened.ok ? done({ kind: 'assembly', ...opened.value }) : opened;
  }
  const machine = recordOf('machine', manifest.machine, file, 'machine');
  if (!machine.ok) return machine;
  const setUp = recordOf('set-up', manifest.setUp, file, 'setUp');
  if (!setUp.ok) return setUp;
  if (setUp.value.machineId !== machine.value.id)
    return failed('package.bad-manifest', { file, field: 'setUp.machineId', text: `it stands on another machine (${setUp.value.machineId})` });
  const assemblies: OpenedPackage[] = [];
  for (const [i, said] of manifest.assemblies.entries()) {
    const opened = openAssembly({ ...said, files: manifest.files }, packed.value, file, `assemblies.${i}`);
    if (!opened.ok) return opened;
    assemblies.push(opened.value);
  }
  const absent = setUp.value.places.find((p) => !assemblies.some((a) => a.assembly.id === p.assemblyId));
  if (absent) return failed('package.bad-manifest', { file, field: `setUp.places.${absent.id}`, text: `assembly ${absent.assemblyId} is not in the package` });
  const trials: TrialRecord[] = [];
  for (const [i, raw] of manifest.trials.entries()) {
    const trial = recordOf('trial', raw, file, `trials.${i}`);
    if (!trial.ok) return trial;
    trials.push(trial.value);
  }
  return done({ kind: 'set-up', manifest, machine: machine.value, setUp: setUp.value, trials, assemblies, ...packed.value });
}

/** The records of a set-up's package, and the files that they are made of by their hash. A machine that ships, and is as it ships, is none of them. */
export function recordsOfSetUp(opened: OpenedSetUp): { records: Record<string, AnyRecord>; blobs: Record<string, Uint8Array> } {
  const { machine, setUp, trials, assemblies, components, outlines, sources, drawings } = opened;
  const isShipped = SHIPPED_MACHINES.some((m) => m.id === machine.id && hashPlain(m) === hashPlain(machine));
  // Made geometry is derived, and its exact meshes are not in the package: it is made again when it is asked for.
  const bare = Object.values(components).map((c) => ({ ...c, geometry: c.geometry.map((g) => ({ ...g, inputs: OUT_OF_DATE })) }));
  const all: AnyRecord[] = [...bare, ...Object.values(outlines), ...assemblies.map((a) => a.assembly), ...(isShipped ? [] : [machine]), setUp, ...trials];
  return {
    records: Object.fromEntries(all.map((r) => [r.id, r])),
    blobs: { ...Object.fromEntries(Object.values(sources).map((bytes) => [hashBytes(bytes), bytes])), ...drawings },
  };
}

/** What the inputs of geometry are that is to be made again. */
export const OUT_OF_DATE = '0'.repeat(64);

function openAssembly(manifest: OpenedPackage['manifest'], packed: PackedRecords, file: string, field: string): Result<OpenedPackage> {
  const assembly = recordOf('assembly', manifest.assembly, file, field);
  if (!assembly.ok) return assembly;
  const absent = assembly.value.pieces.find((p) => !packed.components[p.componentId]);
  if (absent)
    return failed('package.bad-manifest', { file, field: `${field}.pieces.${absent.id}`, text: `component ${absent.componentId} is not in the package` });
  const used = assembly.value.pieces.map((p) => p.componentId);
  const ofIt = <T>(all: Record<string, T>) => Object.fromEntries(Object.entries(all).filter(([id]) => used.includes(id)));
  return done({ ...packed, components: ofIt(packed.components), sources: ofIt(packed.sources), manifest, assembly: assembly.value });
}

function packedRecords(manifest: AnyManifest, files: Record<string, Uint8Array>, file: string): Result<PackedRecords> {
  const components: Record<string, ComponentRecord> = {};
  const sources: Record<string, Uint8Array> = {};
  for (const [i, raw] of manifest.components.entries()) {
    const record = recordOf('component', raw, file, `components.${i}`);
    if (!record.ok) return record;
    const path = manifest.sources[record.value.id];
    if (!path) return failed('package.missing-file', { file, field: `source of ${record.value.name}` });
    const { source } = record.value;
    const isOwn = source.kind === 'file' || hashBytes(writeSolidShape(source.shape)) === source.blob;
    if (hashBytes(files[path]) !== source.blob || !isOwn) return failed('package.changed-file', { file, field: path });
    components[record.value.id] = record.value;
    sources[record.value.id] = files[path];
  }
  const outlines: Record<string, OutlineRecord> = {};
  const drawings: Record<string, Uint8Array> = {};
  for (const [i, raw] of manifest.outlines.entries()) {
    const record = recordOf('outline', raw, file, `outlines.${i}`);
    if (!record.ok) return record;
    const { id, way } = record.value;
    const path = manifest.drawings[id];
    if (way.kind === 'drawing' && path) {
      if (hashBytes(files[path]) !== way.blob) return failed('package.changed-file', { file, field: path });
      drawings[way.blob] = files[path];
    }
    outlines[id] = record.value;
  }
  return done({ files, components, sources, outlines, drawings });
}

function recordOf<K extends AnyRecord['kind']>(kind: K, raw: unknown, file: string, field: string): Result<Extract<AnyRecord, { kind: K }>> {
  const read = readRecord(raw, file);
  if (!read.ok) return read;
  if (read.value.kind === kind) return done(read.value as Extract<AnyRecord, { kind: K }>);
  return { ok: false, issues: [issue('package.bad-manifest', { file, field, text: `it is no ${kind}, but ${read.value.kind}` })] };
}
