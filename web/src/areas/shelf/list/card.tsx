import { Group } from '@mantine/core';
import { Link } from 'react-router';
import type { ShelvedRecord } from '#core/records';
import type { ShelfEntry } from '#core/shelf';
import { placeOf } from '../../../common/place-of.ts';
import { RecordName } from './record-name.tsx';
import { RecordPicture } from '../../../pictures/record-picture.tsx';
import { SetMark } from './set-mark.tsx';
import { sayPieces } from '../../../common/count-of.ts';
import { StandingLine } from './standing-line.tsx';
import { useShelved } from './use-shelved.ts';

export interface EntryProps {
  readonly entry: ShelfEntry;
  readonly isSelected: boolean;
  /** `isRange`: from the one that was selected last up to here. */
  readonly onSelect: (id: string, isRange: boolean) => void;
  readonly onBring: (ids: readonly string[]) => void;
}

/** A record as a picture with its name. */
export function Card({ entry, isSelected, onSelect, onBring }: EntryProps) {
  const { id, name } = entry;
  const record = useShelved(id);
  return (
    <article className={isSelected ? 'card card-selected' : 'card'} aria-label={name}>
      <input
        type="checkbox"
        className="plain-check card-check"
        aria-label={`Select ${name}`}
        checked={isSelected}
        onChange={() => undefined}
        onClick={(e) => onSelect(id, e.shiftKey)}
      />
      <Link to={placeOf({ kind: entry.of, id })} className="card-picture" aria-label={`Open ${name}`} tabIndex={-1}>
        {record ? <RecordPicture record={record} /> : <span className="picture-wait" />}
      </Link>
      <Group justify="space-between" wrap="nowrap" gap={4} className="card-line">
        <RecordName entry={entry} record={record} onBring={onBring} />
      </Group>
      <p className="card-note">
        {noteOf(entry, record)} <SetMark set={entry.set} />
      </p>
      {record && <StandingLine record={record} />}
    </article>
  );
}

function noteOf({ of, kind, type, mount, from, unit }: ShelfEntry, record: ShelvedRecord | undefined): string {
  if (of !== 'component' && !record) return of;
  if (record?.kind === 'assembly') return sayPieces(record);
  if (record?.kind === 'outline')
    return `${record.purpose} · ${record.way.kind === 'stack' ? 'by numbers' : record.way.kind === 'drawn' ? 'drawn' : record.way.fileName}`;
  return [type ?? kind, mount ?? 'no mount yet', ...(from === 'file' ? [unit] : [])].join(' · ');
}
