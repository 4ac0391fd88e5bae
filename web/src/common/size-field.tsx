import { Autocomplete } from '@mantine/core';
import { useEffect, useState } from 'react';
import { type ConnectionStandard, USUAL_SIZES } from '#core/standards';

/** The size of a connection: one of the usual ones, or typed. */
export function SizeField({
  label,
  standard,
  size,
  onCommit,
}: {
  label: string;
  standard: ConnectionStandard;
  size: number | string;
  onCommit: (size: number | string) => void;
}) {
  const [text, setText] = useState(String(size));
  useEffect(() => setText(String(size)), [size]);
  const fault = sizeFault(standard, text);
  const commit = (value: string) => {
    if (sizeFault(standard, value)) return;
    const trimmed = value.trim().replace(/[×X]/g, 'x').replace(/\s/g, '');
    const next = standard === 'square' || trimmed === '' ? trimmed : Number(trimmed.replace(',', '.'));
    if (String(next) !== String(size)) onCommit(next);
  };
  return (
    <Autocomplete
      size="xs"
      aria-label={label}
      classNames={{ input: 'number' }}
      data={USUAL_SIZES[standard].map(String)}
      filter={({ options }) => options}
      value={text}
      error={fault}
      onChange={setText}
      onOptionSubmit={commit}
      onBlur={() => commit(text)}
      onKeyDown={(e) => e.key === 'Enter' && commit(text)}
    />
  );
}

function sizeFault(standard: ConnectionStandard, text: string): string | null {
  const plain = text.trim().replace(/[×X]/g, 'x').replace(/\s/g, '');
  if (standard === 'bolted face') return plain.length > 20 ? 'at most 20 letters' : null;
  if (standard === 'square') return /^\d+(\.\d+)?x\d+(\.\d+)?$/.test(plain) ? null : 'height x width, as 25x25';
  const value = Number(plain.replace(',', '.'));
  return plain !== '' && value > 0 && value <= 1000 ? null : 'a number from 0 to 1000';
}
