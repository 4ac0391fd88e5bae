import { describe, expect, it } from '@jest/globals';
import type { SampledBody } from '#core/kernel';
import { finerWrap, keepWrap } from './kept-wraps.ts';
import type { Made } from './tasks.ts';

const none = new Float64Array(0);
const body = (chordTolerance: number): SampledBody => ({
  id: 'b1',
  chordTolerance,
  mesh: { positions: none, triangles: new Uint32Array(0) },
  faceStart: new Uint32Array(1),
  surfaces: [],
  volume: 0,
  points: none,
  pointTriangle: new Uint32Array(0),
  skin: none,
  skinEdges: 0,
});
const made = (): Made => ({ mesh: { positions: none, triangles: new Uint32Array(0) } });

describe('wraps that a try may begin with', () => {
  it('are those of a finer tolerance, of any chord, the greatest of them', () => {
    const [coarse, fine] = [body(0.02), body(0.01)];
    const [a, b, c] = [made(), made(), made()];
    keepWrap(coarse, { choice: { tolerance: 0.1, closeBelow: 6 }, made: a });
    keepWrap(fine, { choice: { tolerance: 0.05, closeBelow: 6 }, made: b });
    keepWrap(fine, { choice: { tolerance: 0.3, closeBelow: 6 }, made: c });
    const from = (tolerance: number) => finerWrap([coarse, fine], { tolerance, closeBelow: 6 });
    expect([from(0.2)?.wrap.made, from(0.2)?.body]).toEqual([a, coarse]);
    expect(from(0.08)?.wrap.made).toBe(b);
    expect(from(1)?.wrap.made).toBe(c);
    // What was made itself is there; a finer one gives nothing.
    expect(from(0.1)).toBeUndefined();
    expect(from(0.102)?.wrap.made).toBe(a);
    expect(from(0.05)).toBeUndefined();
    expect(from(0.01)).toBeUndefined();
  });
  it('close the same openings, and stop at as many triangles', () => {
    const one = body(0.01);
    keepWrap(one, { choice: { tolerance: 0.05, closeBelow: 6 }, made: made() });
    expect(finerWrap([one], { tolerance: 0.1, closeBelow: 0 })).toBeUndefined();
    expect(finerWrap([one], { tolerance: 0.1, closeBelow: 6, triangles: 100 })).toBeUndefined();
    expect(finerWrap([one], { tolerance: 0.1, closeBelow: 6 })).toBeDefined();
  });
  it('are the newest of a body, each tolerance once', () => {
    const one = body(0.01);
    const all = [0.01, 0.02, 0.03, 0.04, 0.05, 0.05].map((tolerance) => {
      const wrap = { choice: { tolerance }, made: made() };
      keepWrap(one, wrap);
      return wrap;
    });
    expect(finerWrap([one], { tolerance: 0.015 })).toBeUndefined();
    expect(finerWrap([one], { tolerance: 0.025 })?.wrap).toBe(all[1]);
    expect(finerWrap([one], { tolerance: 1 })?.wrap).toBe(all[5]);
  });
});
