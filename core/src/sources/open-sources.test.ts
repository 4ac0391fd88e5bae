import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type Kernel, liveHandleCount, loadKernel, writePlainStep } from '#core/kernel';
import { translation } from '#core/math';
import { type ComponentRecord, sampleComponent } from '#core/records';
import { OpenSources } from './index.ts';

let kernel: Kernel;
let bytes: Uint8Array;
beforeAll(async () => {
  kernel = await loadKernel();
  bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [4, 5, 6] }, name: 'box', fileFromSolid: translation([0, 0, 0]) }]);
});
// The source's hash names it here; the bytes may be the same.
const named = (n: number): ComponentRecord => {
  const record = sampleComponent(`c${n}`);
  return { ...record, source: { ...record.source, fileName: 'box.step', blob: String(n).padStart(64, '0') } };
};
const open = async (sources: OpenSources, n: number) => {
  const found = await sources.of(named(n), bytes);
  if (!found.ok) throw new Error(found.issues.map(say).join());
  return found.value;
};

describe('files that stay open', () => {
  it('are given again, the one that was asked for longest ago is closed, and closing all gives the kernel back what it had', async () => {
    const before = liveHandleCount();
    const sources = new OpenSources(kernel, 2);
    const one = await open(sources, 1);
    const two = await open(sources, 2);
    expect(await open(sources, 1)).toBe(one);
    const three = await open(sources, 3);
    expect([one.isClosed, two.isClosed, three.isClosed]).toEqual([false, true, false]);
    expect(await open(sources, 2)).not.toBe(two);
    expect(one.isClosed).toBe(true);
    sources.close();
    expect(three.isClosed).toBe(true);
    expect(liveHandleCount()).toBe(before);
  });
  it('depend on what was done to the file: with another unit it is opened anew', async () => {
    const sources = new OpenSources(kernel);
    const plain = await open(sources, 1);
    const record = named(1);
    const inches = await sources.of({ ...record, source: { ...record.source, unitScale: 25.4 * record.source.foundScale } }, bytes);
    if (!inches.ok) throw new Error(inches.issues.map(say).join());
    const size = (model: typeof plain) => {
      const read = model.read();
      return read.ok ? read.value.model.bodies[0].bbox.max[2] - read.value.model.bodies[0].bbox.min[2] : 0;
    };
    expect(size(inches.value) / size(plain)).toBeCloseTo(25.4, 3);
    sources.close();
  });
  it('take over one that was opened elsewhere; another of the same name is closed', async () => {
    const sources = new OpenSources(kernel);
    const own = await open(sources, 1);
    const other = await open(new OpenSources(kernel), 1);
    sources.take(named(1), other);
    expect(own.isClosed).toBe(true);
    expect(await open(sources, 1)).toBe(other);
    sources.close();
    expect(other.isClosed).toBe(true);
  });
});
