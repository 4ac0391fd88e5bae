import * as Comlink from 'comlink';
import { type Answer, type Crew, type Hand, ManyHands, type Task } from '#core/making';
import type { HelperApi } from './helper.worker.ts';

/** A worker of the geometry worker: it ends with that one. */
class HelperHand implements Hand {
  private readonly remote = Comlink.wrap<HelperApi>(new Worker(new URL('./helper.worker.ts', import.meta.url), { type: 'module' }));

  do(task: Task, onProgress: (share: number) => void): Promise<Answer<Task>> {
    return this.remote.do(task, Comlink.proxy(onProgress));
  }
}

// More than these are seldom busy, and each holds a copy of what it works on.
const MOST_HANDS = 4;

/** As many hands as there are processors; they are called up when there is work for them. */
export const crew: Crew = new ManyHands(Math.min(MOST_HANDS, navigator.hardwareConcurrency), () => new HelperHand());
