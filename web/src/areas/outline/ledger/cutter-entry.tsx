import { Button, Group } from '@mantine/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { roundTo } from '#core/math';
import type { OutlineRecord } from '#core/records';
import { extentOf } from '#core/sources';
import type { LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { makeCutterFor } from '../../../store/outline-actions.ts';

/** A cutter that leaves this outline on a part: for a stretch of it, as an outline of its own. */
export function CutterEntry({ outline, unit }: { outline: OutlineRecord; unit: LengthUnit }) {
  const { low, high, radius } = extentOf(outline.profile);
  const navigate = useNavigate();
  // From the work end on, as the cutting part is.
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(roundTo(Math.min(high - low, radius), 3));
  const [diameter, setDiameter] = useState(roundTo(2 * radius + 10, 0));
  const [shank, setShank] = useState({ diameter: 12, length: 45 });
  const make = () => makeCutterFor(outline, { from: high - to, to: high - from, diameter, shank }).then((id) => id !== undefined && navigate(`/outline/${id}`));
  return (
    <LedgerEntry title="A cutter for it" state="set" value="" note="what leaves a stretch of this outside on a part, turning beside it">
      <Group gap={6} align="end">
        <NumberField kind="length" unit={unit} label="From" aria-label="Stretch from" w={92} min={0} max={high - low} value={from} onCommit={setFrom} />
        <NumberField kind="length" unit={unit} label="To" aria-label="Stretch to" w={92} min={0} max={high - low} value={to} onCommit={setTo} />
        <NumberField kind="length" unit={unit} label="Cutter ⌀" aria-label="Diameter of the cutter" w={92} min={0.1} value={diameter} onCommit={setDiameter} />
      </Group>
      <Group gap={6} align="end">
        <NumberField
          kind="length"
          unit={unit}
          label="Shank ⌀"
          aria-label="Shank of the cutter"
          w={92}
          min={0.1}
          value={shank.diameter}
          onCommit={(d) => setShank({ ...shank, diameter: d })}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="Length"
          aria-label="Length of the cutter’s shank"
          w={92}
          min={0.1}
          value={shank.length}
          onCommit={(length) => setShank({ ...shank, length })}
        />
        <Button size="compact-sm" variant="default" onClick={() => void make()}>
          Make the cutter
        </Button>
      </Group>
    </LedgerEntry>
  );
}
