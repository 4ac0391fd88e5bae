import { Button, SegmentedControl, TextInput } from '@mantine/core';
import { useState } from 'react';
import { say } from '#core/issues';
import { type LengthUnit, parseAngleDeg, parseLength } from '#core/units';
import type { DrawingByHand, NextNumbers } from './use-drawing.ts';

const AWAY = [
  { value: 'away', label: 'takes away' },
  { value: 'add', label: 'adds' },
];

const FIELDS = { line: ['length', 'angle'], rectangle: ['along', 'across'], circle: ['diameter'] } as const;

/** Of what is being drawn: what comes next, its numbers, and whether a shape takes away or adds. */
export function DrawingBar({ drawing, unit }: { drawing: DrawingByHand; unit: LengthUnit }) {
  const { tool, start, typed, chain } = drawing;
  if (!tool) return null;
  const isShape = tool === 'rectangle' || tool === 'circle';
  const fields = start ? (isShape ? FIELDS[tool] : tool === 'line' ? FIELDS.line : []) : [];
  const change = (k: number, value: number | undefined) => {
    const { first, second } = k === 0 ? { ...typed, first: value } : { ...typed, second: value };
    const next: NextNumbers = { ...(first === undefined ? {} : { first }), ...(second === undefined ? {} : { second }) };
    drawing.type(next);
    return next;
  };
  return (
    <>
      <span className="drawing-next" role="status">
        {drawing.next}
      </span>
      {isShape && (
        <SegmentedControl
          size="xs"
          aria-label="What the shape does"
          data={AWAY}
          value={drawing.takesAway ? 'away' : 'add'}
          onChange={(v) => drawing.setTakesAway(v === 'away')}
        />
      )}
      {fields.map((name, k) => (
        <NextField
          key={`${name} ${chain.length}`}
          name={name}
          unit={unit}
          onTake={(value) => {
            const next = change(k, value);
            const isFull = fields.length === 1 ? next.first !== undefined : next.first !== undefined && next.second !== undefined;
            // All that is to be known is said: no click is needed.
            if (isFull && start) drawing.click(placeFor(start, next, drawing), true);
          }}
        />
      ))}
      {(chain.length > 0 || start) && (
        <Button size="compact-xs" variant="default" onClick={drawing.back} title="Backspace">
          One back
        </Button>
      )}
    </>
  );
}

// A place that lies where the numbers say: they hold whatever the pointer says.
function placeFor(start: readonly [number, number], { first = 0, second = 0 }: NextNumbers, { tool, pointer }: DrawingByHand): [number, number] {
  if (tool === 'rectangle') {
    const towards = pointer?.at ?? [start[0] + 1, start[1] + 1];
    return [start[0] + (towards[0] < start[0] ? -first : first), start[1] + (towards[1] < start[1] ? -second : second)];
  }
  if (tool === 'circle') return [start[0] + first / 2, start[1]];
  const rad = (second * Math.PI) / 180;
  return [start[0] + first * Math.cos(rad), start[1] + first * Math.sin(rad)];
}

// A number of the next place: Enter holds it, and the pointer says the rest.
function NextField({ name, unit, onTake }: { name: string; unit: LengthUnit; onTake: (value: number | undefined) => void }) {
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const take = () => {
    if (text.trim() === '') return onTake(undefined);
    const read = name === 'angle' ? parseAngleDeg(text) : parseLength(text, unit);
    if (!read.ok) return setFault(read.issues.map(say).join(' '));
    setFault(null);
    onTake(read.value);
  };
  return (
    <TextInput
      size="xs"
      w={92}
      aria-label={`Next ${name}`}
      placeholder={name}
      classNames={{ input: 'number' }}
      data-next-number
      value={text}
      error={fault !== null}
      title={fault ?? `${name}: Enter holds it`}
      onChange={(e) => setText(e.currentTarget.value)}
      onKeyDown={(e) => {
        if (e.key === 'Escape') e.currentTarget.blur();
        if (e.key !== 'Enter') return;
        // On to the next number, or back to the sheet.
        const fields = [...document.querySelectorAll<HTMLInputElement>('[data-next-number]')];
        const following = fields[fields.indexOf(e.currentTarget) + 1] ?? e.currentTarget.closest<HTMLElement>('.sheet-stage');
        take();
        following?.focus();
      }}
    />
  );
}
