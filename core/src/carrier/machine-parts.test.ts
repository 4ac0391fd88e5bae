import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { isClosedMesh, meshBounds, meshVolume, validateMesh } from '#core/mesh';
import { type CarrierOf, type Chuck, machineSchema, sampleComponent, type SetUpRecord } from '#core/records';
import {
  type Carried,
  chuckShapes,
  ownBodyOf,
  jogOf,
  liesOfSeats,
  newCarrier,
  newCounterSpindle,
  noseAt,
  parkedAt,
  type SetUpParts,
  setUpTable,
  SHIPPED_MACHINES,
  turnedBodies,
} from './index.ts';

const [twin, slides, millTurn] = SHIPPED_MACHINES;
const upper = twin.carriers[0] as CarrierOf<'turret'>;
const chuck: Chuck = { diameter: 160, length: 90, jaws: 3, jawHeight: 30, jawStep: 10, gripped: 50, bore: 50 };
const blank = { diameter: 60, bore: 20, length: 40 };
const setUp: SetUpRecord = {
  kind: 'set-up',
  version: 1,
  id: 's',
  name: 's',
  machineId: twin.id,
  places: [],
  blanks: { main: blank, counter: null },
  createdAt: '',
  changedAt: '',
};

const discOf = (carrier: CarrierOf<'turret'>) => ownBodyOf(carrier) as Carried;

describe('what a machine is drawn with', () => {
  it('closed solids of the volumes that their sizes give', () => {
    const shapes = chuckShapes(chuck, blank);
    expect(shapes.map((s) => s.name)).toEqual(['chuck', 'jaw 1', 'jaw 2', 'jaw 3', 'work']);
    for (const { mesh } of shapes) {
      expect(isClosedMesh(validateMesh(mesh))).toBe(true);
      expect(meshVolume(mesh)).toBeGreaterThan(0);
    }
    const volume = (name: string) => meshVolume((shapes.find((s) => s.name === name) ?? shapes[0]).mesh);
    // Rings of 144 corners: 0.03 % less than round.
    expect(volume('chuck') / (Math.PI * (80 ** 2 - 25 ** 2) * 90)).toBeCloseTo(1, 3);
    expect(volume('work') / (Math.PI * (30 ** 2 - 10 ** 2) * 50)).toBeCloseTo(1, 3);
    // The work sits in the step of the jaws: from 10 before their front to 40 beyond it.
    const box = meshBounds(shapes[4].mesh);
    expect([box?.min[2], box?.max[2]]).toEqual([110, 160]);
  });
  it('a collet has no jaws, an empty spindle no work, and nothing has a bore as wide as itself', () => {
    expect(chuckShapes({ ...chuck, jaws: 0, jawHeight: 0 }, null).map((s) => s.name)).toEqual(['chuck']);
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 500, noNaN: true }),
        fc.double({ min: 0, max: 600, noNaN: true }),
        fc.integer({ min: 0, max: 12 }),
        (diameter, bore, jaws) => {
          for (const { mesh } of chuckShapes({ ...chuck, diameter, bore, jaws }, { diameter, bore, length: 10 })) {
            expect(isClosedMesh(validateMesh(mesh))).toBe(true);
            expect(meshVolume(mesh)).toBeGreaterThan(0);
          }
        },
      ),
    );
  });
  it('a disc encloses its true one: flats under stations on the rim, round where they stand on the face', () => {
    const rim = discOf(upper);
    expect(isClosedMesh(validateMesh(rim.mesh))).toBe(true);
    expect(rim.motion.t).toEqual([150, 0, 0]);
    const box = meshBounds(rim.mesh);
    // A flat looks at the spindle axis, 149 from the index axis; 46 on both sides of the seats.
    expect(box?.min[0]).toBeCloseTo(-149, 6);
    expect([box?.min[2], box?.max[2]]).toEqual([-46, 46]);
    const face = meshBounds(discOf({ ...upper, mounting: 'face' }).mesh);
    expect([face?.min[2], face?.max[2]]).toEqual([0, 92]);
    expect(face?.min[0]).toBeLessThanOrEqual(-149 + 1e-9);
    const other = meshBounds(discOf({ ...upper, mounting: 'face', faces: 'counter' }).mesh);
    expect([other?.min[2], other?.max[2]]).toEqual([-92, 0]);
    const below = discOf({ ...upper, side: 'below' });
    expect(below.motion.t).toEqual([-150, 0, 0]);
    expect(meshBounds(below.mesh)?.max[0]).toBeCloseTo(149, 6);
  });
  it('what turns at the counter spindle stands the other way round, where that stands', () => {
    const bodies = turnedBodies(twin, { blanks: { main: blank, counter: blank }, counterAt: 700 });
    const of = (name: string) => bodies.find((b) => b.name === name);
    expect(of('chuck of the main spindle')).toMatchObject({ radius: 82.5, from: 0, to: 91 });
    expect(of('jaws of the main spindle')).toMatchObject({ from: 91, to: 126 });
    expect(of('work of the main spindle')).toMatchObject({ radius: 30, from: 114, to: 166 });
    expect(of('chuck of the counter spindle')).toMatchObject({ radius: 67.5, from: 626, to: 700 });
    expect(of('work of the counter spindle')).toMatchObject({ from: 700 - 74 - 28 - 40, to: 700 - 74 - 28 + 10 });
    expect(noseAt(twin, 'counter', {})).toBe(860);
    expect(noseAt({ spindles: { ...twin.spindles, counter: null } }, 'counter')).toBeUndefined();
    expect(turnedBodies({ spindles: { ...twin.spindles, counter: null } }, { blanks: { main: null, counter: null } })).toHaveLength(2);
  });
});

