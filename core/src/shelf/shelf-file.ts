import { strFromU8, strToU8, zipSync } from 'fflate';
import { z } from 'zod';
import { done, failed, type Issue, issue, type Result } from '#core/issues';
import { type AnyRecord, hashBytes, readRecord, safeFileName, unzipWithLimit, ZIPPED, zipEntries } from '#core/records';
import { withoutLostSets } from './merge.ts';

// Versions: a newer one is refused with a clear word; records inside are brought up by their own migrations.
export const SHELF_FILE_VERSION = 1;

const LARGEST_UNPACKED = 1500e6;
const MOST_FILES = 100_000;

/** What a blob of a Shelf's file is. */
const BLOB_ROLES = ['vendor file', 'drawing', 'geometry'] as const;

const manifestSchema = z.object({
  format: z.literal('ruota-shelf'),
  version: z.number().int().min(1),
  createdAt: z.string(),
  records: z.number().int(),
  blobs: z.array(z.object({ path: z.string().min(1).max(300), sha256: z.string(), bytes: z.number().int(), role: z.enum(BLOB_ROLES) })),
});

export interface ShelfContent {
  readonly records: Readonly<Record<string, AnyRecord>>;
  /** Vendor files, drawings and made geometry by their hash. */
  readonly blobs: Readonly<Record<string, Uint8Array>>;
}

/** A blob that a record needs to be whole. What can be made again (the picture's model) is not among them. */
export interface NeededBlob {
  readonly hash: string;
  readonly role: (typeof BLOB_ROLES)[number];
  readonly fileName: string;
}

export function blobsNeededBy(record: AnyRecord): NeededBlob[] {
  if (record.kind === 'outline' && record.way.kind === 'drawing') return [{ hash: record.way.blob, role: 'drawing', fileName: record.way.fileName }];
  if (record.kind !== 'component') return [];
  const { source, geometry, name } = record;
  return [
    ...(source.kind === 'file' ? [{ hash: source.blob, role: 'vendor file' as const, fileName: source.fileName }] : []),
    ...geometry.map((g) => ({ hash: g.blob, role: 'geometry' as const, fileName: `${name}-${g.target}.bin` })),
  ];
}

/** Writes records with what they need as one file: see docs/shelf.md. What is not given of the blobs is left out. */
export function writeShelfFile({ records, blobs }: ShelfContent, now: string): Uint8Array {
  const files: Record<string, Uint8Array> = {};
  const listed: z.infer<typeof manifestSchema>['blobs'] = [];
  const written = new Set<string>();
  for (const { hash, role, fileName } of Object.values(records).flatMap(blobsNeededBy)) {
    const bytes = blobs[hash];
    if (!bytes || written.has(hash)) continue;
    written.add(hash);
    const path = `${role === 'geometry' ? 'geometry' : 'files'}/${hash.slice(0, 12)}-${safeFileName(fileName)}`;
    files[path] = bytes;
    listed.push({ path, sha256: hash, bytes: bytes.length, role });
  }
  const all = Object.values(records);
  const manifest = { format: 'ruota-shelf' as const, version: SHELF_FILE_VERSION, createdAt: now, records: all.length, blobs: listed };
  const lines = all.map((r) => JSON.stringify(r)).join('\n');
  return zipSync({ 'shelf.json': strToU8(JSON.stringify(manifest, null, 1)), 'records.jsonl': strToU8(`${lines}\n`), ...files }, ZIPPED);
}

/** Reads a Shelf's file. A record that is damaged is left out and said; all others are there. */
export function readShelfFile(bytes: Uint8Array, file: string): Result<ShelfContent & { readonly faults: readonly Issue[] }> {
  const unzipped = unzipWithLimit(bytes, file, LARGEST_UNPACKED, MOST_FILES);
  if (!unzipped.ok) return unzipped;
  const files = unzipped.value;
  const [raw, lines] = [files['shelf.json'], files['records.jsonl']];
  if (!raw || !lines) return failed('shelf.not-one', { file, text: `it has no ${raw ? 'records.jsonl' : 'shelf.json'}` });
  const manifest = manifestOf(raw, file);
  if (!manifest.ok) return manifest;
  const faults: Issue[] = [];
  const records: Record<string, AnyRecord> = {};
  for (const [i, line] of strFromU8(lines).split('\n').entries()) {
    if (line.trim() === '') continue;
    const read = readLine(line, file);
    if (typeof read === 'string') faults.push(issue('shelf.bad-record', { file, line: i + 1, text: read }));
    else records[read.id] = read;
  }
  const blobs: Record<string, Uint8Array> = {};
  for (const { path, sha256 } of manifest.value.blobs) if (files[path] && hashBytes(files[path]) === sha256) blobs[sha256] = files[path];
  for (const r of Object.values(records))
    for (const { hash, role } of blobsNeededBy(r))
      if (!blobs[hash] && role !== 'geometry') faults.push(issue('shelf.missing-file', { file, what: role, name: r.name }));
  return done({ records: withoutLostSets(withGeometryOf(records, blobs)), blobs, faults });
}

/** Whether a zip is a Shelf's file, by the names in it: others may have packed it again in another order. */
export const isShelfFile = (bytes: Uint8Array): boolean => zipEntries(bytes).some(({ name }) => name === 'shelf.json');

function manifestOf(raw: Uint8Array, file: string): Result<z.infer<typeof manifestSchema>> {
  let json: unknown;
  try {
    json = JSON.parse(strFromU8(raw));
  } catch (error) {
    return failed('shelf.not-one', { file, text: `shelf.json: ${error instanceof Error ? error.message : 'not JSON'}` });
  }
  const parsed = manifestSchema.safeParse(json);
  if (!parsed.success) return failed('shelf.not-one', { file, text: `shelf.json: ${parsed.error.issues[0].path.join('.')} ${parsed.error.issues[0].message}` });
  if (parsed.data.version > SHELF_FILE_VERSION) return failed('package.newer', { file, version: parsed.data.version, limit: SHELF_FILE_VERSION });
  return done(parsed.data);
}

function readLine(line: string, file: string): AnyRecord | string {
  let raw: unknown;
  try {
    raw = JSON.parse(line);
  } catch (error) {
    return error instanceof Error ? error.message : 'not JSON';
  }
  const read = readRecord(raw, file);
  if (read.ok) return read.value;
  const { field = 'record', text = '' } = read.issues[0].values;
  return `${String(field)}: ${String(text)}`;
}

// Geometry whose blob is not there is to be made again.
function withGeometryOf(records: Readonly<Record<string, AnyRecord>>, blobs: ShelfContent['blobs']): Record<string, AnyRecord> {
  return Object.fromEntries(
    Object.entries(records).map(([id, r]) => [id, r.kind === 'component' ? { ...r, geometry: r.geometry.filter((g) => blobs[g.blob]) } : r]),
  );
}
