import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { compose, IDENTITY, rotationAbout, translation } from '#core/math';
import { isClosedMesh, validateMesh, weld } from '#core/mesh';
import { asSplines } from '../../../demo/corpus/as-splines.ts';
import { changedSurfaces } from './changed-faces.ts';
import { checkStepText, type Kernel, loadKernel, sampleSolids, writePlainStep } from './index.ts';
import { withSolids } from './open-solids.ts';
import { withScope } from './scope.ts';
import { done } from '#core/issues';

const INCH = readFileSync(join(import.meta.dirname, '../../../demo/models/hub-bore-bar-16-inch.step'), 'latin1');

let kernel: Kernel;
let solids: string;
beforeAll(async () => {
  kernel = await loadKernel();
  const fileFromSolid = compose(translation([120, -40, 9]), rotationAbout([0, 0, 0], [0.3, -0.5, 0.81], 1.1));
  const named = [
    { kind: 'box', size: [10, 20, 30] },
    { kind: 'cylinder', radius: 8, height: 20 },
    { kind: 'sphere', radius: 7 },
    { kind: 'torus', major: 12, minor: 3 },
  ] as const;
  solids = new TextDecoder().decode(
    writePlainStep(
      kernel,
      named.map((solid) => ({ solid, name: solid.kind, fileFromSolid })),
    ),
  );
});

const bytesOf = (text: string) => new TextEncoder().encode(text);

function factsOf(text: string) {
  const facts = checkStepText(bytesOf(text), 'x.step');
  if (!facts.ok) throw new Error(JSON.stringify(facts.issues));
  return facts.value;
}

/** What the kernel is given of a text. */
const read = (text: string, asWritten = new Set<number>()): string => factsOf(text).toRead.text(asWritten) ?? text;

function sampled(text: string, chordTolerance = 0.02) {
  const made = sampleSolids(kernel, bytesOf(text), 'x.step', { chordTolerance });
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  return made.value;
}

const counted = (text: string, type: string) => text.match(new RegExp(`=\\s*${type}\\s*\\(`, 'g'))?.length ?? 0;
const KINDS = ['PLANE', 'CYLINDRICAL_SURFACE', 'CONICAL_SURFACE', 'SPHERICAL_SURFACE', 'TOROIDAL_SURFACE'];

