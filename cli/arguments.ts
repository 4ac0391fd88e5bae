import { type Options, parseOptions } from './options.ts';
import type { CommandRequest } from './request.ts';
import { UsageError } from './usage.ts';

const COMMANDS = [
  'inspect',
  'propose',
  'designation',
  'component',
  'import',
  'shelf',
  'envelope',
  'outline',
  'assemble',
  'setup',
  'reach',
  'trial',
  'verify',
  'batch',
];

/** What was asked for; throws a UsageError in words where that is not clear. What a command's own options need is loaded with it. */
export async function readArguments(argv: string[]): Promise<{ request: CommandRequest; json: boolean } | { help: true }> {
  const { values, positionals } = parseOptions(argv);
  const [command, file, ...rest] = positionals;
  if (values.help || command === 'help') return { help: true };
  if (!command) throw new UsageError('say a command');
  if (!COMMANDS.includes(command)) throw new UsageError(`there is no command ${command}`);
  const json = values.json ?? false;
  if (command === 'designation') {
    if (!file) throw new UsageError('designation takes a code, as CNMG120408');
    return { json, request: { command, codes: [file, ...rest] } };
  }
  if (command === 'component') return { json, request: readComponent(values, positionals.slice(1)) };
  if (!file || rest.length > 0) throw new UsageError(command === 'batch' ? 'batch takes one folder' : `${command} takes one file`);
  if (command === 'inspect' || command === 'verify') return { json, request: { command, file } };
  if (command === 'setup') return { json, request: { command, file, ...only(values, 'out') } };
  if (command === 'reach') return { json, request: { command, file, ...only(values, 'trial') } };
  if (command === 'trial') return { json, request: { command, file, ...only(values, 'program', 'trial', 'out') } };
  if (command === 'shelf') return { json, request: readShelf(values, file) };
  if (command === 'import') return { json, request: await readImport(values, file) };
  if (command === 'propose') {
    const { READING_KINDS } = await import('#core/reading');
    const kind = READING_KINDS.find((k) => k === (values.kind ?? 'auto'));
    if (!kind) throw new UsageError(`--kind must be one of ${READING_KINDS.join(', ')}`);
    return { json, request: { command, file, kind } };
  }
  if (command === 'outline') return { json, request: readOutline(values, file) };
  const { out } = values;
  if (!out) throw new UsageError(`${command} needs --out`);
  if (command === 'assemble') return { json, request: readAssemble(values, file, out) };
  if (command === 'batch') return { json, request: readBatch(values, file, out) };
  return { json, request: (await import('./envelope-arguments.ts')).readEnvelopeArguments(values, file, out) };
}

// Those of some options that were given.
const only = <K extends 'out' | 'trial' | 'program'>(values: Options, ...names: K[]): { [N in K]?: string } =>
  Object.fromEntries(names.flatMap((n) => (values[n] === undefined ? [] : [[n, values[n]]]))) as { [N in K]?: string };

function readAssemble({ swap = [], find, force }: Options, file: string, out: string): CommandRequest {
  const swaps = swap.map((text) => {
    const at = text.indexOf('=');
    if (at < 1 || at === text.length - 1) throw new UsageError('--swap is PIECE=COMPONENT, both as the recipe calls them');
    return { piece: text.slice(0, at), component: text.slice(at + 1) };
  });
  const [from, to, ...more] = find?.split('..') ?? [];
  if (find !== undefined && (!from || !to || more.length > 0))
    throw new UsageError('--find is FROM..TO: a piece or a connection as "cylindrical 32", and a component of the recipe');
  const newton = force === undefined ? undefined : Number(force);
  if (newton !== undefined && !(newton > 0 && newton < 1e6)) throw new UsageError('--force is in N, above 0');
  return { command: 'assemble', file, swaps, out, ...(from && to ? { find: { from, to } } : {}), ...(newton === undefined ? {} : { force: newton }) };
}

async function readImport({ map, kind, out }: Options, file: string): Promise<CommandRequest> {
  const { SPEC_KINDS } = await import('#core/components');
  if (out !== undefined && !/\.zip$/i.test(out)) throw new UsageError('--out must end in .zip: a Shelf’s file');
  const of = SPEC_KINDS.find((k) => k === kind);
  if (kind !== undefined && !of) throw new UsageError(`--kind must be one of ${SPEC_KINDS.join(', ')}`);
  return { command: 'import', file, ...(map === undefined ? {} : { map }), ...(of === undefined ? {} : { kind: of }), ...(out === undefined ? {} : { out }) };
}

