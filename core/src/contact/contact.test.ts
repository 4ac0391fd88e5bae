import { beforeAll, afterAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type Kernel, loadKernel, OverlapSolver, readModelFile } from '#core/kernel';
import { compose, IDENTITY, IDENTITY_FRAME, type Motion, normalize, rotationAbout, translation, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { fitSolids } from '../../../demo/fit-solids.ts';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { contactsOf, measure, overlapOf, type Picked, type PlacedSolid, screwContactOf } from './index.ts';

let kernel: Kernel;
let solver: OverlapSolver;
let shapes: ReturnType<typeof fitSolids>;
beforeAll(async () => {
  kernel = await loadKernel();
  shapes = fitSolids(kernel.oc);
  solver = await OverlapSolver.load();
});
afterAll(() => solver.close());

// Turned about Z: corners of half profiles in [z, r].
async function turned(points: readonly (readonly [number, number])[]): Promise<BodyGeometry> {
  // Material on the left: from the work's end back to the machine's.
  const back = [...points].reverse();
  const profile = back.map((from, i) => ({ kind: 'line' as const, from, to: back[(i + 1) % back.length] }));
  const shape = { format: 'ruota-shape', version: 1, form: 'revolved', bodies: [{ name: 'b', role: 'tool body', profile: [profile] }] } as const;
  const read = await readModelFile(kernel, writeSolidShape(shape), shapeFileName('x'), { exactProperties: true, chordTolerance: 0.01 });
  if (!read.ok) throw new Error(JSON.stringify(read.issues));
  return read.value.model.bodies[0];
}
const rod = (radius: number, from: number, to: number) =>
  turned([
    [from, 0],
    [from, radius],
    [to, radius],
    [to, 0],
  ]);
const tube = (bore: number, radius: number, from: number, to: number) =>
  turned([
    [from, bore],
    [from, radius],
    [to, radius],
    [to, bore],
  ]);
const at = (body: BodyGeometry, worldFromFile: Motion = IDENTITY): PlacedSolid => ({ body, worldFromFile });
const overlap = (a: PlacedSolid, b: PlacedSolid) => overlapOf(solver, a, b);

describe('overlaps', () => {
  it('of two crossed cylinders have the volume of the formula, 16 r³ / 3, and are as deep as their radius', async () => {
    const r = 5;
    const bar = await rod(r, -20, 20);
    const found = overlap(at(bar), at(bar, rotationAbout([0, 0, 0], [1, 0, 0], Math.PI / 2)));
    expect((found?.volume ?? 0) / ((16 * r ** 3) / 3)).toBeCloseTo(1, 2);
    expect(found?.depth).toBeGreaterThan(r * 0.9);
    expect(found?.depth).toBeLessThan(r * 1.01);
  });
  it('are none where a shank is as thick as its bore, whatever its facets, nor where faces touch', async () => {
    const [bar, sleeve, disc] = [await rod(8, -60, 40), await tube(8, 16, -50, 0), await rod(20, 40, 60)];
    expect(overlap(at(sleeve), at(bar, rotationAbout([0, 0, 0], [0, 0, 1], 0.123)))).toBeUndefined();
    expect(overlap(at(bar), at(disc))).toBeUndefined();
  });
  it.each([0.002, 0.01, 0.05, 0.4])('of a shank that is %d mm too thick all round are as deep as that', async (over) => {
    const [bar, sleeve] = [await rod(8 + over, -30, 40), await tube(8, 16, -50, 0)];
    const found = overlap(at(sleeve), at(bar));
    expect(found?.depth).toBeCloseTo(over, 4);
    // A ring of that thickness, 30 long, but for what chords take away.
    if (over > 0.2) expect((found?.volume ?? 0) / (Math.PI * ((8 + over) ** 2 - 64) * 30)).toBeCloseTo(1, 1);
  });
  it('of a bar that goes through a wall are found, though no corner of it lies in the wall: the wall is as deep in it as it is thick', async () => {
    const [bar, wall] = [await rod(3, -50, 50), await rod(30, -2, 2)];
    const depth = overlap(at(bar), at(wall))?.depth ?? 0;
    expect([depth > 2.7, depth < 3.01]).toEqual([true, true]);
  });
  it.each([0.003, 0.2])('of a plate that is sunk by %d mm are that deep, and stay so wherever both stand', async (sunk) => {
    const [plate, floor] = [await rod(6, 0, 4), await rod(12, -20, 0)];
    const pushed = translation([1, 2, -sunk]);
    expect(overlap(at(floor), at(plate, pushed))?.depth).toBeCloseTo(sunk, 5);
    const angle = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(angle, angle, fc.double({ min: -200, max: 200, noNaN: true }), (a, b, d) => {
        const world = compose(translation([d, -d / 2, d / 3]), rotationAbout([1, 2, 3], normalize([Math.cos(a), Math.sin(a), 0.4] as Vec3), b));
        const found = overlap(at(floor, world), at(plate, compose(world, pushed)));
        return found !== undefined && found !== null && Math.abs(found.depth - sunk) < 1e-4;
      }),
      { numRuns: 20 },
    );
  });
  it('are the same whichever comes first', async () => {
    const [a, b] = [await rod(5, 0, 30), await rod(7, 0, 30)];
    const aside = translation([9, 1, 10]);
    const [one, other] = [overlap(at(a), at(b, aside)), overlap(at(b, aside), at(a))];
    expect(other?.depth).toBeCloseTo(one?.depth ?? 0, 3);
    expect(other?.volume).toBeCloseTo(one?.volume ?? 0, 3);
  });
  it('are told on the right faces where triangles of the mesh collapse', async () => {
    const [bar, sleeve] = [await rod(8.01, -30, 40), await tube(8, 16, -50, 0)];
    // A triangle without area in the first face moves the numbers of all that follow.
    const { mesh, faceStart } = sleeve;
    const [a, b] = mesh.triangles;
    const flat: BodyGeometry = {
      ...sleeve,
      mesh: { ...mesh, triangles: Uint32Array.of(a, b, b, ...mesh.triangles) },
      faceStart: faceStart.map((n, i) => (i === 0 ? 0 : n + 1)),
    };
    expect(overlap(at(flat), at(bar))?.depth).toBeCloseTo(0.01, 4);
  });
  it('are not known of what is not closed', async () => {
    const bar = await rod(5, 0, 30);
    const open: BodyGeometry = { ...bar, mesh: { ...bar.mesh, triangles: bar.mesh.triangles.slice(0, -30) }, closed: false };
    expect(overlap(at(open), at(bar))).toBeNull();
  });
});

