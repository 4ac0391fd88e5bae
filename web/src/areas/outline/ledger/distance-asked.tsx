import { Button, Group, TextInput } from '@mantine/core';
import { useState } from 'react';
import { say } from '#core/issues';
import { formatLength, type LengthUnit, parseLength } from '#core/units';

/** How far two places of a picture are apart: asked for its scale, or compared with what the scale says. */
export function DistanceAsked({
  unit,
  found,
  check = false,
  onTake,
  onLeave,
}: {
  unit: LengthUnit;
  /** mm by the scale that is known. */
  found: number | undefined;
  check?: boolean;
  onTake: (mm: number) => void;
  onLeave: () => void;
}) {
  const [text, setText] = useState('');
  const read = text.trim() === '' ? undefined : parseLength(text, unit);
  const typed = read?.ok && read.value > 0 ? read.value : undefined;
  const off = check && typed !== undefined && found !== undefined ? found - typed : undefined;
  return (
    <section className="distance-asked" aria-label={check ? 'Check of the scale' : 'Distance of the two places'}>
      <p>{check && found !== undefined ? `By the scale they are ${formatLength(found, unit)} ${unit} apart.` : 'How far are the two places apart?'}</p>
      <Group gap={6} align="start">
        <TextInput
          size="xs"
          w={120}
          autoFocus
          aria-label="Distance of the two places"
          classNames={{ input: 'number' }}
          value={text}
          rightSection={<span className="unit-mark">{unit === 'mm' ? 'mm' : 'in'}</span>}
          error={read && !read.ok ? read.issues.map(say).join(' ') : null}
          onChange={(e) => setText(e.currentTarget.value)}
          onKeyDown={(e) => e.key === 'Enter' && typed !== undefined && !check && onTake(typed)}
        />
        {!check && (
          <Button size="compact-sm" disabled={typed === undefined} onClick={() => typed !== undefined && onTake(typed)}>
            Read it
          </Button>
        )}
        <Button size="compact-sm" variant="default" onClick={onLeave}>
          {check ? 'Done' : 'Leave it'}
        </Button>
      </Group>
      {off !== undefined && typed !== undefined && (
        <p className={Math.abs(off) > 0.01 * typed ? 'ledger-hint warn' : 'ledger-hint'}>
          The scale is off by {formatLength(Math.abs(off), unit)} {unit} there, {((100 * Math.abs(off)) / typed).toFixed(2)} %.
        </p>
      )}
    </section>
  );
}
