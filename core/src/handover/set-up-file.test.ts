import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { checkRoom, checkSwing, clearances, roomOf, type SetUpParts, SHIPPED_MACHINES, setUpTable, swings } from '#core/carrier';
import { say } from '#core/issues';
import { type Kernel, loadKernel } from '#core/kernel';
import type { Check, MachineRecord } from '#core/records';
import { cookSetUp, type SetUpFile } from './index.ts';

const demo = join(import.meta.dirname, '../../../demo');
const bytesOf = (name: string) => readFileSync(join(demo, name));
const [twin, , millTurn] = SHIPPED_MACHINES;
const [turret] = twin.carriers;

let kernel: Kernel;
const cook = (file: Partial<SetUpFile> | string) =>
  cookSetUp(kernel, typeof file === 'string' ? file : JSON.stringify({ machine: twin.id, assemblies: [], places: [], ...file }), 'set-up.json', bytesOf, {
    now: '',
  });
async function cooked(file: Partial<SetUpFile>): Promise<SetUpParts> {
  const read = await cook(file);
  if (!read.ok) throw new Error(JSON.stringify(read.issues));
  return read.value;
}
const faults = (checks: readonly Check[]) => checks.filter((c) => c.state !== 'pass').map((c) => `${c.state} ${c.code}`);
const allOf = (parts: SetUpParts) => {
  const { stations, checks } = setUpTable(parts);
  return faults([...stations.flatMap((s) => [...s.checks, ...s.edges.flatMap((e) => e.checks)]), ...checks]);
};
/** The twin-spindle lathe with plain sockets on its rim or face. */
const plain = (mounting: 'rim' | 'face', connection: MachineRecord['carriers'][number]['connection'], rest: object = {}): SetUpFile['machine'] => ({
  ...twin,
  carriers: [{ ...turret, mounting, connection, ...rest }],
});
const SQUARE = { standard: 'square', size: '25x25' } as const;
const place = (assembly: string, station: number, rest: Partial<SetUpFile['places'][number]> = {}) => ({
  carrier: 'upper-turret',
  station,
  assembly,
  turn: 0,
  spindle: 'main' as const,
  edges: [],
  ...rest,
});

beforeAll(async () => {
  kernel = { ...(await loadKernel()), memory: new Map() };
});

