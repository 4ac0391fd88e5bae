import { checkAssembly, gaugeLengthOf, placeFrame, placePieces, placeTips } from '#core/assembly';
import type { Growth } from '#core/envelope';
import { failed, issue, type Result, done } from '#core/issues';
import { type Kernel, type OpenModel, writeRevolvedStep } from '#core/kernel';
import type { Motion } from '#core/math';
import { decodeModel, joinMeshes, meshVolume, type Model, moveMesh, writeGlb, writeStl } from '#core/mesh';
import {
  type AssemblyRecord,
  bodiesFor,
  chosenGeometry,
  freshGeometry,
  type ComponentRecord,
  type GeometryPartRecord,
  type GeometryTarget,
  type Manifest,
  type OutlineRecord,
  mountFrameOf,
  PACKAGE_VERSION,
  type PackedPart,
  readPackage,
  readRecord,
  safeFileName,
  spinsInWork,
  writePackage,
  hashBytes,
} from '#core/records';
import { type Crew, makeGeometry, partRecord } from '#core/making';
import { type HalfProfile, writeSolidShape } from '#core/outline';
import { OpenSources } from '#core/sources';
import { type PaintedPart, paintPart } from './paint.ts';

/** What packing needs: the records, and the vendor files by component id. */
export interface PackInput {
  readonly assembly: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly sources: Readonly<Record<string, Uint8Array>>;
  /** The outlines that components were made of, and their drawings by the hash of their content; what is not there is left out. */
  readonly outlines?: readonly OutlineRecord[];
  readonly drawings?: Readonly<Record<string, Uint8Array>>;
  readonly models?: Readonly<Record<string, Model | undefined>>;
  /** Geometry that was made before, encoded, by hash: what is still fresh is not made again. */
  readonly blobs?: Readonly<Record<string, Uint8Array | undefined>>;
  readonly now: string;
  /** Who makes what is not there. */
  readonly crew?: Crew;
  /** Vendor files that stay open; they do so afterwards too. */
  readonly open?: OpenSources;
  readonly onProgress?: (share: number, text: string) => void;
}

/** Colours of the two targets in exported meshes: crimson and graphite. */
const COLOURS: Readonly<Record<GeometryTarget, string>> = { cutting: '#b4173f', 'non-cutting': '#59626b' };

/** Makes the package of an assembly: GLB, STL and STEP of each part in the gauge frame, vendor files, records, numbers, checks. */
export async function packAssembly(kernel: Kernel, input: PackInput): Promise<Result<Packed>> {
  const open = input.open ?? new OpenSources(kernel);
  try {
    return await pack(kernel, input, open);
  } finally {
    if (!input.open) open.close();
  }
}

/** A package and its manifest. */
export interface Packed {
  readonly bytes: Uint8Array;
  readonly manifest: Omit<Manifest, 'files'>;
}

