import { extname } from 'node:path';
import { parseArgs } from 'node:util';
import { BORE_CHOICES } from '#core/outline';
import { READING_KINDS } from '#core/reading';
import type { CommandRequest } from './commands.ts';

export const USAGE = `ruota COMMAND ... [--json]

  inspect FILE                     bodies, unit, volumes, boxes of a STEP, STL, OBJ, 3MF or GLB file
  propose FILE [--kind turning|boring|grooving|rotating|block|auto]
                                   kind, roles, mount, seats and tips as read from the model
  designation CODE                 what an ISO 1832, 5608 or 6261 designation says
  envelope FILE --mode revolved|plan|wrap|exact|auto --tolerance T [--axis ox,oy,oz,dx,dy,dz] [--bodies ID,ID]
           [--triangles N] [--close W] [--bores closed|open|work|machine] [--bridge W] --out OUT.(stl|glb|3mf|step)
                                   light geometry that is never too small; a wrap closes openings up to W mm and stops at N triangles;
                                   a revolved envelope keeps bores over W mm that open to the work, to the machine or to both,
                                   and fills gaps of its outside up to the width of --bridge;
                                   a plan is seen along Y of the mount that is read, or of the axis given
  assemble RECIPE.json --out DIR   joins components and writes the package
  verify PACKAGE.zip               the checks of a package, recomputed from its own files`;

// Commands of the contract that later work brings.
const NOT_YET = ['component', 'batch'];

export class UsageError extends Error {}

/** What was asked for; throws a UsageError in words where that is not clear. */
export function readArguments(argv: string[]): { request: CommandRequest; json: boolean } | { help: true } {
  const { values, positionals } = parseArgs({
    args: argv,
    allowPositionals: true,
    options: {
      json: { type: 'boolean' },
      help: { type: 'boolean', short: 'h' },
      kind: { type: 'string' },
      mode: { type: 'string' },
      tolerance: { type: 'string' },
      axis: { type: 'string' },
      bodies: { type: 'string' },
      triangles: { type: 'string' },
      close: { type: 'string' },
      bores: { type: 'string' },
      bridge: { type: 'string' },
      out: { type: 'string' },
    },
  });
  const [command, file, ...rest] = positionals;
  if (values.help || command === 'help') return { help: true };
  if (!command) throw new UsageError('say a command');
  if (NOT_YET.includes(command)) throw new UsageError(`the command ${command} is not there yet`);
  if (!['inspect', 'propose', 'designation', 'envelope', 'assemble', 'verify'].includes(command)) throw new UsageError(`there is no command ${command}`);
  if (command === 'designation') {
    if (!file) throw new UsageError('designation takes a code, as CNMG120408');
    return { json: values.json ?? false, request: { command, code: [file, ...rest].join(' ') } };
  }
  if (!file || rest.length > 0) throw new UsageError(`${command} takes one file`);
  const json = values.json ?? false;
  if (command === 'inspect' || command === 'verify') return { json, request: { command, file } };
  if (command === 'propose') {
    const kind = READING_KINDS.find((k) => k === (values.kind ?? 'auto'));
    if (!kind) throw new UsageError(`--kind must be one of ${READING_KINDS.join(', ')}`);
    return { json, request: { command, file, kind } };
  }
  const { out } = values;
  if (!out) throw new UsageError(`${command} needs --out`);
  if (command === 'assemble') return { json, request: { command, file, out } };
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
  return { json, request: { command: 'envelope', file, mode, tolerance, axis, bodies: values.bodies?.split(','), triangles, closeBelow, bores, bridge, out } };
}
