import { TextInput, type TextInputProps } from '@mantine/core';
import { useEffect, useState } from 'react';

interface Props extends Pick<TextInputProps, 'label' | 'aria-label'> {
  readonly value: string;
  readonly onCommit: (name: string) => void;
}

const LONGEST = 100;

/** A name that is edited in place: Enter or leaving takes it, an empty one gives the old one back. */
export function NameField({ value, onCommit, ...rest }: Props) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const commit = () => {
    const name = text.trim();
    if (name && name !== value) onCommit(name);
    else setText(value);
  };
  return (
    <TextInput
      {...rest}
      size="xs"
      value={text}
      maxLength={LONGEST}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === 'Enter') commit();
        if (e.key === 'Escape') setText(value);
      }}
    />
  );
}
