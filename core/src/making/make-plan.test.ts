import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel } from '#core/kernel';
import { isClosedMesh, meshBounds, readStl, validateMesh, weld } from '#core/mesh';
import { type ComponentRecord, freshPlan, type PlanRecord, readRecord } from '#core/records';
import { componentFromFile } from '#core/sources';
import { makeRecordPlan, makeRecordPlanSolid } from './index.ts';

const file = 'hub-face-holder-25.step';
const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/models', file)));
let kernel: Kernel;
let record: ComponentRecord;
beforeAll(async () => {
  kernel = await loadKernel();
  const opened = await componentFromFile(kernel, { bytes, fileName: file, id: 'c1', now: '2026-01-01', modelBlobOf: () => 'a'.repeat(64) });
  if (!opened.ok) throw new Error('not opened');
  const { record: read } = opened.value;
  record = { ...read, bodies: read.bodies.map((b, i) => ({ ...b, role: i === 1 ? 'cutting' : 'tool body' })) };
});
const planOf = async (of: ComponentRecord, tolerance = 0.05): Promise<PlanRecord> => {
  const made = await makeRecordPlan(kernel, of, bytes, tolerance);
  if (!made.ok) throw new Error(made.issues[0].code);
  return made.value;
};

describe('the plan outline of a component', () => {
  it('has its cutting part and its holder apart, is kept by the record, and never cuts in', async () => {
    const steps: string[] = [];
    const made = await makeRecordPlan(kernel, record, bytes, 0.05, { onProgress: (_, text) => steps.push(text) });
    if (!made.ok) throw new Error(made.issues[0].code);
    expect(made.value.parts.map((p) => p.target)).toEqual(['cutting', 'non-cutting']);
    expect(steps).toEqual(expect.arrayContaining(['Outlining the cutting part', 'Outlining the holder']));
    for (const { growth, loops, low, high } of made.value.parts) {
      expect(growth.min).toBeGreaterThanOrEqual(-1e-6);
      expect(growth.max).toBeLessThanOrEqual(0.05);
      expect(loops.length).toBeGreaterThan(0);
      expect(high).toBeGreaterThan(low);
    }
    // What is stored comes back, and still fits.
    const stored = readRecord(JSON.parse(JSON.stringify({ ...record, plan: made.value })), 'x');
    expect(stored.ok && stored.value.kind === 'component' && freshPlan(stored.value)).toEqual(made.value);
  });
  it('is out of date when bodies, mount or source change, and not when a name does', async () => {
    const plan = await planOf({ ...record, bodies: record.bodies.map((b) => ({ ...b, role: b.id === 'b2' ? 'cutting' : 'left out' })) });
    expect(plan.parts.map((p) => p.target)).toEqual(['cutting']);
    const small = {
      ...record,
      bodies: record.bodies.map((b): ComponentRecord['bodies'][number] => ({ ...b, role: b.id === 'b2' ? 'cutting' : 'left out' })),
      plan,
    };
    expect(freshPlan({ ...small, name: 'Another' })).toBe(plan);
    expect(freshPlan({ ...small, bodies: record.bodies })).toBeUndefined();
    expect(freshPlan({ ...small, source: { ...small.source, unitScale: 25.4 } })).toBeUndefined();
    const frame = { origin: [1, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as const;
    const mount = { id: 'mount', name: '', frame, connection: { standard: 'square', size: '25x25' }, origin: { from: 'typed', evidence: '' } } as const;
    expect(freshPlan({ ...small, mount })).toBeUndefined();
  });
  it('as a solid is a closed file in the frame of the mount, cutting part and holder, in steps', async () => {
    const frame = { origin: [4, -7, 90], z: [0, 1, 0], x: [0, 0, 1] } as const;
    const mount = { id: 'mount', name: '', frame, connection: { standard: 'square', size: '25x25' }, origin: { from: 'typed', evidence: '' } } as const;
    const made = await makeRecordPlanSolid(kernel, { ...record, mount }, bytes, 0.05);
    if (!made.ok) throw new Error(made.issues[0].code);
    const solid = readStl(made.value.stl, 'x.stl');
    if (!solid.ok) throw new Error(solid.issues[0].code);
    expect(solid.value.triangles.length / 3).toBe(made.value.triangles);
    // The head is wider than the shank of 25, which lies along the mount's Z from its end on.
    const box = meshBounds(solid.value);
    expect(isClosedMesh(validateMesh(weld(solid.value)))).toBe(true);
    expect((box?.max[2] ?? 0) - (box?.min[2] ?? 0)).toBeGreaterThan(25);
    expect(made.value.steps).toHaveLength(2);
  });
  it('is refused for a tolerance that cannot be meant', async () => {
    expect(await makeRecordPlan(kernel, record, bytes, 9)).toMatchObject({ ok: false, issues: [{ code: 'envelope.bad-tolerance' }] });
  });
});