describe('contacts', () => {
  it.each([
    [0, 0],
    [0.25, 0.25],
    [-0.1, -0.1],
  ])('of faces: moved by %d along the seat they are %d mm apart', async (by, gap) => {
    const [holder, disc] = [await rod(20, -30, 0), await rod(15, 0, 10)];
    const moved = translation([0, 0, by]);
    const found = contactsOf([at(holder)], [at(disc, moved)], IDENTITY_FRAME);
    expect(found).toEqual([{ kind: 'face', gap: expect.closeTo(gap, 9), tilt: expect.closeTo(0, 9) }]);
  });
  it('of faces are not those of a flat or an engraving on a shank within its bore', async () => {
    // The end of the flat, which looks back, comes to the face of the bore; a flange on it is a shoulder.
    const bore = at(await tube(8, 20, -60, 0));
    const kinds = (piece: BodyGeometry, by: number) => contactsOf([bore], [at(piece, translation([0, 0, by]))], IDENTITY_FRAME).map((c) => c.kind);
    expect(kinds(await flatted(), 10.5)).toEqual(['shank']);
    const flanged = await turned([
      [-60, 0],
      [-60, 8],
      [-10, 8],
      [-10, 9],
      [0, 9],
      [0, 0],
    ]);
    expect(kinds(flanged, 10.5)).toEqual(['face', 'shank']);
  });
  it('of faces are none where these do not face each other: a step on a bar beside the hole of a plate', async () => {
    // A bar through a plate, wider than the bar; a step on the bar, half a millimetre before the plate's face.
    const plate = at(await tube(12, 20, -10, 0));
    const stepped = (width: number) =>
      turned([
        [-30, 0],
        [-30, 8],
        [-0.5, 8],
        [-0.5, width],
        [30, width],
        [30, 0],
      ]);
    expect(contactsOf([plate], [at(await stepped(9))], IDENTITY_FRAME)).toEqual([]);
    expect(contactsOf([plate], [at(await stepped(13))], IDENTITY_FRAME)).toEqual([{ kind: 'face', gap: expect.closeTo(-0.5, 9), tilt: 0 }]);
  });
  it('of a shank in its bore: the play all round, and how far it is askew', async () => {
    const [sleeve, bar] = [await tube(8.02, 16, -50, 0), await rod(8, -40, 40)];
    const [straight] = contactsOf([at(sleeve)], [at(bar)], IDENTITY_FRAME);
    expect(straight).toEqual({ kind: 'shank', gap: expect.closeTo(0.02, 9), tilt: expect.closeTo(0, 9), over: expect.closeTo(40, 9) });
    const [askew] = contactsOf([at(sleeve)], [at(bar, rotationAbout([0, 0, -20], [1, 0, 0], 0.01))], IDENTITY_FRAME);
    expect(askew.tilt).toBeCloseTo((0.01 * 180) / Math.PI, 6);
  });
});

