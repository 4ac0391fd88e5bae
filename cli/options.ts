import { parseArgs } from 'node:util';

/** The options of all commands, as they were typed. */
export type Options = ReturnType<typeof parseOptions>['values'];

/** Splits the arguments; throws where one is unknown. */
export const parseOptions = (argv: string[]) =>
  parseArgs({
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
      flip: { type: 'boolean' },
      layers: { type: 'string' },
      form: { type: 'string' },
      unit: { type: 'string' },
      scale: { type: 'string' },
      thickness: { type: 'string' },
      relief: { type: 'string' },
      recipe: { type: 'string' },
      jobs: { type: 'string' },
      out: { type: 'string' },
      text: { type: 'string', multiple: true },
      map: { type: 'string' },
      where: { type: 'string' },
      merge: { type: 'string' },
      swap: { type: 'string', multiple: true },
      find: { type: 'string' },
      program: { type: 'string' },
      trial: { type: 'string' },
      force: { type: 'string' },
      'facts-only': { type: 'boolean' },
    },
  });
