import { type AnyRecord, isShelved, type SetRecord } from '#core/records';
import { ENTRY_FORM, entryOf, type ShelfEntry } from '#core/shelf';

/** What lists show of records, kept beside them: a Shelf of twenty thousand is listed before they are read. */
export interface KeptList {
  readonly entries: readonly ShelfEntry[];
  readonly sets: readonly SetRecord[];
}

/** Of records of the newest version. */
export const listOf = (records: readonly AnyRecord[]): KeptList => ({
  entries: records.filter(isShelved).map(entryOf),
  sets: records.filter((r) => r.kind === 'set'),
});

/** As it is stored. */
export const textOfList = (list: KeptList): string => JSON.stringify({ form: ENTRY_FORM, ...list });

/** A list as it was stored; undefined where entries have another form by now, or the text is none. */
export function listOfText(text: string): KeptList | undefined {
  try {
    const { form, entries, sets } = JSON.parse(text) as KeptList & { form: number };
    return form === ENTRY_FORM ? { entries, sets } : undefined;
  } catch {
    return undefined;
  }
}

/** Several lists as one; undefined where one of them is missing. */
export function oneList(lists: readonly (KeptList | undefined)[]): KeptList | undefined {
  const all = lists.filter((l) => l !== undefined);
  return all.length < lists.length ? undefined : { entries: all.flatMap((l) => l.entries), sets: all.flatMap((l) => l.sets) };
}
