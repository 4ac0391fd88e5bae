// Zip and gzip files, unpacked with limits that hold whatever they claim of themselves.
import { Gunzip, strFromU8, Unzip, UnzipInflate } from 'fflate';
import { done, failed, type Result } from '#core/issues';

/** Bytes. What a package may unpack to; beyond it is a zip bomb, not a tool. */
const LARGEST_UNPACKED = 600e6;
const MOST_FILES = 5000;
// Bytes that are unpacked at once: a bomb is noticed before it has filled the memory.
const STEP = 1 << 16;

/** Whether bytes begin like a gzip file (RFC 1952, 2.3.1). */
export const isGzip = (bytes: Uint8Array): boolean => bytes[0] === 0x1f && bytes[1] === 0x8b;

/** Of a file in a zip, by what the zip says of it. */
export interface ZipEntry {
  readonly name: string;
  /** It needs a password. */
  readonly isLocked: boolean;
}

// APPNOTE 4.3.7, 4.3.12 and 4.3.16, each with the places of its flags and of the length of its name.
const LOCAL = { signature: 0x04034b50, flags: 6, nameLength: 26, name: 30 };
const CENTRAL = { signature: 0x02014b50, flags: 8, nameLength: 28, name: 46 };
const END = { signature: 0x06054b50, size: 22, longestComment: 65535 };

/** What a zip's directory lists; of one that is cut off, or has no usual directory, its first file. */
export function zipEntries(bytes: Uint8Array): ZipEntry[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const entryAt = (at: number, of: typeof LOCAL): ZipEntry | undefined => {
    if (at + of.name > bytes.length || view.getUint32(at, true) !== of.signature) return undefined;
    const nameLength = view.getUint16(at + of.nameLength, true);
    return { name: strFromU8(bytes.subarray(at + of.name, at + of.name + nameLength)), isLocked: (view.getUint16(at + of.flags, true) & 1) === 1 };
  };
  const found: ZipEntry[] = [];
  for (let end = bytes.length - END.size; end >= Math.max(0, bytes.length - END.size - END.longestComment) && found.length === 0; end--) {
    if (view.getUint32(end, true) !== END.signature) continue;
    let at = view.getUint32(end + 16, true);
    for (let entry = entryAt(at, CENTRAL); entry; entry = entryAt(at, CENTRAL)) {
      found.push(entry);
      at += CENTRAL.name + [28, 30, 32].reduce((n, field) => n + view.getUint16(at + field, true), 0);
    }
  }
  const first = found.length === 0 ? entryAt(0, LOCAL) : undefined;
  return first ? [first] : found;
}

/** Whether bytes begin like a zip file. */
export const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;

/** Unzips with a limit that holds whatever the zip's own tables claim. */
export function unzipWithLimit(
  bytes: Uint8Array,
  file: string,
  limit = LARGEST_UNPACKED,
  mostFiles = MOST_FILES,
): Result<Record<string, Uint8Array<ArrayBuffer>>> {
  if (bytes.length === 0) return failed('file.empty', { file });
  if (!isZip(bytes)) return failed('package.not-zip', { file, text: 'it does not begin like one' });
  const files: Record<string, Uint8Array<ArrayBuffer>> = {};
  let total = 0;
  let count = 0;
  let open = 0;
  let fault: Result<never> | undefined;
  const unzip = new Unzip((entry) => {
    if (entry.name.endsWith('/')) return;
    if (++count > mostFiles) {
      fault ??= failed('package.bomb', { file, limit: limit / 1e6 });
      return;
    }
    const chunks: Uint8Array[] = [];
    open++;
    entry.ondata = (error, chunk, final) => {
      if (error) fault ??= failed('package.not-zip', { file, text: error.message });
      if (error || fault) return;
      total += chunk.length;
      if (total > limit) {
        fault = failed('package.bomb', { file, limit: limit / 1e6 });
        entry.terminate();
        return;
      }
      chunks.push(chunk);
      if (!final) return;
      open--;
      files[entry.name] = joined(chunks);
    };
    entry.start();
  });
  unzip.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length && !fault; at += STEP) unzip.push(bytes.subarray(at, at + STEP), at + STEP >= bytes.length);
  } catch (error) {
    fault ??= failed('package.not-zip', { file, text: error instanceof Error ? error.message : String(error) });
  }
  if (fault) return fault;
  if (open > 0 || Object.keys(files).length === 0) return failed('package.not-zip', { file, text: 'it is cut off' });
  return done(files);
}

/** The same of a gzip file; a RangeError where it is larger than `limit` bytes, an Error where it is damaged. */
export function gunzipWithLimit(bytes: Uint8Array, limit: number): Uint8Array<ArrayBuffer> {
  const chunks: Uint8Array[] = [];
  let total = 0;
  let before = 0;
  const stream = new Gunzip((chunk) => {
    total += chunk.length;
    if (total > limit) throw new RangeError('it is too large');
    chunks.push(chunk);
  });
  stream.onmember = () => (before = total);
  for (let at = 0; at < bytes.length; at += STEP) stream.push(bytes.subarray(at, at + STEP), at + STEP >= bytes.length);
  // RFC 1952, 2.3.1: it ends with the size of its last member.
  const size = bytes.length < 18 ? -1 : new DataView(bytes.buffer, bytes.byteOffset).getUint32(bytes.length - 4, true);
  if (size !== total - before) throw new Error('it is cut off');
  return joined(chunks);
}

function joined(chunks: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const whole = new Uint8Array(chunks.reduce((n, c) => n + c.length, 0));
  let at = 0;
  for (const chunk of chunks) {
    whole.set(chunk, at);
    at += chunk.length;
  }
  return whole;
}
