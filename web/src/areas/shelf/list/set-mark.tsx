import { selectPart, useAppSelector } from '../../../app/store.ts';

/** Which set a record is in, where records of several sets are looked at together. */
export function SetMark({ set }: { set: string | null }) {
  const name = useAppSelector((s) => (selectPart(s) === 'all' && set !== null ? s.library.records[set]?.name : undefined));
  return name === undefined ? null : <span className="set-mark">{name}</span>;
}