describe('where a carrier stands', () => {
  const parts: SetUpParts = { machine: twin, setUp, assemblies: {}, components: {}, models: {} };
  it('with its tool at a place, within the travel', () => {
    const jog = jogOf(undefined, upper, parts, { x: 20, z: 5 });
    // Without a station as for a tool of 100 mm that points at the axis; the jaws end at 126.
    expect(jog.reference).toEqual([120, 0, 131]);
    expect(jog.range.x).toEqual([-115, 160]);
    expect(jogOf(undefined, upper, parts, { x: 1e6, z: -1e6 })).toMatchObject({ x: 160, z: 60 - 126 });
    // At first at the outside of the work, a little before its face.
    expect(jogOf(undefined, upper, parts)).toMatchObject({ x: 30, z: 42 });
  });
  it('and while another one works as far away as it goes', () => {
    expect(parkedAt(upper)).toEqual([260, 0, 410]);
    expect(parkedAt({ ...upper, side: 'below' })).toEqual([-260, 0, 410]);
  });
  it('and what is to be said for a place gives that place', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(number(-100, 150), number(-50, 400), fc.constantFrom(upper, millTurn.carriers[1], slides.carriers[0]), (x, z, carrier) => {
        const there = jogOf(undefined, carrier, parts, { x, z });
        const again = jogOf(undefined, carrier, parts, there.saidFor(there.reference));
        expect(again.reference).toEqual(there.reference.map((v) => expect.closeTo(v, 6)));
      }),
    );
  });
});

