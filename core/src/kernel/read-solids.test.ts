import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { compose, IDENTITY, rotationAbout, translation } from '#core/math';
import { isClosedMesh, meshVolume, validateMesh, weld } from '#core/mesh';
import { checkStepText, isKernelLost, type Kernel, liveHandleCount, loadKernel, readSolids, sampleSolids, writePlainStep, writeStepPart } from './index.ts';

const demo = (name: string) => new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/models', name)));
let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const pose = compose(translation([100, -20, 7]), rotationAbout([0, 0, 0], [0.6, 0, 0.8], 0.7));
const read = (bytes: Uint8Array, file = 'x.step') => {
  const r = readSolids(kernel, bytes, file, { exactProperties: true });
  if (!r.ok) throw new Error(r.issues.map(say).join('\n'));
  return r.value.model;
};

describe('readSolids', () => {
  it('gives volumes, areas and boxes that formulas give, in any pose', () => {
    const bytes = writePlainStep(kernel, [
      { solid: { kind: 'box', size: [10, 20, 30] }, name: 'box', fileFromSolid: IDENTITY },
      { solid: { kind: 'cylinder', radius: 5, height: 40 }, name: 'pin', fileFromSolid: pose },
      { solid: { kind: 'torus', major: 12, minor: 3 }, name: 'ring', fileFromSolid: translation([0, 0, 50]) },
    ]);
    const { bodies, unit } = read(bytes);
    expect(unit).toBe('mm');
    expect(bodies.map((b) => [b.id, b.name, b.closed, b.valid])).toEqual([
      ['b1', 'box', true, true],
      ['b2', 'pin', true, true],
      ['b3', 'ring', true, true],
    ]);
    expect(bodies[0].volume).toBeCloseTo(6000, 6);
    expect(bodies[0].area).toBeCloseTo(2200, 6);
    expect(bodies[0].bbox.max[2]).toBeCloseTo(30, 6);
    expect(bodies[0].faces).toHaveLength(6);
    expect(bodies[0].edges).toHaveLength(12);
    expect(bodies[0].corners).toHaveLength(24);
    expect(bodies[1].volume).toBeCloseTo(Math.PI * 25 * 40, 5);
    expect(bodies[2].volume).toBeCloseTo(2 * Math.PI ** 2 * 12 * 9, 4);
  });

  it('tells what faces and edges are, with their numbers', () => {
    const [pin, ring] = read(
      writePlainStep(kernel, [
        { solid: { kind: 'cylinder', radius: 5, height: 40 }, name: 'pin', fileFromSolid: IDENTITY },
        { solid: { kind: 'torus', major: 12, minor: 3 }, name: 'ring', fileFromSolid: pose },
      ]),
    ).bodies;
    expect(pin.faces.map((f) => f.surface.kind).sort()).toEqual(['cylinder', 'plane', 'plane']);
    const mantle = pin.faces.find((f) => f.surface.kind === 'cylinder')?.surface;
    expect(mantle).toMatchObject({ radius: 5, length: 40, concave: false });
    const circles = pin.edges.filter((e) => e.curve.kind === 'circle');
    expect(circles).toHaveLength(2);
    expect(circles[0].curve).toMatchObject({ radius: 5 });
    const torus = ring.faces[0].surface;
    expect(torus.kind === 'torus' && [torus.majorRadius, torus.minorRadius].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([12, 3]);
    expect(torus.kind === 'torus' && torus.concave).toBe(false);
  });

  it('reads an inch file in mm and says so', () => {
    const model = read(demo('hub-bore-bar-16-inch.step'));
    expect(model).toMatchObject({ unit: 'inch', unitScale: 25.4 });
    const bar = model.bodies[0].faces.map((f) => f.surface).filter((s) => s.kind === 'cylinder');
    expect(bar.some((s) => Math.abs(2 * s.radius - 16) < 1e-6)).toBe(true);
  });

  it('sees bores as concave and pins as convex, cones too', () => {
    const model = read(demo('collet-chuck-63-32.step'));
    const cones = model.bodies[0].faces.map((f) => f.surface).filter((s) => s.kind === 'cone');
    const collet = cones.find((s) => Math.abs((s.halfAngleRad * 180) / Math.PI - 8) < 1e-6);
    expect(collet).toMatchObject({ concave: true });
    expect(collet?.radiusLarge).toBeCloseTo(16.5, 6);
    const taper = cones.find((s) => Math.abs(Math.tan(s.halfAngleRad) * 2 - 1 / 9.98) < 1e-6);
    expect(taper).toMatchObject({ concave: false });
    expect(taper?.radiusLarge).toBeCloseTo(24, 6);
  });

  it('gives closed meshes that enclose nearly the true volume', () => {
    for (const body of read(demo('hub-face-holder-25.step')).bodies) {
      const mesh = weld(body.mesh, 1e-4);
      expect(isClosedMesh(validateMesh(mesh))).toBe(true);
      expect(Math.abs(meshVolume(mesh) / body.volume - 1)).toBeLessThan(0.02);
    }
  });

  it('numbers bodies that are called the same, and leaves other names alone', () => {
    const box = (name: string, at: number) => ({ solid: { kind: 'box', size: [1, 2, 3] } as const, name, fileFromSolid: translation([at, 0, 0]) });
    const { bodies } = read(writePlainStep(kernel, [box('holder', 0), box('screw', 10), box('holder', 20), box('holder', 30)]));
    expect(bodies.map((b) => b.name)).toEqual(['holder 1', 'screw', 'holder 2', 'holder 3']);
  });
  it('keeps names with quotes, markup and foreign letters, and writes them back', () => {
    const name = `O'Neil <img src=x> Hülse =1+1`;
    const bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [1, 2, 3] }, name, fileFromSolid: IDENTITY }]);
    expect(read(bytes).bodies[0].name).toBe(name);
    const again = writeStepPart(kernel, { bytes, file: 'x', bodies: [{ id: 'b1', name }], targetFromFile: pose });
    expect(again.ok && read(again.value).bodies[0].name).toBe(name);
  });

  it('moves a part rigidly when it writes one, and leaves the source alone', () => {
    const bytes = demo('hub-bore-bar-16-inch.step');
    const before = bytes.slice();
    const source = read(bytes).bodies[0];
    const part = writeStepPart(kernel, { bytes, file: 'x', bodies: [{ id: 'b1', name: 'bar' }], targetFromFile: pose });
    const moved = part.ok ? read(part.value).bodies[0] : undefined;
    expect(moved?.volume).toBeCloseTo(source.volume, 5);
    expect(moved?.faces).toHaveLength(source.faces.length);
    expect(bytes).toEqual(before);
  });
});

