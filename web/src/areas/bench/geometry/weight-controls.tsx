import { Button, Group, NumberInput, Slider } from '@mantine/core';
import { useState } from 'react';
import { roundTo } from '#core/math';
import { formatLength, type LengthUnit } from '#core/units';

// mm. What the slider goes over, by its logarithm; finer and coarser tolerances are typed.
const FINEST = 0.005;
const COARSEST = 1;
const STEP = 0.02;

interface Props {
  readonly name: string;
  readonly unit: LengthUnit;
  readonly tolerance: number;
  readonly triangles: number | undefined;
  readonly busy: boolean;
  /** While it is dragged, and when it is let go. */
  readonly onDrag: (tolerance: number) => void;
  readonly onLetGo: (tolerance: number) => void;
  /** To be made with the least tolerance that takes no more than so many triangles. */
  readonly onBudget: (triangles: number) => void;
}

/** How heavy made geometry may be: by its tolerance, dragged, or by a number of triangles that the tolerance is found for. */
export function WeightControls({ name, unit, tolerance, triangles, busy, onDrag, onLetGo, onBudget }: Props) {
  const [budget, setBudget] = useState<number | string>('');
  const toleranceAt = (v: number) => roundTo(Math.exp(v), 3);
  const say = (v: number) => formatLength(toleranceAt(v), unit);
  return (
    <>
      <div className="weight-slider">
        <span>finer</span>
        <Slider
          size="sm"
          flex={1}
          min={Math.log(FINEST)}
          max={Math.log(COARSEST)}
          step={STEP}
          disabled={busy}
          value={Math.min(Math.log(COARSEST), Math.max(Math.log(FINEST), Math.log(tolerance)))}
          label={say}
          thumbLabel={`Tolerance of ${name}, dragged`}
          thumbProps={{ 'aria-valuetext': say(Math.log(tolerance)) }}
          onChange={(v) => onDrag(toleranceAt(v))}
          onChangeEnd={(v) => onLetGo(toleranceAt(v))}
        />
        <span>lighter</span>
      </div>
      <Group gap={6} wrap="nowrap" align="end">
        <NumberInput
          size="xs"
          w={130}
          label="at most, triangles"
          aria-label={`Most triangles of ${name}`}
          classNames={{ input: 'number' }}
          placeholder={triangles?.toLocaleString('en')}
          min={12}
          max={1e7}
          hideControls
          allowDecimal={false}
          thousandSeparator=","
          value={budget}
          onChange={setBudget}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && typeof budget === 'number') onBudget(budget);
          }}
        />
        <Button size="xs" variant="default" disabled={typeof budget !== 'number' || busy} onClick={() => typeof budget === 'number' && onBudget(budget)}>
          Find the tolerance
        </Button>
      </Group>
    </>
  );
}
