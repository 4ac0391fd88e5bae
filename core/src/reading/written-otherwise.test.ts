import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type ComponentSpec, makeComponent, readWords } from '#core/components';
import { type Kernel, loadKernel, readModelFile, readSolids } from '#core/kernel';
import type { Model } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { asSplines } from '../../../demo/corpus/as-splines.ts';
import { proposeReading } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const models = join(import.meta.dirname, '../../../demo/models');
function read(text: string): Model {
  const made = readSolids(kernel, new TextEncoder().encode(text), 'x.step');
  if (!made.ok) throw new Error('not read');
  return made.value.model;
}
/** What a reading says, to a micrometre or two; which faces it says it of is left out. */
function said(model: Model) {
  const { kind, roles, mount, seats, tips } = proposeReading(model, 'auto');
  const numbers = (v: readonly number[]) => v.map((x) => Math.round(x * 100) / 100 + 0);
  const at = (c: typeof mount) => c && [c.connection, numbers(c.frame.origin), numbers(c.frame.z), numbers(c.frame.x)];
  return {
    kind,
    roles: roles.map((r) => [r.body, r.role]),
    mount: at(mount),
    seats: seats.map(at),
    tips: tips.map((t) => [numbers(t.noseCentre), t.noseRadius, Math.round(t.includedAngle * 10), t.hand]),
  };
}

describe('models that are written in another way', () => {
  it.each(['collet-chuck-63-32.step', 'slot-block-40.step'])('read the same with every face a spline: %s', (file) => {
    const step = readFileSync(join(models, file), 'utf8');
    const splines = asSplines(step);
    expect(Object.keys(splines.counts).length).toBeGreaterThan(1);
    const plain = said(read(step));
    expect(plain.mount).toBeDefined();
    expect(said(read(splines.text))).toEqual(plain);
  });
});

describe('shanks by the inch', () => {
  const endMill = (d: number): ComponentSpec => ({
    kind: 'end mill',
    designation: '',
    values: { DC: d, DCON: d, OAL: 4 * d },
    shape: '',
    hand: 'right',
    thread: '',
    inside: false,
    size: '',
  });
  it.each<[string | ComponentSpec, string, string | number]>([
    ['MCLNR-164D', 'square', '25.4x25.4'],
    ['MCLNL-123B', 'square', '19.05x19.05'],
    [endMill(19.05), 'cylindrical', 19.05],
    [endMill(12.7), 'cylindrical', 12.7],
  ])('%j', async (given, standard, size) => {
    const spec = typeof given === 'string' ? readWords(given).spec : given;
    const made = spec && makeComponent(spec);
    if (!made?.ok) throw new Error(`${JSON.stringify(given)} is not made`);
    const model = await readModelFile(kernel, writeSolidShape(made.part.shape), shapeFileName(made.part.name));
    if (!model.ok) throw new Error('not read');
    expect(proposeReading(model.value.model, 'auto').mount?.connection).toEqual({ standard, size });
  });
});
