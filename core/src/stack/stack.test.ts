import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { say } from '#core/issues';
import { type PathPiece, profileVolume, validateProfile } from '#core/outline';
import {
  copySegment,
  halfAngleDeg,
  insertSegment,
  moveSegment,
  removeSegment,
  type Segment,
  SEGMENT_KINDS,
  type Stack,
  stackProfile,
  withDiameter,
  withHalfAngle,
  withKind,
  withLength,
  withShared,
} from './index.ts';

const cylinder = (id: string, length: number, diameter: number, shared = false): Segment => ({
  id,
  kind: 'cylinder',
  length,
  from: diameter,
  to: diameter,
  radius: 0,
  shared,
});
const stack = (segments: readonly Segment[], part: Partial<Stack> = {}): Stack => ({ connection: null, segments, bore: null, ...part });
const made = (s: Stack) => {
  const r = stackProfile(s);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  expect(validateProfile(r.value.profile)).toEqual([]);
  return r.value;
};
const refusal = (s: Stack) => {
  const r = stackProfile(s);
  return r.ok ? '' : say(r.issues[0]);
};
/** The outside's radii at z, by sorting what crosses. */
const radiusAt = (profile: readonly (readonly PathPiece[])[], z: number): number =>
  Math.max(
    ...profile.flat().flatMap((p) => {
      const [[a, r], [b, s]] = [p.from, p.to];
      return (a - z) * (b - z) <= 0 && a !== b ? [r + ((s - r) * (z - a)) / (b - a)] : [];
    }),
  );

