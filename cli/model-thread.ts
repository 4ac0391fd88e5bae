import { statSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { issue } from '#core/issues';
import type { CommandRequest, Outcome, Say, WorkerMessage } from './request.ts';
import { threadFile } from './thread-file.ts';

// Some damaged files make the kernel run for ever; it lives in a thread that is ended after this long.
function limitSeconds(file: string): number {
  try {
    return 120 + 60 * (statSync(file).size / 1e6);
  } catch {
    return 120;
  }
}

/** A thread with a kernel of its own that runs commands, one at a time. One that takes too long or breaks is ended; the next command gets a new one. */
export class ModelThread {
  private worker: Worker | undefined;

  run(request: CommandRequest, progress: Say = () => undefined): Promise<Outcome> {
    const worker = (this.worker ??= new Worker(threadFile('worker')));
    const file = 'codes' in request ? '' : (request.file ?? '');
    const seconds = Math.round(limitSeconds(file));
    return new Promise((resolve) => {
      const end = (outcome: Outcome, isLost: boolean) => {
        clearTimeout(timer);
        worker.off('message', onMessage).off('error', onError).off('exit', onExit);
        if (isLost) this.close();
        resolve(outcome);
      };
      const onMessage = (message: WorkerMessage) => (message.kind === 'progress' ? progress(message.text) : end(message, message.kind === 'crashed'));
      const onError = (error: unknown) => end({ kind: 'crashed', text: error instanceof Error ? error.message : String(error) }, true);
      const onExit = (code: number) => end({ kind: 'crashed', text: `the thread ended with ${code}` }, true);
      const onLate = () => end({ kind: 'failed', issues: [issue('kernel.timeout', { job: `${request.command} of ${file}`, seconds })] }, true);
      const timer = setTimeout(onLate, seconds * 1000);
      worker.on('message', onMessage).on('error', onError).on('exit', onExit);
      worker.postMessage(request);
    });
  }

  close(): void {
    void this.worker?.terminate();
    this.worker = undefined;
  }
}

/** Runs one command in a thread of its own. */
export async function runInThread(request: CommandRequest, progress: Say): Promise<Outcome> {
  const thread = new ModelThread();
  const outcome = await thread.run(request, progress);
  thread.close();
  return outcome;
}
