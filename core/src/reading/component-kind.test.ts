import { describe, expect, it } from '@jest/globals';
import { componentKindOf, kindOfMarked, kindToOffer, spinsAsRead } from './component-kind.ts';
import type { FoundConnection } from './found.ts';

const connection = (standard: FoundConnection['connection']['standard']) =>
  ({ connection: { standard, size: 32 }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] }, confidence: 1, evidence: '', faces: [] }) as FoundConnection;

describe('what a model was read as', () => {
  it('is a kind of component; what holds collets is a holder', () => {
    expect(componentKindOf({ kind: 'grooving', seats: [] })).toBe('turning tool');
    expect(componentKindOf({ kind: 'adapter', seats: [connection('cylindrical')] })).toBe('adapter');
    expect(componentKindOf({ kind: 'adapter', seats: [connection('ER')] })).toBe('holder');
  });
  it('spins about its mount where that kind does and the mount is round', () => {
    expect(spinsAsRead({ kind: 'rotating', seats: [], mount: connection('HSK-A') })).toBe(true);
    expect(spinsAsRead({ kind: 'cutter', seats: [], mount: connection('cylindrical') })).toBe(true);
    expect(spinsAsRead({ kind: 'adapter', seats: [], mount: connection('square') })).toBe(false);
    expect(spinsAsRead({ kind: 'turning', seats: [], mount: connection('PSC') })).toBe(false);
    expect(spinsAsRead({ kind: 'rotating', seats: [] })).toBe(false);
  });
});

describe('the kind that follows from what a person has marked', () => {
  const mark = (standard: FoundConnection['connection']['standard'], size: number | string = 32, from: 'picked' | 'read' = 'picked') => ({
    id: 'm',
    name: '',
    frame: connection(standard).frame,
    connection: { standard, size },
    origin: { from, evidence: '' },
  });
  const tip = { noseRadius: 0.8 } as never;
  it.each([
    ['square', '25x25', [], [], 'turning tool'],
    ['VDI', 40, [], [], 'station block'],
    ['bolted face', '', [], [], 'station block'],
    ['bolted face', 27, [], [], 'cutter'],
    ['PSC', 63, [], [tip], 'turning tool'],
    ['PSC', 63, [mark('cylindrical', 20)], [], 'adapter'],
    ['PSC', 63, [mark('cylindrical', 8)], [], 'holder'],
    ['HSK-A', 63, [mark('ER', 32)], [], 'holder'],
    ['cylindrical', 25, [], [tip], 'boring bar'],
    ['cylindrical', 25, [], [], 'cutter'],
    ['cylindrical', 25, [mark('cylindrical', 16)], [], 'adapter'],
    ['ER', 32, [], [], 'holder'],
  ] as const)('%s %s', (standard, size, seats, tips, kind) =>
    expect(kindOfMarked({ mount: mark(standard, size), seats: [...seats], tips: [...tips] })).toBe(kind),
  );
  it('is offered in place of what was read wrong, and not where a person has said another kind', () => {
    const reading = { kind: 'cutter' as const, seats: [], mount: connection('cylindrical') };
    const own = (componentKind: 'other' | 'cutter' | 'adapter', mount: ReturnType<typeof mark> | null) => ({
      componentKind,
      mount,
      seats: [mark('cylindrical', 20)],
      tips: [],
    });
    expect(kindToOffer(own('other', null), reading)).toEqual({ kind: 'cutter', from: 'reading' });
    expect(kindToOffer(own('other', mark('cylindrical', 25)), reading)).toEqual({ kind: 'cutter', from: 'reading' });
    expect(kindToOffer(own('other', mark('PSC', 63)), reading)).toEqual({ kind: 'adapter', from: 'marks' });
    expect(kindToOffer(own('cutter', mark('PSC', 63)), reading)).toEqual({ kind: 'adapter', from: 'marks' });
    expect(kindToOffer(own('adapter', mark('PSC', 63)), reading)).toBeUndefined();
    expect(kindToOffer(own('cutter', mark('cylindrical', 32, 'read')), reading)).toBeUndefined();
  });
});