describe('a set-up from its file', () => {
  let hub: SetUpParts;
  beforeAll(async () => {
    const read = await cook(bytesOf('hub-set-up.json').toString('utf8'));
    if (!read.ok) throw new Error(JSON.stringify(read.issues));
    hub = read.value;
  });
  it('tells where the demo’s edges stand, by hand from the drawings of its blocks', () => {
    const { stations } = setUpTable(hub);
    const rows = stations.flatMap((s) => s.edges.map((e) => [s.place.station, e.spindle, e.tipOrientation, e.sense, e.atWork.X, e.atWork.Z, e.atWork.Y]));
    const near = (v: number) => expect.closeTo(v, 4);
    // The holder: 150 long in a slot 72 out, pushed in by 63; 32 wide, 24 beside the axis. The bars: 11 off their axis, which is 52 out; 82 + 18 + 150 - 90 along.
    const out = 72 - 63 + 150;
    expect(rows).toEqual([
      [1, 'main', 3, 'M3', near(-out), near(-56), near(0)],
      [2, 'counter', 3, 'M3', near(-out), near(-56), near(0)],
      [4, 'main', 2, 'M3', near(-41), near(-160), near(0)],
      [4, 'counter', 2, 'M3', near(-41), near(-160), near(0)],
    ]);
    expect(stations[0].edges[0]).toMatchObject({ own: { hand: 'right' }, tool: 1, offset: 1, controlX: near(-2 * out) });
    // Travel from -15: the tip passes the axis by what it stands out more.
    expect(stations[0].reach?.pastCentre).toBeCloseTo(out + 15, 4);
    expect(allOf(hub)).toEqual([]);
  });
  it('finds the room of its neighbours, and from where on the turret can be indexed', () => {
    const job = clearances(setUpTable(hub), hub);
    let step = job.next();
    while (!step.done) step = job.next();
    const found = step.value;
    // The bar for the other side, while this one bores: it stays clear of the counter spindle.
    expect(found.map((c) => [c.working, c.other]).filter(([w, o]) => w === 4 && o === 4)).toHaveLength(1);
    for (const c of found) expect(c.distance).toBeGreaterThan(10);
    // While station 1 faces at the jaws, the disc is as far from them as the tip stands out, less the chuck: by hand.
    const disc = found.find((c) => c.working === 1 && c.other === 0);
    expect(disc?.against).toBe('jaws of the main spindle');
    expect(disc?.distance).toBeGreaterThan(159 - 82.5 - 1 - 0.2);
    expect(disc?.distance).toBeLessThan(159 - 82.5 + 2);
    const [swing] = swings(setUpTable(hub), hub);
    expect(swing).toMatchObject({ carrier: 'upper-turret', station: 1, isWithin: true });
    // The corner of the tool that stands out farthest, about the index axis: 150 + 159, and a little for what it is beside the middle.
    expect(swing.radius).toBeGreaterThan(150 + 158.9);
    expect(swing.radius).toBeLessThan(150 + 159 + 5);
    expect(swing.clearFrom).toBeCloseTo(82.5 + swing.radius - 150 + 1, 3);
    const [short] = swings(setUpTable(hub), { ...hub, machine: { ...hub.machine, carriers: [{ ...turret, travel: { ...turret.travel, x: [-15, 230] } }] } });
    expect(short.isWithin).toBe(false);
    expect(checkSwing(short)).toMatchObject([{ code: 'swing', state: 'warn', value: short.clearFrom }]);
    expect(checkSwing(swing)).toEqual([]);
  });
  it('says at the station that works which neighbour touches what', () => {
    const told = setUpTable(hub);
    expect(told.stations.flatMap((s) => checkRoom(s, roomOf(told, hub).clearances))).toEqual([]);
    // Work so wide that the tool of the next station goes into it while the first one faces.
    const wide: SetUpParts = { ...hub, setUp: { ...hub.setUp, blanks: { ...hub.setUp.blanks, main: { diameter: 300, bore: 0, length: 200 } } } };
    const table = setUpTable(wide);
    const { clearances: room } = roomOf(table, wide);
    const [first] = table.stations;
    const checks = checkRoom(first, room);
    expect(checks.map((c) => [c.code, c.state])).toContainEqual(['room', 'fail']);
    expect(checks.map((c) => c.message).join(' ')).toMatch(/While station 1 works, .*Hub turning at station 2 touches the work of the main spindle/);
    // Of each pair that touches, once; and none of a pair that does not.
    expect(checks).toHaveLength(room.filter((c) => c.working === 1 && c.distance === 0).length);
  });
  it('says where a block lies upside down, and it is mended by turning it', async () => {
    const file = (turn: number): Partial<SetUpFile> => ({
      assemblies: [{ key: 'turning', recipe: 'hub-turning.json' }],
      places: [place('turning', 1, { turn, edges: [{ tip: 't1', sense: 'M3' }] })],
    });
    const wrong = await cooked(file(180));
    expect(allOf(wrong)).toEqual(['fail sense']);
    const [row] = setUpTable(wrong).stations;
    expect(row.edges[0].checks.find((c) => c.code === 'sense')?.message).toMatch(
      /upside down for M3: here it cuts with M4.*turn the block by 180°.*counter spindle/,
    );
    expect(allOf(await cooked(file(0)))).toEqual([]);
  });
});

