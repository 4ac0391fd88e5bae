import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { placePieces } from '#core/assembly';
import { say } from '#core/issues';
import { type Kernel, loadKernel, OpenModel } from '#core/kernel';
import { ALONE } from '#core/making';
import { distance, type Motion, type Vec3 } from '#core/math';
import { type Model, type NamedMesh, readGlb, readStl, type TriMesh, writeGlb, writeStl } from '#core/mesh';
import type { Check, ComponentRecord, PackedPart } from '#core/records';
import { workOf } from '#core/sources';
import { cookRecipe, openPackage, type OpenedPackage, packAssembly, readRecipe, verifyPackage } from '../index.ts';
import { verifyNumbers } from './numbers.ts';
import { type PartToVerify, verifyPart } from './verify-part.ts';

// The demo's package, made once; each test plants a fault in each of its parts. Corners are moved and files written here, by hand.
const demo = join(import.meta.dirname, '../../../../demo');
let kernel: Kernel;
let bytes: Uint8Array;
let opened: OpenedPackage;
let placed: Map<string, Motion>;
const open = new Map<string, { source: OpenModel; model: Model }>();
beforeAll(async () => {
  kernel = await loadKernel();
  const recipe = readRecipe(readFileSync(join(demo, 'hub-station.json'), 'utf8'), 'hub-station.json');
  if (!recipe.ok) throw new Error(recipe.issues.map(say).join());
  const used = recipe.value.components.filter((c) => recipe.value.pieces.some((p) => p.component === c.key));
  const cooked = await cookRecipe(kernel, { ...recipe.value, components: used }, (name) => new Uint8Array(readFileSync(join(demo, name))), { now: '' });
  if (!cooked.ok) throw new Error(cooked.issues.map(say).join());
  const packed = await packAssembly(kernel, { ...cooked.value, now: '2026-01-01T00:00:00Z' });
  if (!packed.ok) throw new Error(packed.issues.map(say).join());
  ({ bytes } = packed.value);
  const read = openPackage(bytes, 'p.zip');
  if (!read.ok) throw new Error(read.issues.map(say).join());
  opened = read.value;
  placed = placePieces(opened.assembly, opened.components);
  for (const record of Object.values(opened.components)) {
    const source = await OpenModel.open(kernel, opened.sources[record.id], record.source.fileName, workOf(record));
    if (!source.ok) throw new Error(source.issues.map(say).join());
    const model = source.value.read();
    if (!model.ok) throw new Error(model.issues.map(say).join());
    open.set(record.id, { source: source.value, model: model.value.model });
  }
});

// Each with its files of meshes; its STEP file is read where that is what the test is about.
const parts = ({ withStep = false } = {}): { piece: string; part: PackedPart; given: PartToVerify }[] =>
  opened.manifest.pieces.flatMap(({ piece, componentId, name, parts: all }) =>
    all.map((packed) => {
      const { step: _, ...meshes } = packed.files;
      const part = withStep ? packed : { ...packed, files: meshes };
      const { source, model } = open.get(componentId) as { source: OpenModel; model: Model };
      const gaugeFromFile = placed.get(piece) as Motion;
      const record = opened.components[componentId];
      return { piece, part, given: { kernel, opened, source, model, record, what: `${name}, ${part.target}`, part, gaugeFromFile, crew: ALONE } };
    }),
  );

const failing = (checks: readonly Check[]) => checks.filter((c) => c.state === 'fail');
const withPlanted = (given: PartToVerify, files: Record<string, Uint8Array>) =>
  verifyPart({ ...given, opened: { ...given.opened, files: { ...given.opened.files, ...files } } });

const stlOf = ({ part, given }: { part: PackedPart; given: PartToVerify }): TriMesh => {
  const read = readStl(given.opened.files[part.files.stl], 'x');
  if (!read.ok) throw new Error('stl');
  return read.value;
};
const glbOf = async ({ part, given }: { part: PackedPart; given: PartToVerify }): Promise<NamedMesh[]> => {
  const read = await readGlb(given.opened.files[part.files.glb], 'x');
  if (!read.ok) throw new Error('glb');
  return read.value;
};
const cornerOf = ({ positions: p, triangles: t }: TriMesh, i: number): Vec3 => [p[3 * t[i]], p[3 * t[i] + 1], p[3 * t[i] + 2]];
const near = (a: Vec3, b: Vec3, by = 1e-4) => distance(a, b) < by;
// All corners at a place, in every mesh, go elsewhere.
const moveCorner = (mesh: TriMesh, from: Vec3, by: Vec3): TriMesh => {
  const positions = mesh.positions.slice();
  for (let i = 0; i < positions.length; i += 3)
    if (near([positions[i], positions[i + 1], positions[i + 2]], from)) for (let k = 0; k < 3; k++) positions[i + k] += by[k];
  return { ...mesh, positions };
};
const placeIn = (message: string): Vec3 => {
  const found = /\[([-\d.]+), ([-\d.]+), ([-\d.]+)\]/.exec(message);
  if (!found) throw new Error(`no place in: ${message}`);
  return [Number(found[1]), Number(found[2]), Number(found[3])];
};

