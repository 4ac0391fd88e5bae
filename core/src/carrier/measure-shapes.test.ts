import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { say } from '#core/issues';
import { type FlatBooleans, type Kernel, loadFlatBooleans, loadKernel, type PlainSolid, readModelFile, writePlainStep } from '#core/kernel';
import { compose, type Frame, type Motion, move, rotationAbout, translation, type Vec3 } from '#core/math';
import { isClosedMesh, meshBounds, meshVolume, moveMesh, type Model, validateMesh } from '#core/mesh';
import { type CarrierOf, type Chuck, type ComponentRecord, readRecord, sampleComponent } from '#core/records';
import {
  type Carried,
  chuckLike,
  chuckShapes,
  discLike,
  headLike,
  measuredFrom,
  nearestTo,
  ownBodyOf,
  roomOf,
  SHIPPED_MACHINES,
  swings,
  turnedBodies,
} from './index.ts';

const [twin] = SHIPPED_MACHINES;
const upper = twin.carriers[0] as CarrierOf<'turret'>;
const { chuck } = twin.spindles.main;

let kernel: Kernel;
let flat: FlatBooleans;
beforeAll(async () => {
  kernel = await loadKernel();
  flat = await loadFlatBooleans(kernel);
});

type Solid = readonly [solid: PlainSolid, at: Vec3];
// A component as somebody marked it: its bodies anywhere in the file, its mount with them.
async function componentOf(solids: readonly Solid[], stand: Motion = translation([0, 0, 0]), more: Partial<ComponentRecord> = {}) {
  const bytes = writePlainStep(
    kernel,
    solids.map(([solid, at], i) => ({ solid, name: `body ${i}`, fileFromSolid: compose(stand, translation(at)) })),
  );
  const read = await readModelFile(kernel, bytes, 'x.step');
  if (!read.ok) throw new Error(read.issues.map(say).join());
  const { model } = read.value;
  const direction = (v: Vec3): Vec3 => move({ r: stand.r, t: [0, 0, 0] }, v);
  const frame: Frame = { origin: move(stand, [0, 0, 0]), z: direction([0, 0, 1]), x: direction([1, 0, 0]) };
  const sample = sampleComponent('c1');
  const record = {
    ...sample,
    bodies: model.bodies.map((b) => ({ ...sample.bodies[0], id: b.id, role: 'tool body' as const })),
    mount: { id: 'mount', name: '', connection: { standard: 'bolted face' as const, size: '' }, frame, origin: { from: 'picked' as const, evidence: '' } },
    ...more,
  };
  return { record, model };
}
function unwrapped<T>(r: { ok: true; value: T } | { ok: false; issues: readonly Parameters<typeof say>[0][] }): T {
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
}
const cylinder = (radius: number, height: number): PlainSolid => ({ kind: 'cylinder', radius, height });
const box = (...size: [number, number, number]): PlainSolid => ({ kind: 'box', size });
const measure = ({ record, model }: { record: ComponentRecord; model: Model }, of: Chuck = chuck) => unwrapped(chuckLike(of, record, model));

const discOf = (carrier: CarrierOf<'turret'>) => ownBodyOf(carrier) as Carried;

