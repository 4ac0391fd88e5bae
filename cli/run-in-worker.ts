import { statSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { issue } from '#core/issues';
import type { CommandRequest, Outcome } from './commands.ts';
import type { WorkerMessage } from './worker.ts';

// Some damaged files make the kernel run for ever; it lives in a worker that is ended after this long.
function limitSeconds(file: string): number {
  try {
    return 120 + 60 * (statSync(file).size / 1e6);
  } catch {
    return 120;
  }
}

/** Runs a command in a worker that is ended when it takes too long. */
export function runInWorker(request: CommandRequest, progress: (text: string) => void): Promise<Outcome> {
  return new Promise((resolve) => {
    const worker = new Worker(new URL('./worker.mjs', import.meta.url));
    const file = 'file' in request ? request.file : request.code;
    const seconds = Math.round(limitSeconds(file));
    const end = (outcome: Outcome) => {
      clearTimeout(timer);
      resolve(outcome);
      void worker.terminate();
    };
    const late = () => end({ kind: 'failed', issues: [issue('kernel.timeout', { job: `${request.command} of ${file}`, seconds })] });
    const timer = setTimeout(late, seconds * 1000);
    worker.on('error', (error) => end({ kind: 'crashed', text: error instanceof Error ? error.message : String(error) }));
    worker.on('message', (message: WorkerMessage) => (message.kind === 'progress' ? progress(message.text) : end(message)));
    worker.postMessage(request);
  });
}
