import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readModelFile, writeStepPart } from '#core/kernel';
import { cross, distance, dot, type Frame, IDENTITY, scale, type Vec3 } from '#core/math';
import type { Model, NamedPlacement } from '#core/mesh';
import { proposeReading } from './index.ts';

// Files with placements as vendors write them, by text: a holder by hand, and its like with everything that may be wrong.
const FILE = join(import.meta.dirname, '../../../demo/corpus/models/holder-1.step');
let kernel: Kernel;
let plain: Model;
const open = async (bytes: Uint8Array) => {
  const r = await readModelFile(kernel, bytes, 'holder.step');
  if (!r.ok) throw new Error('not opened');
  return r.value.model;
};
beforeAll(async () => {
  kernel = await loadKernel();
  plain = await open(new Uint8Array(readFileSync(FILE)));
}, 60_000);

const entity = (id: number, name: string, at: Vec3, z: Vec3, x: Vec3) =>
  [
    `#${id}=CARTESIAN_POINT('',(${at.map((v) => v.toFixed(9)).join(',')}));`,
    `#${id + 1}=DIRECTION('',(${z.map((v) => v.toFixed(12)).join(',')}));`,
    `#${id + 2}=DIRECTION('',(${x.map((v) => v.toFixed(12)).join(',')}));`,
    `#${id + 3}=AXIS2_PLACEMENT_3D('${name}',#${id},#${id + 1},#${id + 2});`,
  ].join('\n');
const withNames = (names: readonly (readonly [string, Frame])[]): Uint8Array => {
  const text = readFileSync(FILE, 'utf8');
  const unit = plain.unitScale;
  const lines = names.map(([name, f], i) => entity(900_000 + 10 * i, name, scale(f.origin, 1 / unit), f.z, f.x));
  const end = text.lastIndexOf('ENDSEC;');
  return new TextEncoder().encode(`${text.slice(0, end)}${lines.join('\n')}\n${text.slice(end)}`);
};
const mountOf = () => {
  const { mount } = proposeReading(plain);
  if (!mount) throw new Error('no mount');
  return mount;
};

