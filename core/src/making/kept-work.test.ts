import { describe, expect, it } from '@jest/globals';
import type { SampledBody } from '#core/kernel';
import type { TriMesh } from '#core/mesh';
import { type How, isMade, madeOnce } from './kept-work.ts';

const body = () => ({ id: 'b1' }) as unknown as SampledBody;
const mesh = () => ({ positions: new Float64Array(0), triangles: new Uint32Array(0) }) as TriMesh;
const how = (plain: unknown, ...objects: How['objects']): How => ({ plain, objects });

/** Something that is made when it is told to, and counts how often it was begun. */
function workshop() {
  const begun: { end: (value: string) => void; fail: (error: Error) => void }[] = [];
  const make = () => new Promise<string>((end, fail) => begun.push({ end, fail }));
  return { begun, make };
}

describe('what was made of a body', () => {
  it('is given again for the same way, and made anew for another one, another body, or other things beside it', async () => {
    let made = 0;
    const make = () => Promise.resolve(++made);
    const [b, beside, other] = [body(), mesh(), mesh()];
    expect(await madeOnce(b, how(['wrap', 0.05], beside), make)).toBe(1);
    expect(await madeOnce(b, how(['wrap', 0.05], beside), make)).toBe(1);
    expect(await madeOnce(b, how(['wrap', 0.06], beside), make)).toBe(2);
    expect(await madeOnce(b, how(['wrap', 0.05], other), make)).toBe(3);
    expect(await madeOnce(b, how(['wrap', 0.05]), make)).toBe(4);
    expect(await madeOnce(body(), how(['wrap', 0.05], beside), make)).toBe(5);
    expect(isMade(b, how(['wrap', 0.06], beside))).toBe(true);
    expect(isMade(b, how(['wrap', 0.07], beside))).toBe(false);
  });
  it('tells things apart by being themselves, not by being alike', async () => {
    const b = body();
    await madeOnce(b, how('x', mesh()), () => Promise.resolve('first'));
    expect(await madeOnce(b, how('x', mesh()), () => Promise.resolve('second'))).toBe('second');
  });
  it('is waited for while it is being made, and made once for all who ask', async () => {
    const [b, { begun, make }] = [body(), workshop()];
    const asked = [1, 2, 3].map(() => madeOnce(b, how('slow'), make));
    expect(begun).toHaveLength(1);
    begun[0].end('done');
    expect(await Promise.all(asked)).toEqual(['done', 'done', 'done']);
  });
  it('is made anew by the next one where it was stopped half way, and then kept', async () => {
    const [b, { begun, make }] = [body(), workshop()];
    const isWorth = (made: string) => made !== 'stopped';
    const first = madeOnce(b, how('x'), make, isWorth);
    const second = madeOnce(b, how('x'), make, isWorth);
    const third = madeOnce(b, how('x'), make, isWorth);
    begun[0].end('stopped');
    expect(await first).toBe('stopped');
    await new Promise((resolve) => setTimeout(resolve, 0));
    // One of those who waited makes it, the other one waits again.
    expect(begun).toHaveLength(2);
    begun[1].end('whole');
    expect([await second, await third]).toEqual(['whole', 'whole']);
    expect(await madeOnce(b, how('x'), make, isWorth)).toBe('whole');
    expect(begun).toHaveLength(2);
  });
  it('an error reaches who made it, and is nothing that is kept', async () => {
    const [b, { begun, make }] = [body(), workshop()];
    const first = madeOnce(b, how('x'), make);
    const second = madeOnce(b, how('x'), make);
    begun[0].fail(new Error('broken'));
    await expect(first).rejects.toThrow('broken');
    await new Promise((resolve) => setTimeout(resolve, 0));
    begun[1].end('mended');
    expect(await second).toBe('mended');
    expect(isMade(b, how('x'))).toBe(true);
  });
  it('the newest stay: what was asked for lately is not the first to go', async () => {
    const b = body();
    let made = 0;
    const make = () => Promise.resolve(++made);
    for (let i = 0; i < 15; i++) await madeOnce(b, how(i), make);
    await madeOnce(b, how(0), make);
    for (let i = 15; i < 25; i++) await madeOnce(b, how(i), make);
    expect(made).toBe(25);
    expect(isMade(b, how(0))).toBe(true);
    expect(isMade(b, how(1))).toBe(false);
    expect(await madeOnce(b, how(1), make)).toBe(26);
  });
});
