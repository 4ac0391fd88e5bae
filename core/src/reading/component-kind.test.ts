import { describe, expect, it } from '@jest/globals';
import { componentKindOf, spinsAsRead } from './component-kind.ts';
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
