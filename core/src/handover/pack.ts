import { checkAssembly, gaugeLengthOf, placeFrame, placePieces, placeTips } from '#core/assembly';
import type { Growth } from '#core/envelope';
import { failed, type Result, done } from '#core/issues';
import { type Kernel, type OpenModel, placementsOf, writeRevolvedStep } from '#core/kernel';
import { type Motion, move } from '#core/math';
import { decodeModel, joinMeshes, meshVolume, type Model, moveMesh, writeGlb, writeStl } from '#core/mesh';
import {
  type AssemblyManifest,
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
  programmedPointOf,
  safeFileName,
  spinsInWork,
  writePackage,
  hashBytes,
} from '#core/records';
import { type Crew, makeGeometry, partRecord } from '#core/making';
import type { HalfProfile } from '#core/outline';
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
    const packing = new Packing(kernel, input, open);
    const packed = await packing.add(input.assembly, '', input.onProgress);
    if (!packed.ok) return packed;
    const manifest = { format: 'ruota-package' as const, version: PACKAGE_VERSION, ...packed.value, ...packing.rest() };
    return done({ bytes: writePackage(manifest, packing.files), manifest });
  } finally {
    if (!input.open) open.close();
  }
}

/** A package and its manifest. */
export interface Packed {
  readonly bytes: Uint8Array;
  readonly manifest: Omit<Manifest, 'files'>;
}

/** Files of a package as they gather: assemblies one after the other, what several are made of only once. */
export class Packing {
  readonly files: Record<string, Uint8Array> = {};
  readonly models: Record<string, Model | undefined>;
  private readonly sourcePaths: Record<string, string> = {};
  private readonly used: string[] = [];
  private readonly made = new Map<string, Promise<Result<TargetGeometry>>>();
  private readonly kernel: Kernel;
  private readonly input: Omit<PackInput, 'assembly' | 'onProgress'>;
  private readonly open: OpenSources;

  constructor(kernel: Kernel, input: Omit<PackInput, 'assembly' | 'onProgress'>, open: OpenSources) {
    this.kernel = kernel;
    this.input = input;
    this.open = open;
    this.models = { ...input.models };
  }

  /** Adds an assembly with its parts under `folder` (empty or with a slash at its end); what its manifest says of it. */
  async add(assembly: AssemblyRecord, folder: string, report: PackInput['onProgress'] = () => undefined): Promise<Result<AssemblyManifest>> {
    const { components, sources } = this.input;
    for (const { componentId: id } of assembly.pieces) {
      if (this.used.includes(id)) continue;
      const record = components[id];
      if (!record || !sources[id]) return failed('recipe.missing', { file: assembly.name, field: 'piece', text: `component ${id}` });
      const path = `sources/${record.source.blob.slice(0, 12)}-${safeFileName(record.source.fileName)}`;
      this.files[path] = sources[id];
      this.sourcePaths[id] = path;
      if (!this.models[id]) {
        const opened = await this.open.of(record, sources[id]);
        const read = opened.ok ? opened.value.read() : opened;
        if (!read.ok) return read;
        this.models[id] = read.value.model;
      }
      this.used.push(id);
    }
    const placed = placePieces(assembly, components);
    const pieces: Manifest['pieces'] = [];
    const folders = new Set<string>();
    for (const [index, piece] of assembly.pieces.entries()) {
      const record = components[piece.componentId];
      const gaugeFromFile = placed.get(piece.id);
      if (!gaugeFromFile) return failed('join.no-mount', { piece: record.name });
      let path = `${folder}parts/${index + 1}-${safeFileName(record.name)}`;
      while (folders.has(path)) path += '-';
      folders.add(path);
      const parts: PackedPart[] = [];
      const source = await this.open.of(record, sources[record.id]);
      if (!source.ok) return source;
      for (const target of ['non-cutting', 'cutting'] as const) {
        if (bodiesFor(record, target).length === 0) continue;
        report(index / assembly.pieces.length, `${record.name}: ${target} part`);
        const part = await this.part({ record, source: source.value, target, gaugeFromFile, path: `${path}/${target}` });
        if (!part.ok) return part;
        parts.push(part.value);
      }
      pieces.push({ piece: piece.id, name: record.name, componentId: record.id, mountInGauge: placeFrame(gaugeFromFile, mountFrameOf(record)), parts });
    }
    report(0.95, 'Writing the package');
    const tips = placeTips(assembly, components, placed);
    const gaugeLength = gaugeLengthOf(assembly, tips) ?? null;
    return done({ name: assembly.name, gaugeLength, tips, pieces, checks: checkAssembly(assembly, components, this.models), assembly });
  }

