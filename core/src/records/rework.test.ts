import { describe, expect, it } from '@jest/globals';
import { type ComponentRecord, isSameWork, type ModelSummary, posedFromFile, sampleComponent, virtualTipOf, withModel, withUnitScale } from './index.ts';
import { distance, move, scale, type Vec3 } from '#core/math';

const frame = { origin: [1, 2, 3] as Vec3, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 };
const cut = (id: string, body = 'b1') => ({
  id,
  body,
  frame,
  outline: [
    [0, 0],
    [4, 0],
    [0, 4],
  ] as [number, number][],
  from: -1,
  to: 9,
  note: 'a corner',
});
const made = (bodyCount: number): ModelSummary => ({
  faces: 10,
  triangles: 200,
  bodies: Array.from({ length: bodyCount }, (_, i) => ({ id: `b${i + 1}`, name: `body ${i + 1}` })),
});
const marked = sampleComponent('c1', {
  bodies: [
    { id: 'b1', name: 'shank', role: 'tool body', hidden: false },
    { id: 'b2', name: 'plate', role: 'cutting', hidden: true, ownColour: '#123456' },
  ],
  mount: { id: 'mount', name: '', frame, connection: { standard: 'square', size: '25x25' }, origin: { from: 'typed', evidence: '' } },
  seats: [{ id: 's1', name: 'Seat 1', frame, connection: { standard: 'cylindrical', size: 16 }, origin: { from: 'typed', evidence: '' } }],
  tips: [
    {
      id: 't1',
      name: 'Tip',
      noseRadius: 0.4,
      noseCentre: [5, 0, 40],
      corner: { x: 1, z: 1 },
      programmedPoint: 'virtual tip',
      origin: { from: 'typed', evidence: '' },
    },
  ],
  pose: [
    { id: 'p1', kind: 'rotate', point: [3, 0, 0], axis: [0, 0, 1], angleDeg: 30, note: '' },
    { id: 'p2', kind: 'move', by: [1, 2, 3], note: '' },
    { id: 'p3', kind: 'align', point: [0, 5, 0], from: [0, 0, 1], to: [1, 0, 0], note: '' },
  ],
  cuts: [cut('k1')],
  faceColours: [{ id: 'f1', body: 'b2', faces: [0, 3], colour: '#abcdef' }],
});

describe('another unit', () => {
  const inch = withUnitScale(marked, 25.4);
  it('grows every marked length with the model and turns nothing', () => {
    expect(inch.source).toMatchObject({ unitScale: 25.4, foundScale: 1 });
    expect(inch.mount?.frame).toEqual({ ...frame, origin: scale(frame.origin, 25.4) });
    expect(inch.seats[0].frame.origin).toEqual(scale(frame.origin, 25.4));
    expect(inch.tips[0].noseRadius).toBeCloseTo(0.4 * 25.4, 12);
    expect(inch.cuts[0]).toMatchObject({
      from: -25.4,
      to: 9 * 25.4,
      outline: [
        [0, 0],
        [4 * 25.4, 0],
        [0, 4 * 25.4],
      ],
    });
  });
  it('a marked point stays on its face through all pose steps: posing grows with it', () => {
    const p: Vec3 = [7, -3, 11];
    const posed = scale(move(posedFromFile(marked.pose), p), 25.4);
    expect(distance(posed, move(posedFromFile(inch.pose), scale(p, 25.4)))).toBeLessThan(1e-9);
    const tip = scale(virtualTipOf(marked.tips[0], frame), 25.4);
    expect(distance(tip, virtualTipOf(inch.tips[0], inch.mount?.frame ?? frame))).toBeLessThan(1e-9);
  });
  it('and back gives what was', () => {
    const back = withUnitScale(inch, 1);
    expect(back.tips[0].noseRadius).toBeCloseTo(0.4, 12);
    expect(distance(back.pose[0].kind === 'rotate' ? back.pose[0].point : [9, 9, 9], [3, 0, 0])).toBeLessThan(1e-12);
  });
});

describe('a model that was made anew', () => {
  const open = { ...marked, cuts: [] };
  it('keeps what was said of the bodies; what was cut off cuts; colours of faces stay where nothing was cut', () => {
    const after = withModel({ ...open, cuts: [cut('k1', 'b1')] }, open, made(3), 'b'.repeat(64));
    expect(after.bodies.map((b) => [b.id, b.role, b.hidden])).toEqual([
      ['b1', 'tool body', false],
      ['b2', 'cutting', true],
      ['b3', 'cutting', false],
    ]);
    expect(after.bodies[1].ownColour).toBe('#123456');
    expect(after.faceColours).toEqual(marked.faceColours);
    expect(after.model).toEqual({ blob: 'b'.repeat(64), faces: 10, triangles: 200 });
  });
  it('the colours of the faces of a body that was cut go: their numbers are others now', () => {
    expect(withModel({ ...open, cuts: [cut('k1', 'b2')] }, open, made(3), 'b'.repeat(64)).faceColours).toEqual([]);
    expect(withModel({ ...marked, cuts: [] }, { cuts: [cut('k1', 'b2')] }, made(2), 'b'.repeat(64)).faceColours).toEqual([]);
  });
  it('another unit keeps them', () => {
    expect(withModel(withUnitScale(marked, 25.4), marked, made(3), 'b'.repeat(64)).faceColours).toEqual(marked.faceColours);
  });
  it('the same work is told by unit and cuts, not by what was marked', () => {
    const other: ComponentRecord = { ...marked, tips: [], name: 'x' };
    expect(isSameWork(marked, other)).toBe(true);
    expect(isSameWork(marked, withUnitScale(marked, 25.4))).toBe(false);
    expect(isSameWork(marked, { ...marked, cuts: [cut('k2')] })).toBe(false);
  });
});
