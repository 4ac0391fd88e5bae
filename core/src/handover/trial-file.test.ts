import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { SHIPPED_MACHINES } from '#core/carrier';
import { say } from '#core/issues';
import { type Kernel, loadKernel } from '#core/kernel';
import { counterClockwise, type FlatPoint, loopThrough } from '#core/outline';
import { checkStock, reachOf, readSteps, Replay, runToEnd, stockOf, type TrialResult, type TrialSetting, trialSetting } from '#core/trial';
import { cookTrial } from './index.ts';

const demo = join(import.meta.dirname, '../../../demo');
const [twin] = SHIPPED_MACHINES;
const [turret] = twin.carriers;
/** The twin-spindle lathe with plain sockets. */
const plain = (mounting: 'rim' | 'face', connection: object) => ({ ...twin, carriers: [{ ...turret, mounting, connection }] });
const place = (assembly: string, station: number, rest: object = {}) => ({ carrier: 'upper-turret', station, assembly, ...rest });
const bar = { diameter: 60, bore: 0, length: 70 };

let kernel: Kernel;
const cook = (file: object) => cookTrial(kernel, JSON.stringify(file), 'trial.json', (name) => readFileSync(join(demo, name)), '');
async function settingOf(file: object): Promise<TrialSetting> {
  const cooked = await cook(file);
  if (!cooked.ok) throw new Error(cooked.issues.map(say).join());
  return trialSetting(cooked.value.parts, cooked.value.job);
}
function run(setting: TrialSetting, program: string): TrialResult {
  const steps = readSteps(program, 'p.nc', setting);
  const stock = stockOf(setting);
  if (!steps.ok) throw new Error(steps.issues.map(say).join());
  if (!stock) throw new Error('no stock');
  return runToEnd(setting, steps.value.steps, stock);
}
const told = ({ events }: TrialResult) => events.filter((e) => e.kind !== 'near').map((e) => `${e.line} ${e.kind} ${e.between.join(' / ')}`);

/** Outside: the part is a spigot of 50 by 40 on a bar of 60; the zero is 68 before the jaws, the bar stands 2 over it. */
const OUTSIDE = {
  setUp: {
    machine: plain('rim', { standard: 'square', size: '25x25' }),
    assemblies: [{ key: 'turning', words: 'dclnr 2525 m12' }],
    places: [place('turning', 1), place('turning', 2, { turn: 180, spindle: 'counter' })],
    blanks: { main: bar, counter: bar },
  },
  zero: 68,
  contour: {
    points: [
      [0, 0],
      [0, 25],
      [-40, 25],
      [-40, 0],
    ] as FlatPoint[],
  },
};
const FACE_AND_TURN = 'T0101\nG97 S1000 M3\nG0 X64. Z0.\nG1 X-1.6 F0.2\nG0 X61. Z2.\nX56.\nG1 Z-40. F0.25\nX58.\nG0 Z2.\nX50.\nG1 Z-40.\nX62.\nG28 U0 W0\nM30';

beforeAll(async () => {
  kernel = await loadKernel();
});

