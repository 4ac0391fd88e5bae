import { describe, expect, it } from '@jest/globals';
import { type AssemblyRecord, ASSEMBLY_VERSION, geometryInputs, type MadeGeometry, sampleComponent, ON_MASTER } from '#core/records';
import { checkAssembly } from './index.ts';

const hash = 'b'.repeat(64);
const plain = sampleComponent('block', {
  mount: {
    id: 'mount',
    name: '',
    frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] },
    connection: { standard: 'VDI', size: 30 },
    origin: { from: 'typed', evidence: '' },
  },
});
const checkCost = { before: 1, after: 1 };
const choice = { mode: 'wrap' as const, tolerance: 0.05, closeBelow: 14, overrides: {}, bores: 'closed' as const, bridge: 0, drawn: null };
const assembly: AssemblyRecord = {
  kind: 'assembly',
  version: ASSEMBLY_VERSION,
  edges: [],
  shelf: ON_MASTER,
  id: 'a',
  name: 'a',
  pieces: [{ id: 'p1', componentId: 'block', parent: null, stickOut: 0, rollDeg: 0 }],
  createdAt: '',
  changedAt: '',
};
// The check of made geometry whose proof found these.
function checkOf({ min = 0, max = 0.04, closed = true, crossings = 0 }) {
  const growth = { min, mean: 0.01, max };
  const part = {
    bodies: ['b1'],
    inside: [],
    mode: 'wrap' as const,
    triangles: 12,
    growth,
    closed,
    crossings,
    samples: 9,
    leastAt: [1, 2, 3.456] as [number, number, number],
    greatestAt: [0, 0, 0] as [number, number, number],
    area: 6,
    histogram: [1],
    histogramTo: max,
    why: '',
  };
  const made: MadeGeometry = {
    ...choice,
    checkCost,
    target: 'non-cutting',
    parts: [part],
    inputs: geometryInputs(plain, 'non-cutting', choice),
    blob: hash,
    bodies: ['b1'],
    trianglesIn: 12,
    trianglesOut: 12,
    bytesIn: 1,
    bytesOut: 1,
    volumeIn: 1,
    volumeOut: 1,
    growth,
    closed,
    milliseconds: 1,
  };
  return checkAssembly(assembly, { block: { ...plain, geometry: [made] } }).find((c) => c.code === 'growth');
}

describe('the check of made geometry', () => {
  it('passes where it encloses and keeps its tolerance', () => {
    expect(checkOf({})).toMatchObject({ state: 'pass', message: 'block, non-cutting: growth 0.000 to 0.040 mm' });
    expect(checkOf({ min: -0.9e-6 })?.state).toBe('pass');
  });
  it('fails where it cuts in, with the depth and the place, and where it is open', () => {
    expect(checkOf({ min: -0.0123 })).toMatchObject({ state: 'fail', value: -0.0123 });
    expect(checkOf({ min: -0.0123 })?.message).toContain('cuts 0.0123 mm into the tool at 1.00, 2.00, 3.46');
    expect(checkOf({ closed: false })).toMatchObject({ state: 'fail', message: expect.stringContaining('not closed') });
  });
  it('warns where it stands out over its tolerance or goes through itself', () => {
    expect(checkOf({ max: 0.06 })).toMatchObject({ state: 'warn', value: 0.06, limit: 0.05 });
    expect(checkOf({ crossings: 3 })).toMatchObject({ state: 'warn', message: expect.stringContaining('in 3 places') });
  });
  it('says nothing of geometry that is out of date', () => {
    const stale = { ...plain, bodies: [{ ...plain.bodies[0], role: 'left out' as const }] };
    expect(checkAssembly(assembly, { block: stale }).some((c) => c.code === 'growth')).toBe(false);
  });
});
