// What a million triangles take, in a process of their own.
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { BenchRow } from './measure.ts';

export function benchMemory(): BenchRow[] {
  const child = spawnSync(process.execPath, [fileURLToPath(new URL('./memory-child.js', import.meta.url))], { encoding: 'utf8' });
  if (child.status !== 0) throw new Error(child.stderr);
  const { triangles, before, all, milliseconds, warm, least } = JSON.parse(child.stdout) as Record<string, number>;
  const what = `revolved envelope of a mesh of ${triangles.toLocaleString('en')} triangles`;
  return [
    { what: `${what}, the first of the process`, value: milliseconds, unit: 'ms' },
    { what: 'the same again', value: warm, unit: 'ms', limit: 1000 },
    { what: `${what} and its proof: greatest memory of the whole process`, value: all, unit: 'MB', limit: 600 },
    { what: 'of it before, with the mesh', value: before, unit: 'MB' },
    { what: 'its least growth', value: least * 1000, unit: 'um' },
  ];
}
