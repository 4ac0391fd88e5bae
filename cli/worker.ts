import { parentPort } from 'node:worker_threads';
import { answer } from './commands/index.ts';
import type { CommandRequest, WorkerMessage } from './request.ts';

const send = (message: WorkerMessage) => parentPort?.postMessage(message);

parentPort?.on('message', (request: CommandRequest) => {
  void answer(request, (text) => send({ kind: 'progress', text })).then(send);
});
