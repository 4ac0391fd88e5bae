import { statSync } from 'node:fs';
import { extname } from 'node:path';
import { parseArgs } from 'node:util';
import { Worker } from 'node:worker_threads';
import { issue, say, sayWhat } from '#core/issues';
import { READING_KINDS } from '#core/reading';
import type { CommandOutput, CommandRequest } from './commands.ts';
import type { WorkerMessage } from './worker.ts';

const USAGE = `ruota COMMAND ... [--json]

  inspect FILE                     bodies, unit, volumes, boxes of a STEP, STL, OBJ, 3MF or GLB file
  propose FILE [--kind turning|boring|grooving|rotating|block|auto]
                                   kind, roles, mount, seats and tips as read from the model
  designation CODE                 what an ISO 1832, 5608 or 6261 designation says
  envelope FILE --mode revolved|plan|wrap|exact|auto --tolerance T [--axis ox,oy,oz,dx,dy,dz] [--bodies ID,ID]
           [--triangles N] [--close W] --out OUT.(stl|glb|3mf|step)
                                   light geometry that is never too small; a wrap closes openings up to W mm and stops at N triangles;
                                   a plan is seen along Y of the mount that is read, or of the axis given
  assemble RECIPE.json --out DIR   joins components and writes the package
  verify PACKAGE.zip               the checks of a package, recomputed from its own files`;

const EXIT = { done: 0, usage: 2, input: 3, check: 4 } as const;
// Commands of the contract that later work brings.
const NOT_YET = ['component', 'batch'];

class UsageError extends Error {}

function parse(argv: string[]): { request: CommandRequest; json: boolean } | { help: true } {
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
    if (mode !== 'wrap' && mode !== 'auto') throw new UsageError(`--${name} belongs to mode wrap`);
    const value = Number(text);
    if (!(value >= low && value <= high)) throw new UsageError(`--${name} must be ${low} to ${high}`);
    return value;
  };
  const triangles = whole('triangles', 12, 1e7);
  const closeBelow = whole('close', 0, 200);
  const tolerance = Number(values.tolerance);
  if (!values.tolerance || !(tolerance >= 0.001 && tolerance <= 5)) throw new UsageError('--tolerance must be 0.001 to 5 (mm)');
  const axis = values.axis?.split(',').map(Number);
  if (axis && (axis.length !== 6 || !axis.every(Number.isFinite) || Math.hypot(axis[3], axis[4], axis[5]) < 1e-9))
    throw new UsageError('--axis must be six numbers, a point and a direction');
  if (!['.stl', '.glb', '.3mf', '.step'].includes(extname(out).toLowerCase())) throw new UsageError('--out must end in .stl, .glb, .3mf or .step');
  return { json, request: { command: 'envelope', file, mode, tolerance, axis, bodies: values.bodies?.split(','), triangles, closeBelow, out } };
}

// Some damaged files make the kernel run for ever; it lives in a worker that is ended after this long.
function limitSeconds(file: string): number {
  try {
    return 120 + 60 * (statSync(file).size / 1e6);
  } catch {
    return 120;
  }
}

function run(request: CommandRequest): Promise<{ output: CommandOutput } | { code: number; message: string }> {
  return new Promise((resolve) => {
    const worker = new Worker(new URL('./worker.mjs', import.meta.url));
    const file = 'file' in request ? request.file : request.code;
    const seconds = Math.round(limitSeconds(file));
    const end = (result: Parameters<typeof resolve>[0]) => {
      clearTimeout(timer);
      resolve(result);
      void worker.terminate();
    };
    const crash = (text: string) => end({ code: EXIT.input, message: say(issue('kernel.crashed', { job: request.command, text })) });
    const timer = setTimeout(
      () => end({ code: EXIT.input, message: sayWhat(issue('kernel.timeout', { job: `${request.command} of ${file}`, seconds })) }),
      seconds * 1000,
    );
    worker.on('error', (error) => crash(error instanceof Error ? error.message : String(error)));
    worker.on('message', (message: WorkerMessage) => {
      if (message.kind === 'progress') {
        if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${message.text}`);
      } else if (message.kind === 'done') end({ output: message.output });
      else if (message.kind === 'failed') end({ code: EXIT.input, message: message.issues.map(say).join('\n') });
      else crash(message.text);
    });
    worker.postMessage(request);
  });
}

async function main(): Promise<number> {
  let parsed: ReturnType<typeof parse>;
  try {
    parsed = parse(process.argv.slice(2));
  } catch (error) {
    console.error(`${error instanceof Error ? error.message : String(error)}\n\n${USAGE}`);
    return EXIT.usage;
  }
  if ('help' in parsed) {
    console.log(USAGE);
    return EXIT.done;
  }
  const result = await run(parsed.request);
  if (process.stderr.isTTY) process.stderr.write('\r\x1b[K');
  if ('code' in result) {
    console.error(result.message);
    return result.code;
  }
  const { output } = result;
  for (const warning of output.warnings) console.error(warning);
  console.log(parsed.json ? JSON.stringify(output.json) : output.text);
  return output.checkFailed ? EXIT.check : EXIT.done;
}

process.exitCode = await main();