describe('samples of the true faces', () => {
  it('lie on a sphere to 1e-9, its tessellation does not', () => {
    const bytes = writePlainStep(kernel, [{ solid: { kind: 'sphere', radius: 20 }, name: 'ball', fileFromSolid: translation([3, 4, 5]) }]);
    const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.1 });
    const [body] = r.ok ? r.value : [];
    let worst = 0;
    for (let i = 0; i < body.skin.length; i += 3)
      worst = Math.max(worst, Math.abs(Math.hypot(body.skin[i] - 3, body.skin[i + 1] - 4, body.skin[i + 2] - 5) - 20));
    expect(body.skin.length).toBeGreaterThan(3000);
    expect(worst).toBeLessThan(1e-9);
    expect(Math.abs(meshVolume(body.mesh) / ((4 / 3) * Math.PI * 8000) - 1)).toBeGreaterThan(1e-4);
  });
});

describe('bad files', () => {
  const encode = (text: string) => new TextEncoder().encode(text);
  const codeOf = (bytes: Uint8Array, file = 'x.step') => {
    const r = readSolids(kernel, bytes, file);
    return r.ok ? 'ok' : r.issues[0].code;
  };
  const good = () => new TextDecoder().decode(demo('sleeve-32-16.step'));

  it.each([
    ['empty', () => new Uint8Array(0), 'file.empty'],
    ['random', () => Uint8Array.from({ length: 5000 }, (_, i) => (i * 7919 + (i >> 3)) & 255), 'file.unknown-format'],
    ['a zip', () => encode('PK\u0003\u0004 and so on'), 'file.other-format'],
    ['an STL', () => encode('solid cube\nfacet normal 0 0 1\n'), 'file.other-format'],
    ['a web page', () => encode('<!doctype html><p>404'), 'file.other-format'],
    ['cut in half', () => encode(good().slice(0, good().length / 2)), 'step.truncated'],
    [
      'with a number that hangs the kernel',
      () => encode(good().replace(/CARTESIAN_POINT\('',\([^)]*\)\)/, "CARTESIAN_POINT('',(1.E400,0.,0.))")),
      'step.bad-number',
    ],
    ['with a missing instance', () => encode(good().replace(/#\d+ = CARTESIAN_POINT\([^;]*;/, '')), 'step.dangling'],
    ['with curves only', () => encode(good().replace(/MANIFOLD_SOLID_BREP\('[^']*',#(\d+)\)/g, "GEOMETRIC_CURVE_SET('',())")), 'step.no-solid'],
  ])('%s: refused with a reason', (_, make, code) => expect(codeOf(make())).toBe(code));

  it('too large: refused before it is read', () => {
    const huge = new Uint8Array(130e6);
    expect(checkStepText(huge, 'big.step')).toMatchObject({ ok: false, issues: [{ code: 'file.too-large' }] });
  });

  it('with flipped bytes: refused, read, or a kernel that says it is lost and can be replaced; never a wrong model without a word', async () => {
    const source = demo('hub-bore-bar-16-inch.step');
    let seed = 12345;
    const random = () => (seed = (seed * 1103515245 + 12345) & 0x7fffffff) / 0x7fffffff;
    let own = await loadKernel();
    let lost = 0;
    for (let round = 0; round < 12; round++) {
      const bytes = source.slice();
      // In the text of the header and the first instances, where most things can go wrong.
      for (let k = 0; k < 3; k++) bytes[Math.floor(random() * bytes.length)] ^= 1 << Math.floor(random() * 7);
      try {
        const r = readSolids(own, bytes, 'flipped.step');
        if (!r.ok) expect(say(r.issues[0]).length).toBeGreaterThan(20);
      } catch (error) {
        // The worker gives such a kernel up and starts another one.
        expect([isKernelLost(error), String(error)]).toEqual([true, String(error)]);
        own = await loadKernel();
        lost++;
      }
    }
    expect(lost).toBeLessThan(6);
    const after = readSolids(own, source, 'x.step');
    expect(after.ok && after.value.model.bodies).toHaveLength(3);
  });
});

describe('memory of the kernel', () => {
  it('does not grow over 30 imports, and no handle is kept', () => {
    const bytes = demo('hub-bore-bar-16-inch.step');
    for (let i = 0; i < 5; i++) readSolids(kernel, bytes, 'x.step');
    const before = kernel.oc.wasmMemory.buffer.byteLength;
    const handles = liveHandleCount();
    for (let i = 0; i < 30; i++) readSolids(kernel, bytes, 'x.step');
    expect(kernel.oc.wasmMemory.buffer.byteLength).toBe(before);
    expect(liveHandleCount()).toBe(handles);
    expect(handles).toBe(0);
  });
});