describe('a chuck as a component is', () => {
  // A flange behind the nose, a body of 80 and one of 60 before it, and a jaw that reaches from 10 to 70 about the axis, 20 wide, 25 high.
  const SOLIDS: Solid[] = [
    [cylinder(50, 12), [0, 0, -12]],
    [cylinder(80, 40), [0, 0, 0]],
    [cylinder(60, 30), [0, 0, 40]],
    [box(60, 20, 25), [10, -10, 70]],
  ];
  const FAR = Math.hypot(70, 10);

  it('sweeps the cylinders that it is made of, wherever it lies in its file; what is behind the nose is none of it', async () => {
    for (const stand of [translation([0, 0, 0]), compose(translation([30, -200, 7]), rotationAbout([0, 0, 0], [1, 2, 0.5], 1.2))]) {
      const taken = measure(await componentOf(SOLIDS, stand), { ...chuck, jawHeight: 25 });
      expect(taken.measured?.steps).toEqual([
        { from: expect.closeTo(0, 4), to: expect.closeTo(40, 4), radius: expect.closeTo(80, 2) },
        { from: expect.closeTo(40, 4), to: expect.closeTo(70, 4), radius: expect.closeTo(60, 2) },
        { from: expect.closeTo(70, 4), to: expect.closeTo(95, 4), radius: expect.closeTo(FAR, 4) },
      ]);
      expect(taken.length).toBeCloseTo(70, 3);
      expect(taken.diameter).toBeCloseTo(160, 2);
      // The rest is as it was said.
      expect(taken).toMatchObject({ jawHeight: 25, jawStep: chuck.jawStep, gripped: chuck.gripped, bore: chuck.bore });
    }
  });
  it('is what the room and the swing look at, at both spindles', async () => {
    const taken = measure(await componentOf(SOLIDS), { ...chuck, jawHeight: 25 });
    const machine = {
      ...twin,
      spindles: { main: { ...twin.spindles.main, chuck: taken }, counter: twin.spindles.counter && { ...twin.spindles.counter, chuck: taken } },
    };
    const bodies = turnedBodies(machine, { blanks: { main: null, counter: null }, counterAt: 700 });
    const told = (side: 'main' | 'counter') => bodies.filter((b) => b.spindle === side).map((b) => [b.what, Math.round(b.from), Math.round(b.to)]);
    expect(told('main')).toEqual([
      ['chuck', 0, 40],
      ['chuck', 40, 70],
      ['jaws', 70, 95],
    ]);
    expect(told('counter')).toEqual([
      ['chuck', 660, 700],
      ['chuck', 630, 660],
      ['jaws', 605, 630],
    ]);
    const parts = { machine, setUp: { blanks: { main: null, counter: null } } as never, assemblies: {}, components: {}, models: {} };
    expect(swings({ stations: [] }, parts)[0].clearFrom).toBeCloseTo(80 + 149 - upper.radius + 1, 2);
    for (const { mesh } of chuckShapes(taken, null)) expect(isClosedMesh(validateMesh(mesh))).toBe(true);
  });
  it('is never inside of a ball and a ring, of few steps, and little larger', async () => {
    const { record, model } = await componentOf([
      [{ kind: 'sphere', radius: 60 }, [0, 0, 20]],
      [{ kind: 'torus', major: 50, minor: 6 }, [0, 0, 90]],
    ]);
    const steps = measure({ record, model }).measured?.steps ?? [];
    expect(steps.length).toBeLessThanOrEqual(60);
    const radiusAt = (z: number) => Math.max(...steps.filter((s) => s.from <= z && z <= s.to).map((s) => s.radius));
    for (const { mesh } of model.bodies)
      for (let i = 0; i < mesh.positions.length; i += 3) {
        const [x, y, z] = mesh.positions.subarray(i, i + 3);
        if (z > 0) expect(radiusAt(z)).toBeGreaterThanOrEqual(Math.hypot(x, y) - 1e-6);
      }
    // The ball from the nose on, to where the ring begins; the ring without its hole.
    const volume = steps.filter((s) => s.to <= 81).reduce((v, s) => v + Math.PI * s.radius ** 2 * (s.to - s.from), 0);
    const cap = (h: number) => (Math.PI * h * h * (3 * 60 - h)) / 3;
    expect(volume / (cap(120) - cap(40))).toBeGreaterThan(0.999);
    expect(volume / (cap(120) - cap(40))).toBeLessThan(1.03);
  });
  it('asks for a mount that looks at the work', async () => {
    const { record, model } = await componentOf(SOLIDS);
    const without = chuckLike(chuck, { ...record, mount: null }, model);
    expect(without.ok ? '' : say(without.issues[0])).toContain('has no mount');
    const { record: back, model: same } = await componentOf([[cylinder(50, 12), [0, 0, -12]]]);
    const behind = chuckLike(chuck, back, same);
    expect(behind.ok ? '' : say(behind.issues[0])).toContain('in front of its mount');
  });
  it('tells when its component is another one than was measured', async () => {
    const { record, model } = await componentOf(SOLIDS);
    const { measured } = measure({ record, model });
    expect(measured?.inputs).toBe(measuredFrom(record));
    expect(measuredFrom({ ...record, name: 'another name' })).toBe(measured?.inputs);
    expect(measuredFrom({ ...record, model: { ...record.model, blob: 'f'.repeat(64) } })).not.toBe(measured?.inputs);
  });
});