async function pack(kernel: Kernel, input: PackInput, open: OpenSources): Promise<Result<Packed>> {
  const { assembly, components, sources } = input;
  const report = input.onProgress ?? (() => undefined);
  const placed = placePieces(assembly, components);
  const files: Record<string, Uint8Array> = {};
  const sourcePaths: Record<string, string> = {};
  const pieces: Manifest['pieces'] = [];
  const models: Record<string, Model | undefined> = { ...input.models };
  const used = [...new Set(assembly.pieces.map((p) => p.componentId))];
  for (const id of used) {
    const record = components[id];
    if (!record || !sources[id]) return failed('recipe.missing', { file: assembly.name, field: 'piece', text: `component ${id}` });
    const path = `sources/${record.source.blob.slice(0, 12)}-${safeFileName(record.source.fileName)}`;
    files[path] = sources[id];
    sourcePaths[id] = path;
    if (!models[id]) {
      const opened = await open.of(record, sources[id]);
      const read = opened.ok ? opened.value.read() : opened;
      if (!read.ok) return read;
      models[id] = read.value.model;
    }
  }
  const folders = new Set<string>();
  for (const [index, piece] of assembly.pieces.entries()) {
    const record = components[piece.componentId];
    const gaugeFromFile = placed.get(piece.id);
    if (!gaugeFromFile) return failed('join.no-mount', { piece: record.name });
    let folder = `parts/${index + 1}-${safeFileName(record.name)}`;
    while (folders.has(folder)) folder += '-';
    folders.add(folder);
    const parts: PackedPart[] = [];
    const source = await open.of(record, sources[record.id]);
    if (!source.ok) return source;
    for (const target of ['non-cutting', 'cutting'] as const) {
      if (bodiesFor(record, target).length === 0) continue;
      report(index / assembly.pieces.length, `${record.name}: ${target} part`);
      const part = await packPart(
        kernel,
        {
          record,
          bytes: sources[record.id],
          source: source.value,
          target,
          gaugeFromFile,
          path: `${folder}/${target}`,
          blobs: input.blobs ?? {},
          ...(input.crew ? { crew: input.crew } : {}),
        },
        files,
      );
      if (!part.ok) return part;
      parts.push(part.value);
    }
    pieces.push({ piece: piece.id, name: record.name, componentId: record.id, mountInGauge: placeFrame(gaugeFromFile, mountFrameOf(record)), parts });
  }
  const outlines = (input.outlines ?? []).filter((o) => used.some((id) => isMadeOf(components[id], o)));
  const drawingPaths: Record<string, string> = {};
  for (const { id, way } of outlines) {
    const bytes = way.kind === 'drawing' ? input.drawings?.[way.blob] : undefined;
    if (way.kind !== 'drawing' || !bytes) continue;
    drawingPaths[id] = `drawings/${way.blob.slice(0, 12)}-${safeFileName(way.fileName)}`;
    files[drawingPaths[id]] = bytes;
  }
  report(0.95, 'Writing the package');
  const tips = placeTips(assembly, components, placed);
  const manifest: Omit<Manifest, 'files'> = {
    format: 'ruota-package',
    version: PACKAGE_VERSION,
    name: assembly.name,
    createdAt: input.now,
    unit: 'mm',
    gaugeLength: gaugeLengthOf(assembly, tips) ?? null,
    tips,
    pieces,
    checks: checkAssembly(assembly, components, models),
    assembly,
    components: used.map((id) => components[id]),
    outlines,
    sources: sourcePaths,
    drawings: drawingPaths,
  };
  return done({ bytes: writePackage(manifest, files), manifest });
}

const isMadeOf = ({ source }: ComponentRecord, { id }: OutlineRecord): boolean => source.kind === 'outline' && source.outline === id;

interface PartInput {
  readonly record: ComponentRecord;
  readonly bytes: Uint8Array;
  readonly source: OpenModel;
  readonly target: GeometryTarget;
  readonly gaugeFromFile: Motion;
  readonly path: string;
  readonly blobs: NonNullable<PackInput['blobs']>;
  readonly crew?: Crew;
}

// The geometry of a target: as it was made on the Bench where that still holds, else made now.
async function targetGeometry(
  kernel: Kernel,
  { record, bytes, source, target, blobs, crew }: PartInput,
): Promise<Result<{ parts: readonly PaintedPart[]; profile?: HalfProfile; growth: Growth; closed: boolean; proof: GeometryPartRecord[] }>> {
  const fresh = freshGeometry(record, target);
  const blob = fresh && blobs[fresh.blob];
  const decoded = blob && hashBytes(blob) === fresh.blob ? decodeModel(blob) : undefined;
  if (fresh && decoded?.ok) {
    const parts = fresh.parts.map(({ bodies, mode }, i) => ({ bodies, mode, ...decoded.value.bodies[i] }));
    return done({ parts, profile: fresh.profile, growth: fresh.growth, closed: fresh.closed, proof: fresh.parts });
  }
  const made = await makeGeometry(kernel, {
    bytes,
    file: record.source.fileName,
    bodies: bodiesFor(record, target),
    opened: source,
    ...(crew ? { crew } : {}),
    ...chosenGeometry(record, target),
    frame: mountFrameOf(record),
    spins: target === 'non-cutting' && spinsInWork(record),
  });
  return made.ok ? done({ ...made.value, proof: made.value.parts.map(partRecord) }) : made;
}

