import { type ValueName, VALUES } from '#core/components';
import { formatAngleDeg, formatLength, type LengthUnit } from '#core/units';

/** A value of a component of data as it is shown. */
export function sayValue(name: ValueName, value: number, unit: LengthUnit): string {
  const kind = VALUES[name].unit;
  return kind === 'deg' ? formatAngleDeg(value) : kind === 'count' ? String(value) : formatLength(value, unit);
}
