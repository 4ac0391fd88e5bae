import { issue, say } from '#core/issues';
import { readArguments } from './arguments.ts';
import type { CommandRequest, Outcome } from './request.ts';
import { USAGE } from './usage.ts';

/** Where the program writes; `progress` replaces its own last line, and is only there for a person who watches. */
export interface Streams {
  readonly out: (line: string) => void;
  readonly err: (line: string) => void;
  readonly progress: (text: string) => void;
}

export type Runner = (request: CommandRequest, progress: (text: string) => void) => Promise<Outcome>;

const EXIT = { done: 0, usage: 2, input: 3, check: 4 } as const;

/** The whole program but for the process around it: reads the arguments, runs the command, writes, gives the exit code. */
export async function program(argv: string[], { out, err, progress }: Streams, run: Runner): Promise<number> {
  let parsed: Awaited<ReturnType<typeof readArguments>>;
  try {
    parsed = await readArguments(argv);
  } catch (error) {
    err(`${error instanceof Error ? error.message : String(error)}\n\n${USAGE}`);
    return EXIT.usage;
  }
  if ('help' in parsed) {
    out(USAGE);
    return EXIT.done;
  }
  const { request, json } = parsed;
  const outcome = await run(request, progress);
  progress('');
  if (outcome.kind !== 'done') {
    const issues = outcome.kind === 'failed' ? outcome.issues : [issue('kernel.crashed', { job: request.command, text: outcome.text })];
    err(issues.map(say).join('\n'));
    return EXIT.input;
  }
  const { output } = outcome;
  for (const warning of output.warnings) err(warning);
  out(json ? JSON.stringify(output.json) : output.text);
  return output.checkFailed ? EXIT.check : EXIT.done;
}
