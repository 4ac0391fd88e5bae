import type { AnyRecord } from '#core/records';
import { store } from '../app/store.ts';

/** A name that no record of its kind has yet: "Holder", "Holder 2", ... */
export function freeName(wish: string, kind: AnyRecord['kind']): string {
  const names = new Set(
    Object.values(store.getState().library.records)
      .filter((r) => r.kind === kind)
      .map((r) => r.name),
  );
  if (!names.has(wish)) return wish;
  for (let n = 2; ; n++) if (!names.has(`${wish} ${n}`)) return `${wish} ${n}`;
}
