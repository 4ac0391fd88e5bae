import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, expect, it } from '@jest/globals';
import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { meshArea } from '#core/mesh';
import { type Kernel, loadKernel } from './index.ts';
import { openScope, withScope } from './scope.ts';
import { sampleBody } from './sample-faces.ts';
import { eachFaceNodes, tessellate } from './tessellate.ts';

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

it.each([0.1, 0.05, 0.02, 0.01])('a face whose border touches itself is meshed with finer chords than %s mm, and has its whole area', (chord) => {
  const { oc } = kernel;
  withScope((own) => {
    oc.BRepTools.Clean(face, true);
    own(new oc.BRepMesh_IncrementalMesh(face, chord, false, 0.35, false));
    const nodes = () => {
      let count = 0;
      eachFaceNodes(oc, face, ({ positions }) => (count += positions.length / 3));
      return count;
    };
    expect(nodes()).toBe(0);
    const made = tessellate(oc, face, { chordTolerance: chord });
    expect(made?.faceHashes).toHaveLength(1);
    // Its nodes are there for whoever samples it.
    expect(nodes()).toBe((made?.mesh.positions.length ?? 0) / 3);
    const area = own(new oc.GProp_GProps());
    oc.BRepGProp.SurfaceProperties(face, area, 1e-6, false);
    expect(made && meshArea(made.mesh) / area.Mass()).toBeGreaterThan(1 - 0.06 * chord);
    expect(made && meshArea(made.mesh) / area.Mass()).toBeLessThan(1.0001);
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
