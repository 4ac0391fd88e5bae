import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { translation } from '#core/math';
import { encodeModel } from '#core/mesh';
import { loadKernel, type Kernel, NO_WORK, readModelFile } from './index.ts';

const bytes = readFileSync(join(import.meta.dirname, '../../../demo/corpus/wild/models/insert-1.step'));

/** What was kept, and what was asked for. */
class Counted extends Map<string, Uint8Array> {
  found = 0;
  override get(key: string): Uint8Array | undefined {
    const known = super.get(key);
    if (known) this.found++;
    return known;
  }
}

let bare: Kernel;
beforeAll(async () => {
  bare = await loadKernel();
});
async function read(kernel: Kernel, file = 'bar.step', options = {}, content: Uint8Array = bytes) {
  const answer = await readModelFile(kernel, content, file, options);
  if (!answer.ok) throw new Error(JSON.stringify(answer.issues));
  return answer.value;
}

describe('models that were read before', () => {
  it('are the same to the last bit, with what was said of them', async () => {
    const memory = new Counted();
    const kernel = { ...bare, memory };
    const fresh = await read(bare);
    const first = await read(kernel);
    expect([memory.size, memory.found]).toEqual([1, 0]);
    const second = await read(kernel);
    expect([memory.size, memory.found]).toEqual([1, 1]);
    expect(second).toEqual(first);
    // Stored, a zero has no sign.
    expect(encodeModel(first.model)).toEqual(encodeModel(fresh.model));
    expect(first.warnings).toEqual(fresh.warnings);
    expect(second.model.bodies[0].mesh.positions).toBeInstanceOf(Float64Array);
    // A loose triangle is open: that is said again.
    const open = new TextEncoder().encode('v 0 0 0\nv 9 0 0\nv 0 9 0\nv 0 0 9\nf 1 3 2\nf 1 2 4\nf 1 4 3\n');
    const said = await read(kernel, 'open.obj', {}, open);
    expect(said.warnings.length).toBeGreaterThan(0);
    expect(await read(kernel, 'open.obj', {}, open)).toEqual(said);
    expect(memory.found).toBe(2);
  });

  it('are others with other chords, work, properties, name or content', async () => {
    const memory = new Counted();
    const kernel = { ...bare, memory };
    await read(kernel);
    await read(kernel, 'bar.step', { chordTolerance: 0.5 });
    const exact = await read(kernel, 'bar.step', { exactProperties: true });
    const moved = await read(kernel, 'bar.step', { work: { ...NO_WORK, moves: [{ body: 'b1', motion: translation([0, 0, 5]) }] } });
    await read(kernel, 'other.step');
    await read(kernel, 'bar.step', {}, new TextEncoder().encode(`${bytes.toString('latin1')}\n`));
    expect([memory.size, memory.found]).toEqual([6, 0]);
    expect((await read(kernel, 'bar.step', { exactProperties: true })).model).toEqual(exact.model);
    expect(moved.model.bodies[0].bbox.min[2]).toBeCloseTo(exact.model.bodies[0].bbox.min[2] + 5, 2);
  });

  it('are read anew where what was kept is not whole, and refused files always', async () => {
    const memory = new Counted();
    const kernel = { ...bare, memory };
    const first = await read(kernel);
    const [[key, kept]] = memory;
    for (const length of [0, 5, 8, 30, kept.length >> 1, kept.length - 9]) {
      memory.set(key, kept.slice(0, length));
      expect(await read(kernel)).toEqual(first);
      expect(memory.get(key)).toEqual(kept);
    }
    memory.set(key, new Uint8Array(kept.length).fill(255));
    expect(await read(kernel)).toEqual(first);
    memory.clear();
    for (let i = 0; i < 2; i++) expect((await readModelFile(kernel, new TextEncoder().encode('no model'), 'no.step')).ok).toBe(false);
    expect(memory.size).toBe(0);
  });
});
