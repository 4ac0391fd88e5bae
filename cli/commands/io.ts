import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';
import { IssueError, issue } from '#core/issues';
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
