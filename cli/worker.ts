import { parentPort } from 'node:worker_threads';
import { IssueError, type Issue } from '#core/issues';
import { type CommandOutput, type CommandRequest, runCommand } from './commands.ts';

export type WorkerMessage =
  | { kind: 'progress'; text: string }
  | { kind: 'done'; output: CommandOutput }
  | { kind: 'failed'; issues: readonly Issue[] }
  | { kind: 'crashed'; text: string };

const send = (message: WorkerMessage) => parentPort?.postMessage(message);

parentPort?.on('message', (request: CommandRequest) => {
  runCommand(request, (text) => send({ kind: 'progress', text })).then(
    (output) => send({ kind: 'done', output }),
    (error: unknown) => {
      if (error instanceof IssueError) send({ kind: 'failed', issues: error.issues });
      else send({ kind: 'crashed', text: error instanceof Error ? `${error.name}: ${error.message}` : String(error) });
    },
  );
});
