import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type Kernel, loadKernel, readModelFile, writeRevolvedStep } from '#core/kernel';
import { type Frame, IDENTITY_FRAME, normalize } from '#core/math';
import { type HalfProfile, type PathPiece, placeOnPiece, profileVolume, validateProfile } from '#core/outline';
import { NO_CHOICE } from '#core/records';
import { axisFrameOf, cutterFor, faceDrawing, halfSectionDrawing, outlinePartOf, planeSectionDrawing, readOutlineFile } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

// A hub shell's end: a bore of 12, a seat of 20 by 8, a flange of 50, a fillet of 3 at its foot and a rounded rim.
const PART: HalfProfile = [
  [
    { kind: 'line', from: [0, 6], to: [30, 6] },
    { kind: 'line', from: [30, 6], to: [30, 10] },
    { kind: 'line', from: [30, 10], to: [38, 10] },
    { kind: 'line', from: [38, 10], to: [38, 15] },
    { kind: 'line', from: [38, 15], to: [23, 15] },
    { kind: 'arc', from: [23, 15], to: [20, 18], centre: [23, 18], ccw: false },
    { kind: 'line', from: [20, 18], to: [20, 24] },
    { kind: 'arc', from: [20, 24], to: [19, 25], centre: [19, 24], ccw: true },
    { kind: 'line', from: [19, 25], to: [15, 25] },
    { kind: 'line', from: [15, 25], to: [15, 14] },
    { kind: 'line', from: [15, 14], to: [0, 12] },
    { kind: 'line', from: [0, 12], to: [0, 6] },
  ],
];
const FRAMES: readonly Frame[] = [IDENTITY_FRAME, { origin: [40, -7, 12], z: normalize([1, 2, -2]), x: normalize([2, -1, 0]) }];

async function bodiesOf(profile: HalfProfile, frame: Frame) {
  const read = await readModelFile(kernel, writeRevolvedStep(kernel, profile, frame, 'part'), 'part.step');
  if (!read.ok) throw new Error(read.issues.map(say).join());
  return read.value.model.bodies;
}
const readDxf = (text: string, file = 'x.dxf') => {
  const r = readOutlineFile(new TextEncoder().encode(text), file, NO_CHOICE);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
};

describe('the half section of a part', () => {
  it('is what it was turned from, exactly, wherever it stands: read again as its outline', async () => {
    for (const frame of FRAMES) {
      const drawing = halfSectionDrawing(await bodiesOf(PART, frame), frame);
      const read = readDxf(drawing ?? '');
      expect(read.form).toBe('revolved');
      expect((read.volume ?? 0) / profileVolume(PART)).toBeCloseTo(1, 6);
      expect([read.length, read.largestDiameter]).toEqual([expect.closeTo(38, 4), expect.closeTo(50, 4)]);
      expect(read.profile[0].filter((p) => p.kind === 'arc')).toHaveLength(2);
      expect(validateProfile(outlinePartOf(read).profile)).toEqual([]);
    }
  });
  it('of the demo’s sleeve has its diameters and its bore, and none of its screw holes', async () => {
    const file = 'sleeve-32-16.step';
    const read = await readModelFile(kernel, new Uint8Array(readFileSync(join(import.meta.dirname, '../../../../demo/models', file))), file);
    if (!read.ok) throw new Error('it opens');
    const [body] = read.value.model.bodies;
    const axis = body.faces.map((f) => f.surface).find((s) => s.kind === 'cylinder' && Math.abs(s.radius - 16) < 1e-3);
    if (axis?.kind !== 'cylinder') throw new Error('a shank of 32');
    const across = normalize(Math.abs(axis.axis[0]) < 0.9 ? [0, axis.axis[2], -axis.axis[1]] : [axis.axis[2], 0, -axis.axis[0]]);
    const drawing = halfSectionDrawing([body], { origin: axis.origin, z: axis.axis, x: across });
    expect(drawing).toBeDefined();
    const radii = new Set([...(drawing ?? '').matchAll(/\bLINE\b[\s\S]*?\n\s*20\s*\n\s*([\d.-]+)/g)].map((m) => Math.round(Number(m[1]) * 1000) / 1000));
    expect([16, 8].every((r) => radii.has(r))).toBe(true);
  });
  it('is nothing where no face is about the axis', async () => {
    expect(halfSectionDrawing(await bodiesOf(PART, FRAMES[0]), { ...IDENTITY_FRAME, origin: [3, 0, 0] })).toBeUndefined();
  });
});

