import localforage from 'localforage';

// Every store of the browser's database. A new one makes a new version of it, which closes it under whoever has it open.
const NAMES = ['settings', 'buckets', 'lists', 'records', 'blobs', 'copies', 'pictures'] as const;
type StoreName = (typeof NAMES)[number];

const opened = Object.fromEntries(NAMES.map((storeName) => [storeName, localforage.createInstance({ name: 'ruota', storeName })])) as Record<
  StoreName,
  LocalForage
>;

/** One tab at a time at what is named so. Without Web Locks (plain http from afar) it is not guarded. */
export function exclusively<T>(what: 'records' | 'stores', work: () => Promise<T>): Promise<T> {
  const locks = navigator.locks as LockManager | undefined;
  return locks ? locks.request(`ruota-${what}`, work) : work();
}

let made: Promise<void> | undefined;

// All at once at the start, one after the other, and by one tab at a time: two tabs that begin together, each making the stores it needs when it needs them, got in
// each other's way, and one was left without a store.
function allMade(): Promise<void> {
  made ??= exclusively('stores', async () => {
    // What cannot be opened says so to whoever uses it.
    for (const name of NAMES) await opened[name].ready().catch(() => undefined);
  });
  return made;
}

type Kept = Pick<LocalForage, 'getItem' | 'setItem' | 'removeItem' | 'keys' | 'length' | 'clear' | 'iterate'>;

/** A store of the browser's database; its calls fail where the storage does. */
export function storeNamed(name: StoreName): Kept {
  const store = opened[name];
  const once = <T>(call: () => Promise<T>): Promise<T> => allMade().then(call);
  return {
    getItem: <T>(key: string) => once(() => store.getItem<T>(key)),
    setItem: <T>(key: string, value: T) => once(() => store.setItem(key, value)),
    removeItem: (key) => once(() => store.removeItem(key)),
    keys: () => once(() => store.keys()),
    length: () => once(() => store.length()),
    clear: () => once(() => store.clear()),
    iterate: <T, U>(each: (value: T, key: string, n: number) => U) => once(() => store.iterate<T, U>(each)),
  };
}