describe('a trial outside', () => {
  let outside: TrialSetting;
  beforeAll(async () => {
    outside = await settingOf(OUTSIDE);
  });
  it('turns the part without a touch: volume, time and what the nose leaves, by formula', () => {
    const result = run(outside, FACE_AND_TURN);
    expect(told(result)).toEqual([]);
    // Face of 2 mm, spigot of 40; the nose of 0.8 leaves a ring in the corner.
    const ring = 0.64 * (1 - Math.PI / 4) * 2 * Math.PI * 25.18;
    expect(Math.abs(result.removedVolume - (Math.PI * 900 * 2 + Math.PI * (900 - 625) * 40 - ring))).toBeLessThan(1.5);
    // Feeds at 1000 a minute; rapids at 20 m/min from where the carrier waits and back.
    const feeds = (32.8 / 0.2 + (42 + 1 + 42 + 6) / 0.25) * 0.06;
    const rapids = result.recording.moves
      .filter((m) => m.removed === 0)
      .reduce((s, m) => s + Math.hypot(m.path.to[0] - m.path.from[0], m.path.to[1] - m.path.from[1]), 0);
    expect(result.time).toBeGreaterThan(feeds);
    expect(result.time).toBeLessThan(feeds + (rapids * 60) / 20_000 + 1e-6);
    // Beside the corner: what the nose leaves, sqrt 2 - 1 of it.
    expect(result.against?.under).toBe(0);
    expect(result.part[0].some((p) => p.kind === 'line' && Math.abs(p.from[1] - 25) < 2e-3 && Math.abs(p.to[1] - 25) < 2e-3)).toBe(true);
    // Looked at again at any time: at the end it is the same, in the middle of a cut what is cut by then.
    const replay = new Replay(result.recording);
    expect(replay.at(result.time)?.region.volume).toBeCloseTo(result.stock.volume, 1);
    const cut = result.recording.moves.find((m) => m.line === 7);
    const halfway = replay.at(((cut?.from ?? 0) + (cut?.to ?? 0)) / 2);
    // 42 long from 2 before the face, cut to 28.
    expect(halfway?.region.contains(-18.5, 28.1)).toBe(false);
    expect(halfway?.region.contains(-19.5, 28.1)).toBe(true);
    expect(replay.at(0)?.region.volume).toBeCloseTo(Math.PI * 900 * (70 + twin.spindles.main.chuck.jawStep), 1);
    expect(result.stock.contains(-20, 24.999)).toBe(true);
    expect(result.stock.contains(-20, 25.001)).toBe(false);
  });
  it('comes out the same in the counter spindle, turned round', async () => {
    const counter = await settingOf({ ...OUTSIDE, spindle: 'counter' });
    const [there, here] = [run(counter, FACE_AND_TURN.replace('T0101', 'T0202')), run(outside, FACE_AND_TURN)];
    expect(told(there)).toEqual([]);
    expect(there.removedVolume).toBeCloseTo(here.removedVolume, 2);
    expect(there.against?.over).toBeCloseTo(here.against?.over ?? 0, 4);
  });
  it('says what is wrong with the line: the wrong way, a spindle that stands, a rapid through the work, a cut into the part and what is left', () => {
    expect(told(run(outside, FACE_AND_TURN.replace('M3', 'M4')))).toEqual([expect.stringMatching(/^4 sense DCLNR/)]);
    expect(told(run(outside, FACE_AND_TURN.replace(' M3', '')))).toEqual([expect.stringMatching(/^4 sense/)]);
    const rapid = run(outside, 'T0101 M3 G97 S900\nG0 X50. Z10.\nZ-20.\nX70.');
    expect(told(rapid)[0]).toMatch(/^3 rapid/);
    const deep = run(outside, FACE_AND_TURN.replace('X50.', 'X49.8'));
    expect(deep.events.find((e) => e.kind === 'gouge')).toMatchObject({ line: 11, depth: expect.closeTo(0.1, 3) });
    expect(deep.against?.under).toBeCloseTo(0.1, 3);
    const shy = run(outside, FACE_AND_TURN.replace('X50.', 'X50.3'));
    expect(told(shy)).toEqual([]);
    expect(shy.stock.contains(-20, 25.149)).toBe(true);
    expect(shy.against?.over).toBeGreaterThanOrEqual(0.15);
    // One cause over many moves is one event.
    expect(told(run(outside, FACE_AND_TURN.replace('X50.\nG1 Z-40.', 'X49.8\nG1 Z-5.\nZ-10.\nZ-15.\nZ-40.')))).toHaveLength(1);
  });
  it('what is gone from the part already is not cut into again', async () => {
    // The blank lacks what the contour wants outside of 24: a cut on 24.5 takes nothing of the part away there.
    const thin = await settingOf({
      ...OUTSIDE,
      stock: {
        points: [
          [0, 0],
          [0, 24],
          [-20, 24],
          [-20, 30],
          [-70, 30],
          [-70, 0],
        ],
      },
    });
    const cut = run(thin, 'T0101 M3 G97 S900\nG0 X49. Z2.\nG1 Z-19. F0.2\nX62.');
    expect(told(cut)).toEqual([]);
    expect(cut.warnings.map(say)).toEqual([expect.stringMatching(/1 mm are missing/)]);
    // Farther in there is some.
    expect(told(run(thin, 'T0101 M3 G97 S900\nG0 X49. Z2.\nG1 Z-25. F0.2\nX62.'))).toEqual([expect.stringMatching(/^3 gouge/)]);
  });
  it('a tool without a cutting body cuts nothing, and that is said; what is driven across the axis is left out', async () => {
    const cooked = await cook(OUTSIDE);
    if (!cooked.ok) throw new Error(cooked.issues.map(say).join());
    const { parts, job } = cooked.value;
    const dull = Object.fromEntries(
      Object.entries(parts.components).map(([id, c]) => [id, c && { ...c, bodies: c.bodies.map((b) => ({ ...b, role: 'tool body' as const })) }]),
    );
    const result = run(trialSetting({ ...parts, components: dull }, job), FACE_AND_TURN);
    expect(result.removedVolume).toBe(0);
    expect(result.warnings.map(say)).toEqual([expect.stringMatching(/DCLNR2525M12 has no body that cuts/)]);
    // It is in the way then as everything else.
    expect(told(result).some((e) => e.includes('touch'))).toBe(true);
    const driven = await settingOf({
      ...OUTSIDE,
      setUp: {
        ...OUTSIDE.setUp,
        machine: plain('rim', { standard: 'cylindrical', size: 10 }),
        assemblies: [{ key: 'drill', words: 'drill 10' }],
        places: [place('drill', 1)],
      },
    });
    const across = run(driven, 'T0101 M3 G97 S900\nG0 X70. Z-10.\nG94 G1 X40. F100');
    expect(across.removedVolume).toBe(0);
    expect(across.warnings.map(say)).toEqual([expect.stringMatching(/is driven across the axis/)]);
  });
  it('an edge in the jaws: when it gets there, and how deep', () => {
    // At 600 mm a minute from 5 before the zero to 2 behind the front of the jaws, which is 68 behind it.
    const result = run(outside, 'T0101 M3 G97 S900\nG0 X90. Z5.\nG94 G1 Z-70. F600\nG0 X120.');
    const touch = result.events.find((e) => e.kind === 'touch' && e.between[0] === 'DCLNR2525M12');
    const start = result.recording.moves[1].from;
    expect(touch).toMatchObject({ line: 3, between: ['DCLNR2525M12', 'jaws of the main spindle'] });
    expect(touch?.depth).toBeCloseTo(2, 1);
    expect((touch?.time ?? 0) - start).toBeGreaterThan(7.3 - 1e-3);
    expect((touch?.time ?? 0) - start).toBeLessThan(7.3 + 2e-3);
  });
  it('a tailstock stands in the way of a face to the axis: insert and holder stand behind the tip, where the quill is', async () => {
    // A hole of 6 in the face at 2, a quill of 30: the cone of 60 degrees is 3 on radius there.
    const held = await settingOf({ ...OUTSIDE, support: { kind: 'tailstock', hole: 6, body: 30, at: 2 } });
    const result = run(held, 'T0101 M3 G97 S900\nG0 X64. Z2.\nG1 X8. F0.2\nX4.\nG0 Z4.\nX64.');
    const touches = result.events.filter((e) => e.kind === 'touch' && e.between[1] === 'tailstock');
    expect(touches.some((e) => e.between[0] === 'DCLNR2525M12' && e.line === 3)).toBe(true);
    expect(touches.some((e) => e.between[0] === 'DCLNR2525M12, Holder' && e.line === 3)).toBe(true);
    // Turned on 25 nothing of it is met.
    expect(told(run(held, 'T0101 M3 G97 S900\nG0 X64. Z3.\nX56.\nG1 Z-30. F0.25\nX64.'))).toEqual([]);
  });
  it('a blank that is smaller than the part is said, and by how much', () => {
    const box = (radius: number): FlatPoint[] => [
      [0, 0],
      [0, radius],
      [-40, radius],
      [-40, 0],
    ];
    const of = (radius: number) => [counterClockwise(loopThrough(box(radius)))];
    expect(checkStock(of(25), of(25))).toEqual([]);
    expect(checkStock(undefined, of(25))).toEqual([]);
    expect(checkStock(of(25), of(24.6)).map(say)).toEqual([expect.stringMatching(/0\.4 mm are missing at Z .*, diameter 50/)]);
  });
  it('travel that the carrier does not have', () => {
    const beyond = run(outside, 'T0101\nG0 X0. Z900.').events.find((e) => e.kind === 'travel');
    const [, far] = turret.travel.z;
    // The reference would stand at the point less where the point is; the travel counts from the nose of the spindle.
    const edge = outside.edges[0].edge.atWork;
    expect(beyond?.depth).toBeCloseTo(900 - edge.Z - outside.partZ(far), 4);
  });
  it('a contour that is programmed with its nose compensated is met; without, the taper is left too thick by what the nose lacks', async () => {
    // A roughed blank: of the full bar the edge would be too short, and its holder would touch.
    const taper = await settingOf({
      ...OUTSIDE,
      stock: {
        points: [
          [2, 0],
          [2, 17],
          [-9, 28],
          [-70, 28],
          [-70, 0],
        ],
      },
      contour: {
        points: [
          [0, 0],
          [0, 15],
          [-10, 25],
          [-40, 25],
          [-40, 0],
        ],
      },
    });
    const text = (on: string, off: string) =>
      `T0101\nG97 S1000 M3\nG0 X64. Z0.\nG1 X-1.6 F0.2\nG0 Z4.\nX26.\n${on}G1 X26. Z2. F0.1\nX50. Z-10.\nZ-39.\n${off}G1 X62.`;
    const met = run(taper, text('G42 ', 'G40 '));
    const off = run(taper, text('', ''));
    const at = (by: number): [number, number] => [-5 + by / Math.SQRT2, 20 + by / Math.SQRT2];
    // The insert is tilted by 6 degrees both ways: seen from above its nose is no circle, by 0.005 mm.
    expect(met.stock.contains(...at(-6e-3))).toBe(true);
    expect(met.stock.contains(...at(6e-3))).toBe(false);
    const lacks = 0.8 * (Math.SQRT2 - 1);
    expect(off.stock.contains(...at(lacks - 8e-3))).toBe(true);
    expect(off.stock.contains(...at(lacks + 8e-3))).toBe(false);
    expect(told(met)).toEqual([]);
    // What that is, is recognized; along the contour it stands nowhere else.
    expect(off.warnings.map(say)).toEqual([expect.stringMatching(/what a nose of 0\.8 lacks: DCLNR2525M12 runs there without compensation/)]);
    expect(met.warnings).toEqual([]);
    const onTaper = (o: { at: FlatPoint }) => o.at[0] < -0.5 && o.at[0] > -9.5;
    expect(off.along?.filter(onTaper).every((o) => Math.abs(o.off - lacks) < 8e-3)).toBe(true);
    expect(met.along?.filter(onTaper).every((o) => Math.abs(o.off) < 8e-3)).toBe(true);
    expect(off.along?.filter((o) => o.at[0] < -11 && o.at[0] > -38).every((o) => Math.abs(o.off) < 3e-3)).toBe(true);
  });
});

