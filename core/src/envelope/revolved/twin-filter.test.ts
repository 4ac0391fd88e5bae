import { describe, expect, it } from '@jest/globals';
import { SEGMENT_SIZE } from './segment-list.ts';
import { TwinFilter } from './twin-filter.ts';

// An edge from (z0, r0) to (z1, r1) with a turn, as it stands at an angle about the axis.
function edge(z0: number, r0: number, z1: number, r1: number, turnRad: number, at: number, loss = 0, end = 0): number[] {
  const [ax, ay] = [r0 * Math.cos(at), r0 * Math.sin(at)];
  return [z0, z1, ax, ay, r1 * Math.cos(at + turnRad) - ax, r1 * Math.sin(at + turnRad) - ay, loss, end];
}

function dropTwins(all: Float64Array): Float64Array {
  const twins = new TwinFilter();
  const kept: number[] = [];
  for (let i = 0; i < all.length; i += SEGMENT_SIZE) {
    const [z0, z1, ax, ay, bx, by, loss, end] = all.subarray(i, i + SEGMENT_SIZE);
    if (twins.isNew(z0, z1, ax, ay, bx, by, loss, end)) kept.push(...all.subarray(i, i + SEGMENT_SIZE));
  }
  return Float64Array.from(kept);
}

describe('swept edges that sweep the same', () => {
  it('are kept once, whatever angle they stand at; each other stays, in its order', () => {
    const kinds = Array.from({ length: 40 }, (_, k) => (at: number) => edge(k, 20 + 0.01 * k, k + 1, 21, 0.1 + 0.01 * (k % 5), at, k % 3 === 0 ? 0.01 : 0, 0));
    const all = Array.from({ length: 600 }, (_, i) => kinds.map((kind) => kind((2 * Math.PI * i) / 600))).flat();
    const kept = dropTwins(Float64Array.from(all.flat()));
    // Rounding may put a few of them on two sides of a border.
    expect(kept.length / SEGMENT_SIZE).toBeLessThan(80);
    const starts = new Set(Array.from({ length: kept.length / SEGMENT_SIZE }, (_, i) => kept[SEGMENT_SIZE * i]));
    expect([...starts]).toEqual(kinds.map((_, k) => k));
    expect(Array.from(kept.subarray(0, SEGMENT_SIZE))).toEqual(all[0]);
  });
  it('differ by a tenth of a micrometre, by what they have lost, or by what they reach beyond their ends', () => {
    const near = [edge(0, 20, 5, 20, 0.1, 0), edge(0, 20.0001, 5, 20, 0.1, 1), edge(0, 20, 5, 20, 0.1, 2, 0.01), edge(0, 20, 5, 20, 0.1, 3, 0, 0.01)];
    const more = [edge(0.0001, 20, 5, 20, 0.1, 4), edge(0, 20, 5, 20, 0.1001, 5), edge(0, 20, 5, 20.0001, 0.1, 6)];
    const all = Array.from({ length: 4000 }, () => [...near, ...more]).flat(2);
    expect(dropTwins(Float64Array.from(all)).length / SEGMENT_SIZE).toBe(7);
  });
  it('that differ are all kept, however many', () => {
    const all = Array.from({ length: 30_000 }, (_, i) => edge(i / 7, 20 + (i % 13), i / 7 + 1, 25, 0.1, i)).flat();
    expect(dropTwins(Float64Array.from(all)).length).toBe(all.length);
  });
});
