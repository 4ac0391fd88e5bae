import * as Comlink from 'comlink';
import { type Issue, issue } from '#core/issues';
import { encodeModel, type Model } from '#core/mesh';
import type { ComponentRecord } from '#core/records';
import { whenIdle } from '../common/when-idle.ts';
import type { GeometryApi } from './geometry.worker.ts';
import type { JobAnswer, Progress } from './job-answer.ts';

/** How a job ended: three different things. */
export type JobResult<T> =
  | { readonly state: 'done'; readonly value: T }
  | { readonly state: 'cancelled' }
  | { readonly state: 'failed'; readonly issues: readonly Issue[] };

export interface JobOptions {
  /** What is being done, for messages: "opening holder.step". */
  readonly job: string;
  /** After this long the kernel is taken to hang: its worker is ended and a new one started. */
  readonly limitSeconds: number;
  readonly onProgress?: Progress;
  readonly signal?: AbortSignal;
}

// Compiling the kernel takes a core for about a second; the first view takes this long.
const FIRST_VIEW_MS = 1500;
const LONGEST_BUSY_MS = 4000;

export type Remote = Comlink.Remote<GeometryApi>;

/**
 * The one door to the geometry worker. Jobs run one after the other; a job that is cancelled, hangs or breaks the kernel
 * takes the worker with it, and the next job gets a new one.
 */
class GeometryClient {
  #worker: Worker | undefined;
  #remote: Remote | undefined;
  #tail: Promise<unknown> = Promise.resolve();
  #restarts = 0;
  #underWay = 0;

  /** How often the worker had to be replaced; shown nowhere, read by tests. */
  get restarts(): number {
    return this.#restarts;
  }

  /** Loads the kernel ahead of the first job, once the first view stands and the page has nothing better to do. */
  warmWhenIdle(): void {
    setTimeout(() => whenIdle(() => this.warmNow(), LONGEST_BUSY_MS), FIRST_VIEW_MS);
  }

  /** The same at once: somebody is about to bring a file. */
  warmNow(): void {
    void this.#start().warm();
  }

  run<T>(options: JobOptions, call: (remote: Remote, progress: Progress) => Promise<unknown>): Promise<JobResult<T>> {
    this.#underWay++;
    const result = this.#tail.then(() => this.#runNow<T>(options, call)).finally(() => this.#underWay--);
    this.#tail = result.catch(() => undefined);
    return result;
  }

  /** Has something done that nobody waits for, and that ends by itself where a job comes; not while one is under way. */
  ahead(call: (remote: Remote) => Promise<unknown>): void {
    if (this.#underWay === 0) void call(this.#start()).catch(() => undefined);
  }

  /** Until no job is under way. */
  async whenDone(): Promise<void> {
    let tail: Promise<unknown>;
    do {
      tail = this.#tail;
      await tail;
    } while (tail !== this.#tail);
  }

  #start(): Remote {
    if (!this.#remote) {
      this.#worker = new Worker(new URL('./geometry.worker.ts', import.meta.url), { type: 'module' });
      this.#remote = Comlink.wrap<GeometryApi>(this.#worker);
    }
    return this.#remote;
  }

  #drop(): void {
    this.#worker?.terminate();
    this.#worker = undefined;
    this.#remote = undefined;
    this.#restarts++;
    // The next job should not have to wait for the kernel.
    setTimeout(() => void this.#start().warm(), 50);
  }

  #runNow<T>({ job, limitSeconds, onProgress, signal }: JobOptions, call: (remote: Remote, progress: Progress) => Promise<unknown>): Promise<JobResult<T>> {
    if (signal?.aborted) return Promise.resolve({ state: 'cancelled' });
    const remote = this.#start();
    const worker = this.#worker;
    return new Promise((resolve) => {
      let ended = false;
      const end = (result: JobResult<T>, drop: boolean) => {
        if (ended) return;
        ended = true;
        clearTimeout(timer);
        signal?.removeEventListener('abort', abort);
        worker?.removeEventListener('error', crash);
        if (drop) this.#drop();
        resolve(result);
      };
      const abort = () => end({ state: 'cancelled' }, true);
      const crash = (event: ErrorEvent) =>
        end({ state: 'failed', issues: [issue('kernel.crashed', { job, text: event.message || 'the worker could not be loaded' })] }, true);
      const timer = setTimeout(
        () => end({ state: 'failed', issues: [issue('kernel.timeout', { job, seconds: Math.round(limitSeconds) })] }, true),
        limitSeconds * 1000,
      );
      signal?.addEventListener('abort', abort);
      worker?.addEventListener('error', crash);
      const progress = Comlink.proxy((share: number, text: string) => {
        if (!ended) onProgress?.(share, text);
      });
      call(remote, progress).then(
        (raw) => {
          const answer = raw as JobAnswer<T>;
          if (answer.ok) end({ state: 'done', value: answer.value }, false);
          else end({ state: 'failed', issues: answer.issues }, 'lost' in answer);
        },
        (error: unknown) =>
          end({ state: 'failed', issues: [issue('kernel.crashed', { job, text: error instanceof Error ? error.message : String(error) })] }, true),
      );
    });
  }
}

/** Sees to it that the worker holds a model, as a part of a job: it is sent once, not with every question about it. */
export async function withHeldModel(remote: Remote, blob: string, model: () => Promise<Model | undefined>, ask: () => Promise<unknown>): Promise<unknown> {
  if (!(await remote.isHeld(blob))) {
    const found = await model();
    if (!found) return { ok: false, issues: [] } satisfies JobAnswer<never>;
    const bytes = encodeModel(found);
    const kept = (await remote.holdModel(blob, Comlink.transfer(bytes, [bytes.buffer]))) as JobAnswer<true>;
    if (!kept.ok) return kept;
  }
  return ask();
}

export const geometryClient = new GeometryClient();

/** Seconds after which reading a file of this size is taken to hang: ten times what the slowest good file took here. */
export const readLimitSeconds = (bytes: number): number => 45 + 30 * (bytes / 1e6);

/** The models of components that the worker does not hold, encoded, by their hash, to be handed over with a question. */
export async function modelsFor(
  remote: Remote,
  components: readonly (ComponentRecord | undefined)[],
  models: Readonly<Record<string, Model | undefined>>,
): Promise<Record<string, Uint8Array<ArrayBuffer>>> {
  const sent: Record<string, Uint8Array<ArrayBuffer>> = {};
  for (const component of components) {
    const model = component && models[component.id];
    if (model && !(await remote.isHeld(component.model.blob))) sent[component.model.blob] = encodeModel(model);
  }
  return Comlink.transfer(
    sent,
    Object.values(sent).map((bytes) => bytes.buffer),
  );
}