describe('a trial in a bore', () => {
  const inside = (bore: number) => ({
    setUp: {
      machine: plain('face', { standard: 'cylindrical', size: 16 }),
      assemblies: [
        { key: 'bar', words: 'A16M-SCLCR 06' },
        { key: 'drill', words: 'drill 16' },
      ],
      places: [place('bar', 1), place('drill', 2)],
      blanks: { main: { ...bar, bore }, counter: null },
    },
    zero: 68,
  });
  it('the far side of a bar touches the wall that its edge is not at: by its diameter and its functional width', async () => {
    // WF 11, a bar of 16: with the edge on 9 its axis lies 2 beyond the middle, and its far side on 10.
    const setting = await settingOf(inside(2 * 9.9));
    const hit = run(setting, 'T0101 M3 G97 S900\nG0 X18. Z5.\nG94 G1 Z-30. F600\nG0 Z5.');
    const touch = hit.events.find((e) => e.kind === 'touch');
    expect(touch).toMatchObject({ line: 3, between: ['A16M-SCLCR06, Bar', 'work'] });
    expect(touch?.depth).toBeGreaterThan(0.08);
    expect(touch?.depth).toBeLessThan(0.1 + 1e-3);
    // On 9.2 it is on 9.8: free by a tenth, and said to be near.
    const free = run(setting, 'T0101 M3 G97 S900\nG0 X18.4 Z5.\nG94 G1 Z-30. F600\nG0 Z5.');
    expect(told(free)).toEqual([]);
    expect(free.events.find((e) => e.kind === 'near' && e.between[0].endsWith('Bar'))?.depth).toBeGreaterThan(0.08);
    expect(free.events.find((e) => e.kind === 'near' && e.between[0].endsWith('Bar'))?.depth).toBeLessThan(0.125);
  });
  it('a drill makes a hole with its point, a bar opens it behind: volumes by formula', async () => {
    const setting = await settingOf(inside(0));
    const { stock, events, removedVolume } = run(
      setting,
      'T0202 M3 G97 S900\nG0 X0. Z5.\nG1 Z-30. F0.1\nG0 Z5.\nT0101\nX22. Z3.\nG1 Z-20. F0.1\nG0 X20. Z-18.\nZ5.',
    );
    expect(events.filter((e) => e.kind !== 'near')).toEqual([]);
    expect(stock.contains(-25, 7.99)).toBe(false);
    expect(stock.contains(-25, 8.01)).toBe(true);
    expect(stock.contains(-10, 10.99)).toBe(false);
    expect(stock.contains(-10, 11.01)).toBe(true);
    // A drill is fed along its axis.
    expect(told(run(setting, 'T0202 M3 G97 S900\nG0 X0. Z5.\nG1 Z-10. F0.1\nX4.\nG0 Z5.'))).toEqual([expect.stringMatching(/^4 feed Drill 16/i)]);
    // A point of 118 degrees.
    const point = 8 / Math.tan((59 * Math.PI) / 180);
    const drilled = Math.PI * 64 * (32 - point) + (Math.PI * 64 * point) / 3;
    const opened = Math.PI * (121 - 64) * 22;
    // Less the ring that the nose leaves at the bottom: under two square millimetres of section.
    expect(removedVolume).toBeLessThan(drilled + opened);
    expect(removedVolume).toBeGreaterThan(drilled + opened - 130);
  });
});

