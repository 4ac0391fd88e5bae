import { beforeAll, describe, expect, it } from '@jest/globals';
import type { geometryClient as Client } from './geometry-client.ts';

// A worker that never answers: what the client does then is its own.
class SilentWorker extends EventTarget {
  static made: SilentWorker[] = [];
  ended = false;
  constructor() {
    super();
    SilentWorker.made.push(this);
  }
  postMessage(): void {}
  terminate(): void {
    this.ended = true;
  }
}

let client: typeof Client;
beforeAll(async () => {
  Object.assign(globalThis, { Worker: SilentWorker });
  ({ geometryClient: client } = await import('./geometry-client.ts'));
});
const never = () => new Promise(() => undefined);
const options = { job: 'opening x.step', limitSeconds: 30 };

describe('the client of the geometry worker', () => {
  it('gives what a job answers, and keeps the worker', async () => {
    const before = client.restarts;
    const result = await client.run<number>(options, () => Promise.resolve({ ok: true, value: 42 }));
    expect(result).toEqual({ state: 'done', value: 42 });
    expect(client.restarts).toBe(before);
  });
  it('passes issues on, and keeps the worker where the kernel is well', async () => {
    const before = client.restarts;
    const issues = [{ code: 'file.empty', values: { file: 'x' } }];
    expect(await client.run(options, () => Promise.resolve({ ok: false, issues }))).toEqual({ state: 'failed', issues });
    expect(client.restarts).toBe(before);
  });
  it('replaces the worker after a broken kernel', async () => {
    const before = client.restarts;
    const worker = SilentWorker.made.at(-1);
    const result = await client.run(options, () => Promise.resolve({ ok: false, issues: [{ code: 'kernel.crashed', values: {} }], lost: true }));
    expect(result.state).toBe('failed');
    expect(client.restarts).toBe(before + 1);
    expect(worker?.ended).toBe(true);
  });
  it('ends a job that hangs after its limit, says so, and takes the next one', async () => {
    const hung = await client.run({ job: 'opening hang.step', limitSeconds: 0.05 }, never);
    expect(hung).toMatchObject({ state: 'failed', issues: [{ code: 'kernel.timeout', values: { job: 'opening hang.step' } }] });
    expect(await client.run(options, () => Promise.resolve({ ok: true, value: 'next' }))).toEqual({ state: 'done', value: 'next' });
  });
  it('is cancelled by its signal, also while it waits, and that is no failure', async () => {
    const abort = new AbortController();
    const running = client.run({ ...options, signal: abort.signal }, never);
    const waitingAbort = new AbortController();
    const waiting = client.run({ ...options, signal: waitingAbort.signal }, never);
    waitingAbort.abort();
    abort.abort();
    expect(await running).toEqual({ state: 'cancelled' });
    expect(await waiting).toEqual({ state: 'cancelled' });
  });
  it('says a crash of the worker with its message', async () => {
    const running = client.run(options, never);
    await Promise.resolve();
    await Promise.resolve();
    const event = Object.assign(new Event('error'), { message: 'out of memory' });
    SilentWorker.made.at(-1)?.dispatchEvent(event);
    expect(await running).toMatchObject({ state: 'failed', issues: [{ code: 'kernel.crashed', values: { text: 'out of memory' } }] });
  });
  it('runs jobs one after the other, in their order', async () => {
    const order: string[] = [];
    const job = (name: string, ms: number) =>
      client.run(options, async () => {
        order.push(`${name} begins`);
        await new Promise((done) => setTimeout(done, ms));
        order.push(`${name} ends`);
        return { ok: true, value: name };
      });
    await Promise.all([job('long', 30), job('short', 1)]);
    expect(order).toEqual(['long begins', 'long ends', 'short begins', 'short ends']);
  });
  it('says when nothing is under way any more, also of what came while it was asked', async () => {
    const order: string[] = [];
    const job = (name: string) =>
      client.run(options, async () => {
        await new Promise((done) => setTimeout(done, 10));
        order.push(name);
        return { ok: true, value: name };
      });
    void job('first');
    const rest = client.whenDone().then(() => order.push('rest'));
    void job('second');
    await rest;
    expect(order).toEqual(['first', 'second', 'rest']);
    // A job that fails ends too.
    void client.run(options, () => Promise.reject(new Error('gone')));
    await client.whenDone();
    expect(client.restarts).toBeGreaterThan(0);
  });
  it('has something done ahead only while nothing is under way, and minds no fault of it', async () => {
    let calls = 0;
    const call = () => Promise.reject(new Error(`call ${++calls}`));
    const running = client.run(options, () => new Promise((done) => setTimeout(() => done({ ok: true, value: 1 }), 10)));
    client.ahead(call);
    expect(calls).toBe(0);
    await running;
    const before = client.restarts;
    client.ahead(call);
    expect(calls).toBe(1);
    expect(await client.run(options, () => Promise.resolve({ ok: true, value: 2 }))).toEqual({ state: 'done', value: 2 });
    expect(client.restarts).toBe(before);
  });
});