// A solid of a STEP file.
async function solid(step: Promise<Uint8Array>): Promise<BodyGeometry> {
  const read = await readModelFile(kernel, await step, 'x.step', { exactProperties: true, chordTolerance: 0.01 });
  if (!read.ok) throw new Error(JSON.stringify(read.issues));
  return read.value.model.bodies[0];
}
const flatted = () => solid(shapes.flatted());
const screwed = (screws: readonly (readonly [number, number])[]) => solid(shapes.screwed(screws));

describe('set screws', () => {
  const look = async (screws: readonly (readonly [number, number])[], motion: Motion = IDENTITY) =>
    screwContactOf([at(await screwed(screws))], [at(await flatted(), motion)], IDENTITY_FRAME, 16);
  it('press on the flat that lies under them', async () => {
    expect(
      await look([
        [-15, 90],
        [-35, 90],
      ]),
    ).toEqual({ screws: 2, onFlat: 2, turnBy: 0, moveBy: 0 });
  });
  it('that stand turned to the flat say by how much, and the roll they say brings it there', async () => {
    const beside = await look([[-20, 60]]);
    expect(beside).toMatchObject({ screws: 1, onFlat: 0 });
    expect(beside?.turnBy).toBeCloseTo(-30, 4);
    const rolled = await look([[-20, 60]], rotationAbout([0, 0, 0], [0, 0, 1], ((beside?.turnBy ?? 0) * Math.PI) / 180));
    expect(rolled).toMatchObject({ onFlat: 1, turnBy: 0 });
  });
  it('in front of the flat say how far it is to be moved; what is longer than the flat finds no place', async () => {
    const before = await look([
      [-5, 90],
      [-20, 90],
    ]);
    expect(before).toMatchObject({ screws: 2, onFlat: 1, turnBy: 0 });
    expect(before?.moveBy).toBeCloseTo(5, 4);
    expect(
      await look(
        [
          [-5, 90],
          [-20, 90],
        ],
        translation([0, 0, before?.moveBy ?? 0]),
      ),
    ).toMatchObject({ onFlat: 2, moveBy: 0 });
    expect(
      (
        await look([
          [-5, 90],
          [-50, 90],
        ])
      )?.moveBy,
    ).toBeNull();
  });
  it('in rows around the bore need one row on a flat only', async () => {
    expect(
      await look([
        [-20, 90],
        [-20, 210],
        [-20, 330],
      ]),
    ).toEqual({ screws: 1, onFlat: 1, turnBy: 0, moveBy: 0 });
  });
  it('are nothing to say of where the shank is round, or the bore has none', async () => {
    const round = await rod(8, -60, 20);
    expect(screwContactOf([at(await screwed([[-20, 90]]))], [at(round)], IDENTITY_FRAME, 16)).toBeUndefined();
    expect(screwContactOf([at(await tube(8, 20, -60, 0))], [at(await flatted())], IDENTITY_FRAME, 16)).toBeUndefined();
  });
});

