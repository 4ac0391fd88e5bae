import { beforeEach, describe, expect, it, jest } from '@jest/globals';
import { tool } from './records-for-tests.ts';

// The browser's database, as all tabs have it: items by store, in memory, as text is stored. Writing can be made to fail at an item.
const items = new Map<string, Map<string, unknown>>();
let broken: string | undefined;
const storeNamed = (name: string) => {
  const of = () => {
    const held = items.get(name) ?? new Map<string, unknown>();
    items.set(name, held);
    return held;
  };
  return {
    getItem: (key: string) => Promise.resolve(of().get(key) ?? null),
    setItem: (key: string, value: unknown) =>
      key === broken && name === 'buckets' ? Promise.reject(new Error('the disk is full')) : Promise.resolve(of().set(key, value)),
    removeItem: (key: string) => Promise.resolve(of().delete(key)),
    keys: () => Promise.resolve([...of().keys()]),
    length: () => Promise.resolve(of().size),
    clear: () => Promise.resolve(of().clear()),
    iterate: () => Promise.resolve(),
  };
};
// Nothing here waits long enough to be interleaved but by intent.
const exclusively = <T>(_: string, work: () => Promise<T>): Promise<T> => work();
jest.unstable_mockModule('./database.ts', () => ({ storeNamed, exclusively }));

/** A tab of its own: what it knows of the storage is its own too. */
async function tab(): Promise<typeof import('./records-db.ts')> {
  jest.resetModules();
  return import('./records-db.ts');
}

const journal = new Map<string, string>();
Object.assign(globalThis, {
  localStorage: {
    getItem: (k: string) => journal.get(k) ?? null,
    setItem: (k: string, v: string) => void journal.set(k, v),
    removeItem: (k: string) => void journal.delete(k),
  },
});
beforeEach(() => {
  items.clear();
  journal.clear();
  broken = undefined;
});

const drill = tool('drill 8.5 x 110', 'd');
const named = (name: string) => ({ ...drill, name });
const load = async (at: Awaited<ReturnType<typeof tab>>) => (await (await at.openStored(false)).load()).records;

describe('records that several tabs write', () => {
  it('come back in the next tab, and what one changes the other has after it read it again', async () => {
    const [a, b] = [await tab(), await tab()];
    expect(await a.writeRecords([['d', drill]])).toEqual([{ state: 'written' }]);
    expect(await load(b)).toEqual({ d: drill });
    expect(await b.writeRecords([['d', named('Other')]])).toEqual([{ state: 'written' }]);
    expect(await a.rereadRecords(['d'], () => true)).toEqual({ d: named('Other') });
    expect(await a.writeRecords([['d', named('Third')]])).toEqual([{ state: 'written' }]);
    expect(await load(await tab())).toEqual({ d: named('Third') });
  });

  it('are not overwritten unseen: whoever comes second is told what is there', async () => {
    const [a, b] = [await tab(), await tab()];
    await a.writeRecords([['d', drill]]);
    const told = await b.writeRecords([['d', named('Other')]]);
    expect(told).toEqual([{ state: 'conflict', theirs: drill }]);
    expect(await load(await tab())).toEqual({ d: drill });
    // One that another tab deleted too.
    await a.writeRecords([['d', null]]);
    expect(await b.writeRecords([['d', named('Other')]])).toEqual([{ state: 'conflict', theirs: null }]);
  });

  it('are no conflict where both write the same, and then each knows of the other', async () => {
    const [a, b] = [await tab(), await tab()];
    await a.writeRecords([['d', drill]]);
    const written = jest.fn<() => void>();
    expect(await b.writeRecords([['d', { ...drill }]], written)).toEqual([{ state: 'written' }]);
    expect(written).toHaveBeenCalledTimes(1);
    expect(await b.writeRecords([['d', named('Other')]])).toEqual([{ state: 'written' }]);
    expect(await a.writeRecords([['d', named('Mine')]])).toEqual([{ state: 'conflict', theirs: named('Other') }]);
  });

  it('are tried again after a failure without overwriting what another tab wrote', async () => {
    const [a, b] = [await tab(), await tab()];
    await a.writeRecords([['d', drill]]);
    const { bucketOf } = await import('./record-buckets.ts');
    const all = [
      ['d', named('Mine')],
      ['e', { ...drill, id: 'e' }],
    ] as const;
    expect(bucketOf('e')).not.toBe(bucketOf('d'));
    broken = bucketOf('e');
    await expect(b.writeRecords(all)).rejects.toThrow('the disk is full');
    broken = undefined;
    expect(await b.writeRecords(all)).toEqual([{ state: 'conflict', theirs: drill }, { state: 'written' }]);
    expect((await load(await tab())).d).toEqual(drill);
  });
});

describe('what was not written when a page went', () => {
  it('is taken up by the next start, once', async () => {
    const a = await tab();
    expect(a.keepUnwritten([['d', drill]])).toBe(true);
    expect(await load(await tab())).toEqual({ d: drill });
    expect(journal.size).toBe(0);
  });

  it('is left where another tab wrote in between', async () => {
    const [a, b] = [await tab(), await tab()];
    a.keepUnwritten([['d', named('Late')]]);
    await b.writeRecords([['d', drill]]);
    expect(await load(await tab())).toEqual({ d: drill });
  });
});
