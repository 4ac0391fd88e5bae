import { readFileSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { IssueError, issue } from '#core/issues';

/** Reads what a file names, from the folder that it lies in; an IssueError where it is not there. */
export function filesBeside(path: string): (name: string) => Uint8Array {
  const folder = dirname(resolve(path));
  return (name) => {
    try {
      return readFileSync(resolve(folder, name));
    } catch {
      throw new IssueError([issue('recipe.missing', { file: basename(path), field: 'file', text: name })]);
    }
  };
}
