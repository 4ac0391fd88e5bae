import { TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { say } from '#core/issues';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { selectComponents, selectComponentsById, useAppSelector } from '../../../app/store.ts';
import type { Tried } from '../tried.ts';
import { ComponentList } from './component-list.tsx';
import { byLikeness, fittingFor, type How, workOut } from './exchange.ts';
import { useSearched } from './use-searched.ts';

interface Props {
  readonly record: AssemblyRecord;
  readonly piece: Piece;
  readonly how: How;
  readonly onTry: (tried: Tried) => void;
}

/** Components that could stand in the place of a piece, or between it and what it sits on; choosing one shows what it would change. */
export function ExchangePiece({ record, piece, how, onTry }: Props) {
  const all = useAppSelector(selectComponents);
  const components = useAppSelector(selectComponentsById);
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const now = components[piece.componentId];
  const fitting = useMemo(() => fittingFor(how, record, components, all, piece), [all, record, components, piece, how]);
  const { found: searched, faults } = useSearched(fitting, text);
  const found = useMemo(() => byLikeness(searched, now), [searched, now]);
  const tryIt = async (component: ComponentRecord) => {
    const tried = await workOut(how, record, components, piece, component);
    if (!tried.ok) return setFault(tried.issues.map(say).join(' '));
    setFault(null);
    onTry(tried.value);
  };
  return (
    <div className="add-piece" role="group" aria-label={how === 'instead of' ? `Instead of ${now?.name}` : `In front of ${now?.name}`}>
      <TextInput
        size="xs"
        placeholder="Search: drill, DC=8..9, hand=left"
        aria-label="Search what fits"
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
      />
      {[...faults, ...(fault === null ? [] : [fault])].map((t) => (
        <p key={t} className="ledger-hint warn">
          {t}
        </p>
      ))}
      <ComponentList components={found} onChoose={(c) => void tryIt(c)} none={sayNone(how, fitting.length)} />
    </div>
  );
}

function sayNone(how: How, fitting: number): string {
  if (fitting > 0) return `None of the ${fitting} that fit is found by that.`;
  return how === 'instead of'
    ? 'Nothing else on the Shelf fits there.'
    : 'Nothing on the Shelf fits between: it needs the mount of this piece, and a seat for it.';
}
