import { isShelved, type ShelvedRecord } from '#core/records';
import { useAppSelector } from '../../../app/store.ts';

/** The record of an entry; undefined while many are read, and of one that is gone in this very moment. */
export function useShelved(id: string): ShelvedRecord | undefined {
  const record = useAppSelector((s) => s.library.records[id]);
  return isShelved(record) ? record : undefined;
}