describe('a stack of segments', () => {
  it('has the volume of its parts by formula', () => {
    const cone: Segment = { id: 'c', kind: 'cone', length: 12, from: 20, to: 10, radius: 0, shared: true };
    const ball: Segment = { id: 'd', kind: 'ball', length: 5, from: 10, to: 0, radius: 5, shared: true };
    const { profile, places, end } = made(stack([cylinder('a', 30, 20), cone, ball]));
    expect(profileVolume(profile)).toBeCloseTo(Math.PI * (100 * 30 + (12 / 3) * (100 + 50 + 25)) + (2 / 3) * Math.PI * 125, 9);
    expect(end).toBe(47);
    expect(places.map((p) => [p.id, p.from, p.to])).toEqual([
      ['a', 0, 30],
      ['c', 30, 42],
      ['d', 42, 47],
    ]);
  });
  it('bulges outwards by a convex arc and inwards by a concave one: a ring of a quarter circle, by Pappus', () => {
    const arc = (kind: 'convex' | 'concave'): Segment => ({ id: 'r', kind, length: 4, from: 20, to: 12, radius: 4, shared: true });
    const quarter = (Math.PI * 16) / 4;
    const off = (4 * 4) / (3 * Math.PI);
    const base = Math.PI * (36 * 4 + 100 * 10);
    expect(profileVolume(made(stack([cylinder('a', 10, 20), arc('convex')])).profile)).toBeCloseTo(base + 2 * Math.PI * quarter * (6 + off), 6);
    const left = 16 - quarter;
    const moment = 16 * 8 - quarter * (10 - off);
    expect(profileVolume(made(stack([cylinder('a', 10, 20), arc('concave')])).profile)).toBeCloseTo(base + 2 * Math.PI * moment, 6);
    expect(left).toBeGreaterThan(0);
  });
  it('stands under a connection of the standard: gauge diameters, tapers and flanges of the tables', () => {
    const under = (standard: NonNullable<Stack['connection']>['standard'], size: number) =>
      made(stack([cylinder('a', 40, 30)], { connection: { standard, size, length: 0 } })).profile;
    // HSK-A 63: 48 at the flange's face, 1 : 9.98 over 32, flange 63.
    expect(radiusAt(under('HSK-A', 63), -1e-9)).toBeCloseTo(24.005, 6);
    expect(radiusAt(under('HSK-A', 63), -20) * 2).toBeCloseTo(48.01 - 20 / 9.98, 6);
    expect(radiusAt(under('HSK-A', 63), 10)).toBeCloseTo(31.5, 9);
    // 7/24, 44.45 at the gauge line, whichever flange.
    for (const standard of ['SK', 'BT'] as const) {
      expect(radiusAt(under(standard, 40), -1e-9) * 2).toBeCloseTo(44.45, 6);
      expect(radiusAt(under(standard, 40), -24) * 2).toBeCloseTo(44.45 - 7, 6);
    }
    expect(radiusAt(under('SK', 40), 10) * 2).toBeCloseTo(63.55, 9);
    expect(radiusAt(under('BT', 40), 10) * 2).toBeCloseTo(63, 9);
    expect(radiusAt(under('VDI', 40), -10) * 2).toBeCloseTo(40, 9);
    const plain = made(stack([cylinder('a', 40, 30)], { connection: { standard: 'cylindrical', size: 20, length: 50 } }));
    expect(profileVolume(plain.profile)).toBeCloseTo(Math.PI * (100 * 50 + 225 * 40), 9);
    // A polygon is drawn round, and that is said; of a size that is in no table only the mark stays.
    const polygon = made(stack([cylinder('a', 40, 30)], { connection: { standard: 'PSC', size: 63, length: 0 } }));
    expect(radiusAt(polygon.profile, -20) * 2).toBeCloseTo(43, 6);
    expect(polygon.without).toContain('lobes');
    expect(made(stack([cylinder('a', 40, 30)], { connection: { standard: 'PSC', size: 41, length: 0 } })).without).toBe('the shape of PSC 41');
  });
  it('has a bore or the seat of a collet at its end', () => {
    const bored = made(stack([cylinder('a', 60, 40)], { bore: { standard: 'cylindrical', size: 20, depth: 45 } }));
    expect(profileVolume(bored.profile)).toBeCloseTo(Math.PI * (400 * 60 - 100 * 45), 9);
    expect(bored.seat).toEqual({ connection: { standard: 'cylindrical', size: 20 }, z: 60 });
    // ER 32: 33 at the mouth, 8 degrees a side over 40.
    const ground = 33 - 80 * Math.tan((8 * Math.PI) / 180);
    const collet = made(stack([cylinder('a', 70, 50)], { bore: { standard: 'ER', size: 32, depth: 0 } }));
    expect(profileVolume(collet.profile)).toBeCloseTo(Math.PI * (625 * 70 - (40 / 12) * (33 ** 2 + 33 * ground + ground ** 2)), 6);
  });
  it('says the segment that cannot be, and why', () => {
    expect(refusal(stack([]))).toMatch(/no segment/);
    expect(refusal(stack([cylinder('a', 10, 20), cylinder('b', 0, 20)]))).toMatch(/Segment 2 cannot be: its length is zero/);
    expect(refusal(stack([{ ...cylinder('a', 10, 0) }]))).toMatch(/diameter is zero/);
    expect(refusal(stack([{ id: 'x', kind: 'convex', length: 10, from: 20, to: 20, radius: 3, shared: false }]))).toMatch(/at least 5.000/);
    expect(refusal(stack([{ id: 'x', kind: 'concave', length: 10, from: 4, to: 4, radius: 5.1, shared: false }]))).toMatch(/through the axis/);
    expect(refusal(stack([cylinder('a', 10, 20)], { bore: { standard: 'cylindrical', size: 20, depth: 5 } }))).toMatch(/20.000 wide at the face/);
    expect(refusal(stack([cylinder('a', 10, 20)], { bore: { standard: 'cylindrical', size: 8, depth: 10 } }))).toMatch(/deeper than/);
    const ball: Segment = { id: 'd', kind: 'ball', length: 5, from: 10, to: 0, radius: 5, shared: true };
    expect(refusal(stack([ball, cylinder('a', 10, 20)]))).toMatch(/must be the last/);
  });
});

