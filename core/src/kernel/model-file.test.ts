import { beforeAll, describe, expect, it } from '@jest/globals';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { type Kernel, loadKernel, NO_WORK, type PlainSolid, readModelFile, sampleSolids, writePlainStep } from './index.ts';
import { compose, distance, IDENTITY, type Motion, move, normalize, rotationAbout, translation, turn, type Vec3 } from '#core/math';
import {
  joinMeshes,
  meshFormatOf,
  meshVolume,
  type Model,
  modelFromMeshes,
  moveMesh,
  readMeshFile,
  readObj,
  readStl,
  readThreeMf,
  smoothNeighbours,
  type TriMesh,
  writeGlb,
  writeStl,
  writeThreeMf,
} from '#core/mesh';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const meshOf = (solid: PlainSolid, at: Motion = IDENTITY, chordTolerance = 0.05): TriMesh => {
  const r = sampleSolids(kernel, writePlainStep(kernel, [{ solid, name: 's', fileFromSolid: at }]), 'x', { chordTolerance });
  if (!r.ok) throw new Error('not sampled');
  return r.value[0].mesh;
};
const open = (meshes: readonly TriMesh[], file = 'x.stl'): { model: Model; codes: string[] } => {
  const stl = readStl(writeStl(joinMeshes(meshes)), file);
  if (!stl.ok) throw new Error('no stl');
  const r = modelFromMeshes({ format: 'stl', unit: 'mm', unitScale: 1, objects: [{ name: '', mesh: stl.value }] }, file);
  if (!r.ok) throw new Error(r.issues[0].code);
  return { model: r.value.model, codes: r.value.warnings.map((w) => w.code) };
};
// A half profile [z, r] turned about Z, its corners on the true circles; from the axis to the axis, outside on the left.
const turned = (profile: readonly [number, number][], flats: number): TriMesh => {
  const ring = (i: number, k: number): Vec3 => {
    const a = (2 * Math.PI * (k % flats)) / flats;
    return [profile[i][1] * Math.cos(a), profile[i][1] * Math.sin(a), profile[i][0]];
  };
  const corners: number[] = [];
  for (let i = 1; i < profile.length; i++)
    for (let k = 0; k < flats; k++) {
      if (profile[i][1] > 0) corners.push(...ring(i - 1, k), ...ring(i, k + 1), ...ring(i, k));
      if (profile[i - 1][1] > 0) corners.push(...ring(i - 1, k), ...ring(i - 1, k + 1), ...ring(i, k + 1));
    }
  return { positions: Float64Array.from(corners), triangles: Uint32Array.from(corners.keys()).slice(0, corners.length / 3) };
};
const kinds = (model: Model, body = 0) => model.bodies[body].faces.map((f) => f.surface.kind).sort();
const askew = compose(translation([31, -120, 250]), rotationAbout([5, 6, 7], normalize([1, -2, 0.5]), 1.234));