describe('reach', () => {
  const spigot: FlatPoint[] = [
    [0, 0],
    [0, 25],
    [-40, 25],
    [-40, 30],
    [-60, 30],
    [-60, 0],
  ];
  const of = async (points: FlatPoint[]) => reachOf(await settingOf({ ...OUTSIDE, contour: { points } }));
  it('a right-hand edge reaches face, spigot and shoulder, but for what its nose leaves in the corner: r^2 (1 - pi / 4)', async () => {
    const reach = await of(spigot);
    const [edge] = reach?.edges ?? [];
    expect(reach?.edges).toHaveLength(1);
    expect(edge.blocked.map((b) => b.why)).toEqual(['nose radius']);
    // 25 of the face and 40 of the spigot; 0.8 on both sides of the corner.
    expect(edge.blocked[0].from).toBeCloseTo(65 - 0.8, 0);
    expect(edge.blocked[0].to).toBeCloseTo(65 + 0.8, 0);
    expect(edge.residual.area).toBeCloseTo(0.64 * (1 - Math.PI / 4), 2);
    // In its middle as far from one wall as from the other.
    expect(edge.residual.thickness).toBeCloseTo(0.8 * (1 - Math.SQRT1_2), 1);
    expect(reach?.together.area).toBeCloseTo(edge.residual.area, 6);
  });
  it('into a recess it gets as far as its end cutting angle of 5 degrees lets it: the rest stays', async () => {
    const width = 12;
    const recess: FlatPoint[] = [
      [0, 0],
      [0, 30],
      [-10, 30],
      [-10, 27],
      [-10 - width, 27],
      [-10 - width, 30],
      [-60, 30],
      [-60, 0],
    ];
    const reach = await of(recess);
    const [edge] = reach?.edges ?? [];
    // From the shoulder down to the far wall: a triangle of 5 degrees at most; nothing of the floor.
    const drop = width * Math.tan((5 * Math.PI) / 180);
    expect(edge.residual.area).toBeGreaterThan(width * 3 - (width * drop) / 2 - 0.05);
    expect(edge.residual.area).toBeLessThan(width * 3);
    // As far from the floor as from the shoulder that it hangs on.
    expect(edge.residual.thickness).toBeCloseTo(3 / (1 + Math.tan((5 * Math.PI) / 180)), 1);
    // 30 of the face and 10 of the outside; then no floor.
    const floor = edge.blocked.find((b) => b.from < 30 + 10 + 3 + 5 && b.to > 30 + 10 + 3 + 5);
    expect(floor?.why).toMatch(/edge angle|body/);
    const wall = edge.reached.find((r) => r.from > 30 + 10 + 3 + width);
    // The nose touches the far wall above its own foot.
    expect(wall?.from).toBeGreaterThan(30 + 10 + 3 + width + 3 - drop);
    expect(wall?.from).toBeLessThan(30 + 10 + 3 + width + 3 + 0.05);
  });
  it('what is behind a shoulder stays though there is room beyond the axis: the other side of the part is there', async () => {
    // On a thin shaft a recess of 10, 1 deep behind its shoulder: 5 degrees of end cutting angle leave more than half of it.
    const recess = await of([
      [0, 0],
      [0, 5],
      [-3, 5],
      [-3, 4],
      [-13, 4],
      [-13, 5],
      [-40, 5],
      [-40, 0],
    ]);
    const drop = 10 * Math.tan((5 * Math.PI) / 180);
    expect(recess?.edges[0].residual.area).toBeGreaterThan(10 - (10 * drop) / 2 - 0.1);
  });
  it('what no edge gets to is put as a tool: how slim, which hand; edges that do nothing are left out of their order', async () => {
    // A waist with a flank of 45 degrees to the chuck, and one of 30 away from it: 180 less both is 105, and 2 of relief on either side.
    const flank = 8 / Math.tan(Math.PI / 6);
    const waist: FlatPoint[] = [
      [0, 0],
      [0, 30],
      [-6, 30],
      [-6 - flank, 22],
      [-26, 22],
      [-34, 30],
      [-60, 30],
      [-60, 0],
    ];
    const slopes = await of(waist);
    expect(slopes?.order).toEqual([0]);
    const [edge, ...more] = slopes?.missing ?? [];
    expect(more).toEqual([]);
    expect(edge).toMatchObject({ isInside: false, included: 80, width: undefined, hand: 'right' });
    expect([edge.towardsChuck, edge.away, edge.between]).toEqual([45, 30, 101]);
    // Between square walls nothing but a grooving edge gets in, no wider than the groove.
    const groove = await of([
      [0, 0],
      [0, 30],
      [-10, 30],
      [-10, 24],
      [-14, 24],
      [-14, 30],
      [-60, 30],
      [-60, 0],
    ]);
    expect(groove?.missing).toEqual([expect.objectContaining({ included: undefined, width: expect.closeTo(4, 1), isInside: false })]);
    // What only the nose leaves in a corner asks for nothing.
    expect((await of(spigot))?.missing).toEqual([]);
  });
  it('a bar in a bore is stopped by what it is itself: its diameter and width', async () => {
    // WF 11 and a bar of 16: on a bore of 9.2 its far side would be on 9.8.
    const bore = async (radius: number) => {
      const setting = await settingOf({
        setUp: {
          machine: plain('face', { standard: 'cylindrical', size: 16 }),
          assemblies: [{ key: 'bar', words: 'A16M-SCLCR 06' }],
          places: [place('bar', 1)],
          blanks: { main: { ...bar, bore: 2 * radius - 2 }, counter: null },
        },
        zero: 70,
        contour: {
          points: [
            [0, radius],
            [0, 30],
            [-30, 30],
            [-30, radius],
          ],
        },
      });
      return reachOf(setting)?.edges[0];
    };
    const [narrow, wide] = [await bore(9.2), await bore(12)];
    expect(narrow?.blocked.some((b) => b.why === 'body' && b.by.includes('Bar') && b.at[1] === 9.2)).toBe(true);
    // Wide enough: all of the bore but its end, which is closed by the bar behind it.
    const wall = wide?.reached.reduce((s, r) => s + r.to - r.from, 0) ?? 0;
    expect(wall).toBeGreaterThan(28);
    expect(wide?.blocked.every((b) => b.why !== 'body' || b.at[1] > 12)).toBe(true);
  });
  it('without a contour nothing is told', async () => {
    expect(reachOf(await settingOf({ ...OUTSIDE, contour: undefined }))).toBeUndefined();
  });
});