describe('a disc as a component is', () => {
  // A plate of 300 by 300, 60 thick, seats in the middle of it; a hub of 40 before it, and a tongue that reaches out on one side.
  const SOLIDS: Solid[] = [
    [box(300, 300, 60), [-150, -150, -30]],
    [cylinder(40, 50), [0, 0, 30]],
    [box(20, 40, 10), [150, -20, -30]],
  ];

  it('is prisms between its faces, each with what it covers there', async () => {
    const { record, model } = await componentOf(SOLIDS, compose(translation([5, 6, 7]), rotationAbout([0, 0, 0], [0.3, 1, 2], 0.7)));
    const disc = unwrapped(discLike(record, model, flat));
    expect(disc.diameter).toBeCloseTo(2 * Math.hypot(150, 150), 3);
    expect(disc.width).toBeCloseTo(110, 3);
    const slabs = disc.measured?.slabs ?? [];
    expect(slabs.map((s) => [Math.round(s.from), Math.round(s.to)])).toEqual([
      [-30, 30],
      [30, 80],
    ]);
    const mesh = discOf({ ...upper, disc }).mesh;
    // The tongue's end is no large face: it is taken as high as the plate, outside of the true one.
    expect(meshVolume(mesh)).toBeCloseTo(300 * 300 * 60 + 20 * 40 * 60 + Math.PI * 40 ** 2 * 50, -3);
  });
  it('stands with its X towards the spindle axis and its Z towards the spindle that it faces', async () => {
    const { record, model } = await componentOf(SOLIDS);
    const disc = unwrapped(discLike(record, model, flat));
    const bounds = (carrier: Partial<CarrierOf<'turret'>>) => meshBounds(discOf({ ...upper, ...carrier, disc }).mesh);
    // Above the axis, facing the main spindle: its X looks down, its Z towards the main chuck.
    expect(bounds({ side: 'above', faces: 'main' })).toEqual({
      min: [expect.closeTo(-170, 4), expect.closeTo(-150, 4), expect.closeTo(-80, 4)],
      max: [expect.closeTo(150, 4), expect.closeTo(150, 4), expect.closeTo(30, 4)],
    });
    expect(bounds({ side: 'below', faces: 'counter' })).toEqual({
      min: [expect.closeTo(-150, 4), expect.closeTo(-150, 4), expect.closeTo(-30, 4)],
      max: [expect.closeTo(170, 4), expect.closeTo(150, 4), expect.closeTo(80, 4)],
    });
    for (const side of ['above', 'below'] as const)
      for (const faces of ['main', 'counter'] as const) expect(meshVolume(discOf({ ...upper, side, faces, disc }).mesh)).toBeGreaterThan(0);
  });
  it('keeps what goes through it, and its machine is stored and read again', async () => {
    const { record, model } = await componentOf(SOLIDS);
    const disc = unwrapped(discLike(record, model, flat));
    const machine = { ...twin, carriers: [{ ...upper, disc }] };
    const read = readRecord(JSON.parse(JSON.stringify(machine)), 'machine.json');
    expect(read.ok && read.value).toEqual(machine);
    const old = readRecord({ ...JSON.parse(JSON.stringify(twin)), version: 2 }, 'machine.json');
    expect(old.ok && old.value.version).toBe(twin.version);
    const wrong = { ...machine, carriers: [{ ...upper, disc: { ...disc, measured: { ...disc.measured, slabs: [{ from: 3, to: 1, outline: [] }] } } }] };
    const refused = readRecord(JSON.parse(JSON.stringify(wrong)), 'machine.json');
    expect(refused.ok ? '' : say(refused.issues[0])).toContain('carriers.0.disc.measured.slabs');
  });
});

it('steps about an axis hold whatever boxes stand around it', async () => {
  const some = fc.record({
    at: fc.tuple(fc.integer({ min: -40, max: 40 }), fc.integer({ min: -40, max: 40 }), fc.integer({ min: 1, max: 40 })),
    size: fc.tuple(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 30 })),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(some, { minLength: 1, maxLength: 4 }), async (boxes) => {
      const { record, model } = await componentOf(boxes.map(({ at, size }): Solid => [box(...size), at]));
      const steps = measure({ record, model }).measured?.steps ?? [];
      // By hand: at a height, the farthest corner of the boxes that are there.
      for (let z = 0.5; z < 72; z++) {
        const there = boxes.filter(({ at, size }) => at[2] < z && z < at[2] + size[2]);
        const far = Math.max(
          0,
          ...there.flatMap(({ at: [x, y], size: [a, b] }) => [Math.hypot(x, y), Math.hypot(x + a, y), Math.hypot(x, y + b), Math.hypot(x + a, y + b)]),
        );
        const said = steps.find((s) => s.from < z && z < s.to)?.radius ?? 0;
        expect(said).toBeGreaterThanOrEqual(far - 1e-6);
        expect(said).toBeLessThanOrEqual(far + 0.25 + 1e-6);
      }
    }),
    { numRuns: 12 },
  );
}, 60_000);

