import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type Kernel, liveHandleCount, loadKernel, OpenModel } from '#core/kernel';
import type { Frame } from '#core/math';
import { ALONE, type Answer, type Crew, doTask, type GeometryRequest, type GeometryResult, type Hand, makeGeometry, ManyHands, type Task } from './index.ts';

const corpus = join(import.meta.dirname, '../../../demo/corpus/models');
const read = (name: string) => new Uint8Array(readFileSync(join(corpus, name)));
const turn = () => new Promise<void>((resolve) => setImmediate(resolve));

/** One that does its task a little later, as in another thread: on a copy, as that has. */
class LateHand implements Hand {
  private readonly busy: { now: number; most: number; done: number };

  constructor(busy: { now: number; most: number; done: number }) {
    this.busy = busy;
  }

  async do(task: Task, onProgress: (share: number) => void): Promise<Answer<Task>> {
    this.busy.most = Math.max(this.busy.most, ++this.busy.now);
    await turn();
    const answer = doTask(structuredClone(task), onProgress);
    await turn();
    this.busy.now--;
    this.busy.done++;
    return structuredClone(answer);
  }
}
const someHands = (count: number): { crew: Crew; busy: { now: number; most: number; done: number } } => {
  const busy = { now: 0, most: 0, done: 0 };
  return { crew: new ManyHands(count, () => new LateHand(busy)), busy };
};

const sphereless = (result: GeometryResult) =>
  result.parts.map(({ bodies, inside, mode, mesh, growth, proof, why }) => ({ bodies, inside, mode, mesh, growth, proof, why }));

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

async function opened(name: string) {
  const bytes = read(name);
  const model = await OpenModel.open(kernel, bytes, name);
  if (!model.ok) throw new Error(model.issues.map(say).join());
  const frame: Frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] };
  const request: GeometryRequest = { bytes, file: name, opened: model.value, bodies: model.value.bodyIds, mode: 'auto', tolerance: 0.1, frame };
  return { model: model.value, request };
}
async function made(request: GeometryRequest): Promise<GeometryResult> {
  const result = await makeGeometry(kernel, request);
  if (!result.ok) throw new Error(result.issues.map(say).join());
  return result.value;
}

describe('geometry that several make at once', () => {
  it('is the same, corner by corner, as what one makes alone, and they did work at once', async () => {
    const { model, request } = await opened('turning-3.step');
    const alone = await made({ ...request, crew: ALONE });
    model.close();
    // Opened anew: of the same open file what was made before would be given again.
    const anew = await opened('turning-3.step');
    const { crew, busy } = someHands(3);
    const together = await made({ ...anew.request, crew });
    expect(sphereless(together)).toEqual(sphereless(alone));
    expect(busy.most).toBeGreaterThan(1);
    anew.model.close();
  });
  it('comes out the same for two who try at once on one open file', async () => {
    const { model, request } = await opened('grooving-1.step');
    const tolerances = [0.05, 0.2];
    const apart: GeometryResult[] = [];
    for (const tolerance of tolerances) apart.push(await made({ ...request, tolerance }));
    model.close();
    const anew = await opened('grooving-1.step');
    const { crew } = someHands(2);
    const atOnce = await Promise.all(tolerances.map((tolerance) => made({ ...anew.request, tolerance, crew })));
    expect(atOnce.map(sphereless)).toEqual(apart.map(sphereless));
    anew.model.close();
  });
  it('is given again where it was made before, and made anew where anything differs that it depends on', async () => {
    const { model, request } = await opened('turning-3.step');
    const { crew, busy } = someHands(2);
    const first = await made({ ...request, crew });
    const { done } = busy;
    expect(done).toBeGreaterThan(0);
    const again = await made({ ...request, crew, frame: { ...request.frame, origin: [5, 0, 0] } });
    // A wrap knows no axis.
    expect(again.parts.map((p) => p.mesh)).toEqual(first.parts.map((p) => p.mesh));
    expect(again.parts.every((p, i) => p.mesh === first.parts[i].mesh)).toBe(true);
    expect(busy.done).toBe(done);
    const other = await made({ ...request, crew, closeBelow: 0 });
    expect(busy.done).toBeGreaterThan(done);
    expect(other.parts.every((p) => p.growth.max <= 0.1 && p.growth.min >= -1e-6)).toBe(true);
    model.close();
  });
  it('shows proven results as they come, the last shown no lighter than what is answered', async () => {
    const { model, request } = await opened('block-6.step');
    const shown: GeometryResult[] = [];
    const final = await made({ ...request, onResult: (r) => shown.push(r) });
    expect(shown.length).toBeGreaterThan(0);
    for (const r of shown) {
      expect(r.growth.min).toBeGreaterThanOrEqual(-1e-6);
      expect(r.closed).toBe(true);
      expect(r.trianglesOut).toBeGreaterThanOrEqual(final.trianglesOut);
    }
    model.close();
  });
});

describe('making that is stopped', () => {
  it('ends at each of its steps with nothing, and the file serves for the next one; nothing of the kernel is left behind', async () => {
    const before = liveHandleCount();
    const { model, request } = await opened('threading-1.step');
    const asked = { count: 0 };
    const whole = await made({ ...request, goesOn: () => Promise.resolve(++asked.count > 0) });
    model.close();
    expect(asked.count).toBeGreaterThan(4);
    for (let stop = 1; stop <= asked.count; stop += Math.max(1, Math.floor(asked.count / 6))) {
      const anew = await opened('threading-1.step');
      const { crew } = someHands(2);
      let n = 0;
      const stopped = await makeGeometry(kernel, { ...anew.request, crew, goesOn: () => Promise.resolve(++n < stop) });
      expect(stopped).toMatchObject({ ok: false, issues: [{ code: 'envelope.stopped' }] });
      // What was done by then serves, and nothing of it is wrong.
      expect(sphereless(await made(anew.request))).toEqual(sphereless(whole));
      anew.model.close();
    }
    expect(liveHandleCount()).toBe(before);
  });
});

describe('a crew', () => {
  const task: Task = { kind: 'prove', input: { bodies: [] }, mesh: { positions: new Float64Array(0), triangles: new Uint32Array(0) } };
  class SlowHand implements Hand {
    static started = 0;
    readonly end: (() => void)[] = [];
    do(): Promise<never> {
      SlowHand.started++;
      return new Promise((_, reject) => this.end.push(() => reject(new Error('ended'))));
    }
  }
  it('calls up no more hands than it may, and gives each the next task when it is done', async () => {
    const hands: SlowHand[] = [];
    const crew = new ManyHands(2, () => {
      hands.push(new SlowHand());
      return hands[hands.length - 1];
    });
    const first = crew.do(task);
    const third = [crew.do(task), crew.do(task)][1];
    void third.catch(() => undefined);
    expect([hands.length, SlowHand.started]).toEqual([2, 2]);
    hands[0].end[0]();
    await expect(first).rejects.toThrow('ended');
    await turn();
    expect([hands.length, SlowHand.started]).toEqual([2, 3]);
    hands[0].end[1]();
    await expect(third).rejects.toThrow('ended');
  });
});
