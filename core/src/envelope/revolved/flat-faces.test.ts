import { describe, expect, it } from '@jest/globals';
import type { TriMesh } from '#core/mesh';
import { borderOf, isFlat } from './flat-faces.ts';

// A sheet of n by n squares, each of two triangles, bent up by a height at its last corner.
function sheet(n: number, bend = 0): TriMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) positions.push(i, j, i === n && j === n ? bend : 0);
  const at = (i: number, j: number) => i * (n + 1) + j;
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) triangles.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}
const bits = (border: Uint8Array) => Array.from(border).reduce((n, b) => n + (b & 1) + ((b >> 1) & 1) + ((b >> 2) & 1), 0);

describe('the border of a face', () => {
  it('is the sides that one triangle of it has, all the way around', () => {
    const { triangles } = sheet(5);
    expect(bits(borderOf(triangles, 0, triangles.length / 3))).toBe(20);
    // Of a part of it, also where it borders on the rest.
    expect(bits(borderOf(triangles, 0, 10))).toBe(12);
    expect(bits(borderOf(triangles, 10, 20))).toBe(12);
    expect(Array.from(borderOf(triangles, 0, 1))).toEqual([0b111]);
  });
});

describe('whether triangles lie in one plane', () => {
  it('is told to a tenth of a micrometre', () => {
    const count = 2 * 36;
    expect(isFlat(sheet(6), 0, count)).toBe(true);
    expect(isFlat(sheet(6, 1e-8), 0, count)).toBe(true);
    expect(isFlat(sheet(6, 1e-5), 0, count)).toBe(false);
    expect(isFlat(sheet(6, 1e-5), 0, count - 2)).toBe(true);
  });
});
