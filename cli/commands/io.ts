import { existsSync, statSync } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { basename, dirname, resolve } from 'node:path';
import { IssueError, issue, unwrap } from '#core/issues';
import { type Vec3, roundTo } from '#core/math';
import type { Check } from '#core/records';
import { table } from '../table.ts';

/** The content of a file; an IssueError where it cannot be read. */
export async function readInput(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file);
  } catch (error) {
    const text = (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'it does not exist' : error instanceof Error ? error.message : String(error);
    throw new IssueError([issue('mesh.broken', { file, text })]);
  }
}

/**
 * The content of a model's file and its name. One in a zip or gzip file is taken out: the only one, or, behind the archive's path, the one that is named. An
 * IssueError where it cannot be read.
 */
export async function readModelInput(file: string): Promise<{ readonly bytes: Uint8Array; readonly file: string }> {
  const { archive, inner } = splitAtArchive(file);
  const bytes = await readInput(archive);
  // What opens archives is loaded where one may be: they begin with PK, or 1F 8B.
  const mayBePacked = (bytes[0] === 0x50 && bytes[1] === 0x4b) || bytes[0] === 0x1f;
  if (!mayBePacked && inner === undefined) return { bytes, file };
  const { isArchive, modelInArchive } = await import('#core/sources');
  if (!isArchive(bytes, archive)) return { bytes: inner === undefined ? bytes : await readInput(file), file };
  const model = unwrap(modelInArchive(bytes, basename(archive), inner));
  return { bytes: model.bytes, file: model.name };
}

// Where a path goes on behind a file.
function splitAtArchive(file: string): { archive: string; inner?: string } {
  if (existsSync(file)) return { archive: file };
  for (let at = file.lastIndexOf('/'); at > 0; at = file.lastIndexOf('/', at - 1)) {
    const archive = file.slice(0, at);
    if (existsSync(archive)) return statSync(archive).isFile() ? { archive, inner: file.slice(at + 1) } : { archive: file };
  }
  return { archive: file };
}

/** Writes a file, with the folders that it needs. */
export async function writeOutput(path: string, bytes: Uint8Array): Promise<void> {
  await mkdir(dirname(resolve(path)), { recursive: true });
  await writeFile(path, bytes);
}

export const number = (v: number, digits = 3) => roundTo(v, digits).toFixed(digits);
export const vector = (v: Vec3) => v.map((c) => number(c)).join(', ');

export const checkTable = (checks: readonly Check[]) =>
  table(
    ['state', 'check', ''],
    checks.map((c) => [c.state.toUpperCase(), c.code, c.message]),
  );

/** Lets other threads' answers come in between two steps. */
export const giveWay = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));
