import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import { failed, type Result } from '#core/issues';
import { loadKernel, OpenModel } from '#core/kernel';
import { IDENTITY_FRAME } from '#core/math';
import { triangleCount, type TriMesh, writeStl } from '#core/mesh';
import { EachBody } from './each-body.ts';
import { FormTrials } from './form-trials.ts';
import { makeGeometry } from './make-geometry.ts';
import type { GeometryPart, GeometryRequest, PartMode, Report } from './request.ts';

// Trials in which no body can be wrapped, as if it were open; they tell what else they made.
class NoWraps extends FormTrials {
  readonly made: PartMode[] = [];

  override part(bodies: readonly string[], mode: PartMode, others: readonly GeometryPart[], report: Report): Promise<Result<GeometryPart>> {
    if (mode === 'wrap') return Promise.resolve(failed('envelope.open-body', { body: bodies[0], open: 1, bad: 0, at: '0 0 0' }));
    this.made.push(mode);
    return super.part(bodies, mode, others, report);
  }
}

describe('a body that cannot be wrapped', () => {
  it('is not made as it is either, where it surely takes more than it may; else it is, and takes what was said at least', async () => {
    const kernel = await loadKernel();
    const file = 'sleeve-32-16.step';
    const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/models', file)));
    const model = await OpenModel.open(kernel, bytes, file);
    if (!model.ok) throw new Error(model.issues[0].code);
    const request: GeometryRequest = { bytes, file, bodies: ['b1'], mode: 'auto', tolerance: 0.2, frame: IDENTITY_FRAME };
    const within = async (most: number) => {
      const trials = new NoWraps(model.value, request);
      const bodies = new EachBody(trials, request, undefined, most);
      const parts = await bodies.make(['b1'], [], () => undefined);
      if (!parts.ok) throw new Error(parts.issues[0].code);
      return { made: trials.made, tooMany: bodies.tooMany, parts: parts.value };
    };
    const few = await within(300);
    expect([few.made, few.parts]).toEqual([[], []]);
    const many = await within(1e6);
    expect([many.made, many.tooMany, many.parts.map((p) => p.mode)]).toEqual([['exact'], undefined, ['exact']]);
    const taken = triangleCount(many.parts[0].mesh);
    expect(few.tooMany).toBeGreaterThan(0.5 * taken);
    expect(few.tooMany).toBeLessThanOrEqual(taken);
    model.value.close();
  });
});

describe('a body that goes through itself', () => {
  it('is what it encloses as it spins, where that is a solid, however few triangles it has', async () => {
    // A prism over a star drawn in one line: its five sides cross each other.
    const star = [0, 2, 4, 1, 3].map((i) => [10 * Math.cos((2 * Math.PI * i) / 5), 10 * Math.sin((2 * Math.PI * i) / 5)]);
    const ring = (z: number) => star.flatMap(([x, y]) => [x, y, z]);
    const mesh: TriMesh = {
      positions: Float64Array.from([...ring(0), ...ring(30), 0, 0, 0, 0, 0, 30]),
      triangles: Uint32Array.from([0, 1, 2, 3, 4].flatMap((i) => ((k) => [i, k, 5 + k, i, 5 + k, 5 + i, k, i, 10, 5 + i, 5 + k, 11])((i + 1) % 5))),
    };
    const request: GeometryRequest = { bytes: writeStl(mesh), file: 'star.stl', bodies: ['b1'], mode: 'auto', tolerance: 0.05, frame: IDENTITY_FRAME };
    const kernel = await loadKernel();
    const asIs = await makeGeometry(kernel, request);
    const spinning = await makeGeometry(kernel, { ...request, spins: true });
    if (!asIs.ok || !spinning.ok) throw new Error('not made');
    expect(asIs.value.parts.map((p) => p.proof.crossings > 0)).toEqual([true]);
    expect(spinning.value.parts.map((p) => [p.mode, p.proof.crossings, p.proof.closed])).toEqual([['revolved', 0, true]]);
    expect(spinning.value.parts[0].why).toMatch(/not all of its bodies one by one are solids/);
    expect(spinning.value.trianglesOut).toBeGreaterThan(asIs.value.trianglesOut);
    expect(spinning.value.growth.min).toBeGreaterThan(-1e-6);
  });
});