describe('bolts of a seat', () => {
  // As its drawing has them (demo/rim-blocks.ts): through holes of 6.8 at X 58 and -28, Y 28 and -38.
  const DRAWN = [58, -28].flatMap((x) => [28, -38].map((y) => ({ x, y, diameter: 6 })));
  let block: SetUpParts;
  beforeAll(async () => {
    block = await cooked({ assemblies: [{ key: 'turning', recipe: 'hub-turning.json' }], places: [place('turning', 1)] });
  });
  // The same block, its foot bolted to the face instead of held by its shank.
  const bolted = (bolts: typeof DRAWN, turnDeg = 0): Check[] => {
    const connection = { standard: 'bolted face' as const, size: '' };
    const [first] = block.assemblies.turning?.pieces ?? [];
    const component = block.components[first.componentId];
    if (!component?.mount) throw new Error('no block');
    const told = setUpTable({
      ...block,
      machine: { ...twin, carriers: [{ ...turret, connection, bolts }] },
      setUp: { ...block.setUp, places: block.setUp.places.map((p) => ({ ...p, turnDeg })) },
      components: { ...block.components, [component.id]: { ...component, mount: { ...component.mount, connection } } },
    });
    return told.stations[0].checks.filter((c) => c.code === 'bolts');
  };
  it('are found in the foot of a block, all of them or three', () => {
    const [all] = bolted(DRAWN);
    expect([all.state, all.message]).toEqual(['pass', '4 of 4 bolts of upper turret find a hole in Slot block 40, 0 mm off at most']);
    expect(bolted([...DRAWN.slice(0, 3), { x: 0, y: 0, diameter: 6 }])).toMatchObject([{ state: 'pass' }]);
    // As far as the hole has play: 0.4 about M6.
    expect(bolted(DRAWN.map((b) => ({ ...b, x: b.x + 0.39 })))[0].message).toContain('0.39 mm off');
    expect(bolted([])).toEqual([]);
  });
  it('that meet no hole are told with where the holes are', () => {
    const [wrong] = bolted(DRAWN.map((b) => ({ ...b, x: b.x + 0.41 })));
    expect(wrong).toMatchObject({ state: 'fail', value: 0, limit: 3 });
    expect(wrong.message).toContain('4 of 4 bolts of upper turret find no hole in the foot of Slot block 40');
    expect(wrong.message).toMatch(/it has 4: .*6\.8 at 58, -38/);
    // Too thick for them, and a block turned the other way: its pattern is not the same then.
    expect(bolted(DRAWN.map((b) => ({ ...b, diameter: 8 })))[0].state).toBe('fail');
    expect(bolted(DRAWN, 180)[0]).toMatchObject({ state: 'fail', message: expect.stringMatching(/Turned by 0° it sits on them\.$/) });
    expect(wrong.message).not.toContain('Turned by');
    expect(
      bolted(
        DRAWN.map(({ x, y, diameter }) => ({ x: -x, y: -y, diameter })),
        180,
      )[0].state,
    ).toBe('pass');
  });
});