describe('measuring', () => {
  const face = (solidAt: PlacedSolid, kind: string, which = 0): Picked => {
    const found = solidAt.body.faces.flatMap((f, i) => (f.surface.kind === kind ? [i] : []));
    return { ...solidAt, kind: 'face', index: found[which] };
  };
  const flatAt = (solidAt: PlacedSolid, z: number): Picked => ({
    ...solidAt,
    kind: 'face',
    index: solidAt.body.faces.findIndex((f) => f.surface.kind === 'plane' && Math.abs(f.surface.origin[2] - z) < 1e-6),
  });
  const circleAt = (solidAt: PlacedSolid, z: number): Picked => ({
    ...solidAt,
    kind: 'edge',
    index: solidAt.body.edges.findIndex((e) => e.curve.kind === 'circle' && Math.abs(e.curve.centre[2] - z) < 1e-6),
  });
  const away = (by: Vec3 | undefined) => (by ? Math.hypot(...by) : undefined);

  it('of two faces that are parallel is how far they are apart; the gap is between the faces themselves', async () => {
    const [a, b] = [at(await rod(5, 0, 10)), at(await rod(5, 0, 10), translation([30, 0, 4]))];
    const found = measure(flatAt(a, 10), flatAt(b, 0));
    expect(found).toMatchObject({ between: ['plane', 'plane'], angle: 0 });
    expect(found.by?.[2]).toBeCloseTo(-6, 6);
    // Discs of 10 whose middles are 30 apart, and 6 in height: 20 between their rims.
    expect(found.gap).toBeCloseTo(Math.hypot(20, 6), 1);
  });
  it.each([0, 20, 60])('of two axes that are %d degrees askew is the common square, and the gap is less by both radii', async (deg) => {
    const [r, s, apart] = [4, 3, 20];
    const a = at(await rod(r, -30, 30));
    const b = at(await rod(s, -30, 30), compose(translation([apart, 0, 0]), rotationAbout([0, 0, 0], [1, 0, 0], (deg * Math.PI) / 180)));
    const found = measure(face(a, 'cylinder'), face(b, 'cylinder'));
    expect(away(found.by)).toBeCloseTo(apart, 6);
    expect(found.by?.[0]).toBeCloseTo(apart, 6);
    expect(found.angle).toBeCloseTo(deg, 6);
    // The triangles lie inside of the round, by their chords at most.
    expect(found.gap).toBeGreaterThan(apart - r - s - 1e-6);
    expect(found.gap).toBeLessThan(apart - r - s + 0.025);
  });
  it('of centres, of an axis and a plane along it, and of what has no one length', async () => {
    const a = at(await rod(4, 0, 20));
    const b = at(await rod(4, 0, 20), translation([3, 4, 12]));
    expect(away(measure(circleAt(a, 20), circleAt(b, 0)).by)).toBeCloseTo(Math.hypot(3, 4, 8), 6);
    const block = at(await solid(shapes.cube()), translation([50, 0, 0]));
    const side = (n: Vec3): Picked => ({
      ...block,
      kind: 'face',
      index: block.body.faces.findIndex((f) => f.surface.kind === 'plane' && Math.hypot(...f.surface.normal.map((v, k) => v - n[k])) < 1e-6),
    });
    const beside = measure(side([-1, 0, 0]), face(a, 'cylinder'));
    expect([beside.between, away(beside.by), beside.angle]).toEqual([['plane', 'axis'], expect.closeTo(40, 6), expect.closeTo(0, 6)]);
    expect(beside.gap).toBeCloseTo(36, 1);
    // A plane across the axis, and two planes square to each other: an angle, and no length.
    expect(measure(side([0, 0, 1]), face(a, 'cylinder'))).toMatchObject({ by: undefined, angle: expect.closeTo(90, 6) });
    expect(measure(side([0, 0, 1]), side([1, 0, 0]))).toMatchObject({ by: undefined, angle: expect.closeTo(90, 6), gap: expect.closeTo(0, 9) });
  });
  it('does not depend on where both stand, nor on which is picked first', async () => {
    const [a, b] = [await rod(4, -30, 30), await rod(3, 0, 8)];
    const pushed = compose(translation([9, 2, 5]), rotationAbout([0, 0, 0], [0, 1, 0], 0.4));
    const base = measure(face(at(a), 'cylinder'), circleAt(at(b, pushed), 8));
    const angle = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(angle, angle, (u, v) => {
        const world = compose(translation([100 * u, 50, -v]), rotationAbout([1, 2, 3], normalize([Math.cos(u), Math.sin(u), 0.4] as Vec3), v));
        const there = measure(face(at(a, world), 'cylinder'), circleAt(at(b, compose(world, pushed)), 8));
        const back = measure(circleAt(at(b, compose(world, pushed)), 8), face(at(a, world), 'cylinder'));
        return [there, back].every((m) => Math.abs((away(m.by) ?? 0) - (away(base.by) ?? 1)) < 1e-6 && Math.abs(m.gap - base.gap) < 2e-3);
      }),
      { numRuns: 20 },
    );
  });
});
