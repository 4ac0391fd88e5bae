import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ModelMemory } from '#core/kernel';

// What is kept at most; what was not asked for longest goes first.
const MOST_BYTES = 500e6;

/** Models in a folder, one file each. A folder that cannot be written keeps nothing, and nothing else fails for it. */
export class FolderOfModels implements ModelMemory {
  private readonly folder: string;
  private readonly most: number;

  /** `folder` is made when something is kept. `most`: bytes. */
  constructor(folder: string, most = MOST_BYTES) {
    this.folder = folder;
    this.most = most;
  }

  get(key: string): Uint8Array | undefined {
    const path = this.pathOf(key);
    try {
      const bytes = readFileSync(path);
      const now = new Date();
      utimesSync(path, now, now);
      return bytes;
    } catch {
      return undefined;
    }
  }

  // Whole or not at all: others may read it while it is written.
  set(key: string, bytes: Uint8Array): void {
    const path = this.pathOf(key);
    const making = `${path}-${process.pid}`;
    try {
      mkdirSync(this.folder, { recursive: true });
      try {
        writeFileSync(making, bytes);
        renameSync(making, path);
        this.giveUpOldest();
      } finally {
        rmSync(making, { force: true });
      }
    } catch {
      // Then it is read again.
    }
  }

  private giveUpOldest(): void {
    const files = readdirSync(this.folder).map((name) => {
      const path = join(this.folder, name);
      const { size, mtimeMs } = statSync(path);
      return { path, size, mtimeMs };
    });
    let total = files.reduce((sum, f) => sum + f.size, 0);
    for (const { path, size } of files.sort((a, b) => a.mtimeMs - b.mtimeMs)) {
      if (total <= this.most) break;
      rmSync(path, { force: true });
      total -= size;
    }
  }

  private pathOf(key: string): string {
    return join(this.folder, `${key}.model`);
  }
}

/**
 * Where this program keeps models that it has read: a folder beside the bundled program, which is another one whenever its sources change, so that nothing is found that they would read
 * otherwise. None where the sources are run, or where RUOTA_MODELS is `none`; in the folder that it names where it names one, as for a run of all tests.
 */
export function modelMemory(): ModelMemory | undefined {
  const { RUOTA_MODELS: said } = process.env;
  if (said === 'none') return undefined;
  if (said) return new FolderOfModels(said);
  return import.meta.url.endsWith('.ts') ? undefined : new FolderOfModels(join(import.meta.dirname, 'models'));
}
