import { describe, expect, it } from '@jest/globals';
import type { Model, Surface } from '#core/mesh';
import { type ComponentRecord, sampleComponent } from '#core/records';
import type { PickRef } from '../../../scene/picks.ts';
import { pickedEntries } from './picked-entries.ts';

const AXIS = { origin: [3, 4, 50], axis: [0, 0, 1] } as const;
const SURFACES: readonly Surface[] = [
  { kind: 'cylinder', ...AXIS, radius: 8, length: 100, concave: false },
  { kind: 'plane', origin: [9, 9, 0], normal: [0, 0, -1] },
  { kind: 'plane', origin: [9, 9, 100], normal: [0, 0, 1] },
  { kind: 'cylinder', origin: [11, 0.4, 98], axis: [0, 1, 0], radius: 0.8, length: 3, concave: false },
  { kind: 'cylinder', origin: [11, 0.4, 98], axis: [0, 1, 0], radius: 1.2, length: 3, concave: false },
  { kind: 'free' },
];
const body = (id: string) => ({ id, faces: SURFACES.map((surface) => ({ surface, edges: [] })) });
const model = { bodies: [body('b1'), body('b2')] } as unknown as Model;
const pick = (face: number, on = 'b1', kind: PickRef['kind'] = 'face'): PickRef => ({ item: 'component', body: on, kind, index: face });

const mark = (z: number) => ({
  name: 'M',
  connection: { standard: 'cylindrical' as const, size: 16 },
  frame: { origin: [3, 4, z], z: [0, 0, 1], x: [1, 0, 0] },
});
const origin = { from: 'typed' as const, evidence: '' };
const base = sampleComponent('c');
const record = {
  ...base,
  bodies: [
    { ...base.bodies[0], id: 'b1', role: 'tool body' },
    { ...base.bodies[0], id: 'b2', role: 'cutting' },
  ],
  mount: { id: 'mount', origin, ...mark(0) },
  seats: [{ id: 's1', origin, ...mark(100) }],
  tips: [{ id: 't1', name: 'Tip', noseRadius: 0.8, noseCentre: [11, 7, 98], corner: { x: 1, z: 1 }, programmedPoint: 'virtual tip', origin }],
} as unknown as ComponentRecord;
const titles = (picks: readonly PickRef[], of: ComponentRecord = record) => [...pickedEntries(of, model, picks)].sort();

describe('a picked face opens the entries of what stands on it', () => {
  it('the round face of the shank both mount and seat, its ends one of them', () => {
    expect(titles([pick(0)])).toEqual(['Mount', 'Seats']);
    expect(titles([pick(1)])).toEqual(['Mount']);
    expect(titles([pick(2)])).toEqual(['Seats']);
    expect(titles([pick(1), pick(2)])).toEqual(['Mount', 'Seats']);
  });
  it('the face of the nose the tip, but not one of another radius around the same axis', () => {
    expect(titles([pick(3)])).toEqual(['Tip']);
    expect(titles([pick(4)])).toEqual([]);
  });
  it('nothing for free faces, corners, bodies that are not there, and without marks', () => {
    expect(titles([pick(5), pick(0, 'b9'), pick(0, 'b1', 'corner')])).toEqual([]);
    expect(titles([pick(0), pick(3)], { ...record, mount: null, seats: [], tips: [] })).toEqual([]);
    expect(titles([])).toEqual([]);
  });
  it('the insert, where its body has been moved', () => {
    const moved = { ...record, moves: [{ id: 'm', body: 'b2', step: { id: 's', kind: 'move', by: [0, 0, 1], note: '' } }] } as unknown as ComponentRecord;
    expect(titles([pick(5, 'b2')], moved)).toEqual(['Insert']);
    expect(titles([pick(5, 'b1')], moved)).toEqual([]);
  });
});