describe('changes of a stack', () => {
  const three = [cylinder('a', 10, 20), { ...cylinder('b', 5, 20, true), kind: 'cone', to: 12 } as Segment, cylinder('c', 8, 12, true)];
  it('a shared diameter changes with its neighbours, along cylinders, and stops where it is free', () => {
    expect(withDiameter(three, 1, 'from', 24).map((s) => [s.from, s.to])).toEqual([
      [24, 24],
      [24, 12],
      [12, 12],
    ]);
    expect(withDiameter(three, 2, 'to', 9).map((s) => [s.from, s.to])).toEqual([
      [20, 20],
      [20, 9],
      [9, 9],
    ]);
    const free = withShared(three, 1, false);
    expect(withDiameter(free, 0, 'to', 30).map((s) => s.from)).toEqual([30, 20, 12]);
    expect(withDiameter(withShared(withDiameter(free, 0, 'to', 30), 1, true), 0, 'to', 31).map((s) => s.from)).toEqual([31, 31, 12]);
  });
  it('an angle sets the diameter at the work side', () => {
    const turned = withHalfAngle(three, 1, -15);
    expect(halfAngleDeg(turned[1])).toBeCloseTo(-15, 9);
    expect(turned[2].from).toBeCloseTo(20 - 10 * Math.tan(Math.PI / 12), 9);
  });
  it('a ball end is half as long as wide, whichever is typed', () => {
    const ball = withKind(three, 2, 'ball');
    expect(ball[2]).toMatchObject({ length: 6, from: 12, to: 0 });
    expect(withLength(ball, 2, 5)[2]).toMatchObject({ length: 5, from: 10 });
    expect(withLength(ball, 2, 5)[1].to).toBe(10);
  });
  it('behind a tip a new segment is as wide as it was asked for, and free', () => {
    const tipped = insertSegment([cylinder('a', 10, 2)], 1, 'chamfer', 'b');
    expect(tipped[1].to).toBe(0);
    expect(insertSegment(tipped, 2, 'cylinder', 'c', 12)[2]).toMatchObject({ from: 12, to: 12, shared: false });
  });
  it('segments go in, out, up and down anywhere, and what stays good is good', () => {
    const kind = fc.constantFrom(...SEGMENT_KINDS.filter((k) => k !== 'ball'));
    const step = fc.oneof(
      fc.record({ what: fc.constant('insert' as const), at: fc.nat(), kind }),
      fc.record({ what: fc.constantFrom('remove' as const, 'copy' as const), at: fc.nat() }),
      fc.record({ what: fc.constant('move' as const), at: fc.nat(), to: fc.nat() }),
      fc.record({ what: fc.constant('widen' as const), at: fc.nat(), d: fc.double({ min: 2, max: 80, noNaN: true }) }),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
        let segments: Segment[] = [cylinder('0', 10, 20)];
        for (const [i, s] of steps.entries()) {
          const n = segments.length;
          if (s.what === 'insert') segments = insertSegment(segments, s.at % (n + 1), s.kind, `n${i}`);
          else if (n === 0) continue;
          else if (s.what === 'remove') segments = removeSegment(segments, s.at % n);
          else if (s.what === 'copy') segments = copySegment(segments, s.at % n, `n${i}`);
          else if (s.what === 'move') segments = moveSegment(segments, s.at % n, s.to % n);
          else if (s.what === 'widen') segments = withDiameter(segments, s.at % n, 'from', s.d);
          // What is shared is the same; ids are their own.
          for (const [k, t] of segments.entries()) if (t.shared && k > 0) expect(t.from).toBe(segments[k - 1].to);
          expect(new Set(segments.map((t) => t.id)).size).toBe(segments.length);
        }
        const r = stackProfile(stack(segments));
        if (r.ok) expect(validateProfile(r.value.profile)).toEqual([]);
        else expect(say(r.issues[0])).toMatch(/no segment|through the axis|crosses itself|wrong side/);
      }),
    );
  });
});
