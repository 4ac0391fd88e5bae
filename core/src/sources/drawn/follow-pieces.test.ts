import { describe, expect, it } from '@jest/globals';
import { rectangleOf } from '#core/outline';
import { newOutline } from '#core/records';
import { filletCorner, flipOutline, nameCorners, scaleOutline, type Sketched, splitPiece, turnOutline } from '#core/sketch';
import { followPieces } from './index.ts';

const profile = [rectangleOf([-6, -4], [6, 4])];
const start: Sketched = { profile, sketch: nameCorners(profile) };
const blank = newOutline({ id: 'o', name: 'o', purpose: 'insert', way: { kind: 'drawn' }, now: '' });
// The right edge cuts, from [6, -4] to [6, 4]; the hole lies beside the middle.
const plate = { ...blank, insert: { ...blank.insert, cutting: [1], hole: { at: [1, 2] as const, diameter: 3 } } };
const cuts = (to: Sketched, edges: readonly number[] | null): string[] =>
  (edges ?? to.profile[0].map((_, i) => i)).map((i) =>
    [to.profile[0][i].from, to.profile[0][i].to]
      .map((p) => p.map((v) => Math.round(v * 1e3) / 1e3 + 0).join(','))
      .sort()
      .join(' '),
  );

describe('what belongs to an outline besides its pieces', () => {
  it('edges that cut stay the same edges where a piece is split or a corner rounded before them', () => {
    const split = splitPiece(start, start.sketch.names[0][0]);
    expect(cuts(split, followPieces(plate, start, split).insert.cutting)).toEqual(['6,-4 6,4']);
    const rounded = filletCorner(start, start.sketch.names[0][0], 1);
    if (!rounded.ok) throw new Error('it is rounded');
    expect(cuts(rounded.value, followPieces(plate, start, rounded.value).insert.cutting)).toEqual(['6,-4 6,4']);
    // What cuts is split: both parts do.
    const both = splitPiece(start, start.sketch.names[0][1]);
    expect(cuts(both, followPieces(plate, start, both).insert.cutting)).toEqual(['6,-4 6,0', '6,0 6,4']);
    expect(followPieces({ ...plate, insert: { ...plate.insert, cutting: null } }, start, both).insert.cutting).toBeNull();
  });
  it('turned over, the edge at the other side is the one that cuts, and the hole goes along', () => {
    const to = flipOutline(start);
    const after = followPieces(plate, start, to, { at: ([x, y]) => [-x, y], factor: 1 });
    expect(cuts(to, after.insert.cutting)).toEqual(['-6,-4 -6,4']);
    expect(after.insert.hole).toEqual({ at: [-1, 2], diameter: 3 });
  });
  it('turned a quarter and scaled, it goes along and grows', () => {
    const quarter = followPieces(plate, start, turnOutline(start), { at: ([x, y]) => [-y, x], factor: 1 });
    expect(quarter.insert.hole?.at).toEqual([-2, 1]);
    expect(cuts(turnOutline(start), quarter.insert.cutting)).toEqual(['-4,6 4,6']);
    const turned = {
      ...blank,
      purpose: 'cutter' as const,
      cutting: { from: 0, to: 10 },
      mountZ: 4,
      seat: { standard: 'cylindrical' as const, size: 8, z: 20 },
    };
    expect(followPieces(turned, start, scaleOutline(start, 2), { at: ([x, y]) => [2 * x, 2 * y], factor: 2 })).toMatchObject({
      cutting: { from: 0, to: 20 },
      mountZ: 8,
      seat: { z: 40, size: 8 },
    });
    // Moved corner by corner nothing else changes.
    expect(followPieces(turned, start, start)).toMatchObject({ cutting: { to: 10 }, mountZ: 4 });
  });
});
