import * as Comlink from 'comlink';
import { type Answer, doTask, type Task } from '#core/making';

// Does work that needs no kernel, for the geometry worker.
const api = {
  do: (task: Task, onProgress: (share: number) => void): Answer<Task> => doTask(task, onProgress),
};

export type HelperApi = typeof api;
Comlink.expose(api);
