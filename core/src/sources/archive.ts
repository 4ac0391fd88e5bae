import { Gunzip } from 'fflate';
import { done, failed, type Result } from '#core/issues';
import { isZip, unzipWithLimit } from '#core/records';
import { drawingFormatOf } from './drawn/index.ts';

/** What a file in an archive is opened as. */
export type ArchivedKind = 'model' | 'drawing' | 'picture' | 'table' | 'package';

export interface ArchivedFile {
  /** With its folders, as the archive has it. */
  readonly path: string;
  /** Without them. */
  readonly name: string;
  readonly kind: ArchivedKind;
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** The same model is there in a form that says more of it: as STEP beside STL. */
  readonly isDouble: boolean;
}

export interface Archive {
  /** In the order of kinds, and of their names. */
  readonly files: readonly ArchivedFile[];
  /** Paths of what is not opened. */
  readonly others: readonly string[];
}

/** Bytes. What an archive may unpack to, whatever it says of itself. */
export const LARGEST_ARCHIVE = 800e6;
const MOST_FILES = 2000;
// Archives within archives.
const MOST_DEEP = 3;
// By endings of models, the less the more such a file says of one.
const MODEL_RANKS: Readonly<Record<string, number>> = { step: 0, stp: 0, '3mf': 1, glb: 2, obj: 3, stl: 4 };
const KINDS: readonly ArchivedKind[] = ['model', 'drawing', 'picture', 'table', 'package'];
// Named in messages.
const FEW = 6;

const endingOf = (name: string): string => /\.([^./]+)$/.exec(name)?.[1].toLowerCase() ?? '';
const isGzip = (bytes: Uint8Array): boolean => bytes[0] === 0x1f && bytes[1] === 0x8b;
const isPacked = (bytes: Uint8Array, name: string): boolean => isGzip(bytes) || (isZip(bytes) && endingOf(name) !== '3mf');

/** Whether a file is one that others are packed in (zip, gzip, stpZ): no 3MF, and no file of this program. */
export const isArchive = (bytes: Uint8Array, file: string): boolean => isPacked(bytes, file) && !isOwn(bytes);

// Bytes at the end of a zip within which its directory is looked for.
const DIRECTORY = 1 << 20;
// Packages and Shelves say what they are in a file of their own: the first one as they are written, named in the directory once more.
function isOwn(bytes: Uint8Array): boolean {
  if (!isZip(bytes)) return false;
  const text = (part: Uint8Array) => new TextDecoder('latin1').decode(part);
  return /^.{30}(manifest|shelf)\.json/s.test(text(bytes.subarray(0, 60))) || /PK\x01\x02.{42}(manifest|shelf)\.json/s.test(text(bytes.subarray(-DIRECTORY)));
}

function kindOf(name: string, bytes: Uint8Array): ArchivedKind | undefined {
  if (isZip(bytes) && isOwn(bytes)) return 'package';
  const ending = endingOf(name);
  if (ending in MODEL_RANKS) return 'model';
  const drawing = drawingFormatOf(name);
  if (drawing) return drawing === 'dxf' || drawing === 'svg' ? 'drawing' : 'picture';
  return ending === 'webp' ? 'picture' : ending === 'csv' || ending === 'tsv' ? 'table' : undefined;
}

/**
 * What is packed in a zip or gzip file, archives in it unpacked too. Vendors send models so, with pictures, drawings and sheets beside them. Issues: broken, locked,
 * larger than `limit` bytes unpacked, or with nothing in it that is opened.
 */
export function openArchive(bytes: Uint8Array, file: string, limit = LARGEST_ARCHIVE): Result<Archive> {
  const found: { path: string; bytes: Uint8Array }[] = [];
  const unpacked = unpackInto(found, bytes, file, '', limit, 0);
  if (!unpacked.ok) return unpacked;
  const others: string[] = [];
  const files: Omit<ArchivedFile, 'isDouble'>[] = [];
  for (const { path, bytes: content } of found) {
    const name = path.slice(path.lastIndexOf('/') + 1);
    // What other systems leave beside files.
    if (/(^|\/)(__MACOSX\/|\.|Thumbs\.db$)/.test(path)) continue;
    const kind = content.length > 0 ? kindOf(name, content) : undefined;
    if (kind) files.push({ path, name, kind, bytes: new Uint8Array(content) });
    else others.push(path);
  }
  if (files.length === 0) return failed('archive.nothing', { file, names: sayNames(others) });
  const stemOf = (name: string) => name.toLowerCase().replace(/\.[^.]+$/, '');
  const rankOf = (name: string) => MODEL_RANKS[endingOf(name)] ?? 0;
  files.sort(
    (a, b) =>
      KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind) || stemOf(a.path).localeCompare(stemOf(b.path), 'en', { numeric: true }) || rankOf(a.name) - rankOf(b.name),
  );
  const models = files.filter((f) => f.kind === 'model');
  const isDouble = ({ kind, name }: { kind: ArchivedKind; name: string }) =>
    kind === 'model' && models.some((m) => stemOf(m.name) === stemOf(name) && rankOf(m.name) < rankOf(name));
  return done({ files: files.map((f) => ({ ...f, isDouble: isDouble(f) })), others });
}

