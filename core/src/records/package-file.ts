import { strFromU8, strToU8, zipSync } from 'fflate';
import { z } from 'zod';
import { failed, issue, type Result, done } from '#core/issues';
import { hashBytes } from './hash.ts';
import { halfProfileSchema, loopThrough } from '#core/outline';
import { checkSchema } from './check.ts';
import { geometryPartSchema, PART_MODES } from './geometry-record.ts';
import { frameSchema, growthSchema, vec3Schema } from './values.ts';
import { unzipWithLimit } from './zip-file.ts';

export const PACKAGE_VERSION = 1;

const fileName = z
  .string()
  .min(1)
  .max(300)
  .regex(/^(?!\.+(\/|$))[\w.-]+(\/(?!\.+(\/|$))[\w.-]+)*$/, 'not a plain path inside the package');

// Packages of before had the outside as runs of points from the axis to the axis.
function fromRuns(profile: unknown): unknown {
  const isRun = (run: unknown): run is [number, number][] => Array.isArray(run) && run.length > 0 && run.every((p) => Array.isArray(p) && p.length === 2);
  if (!Array.isArray(profile) || !profile.every(isRun)) return profile;
  return profile.map((run) => loopThrough([...run].reverse()));
}

/** One light geometry of a piece in the gauge frame: its files and how they were made. */
export const packedPartSchema = z.object({
  target: z.enum(['cutting', 'non-cutting']),
  /** No STEP where the vendor's file is a mesh and the geometry follows it. */
  files: z.object({ glb: fileName, stl: fileName, step: fileName.optional() }),
  mode: z.enum(['auto', ...PART_MODES]),
  tolerance: z.number().positive(),
  triangles: z.number().int(),
  volume: z.number(),
  growth: growthSchema,
  closed: z.boolean(),
  /** How each of its meshes was proven; packages of before did not say. */
  proof: z.array(geometryPartSchema).optional(),
  /** Half profile along the piece's mount axis; for revolved geometry. */
  profile: z.preprocess(fromRuns, halfProfileSchema.optional()),
});
export type PackedPart = z.infer<typeof packedPartSchema>;

export const packedTipSchema = z.object({
  piece: z.string(),
  tip: z.string(),
  name: z.string(),
  L: z.number(),
  Q: z.number(),
  Y: z.number(),
  noseRadius: z.number(),
  noseCentre: vec3Schema,
  virtualTip: vec3Schema,
  programmedPoint: z.enum(['virtual tip', 'nose centre', 'picked point']),
});

const packedFiles = {
  createdAt: z.string(),
  unit: z.literal('mm'),
  components: z.array(z.unknown()),
  /** The outlines that components were made of; packages of before had none. */
  outlines: z.array(z.unknown()).default([]),
  /** The vendor files as they came: component id to path. */
  sources: z.record(z.string(), fileName),
  /** The drawings and pictures that outlines were read from, as they came: outline id to path. */
  drawings: z.record(z.string(), fileName).default({}),
  /** Every other file of the package with its content's SHA-256. */
  files: z.array(z.object({ path: fileName, sha256: z.string(), bytes: z.number().int() })),
};

const packedAssembly = {
  name: z.string().min(1),
  gaugeLength: z.number().nullable(),
  tips: z.array(packedTipSchema),
  pieces: z.array(z.object({ piece: z.string(), name: z.string(), componentId: z.string(), mountInGauge: frameSchema, parts: z.array(packedPartSchema) })),
  checks: z.array(checkSchema),
  assembly: z.unknown(),
};

/** What a package says of one assembly. */
export type AssemblyManifest = z.infer<z.ZodObject<typeof packedAssembly>>;

/** The manifest of a package; documented in docs/package.md. Records inside are validated on their own. */
export const manifestSchema = z.object({ format: z.literal('ruota-package'), version: z.number().int().min(1), ...packedAssembly, ...packedFiles });
export type Manifest = z.infer<typeof manifestSchema>;