describe('components of data where they stand', () => {
  it('a holder of ISO 5608 in a square station, right and left, turns as its style says', async () => {
    const parts = await cooked({
      machine: plain('rim', SQUARE),
      assemblies: [
        { key: 'right', words: 'DCLNR 2525 M12' },
        { key: 'left', words: 'DCLNL 2525 M12' },
        { key: 'copy', words: 'DVJNR 2525 M16' },
      ],
      places: [place('right', 1), place('left', 2), place('copy', 3)],
    });
    const [right, left, copy] = setUpTable(parts).stations.map((s) => s.edges[0]);
    expect([right.tipOrientation, right.sense, right.own.hand]).toEqual([3, 'M3', 'right']);
    expect([left.tipOrientation, left.sense, left.own.hand]).toEqual([3, 'M4', 'left']);
    const along = (e: typeof right) => e.atWork.feeds?.find((f) => f.feed === 'towards the chuck');
    // As it cuts: tilted by -6 / -6, an insert is seen a little wider than its 80 or 35 degrees.
    expect(along(right)?.enteringAngle).toBeCloseTo(95, 0);
    expect(along(right)?.endCuttingAngle).toBeCloseTo(4.4, 0);
    expect(along(copy)?.enteringAngle).toBeCloseTo(93, 0);
    // Leaned by 13 degrees, its 35 are seen as nearly 36.
    expect(along(copy)?.endCuttingAngle).toBeGreaterThan(180 - 93 - 36);
    expect(along(copy)?.endCuttingAngle).toBeLessThan(180 - 93 - 35);
  });
  it('an end mill needs a station that drives it, a drill off the axis too', async () => {
    const file = (driven: 'all' | number[], words: string, rest: object = {}): Partial<SetUpFile> => ({
      machine: plain('face', { standard: 'cylindrical', size: 12 }, { driven, ...rest }),
      assemblies: [{ key: 'tool', words }],
      places: [place('tool', 3)],
    });
    expect(allOf(await cooked(file([], 'end mill 12 r1')))).toContain('fail driven');
    expect(allOf(await cooked(file([3], 'end mill 12 r1')))).not.toContain('fail driven');
    expect(allOf(await cooked(file([], 'drill 12')))).toEqual([]);
    const [drill] = setUpTable(await cooked(file([], 'drill 12'))).stations[0].edges;
    expect([drill.tipOrientation, drill.sense, drill.atWork.side]).toEqual([7, 'M3', 0]);
    // A turret that does not get to the axis.
    expect(allOf(await cooked(file([], 'drill 12', { travel: { ...turret.travel, x: [20, 260] } })))).toEqual(['fail reach']);
  });
  it('says what does not fit the carrier or its control', async () => {
    const two: Partial<SetUpFile> = { machine: plain('rim', SQUARE), assemblies: [{ key: 'a', words: 'DCLNR 2525 M12' }] };
    const tip = 'data-tip-0';
    expect(allOf(await cooked({ ...two, machine: plain('rim', { standard: 'square', size: '20x20' }), places: [place('a', 1)] }))).toContain('fail mount');
    expect(allOf(await cooked({ ...two, places: [place('a', 13)] }))).toContain('fail station');
    expect(allOf(await cooked({ ...two, places: [place('a', 1), place('a', 1)] }))).toEqual(['fail station', 'fail offset']);
    const read = await cooked({ ...two, places: [place('a', 1)] });
    const [edge] = setUpTable(read).stations[0].edges;
    expect(edge.own.tip).toBe(tip);
    const same = [place('a', 1, { edges: [{ tip, tool: 5, offset: 5 }] }), place('a', 2, { edges: [{ tip, tool: 5, offset: 105 }] })];
    expect(allOf(await cooked({ ...two, places: same }))).toEqual(['fail tool-number', 'fail offset']);
    const single = plain('rim', SQUARE) as Record<string, unknown>;
    const noCounter = { ...single, spindles: { ...twin.spindles, counter: null } };
    expect(allOf(await cooked({ ...two, machine: noCounter, places: [place('a', 1, { spindle: 'counter' })] }))).toContain('fail spindle');
    // The assembly is gone.
    const lost = { ...read, assemblies: {} };
    expect(allOf(lost)).toContain('fail assembly');
  });
  it('a swivel head clears by its window, as its control calls it', async () => {
    const head = { ...millTurn.carriers[0], connection: SQUARE };
    const at = (angle: number): Partial<SetUpFile> => ({
      machine: { ...millTurn, carriers: [head] },
      assemblies: [{ key: 'a', words: 'DVJNR 2525 M16' }],
      places: [{ ...place('a', 1, { angle }), carrier: 'swivel-head' }],
    });
    const upright = setUpTable(await cooked(at(0))).stations[0].edges[0];
    expect(upright.swivel?.control).toBe(90);
    const { from = 0, to = 0, best = 0 } = upright.swivel?.window ?? {};
    expect(best).toBeGreaterThan(from);
    expect(to).toBeGreaterThan(best);
    // 35 degrees of insert, seen as nearly 36 as it leans, leave 54 for both reliefs; each at least 2.
    expect(to - from).toBeGreaterThan(54 - 4);
    expect(to - from).toBeLessThan(55 - 4);
    expect(allOf(await cooked(at(Math.round(best))))).toEqual([]);
    expect(allOf(await cooked(at(Math.ceil(to) + 3)))).toEqual(['warn relief']);
    expect(allOf(await cooked(at(130)))).toContain('fail swivel');
  });
});