describe('the section by a plane', () => {
  it('has lines and arcs within a hundredth of the model, and the area of the true section', async () => {
    const bodies = await bodiesOf(PART, IDENTITY_FRAME);
    const read = readOutlineFile(new TextEncoder().encode(planeSectionDrawing(bodies, IDENTITY_FRAME) ?? ''), 'x.dxf', { ...NO_CHOICE, form: 'flat' });
    // One of the two halves, the other one beside it.
    const area = PART[0].reduce((sum, p) => {
      const n = 200;
      let part = 0;
      for (let i = 0; i < n; i++) {
        const [a, b] = [placeOnPiece(p, i / n), placeOnPiece(p, (i + 1) / n)];
        part += (a[0] * b[1] - a[1] * b[0]) / 2;
      }
      return sum + part;
    }, 0);
    expect(read.ok && read.value.area / area).toBeCloseTo(1, 2);
    expect(planeSectionDrawing(bodies, IDENTITY_FRAME, 100)).toBeUndefined();
  });
});

describe('the border of a flat face', () => {
  it('is its lines and circles exactly, wherever the face stands', async () => {
    for (const frame of FRAMES) {
      const [body] = await bodiesOf(PART, frame);
      const rims = body.faces.flatMap(({ surface }, i) => (surface.kind === 'plane' ? [faceDrawing(body, i, frame.x)] : []));
      // The flange's two faces and the seat's three ends: rings of two circles.
      expect(rims.length).toBeGreaterThanOrEqual(4);
      for (const text of rims) {
        const arcs = [...(text ?? '').matchAll(/\bARC\b[\s\S]*?\n\s*40\s*\n\s*([\d.-]+)/g)].map((m) => Math.round(Number(m[1]) * 1e6) / 1e6);
        expect(new Set(arcs).size).toBe(2);
        for (const r of arcs) expect([6, 10, 12, 14, 15, 18, 24, 25]).toContain(r);
      }
      const round = body.faces.findIndex((f) => f.surface.kind === 'cylinder');
      expect(faceDrawing(body, round, frame.x)).toBeUndefined();
      const axis = axisFrameOf(body.faces[round]);
      expect(Math.abs((axis?.z[0] ?? 0) * frame.z[0] + (axis?.z[1] ?? 0) * frame.z[1] + (axis?.z[2] ?? 0) * frame.z[2])).toBeCloseTo(1, 9);
    }
  });
});

describe('a cutter for a part', () => {
  const wish = { from: 16, to: 36, diameter: 24, shank: { diameter: 10, length: 30 } };
  it('leaves the part: where it stands out by some mm the cutter is as much narrower', () => {
    const made = cutterFor(PART, wish);
    if (!made.ok) throw new Error(made.issues.map(say).join());
    expect(validateProfile(made.value)).toEqual([]);
    const rOf = (profile: HalfProfile, z: number): number =>
      Math.max(
        ...profile.flat().flatMap((p: PathPiece) =>
          Array.from({ length: 801 }, (_, i) => placeOnPiece(p, i / 800))
            .filter((q) => Math.abs(q[0] - z) < 0.01)
            .map((q) => q[1]),
        ),
      );
    // Axes are as far apart as both radii at the deepest place: 15 and 12.
    for (const z of [16.5, 18, 19.5, 21, 22, 25, 35]) expect(rOf(PART, z) + rOf(made.value, 30 + 36 - z)).toBeCloseTo(27, 1);
    expect(profileVolume(made.value)).toBeGreaterThan(Math.PI * 25 * 30);
  });
  it('is refused where it would end on its axis, or the stretch is not the part’s', () => {
    const thin = cutterFor(PART, { ...wish, diameter: 19 });
    expect(!thin.ok && say(thin.issues[0])).toMatch(/more than 20\.000 mm/);
    const beyond = cutterFor(PART, { ...wish, to: 60 });
    expect(!beyond.ok && beyond.issues[0].code).toBe('outline.bad-stretch');
    expect(cutterFor([], wish).ok).toBe(false);
  });
});
