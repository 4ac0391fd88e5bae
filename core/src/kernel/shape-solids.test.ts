import { beforeAll, describe, expect, it } from '@jest/globals';
import { type FlatShape, loopThrough, type PathPiece, type SolidShape, shapeFileName, writeSolidShape } from '#core/outline';
import { type Kernel, liveHandleCount, loadKernel, OpenModel, readSolids } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const read = (shape: SolidShape) => readSolids(kernel, writeSolidShape(shape), shapeFileName('x'), { exactProperties: true });
const model = (shape: SolidShape) => {
  const r = read(shape);
  if (!r.ok) throw new Error(r.issues.map((i) => JSON.stringify(i)).join());
  return r.value.model;
};
const flat = (part: Partial<FlatShape>): FlatShape => ({
  format: 'ruota-shape',
  version: 1,
  form: 'flat',
  name: 'Insert',
  loop: loopThrough([
    [0, 0],
    [12, 0],
    [12, 8],
    [0, 8],
  ]),
  thickness: 4,
  reliefDeg: 0,
  hole: null,
  ...part,
});
// A square of 10 whose corners are rounded by 1.
const ROUNDED: PathPiece[] = [
  { kind: 'line', from: [1, 0], to: [9, 0] },
  { kind: 'arc', from: [9, 0], to: [10, 1], centre: [9, 1], ccw: true },
  { kind: 'line', from: [10, 1], to: [10, 9] },
  { kind: 'arc', from: [10, 9], to: [9, 10], centre: [9, 9], ccw: true },
  { kind: 'line', from: [9, 10], to: [1, 10] },
  { kind: 'arc', from: [1, 10], to: [0, 9], centre: [1, 9], ccw: true },
  { kind: 'line', from: [0, 9], to: [0, 1] },
  { kind: 'arc', from: [0, 1], to: [1, 0], centre: [1, 1], ccw: true },
];

// With a notch: not convex where it leans.
const NOTCHED = loopThrough([
  [0, 0],
  [12, 0],
  [12, 8],
  [7, 8],
  [6, 4],
  [5, 8],
  [0, 8],
]);

