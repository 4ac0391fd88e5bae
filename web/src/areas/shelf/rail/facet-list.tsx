import { Checkbox, UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import { COMPONENT_KINDS } from '#core/records';
import type { Facet, Found } from '#core/shelf';
import { choiceTurned } from '../../../app/shelf-slice.ts';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';

const SHOWN: readonly (readonly [Facet, string])[] = [
  ['kind', 'Kind'],
  ['type', 'More closely'],
  ['mount', 'Mount'],
  ['seat', 'Seat'],
  ['hand', 'Hand'],
  ['coolant', 'Coolant'],
  ['maker', 'Maker'],
  ['tag', 'Tags'],
  ['state', 'State'],
  ['from', 'Comes from'],
  ['unit', 'Unit of its file'],
];
// What only some have: one choice tells them from the others.
const NOT_ALL_HAVE: ReadonlySet<Facet> = new Set(['tag', 'maker', 'hand', 'coolant']);
// Choices of a facet that are shown before somebody asks for all.
const FEW = 6;

/** What can be chosen to narrow the Shelf, each with how many there would be. */
export function FacetList({ counts }: { counts: Found['counts'] }) {
  return (
    <>
      {SHOWN.map(([facet, title]) => (
        <FacetBlock key={facet} facet={facet} title={title} counts={counts[facet]} />
      ))}
    </>
  );
}

function FacetBlock({ facet, title, counts }: { facet: Facet; title: string; counts: Found['counts'][Facet] }) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.shelf.chosen[facet]) ?? [];
  const [isAll, setAll] = useState(false);
  // A type that says no more than its kind stands there already. What is chosen stays in sight even where nothing has it.
  const told = facet === 'type' ? counts.filter(([c]) => !(COMPONENT_KINDS as readonly string[]).includes(c)) : counts;
  const rows = [...told, ...chosen.filter((c) => !counts.some(([n]) => n === c)).map((c) => [c, 0] as const)];
  // Where all have the same there is nothing to choose.
  if (rows.length === 0 || (rows.length === 1 && chosen.length === 0 && !NOT_ALL_HAVE.has(facet))) return null;
  const shown = isAll ? rows : rows.filter(([c], i) => i < FEW || chosen.includes(c));
  return (
    <fieldset className="rail-block">
      <legend>{title}</legend>
      {shown.map(([choice, count]) => (
        <Checkbox
          key={choice}
          size="xs"
          className="facet-choice"
          checked={chosen.includes(choice)}
          onChange={() => dispatch(choiceTurned({ facet, choice }))}
          label={
            <span className="facet-label">
              <span>{choice}</span> <span className="number">{count.toLocaleString('en')}</span>
            </span>
          }
        />
      ))}
      {rows.length > shown.length && (
        <UnstyledButton className="facet-more" onClick={() => setAll(true)}>
          {rows.length - shown.length} more
        </UnstyledButton>
      )}
      {isAll && rows.length > FEW && (
        <UnstyledButton className="facet-more" onClick={() => setAll(false)}>
          fewer
        </UnstyledButton>
      )}
    </fieldset>
  );
}
