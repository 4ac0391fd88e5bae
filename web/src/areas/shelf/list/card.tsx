import { Group } from '@mantine/core';
import { Link } from 'react-router';
import type { ShelfEntry } from '#core/shelf';
import { placeOf } from '../../../common/place-of.ts';
import { RecordName } from './record-name.tsx';
import { RecordPicture } from '../../../pictures/record-picture.tsx';
import { SetMark } from './set-mark.tsx';
import { sayPieces } from '../../../common/count-of.ts';
import { StandingLine } from './standing-line.tsx';

export interface EntryProps {
  readonly entry: ShelfEntry;
  readonly isSelected: boolean;
  /** `isRange`: from the one that was selected last up to here. */
  readonly onSelect: (id: string, isRange: boolean) => void;
  readonly onBring: (ids: readonly string[]) => void;
}

/** A record as a picture with its name. */
export function Card({ entry, isSelected, onSelect, onBring }: EntryProps) {
  const { record } = entry;
  return (
    <article className={isSelected ? 'card card-selected' : 'card'} aria-label={record.name}>
      <input
        type="checkbox"
        className="plain-check card-check"
        aria-label={`Select ${record.name}`}
        checked={isSelected}
        onChange={() => undefined}
        onClick={(e) => onSelect(record.id, e.shiftKey)}
      />
      <Link to={placeOf(record)} className="card-picture" aria-label={`Open ${record.name}`} tabIndex={-1}>
        <RecordPicture record={record} />
      </Link>
      <Group justify="space-between" wrap="nowrap" gap={4} className="card-line">
        <RecordName record={record} onBring={onBring} />
      </Group>
      <p className="card-note">
        {noteOf(entry)} <SetMark record={record} />
      </p>
      <StandingLine record={record} />
    </article>
  );
}

function noteOf({ record, kind, type, mount, from, unit }: ShelfEntry): string {
  if (record.kind === 'assembly') return sayPieces(record);
  if (record.kind === 'outline')
    return `${record.purpose} · ${record.way.kind === 'stack' ? 'by numbers' : record.way.kind === 'drawn' ? 'drawn' : record.way.fileName}`;
  return [type ?? kind, mount ?? 'no mount yet', ...(from === 'file' ? [unit] : [])].join(' · ');
}
