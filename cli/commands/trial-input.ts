import { readFileSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { type CookedTrial, cookTrial } from '#core/handover';
import { IssueError, issue, unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';

/** A trial file with what it names, from its folder. */
export async function readTrial(kernel: Kernel, bytes: Uint8Array, path: string): Promise<CookedTrial & { readonly read: (name: string) => Buffer }> {
  const folder = dirname(resolve(path));
  const file = basename(path);
  const read = (name: string) => {
    try {
      return readFileSync(resolve(folder, name));
    } catch {
      throw new IssueError([issue('recipe.missing', { file, field: 'file', text: name })]);
    }
  };
  return { ...unwrap(await cookTrial(kernel, new TextDecoder().decode(bytes), file, read, new Date().toISOString())), read };
}
