import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { isClosedMesh, meshArea, pairHalfEdges, validateMesh, weld } from '#core/mesh';
import { touchesItself } from './fill-face.ts';
import { flipSides } from './flip-sides.ts';
import { type Kernel, loadKernel } from './index.ts';
import { listSubShapes } from './gp.ts';
import { openScope, withScope } from './scope.ts';
import { sampleBody } from './sample-faces.ts';
import { type BodyTessellation, eachFaceNodes, readEdgePolylines, tessellate } from './tessellate.ts';

// One face of a model from elsewhere: a mantle in splines with two cross holes, one of which touches the edge of its end. The kernel does not mesh it with most chords.
const FILE = readFileSync(join(import.meta.dirname, 'touching-border.step'));

let kernel: Kernel;
let face: TopoDS_Shape;
beforeAll(async () => {
  kernel = await loadKernel();
  const { oc } = kernel;
  const { own } = openScope();
  const reader = own(new oc.STEPControl_Reader());
  oc.FS.writeFile('/face.step', FILE);
  reader.ReadFile('/face.step');
  reader.TransferRoots(own(new oc.Message_ProgressRange()));
  face = own(reader.OneShape());
});

it.each([0.1, 0.05, 0.02, 0.01])('a face whose border touches itself, which the kernel does not mesh with chords of %s mm, has its whole area', (chord) => {
  const { oc } = kernel;
  withScope((own) => {
    oc.BRepTools.Clean(face, true);
    own(new oc.BRepMesh_IncrementalMesh(face, chord, false, 0.35, false));
    const nodes = (filled?: BodyTessellation['filled']) => {
      let count = 0;
      eachFaceNodes(oc, face, filled, ({ positions }) => (count += positions.length / 3));
      return count;
    };
    expect(nodes()).toBe(0);
    const made = tessellate(oc, face, { chordTolerance: chord });
    expect(made?.faceHashes).toHaveLength(1);
    // Its nodes are there for whoever samples it, and its edges for whoever draws them.
    expect(nodes(made?.filled)).toBe((made?.mesh.positions.length ?? 0) / 3);
    const lines = readEdgePolylines(oc, face, chord, made);
    expect(lines.size).toBe(listSubShapes(oc, own, face, 'TopAbs_EDGE').length);
    const area = own(new oc.GProp_GProps());
    oc.BRepGProp.SurfaceProperties(face, area, 1e-6, false);
    expect(made && meshArea(made.mesh) / area.Mass()).toBeGreaterThan(1 - 0.06 * chord);
    // Chords of a hole lie in it.
    expect(made && meshArea(made.mesh) / area.Mass()).toBeLessThan(1 + 0.02 * chord);
  });
});

it('a face whose loops meet at a corner of each is told, where the two corners are not one', () => {
  const { oc } = kernel;
  withScope((own) => {
    const wireOf = (points: readonly (readonly [number, number])[]) => {
      const wire = own(new oc.BRepBuilderAPI_MakeWire());
      const placed = points.map(([x, y]) => own(new oc.gp_Pnt(x, y, 0)));
      placed.forEach((p, i) => wire.Add(own(own(new oc.BRepBuilderAPI_MakeEdge(p, placed[(i + 1) % placed.length])).Edge())));
      return own(wire.Wire());
    };
    const outer = [
      [0, 0],
      [5, 0],
      [10, 0],
      [10, 10],
      [0, 10],
    ] as const;
    // The hole's first corner lies in the middle of a side, or short of it.
    const withHole = (y: number) => {
      const made = own(new oc.BRepBuilderAPI_MakeFace(wireOf(outer), true));
      made.Add(
        wireOf([
          [5, y],
          [3, 4],
          [7, 4],
        ]),
      );
      return own(made.Shape());
    };
    expect([0, 0.01].map((y) => touchesItself(oc, withHole(y)))).toEqual([true, false]);
    const made = tessellate(oc, withHole(0), { chordTolerance: 0.05 });
    expect(made?.filled?.size).toBe(1);
    expect(made && meshArea(made.mesh)).toBeCloseTo(100 - 8, 6);
  });
});

it('a face whose border crosses itself is refused, not left out', () => {
  const { oc } = kernel;
  withScope((own) => {
    const points = [
      [0, 0],
      [10, 10],
      [10, 0],
      [0, 10],
    ].map(([x, y]) => own(new oc.gp_Pnt(x, y, 0)));
    const wire = own(new oc.BRepBuilderAPI_MakeWire());
    points.forEach((p, i) => wire.Add(own(own(new oc.BRepBuilderAPI_MakeEdge(p, points[(i + 1) % 4])).Edge())));
    const bow = own(own(new oc.BRepBuilderAPI_MakeFace(own(wire.Wire()), true)).Shape());
    expect(tessellate(oc, bow, { chordTolerance: 0.05 })).toBeUndefined();
    expect(sampleBody(oc, bow, 'b1', 0.05)).toBeUndefined();
  });
});

