import type { LengthUnit } from '#core/units';
import { NumberField } from './number-field.tsx';

/** A length with its label: narrow, in a row of others. */
export const LengthField = ({
  label,
  name = label,
  unit,
  value,
  min,
  max,
  w = 92,
  onCommit,
}: {
  label: string;
  /** What it is called where its label does not say it all. */
  name?: string;
  unit: LengthUnit;
  value: number;
  min?: number;
  max?: number;
  w?: number | string;
  onCommit: (mm: number) => void;
}) => (
  <NumberField
    kind="length"
    unit={unit}
    label={label}
    aria-label={name}
    w={w}
    value={value}
    onCommit={onCommit}
    {...(min === undefined ? {} : { min })}
    {...(max === undefined ? {} : { max })}
  />
);
