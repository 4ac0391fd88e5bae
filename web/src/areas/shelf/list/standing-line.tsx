import { Button } from '@mantine/core';
import type { ShelvedRecord } from '#core/records';
import { standingOf } from '#core/shelf';
import { useAppSelector } from '../../../app/store.ts';
import { takeOverMany } from '../../../store/shelf-actions.ts';

/** Of a record that was brought over: whether its original has changed since, with a press to take that over. */
export function StandingLine({ record }: { record: ShelvedRecord }) {
  const records = useAppSelector((s) => s.library.records);
  if (!record.shelf.from) return null;
  const standing = standingOf(record, records);
  if (standing !== 'original changed' && standing !== 'both changed') return null;
  return (
    <p className="standing-line">
      {standing === 'both changed' ? 'Its original has changed, and so has this.' : 'Its original has changed.'}
      <Button size="compact-xs" variant="default" onClick={() => void takeOverMany([record.id])} aria-label={`Take over what ${record.name} has become`}>
        Take over
      </Button>
    </p>
  );
}
