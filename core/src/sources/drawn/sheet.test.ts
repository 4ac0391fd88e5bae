import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import { distanceFromSegment, type FlatPoint, placeOnPiece } from '#core/outline';
import { NO_CHOICE } from '#core/records';
import { invertFlat, mapFlat, outlinePartOf, readForSheet } from './index.ts';

const drawings = join(import.meta.dirname, '../../../../demo/drawings');
const truths = JSON.parse(readFileSync(join(drawings, 'truth.json'), 'utf8')) as { file: string }[];

const distanceFrom = (lines: Float64Array, p: FlatPoint): number => {
  let least = Infinity;
  for (let i = 0; i < lines.length; i += 4) least = Math.min(least, distanceFromSegment([lines[i], lines[i + 1]], [lines[i + 2], lines[i + 3]], p));
  return least;
};

describe('a drawing under its outline', () => {
  it('lies where the outline does, however it was drawn, turned, halved or upside down', () => {
    let seen = 0;
    for (const { file } of truths.filter((t) => !/\.(png|jpg)$/.test(t.file))) {
      const sheet = readForSheet(new Uint8Array(readFileSync(join(drawings, 'files', file))), file, NO_CHOICE);
      if (!sheet.ok || !sheet.value.read.ok || !sheet.value.read.value.axis) continue;
      const { lines } = sheet.value.ghost;
      const size = sheet.value.read.value.length;
      for (const loop of outlinePartOf(sheet.value.read.value).profile)
        for (const piece of loop) {
          const middle = placeOnPiece(piece, 0.5);
          // The axis and the ends of an open half were not drawn.
          if (middle[1] < 1e-6 || (piece.from[1] === 0) !== (piece.to[1] === 0)) continue;
          seen++;
          // Bridged gaps and fitted curves are off by what was said.
          expect({ file, at: middle, off: distanceFrom(lines, middle) }).toEqual({ file, at: middle, off: expect.closeTo(0, size > 100 ? 0 : 1) });
        }
    }
    expect(seen).toBeGreaterThan(500);
  });
  it('shows of each step what it was about: on what is drawn, and not on the outline where it was dropped', () => {
    const seen = new Set<string>();
    for (const { file } of truths.filter((t) => !/\.(png|jpg)$/.test(t.file))) {
      const sheet = readForSheet(new Uint8Array(readFileSync(join(drawings, 'files', file))), file, NO_CHOICE);
      if (!sheet.ok || !sheet.value.read.ok) continue;
      const { lines, lit } = sheet.value.ghost;
      for (const [code, bits] of Object.entries(lit)) {
        seen.add(code);
        const middle = (i: number): FlatPoint => [(bits[i] + bits[i + 2]) / 2, (bits[i + 1] + bits[i + 3]) / 2];
        // A gap is where nothing is drawn; all else is drawn there, within the chords of arcs.
        if (code !== 'bridged')
          for (let i = 0; i < bits.length; i += 40)
            expect({ file, code, off: distanceFrom(lines, middle(i)) }).toEqual({ file, code, off: expect.closeTo(0, 0) });
      }
    }
    expect([...seen].sort()).toEqual(expect.arrayContaining(['bridged', 'centre lines', 'doubles', 'frames', 'inner', 'other views']));
  });
  it('is there also where no outline is found; places go there and back', () => {
    const open = new TextEncoder().encode(
      '<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="20mm" viewBox="0 0 20 20"><path d="M1 2L9 2M1 5L9 7"/></svg>',
    );
    const sheet = readForSheet(open, 'x.svg', NO_CHOICE);
    if (!sheet.ok) throw new Error('it opens');
    expect(sheet.value.read.ok).toBe(false);
    expect(sheet.value.ghost.lines).toHaveLength(8);
    const back = invertFlat(sheet.value.ghost.sheetFromFile);
    expect(back && mapFlat(back, mapFlat(sheet.value.ghost.sheetFromFile, [3, 4])).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([3, 4]);
    expect(invertFlat([1, 1, 1, 1, 0, 0])).toBeUndefined();
  });
});
