import { parentPort } from 'node:worker_threads';
import { type Answer, doTask, type Task } from '#core/making';

export type HandMessage =
  | { readonly kind: 'progress'; readonly share: number }
  | { readonly kind: 'done'; readonly answer: Answer<Task> }
  | { readonly kind: 'failed'; readonly text: string };

const send = (message: HandMessage) => parentPort?.postMessage(message);

parentPort?.on('message', (task: Task) => {
  try {
    send({ kind: 'done', answer: doTask(task, (share) => send({ kind: 'progress', share })) });
  } catch (error) {
    send({ kind: 'failed', text: error instanceof Error ? error.message : String(error) });
  }
});
