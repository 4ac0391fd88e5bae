import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { listSubShapes, vecOfPoint } from './gp.ts';
import { type Kernel, loadKernel, NO_WORK } from './index.ts';
import { OpenSolids } from './open-solids.ts';
import { packedMemoryOf } from './packed-memory.ts';
import { withScope } from './scope.ts';
import { SplinePoints } from './spline-surface.ts';
import { putCurvePoints, surfacePoints } from './surface-points.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const corpus = (file: string) => new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/corpus/models', file)));

describe('places of surfaces by formula', () => {
  it.each(['cutter-3.step', 'holder-4.step', 'turning-12.step', 'adapter-b1.step'])(
    'are those that the kernel gives, and it is not asked for each: %s',
    (file) => {
      const step = OpenSolids.open(kernel, corpus(file), file, NO_WORK);
      if (!step.ok) throw new Error('not opened');
      const { oc } = kernel;
      const kinds = new Set<string>();
      let worst = 0;
      withScope((own) => {
        for (const solid of step.value.solids)
          for (const { shape } of listSubShapes(oc, own, solid, 'TopAbs_FACE')) {
            const adaptor = own(new oc.BRepAdaptor_Surface(own(oc.TopoDS.Face(shape)), true));
            const kind = adaptor.GetType() as unknown as string;
            if (kind === 'GeomAbs_Plane') continue;
            let asked = 0;
            const counting = new Proxy(adaptor, {
              get: (target, name) => {
                if (name === 'Value') asked++;
                const value = Reflect.get(target, name) as unknown;
                return typeof value === 'function' ? (value as (...a: unknown[]) => unknown).bind(target) : value;
              },
            });
            const put = surfacePoints(counting);
            const before = asked;
            const out = new Float64Array(3);
            for (let i = 0; i < 40; i++) {
              const [s, t] = [(i * 0.618) % 1, (i * 0.377) % 1];
              const u = adaptor.FirstUParameter() + s * (adaptor.LastUParameter() - adaptor.FirstUParameter());
              const v = adaptor.FirstVParameter() + t * (adaptor.LastVParameter() - adaptor.FirstVParameter());
              put(u, v, out, 0);
              vecOfPoint(adaptor.Value(u, v)).forEach((x, k) => (worst = Math.max(worst, Math.abs(x - out[k]))));
            }
            // The quick way ran: not one of the forty was asked for.
            expect([kind, asked - before]).toEqual([kind, 0]);
            kinds.add(kind);
          }
      });
      step.value.close();
      expect(worst).toBeLessThan(1e-9);
      expect(kinds.size).toBeGreaterThan(0);
    },
  );
  it('of circles too, with their ends', () => {
    const step = OpenSolids.open(kernel, corpus('holder-4.step'), 'holder-4.step', NO_WORK);
    if (!step.ok) throw new Error('not opened');
    const { oc } = kernel;
    withScope((own) => {
      for (const { shape } of listSubShapes(oc, own, step.value.solids[0], 'TopAbs_EDGE')) {
        const edge = own(oc.TopoDS.Edge(shape));
        if (oc.BRep_Tool.Degenerated(edge)) continue;
        const curve = own(new oc.BRepAdaptor_Curve(edge));
        const out = new Float64Array(3 * 6);
        putCurvePoints(curve, 5, out, 0);
        for (let i = 0; i <= 5; i++) {
          const t = curve.FirstParameter() + ((curve.LastParameter() - curve.FirstParameter()) * i) / 5;
          vecOfPoint(curve.Value(t)).forEach((x, k) => expect(Math.abs(x - out[3 * i + k])).toBeLessThan(1e-9));
        }
      }
    });
    step.value.close();
  });
});

describe('B-spline surfaces', () => {
  it('of poles on a plane grid with uniform knots are that plane; rational ones with a circle’s weights are a cylinder', () => {
    const flat = new SplinePoints({
      degreeU: 2,
      degreeV: 1,
      knotsU: Float64Array.of(0, 0, 0, 1, 2, 2, 2),
      knotsV: Float64Array.of(0, 0, 5, 5),
      countU: 4,
      countV: 2,
      // Greville places: x is u then.
      poles: Float64Array.from([0, 0.5, 1.5, 2].flatMap((x) => [x, 0, 3, x, 5, 3])),
    });
    const w = Math.SQRT1_2;
    const round = new SplinePoints({
      degreeU: 2,
      degreeV: 1,
      knotsU: Float64Array.of(0, 0, 0, 1, 1, 1),
      knotsV: Float64Array.of(0, 0, 1, 1),
      countU: 3,
      countV: 2,
      poles: Float64Array.of(7, 0, 0, 7, 0, 9, 7, 7, 0, 7, 7, 9, 0, 7, 0, 0, 7, 9),
      weights: Float64Array.of(1, 1, w, w, 1, 1),
    });
    const out = new Float64Array(3);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (s, t) => {
        flat.put(2 * s, 5 * t, out, 0);
        [2 * s, 5 * t, 3].forEach((x, k) => expect(out[k]).toBeCloseTo(x, 12));
        round.put(s, t, out, 0);
        expect(Math.hypot(out[0], out[1])).toBeCloseTo(7, 12);
        expect(out[2]).toBeCloseTo(9 * t, 12);
      }),
      { seed: 71 },
    );
  });
});

describe('points in the kernel’s memory', () => {
  it('are read packed as they are one by one', () => {
    withScope((own) => {
      const { oc } = kernel;
      const points = own(new oc.NCollection_Array1_gp_Pnt(1, 50));
      for (let i = 1; i <= 50; i++) points.SetValue(i, own(new oc.gp_Pnt(i / 3, -i * 7.5, 1e-3 * i)));
      const packed = packedMemoryOf(oc).points(points);
      expect(packed?.length).toBe(150);
      for (let i = 1; i <= 50; i++) expect([...(packed?.subarray(3 * i - 3, 3 * i) ?? [])]).toEqual(vecOfPoint(points.Value(i)));
    });
  });
});