describe('faces of a mesh', () => {
  it('a box: six planes, twelve lines, eight corners', () => {
    const { model } = open([meshOf({ kind: 'box', size: [20, 30, 40] }, askew)]);
    expect(kinds(model)).toEqual(Array(6).fill('plane'));
    expect(model.bodies[0].edges.map((e) => e.curve.kind)).toEqual(Array(12).fill('line'));
    expect(model.bodies[0].corners.length / 3).toBe(8);
    expect(model.bodies[0].volume).toBeCloseTo(24000, 0);
  });
  it.each([0.2, 0.05, 0.002])('a cylinder in any pose, tessellated within %f mm: its diameter and axis within 2 micrometres', (chord) => {
    const { model } = open([meshOf({ kind: 'cylinder', radius: 8, height: 60 }, askew, chord)]);
    expect(kinds(model)).toEqual(['cylinder', 'plane', 'plane']);
    const face = model.bodies[0].faces.find((f) => f.surface.kind === 'cylinder');
    const s = face?.surface;
    if (s?.kind !== 'cylinder') throw new Error('no cylinder');
    expect(Math.abs(s.radius - 8)).toBeLessThan(2e-3);
    expect(s.length).toBeCloseTo(60, 3);
    expect(s.concave).toBe(false);
    expect(Math.abs(Math.abs(turn(askew, [0, 0, 1]).reduce((d, v, i) => d + v * s.axis[i], 0)) - 1)).toBeLessThan(1e-9);
    expect(face?.fit).toBeLessThan(1e-3);
    const circles = model.bodies[0].edges.filter((e) => e.curve.kind === 'circle');
    expect(circles).toHaveLength(2);
    for (const c of circles) if (c.curve.kind === 'circle') expect([c.curve.radius, c.curve.sweepRad].map((v) => v.toFixed(2))).toEqual(['8.00', '6.28']);
  });
  it('a ball: a sphere with its radius', () => {
    const { model } = open([meshOf({ kind: 'sphere', radius: 12 })]);
    const [ball] = model.bodies[0].faces.map((f) => f.surface);
    expect(ball.kind === 'sphere' && Math.abs(ball.radius - 12)).toBeLessThan(2e-3);
  });
  it('a rounding between a shoulder and a shaft: a torus with its radii, concave', () => {
    const rounding = Array.from({ length: 9 }, (_, i): [number, number] => {
      const a = (i * Math.PI) / 16;
      return [24 - 4 * Math.cos(a), 16 - 4 * Math.sin(a)];
    });
    const shaft = turned([[0, 0], [0, 30], [20, 30], ...rounding, [60, 12], [60, 0]], 96);
    const { model } = open([moveMesh(askew, shaft)]);
    const tori = model.bodies[0].faces.map((f) => f.surface).filter((s) => s.kind === 'torus');
    expect(tori.map((s) => [s.majorRadius, s.minorRadius].map((v) => v.toFixed(2)).join())).toEqual(['16.00,4.00']);
    expect(tori[0].concave).toBe(true);
    expect(kinds(model)).toEqual(['cylinder', 'cylinder', 'plane', 'plane', 'plane', 'torus']);
  });
  it('a flat on a shaft stays flat, and the shaft round', () => {
    const text = new TextDecoder().decode(
      writePlainStep(kernel, [{ solid: { kind: 'cylinder', radius: 10, height: 50 }, name: 's', fileFromSolid: IDENTITY }]),
    );
    const cut = {
      body: 'b1',
      frame: { origin: [0, 0, 0] as Vec3, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 },
      outline: [
        [8.5, -20],
        [20, -20],
        [20, 20],
        [8.5, 20],
      ] as [number, number][],
      from: -1,
      to: 30,
    };
    const r = sampleSolids(kernel, new TextEncoder().encode(text), 'x', { chordTolerance: 0.02, ids: ['b1'], work: { ...NO_WORK, scale: 1, cuts: [cut] } });
    if (!r.ok) throw new Error('not cut');
    const { model } = open([r.value[0].mesh]);
    const planes = model.bodies[0].faces.filter((f) => f.surface.kind === 'plane');
    expect(planes).toHaveLength(4);
    expect(kinds(model).filter((k) => k === 'cylinder')).toHaveLength(1);
  });
  it.each([3, 4, 8])('a flank between two rounded corners of %i strips stays flat: its corners lie on a large cylinder as well', (strips) => {
    // A plate 12.7 wide and 4 thick with corners of 0.8, from its outline.
    const half = 6.35 - 0.8;
    const outline = [0, 1, 2, 3].flatMap((q) =>
      Array.from({ length: strips + 1 }, (_, i): [number, number] => {
        const a = (q + i / strips) * (Math.PI / 2);
        const [mx, my] = [
          [half, half],
          [-half, half],
          [-half, -half],
          [half, -half],
        ][q];
        return [mx + 0.8 * Math.cos(a), my + 0.8 * Math.sin(a)];
      }),
    );
    const n = outline.length;
    const positions = [0, 4].flatMap((z) => outline.flatMap(([x, y]) => [x, y, z]));
    const sides = outline.flatMap((_, i) => [i, (i + 1) % n, n + ((i + 1) % n), i, n + ((i + 1) % n), n + i]);
    const ends = outline.slice(2).flatMap((_, i) => [0, i + 2, i + 1, n, n + i + 1, n + i + 2]);
    const { model } = open([moveMesh(askew, { positions: Float64Array.from(positions), triangles: Uint32Array.from([...sides, ...ends]) })]);
    const { faces } = model.bodies[0];
    expect(faces.filter((f) => f.surface.kind === 'plane')).toHaveLength(6);
    expect(faces.flatMap((f) => (f.surface.kind === 'cylinder' ? [Math.round(f.surface.radius * 1e3)] : []))).toEqual([800, 800, 800, 800]);
  });
  it('smooth neighbours: a cylinder has none over its sharp ends', () => {
    const { model } = open([meshOf({ kind: 'cylinder', radius: 8, height: 20 })]);
    const round = model.bodies[0].faces.findIndex((f) => f.surface.kind === 'cylinder');
    expect(smoothNeighbours(model.bodies[0], round)).toEqual([]);
  });
});

