import { beforeEach, expect, it, jest } from '@jest/globals';
import { database, emptyStorage } from './database-for-tests.ts';
import { tool } from './records-for-tests.ts';

jest.unstable_mockModule('./database.ts', () => database);
Object.assign(globalThis, { window: { addEventListener: () => undefined, removeEventListener: () => undefined } });
beforeEach(emptyStorage);

/** A tab of its own: what it knows of the storage is its own too. */
async function tab() {
  jest.resetModules();
  // One after the other: what they share is loaded once.
  const app = await import('../app/store.ts');
  const library = await import('../app/library-slice.ts');
  const records = await import('./records-db.ts');
  const autosave = await import('./autosave.ts');
  return { ...autosave, ...records, ...app, ...library };
}
const aMoment = () => new Promise((done) => setTimeout(done, 50));
const fail = (message: string) => {
  throw new Error(message);
};

it.each(['before it looks', 'between its look and its start', 'after its start'])('what another tab writes %s a tab has as well', async (when) => {
  const [one, other] = [await tab(), await tab()];
  const drill = tool('drill 8.5 x 110', 'd');
  const stopOne = one.startAutosave(fail, {}, one.hearOthers());
  one.store.dispatch(one.libraryLoaded({}));
  const write = async () => {
    one.store.dispatch(one.recordsChanged('Added', { d: drill }));
    await aMoment();
  };
  if (when === 'before it looks') await write();
  const others = other.hearOthers();
  const { records } = await (await other.openStored(false)).load();
  if (when === 'between its look and its start') await write();
  const stopOther = other.startAutosave(fail, records, others);
  other.store.dispatch(other.libraryLoaded(records));
  if (when === 'after its start') await write();
  await aMoment();
  expect(other.store.getState().library.records).toEqual({ d: drill });
  stopOne();
  stopOther();
});