it('a set-up with a measured disc is told its room', async () => {
  const { record, model } = await componentOf([[cylinder(120, 60), [0, 0, -30]]]);
  const disc = unwrapped(discLike(record, model, flat));
  const machine = { ...twin, carriers: [{ ...upper, disc }] };
  const setUp = {
    kind: 'set-up',
    version: 1,
    id: 's',
    name: 's',
    machineId: twin.id,
    places: [],
    blanks: { main: null, counter: null },
    createdAt: '',
    changedAt: '',
  } as const;
  const [swing] = roomOf({ stations: [] }, { machine, setUp: { ...setUp, places: [] }, assemblies: {}, components: {}, models: {} }).swings;
  expect(swing.radius).toBeCloseTo(120, 1);
});

describe('a swivel head', () => {
  const millTurn = SHIPPED_MACHINES[2];
  const own = millTurn.carriers[0] as CarrierOf<'swivel head'>;
  const sizes = { noseDiameter: 100, noseLength: 60, diameter: 200, length: 300 };
  const head: CarrierOf<'swivel head'> = { ...own, seat: 150, head: sizes };
  const bounds = (carrier: CarrierOf<'swivel head'>, angle: number) => {
    const body = ownBodyOf(carrier, angle);
    if (!body) throw new Error('no head');
    return meshBounds(moveMesh(body.motion, body.mesh)) as { min: Vec3; max: Vec3 };
  };
  it('stands behind its seat along the tool, upright and swung towards the chuck', () => {
    // Upright above the axis its tool looks along -X: the seat is 150 below the centre, the head reaches 300 up from there.
    const up = bounds(head, 0);
    expect([up.min[0], up.max[0]].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([-150, 150]);
    // Round, never inside: as wide as it is and no more than a tenth of a millimetre wider.
    for (const k of [1, 2]) {
      expect(up.max[k]).toBeGreaterThanOrEqual(100 - 1e-9);
      expect(up.max[k]).toBeLessThan(100.1);
    }
    // At 90 degrees it looks at the main chuck, along -Z.
    const swung = bounds(head, 90);
    expect([swung.min[2], swung.max[2]].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([-150, 150]);
    expect(meshVolume(ownBodyOf(head)?.mesh ?? { positions: new Float64Array(0), triangles: new Uint32Array(0) })).toBeCloseTo(
      Math.PI * (50 ** 2 * 60 + 100 ** 2 * 240),
      -4,
    );
    expect(ownBodyOf({ ...head, head: undefined })).toBeUndefined();
  });
  it('is as far from the work as its nose and its housing are by hand', () => {
    const body = ownBodyOf(head, 90) as Carried;
    const turned = { name: 'work', radius: 20, from: 0, to: 100 };
    const near = (x: number, z: number) =>
      nearestTo(
        body.mesh,
        body.motion,
        turned,
        [
          [x, x],
          [0, 0],
          [z, z],
        ],
        1000,
      )?.distance ?? NaN;
    // It lies along the work, its nose 5 beside it; or its face 12 before the work's end.
    expect(near(75, 150 + 50)).toBeCloseTo(5, 1);
    expect(near(0, 150 + 112)).toBeCloseTo(12, 1);
    // Behind the nose it is wider by 50.
    expect(near(130, 150 - 60)).toBeCloseTo(10, 1);
  });
  it('is measured of a component whose mount lies in its seat', async () => {
    const { record, model } = await componentOf([
      [box(80, 120, 200), [-40, -60, -200]],
      [cylinder(30, 40), [0, 0, -40]],
    ]);
    const like = unwrapped(headLike(record, model, flat));
    expect(like.length).toBeCloseTo(200, 3);
    const measured = ownBodyOf({ ...head, head: like }, 0) as Carried;
    expect(meshVolume(measured.mesh)).toBeCloseTo(80 * 120 * 200, -3);
    const up = bounds({ ...head, head: like }, 0);
    expect([up.min[0], up.max[0], up.max[1]]).toEqual([expect.closeTo(-150, 4), expect.closeTo(50, 4), expect.closeTo(60, 4)]);
    const machine = { ...millTurn, carriers: [{ ...head, head: like }] };
    const read = readRecord(JSON.parse(JSON.stringify(machine)), 'machine.json');
    expect(read.ok && read.value).toEqual(machine);
    // What lies before the seat only is no head.
    const before = await componentOf([[box(10, 10, 10), [0, 0, 5]]]);
    expect(headLike(before.record, before.model, flat).ok).toBe(false);
  });
});