async function packPart(kernel: Kernel, input: PartInput, files: Record<string, Uint8Array>): Promise<Result<PackedPart>> {
  const { record, source, target, gaugeFromFile, path } = input;
  const { mode, tolerance } = chosenGeometry(record, target);
  const frame = mountFrameOf(record);
  const ids = bodiesFor(record, target);
  const made = await targetGeometry(kernel, input);
  if (!made.ok) return made;
  const { profile, growth, closed, proof } = made.value;
  const parts = made.value.parts.map((p) => ({ ...p, mesh: moveMesh(gaugeFromFile, p.mesh) }));
  const mesh = joinMeshes(parts.map((p) => p.mesh));
  const name = `${record.name}, ${target}`;
  files[`${path}.stl`] = writeStl(mesh);
  const painted = parts.flatMap((part) => paintPart(part, record, COLOURS[target], name));
  files[`${path}.glb`] = await writeGlb(painted, { frame: 'gauge: Z towards the work, X radial', mode, tolerance, growth });
  if (profile) {
    const placedFrame = placeFrame(gaugeFromFile, frame);
    files[`${path}.step`] = writeRevolvedStep(kernel, profile, placedFrame, name);
  } else {
    // Of a wrap the true faces: a STEP file of its triangles would serve nobody.
    const bodies = ids.map((id) => ({ id, name: record.bodies.find((b) => b.id === id)?.name ?? id }));
    const step = source.writeStep({ bodies, targetFromFile: gaugeFromFile });
    if (step?.ok === false) return step;
    if (step) files[`${path}.step`] = step.value;
  }
  return done({
    target,
    files: { glb: `${path}.glb`, stl: `${path}.stl`, ...(files[`${path}.step`] ? { step: `${path}.step` } : {}) },
    mode,
    tolerance,
    triangles: mesh.triangles.length / 3,
    volume: meshVolume(mesh),
    growth,
    closed,
    proof,
    ...(profile ? { profile } : {}),
  });
}

/** A package opened again: its records, with ids as they were packed, and the vendor files. */
export interface OpenedPackage {
  readonly manifest: Manifest;
  readonly files: Record<string, Uint8Array>;
  readonly assembly: AssemblyRecord;
  readonly components: Record<string, ComponentRecord>;
  readonly sources: Record<string, Uint8Array>;
  readonly outlines: Record<string, OutlineRecord>;
  /** By the hash of their content. */
  readonly drawings: Record<string, Uint8Array>;
}

/** Opens a package: manifest, hashes and every record validated. */
export function openPackage(bytes: Uint8Array, file: string): Result<OpenedPackage> {
  const read = readPackage(bytes, file);
  if (!read.ok) return read;
  const { manifest, files } = read.value;
  const assembly = readRecord(manifest.assembly, file);
  if (!assembly.ok) return assembly;
  if (assembly.value.kind !== 'assembly') return failed('package.bad-manifest', { file, field: 'assembly', text: 'it is not an assembly' });
  const components: Record<string, ComponentRecord> = {};
  const sources: Record<string, Uint8Array> = {};
  for (const raw of manifest.components) {
    const record = readRecord(raw, file);
    if (!record.ok) return record;
    if (record.value.kind !== 'component') return failed('package.bad-manifest', { file, field: 'components', text: 'one is not a component' });
    const path = manifest.sources[record.value.id];
    if (!path) return failed('package.missing-file', { file, field: `source of ${record.value.name}` });
    const { source } = record.value;
    const isOwn = source.kind === 'file' || hashBytes(writeSolidShape(source.shape)) === source.blob;
    if (hashBytes(files[path]) !== source.blob || !isOwn) return failed('package.changed-file', { file, field: path });
    components[record.value.id] = record.value;
    sources[record.value.id] = files[path];
  }
  const absent = assembly.value.pieces.find((p) => !components[p.componentId]);
  if (absent)
    return {
      ok: false,
      issues: [issue('package.bad-manifest', { file, field: `assembly.pieces.${absent.id}`, text: `component ${absent.componentId} is not in the package` })],
    };
  const outlines: Record<string, OutlineRecord> = {};
  const drawings: Record<string, Uint8Array> = {};
  for (const raw of manifest.outlines) {
    const record = readRecord(raw, file);
    if (!record.ok) return record;
    if (record.value.kind !== 'outline') return failed('package.bad-manifest', { file, field: 'outlines', text: 'one is not an outline' });
    const { id, way } = record.value;
    const path = manifest.drawings[id];
    if (way.kind === 'drawing' && path) {
      if (hashBytes(files[path]) !== way.blob) return failed('package.changed-file', { file, field: path });
      drawings[way.blob] = files[path];
    }
    outlines[id] = record.value;
  }
  return done({ manifest, files, assembly: assembly.value, components, sources, outlines, drawings });
}