describe('seats of a block', () => {
  const origin = { from: 'typed' as const, evidence: '' };
  const VDI = { standard: 'VDI' as const, size: 40 };
  const block = (y: number, tiltDeg: number) => {
    const [c, s] = [Math.cos((tiltDeg * Math.PI) / 180), Math.sin((tiltDeg * Math.PI) / 180)];
    return sampleComponent('b', {
      componentKind: 'station block',
      // The mount lies anyhow in its file: Z along the file's -Y, X along its Z.
      mount: { id: 'm', name: 'shank', connection: VDI, frame: { origin: [5, 6, 7], z: [0, -1, 0], x: [0, 0, 1] }, origin },
      // Y of that mount is the file's -X.
      seats: [
        { id: 's1', name: 'bore', connection: { standard: 'cylindrical', size: 32 }, frame: { origin: [5 - y, -60, 7], z: [-s, 0, c], x: [0, 1, 0] }, origin },
      ],
    });
  };
  it('lie over the centre plane and beside its axes as they were put', () => {
    expect(liesOfSeats(block(0, 0))).toEqual([{ id: 's1', name: 'bore', height: expect.closeTo(0, 9), offDeg: expect.closeTo(0, 6) }]);
    expect(liesOfSeats(block(0.3, 0))[0].height).toBeCloseTo(0.3, 9);
    expect(liesOfSeats(block(-0.3, 2))[0]).toEqual({ id: 's1', name: 'bore', height: expect.closeTo(-0.3, 9), offDeg: expect.closeTo(2, 6) });
  });
  it('are told where they do, with the error that indexing gives', () => {
    const checksOf = (component: ReturnType<typeof block>) => {
      const assembly = {
        kind: 'assembly' as const,
        version: 3 as const,
        id: 'a',
        name: 'a',
        pieces: [{ id: 'p', componentId: 'b', parent: null, stickOut: 0, rollDeg: 0 }],
        edges: [],
        shelf: component.shelf,
        createdAt: '',
        changedAt: '',
      };
      const places = [{ id: 'p1', carrierId: upper.id, station: 1, assemblyId: 'a', turnDeg: 0, spindle: 'main' as const, edges: [] }];
      return setUpTable({ machine: twin, setUp: { ...setUp, places }, assemblies: { a: assembly }, components: { b: component }, models: {} }).stations[0]
        .checks;
    };
    // But for a tip, which a block alone has not.
    const wrong = (component: ReturnType<typeof block>) =>
      checksOf(component)
        .filter((c) => c.state !== 'pass')
        .map((c) => c.code);
    expect(wrong(block(0, 0))).toEqual(['tip']);
    const off = checksOf(block(0.3, 0)).find((c) => c.code === 'seat-plane');
    // h^2 / D on 40 mm: 2.25 micrometres.
    expect(off).toMatchObject({ state: 'fail', value: expect.closeTo(0.3, 6) as unknown as number });
    expect(off?.message).toMatch(/0\.3 mm above the centre plane.*2\.[23] µm on the radius/);
    expect(checksOf(block(0, 1)).find((c) => c.code === 'seat-angle')).toMatchObject({ state: 'warn' });
    expect(wrong(block(0.01, 0))).toEqual(['tip']);
  });
});

describe('a machine’s record', () => {
  it('takes new carriers and a counter spindle, which are sound as they come', () => {
    for (const kind of ['turret', 'slide', 'swivel head'] as const) {
      const carrier = newCarrier(kind, 'new', 'new one');
      expect(machineSchema.safeParse({ ...twin, carriers: [...twin.carriers, carrier] }).success).toBe(true);
      expect(jogOf(undefined, carrier, { machine: twin, setUp }).reference.every(Number.isFinite)).toBe(true);
    }
    const counter = newCounterSpindle(millTurn.spindles);
    expect(machineSchema.safeParse({ ...millTurn, spindles: { ...millTurn.spindles, counter } }).success).toBe(true);
    // Its jaws stay before those of the main one, wherever it stands.
    expect(counter.travel[0]).toBeGreaterThan(2 * (millTurn.spindles.main.chuck.length + millTurn.spindles.main.chuck.jawHeight));
  });
  it('takes any sizes within reason, and no others', () => {
    const number = fc.double({ min: 0, max: 2000, noNaN: true });
    fc.assert(
      fc.property(number, number, fc.integer({ min: 1, max: 200 }), (radius, diameter, stations) => {
        const machine = { ...twin, carriers: [{ ...upper, radius, stations, disc: { diameter, width: 50 } }] };
        expect(machineSchema.safeParse(machine).success).toBe(true);
      }),
    );
    for (const wrong of [-1, Number.NaN, Infinity, 1e9])
      expect(machineSchema.safeParse({ ...twin, carriers: [{ ...upper, radius: wrong }] }).success).toBe(false);
    expect(machineSchema.safeParse({ ...twin, carriers: Array.from({ length: 13 }, (_, i) => ({ ...upper, id: String(i) })) }).success).toBe(false);
  });
});
