import { beforeEach, describe, expect, it, jest } from '@jest/globals';
import { database, disk, emptyStorage, journal } from './database-for-tests.ts';
import { tool } from './records-for-tests.ts';

jest.unstable_mockModule('./database.ts', () => database);

/** A tab of its own: what it knows of the storage is its own too. */
async function tab(): Promise<typeof import('./records-db.ts')> {
  jest.resetModules();
  return import('./records-db.ts');
}

beforeEach(emptyStorage);

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
    disk.broken = bucketOf('e');
    await expect(b.writeRecords(all)).rejects.toThrow('the disk is full');
    disk.broken = undefined;
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
