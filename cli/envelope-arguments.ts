import { extname } from 'node:path';
import { BORE_CHOICES } from '#core/outline';
import type { Options } from './options.ts';
import type { CommandRequest } from './request.ts';
import { UsageError } from './usage.ts';

/** The options of `envelope`; throws a UsageError in words where they do not go together. */
export function readEnvelopeArguments(values: Options, file: string, out: string): CommandRequest {
  const { mode } = values;
  if (mode !== 'exact' && mode !== 'revolved' && mode !== 'wrap' && mode !== 'auto' && mode !== 'plan')
    throw new UsageError('--mode must be revolved, plan, wrap, exact or auto');
  const whole = (name: 'triangles' | 'close', low: number, high: number): number | undefined => {
    const text = values[name];
    if (text === undefined) return undefined;
    if (mode !== 'wrap' && mode !== 'auto' && (name === 'triangles' || mode !== 'revolved')) throw new UsageError(`--${name} does not go with mode ${mode}`);
    const value = Number(text);
    if (!(value >= low && value <= high)) throw new UsageError(`--${name} must be ${low} to ${high}`);
    return value;
  };
  const triangles = whole('triangles', 12, 1e7);
  const closeBelow = whole('close', 0, 200);
  const bores = BORE_CHOICES.find((b) => b === (values.bores ?? 'closed'));
  if (!bores || (values.bores !== undefined && mode !== 'revolved' && mode !== 'auto'))
    throw new UsageError(`--bores must be ${BORE_CHOICES.join(', ')}, and goes with mode revolved`);
  const bridge = values.bridge === undefined ? undefined : Number(values.bridge);
  if (bridge !== undefined && (!(bridge >= 0 && bridge <= 200) || (mode !== 'revolved' && mode !== 'auto')))
    throw new UsageError('--bridge must be 0 to 200 (mm), and goes with mode revolved');
  const tolerance = Number(values.tolerance);
  if (!values.tolerance || !(tolerance >= 0.001 && tolerance <= 5)) throw new UsageError('--tolerance must be 0.001 to 5 (mm)');
  const axis = values.axis?.split(',').map(Number);
  if (axis && (axis.length !== 6 || !axis.every(Number.isFinite) || Math.hypot(axis[3], axis[4], axis[5]) < 1e-9))
    throw new UsageError('--axis must be six numbers, a point and a direction');
  if (!['.stl', '.glb', '.3mf', '.step'].includes(extname(out).toLowerCase())) throw new UsageError('--out must end in .stl, .glb, .3mf or .step');
  return { command: 'envelope', file, mode, tolerance, axis, bodies: values.bodies?.split(','), triangles, closeBelow, bores, bridge, out };
}
