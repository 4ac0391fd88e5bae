import { UnstyledButton } from '@mantine/core';
import { IconArrowDown, IconArrowUp } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import { type ValueName, VALUES } from '#core/components';
import { viewChanged } from '../../../app/shelf-slice.ts';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { sayValue } from '../../../common/say-value.ts';
import { WORDS } from '../use-found.ts';
import type { EntryProps } from './card.tsx';
import { RecordName } from './record-name.tsx';
import { SmallPicture } from '../../../pictures/record-picture.tsx';
import { SetMark } from './set-mark.tsx';
import { StandingLine } from './standing-line.tsx';
import { useShelved } from './use-shelved.ts';

const isNumber = (column: string): column is ValueName => column in VALUES;

/** Widths of a table's columns: the same in its head and in every row. */
const template = (columns: readonly string[]): string =>
  `30px 64px minmax(190px, 1.6fr) ${columns.map((c) => (isNumber(c) ? '88px' : 'minmax(96px, 1fr)')).join(' ')}`;

/** What a column is called: a number by its name, with its meaning on demand. */
export const columnTitle = (column: string): string => (isNumber(column) ? `${column} ${VALUES[column].meaning}` : column);

export function TableHead({ columns, all }: { columns: readonly string[]; all: ReactNode }) {
  const dispatch = useAppDispatch();
  const { sort, isDown } = useAppSelector((s) => s.shelf);
  const turn = (column: string) => dispatch(viewChanged(sort === column ? { isDown: !isDown } : { sort: column, isDown: false }));
  return (
    <div className="shelf-line shelf-line-head" role="row" style={{ gridTemplateColumns: template(columns) }}>
      <span role="columnheader">{all}</span>
      <span role="columnheader">
        <span className="visually-hidden">picture</span>
      </span>
      {['name', ...columns].map((c) => (
        <span
          key={c}
          role="columnheader"
          className={isNumber(c) ? 'column-number' : undefined}
          aria-sort={sort === c ? (isDown ? 'descending' : 'ascending') : 'none'}
        >
          <UnstyledButton className="column-title" title={columnTitle(c)} onClick={() => turn(c)}>
            {c}
            {sort === c && (isDown ? <IconArrowDown size={13} /> : <IconArrowUp size={13} />)}
          </UnstyledButton>
        </span>
      ))}
    </div>
  );
}

/** A record as a row of the table. */
export function TableRow({ entry, columns, isSelected, onSelect, onBring }: EntryProps & { readonly columns: readonly string[] }) {
  const unit = useAppSelector((s) => s.session.unit);
  const { id, name } = entry;
  const record = useShelved(id);
  const cell = (column: string): string => {
    if (!isNumber(column)) return WORDS[column]?.(entry) ?? '';
    const value = entry.values[column];
    return value === undefined ? '' : sayValue(column, value, unit);
  };
  return (
    <div
      className={isSelected ? 'shelf-line shelf-line-selected' : 'shelf-line'}
      role="row"
      aria-label={name}
      style={{ gridTemplateColumns: template(columns) }}
    >
      <span role="cell">
        <input
          type="checkbox"
          className="plain-check"
          aria-label={`Select ${name}`}
          checked={isSelected}
          onChange={() => undefined}
          onClick={(e) => onSelect(id, e.shiftKey)}
        />
      </span>
      <span role="cell" className="line-picture">
        {record && <SmallPicture record={record} />}
      </span>
      <span role="cell" className="line-name">
        <RecordName entry={entry} record={record} onBring={onBring} />
        <SetMark set={entry.set} />
        {record && <StandingLine record={record} />}
      </span>
      {columns.map((c) => (
        <span key={c} role="cell" className={isNumber(c) ? 'number' : c === 'state' && entry.state !== 'ready' ? 'line-wait' : undefined}>
          {cell(c)}
        </span>
      ))}
    </div>
  );
}

/** Columns that can be shown: words first, then the numbers that any entry has. */
export const columnChoices = (names: readonly ValueName[]): string[] => [...Object.keys(WORDS), ...names];