/** The manifest of a set-up's package: all assemblies that stand in it, what is told of it, and the programs tried against it. */
export const setUpManifestSchema = z.object({
  format: z.literal('ruota-set-up'),
  version: z.number().int().min(1),
  name: z.string().min(1),
  machine: z.unknown(),
  setUp: z.unknown(),
  trials: z.array(z.unknown()),
  /** What `ruota setup` tells of it; compared as a whole. */
  told: z.record(z.string(), z.unknown()),
  /** Trial id to the paths of its programs, in their order. */
  programs: z.record(z.string(), z.array(fileName)),
  assemblies: z.array(z.object(packedAssembly)),
  ...packedFiles,
});
export type SetUpManifest = z.infer<typeof setUpManifestSchema>;

const anyManifestSchema = z.discriminatedUnion('format', [manifestSchema, setUpManifestSchema]);
export type AnyManifest = z.infer<typeof anyManifestSchema>;

export type PackageFiles = Readonly<Record<string, Uint8Array>>;

// Level 3 takes two thirds of the time of the usual 6, and 6 % more bytes; equal packages are equal files.
export const ZIPPED = { level: 3, mtime: '2026-01-01' } as const;

/** Zips the files of a package with their manifest; the list of files is filled in here. */
export function writePackage(manifest: Omit<Manifest, 'files'> | Omit<SetUpManifest, 'files'>, files: PackageFiles): Uint8Array {
  const listed = Object.entries(files).map(([path, bytes]) => ({ path, sha256: hashBytes(bytes), bytes: bytes.length }));
  return zipSync({ 'manifest.json': strToU8(JSON.stringify({ ...manifest, files: listed }, null, 1)), ...files }, ZIPPED);
}

/** Opens a package of either kind: unzips it, validates the manifest, and compares every file with its hash. */
export function readPackage(bytes: Uint8Array, file: string): Result<{ manifest: AnyManifest; files: Record<string, Uint8Array> }> {
  const unzipped = unzipWithLimit(bytes, file);
  if (!unzipped.ok) return unzipped;
  const files = unzipped.value;
  const raw = files['manifest.json'];
  if (!raw) return failed('package.no-manifest', { file });
  let json: unknown;
  try {
    json = JSON.parse(strFromU8(raw));
  } catch (error) {
    return failed('package.bad-manifest', { file, field: 'manifest.json', text: error instanceof Error ? error.message : 'not JSON' });
  }
  const parsed = anyManifestSchema.safeParse(json);
  if (!parsed.success)
    return {
      ok: false,
      issues: parsed.error.issues.slice(0, 3).map((i) => issue('package.bad-manifest', { file, field: i.path.join('.') || 'manifest', text: i.message })),
    };
  const manifest = parsed.data;
  if (manifest.version > PACKAGE_VERSION) return failed('package.newer', { file, version: manifest.version, limit: PACKAGE_VERSION });
  const named = [
    ...manifest.files.map((f) => f.path),
    ...Object.values(manifest.sources),
    ...Object.values(manifest.drawings),
    ...(manifest.format === 'ruota-package' ? [manifest] : manifest.assemblies).flatMap(namedBy),
    ...(manifest.format === 'ruota-set-up' ? Object.values(manifest.programs).flat() : []),
  ];
  const missing = named.find((path) => !files[path]);
  if (missing !== undefined) return failed('package.missing-file', { file, field: missing });
  const changed = manifest.files.find((f) => hashBytes(files[f.path]) !== f.sha256);
  if (changed) return failed('package.changed-file', { file, field: changed.path });
  return done({ manifest, files });
}

const namedBy = ({ pieces }: Pick<Manifest, 'pieces'>): string[] => pieces.flatMap((p) => p.parts.flatMap((part) => Object.values(part.files)));

/** A name as a safe file name: letters, digits, dot, dash; never empty, a path or hidden. */
export function safeFileName(name: string): string {
  const plain = name
    .normalize('NFKD')
    .replace(/[^\w.-]+/g, '-')
    .replace(/\.{2,}/g, '.')
    .replace(/^[-.]+|[-.]+$/g, '')
    .slice(0, 60);
  return plain || 'unnamed';
}
