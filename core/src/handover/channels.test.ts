import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import type { Channel } from '#core/records';
import {
  cutsOverTime,
  operationSchema,
  readChannels,
  Replay,
  runChannels,
  stockOf,
  toEnd,
  type TrialResult,
  type TrialSetting,
  writeProgram,
} from '#core/trial';
import { cook, OUTSIDE, place, run, settingOf, turret, twin } from './trial-for-tests.ts';

// A second turret below: the same tool in both.
const connection = { standard: 'square', size: '25x25' };
const upper = { ...turret, mounting: 'rim', connection };
const lower = { ...upper, id: 'lower-turret', name: 'lower turret', side: 'below' };
const TWO = {
  ...OUTSIDE,
  setUp: {
    ...OUTSIDE.setUp,
    machine: { ...twin, carriers: [upper, lower] },
    places: [place('turning', 1), { ...place('turning', 1), carrier: 'lower-turret' }],
  },
};
const channel = (name: string, text: string, carrier: string | null): Channel => ({ name, text, carrier });
let setting: TrialSetting;
let upperOnly: TrialSetting;
beforeAll(async () => {
  setting = await settingOf(TWO);
  upperOnly = await settingOf({ ...TWO, setUp: { ...TWO.setUp, places: TWO.setUp.places.slice(0, 1) } });
});
const read = (above: string, below: string) => readChannels([channel('upper.nc', above, 'upper-turret'), channel('lower.nc', below, 'lower-turret')], setting);
function both(above: string, below: string): TrialResult {
  const channels = read(above, below);
  const stock = stockOf(setting);
  if (!channels.ok) throw new Error(channels.issues.map(say).join());
  if (!stock) throw new Error('no stock');
  return toEnd(runChannels(setting, channels.value.channels, stock));
}
const told = ({ events }: TrialResult) => events.filter((e) => e.kind !== 'near').map((e) => `${e.channel}:${e.line} ${e.kind} ${e.between.join(' / ')}`);

const FACE = 'T0101\nG97 S1000 M3\nG0 X64. Z0.\nG1 X-1.6 F0.2\nG0 Z2.\nX64.\nM101\n';
const TURN = (x: number) => `G0 X${x} Z2.\nG1 Z-40. F0.25\nX64.\nG0 Z2.\n`;

