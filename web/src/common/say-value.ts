import { type ValueName, VALUES } from '#core/components';
import { formatAngleDeg, formatLength, type LengthUnit } from '#core/units';

/** A value of a component of data as it is shown. */
export const sayValue = (name: ValueName, value: number, unit: LengthUnit): string =>
  VALUES[name].unit === 'deg' ? formatAngleDeg(value) : formatLength(value, unit);