describe('the demo: a hub shell, its first side', () => {
  const demoFile = () => JSON.parse(readFileSync(join(demo, 'hub-trial.json'), 'utf8')) as object;
  const program = readFileSync(join(demo, 'hub-trial.nc'), 'utf8');
  it('has one mistake: the bar is drawn back too far, and its back goes into the seat; mended, nothing touches', async () => {
    const setting = await settingOf(demoFile());
    const hit = run(setting, program);
    expect(told(hit)).toEqual([expect.stringMatching(/^39 touch Hub-bore bar 16.* \/ work$/)]);
    // A bar of 16 with WF 11, its edge on 5: the far side on 14, in a seat of 13.7.
    expect(hit.events.find((e) => e.kind === 'touch')?.depth).toBeCloseTo(0.3, 1);
    const mended = run(setting, program.replace('X10. Z-11.', 'X20. Z-11.'));
    expect(told(mended)).toEqual([]);
    expect(mended.against?.under).toBeLessThan(0.001);
    // What noses leave in square corners, sqrt 2 - 1 of 0.8.
    expect(mended.against?.over).toBeGreaterThan(0.2);
    expect(mended.against?.over).toBeLessThan(0.8 * (Math.SQRT2 - 1) + 0.02);
  });
});

describe('bad input', () => {
  it.each([
    [
      {
        ...OUTSIDE,
        contour: {
          points: [
            [0, 0],
            [-40, 25],
            [0, 30],
            [-40, 0],
          ],
        },
      },
      /contour: (it crosses itself|material on the wrong side)/,
    ],
    [
      {
        ...OUTSIDE,
        contour: {
          points: [
            [0, -5],
            [0, 25],
            [-40, 25],
          ],
        },
      },
      /wrong side of the axis/,
    ],
    [{ ...OUTSIDE, zero: Number.NaN }, /zero/],
    [{ ...OUTSIDE, spindle: 'third' }, /spindle/],
    [
      { ...OUTSIDE, setUp: { ...OUTSIDE.setUp, machine: { ...twin, spindles: { ...twin.spindles, counter: null } }, places: [] }, spindle: 'counter' },
      /no counter spindle/,
    ],
  ])('%#', async (file, message) => {
    const cooked = await cook(file);
    expect(cooked.ok ? 'taken' : cooked.issues.map(say).join()).toMatch(message);
  });
});
