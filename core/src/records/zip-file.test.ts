import { gzipSync } from 'node:zlib';
import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { gunzipWithLimit, zipEntries } from './zip-file.ts';

describe('what a zip lists', () => {
  it('are the names in it, whatever they and the files are', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.string({ minLength: 1, maxLength: 40, unit: 'grapheme' }), { minLength: 1, maxLength: 12 }),
        fc.uint8Array(),
        (names, content) => {
          const safe = names.filter((n) => !n.includes('/') && n !== '__proto__');
          fc.pre(safe.length > 0);
          const zip = zipSync(Object.fromEntries(safe.map((n) => [n, content])));
          expect(zipEntries(zip)).toEqual(Object.keys(Object.fromEntries(safe.map((n) => [n, 0]))).map((name) => ({ name, isLocked: false })));
          // Behind something else in the same memory.
          const behind = new Uint8Array(zip.length + 5);
          behind.set(zip, 5);
          expect(zipEntries(behind.subarray(5))).toEqual(zipEntries(zip));
        },
      ),
    );
  });
  it('is its first file where it is cut off, and nothing where it is none', () => {
    const zip = zipSync({ 'a.step': new Uint8Array(500), 'b.step': new Uint8Array(500) });
    expect(zipEntries(zip.subarray(0, zip.length - 30)).map((e) => e.name)).toEqual(['a.step']);
    for (const bytes of [new Uint8Array(0), new Uint8Array(10), new Uint8Array(70_000), zip.subarray(0, 20)]) expect(zipEntries(bytes)).toEqual([]);
  });
  it('ends, however its directory is damaged', () => {
    const zip = zipSync({ 'a.step': new Uint8Array(500), 'b.step': new Uint8Array(500) });
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(zip.length - 1), fc.nat(255)), { minLength: 1, maxLength: 20 }), (changes) => {
        const damaged = zip.slice();
        for (const [at, value] of changes) damaged[at] = value;
        expect(zipEntries(damaged).length).toBeLessThan(zip.length);
      }),
    );
  });
});

it('a gzip file comes out as it was, within its limit only', () => {
  const bytes = Uint8Array.from({ length: 200_000 }, (_, i) => (i * i) >>> 7);
  const packed = new Uint8Array(gzipSync(bytes));
  expect(gunzipWithLimit(packed, 200_000)).toEqual(bytes);
  expect(() => gunzipWithLimit(packed, 199_999)).toThrow(RangeError);
  for (const cut of [2, 10, packed.length / 2, packed.length - 8, packed.length - 1])
    expect(() => gunzipWithLimit(packed.subarray(0, cut), 200_000)).toThrow(Error);
  // Of two members.
  const twice = Uint8Array.from([...packed, ...gzipSync(bytes.subarray(0, 1000))]);
  expect(gunzipWithLimit(twice, 300_000)).toEqual(Uint8Array.from([...bytes, ...bytes.subarray(0, 1000)]));
});