// Without the triangles around one corner: what was there is not flat.
const withoutCorner = (mesh: TriMesh): TriMesh => {
  const [x, y, z] = mesh.positions;
  const isThere = (v: number) => Math.hypot(mesh.positions[3 * v] - x, mesh.positions[3 * v + 1] - y, mesh.positions[3 * v + 2] - z) < 1e-9;
  const kept: number[] = [];
  for (let i = 0; i < mesh.triangles.length; i += 3) {
    const corners = [mesh.triangles[i], mesh.triangles[i + 1], mesh.triangles[i + 2]];
    if (!corners.some(isThere)) kept.push(...corners);
  }
  return { ...mesh, triangles: Uint32Array.from(kept) };
};

describe('bodies of a mesh', () => {
  it('two boxes that touch are two bodies, also where they share corners', () => {
    const { model, codes } = open([meshOf({ kind: 'box', size: [10, 10, 10] }), meshOf({ kind: 'box', size: [10, 10, 10] }, translation([10, 0, 0]))]);
    expect(model.bodies.map((b) => [b.volume.toFixed(0), b.closed])).toEqual([
      ['1000', true],
      ['1000', true],
    ]);
    expect(codes).toEqual([]);
  });
  it('a hollow belongs to the body around it', () => {
    const inner = meshOf({ kind: 'box', size: [4, 4, 4] }, translation([3, 3, 3]));
    const hollow = { ...inner, triangles: inner.triangles.slice() };
    for (let i = 0; i < hollow.triangles.length; i += 3) [hollow.triangles[i], hollow.triangles[i + 1]] = [hollow.triangles[i + 1], hollow.triangles[i]];
    const { model } = open([meshOf({ kind: 'box', size: [10, 10, 10] }), hollow]);
    expect(model.bodies).toHaveLength(1);
    expect(model.bodies[0].volume).toBeCloseTo(1000 - 64, 2);
  });
  it('inside out, doubled, loose and open ones are mended or said', () => {
    const box = meshOf({ kind: 'box', size: [10, 10, 10] });
    const turned = { ...box, triangles: box.triangles.slice() };
    for (let i = 0; i < turned.triangles.length; i += 3) [turned.triangles[i], turned.triangles[i + 1]] = [turned.triangles[i + 1], turned.triangles[i]];
    expect(open([turned])).toMatchObject({ codes: ['mesh.inside-out'], model: { bodies: [{ closed: true }] } });
    expect(open([turned]).model.bodies[0].volume).toBeCloseTo(1000, 3);
    const doubled = open([box, { ...box, triangles: box.triangles.slice(0, 6) }]);
    expect(doubled.codes).toEqual(['mesh.doubled']);
    expect(doubled.model.bodies[0].mesh.triangles.length).toBe(36);
    const loose = { positions: Float64Array.of(50, 0, 0, 60, 0, 0, 50, 9, 0), triangles: Uint32Array.of(0, 1, 2) };
    expect(open([box, loose])).toMatchObject({ codes: ['mesh.stray'], model: { bodies: [{ id: 'b1' }] } });
    const holed = open([{ ...box, triangles: box.triangles.slice(0, -3) }]);
    expect(holed.codes).toEqual(['mesh.filled']);
    expect(holed.model.bodies[0].volume).toBeCloseTo(1000, 3);
    expect(open([withoutCorner(box)])).toMatchObject({ codes: ['mesh.open'], model: { bodies: [{ closed: false }] } });
    const oneWay = { ...box, triangles: box.triangles.slice() };
    [oneWay.triangles[3], oneWay.triangles[4]] = [oneWay.triangles[4], oneWay.triangles[3]];
    expect(open([oneWay])).toMatchObject({ codes: ['mesh.turned'], model: { bodies: [{ closed: true }] } });
    const twice = open([joinMeshes([box, turned])]);
    expect(twice.codes).toEqual(['mesh.doubled']);
    expect(twice.model.bodies.map((b) => b.volume.toFixed(3))).toEqual(['1000.000']);
  });
  it('of which most hangs together with nothing is refused', () => {
    const box = meshOf({ kind: 'box', size: [10, 10, 10] });
    const positions = Float64Array.from(
      Array.from(box.triangles).flatMap((v, i) => [0, 1, 2].map((k) => box.positions[3 * v + k] + 0.01 * Math.sin(7 * i + k))),
    );
    const loose = { positions, triangles: Uint32Array.from(box.triangles, (_, i) => i) };
    expect(modelFromMeshes({ format: 'stl', unit: 'mm', unitScale: 1, objects: [{ name: '', mesh: loose }] }, 'x.stl')).toMatchObject({
      ok: false,
      issues: [{ code: 'mesh.only-loose', values: { loose: 12, triangles: 12 } }],
    });
  });
});