describe('the shape of an outline as solids', () => {
  it('turned about Z has true faces, volumes by formula, and the names and order of its bodies', () => {
    const cone: PathPiece[] = loopThrough([
      [20, 0],
      [30, 0],
      [20, 5],
    ]);
    const shank: PathPiece[] = loopThrough([
      [0, 0],
      [20, 0],
      [20, 5],
      [0, 5],
    ]);
    const made = model({
      format: 'ruota-shape',
      version: 1,
      form: 'revolved',
      bodies: [
        { name: 'Shank', role: 'tool body', profile: [shank] },
        { name: 'Cutting part', role: 'cutting', profile: [cone] },
      ],
    });
    expect(made.format).toBe('outline');
    expect(made.bodies.map((b) => [b.id, b.name, b.closed, b.valid])).toEqual([
      ['b1', 'Shank', true, true],
      ['b2', 'Cutting part', true, true],
    ]);
    expect(made.bodies[0].volume).toBeCloseTo(Math.PI * 25 * 20, 6);
    expect(made.bodies[1].volume).toBeCloseTo((Math.PI * 25 * 10) / 3, 6);
    expect(made.bodies.map((b) => b.faces.map((f) => f.surface.kind).sort())).toEqual([
      ['cylinder', 'plane', 'plane'],
      ['cone', 'plane'],
    ]);
  });
  it('cut out of a plate has a hole, and flanks that lean in: a frustum by formula', () => {
    expect(model(flat({ hole: { at: [6, 4], diameter: 4 } })).bodies[0].volume).toBeCloseTo(12 * 8 * 4 - Math.PI * 4 * 4, 6);
    const inward = 4 * Math.tan((7 * Math.PI) / 180);
    // A prismatoid: top, bottom, and four times the middle.
    const area = (t: number) => (12 - 2 * t * inward) * (8 - 2 * t * inward);
    expect(model(flat({ reliefDeg: 7 })).bodies[0].volume).toBeCloseTo((4 / 6) * (area(0) + 4 * area(0.5) + area(1)), 6);
    // Only the first side.
    expect(model(flat({ reliefDeg: 7, relieved: [0] })).bodies[0].volume).toBeCloseTo(12 * 8 * 4 - (12 * 4 * inward) / 2, 6);
  });
  it('with rounded corners leans in by cones about their noses', () => {
    const [body] = model(flat({ loop: ROUNDED, reliefDeg: 11 })).bodies;
    expect(body.closed && body.valid).toBe(true);
    expect(body.faces.map((f) => f.surface.kind).filter((k) => k === 'cone')).toHaveLength(4);
    // Every section is a square of its own size with corners of its own radius.
    const lean = Math.tan((11 * Math.PI) / 180);
    const area = (depth: number) => (10 - 2 * depth * lean) ** 2 - (4 - Math.PI) * (1 - depth * lean) ** 2;
    expect(body.volume).toBeCloseTo((4 / 6) * (area(0) + 4 * area(2) + area(4)), 6);
  });
  it('with noses too small for the relief has them come to a point, and flanks that meet below', () => {
    const small = ROUNDED.map((p): PathPiece => {
      const at = ([x, y]: readonly [number, number]): [number, number] => [x / 10, y / 10];
      // A square of 10 with noses of 0.1: corners of the rounded one, moved out.
      const out = ([x, y]: readonly [number, number]): [number, number] => {
        const [u, v] = at([x % 9, y % 9]);
        return [x >= 9 ? 9.9 + u : u, y >= 9 ? 9.9 + v : v];
      };
      return p.kind === 'line' ? { ...p, from: out(p.from), to: out(p.to) } : { ...p, from: out(p.from), to: out(p.to), centre: out(p.centre) };
    });
    const [body] = model(flat({ loop: small, reliefDeg: 7, thickness: 5 })).bodies;
    expect(body.closed && body.valid).toBe(true);
    const lean = Math.tan((7 * Math.PI) / 180);
    const [w, t] = [10, 5];
    // A square's frustum, less what its four corners lose down to the points of their cones.
    const frustum = (t / 3) * (w ** 2 + w * (w - 2 * t * lean) + (w - 2 * t * lean) ** 2);
    expect(body.volume).toBeCloseTo(frustum - ((4 - Math.PI) * 0.1 ** 3) / (3 * lean), 6);
    expect(body.faces.filter((f) => f.surface.kind === 'cone')).toHaveLength(4);
  });
  it('leans flanks that meet on the way down: what is left under each section is the intersection of its half planes', () => {
    const corners: [number, number][] = [
      [0, 0],
      [12, 0],
      [12, 7],
      [11, 8],
      [0, 8],
    ];
    const lean = Math.tan((11 * Math.PI) / 180);
    // All but the narrow corner lean: it is gone before the bottom.
    const relieved = [0, 1, 3, 4];
    const area = (depth: number): number => {
      let polygon = corners;
      for (const i of relieved) {
        const [a, b] = [corners[i], corners[(i + 1) % 5]];
        const l = Math.hypot(b[0] - a[0], b[1] - a[1]);
        const inside = ([x, y]: [number, number]) => ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / l - depth * lean;
        polygon = polygon.flatMap((p, k) => {
          const q = polygon[(k + 1) % polygon.length];
          const [s, t] = [inside(p), inside(q)];
          const cut: [number, number][] = s * t < 0 ? [[p[0] + ((q[0] - p[0]) * s) / (s - t), p[1] + ((q[1] - p[1]) * s) / (s - t)]] : [];
          return s >= 0 ? [p, ...cut] : cut;
        });
      }
      return polygon.reduce((sum, p, k) => sum + (p[0] * polygon[(k + 1) % polygon.length][1] - polygon[(k + 1) % polygon.length][0] * p[1]) / 2, 0);
    };
    const n = 4000;
    let volume = 0;
    for (let i = 0; i < n; i++) volume += (area((3 * (i + 0.5)) / n) * 3) / n;
    const [body] = model(flat({ loop: loopThrough(corners), thickness: 3, reliefDeg: 11, relieved })).bodies;
    expect(body.closed && body.valid).toBe(true);
    expect(body.volume).toBeCloseTo(volume, 4);
  });
  it('leaves noses upright beside an edge that does not cut: the plane of the other one goes through them', () => {
    // Only the lower side of the rounded square leans.
    const [body] = model(flat({ loop: ROUNDED, reliefDeg: 11, relieved: [0, 1, 7] })).bodies;
    expect(body.closed && body.valid).toBe(true);
    const lean = Math.tan((11 * Math.PI) / 180);
    const whole = 100 - (4 - Math.PI);
    // Below y = d the square loses a strip, less what its two corners never had.
    const lost = (d: number): number => {
      const n = 400;
      let sum = 0;
      for (let i = 0; i < n; i++) {
        const y = (d * (i + 0.5)) / n;
        sum += ((10 - (y < 1 ? 2 * (1 - Math.sqrt(1 - (1 - y) ** 2)) : 0)) * d) / n;
      }
      return sum;
    };
    let volume = 0;
    const steps = 400;
    for (let i = 0; i < steps; i++) volume += ((whole - lost(((4 * (i + 0.5)) / steps) * lean)) * 4) / steps;
    expect(body.volume).toBeCloseTo(volume, 2);
  });
  it('is refused with the reason where it cannot be made, and leaves nothing behind in the kernel', () => {
    const before = liveHandleCount();
    const code = (shape: SolidShape) => {
      const r = read(shape);
      return r.ok ? undefined : r.issues[0].code;
    };
    // Its flanks would meet above the bottom.
    expect(code(flat({ loop: NOTCHED, thickness: 20, reliefDeg: 30 }))).toBe('outline.no-relief');
    expect(code(flat({ hole: { at: [11, 4], diameter: 4 } }))).toBe('outline.bad-shape');
    expect(code(flat({ loop: [...ROUNDED].reverse().map((p) => ({ ...p, from: p.to, to: p.from })) }))).toBe('outline.bad-shape');
    expect(readSolids(kernel, new TextEncoder().encode('{"format":"ruota-shape"'), shapeFileName('x')).ok).toBe(false);
    expect(liveHandleCount()).toBe(before);
  });
  it('stays open as a vendor file does: sampled, cut, and written as STEP that reads back the same', async () => {
    const before = liveHandleCount();
    const shape = flat({ loop: ROUNDED, reliefDeg: 5, hole: { at: [5, 5], diameter: 3 } });
    const opened = await OpenModel.open(kernel, writeSolidShape(shape), shapeFileName('x'));
    if (!opened.ok) throw new Error('it opens');
    const sampled = opened.value.sample({ chordTolerance: 0.01 });
    const step = opened.value.writeStep({ bodies: [{ id: 'b1', name: 'Insert' }], targetFromFile: { r: [1, 0, 0, 0, 1, 0, 0, 0, 1], t: [0, 0, 0] } });
    if (!sampled.ok || !step?.ok) throw new Error('it is sampled and written');
    const again = readSolids(kernel, step.value, 'x.step', { exactProperties: true });
    if (!again.ok) throw new Error('it reads back');
    expect(again.value.model.bodies[0].volume).toBeCloseTo(model(shape).bodies[0].volume, 6);
    expect(sampled.value[0].volume).toBeCloseTo(again.value.model.bodies[0].volume, 3);
    opened.value.close();
    expect(liveHandleCount()).toBe(before);
  });
});
