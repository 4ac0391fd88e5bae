import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, OpenModel, type SampledBody } from '#core/kernel';
import { isClosedMesh, validateMesh, weld } from '#core/mesh';
import { asSplines } from '../../../../demo/corpus/as-splines.ts';
import { measureLosses } from './losses.ts';
import { computeRevolvedEnvelope } from './revolved.ts';

const fingerprint = (body: SampledBody): string => {
  const hash = createHash('sha256');
  for (const packed of [body.mesh.positions, body.mesh.triangles, body.faceStart, body.points, body.pointTriangle, body.skin]) hash.update(packed);
  return hash.update(JSON.stringify([body.surfaces, body.volume, body.skinEdges])).digest('hex');
};

describe('a model that is written in splines', () => {
  const name = 'sleeve-32-16.step';
  const text = readFileSync(join(import.meta.dirname, '../../../../demo/models', name), 'utf8');
  let kernel: Kernel;
  let plain: readonly SampledBody[];
  beforeAll(async () => {
    kernel = await loadKernel();
    plain = await sampled(text, true);
  });
  /** With a model's picture looked at before, or not: what comes of it is the same. */
  async function sampled(step: string, isRead: boolean): Promise<SampledBody[]> {
    const opened = await OpenModel.open(kernel, new TextEncoder().encode(step), name);
    if (!opened.ok) throw new Error('not opened');
    if (isRead) opened.value.read();
    const bodies = opened.value.sample({ chordTolerance: 0.02 });
    opened.value.close();
    if (!bodies.ok) throw new Error('not sampled');
    return bodies.value;
  }
  // With something else made of its splines than faces, so that they stay what they are.
  function kept(step: string): string {
    const ids = [...step.matchAll(/^#(\d+)=(?:\(BOUNDED_SURFACE|B_SPLINE_SURFACE)/gm)].map((m) => m[1]);
    const others = ids.map((id, i) => `#${990001 + i}=RECTANGULAR_TRIMMED_SURFACE('',#${id},0.,1.,0.,1.,.T.,.T.);`);
    return step.replace(/ENDSEC;\s*END-ISO/, `${others.join('\n')}\nENDSEC;\nEND-ISO`);
  }
  it('is sampled as it is plainly written', async () => {
    const splines = await sampled(asSplines(text).text, true);
    splines.forEach((b, i) => {
      expect(b.mesh.triangles.length / plain[i].mesh.triangles.length).toBeCloseTo(1, 2);
      expect(b.volume).toBeCloseTo(plain[i].volume, 2);
      expect(b.surfaces.map((s) => s.kind)).toEqual(plain[i].surfaces.map((s) => s.kind));
    });
  });
  it('that have to stay is sampled as what it is, closed, and turns into the same as it does plainly written', async () => {
    const splineText = kept(asSplines(text).text);
    const [splines, unread] = [await sampled(splineText, true), await sampled(splineText, false)];
    const kinds = (bodies: readonly SampledBody[], kind: string) => bodies.flatMap((b) => b.surfaces).filter((s) => s.kind === kind).length;
    for (const kind of ['cylinder', 'cone']) expect([kind, kinds(splines, kind)]).toEqual([kind, kinds(plain, kind)]);
    // Element by element it takes half a minute.
    expect(unread.map(fingerprint)).toEqual(splines.map(fingerprint));
    for (const b of splines) {
      // The kernel's own triangles are off by up to 0.26 mm.
      const { losses, gains } = measureLosses(b, () => false);
      expect(
        Math.max(
          ...losses,
          gains.reduce((a, g) => Math.max(a, g), 0),
        ),
      ).toBeLessThan(0.032);
      expect(isClosedMesh(validateMesh(weld(b.mesh, 1e-4)))).toBe(true);
      expect(b.faceStart[b.faceStart.length - 1]).toBe(b.mesh.triangles.length / 3);
      expect(b.pointTriangle[b.pointTriangle.length - 1]).toBeLessThan(b.mesh.triangles.length / 3);
    }
    // About the longest of its cylinders.
    const cylinders = plain.flatMap((b) => b.surfaces).filter((s) => s.kind === 'cylinder');
    const { origin, axis: direction } = cylinders.reduce((a, b) => (b.radius * b.length > a.radius * a.length ? b : a));
    const turned = (bodies: readonly SampledBody[]) => {
      const made = computeRevolvedEnvelope(bodies, { origin, direction }, 0.05);
      if (!made.ok) throw new Error(JSON.stringify(made.issues));
      return made.value;
    };
    const [one, other] = [turned(plain), turned(splines)];
    const most = Math.max(...splines.flatMap((b) => b.mesh.triangles.length));
    expect(most).toBeGreaterThan(Math.max(...plain.flatMap((b) => b.mesh.triangles.length)));
    expect(other.growth.min).toBeGreaterThanOrEqual(-1e-6);
    expect(other.growth.max).toBeLessThan(2 * one.growth.max);
    expect(other.volume / one.volume).toBeCloseTo(1, 3);
  });
});
