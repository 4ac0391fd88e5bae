import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { readWords } from '#core/components';
import { say } from '#core/issues';
import { counterClockwise, type FlatPoint, loopThrough } from '#core/outline';
import { checkStock, Replay, type TrialResult, type TrialSetting, trialSetting } from '#core/trial';
import { bar, cook, demo, OUTSIDE, place, plain, run, settingOf, turret, twin } from './trial-for-tests.ts';

const told = ({ events }: TrialResult) => events.filter((e) => e.kind !== 'near').map((e) => `${e.line} ${e.kind} ${e.between.join(' / ')}`);

const FACE_AND_TURN = 'T0101\nG97 S1000 M3\nG0 X64. Z0.\nG1 X-1.6 F0.2\nG0 X61. Z2.\nX56.\nG1 Z-40. F0.25\nX58.\nG0 Z2.\nX50.\nG1 Z-40.\nX62.\nG28 U0 W0\nM30';

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
  it('comes out the same in blocks that are split, and with cuts that have nothing to do with each other in the other order', () => {
    const whole = 'G1 X56. Z2. F0.25\nG1 Z-18. F0.25\nG3 X60. Z-20. R2.\nG1 X64.';
    const [from, to, share] = [2, -18, 0.37];
    const split = whole.replace('G1 Z-18.', `G1 Z${(from + (to - from) * share).toFixed(4)} F0.25\nG1 Z-18.`);
    const start = 'T0101\nG97 S1000 M3\nG0 X64. Z2.\n';
    const area = (program: string) => {
      const { removedVolume, events, part } = run(outside, program);
      // How near a miss is told within a tenth: at the clearance itself one way may tell it and another not.
      return { removedVolume, kinds: events.map((e) => e.kind).filter((k) => k !== 'near'), loops: part.length };
    };
    const [one, two] = [area(start + whole), area(start + split)];
    // Over 3,500 mm2 of surface: some nanometres of what rounding leaves.
    expect(Math.abs(two.removedVolume - one.removedVolume)).toBeLessThan(0.05);
    expect([two.kinds, two.loops]).toEqual([one.kinds, one.loops]);
    // Two shallow passes over stretches that are apart.
    const pass = (z: number) => `G0 X64. Z${z}.\nX57.\nG1 Z${z - 4}. F0.2\nX64.\n`;
    const [there, back] = [area(`${start}${pass(-6)}${pass(-20)}`), area(`${start}${pass(-20)}${pass(-6)}`)];
    expect(there.removedVolume).toBeGreaterThan(1000);
    expect(Math.abs(back.removedVolume - there.removedVolume)).toBeLessThan(0.05);
    expect([...back.kinds].sort()).toEqual([...there.kinds].sort());
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
  it('a steady rest stands on the work where it is: what turns over it touches it, before and behind it nothing does', async () => {
    // A ring from Z -30 to -20 on the bar of 60, 100 outside.
    const held = await settingOf({ ...OUTSIDE, contour: undefined, support: { kind: 'steady rest', body: 100, width: 10, at: -20 } });
    const turn = (z: number) => run(held, `T0101 M3 G97 S900\nG0 X56. Z2.\nG1 Z${z}. F0.25\nX110.\nG0 Z4.`);
    const [touch] = turn(-25).events.filter((e) => e.kind === 'touch' && e.between[1] === 'steady rest');
    expect(touch).toMatchObject({ line: 3, between: ['DCLNR2525M12', 'steady rest'] });
    // It goes 5 in along Z: no place of what both have is deeper than half of that, but for the slant of the insert.
    expect(touch.depth).toBeGreaterThan(2.4);
    expect(touch.depth).toBeLessThan(3.5);
    expect(turn(-15).events.filter((e) => e.between[1] === 'steady rest' && e.kind === 'touch')).toEqual([]);
    // Over it, at 104, nothing is cut and nothing touched; at 98 it is.
    const over = (x: number) =>
      run(held, `T0101 M3 G97 S900\nG0 X${x}. Z2.\nZ-40.\nX120.`).events.filter((e) => e.kind === 'touch' && e.between[1] === 'steady rest');
    expect(over(104)).toEqual([]);
    expect(over(98)[0]?.depth).toBeCloseTo(1, 1);
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

describe('a feed that an edge cannot take', () => {
  const back = (x: number, z = -20) => `T0101\nG97 S1000 M3\nG0 X${x}. Z2.\nG1 Z-30. F0.2\nG0 X70.\nZ-55.\nX${x - 4}.\nG1 Z${z}.\nG28 U0 W0\nM30`;
  const loose = { ...OUTSIDE, contour: undefined };
  it('away from the chuck 2 deep with an end cutting angle of 5: the edge slides; with a tool for it, and as deep as its nose, it is cut', async () => {
    const right = await settingOf(loose);
    const deep = run(right, back(56)).events.filter((e) => e.kind === 'feed');
    expect(deep).toHaveLength(1);
    // 4 deep over 25 and 2 over 10 is 3.4 on average; some of it was taken where it went in.
    expect(deep[0]).toMatchObject({
      line: 8,
      message: expect.stringMatching(/is fed away from the chuck, 2\.\d+ mm deep: the edge that leads there does not cut/),
    });
    expect(deep[0].depth).toBeLessThan((4 * 25 + 2 * 10) / 35);
    // Within its nose of 0.8.
    const shallow = run(right, 'T0101\nG97 S1000 M3\nG0 X70. Z-55.\nX59.\nG1 Z2. F0.2\nG28 U0 W0\nM30');
    expect(shallow.removedVolume).toBeGreaterThan(1000);
    expect(shallow.events.filter((e) => e.kind === 'feed')).toEqual([]);
    // Towards the chuck it may be as deep; and a neutral edge of 72.5 on both sides goes both ways.
    expect(run(right, 'T0101\nG97 S1000 M3\nG0 X52. Z2.\nG1 Z-30. F0.2\nX62.\nG28 U0 W0\nM30').events.filter((e) => e.kind === 'feed')).toEqual([]);
    const neutral = await settingOf({ ...loose, setUp: { ...OUTSIDE.setUp, assemblies: [{ key: 'turning', words: 'svvcn 2525 m16' }] } });
    expect(run(neutral, back(56)).events.filter((e) => e.kind === 'feed')).toEqual([]);
  });
});

describe('a slope that an edge cannot take', () => {
  const loose = { ...OUTSIDE, contour: undefined };
  // 2 deep along the bar of 60, then down or up a slope over 20 mm of Z.
  const slope = (deg: number, towards: 1 | -1 = -1) => {
    const dx = 20 * Math.tan((deg * Math.PI) / 180);
    return towards === -1
      ? `T0101\nG97 S1000 M3\nG0 X56. Z2.\nG1 Z-5. F0.2\nG1 X${(56 - 2 * dx).toFixed(3)} Z-25.\nG1 X70.\nG28 U0 W0\nM30`
      : `T0101\nG97 S1000 M3\nG0 X70. Z-45.\nX53.\nG1 X${(53 - 2 * dx).toFixed(3)} Z-25. F0.2\nG1 X70.\nG28 U0 W0\nM30`;
  };
  const feeds = (s: TrialSetting, program: string) => run(s, program).events.filter((e) => e.kind === 'feed');

  it('down towards the chuck: as steep as the edge that follows clears, which is by 5 degrees less what it leans', async () => {
    const right = await settingOf(loose);
    expect(feeds(right, slope(4))).toEqual([]);
    // Out of the work it may go as steep as it likes.
    expect(feeds(right, slope(-40))).toEqual([]);
    const [steep, ...more] = feeds(right, slope(12));
    expect(more).toEqual([]);
    expect(steep).toMatchObject({
      line: 5,
      message: expect.stringMatching(/is fed at 12\.0° to the axis, \d\.\d+ mm deep: the edge that follows lies 7\.\d° in what it leaves\./),
    });
    // 72.5 on both sides clear that by far.
    const neutral = await settingOf({ ...loose, setUp: { ...OUTSIDE.setUp, assemblies: [{ key: 'turning', words: 'svvcn 2525 m16' }] } });
    expect(feeds(neutral, slope(40))).toEqual([]);
  });
  it('backwards: with the edge that does not lead there', async () => {
    const right = await settingOf(loose);
    // Its end cutting edge leads by 5 degrees less 3: it slides; going down by 8 it leads by 13, and cuts.
    expect(feeds(right, slope(-3, 1)).map((e) => e.message)).toEqual([
      expect.stringMatching(/at 3\.0° to the axis, .* the edge that leads there does not cut/),
    ]);
    expect(feeds(right, slope(8, 1))).toEqual([]);
  });
});

describe('a cut that is deeper than the edge is long', () => {
  it('is told with how long it is there: a side of the insert less its corners, seen across the way', async () => {
    // DCLNR 2525 M12: a rhomb of 12.9 by side; at 95 degrees its side reaches 12.9 - nose over the way along the axis.
    const thick = await settingOf({
      ...OUTSIDE,
      contour: undefined,
      setUp: { ...OUTSIDE.setUp, blanks: { main: { diameter: 100, bore: 0, length: 70 }, counter: bar } },
    });
    const cut = (depth: number) => run(thick, `T0101\nG97 S500 M3\nG0 X${100 - 2 * depth}. Z5.\nG1 Z-12. F0.2\nX110.\nG28 U0 W0\nM30`).events;
    expect(cut(11).filter((e) => e.kind === 'depth')).toEqual([]);
    const [deep] = cut(14).filter((e) => e.kind === 'depth');
    expect(deep).toMatchObject({ line: 4, between: [expect.stringMatching(/DCLNR/), 'work'] });
    const side = 12.7 / Math.sin((80 * Math.PI) / 180);
    const reaches = Number(/its edge reaches (\d+\.\d+) mm/.exec(deep.message)?.[1]);
    // What is straight of it and both noses: the whole side, less what their corners lack.
    expect(reaches).toBeGreaterThan(side - 0.8);
    expect(reaches).toBeLessThan(side + 0.1);
    expect(deep.depth).toBeCloseTo(14 - reaches, 0);
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
  it('an insert’s flank rubs where the wall comes round towards it: by its thickness and clearance; leaned it is clear', async () => {
    const lies = (words: string, LAMS?: number) => {
      const { spec } = readWords(words);
      return { ...spec, values: { ...spec?.values, ...(LAMS === undefined ? {} : { LAMS }) } };
    };
    const bored = async (spec: object, diameter: number) => {
      const file = inside(diameter - 1);
      const setting = await settingOf({ ...file, setUp: { ...file.setUp, assemblies: [{ key: 'bar', spec }], places: [place('bar', 1)] } });
      const { events } = run(setting, `T0101 M3 G97 S900\nG0 X${diameter}. Z5.\nG1 Z-10. F0.05\nG1 X${diameter - 2}.\nG0 Z5.`);
      return events.filter((e) => e.kind !== 'near');
    };
    // Flat, 3.97 below the edge it is set back by 7 degrees; the wall stands at radius r there too.
    for (const diameter of [21, 24]) {
      const [rubs, ...others] = await bored(lies('A16M-SCLCR 09', 0), diameter);
      expect(others).toEqual([]);
      expect(rubs).toMatchObject({ kind: 'touch', line: 3, between: [expect.stringMatching(/^flank of A16M-SCLCR/), 'work'] });
      const r = diameter / 2;
      const back = 3.97 * Math.tan((7 * Math.PI) / 180);
      expect(rubs.depth).toBeCloseTo(Math.hypot(r - back, 3.97) - r, 2);
      expect(rubs.message).toMatch(/Insert rubs: its flank goes 0\.\d{3} mm into the work that its edge leaves/);
    }
    // Where nobody says how it lies it leans so far that it is clear of its least bore; a thin insert is clear without.
    expect(await bored(lies('A16M-SCLCR 09'), 21)).toEqual([]);
    expect(await bored(lies('A16M-SCLCR 06', 0), 20)).toEqual([]);
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