describe('the package as it was made', () => {
  it('passes every check, each of which says what it looked at', async () => {
    const verified = await verifyPackage(kernel, bytes, 'p.zip');
    if (!verified.ok) throw new Error(verified.issues.map(say).join());
    expect(failing(verified.value.checks)).toEqual([]);
    const codes = new Set(verified.value.checks.map((c) => c.code));
    for (const code of ['files', 'numbers', 'closed', 'same-everywhere', 'turned', 'step', 'profile', 'enclosure', 'growth']) expect(codes).toContain(code);
    expect(parts()).toHaveLength(6);
  });
});

describe('in each part', () => {
  it.each(['STL', 'GLB'])('a corner of the %s that was moved by 0.01 mm is found, and where', async (format) => {
    for (const [n, { part, given }] of parts().entries()) {
      const mesh = stlOf({ part, given });
      const place = cornerOf(mesh, (7919 * (n + 1)) % mesh.triangles.length);
      const by: Vec3 = [0.006, -0.008, 0];
      const files: Record<string, Uint8Array> =
        format === 'STL'
          ? { [part.files.stl]: writeStl(moveCorner(mesh, place, by)) }
          : { [part.files.glb]: await writeGlb((await glbOf({ part, given })).map((m) => ({ ...m, mesh: moveCorner(m.mesh, place, by) }))) };
      const [found] = failing((await withPlanted(given, files)).files);
      expect(found).toMatchObject({ code: 'same-everywhere', message: expect.stringContaining(given.what) });
      expect(found.message).toMatch(/a corner is 0\.0\d+ mm apart/);
      expect(found.value).toBeCloseTo(0.01, 3);
      expect(near(placeIn(found.message), place, 0.02)).toBe(true);
    }
  });
  it('a triangle that is missing, or turned over, in both meshes is found, and where', async () => {
    for (const [n, { part, given }] of parts().entries()) {
      const mesh = stlOf({ part, given });
      const at = 3 * ((104_729 * (n + 1)) % (mesh.triangles.length / 3));
      const corners = [0, 1, 2].map((k) => cornerOf(mesh, at + k));
      const isIt = (m: TriMesh, i: number) => corners.every((c) => [0, 1, 2].some((k) => near(cornerOf(m, i + k), c)));
      const without = (m: TriMesh): TriMesh => ({ ...m, triangles: m.triangles.filter((_, i) => !isIt(m, i - (i % 3))) });
      const turned = (m: TriMesh): TriMesh => ({
        ...m,
        triangles: m.triangles.map((v, i) => (isIt(m, i - (i % 3)) ? m.triangles[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1] : v)),
      });
      for (const change of [without, turned]) {
        const glb = (await glbOf({ part, given })).map((m) => ({ ...m, mesh: change(m.mesh) }));
        const files = { [part.files.stl]: writeStl(change(mesh)), [part.files.glb]: await writeGlb(glb) };
        const open = failing((await withPlanted(given, files)).files).filter((c) => c.code === 'closed');
        expect(open).toHaveLength(2);
        // In the middle of one of the sides of the triangle.
        const place = placeIn(open[0].message);
        const middles = [0, 1, 2].map((k): Vec3 => [0, 1, 2].map((j) => (corners[k][j] + corners[(k + 1) % 3][j]) / 2) as unknown as Vec3);
        expect(middles.some((m) => near(m, place, 0.01))).toBe(true);
      }
    }
  });
  it('a dent in both meshes is found by the proof, and where', async () => {
    for (const { part, given } of parts()) {
      const mesh = stlOf({ part, given });
      // Of a corner that stands furthest out, towards the middle.
      const middle: Vec3 = [0, 1, 2].map(
        (k) => mesh.positions.reduce((s, v, i) => (i % 3 === k ? s + v : s), 0) / (mesh.positions.length / 3),
      ) as unknown as Vec3;
      let place: Vec3 = middle;
      for (let i = 0; i < mesh.triangles.length; i++) {
        const c = cornerOf(mesh, i);
        if (distance(c, middle) > distance(place, middle)) place = c;
      }
      const way = distance(place, middle);
      const by = [0, 1, 2].map((k) => (0.65 * (middle[k] - place[k])) / way) as unknown as Vec3;
      const glb = (await glbOf({ part, given })).map((m) => ({ ...m, mesh: moveCorner(m.mesh, place, by) }));
      const files = { [part.files.stl]: writeStl(moveCorner(mesh, place, by)), [part.files.glb]: await writeGlb(glb) };
      const { files: checks, prove } = await withPlanted(given, files);
      const [found] = failing(await prove()).filter((c) => c.code === 'enclosure');
      expect(found.message).toContain(given.what);
      expect(Number(/cuts ([\d.]+) mm/.exec(found.message)?.[1])).toBeGreaterThan(0.05);
      expect(near(placeIn(found.message), place, 12)).toBe(true);
      // What turns is also held against its profile.
      if (part.profile) expect(failing(checks).map((c) => c.code)).toContain('turned');
    }
  });
  it('that is turned, a corner moved by 0.01 mm in both meshes is found, whichever way, and where', async () => {
    const turned = parts().filter((p) => p.part.profile);
    expect(turned.length).toBeGreaterThan(0);
    for (const { part, given } of turned) {
      const mesh = stlOf({ part, given });
      for (const by of [
        [0.01, 0, 0],
        [0, -0.01, 0],
        [0, 0, 0.01],
      ] as const) {
        const place = cornerOf(mesh, mesh.triangles.length >> 1);
        const glb = (await glbOf({ part, given })).map((m) => ({ ...m, mesh: moveCorner(m.mesh, place, by) }));
        const files = { [part.files.stl]: writeStl(moveCorner(mesh, place, by)), [part.files.glb]: await writeGlb(glb) };
        const [found] = failing((await withPlanted(given, files)).files);
        expect(found.code).toBe('turned');
        expect(near(placeIn(found.message), place, 0.02)).toBe(true);
      }
    }
  });
  it('a point of its STEP file that was moved by 0.01 mm is found', async () => {
    for (const { part, given } of parts({ withStep: true })) {
      const path = part.files.step as string;
      const text = new TextDecoder().decode(given.opened.files[path]);
      // The point of a corner of the topology.
      const vertex = /VERTEX_POINT\('',#(\d+)\)/.exec(text)?.[1] as string;
      const moved = text.replace(new RegExp(`(#${vertex} = CARTESIAN_POINT\\('',\\()([^,]+),`), (_, head: string, x: string) => `${head}${Number(x) + 0.01},`);
      expect(moved).not.toBe(text);
      const found = failing((await withPlanted(given, { [path]: new TextEncoder().encode(moved) })).files);
      expect(found.map((c) => c.code)).toEqual(['step']);
      expect(found[0].message).toMatch(/STEP differs at \[.*\]|cannot be read/);
    }
  });
  it('its mount that was moved by 0.01 mm in its record is found by the proof', async () => {
    for (const { piece, given } of parts()) {
      const { record } = given;
      const { mount } = record;
      if (!mount) throw new Error('no mount');
      const origin: Vec3 = [mount.frame.origin[0] + 0.006, mount.frame.origin[1], mount.frame.origin[2] + 0.008];
      const moved: ComponentRecord = { ...record, mount: { ...mount, frame: { ...mount.frame, origin } } };
      // The records now put the vendor's faces elsewhere than where the meshes stand.
      const gaugeFromFile = placePieces(opened.assembly, { ...opened.components, [record.id]: moved }).get(piece) as Motion;
      const { files, prove } = await verifyPart({ ...given, record: moved, gaugeFromFile });
      const found = failing([...files, ...(await prove())]);
      expect(found.map((c) => c.code)).toContain('enclosure');
      for (const { message } of found) placeIn(message);
    }
  });
});

describe('its numbers', () => {
  const changed = (change: (m: OpenedPackage['manifest']) => void) => {
    const manifest = structuredClone(opened.manifest);
    change(manifest);
    return failing(verifyNumbers({ ...opened, manifest }, placed)).map((c) => c.message);
  };
  it('that were changed are named, each', () => {
    expect(changed(() => undefined)).toEqual([]);
    expect(changed((m) => (m.gaugeLength = (m.gaugeLength ?? 0) + 0.002))).toEqual([expect.stringMatching(/^The gauge length differs .* by 0\.0020 mm/)]);
    opened.manifest.tips.forEach((tip, i) => {
      const piece = opened.manifest.pieces.find((p) => p.piece === tip.piece)?.name as string;
      for (const field of ['L', 'Q', 'Y', 'noseRadius'] as const)
        expect(changed((m) => (m.tips[i][field] += 0.01))).toEqual([
          expect.stringMatching(new RegExp(`^${field} of ${tip.name} \\(${piece}\\) .* 0\\.0100 mm`, 'i')),
        ]);
      expect(changed((m) => (m.tips[i].noseCentre = [m.tips[i].noseCentre[0] + 0.01, m.tips[i].noseCentre[1], m.tips[i].noseCentre[2]]))).toHaveLength(1);
    });
    opened.manifest.pieces.forEach(({ name }, i) => {
      const [message, ...more] = changed((m) => {
        const { origin } = m.pieces[i].mountInGauge;
        m.pieces[i].mountInGauge = { ...m.pieces[i].mountInGauge, origin: [origin[0], origin[1] + 0.01, origin[2]] };
      });
      expect([message, more]).toEqual([expect.stringMatching(new RegExp(`^The mount of ${name} .* 0\\.0100 mm`)), []]);
    });
    expect(changed((m) => m.tips.pop())).toHaveLength(1);
    expect(changed((m) => m.pieces.pop())).toHaveLength(1);
  });
});
