import { describe, expect, it } from '@jest/globals';
import {
  type ComponentRecord,
  isSameWork,
  type ModelSummary,
  posedFromFile,
  sampleComponent,
  virtualTipOf,
  withCuts,
  withModel,
  withMoves,
  withUnitScale,
} from './index.ts';
import { compose, distance, move, rotationAbout, scale, translation, type Vec3 } from '#core/math';

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

describe('bodies that are added', () => {
  const move1 = (id: string, body: string) => ({ id, body, step: { id, kind: 'move' as const, by: [0, 0, 1] as Vec3, note: '' } });
  // Two vendor bodies, two cuts (b3, b4), an insert (b5).
  const added: ComponentRecord = {
    ...marked,
    cuts: [cut('k1'), { ...cut('k2'), body: 'b3' }],
    inserts: [{ id: 'n1', designation: 'CNMG 120408', frame, replaces: 'b2' }],
    bodies: ['b1', 'b2', 'b3', 'b4', 'b5'].map((id) => ({ id, name: id, role: 'cutting' as const, hidden: false })),
    moves: [move1('m3', 'b3'), move1('m4', 'b4'), move1('m5', 'b5')],
    faceColours: [{ id: 'f5', body: 'b5', faces: [0], colour: '#abcdef' }],
  };
  it('keep what was said of them under their new numbers when a cut is added', () => {
    const after = withCuts(added, [...added.cuts, cut('k3')]);
    expect(after.bodies.map((b) => [b.id, b.name])).toEqual([
      ['b1', 'b1'],
      ['b2', 'b2'],
      ['b3', 'b3'],
      ['b4', 'b4'],
      ['b6', 'b5'],
    ]);
    expect(after.moves.map((m) => [m.id, m.body])).toEqual([
      ['m3', 'b3'],
      ['m4', 'b4'],
      ['m5', 'b6'],
    ]);
    expect(after.faceColours[0].body).toBe('b6');
    const opened = withModel(after, added, made(6), 'b'.repeat(64));
    expect(opened.bodies.map((b) => b.name)).toEqual(['b1', 'b2', 'b3', 'b4', 'body 5', 'b5']);
  });
  it('lose it with the cut that made them, and those cut off from them with it', () => {
    const after = withCuts(added, [added.cuts[1]]);
    // The second cut was of a body that is not there any more.
    expect(after.cuts).toEqual([]);
    const second = withCuts(added, [added.cuts[0]]);
    expect(second.bodies.map((b) => [b.id, b.name])).toEqual([
      ['b1', 'b1'],
      ['b2', 'b2'],
      ['b3', 'b3'],
      ['b4', 'b5'],
    ]);
    expect(second.moves.map((m) => m.id)).toEqual(['m3', 'm5']);
  });
});

describe('bodies that are moved', () => {
  const tip = { ...marked.tips[0], towards: [1, 0, 0] as Vec3, rake: [0, 1, 0] as Vec3 };
  const turned = {
    id: 'm1',
    body: 'b2',
    step: { id: 's', kind: 'rotate' as const, point: [1, 1, 1] as Vec3, axis: [0, 1, 0] as Vec3, angleDeg: 90, note: '' },
  };
  const shifted = { id: 'm2', body: 'b2', step: { id: 't', kind: 'move' as const, by: [0, 5, 0] as Vec3, note: '' } };
  it('take the tips on them along; others stay', () => {
    const record = { ...marked, tips: [tip, { ...tip, id: 't2' }] };
    const after = withMoves(record, [turned, shifted], { t1: 'b2', t2: undefined });
    const motion = compose(translation([0, 5, 0]), rotationAbout([1, 1, 1], [0, 1, 0], Math.PI / 2));
    expect(distance(after.tips[0].noseCentre, move(motion, tip.noseCentre))).toBeLessThan(1e-12);
    expect(distance(after.tips[0].towards ?? [9, 9, 9], [0, 0, -1])).toBeLessThan(1e-12);
    expect(after.tips[0].corner).toEqual({ x: 0, z: -1 });
    expect(after.tips[1]).toEqual(record.tips[1]);
  });
  it('and back: a step that is edited or removed moves the tip by the difference', () => {
    const there = withMoves({ ...marked, tips: [tip] }, [turned, shifted], { t1: 'b2' });
    const less = withMoves(there, [shifted], { t1: 'b2' });
    expect(distance(less.tips[0].noseCentre, [5, 5, 40])).toBeLessThan(1e-9);
    expect(distance(withMoves(less, [], { t1: 'b2' }).tips[0].noseCentre, tip.noseCentre)).toBeLessThan(1e-9);
  });
});
