import { done, failed, type Result, sayFew } from '#core/issues';
import { gunzipWithLimit, isGzip, isZip, unzipWithLimit, zipEntries } from '#core/records';
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

const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);
const endingOf = (name: string): string => /\.([^./]+)$/.exec(name)?.[1].toLowerCase() ?? '';
const isPacked = (bytes: Uint8Array, name: string): boolean => isGzip(bytes) || (isZip(bytes) && endingOf(name) !== '3mf');

/** Whether a file is one that others are packed in (zip, gzip, stpZ): no 3MF, and no file of this program. */
export const isArchive = (bytes: Uint8Array, file: string): boolean => isPacked(bytes, file) && !isOwn(bytes);

// Packages and Shelves say what they are in a file of their own.
const isOwn = (bytes: Uint8Array): boolean => isZip(bytes) && zipEntries(bytes).some(({ name }) => name === 'manifest.json' || name === 'shelf.json');

function kindOf(name: string, bytes: Uint8Array): ArchivedKind | undefined {
  if (isOwn(bytes)) return 'package';
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
  const found: Pick<ArchivedFile, 'path' | 'bytes'>[] = [];
  const unpacked = unpackInto(found, bytes, file, '', limit, 0);
  if (!unpacked.ok) return unpacked;
  const others: string[] = [];
  const files: Omit<ArchivedFile, 'isDouble'>[] = [];
  for (const { path, bytes: content } of found) {
    const name = nameOf(path);
    // What other systems leave beside files.
    if (/(^|\/)(__MACOSX\/|\.|Thumbs\.db$)/.test(path)) continue;
    const kind = content.length > 0 ? kindOf(name, content) : undefined;
    if (kind) files.push({ path, name, kind, bytes: content });
    else others.push(path);
  }
  if (files.length === 0) return failed('archive.nothing', { file, names: namesOf(others) });
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
  if (models.length === 0) return failed('archive.no-model', { file, names: namesOf([...files.map((f) => f.path), ...others]) });
  const names = namesOf(models.map((f) => f.path));
  if (path !== undefined) {
    const named = models.filter((f) => f.path === path);
    const meant = named.length > 0 ? named : models.filter((f) => f.name === path);
    return meant.length === 1 ? done(meant[0]) : failed('archive.not-in-it', { file, name: path, names });
  }
  const best = models.filter((f) => !f.isDouble);
  return best.length === 1 ? done(best[0]) : failed('archive.several', { file, count: best.length, names });
}

const namesOf = (paths: readonly string[]): string => (paths.length === 0 ? 'it is empty' : sayFew(paths));
const tooLarge = (file: string) => failed('archive.too-large', { file, limit: LARGEST_ARCHIVE / 1e6, count: MOST_FILES });

// Files of an archive with their paths; returns how many bytes are left of the limit.
function unpackInto(
  found: Pick<ArchivedFile, 'path' | 'bytes'>[],
  bytes: Uint8Array,
  file: string,
  folder: string,
  limit: number,
  deep: number,
): Result<number> {
  const unpacked = isGzip(bytes) ? gunzip(bytes, file, limit) : unzip(bytes, file, limit);
  if (!unpacked.ok) return unpacked;
  let left = limit - Object.values(unpacked.value).reduce((n, b) => n + b.length, 0);
  if (left < 0) return tooLarge(file);
  for (const [path, content] of Object.entries(unpacked.value)) {
    const isInner = deep < MOST_DEEP && isPacked(content, path) && !isOwn(content);
    if (isInner) {
      const inner = unpackInto(found, content, `${file}/${path}`, `${folder}${path}/`, left, deep + 1);
      if (!inner.ok) return inner;
      left = inner.value;
    } else found.push({ path: `${folder}${path}`, bytes: content });
    if (found.length > MOST_FILES) return tooLarge(file);
  }
  return done(left);
}

type Unpacked = Result<Record<string, Uint8Array<ArrayBuffer>>>;

function unzip(bytes: Uint8Array, file: string, limit: number): Unpacked {
  if (zipEntries(bytes).some(({ isLocked }) => isLocked)) return failed('archive.locked', { file });
  const unpacked = unzipWithLimit(bytes, file, limit, MOST_FILES);
  if (unpacked.ok) return unpacked;
  const [{ code, values }] = unpacked.issues;
  return code === 'package.bomb' ? tooLarge(file) : failed('archive.broken', { file, text: String(values.text) });
}

function gunzip(bytes: Uint8Array, file: string, limit: number): Unpacked {
  try {
    const name = nameOf(file)
      .replace(/\.gz$/i, '')
      .replace(/\.(stp|step)z$/i, '.$1');
    return done({ [name]: gunzipWithLimit(bytes, limit) });
  } catch (error) {
    return error instanceof RangeError ? tooLarge(file) : failed('archive.broken', { file, text: error instanceof Error ? error.message : String(error) });
  }
}
