import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { type Answer, type Crew, type Hand, ManyHands, type Task } from '#core/making';
import type { HandMessage } from './hand.ts';
import { threadFile } from './thread-file.ts';

/** A thread that does tasks which need no kernel. It does not keep the program alive. */
class ThreadHand implements Hand {
  private readonly worker = new Worker(threadFile('hand'));

  constructor() {
    this.worker.unref();
  }

  do(task: Task, onProgress: (share: number) => void): Promise<Answer<Task>> {
    return new Promise((resolve, reject) => {
      const onMessage = (message: HandMessage) => {
        if (message.kind === 'progress') return onProgress(message.share);
        end();
        if (message.kind === 'done') resolve(message.answer);
        else reject(new Error(message.text));
      };
      const onError = (error: Error) => {
        end();
        reject(error);
      };
      const end = () => {
        this.worker.off('message', onMessage);
        this.worker.off('error', onError);
        this.worker.unref();
      };
      this.worker.ref();
      this.worker.on('message', onMessage);
      this.worker.on('error', onError);
      this.worker.postMessage(task);
    });
  }
}

let crew: Crew | undefined;

/** The threads of this program, as many as there are processors; they are started when there is work for them. */
export const threadCrew = (): Crew => (crew ??= new ManyHands(availableParallelism(), () => new ThreadHand()));