  /** What all assemblies of the manifest share; drawings are among the files from now on. */
  rest(): Pick<Manifest, 'createdAt' | 'unit' | 'components' | 'outlines' | 'sources' | 'drawings'> {
    const { components, now } = this.input;
    const outlines = (this.input.outlines ?? []).filter((o) => this.used.some((id) => isMadeOf(components[id], o)));
    const drawings: Record<string, string> = {};
    for (const { id, way } of outlines) {
      const bytes = way.kind === 'drawing' ? this.input.drawings?.[way.blob] : undefined;
      if (way.kind !== 'drawing' || !bytes) continue;
      drawings[id] = `drawings/${way.blob.slice(0, 12)}-${safeFileName(way.fileName)}`;
      this.files[drawings[id]] = bytes;
    }
    return { createdAt: now, unit: 'mm', components: this.used.map((id) => components[id]), outlines, sources: this.sourcePaths, drawings };
  }

  // A component in several assemblies is made once.
  private geometry(part: PartInput): Promise<Result<TargetGeometry>> {
    const key = `${part.target} ${part.record.id}`;
    const before = this.made.get(key);
    if (before) return before;
    const made = targetGeometry(this.kernel, part, this.input, this.input.sources[part.record.id]);
    this.made.set(key, made);
    return made;
  }

  private async part(part: PartInput): Promise<Result<PackedPart>> {
    const made = await this.geometry(part);
    return made.ok ? packPart(this.kernel, part, made.value, this.files) : made;
  }
}

const isMadeOf = ({ source }: ComponentRecord, { id }: OutlineRecord): boolean => source.kind === 'outline' && source.outline === id;

interface PartInput {
  readonly record: ComponentRecord;
  readonly source: OpenModel;
  readonly target: GeometryTarget;
  readonly gaugeFromFile: Motion;
  readonly path: string;
}

// In the coordinates of the component's file.
interface TargetGeometry {
  readonly parts: readonly PaintedPart[];
  readonly profile?: HalfProfile;
  readonly growth: Growth;
  readonly closed: boolean;
  readonly proof: GeometryPartRecord[];
}

// The geometry of a target: as it was made on the Bench where that still holds, else made now.
async function targetGeometry(
  kernel: Kernel,
  { record, source, target }: PartInput,
  { blobs, crew }: Pick<PackInput, 'blobs' | 'crew'>,
  bytes: Uint8Array,
): Promise<Result<TargetGeometry>> {
  const fresh = freshGeometry(record, target);
  const blob = fresh && blobs?.[fresh.blob];
  const decoded = blob && hashBytes(blob) === fresh.blob ? decodeModel(blob) : undefined;
  if (fresh && decoded?.ok) {
    const parts = fresh.parts.map(({ bodies, mode }, i) => ({ bodies, mode, ...decoded.value.bodies[i] }));
    const { profile, growth, closed } = fresh;
    return done({ parts, ...(profile ? { profile } : {}), growth, closed, proof: fresh.parts });
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

async function packPart(
  kernel: Kernel,
  { record, source, target, gaugeFromFile, path }: PartInput,
  made: TargetGeometry,
  files: Record<string, Uint8Array>,
): Promise<Result<PackedPart>> {
  const { mode, tolerance } = chosenGeometry(record, target);
  const frame = mountFrameOf(record);
  const ids = bodiesFor(record, target);
  const { profile, growth, closed, proof } = made;
  const parts = made.parts.map((p) => ({ ...p, mesh: moveMesh(gaugeFromFile, p.mesh) }));
  const mesh = joinMeshes(parts.map((p) => p.mesh));
  const name = `${record.name}, ${target}`;
  files[`${path}.stl`] = writeStl(mesh);
  const painted = parts.flatMap((part) => paintPart(part, record, COLOURS[target], name));
  files[`${path}.glb`] = await writeGlb(painted, { frame: 'gauge: Z towards the work, X radial', mode, tolerance, growth });
  // Others find the interfaces by their names.
  const placements = placementsOf(
    placeFrame(gaugeFromFile, frame),
    record.seats.map((s) => placeFrame(gaugeFromFile, s.frame)),
    record.tips.map((t) => move(gaugeFromFile, programmedPointOf(t, frame))),
  );
  if (profile) {
    files[`${path}.step`] = writeRevolvedStep(kernel, profile, placeFrame(gaugeFromFile, frame), name, placements);
  } else {
    // Of a wrap the true faces: a STEP file of its triangles would serve nobody.
    const bodies = ids.map((id) => ({ id, name: record.bodies.find((b) => b.id === id)?.name ?? id }));
    const step = source.writeStep({ bodies, targetFromFile: gaugeFromFile, placements });
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