/** The one model of an archive, or the one at a path in it (its name will do where no other has it). */
export function modelInArchive(bytes: Uint8Array, file: string, path?: string): Result<ArchivedFile> {
  const archive = openArchive(bytes, file);
  if (!archive.ok) return archive;
  const { files, others } = archive.value;
  const models = files.filter((f) => f.kind === 'model');
  if (models.length === 0) return failed('archive.nothing', { file, names: sayNames([...files.map((f) => f.path), ...others]) });
  const names = sayNames(models.map((f) => f.path));
  if (path !== undefined) {
    const named = models.filter((f) => f.path === path);
    const meant = named.length > 0 ? named : models.filter((f) => f.name === path);
    return meant.length === 1 ? done(meant[0]) : failed('archive.not-in-it', { file, name: path, names });
  }
  const best = models.filter((f) => !f.isDouble);
  return best.length === 1 ? done(best[0]) : failed('archive.several', { file, count: best.length, names });
}

const sayNames = (paths: readonly string[]): string =>
  paths.length === 0 ? 'it is empty' : `${paths.slice(0, FEW).join(', ')}${paths.length > FEW ? ` and ${paths.length - FEW} more` : ''}`;

// Files of an archive with their paths; returns how many bytes are left of the limit.
function unpackInto(
  found: { path: string; bytes: Uint8Array }[],
  bytes: Uint8Array,
  file: string,
  folder: string,
  limit: number,
  deep: number,
): Result<number> {
  const tooLarge = () => failed('archive.too-large', { file, limit: LARGEST_ARCHIVE / 1e6, count: MOST_FILES });
  const unpacked = isGzip(bytes) ? gunzip(bytes, file, limit) : unzip(bytes, file, limit);
  if (!unpacked.ok) return unpacked;
  let left = limit - Object.values(unpacked.value).reduce((n, b) => n + b.length, 0);
  if (left < 0) return tooLarge();
  for (const [path, content] of Object.entries(unpacked.value)) {
    const isInner = deep < MOST_DEEP && isPacked(content, path) && !isOwn(content);
    if (isInner) {
      const inner = unpackInto(found, content, `${file}/${path}`, `${folder}${path}/`, left, deep + 1);
      if (!inner.ok) return inner;
      left = inner.value;
    } else found.push({ path: `${folder}${path}`, bytes: content });
    if (found.length > MOST_FILES) return tooLarge();
  }
  return done(left);
}

function unzip(bytes: Uint8Array, file: string, limit: number): Result<Record<string, Uint8Array>> {
  if (isLocked(bytes)) return failed('archive.locked', { file });
  const unpacked = unzipWithLimit(bytes, file, limit, MOST_FILES);
  if (unpacked.ok) return unpacked;
  const [{ code, values }] = unpacked.issues;
  return code === 'package.bomb'
    ? failed('archive.too-large', { file, limit: LARGEST_ARCHIVE / 1e6, count: MOST_FILES })
    : failed('archive.broken', { file, text: String(values.text) });
}

// APPNOTE 4.4.4: bit 0 of a file's flags, in its local header.
const isLocked = (bytes: Uint8Array): boolean => (bytes[6] & 1) === 1;

function gunzip(bytes: Uint8Array, file: string, limit: number): Result<Record<string, Uint8Array>> {
  const chunks: Uint8Array[] = [];
  let total = 0;
  let isWhole = false;
  const stream = new Gunzip((chunk, final) => {
    total += chunk.length;
    if (total > limit) throw new RangeError('too large');
    chunks.push(chunk);
    isWhole ||= final;
  });
  try {
    const step = 1 << 16;
    for (let at = 0; at < bytes.length; at += step) stream.push(bytes.subarray(at, at + step), at + step >= bytes.length);
  } catch (error) {
    if (total > limit) return failed('archive.too-large', { file, limit: LARGEST_ARCHIVE / 1e6, count: MOST_FILES });
    return failed('archive.broken', { file, text: error instanceof Error ? error.message : String(error) });
  }
  if (!isWhole) return failed('archive.broken', { file, text: 'it is cut off' });
  const whole = new Uint8Array(total);
  let at = 0;
  for (const chunk of chunks) {
    whole.set(chunk, at);
    at += chunk.length;
  }
  const name = file
    .slice(file.lastIndexOf('/') + 1)
    .replace(/\.gz$/i, '')
    .replace(/\.(stp|step)z$/i, '.$1');
  return done({ [name]: whole });
}