describe('coordinate systems by name', () => {
  it('are read in mm, by their names with numbers; other placements are not', async () => {
    const f: Frame = { origin: [10, 20, 30], z: [0, 0, -1], x: [0, 1, 0] };
    const model = await open(
      withNames([
        ['MCS', f],
        ['csw_1', f],
        ['CRP', f],
        ['axis', f],
        ['MCSX', f],
      ]),
    );
    expect(model.placements?.map((p) => p.name)).toEqual(['MCS', 'CSW1', 'CRP']);
    for (const p of model.placements as NamedPlacement[]) {
      expect(distance(p.frame.origin, [10, 20, 30])).toBeLessThan(1e-6);
      expect(dot(p.frame.z, [0, 0, -1])).toBeCloseTo(1, 9);
    }
    expect(plain.placements).toBeUndefined();
  });
  it('among the items of a representation do not move its bodies, as the kernel would by itself', async () => {
    const text = readFileSync(FILE, 'utf8').replace(/(#\d+ = ADVANCED_BREP_SHAPE_REPRESENTATION\('',\(#\d+,#\d+)\)/, '$1,#900003,#900013)');
    const named = [entity(900_000, 'PCS', [0, 0, 0], [0, 0, 1], [1, 0, 0]), entity(900_010, 'CSW1', [5, 6, 70], [0, 1, 0], [1, 0, 0])].join('\n');
    const end = text.lastIndexOf('ENDSEC;');
    const model = await open(new TextEncoder().encode(`${text.slice(0, end)}${named}\n${text.slice(end)}`));
    expect(text).toContain('#900013)');
    expect(model.placements?.map((p) => p.name)).toEqual(['PCS', 'CSW1']);
    for (const [i, b] of model.bodies.entries()) expect(distance(b.centroid, plain.bodies[i].centroid)).toBeLessThan(1e-9);
  });
  it('that agree with the geometry make it surer; X is the file’s only where the geometry has none', async () => {
    const { frame } = mountOf();
    const reading = proposeReading(await open(withNames([['MCS', { ...frame, x: scale(frame.x, -1) }]])));
    expect(reading.mount?.confidence).toBeGreaterThan(0.98);
    expect(reading.mount?.evidence).toContain('MCS in the file is there, its X turned by 180°');
    // The lobes of its taper tell X.
    expect(reading.mount?.frame.x).toEqual(frame.x);
    expect(reading.otherMounts).toEqual([]);
    const mill = await open(new Uint8Array(readFileSync(join(FILE, '../cutter-1.step'))));
    const own = proposeReading(mill).mount?.frame as Frame;
    const x = cross(own.z, own.x);
    const told = proposeReading({ ...mill, placements: [{ name: 'MCS', frame: { ...own, x } }] });
    expect(dot(told.mount?.frame.x as Vec3, x)).toBeCloseTo(1, 9);
    expect(told.mount?.evidence).toContain('tells X');
  });
  it('never turn a turning tool about its mount: hand and entering angle stay what the tip says', async () => {
    const model = await open(new Uint8Array(readFileSync(join(FILE, '../turning-10.step'))));
    const plainly = proposeReading(model);
    const f = plainly.mount?.frame as Frame;
    const told = proposeReading({ ...model, placements: [{ name: 'MCS', frame: { ...f, x: cross(f.z, f.x) } }] });
    expect(told.mount?.frame).toEqual(f);
    expect(told.tips.map((t) => [t.hand, t.enteringAngle])).toEqual(plainly.tips.map((t) => [t.hand, t.enteringAngle]));
  });
  it('whose Z is turned round say so, and Z stays towards the work', async () => {
    const { frame } = mountOf();
    const reading = proposeReading(await open(withNames([['MCS', { ...frame, z: scale(frame.z, -1) }]])));
    expect(dot(reading.mount?.frame.z as Vec3, frame.z)).toBeCloseTo(1, 9);
    expect(reading.warnings.map((w) => w.code)).toContain('mcs-turned');
  });
  it('that lie elsewhere are offered beside, the distance is said, and neither is taken unseen', async () => {
    const { frame } = mountOf();
    const there: Frame = { ...frame, origin: [0, 1, 2].map((k) => frame.origin[k] + 12 * frame.z[k]) as unknown as Vec3 };
    const reading = proposeReading(await open(withNames([['MCS', there]])));
    expect(reading.mount?.confidence).toBeLessThan(0.7);
    expect(distance(reading.otherMounts[0].frame.origin, there.origin)).toBeLessThan(1e-6);
    expect(reading.warnings.find((w) => w.code === 'mcs-elsewhere')?.message).toContain('12 mm from the mount');
  });
  it('on the workpiece side make the seat surer, or ask for one', async () => {
    const [seat] = proposeReading(plain).seats;
    const good = proposeReading(await open(withNames([['CSW1', seat.frame]])));
    expect(good.seats[0].confidence).toBeGreaterThan(0.98);
    const bad = proposeReading(await open(withNames([['CSW1', { ...seat.frame, origin: [500, 0, 0] }]])));
    expect(bad.warnings.map((w) => w.code)).toContain('csw-elsewhere');
    expect(bad.seats[0].confidence).toBe(seat.confidence);
  });
  it('are written into STEP files, and come back where they were', async () => {
    const frame: Frame = { origin: [1, -2, 3.5], z: [0, 0.6, 0.8], x: [1, 0, 0] };
    const placements = [
      { name: 'MCS', frame },
      { name: 'CSW1', frame: { ...frame, origin: [0, 0, 60] as Vec3 } },
    ];
    const bytes = new Uint8Array(readFileSync(FILE));
    const bodies = plain.bodies.map((b) => ({ id: b.id, name: b.name }));
    const step = writeStepPart(kernel, { bytes, file: 'holder.step', bodies, targetFromFile: IDENTITY, placements });
    if (!step.ok) throw new Error('not written');
    const back = await open(step.value);
    expect(back.bodies).toHaveLength(plain.bodies.length);
    expect(back.placements?.map((p) => p.name)).toEqual(['MCS', 'CSW1']);
    for (const [i, p] of placements.entries()) {
      expect(distance(back.placements?.[i].frame.origin as Vec3, p.frame.origin)).toBeLessThan(1e-9);
      expect(dot(back.placements?.[i].frame.z as Vec3, p.frame.z)).toBeCloseTo(1, 9);
    }
  });
});

describe('CUT and NOCUT', () => {
  const renamed = (model: Model, names: (role: string, i: number) => string): Model => {
    const { roles } = proposeReading(model);
    return { ...model, bodies: model.bodies.map((b, i) => ({ ...b, name: names(roles[i].role, i) })) };
  };
  const turning = async () => open(new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/corpus/models/turning-10.step'))));
  it('that agree with the shapes make the roles surer, that contradict them make them unsure', async () => {
    const model = await turning();
    const good = proposeReading(renamed(model, (role) => (role === 'cutting' ? 'CUT_1' : 'NOCUT'))).roles;
    expect(good.map((r) => r.confidence).every((c) => c > 0.98)).toBe(true);
    const bad = proposeReading(renamed(model, (role) => (role === 'cutting' ? 'NOCUT' : 'body'))).roles.find((r) => r.role === 'cutting');
    expect(bad?.confidence).toBeLessThan(0.7);
    expect(bad?.evidence).toContain('but it is called NOCUT');
  });
  it('tell what cuts where no shape does, and are no part of other words', () => {
    // A chuck with its nut: by its shape the nut belongs to the tool.
    const small = plain.bodies.reduce((a, b) => (b.volume < a.volume ? b : a));
    const { roles } = proposeReading({ ...plain, bodies: plain.bodies.map((b) => ({ ...b, name: b === small ? 'CUT' : 'cutter, NOCUTS' })) });
    expect(roles.filter((r) => r.role === 'cutting').map((r) => r.body)).toEqual([small.id]);
  });
  it('are read from layers', async () => {
    const text = readFileSync(join(import.meta.dirname, '../../../demo/corpus/models/turning-10.step'), 'utf8');
    const solid = /#(\d+)\s*=\s*MANIFOLD_SOLID_BREP/.exec(text)?.[1];
    const end = text.lastIndexOf('ENDSEC;');
    const model = await open(new TextEncoder().encode(`${text.slice(0, end)}#990001=PRESENTATION_LAYER_ASSIGNMENT('CUT','',(#${solid}));\n${text.slice(end)}`));
    expect(model.bodies.filter((b) => / CUT$|^CUT$/.test(b.name))).toHaveLength(1);
  });
});
