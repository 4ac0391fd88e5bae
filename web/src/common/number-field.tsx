import { TextInput, type TextInputProps } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { say } from '#core/issues';
import { formatLength, type LengthUnit, parseAngleDeg, parseLength } from '#core/units';
import { roundTo } from '#core/math';

interface Common extends Omit<TextInputProps, 'value' | 'onChange' | 'onBlur' | 'error' | 'min' | 'max'> {
  /** mm, or degrees for an angle; undefined where there is none yet. */
  readonly value: number | undefined;
  readonly onCommit: (value: number) => void;
  /** Where there may be none: what is emptied is none. */
  readonly onClear?: () => void;
  readonly min?: number;
  readonly max?: number;
}

type Props = Common &
  (
    | { readonly kind: 'length'; readonly unit: LengthUnit }
    | { readonly kind: 'angle' | 'factor' }
    | { readonly kind: 'plain'; readonly mark: string; readonly digits: number }
  );

/** A number that is edited in place: arithmetic and units allowed, Enter or leaving takes it, Escape gives it back. */
export function NumberField(props: Props) {
  const { value, onCommit, onClear, min = -10_000, max = 10_000, kind, ...rest } = props;
  const unit = props.kind === 'length' ? props.unit : 'mm';
  const shown = value === undefined ? '' : kind === 'length' ? formatLength(value, unit) : String(roundTo(value, props.kind === 'plain' ? props.digits : 3));
  // What is typed and not taken yet: a field that is only passed through has nothing to take, whatever comes in meanwhile.
  const [draft, setDraft] = useState<string | null>(null);
  const text = draft ?? shown;
  const [fault, setFault] = useState<string | null>(null);
  const input = useRef<HTMLInputElement | null>(null);
  useEffect(() => {
    setDraft(null);
    setFault(null);
    // What comes in while it is chosen is chosen as a whole again: what is typed next must not be added to it.
    if (document.activeElement === input.current) requestAnimationFrame(() => input.current?.select());
  }, [shown]);
  const commit = () => {
    if (onClear && text.trim() === '') {
      setFault(null);
      if (value !== undefined) onClear();
      return;
    }
    if (draft === null || text === shown) return setFault(null);
    const read = kind === 'length' ? parseLength(text, unit) : parseAngleDeg(text);
    if (!read.ok) return setFault(read.issues.map(say).join(' '));
    if (read.value < min || read.value > max)
      return setFault(`Between ${kind === 'length' ? formatLength(min, unit) : min} and ${kind === 'length' ? formatLength(max, unit) : max}`);
    setFault(null);
    if (value === undefined || Math.abs(read.value - value) > 1e-12) onCommit(read.value);
    else setDraft(null);
  };
  const mark = props.kind === 'plain' ? props.mark : kind === 'factor' ? '×' : kind === 'angle' ? '°' : unit === 'mm' ? 'mm' : 'in';
  const { unit: _unit, mark: _mark, digits: _digits, ...inputProps } = rest as typeof rest & { unit?: LengthUnit; mark?: string; digits?: number };
  return (
    <TextInput
      {...inputProps}
      ref={input}
      size="xs"
      classNames={{ input: 'number' }}
      value={text}
      error={fault}
      rightSection={mark === '' ? null : <span className="unit-mark">{mark}</span>}
      {...(mark.length > 3 ? { rightSectionWidth: 56 } : {})}
      onChange={(e) => setDraft(e.currentTarget.value)}
      onFocus={(e) => e.currentTarget.select()}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === 'Enter') commit();
        if (e.key === 'Escape') {
          setDraft(null);
          setFault(null);
          e.currentTarget.blur();
        }
      }}
    />
  );
}
