import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, NO_WORK, readModelFile } from '#core/kernel';
import { angleBetweenRad, cross, degFromRad, distance, dot, move, normalize, rotationAbout, scale, subtract, turn, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { sampleComponent } from '#core/records';
import { readDesignation } from '#core/standards';
import { isAxisEnd, type Truth } from '../../../demo/corpus/judge.ts';
import { compareWithDesignation, computeFacts, computeMinimumBore, findMistakes, proposeReading, type Reading } from './index.ts';

// Some models of the corpus that reading was worked on with, one or two of each kind; npm run bench:reading judges all of them.
const folder = join(import.meta.dirname, '../../../demo/corpus');
const truths = JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')) as Truth[];
const FILES = [
  'turning-4.step', // one solid, shank 32
  'turning-10.step', // tilted insert
  'turning-11.stl', // tilted, as a mesh
  'boring-2.stl', // three flats
  'boring-5.stl',
  'grooving-1.step', // two corners
  'threading-2.stl',
  'holder-1.step', // lobed taper
  'holder-5.stl', // 7/24 as a mesh
  'cutter-1.step', // end mill: nothing tells the work but its flutes
  'block-4.step', // channel through
  'block-5.stl', // flat foot
  'adapter-2.stl',
];

let kernel: Kernel;
const models = new Map<string, Model>();
const open = async (file: string): Promise<Model> => {
  const r = await readModelFile(kernel, new Uint8Array(readFileSync(join(folder, 'models', file))), file);
  if (!r.ok) throw new Error(`${file} did not open`);
  return r.value.model;
};
beforeAll(async () => {
  kernel = await loadKernel();
  for (const f of FILES) models.set(f, await open(f));
}, 120_000);
const model = (file: string) => models.get(file) as Model;
const offDeg = (a: Vec3, b: Vec3) => degFromRad(angleBetweenRad(a, b));

describe.each(FILES)('%s', (file) => {
  const truth = truths.find((t) => t.file === file) as Truth;
  it('is not one of those that are held back', () => expect(truth.heldBack).toBe(false));
  it('roles, mount with its plane and sense, seats, tips', () => {
    const reading = proposeReading(model(file));
    for (const t of truth.bodies) {
      const body = [...model(file).bodies].sort((a, b) => apart(a, t) - apart(b, t))[0];
      expect([body.id, reading.roles.find((r) => r.body === body.id)?.role]).toEqual([body.id, t.role]);
    }
    const { mount } = reading;
    if (!mount) throw new Error('no mount');
    expect(mount.connection).toEqual(truth.mount.connection);
    expect(offDeg(mount.frame.z, truth.mount.frame.z)).toBeLessThan(0.01);
    expect(Math.abs(dot(subtract(mount.frame.origin, truth.mount.frame.origin), truth.mount.frame.z))).toBeLessThan(0.01);
    for (const s of truth.seats) expect(reading.seats.some((r) => r.connection.size === s.connection.size && offDeg(r.frame.z, s.frame.z) < 0.1)).toBe(true);
    expect(reading.tips.filter((t) => !isAxisEnd(t, truth, model(file)))).toHaveLength(truth.tips.length);
    for (const t of truth.tips) {
      const tip = [...reading.tips].sort((a, b) => distance(a.noseCentre, t.noseCentre) - distance(b.noseCentre, t.noseCentre))[0];
      const limit = file.endsWith('.stl') ? 0.03 : 0.01;
      expect(Math.abs(tip.noseRadius - t.noseRadius)).toBeLessThan(limit);
      expect(distance(tip.noseCentre, t.noseCentre)).toBeLessThan(limit);
      if (t.enteringAngle !== undefined) expect(Math.abs(tip.enteringAngle - t.enteringAngle)).toBeLessThan(0.1);
      if (t.includedAngle !== undefined) expect(Math.abs(tip.includedAngleInPlane - t.includedAngle)).toBeLessThan(0.1);
      if (t.hand) expect(tip.hand).toBe(t.hand);
    }
  });
});
const apart = (b: BodyGeometry, t: Truth['bodies'][number]) => distance(b.centroid, t.centroid) + 20 * Math.abs(Math.log(Math.abs(b.volume / t.volume)));

describe('X of a taper', () => {
  it('goes through the drive slot: of a flange either of two alike, of a hollow taper the deeper one in its end', async () => {
    for (const [file, slot] of [
      ['holder-5.stl', 'x'],
      ['adapter-2.stl', 'x'],
      ['holder-3.step', 'y'],
      ['holder-11.stl', 'y'],
    ] as const) {
      const truth = truths.find((t) => t.file === file) as Truth;
      const { z, x } = truth.mount.frame;
      const found = proposeReading(models.get(file) ?? (await open(file))).mount;
      const along = dot(found?.frame.x ?? [0, 0, 0], slot === 'x' ? x : cross(z, x));
      expect([file, slot === 'x' ? Math.abs(along) : along]).toEqual([file, expect.closeTo(1, 6)]);
      expect(found?.evidence).toContain(slot === 'x' ? 'one of 2 alike' : 'the deeper one');
    }
  });
});

describe('honesty', () => {
  it('the faces that a proposal names exist, and the mount lies by them', () => {
    for (const file of FILES) {
      const { mount, tips } = proposeReading(model(file));
      for (const f of [...(mount?.faces ?? []), ...tips.flatMap((t) => t.faces.map((face) => ({ body: t.body, face })))])
        expect(model(file).bodies.find((b) => b.id === f.body)?.faces[f.face]).toBeDefined();
    }
  });
  it('a mesh in inches is suspected, and the same in mm is not', async () => {
    const bytes = new Uint8Array(readFileSync(join(folder, 'models', 'boring-5.stl')));
    const small = await readModelFile(kernel, bytes, 'boring-5.stl', { work: { ...NO_WORK, scale: 1 / 25.4 } });
    if (!small.ok) throw new Error('not opened');
    expect(proposeReading(small.value.model).warnings.find((w) => w.code === 'unit')?.message).toContain('25.4 times larger');
    for (const file of FILES) expect(proposeReading(model(file)).warnings.map((w) => w.code)).not.toContain('unit');
  });
});

// A record as accepting all proposals makes it.
function accepted(reading: Reading) {
  const { mount, tips, roles } = reading;
  if (!mount) throw new Error('no mount');
  const origin = { from: 'picked' as const, evidence: '' };
  return sampleComponent('c', {
    bodies: roles.map((r) => ({ id: r.body, name: r.body, role: r.role, hidden: false })),
    mount: { id: 'mount', name: 'Mount', frame: mount.frame, connection: mount.connection, origin },
    tips: tips.map((t, i) => ({
      id: `t${i}`,
      name: 'Tip',
      noseRadius: t.noseRadius,
      noseCentre: t.noseCentre,
      corner: { x: 1, z: 1 },
      programmedPoint: 'virtual tip',
      origin,
    })),
  });
}
const factOf = (file: string, key: string) => computeFacts(accepted(proposeReading(model(file))), model(file)).facts.find((f) => f.key === key)?.value;

describe('facts', () => {
  it('are those that the model was made with (ISO 5608: V insert, KAPR 93, shank 16)', () => {
    expect(factOf('turning-11.stl', 'IC')).toBeCloseTo(9.525, 1);
    expect(factOf('boring-5.stl', 'IC')).toBeCloseTo(6.35, 2);
    expect(factOf('boring-5.stl', 'KAPR')).toBeCloseTo(95, 1);
  });
  it('differences from a designation are found, and agreement too', () => {
    const record = accepted(proposeReading(model('boring-5.stl')));
    const { facts } = computeFacts(record, model('boring-5.stl'));
    const said = readDesignation('A10H-SCLCR 06');
    if (!said.ok) throw new Error('no designation');
    const found = compareWithDesignation(said.value, facts, record);
    expect(found.find((d) => d.name === 'entering angle')?.agrees).toBe(true);
    expect(found.find((d) => d.name === 'inscribed circle')?.agrees).toBe(true);
    expect(found.find((d) => d.name === 'shank')).toMatchObject({ said: 10, agrees: record.mount?.connection.size === 10 });
  });
});

describe('mistakes', () => {
  const file = 'boring-5.stl';
  const good = () => accepted(proposeReading(model(file)));
  const codes = (record: ReturnType<typeof good>, said?: string) => {
    const d = said ? readDesignation(said) : undefined;
    return findMistakes(record, model(file), d?.ok ? d.value : undefined).map((m) => m.code);
  };
  const moved = (change: (f: { origin: Vec3; z: Vec3; x: Vec3 }) => { origin: Vec3; z: Vec3; x: Vec3 }) => {
    const r = good();
    return { ...r, mount: r.mount && { ...r.mount, frame: change(r.mount.frame) } };
  };
  it('there are none where all is as it was read, in no file', () => {
    for (const f of FILES) {
      const reading = proposeReading(model(f));
      const record = {
        ...accepted(reading),
        seats: reading.seats.map((s, i) => ({
          id: `s${i}`,
          name: '',
          frame: s.frame,
          connection: s.connection,
          origin: { from: 'read' as const, evidence: '' },
        })),
      };
      // The plane through a tilted insert's tip is not the one through its nose centre.
      expect([f, findMistakes(record, model(f)).filter((m) => m.code !== 'tip-off-plane')]).toEqual([f, []]);
    }
  });
  it('Z turned round, the mount beside its face or axis', () => {
    expect(codes(moved((f) => ({ ...f, z: scale(f.z, -1) })))).toContain('z-turned');
    expect(codes(moved((f) => ({ ...f, origin: [f.origin[0] + 0.3 * f.z[0], f.origin[1] + 0.3 * f.z[1], f.origin[2] + 0.3 * f.z[2]] })))).toContain(
      'mount-off-face',
    );
    expect(codes(moved((f) => ({ ...f, origin: [f.origin[0] + 0.3 * f.x[0], f.origin[1] + 0.3 * f.x[1], f.origin[2] + 0.3 * f.x[2]] })))).toContain(
      'mount-off-axis',
    );
  });
  it('a mount that is far beside every axis, or askew to all, is not taken for another one', () => {
    expect(codes(moved((f) => ({ ...f, origin: [f.origin[0] + 12 * f.x[0], f.origin[1] + 12 * f.x[1], f.origin[2] + 12 * f.x[2]] })))).toContain(
      'mount-off-axis',
    );
    const askew = rotationAbout([0, 0, 0], [1, 0, 0], 0.3);
    expect(codes(moved((f) => ({ ...f, z: turn(askew, f.z), x: turn(askew, f.x) })))).toContain('mount-off-axis');
  });
  it('a tip off the plane, and a hand that is not the designation’s', () => {
    expect(codes(moved((f) => ({ ...f, x: turn(rotationAbout([0, 0, 0], f.z, 0.05), f.x) })))).toContain('tip-off-plane');
    const hand = proposeReading(model(file)).tips[0].hand;
    expect(codes(good(), `A10H-SCLC${hand === 'right' ? 'L' : 'R'} 06`)).toContain('upside-down');
    expect(codes(good(), `A10H-SCLC${hand === 'right' ? 'R' : 'L'} 06`)).not.toContain('upside-down');
  });
});

describe('minimum bore', () => {
  // A square bar 10 x 10 along Z whose corner edge x = 5, y = 0.. is cut by a tip at x = 6.
  const square = (half: number, x0: number, long: number): BodyGeometry => {
    const p = [-1, 1].flatMap((sx) => [-1, 1].flatMap((sy) => [0, long].map((z): Vec3 => [x0 + sx * half, sy * half, z])));
    const quads = [
      [0, 1, 3, 2],
      [4, 6, 7, 5],
      [0, 4, 5, 1],
      [2, 3, 7, 6],
      [0, 2, 6, 4],
      [1, 5, 7, 3],
    ];
    const triangles = Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d]));
    return { mesh: { positions: Float64Array.from(p.flat()), triangles } } as BodyGeometry;
  };
  const frame = { origin: [0, 0, 0] as Vec3, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 };
  it('of a square bar is that of its far corners and its near ones, by the closed formula', () => {
    // Corners at dx = -1 and -11, dy = 5: (1 + 25) / 1 = 26 and (121 + 25) / 11 = 13.27.
    const curve = computeMinimumBore([square(5, 0, 90)], frame, [6, 0, 100], { depths: 10 });
    expect(curve[curve.length - 1].diameter).toBeCloseTo(26, 9);
    expect(curve[0].diameter).toBe(0);
    expect(curve.map((c) => c.diameter)).toEqual([...curve.map((c) => c.diameter)].sort((a, b) => a - b));
  });
  it('what stands out as far as the tip goes into no bore, from its depth on', () => {
    const curve = computeMinimumBore([square(5, 2, 40)], frame, [6, 0, 100], { depths: 10 });
    expect(curve.filter((c) => !Number.isFinite(c.diameter)).map((c) => c.depth)).toEqual([60, 70, 80, 90, 100]);
  });
  it('does not depend on the pose', () => {
    const m = rotationAbout([3, 4, 5], normalize([1, 2, 3]), 1.1);
    const body = square(5, 0, 90);
    const p = body.mesh.positions;
    const there = {
      mesh: {
        ...body.mesh,
        positions: Float64Array.from(Array.from({ length: p.length / 3 }, (_, i) => move(m, [p[3 * i], p[3 * i + 1], p[3 * i + 2]])).flat()),
      },
    } as BodyGeometry;
    const curve = computeMinimumBore([there], { origin: move(m, frame.origin), z: turn(m, frame.z), x: turn(m, frame.x) }, move(m, [6, 0, 100]), {
      depths: 10,
    });
    expect(curve[10].diameter).toBeCloseTo(26, 6);
  });
});