describe('mesh files', () => {
  const box = (): TriMesh => meshOf({ kind: 'box', size: [10, 20, 30] });
  const read = async (bytes: Uint8Array, file: string) => {
    const format = meshFormatOf(bytes, file);
    if (!format) throw new Error('unknown');
    const r = await readMeshFile(bytes, file, format);
    if (!r.ok) throw new Error(r.issues[0].code);
    const m = modelFromMeshes(r.value, file);
    if (!m.ok) throw new Error(m.issues[0].code);
    return m.value.model;
  };
  it('STL as text, in any case and with exponents', async () => {
    const { positions: p, triangles: t } = box();
    const facets: string[] = [];
    for (let i = 0; i < t.length; i += 3)
      facets.push(
        `FACET normal 0 0 0\nouter loop\n${[0, 1, 2].map((k) => `Vertex ${[0, 1, 2].map((c) => p[3 * t[i + k] + c].toExponential(6)).join(' ')}`).join('\n')}\nendloop\nendfacet`,
      );
    const model = await read(strToU8(`solid part\n${facets.join('\n')}\nendsolid part\n`), 'part.stl');
    expect(model.bodies[0].volume).toBeCloseTo(6000, 1);
    expect(readStl(strToU8('solid part\nfacet\n vertex 1 2 x\n'), 'a.stl')).toMatchObject({
      ok: false,
      issues: [{ code: 'mesh.broken', values: { text: expect.stringContaining('line 3') } }],
    });
    expect(readStl(strToU8('solid part\nvertex 1 2 3\n'), 'a.stl')).toMatchObject({ ok: false });
  });
  it('OBJ: objects are bodies, polygons are cut, negative numbers count back; a corner that is not there is said with its line', async () => {
    const cube = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\nv 1 0 1\nv 1 1 1\nv 0 1 1\n';
    const faces = 'f 4 3 2 1\nf 5/1/1 6/2/1 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 -4 -1\n';
    const model = await read(strToU8(`# c\no cube\n${cube}${faces}`), 'c.obj');
    expect(model.bodies).toHaveLength(1);
    expect(model.bodies[0]).toMatchObject({ name: 'cube', closed: true });
    expect(model.bodies[0].volume).toBeCloseTo(1, 9);
    expect(readObj(strToU8('v 0 0 0\nf 1 2 3\n'), 'c.obj')).toMatchObject({ ok: false, issues: [{ values: { text: expect.stringContaining('line 2') } }] });
  });
  it('GLB and 3MF as this product writes them come back in mm, by their own unit', async () => {
    const named = [{ name: 'a', colour: '#b4173f', mesh: box() }];
    const glb = await read(await writeGlb(named), 'a.glb');
    expect([glb.unit, glb.bodies[0].volume.toFixed(1), glb.bodies[0].colour]).toEqual(['m', '6000.0', '#b4173f']);
    const mf = await read(writeThreeMf(named), 'a.3mf');
    expect([mf.unit, mf.bodies[0].volume.toFixed(1), mf.bodies[0].name]).toEqual(['mm', '6000.0', 'a']);
  });
  it('3MF: units, components and placements of its build', () => {
    const files = unzipSync(writeThreeMf([{ name: 'a', colour: '#000000', mesh: box() }]));
    const xml = new TextDecoder()
      .decode(files['3D/3dmodel.model'])
      .replace('unit="millimeter"', 'unit="inch"')
      .replace(
        '</resources>',
        '<object id="7" type="model"><components><component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 0 0"/><component objectid="1"/></components></object></resources>',
      )
      .replace('<item objectid="1"/>', '<item objectid="7" transform="0 1 0 -1 0 0 0 0 1 0 0 2"/>');
    const r = readThreeMf(zipSync({ ...files, '3D/3dmodel.model': strToU8(xml) }), 'a.3mf');
    if (!r.ok) throw new Error(r.issues[0].code);
    expect([r.value.unit, r.value.unitScale, r.value.objects.length]).toEqual(['inch', 25.4, 2]);
    // (10, 20, 30) of the first: moved by 5 along X, then a quarter turn about Z and 2 up.
    const far = Math.max(...r.value.objects[0].mesh.positions.filter((_, i) => i % 3 === 1));
    expect(far).toBeCloseTo(15, 9);
    expect(readThreeMf(strToU8('PKnothing'), 'a.3mf')).toMatchObject({ ok: false });
  });
  it('a model opens in another unit when that is said', async () => {
    const bytes = writeStl(box());
    const r = await readModelFile(kernel, bytes, 'x.stl', { work: { ...NO_WORK, scale: 25.4, cuts: [] } });
    expect(r.ok && r.value.model.bodies[0].volume).toBeCloseTo(6000 * 25.4 ** 3, -2);
    const step = writePlainStep(kernel, [{ solid: { kind: 'box', size: [10, 20, 30] }, name: 's', fileFromSolid: IDENTITY }]);
    const s = await readModelFile(kernel, step, 'x.step', { work: { ...NO_WORK, scale: 25.4, cuts: [] } });
    expect(s.ok && s.value.model.bodies[0].bbox.max[2]).toBeCloseTo(762, 3);
  });
  it('nothing, and something else, are refused', async () => {
    expect(await readModelFile(kernel, new Uint8Array(0), 'x.stl')).toMatchObject({ ok: false });
    expect(modelFromMeshes({ format: 'stl', unit: 'mm', unitScale: 1, objects: [] }, 'x.stl')).toMatchObject({
      ok: false,
      issues: [{ code: 'mesh.no-triangles' }],
    });
    expect(meshFormatOf(strToU8('hello'), 'x.txt')).toBeUndefined();
  });
});

