import { describe, expect, it } from '@jest/globals';
import { IDENTITY, translation } from '#core/math';
import type { Model } from '#core/mesh';
import type { StageItem } from '../../../scene/picks.ts';
import { differing } from './differing.ts';

const model = (unit: string): Model => ({ format: 'step', unit, unitScale: 1, chordTolerance: 0.1, bodies: [] });
const [block, bar] = [model('mm'), model('mm')];
const item = (key: string, of: Model, by = 0): StageItem => ({
  key,
  model: of,
  stageFromModel: by === 0 ? IDENTITY : translation([0, 0, by]),
  roles: {},
  hidden: new Set(),
});

describe('what differs between two assemblies', () => {
  it('is what stands elsewhere, or is not there, whatever its piece is called', () => {
    const here = [item('p1', block), item('p2', bar, 10)];
    expect(differing([item('x', block), item('y', bar, 10)], here)).toEqual([]);
    expect(differing([item('x', block), item('y', bar, 10.5)], here).map((i) => i.key)).toEqual(['y']);
    expect(differing([item('x', block, 3), item('z', model('inch'))], here).map((i) => i.key)).toEqual(['x', 'z']);
  });
});
