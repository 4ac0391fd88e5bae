import { beforeEach, describe, expect, it } from '@jest/globals';
import type { Reading } from '#core/reading';
import { type ComponentRecord, sampleComponent, virtualTipOf } from '#core/records';
import { libraryLoaded, recordsChanged, undone } from '../../../app/library-slice.ts';
import { store } from '../../../app/store.ts';
import { openOffers, sureOffers, takeOffers } from './proposals.ts';

const record = sampleComponent('c1', {
  source: { ...sampleComponent('bar').source, kind: 'file', format: 'step', unit: 'inch', unitScale: 25.4, foundScale: 25.4 },
  bodies: ['b1', 'b2', 'b3'].map((id) => ({ id, name: id, role: 'tool body', hidden: false })),
});
const reading: Reading = {
  kind: 'boring',
  roles: [
    { body: 'b1', role: 'tool body', confidence: 0.98, evidence: 'heaviest' },
    { body: 'b2', role: 'cutting', confidence: 0.96, evidence: 'a plate' },
    { body: 'b3', role: 'hardware', confidence: 0.93, evidence: 'round' },
  ],
  mount: {
    frame: { origin: [0, 0, 0], z: [1, 0, 0], x: [0, 0, -1] },
    connection: { standard: 'cylindrical', size: 16 },
    confidence: 0.94,
    evidence: 'cylinder 15',
    faces: [{ body: 'b1', face: 14 }],
  },
  otherMounts: [],
  isFused: false,
  seats: [],
  tips: [
    {
      body: 'b2',
      kind: 'nose',
      rake: [0, 1, 0],
      faces: [],
      noseRadius: 0.4,
      noseCentre: [149.6, 0, -10.6],
      virtualTip: [150, 0, -11],
      towards: [Math.SQRT1_2, 0, -Math.SQRT1_2],
      enteringAngle: 95,
      includedAngle: 80,
      includedAngleInPlane: 80,
      hand: 'right',
      tipOrientation: 2,
      confidence: 0.95,
      evidence: 'rounded edge 11',
    },
  ],
  warnings: [],
};
const current = () => store.getState().library.records.c1 as ComponentRecord;

beforeEach(() => {
  store.dispatch(libraryLoaded({}));
  store.dispatch(recordsChanged('Opened', { c1: record }));
});

describe('offers', () => {
  it('are made for everything that is open, and for nothing before the model is read', () => {
    expect(openOffers(record, undefined)).toEqual([]);
    expect(openOffers(record, reading).map((o) => [o.key, o.text])).toEqual([
      ['kind', 'boring bar'],
      ['roles', '1 tool body · 1 cutting · 1 hardware'],
      ['mount', 'cylindrical 16'],
      ['tip', 'RE 0.4, entering angle 95°, right'],
    ]);
  });
  it('are taken together as one step, which undo takes back whole', () => {
    takeOffers('c1', openOffers(record, reading));
    expect(current()).toMatchObject({ componentKind: 'boring bar', mount: { connection: { size: 16 }, origin: { from: 'read', evidence: 'cylinder 15' } } });
    expect(current().bodies.map((b) => b.role)).toEqual(['tool body', 'cutting', 'hardware']);
    expect(openOffers(current(), reading)).toEqual([]);
    store.dispatch(undone());
    expect(current()).toMatchObject({ componentKind: 'other', mount: null, tips: [] });
  });
  it('give the tip its side by the mount that is taken with it, and by one that is taken later', () => {
    const offers = openOffers(record, reading);
    takeOffers('c1', offers);
    const [tip] = current().tips;
    expect(tip.corner).toEqual({ x: 1, z: 1 });
    expect(virtualTipOf(tip, current().mount?.frame ?? { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] }).map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      150, 0, -11,
    ]);
    store.dispatch(undone());
    takeOffers(
      'c1',
      offers.filter((o) => o.key === 'tip'),
    );
    takeOffers(
      'c1',
      offers.filter((o) => o.key === 'mount'),
    );
    expect(current().tips[0].corner).toEqual({ x: 1, z: 1 });
  });
  it('never touch what a person has marked', () => {
    const marked: ComponentRecord = {
      ...record,
      componentKind: 'cutter',
      mount: {
        id: 'mount',
        name: '',
        frame: { origin: [1, 2, 3], z: [0, 0, 1], x: [1, 0, 0] },
        connection: { standard: 'PSC', size: 40 },
        origin: { from: 'picked', evidence: '' },
      },
      bodies: record.bodies.map((b, i) => ({ ...b, role: i === 2 ? 'left out' : b.role })),
    };
    expect(openOffers(marked, reading).map((o) => o.key)).toEqual(['tip']);
  });
  it('below 0.7 are said, but not taken with all the others', () => {
    const unsure = { ...reading, mount: { ...(reading.mount as NonNullable<Reading['mount']>), confidence: 0.5 } };
    const offers = openOffers(record, unsure);
    expect(offers.map((o) => o.key)).toContain('mount');
    expect(sureOffers(offers).map((o) => o.key)).toEqual(['roles', 'tip']);
  });
});