it('a body with such a face is closed and has its whole volume', () => {
  const { oc } = kernel;
  withScope((own) => {
    // A rod with a cross hole that just touches its front edge.
    const rod = own(new oc.BRepPrimAPI_MakeCylinder(20, 40));
    const across = own(new oc.gp_Ax2(own(new oc.gp_Pnt(0, -30, 3)), own(new oc.gp_Dir(0, 1, 0))));
    const hole = own(new oc.BRepPrimAPI_MakeCylinder(across, 3, 60));
    const cut = own(new oc.BRepAlgoAPI_Cut(own(rod.Shape()), own(hole.Shape()), own(new oc.Message_ProgressRange())));
    const body = own(cut.Shape());
    const touching = listSubShapes(oc, own, body, 'TopAbs_FACE').filter((f) => touchesItself(oc, f.shape));
    expect(touching.length).toBeGreaterThan(0);
    const exact = own(new oc.GProp_GProps());
    oc.BRepGProp.VolumeProperties(body, exact, 1e-7, false, false);
    for (const chord of [0.1, 0.02]) {
      oc.BRepTools.Clean(body, true);
      expect(tessellate(oc, body, { chordTolerance: chord })?.filled?.size).toBe(touching.length);
      // The kernel did not try: as it fails it divides edges of the faces beside it.
      const hashes = new Set(touching.map((f) => f.hash));
      const isTouching = listSubShapes(oc, own, body, 'TopAbs_FACE').map((f) => hashes.has(f.hash));
      eachFaceNodes(oc, body, undefined, ({ positions }, i) => expect(positions.length > 0).toBe(!isTouching[i]));
      const sampled = sampleBody(oc, body, 'b1', chord);
      expect(sampled && isClosedMesh(validateMesh(weld(sampled.mesh, 1e-4)))).toBe(true);
      expect((sampled?.volume ?? 0) / exact.Mass()).toBeCloseTo(1, 4);
    }
  });
});

describe('flipped sides', () => {
  it('leave no corner inside the circle of a triangle beside it, and cover the same', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 1, max: 999 }), fc.integer({ min: 1, max: 999 })), { minLength: 1, maxLength: 40 }), (inner) => {
        // Points in a square, put in one after the other: slivers.
        const flat = [0, 0, 1000, 0, 1000, 1000, 0, 1000];
        let list = [
          [0, 1, 2],
          [0, 2, 3],
        ];
        const area = ([a, b, c]: number[]) =>
          (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) - (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
        for (const [x, y] of inner) {
          const p = flat.length / 2;
          const at = list.find(([a, b, c]) => {
            flat.push(x, y);
            const isIn = [area([a, b, p]), area([b, c, p]), area([c, a, p])].every((v) => v > 0);
            flat.length -= 2;
            return isIn;
          });
          if (!at) continue;
          flat.push(x, y);
          const [a, b, c] = at;
          list = [...list.filter((t) => t !== at), [a, b, p], [b, c, p], [c, a, p]];
        }
        const triangles = Uint32Array.from(list.flat());
        const positions = Float64Array.from({ length: (flat.length / 2) * 3 }, (_, i) => (i % 3 === 2 ? 0 : flat[2 * Math.floor(i / 3) + (i % 3)]));
        flipSides(flat, triangles, pairHalfEdges({ positions, triangles }));
        const out = Array.from({ length: triangles.length / 3 }, (_, i) => [...triangles.subarray(3 * i, 3 * i + 3)]);
        expect(out.every((t) => area(t) > 0)).toBe(true);
        expect(out.reduce((s, t) => s + area(t), 0)).toBe(2e6);
        for (const [a, b, c] of out) {
          // The circle's middle by its two perpendicular bisectors.
          const [ax, ay, bx, by, cx, cy] = [a, b, c].flatMap((i) => [flat[2 * i], flat[2 * i + 1]]);
          const d = 2 * (ax * (by - cy) + bx * (cy - ay) + cx * (ay - by));
          const [p, q, r] = [ax * ax + ay * ay, bx * bx + by * by, cx * cx + cy * cy];
          const [mx, my] = [(p * (by - cy) + q * (cy - ay) + r * (ay - by)) / d, (p * (cx - bx) + q * (ax - cx) + r * (bx - ax)) / d];
          const radius = Math.hypot(ax - mx, ay - my);
          for (let i = 0; i < flat.length / 2; i++) expect(Math.hypot(flat[2 * i] - mx, flat[2 * i + 1] - my)).toBeGreaterThan(radius * (1 - 1e-6) - 1e-6);
        }
      }),
    );
  });
});