function readShelf({ where, merge, out }: Options, file: string): CommandRequest {
  if (out !== undefined && !/\.(zip|csv)$/i.test(out)) throw new UsageError('--out must end in .zip (a Shelf’s file) or .csv (its table)');
  return {
    command: 'shelf',
    file,
    ...(where === undefined ? {} : { where }),
    ...(merge === undefined ? {} : { merge }),
    ...(out === undefined ? {} : { out }),
  };
}

function readComponent({ text = [], 'facts-only': factsOnly = false, out }: Options, files: readonly string[]): CommandRequest {
  if ((files.length === 1) === text.length > 0 || files.length > 1) throw new UsageError('component takes one specification (JSON), or words by --text');
  if (out !== undefined && !/\.(step|stl|glb|3mf)$/i.test(out)) throw new UsageError('--out must end in .step, .stl, .glb or .3mf');
  if (out !== undefined && text.length > 1) throw new UsageError('--out goes with one component');
  return { command: 'component', texts: text, factsOnly, ...(files[0] === undefined ? {} : { file: files[0] }), ...(out === undefined ? {} : { out }) };
}

function readOutline({ layers, form, unit, tolerance, bridge, flip, scale, thickness, relief, out }: Options, file: string): CommandRequest {
  if (!/\.(dxf|svg|png|jpe?g|json)$/i.test(file)) throw new UsageError('outline takes a DXF or SVG file, a PNG or JPEG picture, or an outline’s JSON');
  const isPicture = /\.(png|jpe?g)$/i.test(file);
  const calibration = scale?.split(',').map(Number);
  if (isPicture !== (calibration !== undefined))
    throw new UsageError(
      isPicture ? 'a picture needs --scale x1,y1,x2,y2,MM: two points in pixels and the distance between them' : '--scale goes with a picture',
    );
  if (calibration && (calibration.length !== 5 || !calibration.every(Number.isFinite))) throw new UsageError('--scale must be five numbers: x1,y1,x2,y2,MM');
  if (isPicture && (layers !== undefined || unit !== undefined)) throw new UsageError('--layers and --unit do not go with a picture');
  if (form !== undefined && form !== 'revolved' && form !== 'flat') throw new UsageError('--form must be revolved or flat');
  if (unit !== undefined && unit !== 'mm' && unit !== 'inch') throw new UsageError('--unit must be mm or inch');
  const within = tolerance === undefined ? undefined : Number(tolerance);
  if (within !== undefined && !(within >= 0.001 && within <= 5)) throw new UsageError('--tolerance must be 0.001 to 5 (mm)');
  const gap = bridge === undefined ? undefined : Number(bridge);
  if (gap !== undefined && (isPicture || !(gap >= 0 && gap <= 10))) throw new UsageError('--bridge must be 0 to 10 (mm), and goes with a drawing');
  const thick = thickness === undefined ? undefined : Number(thickness);
  if (thick !== undefined && !(thick >= 0.05 && thick <= 1000)) throw new UsageError('--thickness must be 0.05 to 1000 (mm)');
  const lean = relief === undefined ? undefined : Number(relief);
  if (lean !== undefined && !(lean >= 0 && lean <= 45)) throw new UsageError('--relief must be 0 to 45 (degrees)');
  if (out !== undefined && !/\.(step|stl|glb|3mf|dxf|svg|json)$/i.test(out))
    throw new UsageError('--out must end in .step, .stl, .glb, .3mf, .dxf, .svg or .json');
  return {
    command: 'outline',
    file,
    layers: layers?.split(','),
    form,
    unit,
    tolerance: within,
    bridge: gap,
    flip,
    scale: calibration,
    thickness: thick,
    relief: lean,
    out,
  };
}

function readBatch({ recipe, jobs }: Options, file: string, out: string): CommandRequest {
  if (!recipe) throw new UsageError('batch needs --recipe');
  const count = jobs === undefined ? undefined : Number(jobs);
  if (count !== undefined && !(Number.isInteger(count) && count >= 1 && count <= 64)) throw new UsageError('--jobs must be 1 to 64');
  return { command: 'batch', file, recipe, out, ...(count === undefined ? {} : { jobs: count }) };
}