describe('two carriers at one part', () => {
  it('make the same part as one does, in less time; the second waits until the face is cut, and knows the spindle', () => {
    const alone = run(upperOnly, `${FACE.replace('M101\n', '')}${TURN(56)}${TURN(50)}`);
    const result = both(`${FACE}${TURN(56)}M102`, `T0101\nM101\nG4 X2.\n${TURN(50)}M102`);
    expect(told(result)).toEqual([]);
    expect(result.removedVolume).toBeCloseTo(alone.removedVolume, 1);
    expect(result.time).toBeLessThan(alone.time - 4);
    const { moves } = result.recording;
    const started = moves.find((m) => m.channel === 1 && m.removed > 0);
    const faced = moves.findLast((m) => m.channel === 0 && m.line <= 6);
    expect(started?.from).toBeGreaterThan(faced?.to ?? Infinity);
    // It feeds with the first channel's turns: 42 at 250 mm/min, the move that begins 2 s later.
    const turned = moves.filter((m) => m.channel === 1 && m.line === 5);
    expect((turned.at(-1)?.to ?? 0) - turned[0].from).toBeCloseTo((42 / 250) * 60, 2);
    expect(turned[0].goesOn).toBe(true);
    expect(turned.at(-1)?.goesOn).toBeUndefined();
    // At any moment both stand where they are, and the work is what both have cut by then.
    const replay = new Replay(result.recording);
    const moment = replay.at((turned[0].from + (turned.at(-1)?.to ?? 0)) / 2);
    expect(moment?.others).toHaveLength(1);
    const volumes = [0.2, 0.4, 0.6, 0.8, 1].map((s) => replay.at(s * result.time)?.region.volume ?? 0);
    volumes.slice(1).forEach((v, i) => expect(v).toBeLessThanOrEqual(volumes[i] + 1e-6));
    expect(volumes.at(-1)).toBeCloseTo(result.stock.volume, 1);
    // The second one finds what the first one left: 3 mm deep.
    const cuts = cutsOverTime(result.recording).filter((c) => result.recording.tools[c.tool].placeId !== result.recording.tools[0].placeId && c.depth > 0.5);
    const deepest = Math.max(...cuts.map((c) => c.depth));
    expect(Math.abs(deepest - 3)).toBeLessThan(0.2);
  });
  it('an event says of which program its line is', () => {
    const result = both(`${FACE}`, `T0101\nM101\nG0 X40. Z10.\nZ-10.\nX80.`);
    expect(told(result)).toEqual([expect.stringMatching(/^1:4 rapid/)]);
  });
  it('carriers that come together: what touches what, when and how deep, by hand', () => {
    // Both before the face on the axis: the inserts' tips, 0.8 over it each, and the shanks behind.
    const result = both('T0101\nG97 S1000 M3\nG0 X64. Z20.\nM101\nX-10.', 'T0101\nG0 X64. Z20.\nM101\nG4 X5.\nG1 X0. F0.2');
    const [first] = result.events.filter((e) => e.kind === 'touch');
    expect(first).toMatchObject({ kind: 'touch', between: [expect.stringMatching(/DCLNR/), expect.stringMatching(/DCLNR/)] });
    // The upper one stands 5 beyond the axis; the lower one comes from 32 at 200 mm/min after 5 s: it gets there when it is 5 before it.
    const start = result.recording.moves.find((m) => m.channel === 1 && m.line === 5)?.from ?? 0;
    expect(first.time - start).toBeCloseTo(((32 - 5) / 200) * 60, 1);
    expect(Math.abs(first.at[0] - 20)).toBeLessThan(2);
    expect(first.depth).toBeGreaterThan(1);
    expect(first.body?.placeId).not.toBe(first.other?.placeId);
    // Farther apart nothing is said.
    expect(told(both('T0101\nG97 S1000 M3\nG0 X64. Z20.\nM101\nX10.', 'T0101\nG0 X64. Z20.\nM101\nX10.'))).toEqual([]);
    const near = both('T0101\nG97 S1000 M3\nG0 X64. Z20.\nM101\nX.4', 'T0101\nG0 X64. Z20.\nM101\nX.4').events;
    expect(near).toEqual([expect.objectContaining({ kind: 'near', depth: expect.closeTo(0.4, 1) })]);
  });
  it('an arc is followed as it goes: what its chord would pass by is touched', () => {
    // The lower one reaches over the axis to 24 on the upper side at Z 30; a half circle of 10 from 32 on comes down to 22 there, its ends stay 8 away.
    const dips = (bulge: string) => both(`T0101\nG97 S1000 M3\nG0 X64. Z20.\nM101\n${bulge} X64. Z40. R10. F2.\nG0 X80.`, 'T0101\nG0 X64. Z30.\nX-48.\nM101');
    const touches = dips('G3').events.filter((e) => e.kind === 'touch');
    const clear = dips('G2').events.filter((e) => e.kind === 'touch');
    expect([touches.length > 0, clear.length > 0].sort()).toEqual([false, true]);
    const [first] = touches.length > 0 ? touches : clear;
    expect(first.line).toBe(5);
    expect(first.at[0]).toBeGreaterThan(20);
    expect(first.at[0]).toBeLessThan(45);
  });
  it('one that waits at its home before its first tool, or that no program moves, is in the way as well', async () => {
    // The lower one gets no farther away than 60 on radius and 40 before the jaws: its tool, 159 long, reaches over the axis.
    const near = { ...lower, travel: { ...lower.travel, x: [-15, 60], z: [0, 240] } };
    const tight = await settingOf({ ...TWO, setUp: { ...TWO.setUp, machine: { ...twin, carriers: [upper, near] } } });
    const stock = stockOf(tight) ?? [];
    const runOf = (programs: Channel[]) => {
      const channels = readChannels(programs, tight);
      if (!channels.ok) throw new Error(channels.issues.map(say).join());
      return toEnd(runChannels(tight, channels.value.channels, stock)).events.filter((e) => e.kind === 'touch' && e.message.includes('turret'));
    };
    const above = 'T0101\nG97 S1000 M3\nG0 X64. Z2.\nX-100. Z60.\nZ2.\nX64.\nM101\n';
    const waiting = runOf([channel('upper.nc', above, 'upper-turret'), channel('lower.nc', 'M101\nT0101\nG0 X64. Z2.', 'lower-turret')]);
    expect(waiting.length).toBeGreaterThan(0);
    expect(waiting[0]).toMatchObject({ channel: 0, kind: 'touch' });
    expect(waiting[0].message).toContain('(upper turret, lower turret; which stands at its home)');
    const alone = runOf([channel('upper.nc', above.replace('M101\n', ''), 'upper-turret')]);
    // Parts of a way are others there; what touches first is the same.
    expect(alone[0]).toMatchObject({ line: waiting[0].line, between: waiting[0].between });
    expect(alone[0].time).toBeCloseTo(waiting[0].time, 2);
    // As far as the other one goes away usually, nothing does.
    expect(both(above, 'M101\nT0101\nG0 X64. Z2.').events.filter((e) => e.message.includes('at its home'))).toEqual([]);
  });
  it('marks that do not fit, and two programs of one carrier, are refused with file and line', () => {
    const sayOf = (r: ReturnType<typeof read>) => (r.ok ? '' : r.issues.map(say).join());
    expect(sayOf(read(FACE, 'T0101\nG0 X60. Z2.'))).toMatch(/upper\.nc, line 7: it waits at M101, and lower\.nc never comes to it/);
    const same = readChannels([channel('a.nc', 'T0101\nG0 X60. Z2.', 'upper-turret'), channel('b.nc', 'T0101\nG0 X60. Z2.', 'upper-turret')], setting);
    expect(same.ok ? '' : same.issues.map(say).join()).toMatch(/b\.nc moves upper turret, and so does a\.nc/);
    // The tool of the other one is not its own.
    expect(sayOf(read('T0202\nG0 X60. Z2.', 'T0101\nG0 X60. Z2.'))).toMatch(/upper\.nc, line 1: .* is not loaded/);
    // Alone, a mark is passed over and said.
    const alone = readChannels([channel('a.nc', FACE, 'upper-turret'), channel('b.nc', ' ', null)], setting);
    expect(alone.ok && alone.value.warnings.map(say).join()).toMatch(/a\.nc, line 7: M101 waits for another channel, and there is none/);
  });
  it('a file names its programs and their carriers, by id or by name; what is not there is said', async () => {
    const file = (more: object) => cook({ ...TWO, contour: undefined, ...more });
    const channels = [
      { program: 'hub-trial.nc', carrier: 'upper turret' },
      { program: 'hub-trial.nc', carrier: 'lower-turret' },
    ];
    const read2 = await file({ channels });
    expect(read2.ok && read2.value.programs.map((p) => [p.name, p.carrier, p.text.length > 100])).toEqual([
      ['hub-trial.nc', 'upper-turret', true],
      ['hub-trial.nc', 'lower-turret', true],
    ]);
    const faultOf = async (more: object) => {
      const r = await file(more);
      return r.ok ? '' : r.issues.map(say).join();
    };
    expect(await faultOf({ channels: [channels[0], { ...channels[1], carrier: 'third turret' }] })).toMatch(/channels: .* has no carrier third turret/);
    expect(await faultOf({ channels, program: 'hub-trial.nc' })).toMatch(/channels: there is a program beside them/);
    expect(await faultOf({ channels: [channels[0]] })).toMatch(/channels/);
  });
  it('a tool whose number stands on both is asked for by its carrier; a cut is written for the one that is said', () => {
    const of = (carrier: string | null) => readChannels([channel('a.nc', 'T0101\nG0 X60. Z2.', carrier)], setting);
    const asked = of(null);
    expect(asked.ok ? '' : asked.issues.map(say).join()).toMatch(/a\.nc, line 1: T1 stands on upper turret and lower turret/);
    expect(of('lower-turret').ok).toBe(true);
    const stock = stockOf(setting) ?? [];
    const face = (carrier?: string) =>
      writeProgram(setting, [operationSchema.parse({ kind: 'face', tool: 1, ...(carrier === undefined ? {} : { carrier }) })], stock);
    const whose = face();
    expect(whose.ok ? '' : whose.issues.map(say).join()).toMatch(/Tool 1 stands on upper turret and lower turret/);
    for (const carrier of ['upper-turret', 'lower-turret']) {
      const written = face(carrier);
      if (!written.ok) throw new Error(written.issues.map(say).join());
      expect(written.value.carrier).toBe(carrier);
      const cut = readChannels([{ name: 'face.nc', ...written.value }], setting);
      if (!cut.ok) throw new Error(cut.issues.map(say).join());
      const result = toEnd(runChannels(setting, cut.value.channels, stock));
      expect(told(result)).toEqual([]);
      expect(result.recording.tools.map((t) => t.placeId)).toEqual([carrier === 'upper-turret' ? 'place-1' : 'place-2']);
      // Two millimetres off the face of a bar of 60.
      expect(result.removedVolume).toBeCloseTo(Math.PI * 900 * 2, 0);
    }
  });
});