describe('a body cut in two', () => {
  const bytes = () => writePlainStep(kernel, [{ solid: { kind: 'cylinder', radius: 10, height: 100 }, name: 'bar', fileFromSolid: askew }]);
  const cut = (from: number) => ({
    body: 'b1',
    frame: { origin: move(askew, [0, 0, 0]), z: turn(askew, [0, 0, 1]), x: turn(askew, [1, 0, 0]) },
    outline: [
      [-99, -99],
      [99, -99],
      [99, 99],
      [-99, 99],
    ] as [number, number][],
    from,
    to: 500,
  });
  it('is two closed bodies that make the whole', async () => {
    const r = await readModelFile(kernel, bytes(), 'x.step', { work: { ...NO_WORK, scale: 1, cuts: [cut(70)] }, exactProperties: true });
    if (!r.ok) throw new Error(r.issues[0].code);
    const { bodies } = r.value.model;
    expect(bodies.map((b) => [b.id, b.closed])).toEqual([
      ['b1', true],
      ['b2', true],
    ]);
    expect(bodies[0].volume).toBeCloseTo(Math.PI * 100 * 70, 4);
    expect(bodies[1].volume).toBeCloseTo(Math.PI * 100 * 30, 4);
    expect(distance(bodies[1].centroid, move(askew, [0, 0, 85]))).toBeLessThan(1e-6);
  });
  it('a cut that misses says so', async () => {
    expect(await readModelFile(kernel, bytes(), 'x.step', { work: { ...NO_WORK, scale: 1, cuts: [cut(200)] } })).toMatchObject({
      ok: false,
      issues: [{ code: 'cut.nothing' }],
    });
  });
  it('a mesh is cut as well, and its faces are found again', async () => {
    const mesh = meshOf({ kind: 'cylinder', radius: 10, height: 100 }, askew, 0.01);
    const r = await readModelFile(kernel, writeStl(mesh), 'x.stl', { work: { ...NO_WORK, cuts: [cut(70)] } });
    if (!r.ok) throw new Error(r.issues[0].code);
    const { bodies } = r.value.model;
    expect(bodies.map((b) => [b.id, b.name, b.closed])).toEqual([
      ['b1', 'Body 1', true],
      ['b2', 'Cut 1', true],
    ]);
    for (const [i, long] of [70, 30].entries()) {
      expect(kinds(r.value.model, i)).toEqual(['cylinder', 'plane', 'plane']);
      expect(bodies[i].volume / (Math.PI * 100 * long)).toBeCloseTo(1, 2);
    }
    expect(bodies[0].volume + bodies[1].volume).toBeCloseTo(meshVolume(mesh), 1);
  });
  it('an open mesh is not cut', async () => {
    const mesh = meshOf({ kind: 'box', size: [9, 9, 200] });
    const open = withoutCorner(mesh);
    expect(
      await readModelFile(kernel, writeStl(open), 'x.stl', {
        work: { ...NO_WORK, cuts: [{ ...cut(70), frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } }] },
      }),
    ).toMatchObject({
      ok: false,
      issues: [{ code: 'mesh.no-cut' }],
    });
  });
});