describe('a STEP file that writes its surfaces as splines', () => {
  it('has the volumes of its solids, by their formulas, and the surfaces that they were', () => {
    const { text, counts } = asSplines(solids);
    expect(counts).toEqual({ PLANE: 8, CYLINDRICAL_SURFACE: 1, SPHERICAL_SURFACE: 1, TOROIDAL_SURFACE: 1 });
    const bodies = sampled(text);
    const volumes = [6000, Math.PI * 64 * 20, (4 / 3) * Math.PI * 343, 2 * Math.PI ** 2 * 12 * 9];
    bodies.forEach((b, i) => {
      expect(b.volume / volumes[i]).toBeCloseTo(1, 5);
      expect(isClosedMesh(validateMesh(weld(b.mesh, 1e-4)))).toBe(true);
    });
    expect([...new Set(bodies.flatMap((b) => b.surfaces.map((s) => s.kind)))].sort()).toEqual(['cylinder', 'plane', 'sphere', 'torus']);
    // As many triangles as it has where it is plainly written.
    expect(bodies.map((b) => b.mesh.triangles.length)).toEqual(sampled(solids).map((b) => b.mesh.triangles.length));
  });
  it('is written plainly for the kernel, in inches, its edges without what they were on the splines', () => {
    const { text, counts } = asSplines(INCH, 15);
    const plain = read(text);
    for (const kind of KINDS) expect([kind, counted(plain, kind)]).toEqual([kind, counts[kind] ?? 0]);
    expect(plain).not.toContain('B_SPLINE_SURFACE');
    expect(counted(text, 'SURFACE_CURVE')).toBeGreaterThan(100);
    expect(/EDGE_CURVE\('[^']*',#\d+,#\d+,#(\d+),/.exec(plain)?.[1]).toBeDefined();
    const curves = new Set([...plain.matchAll(/#(\d+)\s*=\s*(?:SURFACE_CURVE|SEAM_CURVE)\(/g)].map((m) => m[1]));
    expect([...plain.matchAll(/EDGE_CURVE\('[^']*',#\d+,#\d+,#(\d+),/g)].filter((m) => curves.has(m[1]))).toEqual([]);
    // One that is bounded, as a complex instance.
    const bounded = text.replace(
      /=\s*SURFACE_CURVE\('',(#\d+),(\([^)]*\)),\.PCURVE_S1\.\);/,
      (_, curve: string, on: string) =>
        `=(BOUNDED_CURVE()BOUNDED_SURFACE_CURVE()CURVE()GEOMETRIC_REPRESENTATION_ITEM()REPRESENTATION_ITEM('')SURFACE_CURVE(${curve},${on},.PCURVE_S1.));`,
    );
    const [, id] = /#(\d+)\s*=\(BOUNDED_CURVE\(\)BOUNDED_SURFACE_CURVE/.exec(bounded) ?? [];
    expect([bounded, read(bounded)].map((t) => new RegExp(`EDGE_CURVE\\('[^']*',#\\d+,#\\d+,#${id},`).test(t))).toEqual([true, false]);
    const [volumes, before] = [sampled(text), sampled(INCH)].map((bodies) => bodies.map((b) => b.volume));
    volumes.forEach((v, i) => expect(v / before[i]).toBeCloseTo(1, 6));
  });
  it('keeps those that something else than a face is made of, and those that are to stay', () => {
    const { text } = asSplines(INCH, 15);
    const id = /#(\d+)\s*=\s*B_SPLINE_SURFACE_WITH_KNOTS/.exec(text)?.[1] ?? '';
    const trimmed = text.replace(/ENDSEC;\s*END-ISO/, `#990001=RECTANGULAR_TRIMMED_SURFACE('',#${id},0.,1.,0.,1.,.T.,.T.);\nENDSEC;\nEND-ISO`);
    expect(counted(read(trimmed), 'B_SPLINE_SURFACE_WITH_KNOTS')).toBe(1);
    expect(counted(read(text, new Set([Number(id)])), 'B_SPLINE_SURFACE_WITH_KNOTS')).toBe(1);
  });
  it('has the angles of its cones in the file’s unit, and keeps cones where that is not sure', () => {
    const { text } = asSplines(INCH, 15);
    const angles = (step: string) => [...step.matchAll(/CONICAL_SURFACE\('',#\d+,[^,]*,([^)]*)\)/g)].map((m) => Number(m[1]));
    const radians = angles(read(text));
    const unit = /#(\d+)\s*=\s*\(\s*NAMED_UNIT\(\*\)\s*PLANE_ANGLE_UNIT\(\)\s*SI_UNIT\(\$,\.RADIAN\.\)\s*\);/.exec(text);
    if (!unit) throw new Error('no angle unit');
    const degree = `#990001=(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.));
#990002=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(0.017453292519943295),#990001);
#990003=DIMENSIONAL_EXPONENTS(0.,0.,0.,0.,0.,0.,0.);
#${unit[1]}=(CONVERSION_BASED_UNIT('DEGREE',#990002)NAMED_UNIT(#990003)PLANE_ANGLE_UNIT());`;
    const all = text.replaceAll(/#\d+\s*=\s*\(\s*NAMED_UNIT\(\*\)\s*PLANE_ANGLE_UNIT\(\)\s*SI_UNIT\(\$,\.RADIAN\.\)\s*\);/g, (found) =>
      found === unit[0] ? degree : found,
    );
    const others = [...all.matchAll(/#(\d+)\s*=\s*\(\s*NAMED_UNIT\(\*\)\s*PLANE_ANGLE_UNIT\(\)\s*SI_UNIT\(\$,\.RADIAN\.\)\s*\);/g)].filter(
      (m) => m[1] !== '990001',
    );
    const same = others.reduce((t, [, id]) => t.replaceAll(`#${id},`, `#${unit[1]},`).replaceAll(`#${id})`, `#${unit[1]})`), all);
    expect(angles(read(same)).map((a) => a * (Math.PI / 180))).toEqual(radians.map((a): unknown => expect.closeTo(a, 9)));
    // A second context in radians.
    const mixed = same.replace(
      /ENDSEC;\s*END-ISO/,
      `#990009=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#990001))REPRESENTATION_CONTEXT('',''));\nENDSEC;\nEND-ISO`,
    );
    expect(angles(read(mixed))).toEqual([]);
    expect(counted(read(mixed), 'CYLINDRICAL_SURFACE')).toBeGreaterThan(5);
  });
  it('a cylinder between two circles without a seam is whole', () => {
    const text = new TextDecoder().decode(writePlainStep(kernel, [{ solid: { kind: 'cylinder', radius: 8, height: 20 }, name: 'a', fileFromSolid: IDENTITY }]));
    const [loop = '', id, ...oriented] = /#(\d+) = EDGE_LOOP\('',\((#\d+),(#\d+),(#\d+),(#\d+)\)\)/.exec(text) ?? [];
    const edges = oriented.map((r) => new RegExp(`${r} = ORIENTED_EDGE\\('',\\*,\\*,(#\\d+)`).exec(text)?.[1]);
    const circles = oriented.filter((_, i) => edges.filter((e) => e === edges[i]).length === 1);
    expect(circles).toHaveLength(2);
    const bound = new RegExp(`(#\\d+) = FACE_(?:OUTER_)?BOUND\\('',#${id},`).exec(text)?.[1];
    const seamless = text
      .replace(loop, `#${id} = EDGE_LOOP('',(${circles[0]}));\n#90001 = EDGE_LOOP('',(${circles[1]}));\n#90002 = FACE_BOUND('',#90001,.T.)`)
      .replace(new RegExp(`(ADVANCED_FACE\\('',\\()${bound}\\)`), `$1${bound},#90002)`);
    const [body] = sampled(asSplines(seamless).text);
    expect(body.volume / (Math.PI * 64 * 20)).toBeCloseTo(1, 5);
    expect(body.surfaces.map((s) => s.kind).sort()).toEqual(['cylinder', 'plane', 'plane']);
  });
  it('surfaces of faces whose edges the kernel took apart are told, and no others', () => {
    const box = writePlainStep(kernel, [{ solid: { kind: 'box', size: [1, 2, 3] }, name: 'a', fileFromSolid: IDENTITY }]);
    const found = (edges: readonly number[]) => {
      const asked = withSolids(kernel, box, 'box.step', undefined, (step) =>
        step.use(([solid]) => done(changedSurfaces(kernel.oc, solid, [edges.map((n, i) => ({ surface: i === 5 ? undefined : 10 + i, edges: n }))]))),
      );
      if (!asked.ok) throw new Error('not opened');
      return asked.value && [...asked.value];
    };
    expect(found([4, 4, 4, 4, 4, 4])).toEqual([]);
    // The last one is written as it was.
    expect(found([4, 5, 4, 3, 4, 5])).toEqual([11, 13]);
    expect(found([4, 4, 4, 4, 4])).toBeUndefined();
  });
  it('a face of which the kernel loses a piece on the plain surface is told, so that it is read as it is written', () => {
    // A mantle in splines with two cross holes, one of which touches the edge of its end.
    const text = readFileSync(join(import.meta.dirname, 'touching-border.step'), 'latin1');
    const { toRead } = factsOf(text);
    const { oc } = kernel;
    const areaOf = (shape: TopoDS_Shape) =>
      withScope((own) => {
        const area = own(new oc.GProp_GProps());
        oc.BRepGProp.SurfaceProperties(shape, area, 1e-6, false);
        return area.Mass();
      });
    const opened = (step: string) =>
      withScope((own) => {
        const reader = own(new oc.STEPControl_Reader());
        oc.FS.writeFile('/bare.step', step);
        reader.ReadFile('/bare.step');
        reader.TransferRoots(own(new oc.Message_ProgressRange()));
        const shape = own(reader.OneShape());
        return { area: areaOf(shape), changed: changedSurfaces(oc, shape, toRead.shells()) };
      });
    const plain = opened(toRead.text(new Set()) ?? '');
    expect(Math.abs(plain.area / opened(text).area - 1)).toBeGreaterThan(1e-3);
    expect(plain.changed).toEqual(toRead.surfaces());
    // The one surface of this file.
    expect(toRead.surfaces().size).toBe(1);
    expect(toRead.text(plain.changed ?? new Set())).toBeUndefined();
  });
});
