import { Select } from '@mantine/core';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { AnyRecord } from '#core/records';
import { useAppSelector } from '../app/store.ts';
import { placeOf } from './place-of.ts';

interface Props {
  readonly kind: AnyRecord['kind'];
  /** The one that is open. */
  readonly id: string;
  /** What they are called: "set-up". */
  readonly word: string;
  /** What stands here where there is no other. */
  readonly children: ReactNode;
}

/** The other records of a kind, to go to one of them. */
export function OtherRecords({ kind, id, word, children }: Props) {
  const navigate = useNavigate();
  const records = useAppSelector((s) => s.library.records);
  const others = Object.values(records).filter((r) => r.kind === kind && r.id !== id);
  if (others.length === 0) return children;
  return (
    <Select
      size="xs"
      w={190}
      aria-label={`Other ${word}`}
      placeholder={`other ${word}s`}
      value={null}
      data={others.map((r) => ({ value: r.id, label: r.name }))}
      onChange={(v) => v && navigate(placeOf({ kind, id: v }))}
    />
  );
}
