// The browser's database and its small storage, as all tabs have them: items by store, in memory, as text is stored.
export const items = new Map<string, Map<string, unknown>>();
export const journal = new Map<string, string>();
/** The bucket that cannot be written. */
export const disk: { broken?: string | undefined } = {};

const storeNamed = (name: string) => {
  const of = () => {
    const held = items.get(name) ?? new Map<string, unknown>();
    items.set(name, held);
    return held;
  };
  return {
    getItem: (key: string) => Promise.resolve(of().get(key) ?? null),
    setItem: (key: string, value: unknown) =>
      key === disk.broken && name === 'buckets' ? Promise.reject(new Error('the disk is full')) : Promise.resolve(of().set(key, value)),
    removeItem: (key: string) => Promise.resolve(of().delete(key)),
    keys: () => Promise.resolve([...of().keys()]),
    length: () => Promise.resolve(of().size),
    clear: () => Promise.resolve(of().clear()),
    iterate: () => Promise.resolve(),
  };
};
// Nothing here waits long enough to be interleaved but by intent.
const exclusively = <T>(_: string, work: () => Promise<T>): Promise<T> => work();

/** Stands in for `database.ts`. */
export const database = { storeNamed, exclusively };

/** Empties both, as before a test. */
export function emptyStorage(): void {
  Object.assign(globalThis, {
    localStorage: {
      getItem: (k: string) => journal.get(k) ?? null,
      setItem: (k: string, v: string) => void journal.set(k, v),
      removeItem: (k: string) => void journal.delete(k),
    },
  });
  items.clear();
  journal.clear();
  disk.broken = undefined;
}