describe('a set-up file that cannot be used', () => {
  const turning = { assemblies: [{ key: 'a', words: 'DCLNR 2525 M12' }] };
  it.each<[string, Partial<SetUpFile> | string, string]>([
    ['is no JSON', '{', 'record.bad'],
    ['names no machine', { ...turning, machine: 'nobody' }, 'record.bad'],
    ['has no assemblies', {}, 'record.bad'],
    ['names an assembly that is not there', { ...turning, places: [place('b', 1)] }, 'record.bad'],
    ['names a carrier that is not there', { ...turning, places: [place('a', 1, { carrier: 'third' })] }, 'record.bad'],
    ['names a tip that is not there', { ...turning, places: [place('a', 1, { edges: [{ tip: 't9' }] })] }, 'record.bad'],
    ['calls two assemblies the same', { assemblies: [...turning.assemblies, ...turning.assemblies] }, 'record.bad'],
    ['has words that are not understood', { assemblies: [{ key: 'a', words: 'DCLNQ 2525 M12' }] }, 'component.odd-word'],
  ])('%s', async (_, file, code) => {
    const read = await cook(file);
    expect(read.ok ? 'taken' : read.issues[0].code).toBe(code);
  });
});

describe('a block with two feet in a set-up file', () => {
  // The demo's turning assembly, whose slot block gets a foot on the side that its slot opens to.
  const recipe = JSON.parse(new TextDecoder().decode(bytesOf('hub-turning.json'))) as { components: Record<string, unknown>[] };
  const block = recipe.components.find((c) => c.key === 'slot-block-40') as { mount: { frame: { origin: number[] } } };
  const { mount } = block;
  const feet = [{ id: 'far', ...mount, name: 'Far foot', frame: { ...mount.frame, origin: mount.frame.origin.map((v, i) => v + [0, 0, 10][i]) } }];
  const told = JSON.stringify({ ...recipe, components: recipe.components.map((c) => (c.key === 'slot-block-40' ? { ...c, feet } : c)) });
  const at = (foot?: string) =>
    cookSetUp(
      kernel,
      JSON.stringify({
        machine: twin.id,
        assemblies: [{ key: 'turning', recipe: 'two-feet.json' }],
        places: [place('turning', 1, foot === undefined ? {} : { foot })],
      }),
      'set-up.json',
      (name) => (name === 'two-feet.json' ? new TextEncoder().encode(told) : bytesOf(name)),
      { now: '' },
    );
  it('stands on the one that is named; one that it has not is refused with those that there are', async () => {
    const [plainly, farther] = [await at(), await at('far FOOT')];
    if (!plainly.ok || !farther.ok) throw new Error('refused');
    const edge = (parts: SetUpParts) => setUpTable(parts).stations[0].edges[0].atWork;
    // Both feet look the same way: farther on by 10 along one axis of the file, so is the edge.
    const [a, b] = [edge(plainly.value), edge(farther.value)];
    expect(Math.hypot(a.X - b.X, a.Z - b.Z, a.Y - b.Y)).toBeCloseTo(10, 6);
    const lost = await at('rear');
    expect(lost.ok ? '' : say(lost.issues[0])).toMatch(/places\.0\.foot.*has no foot rear beside its mount; it has Far foot/);
  });
});
