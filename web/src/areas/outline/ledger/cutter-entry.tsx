import { Button, Group } from '@mantine/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { roundTo } from '#core/math';
import type { OutlineRecord } from '#core/records';
import { extentOf } from '#core/sources';
import type { LengthUnit } from '#core/units';
import { LengthField } from '../../../common/length-field.tsx';
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
        <LengthField unit={unit} label="From" name="Stretch from" min={0} max={high - low} value={from} onCommit={setFrom} />
        <LengthField unit={unit} label="To" name="Stretch to" min={0} max={high - low} value={to} onCommit={setTo} />
        <LengthField unit={unit} label="Cutter ⌀" name="Diameter of the cutter" min={0.1} value={diameter} onCommit={setDiameter} />
      </Group>
      <Group gap={6} align="end">
        <LengthField
          unit={unit}
          label="Shank ⌀"
          name="Shank of the cutter"
          min={0.1}
          value={shank.diameter}
          onCommit={(d) => setShank({ ...shank, diameter: d })}
        />
        <LengthField
          unit={unit}
          label="Length"
          name="Length of the cutter’s shank"
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
