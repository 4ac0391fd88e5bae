import { existsSync, mkdtempSync, readdirSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from '@jest/globals';
import { FolderOfModels, modelMemory } from './model-memory.ts';

const folder = () => mkdtempSync(join(tmpdir(), 'ruota-models-'));
const { RUOTA_MODELS: before } = process.env;
afterEach(() => {
  if (before === undefined) delete process.env.RUOTA_MODELS;
  else process.env.RUOTA_MODELS = before;
});

describe('the folder of models', () => {
  it('gives what was kept, to others too, and nothing else', () => {
    const path = join(folder(), 'new', 'models');
    const memory = new FolderOfModels(path);
    expect(memory.get('a')).toBeUndefined();
    memory.set('a', Uint8Array.of(1, 2, 3));
    memory.set('a', Uint8Array.of(4));
    expect([...(new FolderOfModels(path).get('a') ?? [])]).toEqual([4]);
    expect(readdirSync(path)).toEqual(['a.model']);
  });

  it('gives up what was not asked for longest', () => {
    const path = folder();
    const memory = new FolderOfModels(path, 25);
    const aDayAgo = (name: string, hours: number) => {
      const at = new Date(Date.now() - 86_400_000 + hours * 3_600_000);
      utimesSync(join(path, `${name}.model`), at, at);
    };
    memory.set('a', new Uint8Array(10));
    memory.set('b', new Uint8Array(10));
    aDayAgo('a', 0);
    aDayAgo('b', 1);
    memory.get('a');
    memory.set('c', new Uint8Array(10));
    expect(readdirSync(path).sort()).toEqual(['a.model', 'c.model']);
  });

  it('keeps nothing where it cannot write, and says nothing', () => {
    const file = join(folder(), 'file');
    writeFileSync(file, '');
    const memory = new FolderOfModels(join(file, 'models'));
    memory.set('a', Uint8Array.of(1));
    expect(memory.get('a')).toBeUndefined();
    expect(existsSync(file)).toBe(true);
  });

  it('is where RUOTA_MODELS says; none of sources, and none where that is said', () => {
    delete process.env.RUOTA_MODELS;
    expect(modelMemory()).toBeUndefined();
    process.env.RUOTA_MODELS = 'none';
    expect(modelMemory()).toBeUndefined();
    process.env.RUOTA_MODELS = folder();
    modelMemory()?.set('a', Uint8Array.of(7));
    expect(readdirSync(process.env.RUOTA_MODELS)).toEqual(['a.model']);
  });
});
