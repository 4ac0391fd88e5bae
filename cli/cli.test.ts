import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { encode } from 'fast-png';
import { zipSync } from 'fflate';
import { isClosedMesh, meshVolume, readStl, validateMesh, weld } from '#core/mesh';
import { ruota } from './run-here.ts';

const root = join(import.meta.dirname, '..');
const out = mkdtempSync(join(tmpdir(), 'ruota-cli-'));
const models = join(root, 'demo/models');

/** The program as a shell starts it. */
function started(...args: string[]) {
  const env = { ...process.env, NODE_OPTIONS: '' };
  return spawnSync(process.execPath, ['scripts/ruota.mjs', ...args], { cwd: root, encoding: 'utf8', env });
}

describe('inspect', () => {
  it('tells unit, bodies and numbers as the contract says', async () => {
    const r = await ruota('inspect', join(models, 'hub-bore-bar-16-inch.step'), '--json');
    expect(r.status).toBe(0);
    const result = r.json() as unknown as { format: string; unit: string; unitScale: number; bodies: Record<string, unknown>[] };
    expect(result).toMatchObject({ format: 'step', unit: 'inch', unitScale: 25.4 });
    expect(result.bodies.map((b) => b.id)).toEqual(['b1', 'b2', 'b3']);
    for (const body of result.bodies)
      for (const field of ['name', 'volume', 'area', 'bbox', 'centroid', 'faces', 'edges', 'triangles', 'closed']) expect(body).toHaveProperty(field);
    // An insert of inscribed circle 6.35, 80 degrees, thickness 2.38, less its hole of 2.8 and four nose roundings.
    const rhombus = 6.35 ** 2 / Math.sin((80 * Math.PI) / 180);
    const roundings = 0.4 ** 2 * 2 * (1 / Math.tan((40 * Math.PI) / 180) + 1 / Math.tan((50 * Math.PI) / 180)) - 0.4 ** 2 * Math.PI;
    // Its sides have 7 degrees of clearance: the foot is smaller.
    const foot = 1 - (2 * 2.38 * Math.tan((7 * Math.PI) / 180)) / 6.35;
    const insert = (((rhombus - roundings) * (1 + foot + foot * foot)) / 3) * 2.38 - Math.PI * 1.4 ** 2 * 2.38;
    expect(Math.abs(Number(result.bodies[1].volume) / insert - 1)).toBeLessThan(0.12);
  });
  it('takes a model out of an archive, the one that is named where there are several', async () => {
    const zip = join(out, 'vendor.zip');
    const bar = new Uint8Array(readFileSync(join(models, 'hub-bore-bar-16-inch.step')));
    writeFileSync(zip, zipSync({ 'Bar/bar.step': bar, 'Sleeve/sleeve.stp': new Uint8Array(readFileSync(join(models, 'sleeve-32-16.step'))) }));
    const unsaid = await ruota('inspect', zip);
    expect([unsaid.status, unsaid.stderr]).toEqual([
      3,
      expect.stringMatching(/vendor\.zip holds 2 models: Bar\/bar\.step, Sleeve\/sleeve\.stp\. Say which one/),
    ]);
    const said = await ruota('inspect', join(zip, 'Bar/bar.step'), '--json');
    expect(said.json()).toMatchObject({ format: 'step', unit: 'inch' });
    // As a shell starts it.
    const wrong = started('inspect', join(zip, 'Bar/none.step'));
    expect([wrong.status, wrong.stderr]).toEqual([3, expect.stringMatching(/Bar\/none\.step is not in vendor\.zip/)]);
  });
  it('reads as a table without --json', async () => {
    expect((await ruota('inspect', join(models, 'hub-bore-bar-16-inch.step'))).stdout).toMatch(/hub-bore-bar-16-inch\.step: step, inch/);
  });
});

// Numbers to a millionth, within what they hold.
const rounded = (value: unknown): unknown =>
  typeof value === 'number'
    ? expect.closeTo(value, 5)
    : typeof value === 'object' && value !== null
      ? Object.fromEntries(Object.entries(value).map(([k, v]) => [k, rounded(v)]))
      : value;

describe('outline', () => {
  const drawings = join(root, 'demo/drawings/files');
  it('reads a drawing as the contract says, and writes what it makes', async () => {
    const step = join(out, 'cutter.step');
    const r = await ruota('outline', join(drawings, 'form-cutter-1.dxf'), '--out', step, '--json');
    expect(r.status).toBe(0);
    const result = r.json() as unknown as { layers: object[]; profile: { from: number[]; to: number[] }[]; steps: object[]; volume: number };
    expect(result).toMatchObject({ format: 'dxf', unit: 'inch', unitScale: 25.4, form: 'revolved', largestDiameter: 11.28, shank: { diameter: 9.525 } });
    for (const field of ['axis', 'tip', 'length', 'area', 'cutting', 'warnings']) expect(result).toHaveProperty(field);
    expect(result.layers[0]).toMatchObject({ name: 'Kontur', used: true });
    // From the tip on the axis to the end of the shank on it.
    expect(result.profile[0].from).toEqual([0, 0]);
    expect(result.profile.at(-1)?.to[1]).toBe(0);
    // The kernel's own volume of the solid that was written.
    const made = (await ruota('inspect', step, '--json')).json() as unknown as { bodies: { volume: number; closed: boolean }[] };
    expect(made.bodies.map((b) => b.closed)).toEqual([true, true]);
    expect(made.bodies.reduce((v, b) => v + b.volume, 0) / result.volume).toBeCloseTo(1, 6);
  });
  it('what it writes as DXF is read again as the same; as STL it encloses that', async () => {
    const first = (await ruota('outline', join(drawings, 'ball-nose-4.svg'), '--out', join(out, 'ball.dxf'), '--json')).json() as unknown as {
      volume: number;
      length: number;
    };
    const again = (await ruota('outline', join(out, 'ball.dxf'), '--form', 'revolved', '--json')).json() as unknown as { volume: number; length: number };
    expect(again.volume).toBeCloseTo(first.volume, 6);
    expect(again.length).toBeCloseTo(first.length, 6);
    await ruota('outline', join(drawings, 'ball-nose-4.svg'), '--out', join(out, 'ball.stl'));
    const stl = readStl(readFileSync(join(out, 'ball.stl')), 'ball.stl');
    if (!stl.ok) throw new Error('an STL');
    const volume = meshVolume(weld(stl.value));
    expect(volume).toBeGreaterThan(first.volume);
    expect(volume).toBeLessThan(1.02 * first.volume);
  });
  it('turns end for end, and takes a picture by two points and their distance', async () => {
    const cutter = join(drawings, 'form-cutter-1.dxf');
    const [there, back] = await Promise.all([ruota('outline', cutter, '--json'), ruota('outline', cutter, '--flip', '--json')]);
    const [a, b] = [there.json(), back.json()] as unknown as { length: number; volume: number; profile: { to: number[] }[] }[];
    expect([b.length, b.volume]).toEqual([a.length, expect.closeTo(a.volume, 6)]);
    expect(b.profile[0].to).not.toEqual(a.profile[0].to);
    // A shaft of 20 by 60, 10 pixels a mm.
    const [width, height] = [700, 260];
    const data = Uint8Array.from({ length: width * height }, (_, i) =>
      i % width >= 50 && i % width < 650 && Math.abs(Math.floor(i / width) + 0.5 - 130) < 100 ? 10 : 245,
    );
    writeFileSync(join(out, 'shaft.png'), encode({ width, height, data, channels: 1 }));
    const picture = await ruota('outline', join(out, 'shaft.png'), '--scale', '50,130,650,130,60', '--json');
    const read = picture.json() as unknown as { format: string; unitScale: number; largestDiameter: number; length: number };
    expect(read).toMatchObject({ format: 'png', unitScale: 0.1, length: expect.closeTo(60, 2), largestDiameter: expect.closeTo(20, 2) });
    expect((await ruota('outline', join(out, 'shaft.png'))).status).toBe(2);
    expect((await ruota('outline', join(out, 'shaft.png'), '--scale', '5,5,5,5,10')).status).toBe(3);
    expect((await ruota('outline', cutter, '--bridge', '50')).status).toBe(2);
  });
  it('gives a flat outline a thickness, and reads the record that it wrote', async () => {
    const plate = join(out, 'plate.stl');
    const flat = await ruota('outline', join(drawings, 'insert-7.dxf'), '--thickness', '3', '--out', plate, '--json');
    const { area } = flat.json() as unknown as { area: number };
    const stl = readStl(new Uint8Array(readFileSync(plate)), 'plate.stl');
    expect(stl.ok && meshVolume(weld(stl.value)) / (3 * area)).toBeCloseTo(1, 3);
    const record = join(out, 'cutter.json');
    const drawn = (await ruota('outline', join(drawings, 'form-cutter-3.dxf'), '--out', record, '--json')).json();
    const kept = await ruota('outline', record, '--out', join(out, 'cutter.step'), '--json');
    const said = kept.json() as unknown as Record<string, unknown>;
    for (const name of ['form', 'largestDiameter', 'length', 'volume', 'cutting', 'shank'] as const)
      expect([name, said[name]]).toEqual([name, rounded(drawn[name as never])]);
    expect((said.profile as unknown[]).length).toBe((drawn['profile' as never] as unknown[]).length);
    const solid = await ruota('inspect', join(out, 'cutter.step'), '--json');
    const { bodies } = solid.json() as unknown as { bodies: { name: string; volume: number }[] };
    expect(bodies.map((b) => b.name)).toEqual(['form-cutter-3, Shank', 'form-cutter-3, Cutting part']);
    expect(bodies.reduce((v, b) => v + b.volume, 0)).toBeCloseTo(said.volume as number, 4);
    writeFileSync(record, JSON.stringify({ ...JSON.parse(readFileSync(record, 'utf8')), typed: { DC: 99 } }));
    const wrong = await ruota('outline', record);
    expect([wrong.status, wrong.stderr]).toEqual([4, expect.stringMatching(/DC was typed as 99/)]);
    writeFileSync(record, '{"kind":"outline"');
    expect((await ruota('outline', record)).status).toBe(3);
  });
  it('a drawing that cannot be read is refused with its line; wrong words are said', async () => {
    writeFileSync(join(out, 'cut.dxf'), readFileSync(join(drawings, 'form-cutter-1.dxf'), 'utf8').slice(0, 3000));
    const cut = await ruota('outline', join(out, 'cut.dxf'));
    expect(cut.status).toBe(3);
    expect(cut.stderr).toMatch(/cut\.dxf ends in line \d+/);
    expect((await ruota('outline', 'x.step')).status).toBe(2);
    expect((await ruota('outline', join(drawings, 'insert-7.dxf'), '--out', join(out, 'x.stl'))).status).toBe(3);
    expect((await ruota('outline', join(drawings, 'insert-7.dxf'), '--thickness', '0')).status).toBe(2);
    expect((await ruota('outline', join(drawings, 'form-cutter-1.dxf'), '--layers', 'nowhere')).stderr).toMatch(/no layer nowhere; it has Kontur/);
  });
});

describe('propose', () => {
  it('gives the coordinate systems that the file has by name', async () => {
    const text = readFileSync(join(models, 'hub-bore-bar-16-inch.step'), 'utf8');
    const end = text.lastIndexOf('ENDSEC;');
    const named = "#990000=CARTESIAN_POINT('',(1.,0.,0.));\n#990001=DIRECTION('',(0.,0.,1.));\n#990002=DIRECTION('',(1.,0.,0.));\n";
    const file = join(out, 'named.step');
    writeFileSync(file, `${text.slice(0, end)}${named}#990003=AXIS2_PLACEMENT_3D('MCS',#990000,#990001,#990002);\n${text.slice(end)}`);
    const r = await ruota('propose', file, '--json');
    // The file is in inches.
    expect(r.json().systems).toEqual([{ name: 'MCS', frame: { origin: [25.4, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } }]);
  });
  it('reads the boring bar as the contract says', async () => {
    const r = await ruota('propose', join(models, 'hub-bore-bar-16-inch.step'), '--json');
    expect(r.status).toBe(0);
    const result = r.json() as unknown as { tips: Record<string, unknown>[] };
    expect(result).toMatchObject({
      kind: 'boring',
      roles: [{ role: 'tool body' }, { role: 'cutting' }, { role: 'hardware' }],
      mount: { connection: { standard: 'cylindrical', size: 16 } },
      tips: [{ enteringAngle: 95, includedAngle: 80, hand: 'right', tipOrientation: 2 }],
    });
    for (const field of ['noseRadius', 'noseCentre', 'virtualTip', 'confidence', 'evidence']) expect(result.tips[0]).toHaveProperty(field);
  });
});

describe('meshes', () => {
  it('an STL is inspected and read like a STEP file', async () => {
    const file = join(root, 'demo/corpus/models/boring-5.stl');
    expect((await ruota('inspect', file, '--json')).json()).toMatchObject({
      format: 'stl',
      unit: 'mm',
      bodies: [{ closed: true }, { closed: true }, { closed: true }],
    });
    const read = (await ruota('propose', file, '--json')).json() as unknown as { tips: object[] };
    expect(read).toMatchObject({ kind: 'boring', mount: { connection: { standard: 'cylindrical' } }, tips: [{ enteringAngle: 95 }] });
    expect(Object.keys(read.tips[0])).not.toContain('faces');
  });
});

describe('envelope', () => {
  it('revolved: closed, never inside, as STL, with its profile', async () => {
    const file = join(out, 'sleeve.stl');
    const r = await ruota(
      'envelope',
      join(models, 'sleeve-32-16.step'),
      '--mode',
      'revolved',
      '--tolerance',
      '0.2',
      '--axis',
      '0,70,300,0,1,0',
      '--out',
      file,
      '--json',
    );
    expect(r.status).toBe(0);
    const result = r.json() as unknown as {
      trianglesIn: number;
      trianglesOut: number;
      growth: { min: number; max: number };
      closed: boolean;
      profile: { kind: string; from: number[]; to: number[] }[];
    };
    expect(result.closed).toBe(true);
    expect(result.growth.min).toBeGreaterThanOrEqual(-1e-6);
    expect(result.growth.max).toBeLessThanOrEqual(0.2);
    expect(result.trianglesOut).toBeLessThan(result.trianglesIn);
    expect(Math.max(...result.profile.flatMap((p) => [p.from[1], p.to[1]]))).toBeCloseTo(24, 1);
    const stl = readFileSync(file);
    expect(84 + 50 * stl.readUInt32LE(80)).toBe(stl.length);
  });
});

describe('envelope --mode revolved --bores', () => {
  it('keeps the bore of the sleeve, as STEP with its true cylinders', async () => {
    const file = join(out, 'sleeve-bored.step');
    const axis = ['--axis', '0,70,300,0,1,0'];
    const make = (...more: string[]) =>
      ruota('envelope', join(models, 'sleeve-32-16.step'), '--mode', 'revolved', '--tolerance', '0.2', ...axis, ...more, '--out', file, '--json');
    const r = await make('--bores', 'open', '--close', '10');
    expect(r.status).toBe(0);
    const { profile, volumeOut } = r.json() as unknown as { profile: { kind: string; from: number[]; to: number[] }[]; volumeOut: number };
    // Its Ø16 bore, from end to end.
    expect(profile.some((p) => Math.abs(p.from[1] - 8) < 1e-3 && Math.abs(p.to[1] - 8) < 1e-3 && p.to[0] - p.from[0] > 80)).toBe(true);
    const written = (await ruota('inspect', file, '--json')).json() as unknown as { bodies: { volume: number; closed: boolean }[] };
    expect(written.bodies).toMatchObject([{ closed: true }]);
    expect(Math.abs(written.bodies[0].volume / volumeOut - 1)).toBeLessThan(0.015);
    expect((await make('--bores', 'wide')).stderr).toMatch(/--bores must be closed, open, work, machine/);
    expect(await make('--bridge', '300')).toMatchObject({ status: 2, stderr: expect.stringMatching(/--bridge must be 0 to 200/) });
  });
});

describe('assemble and verify', () => {
  it('writes a package whose checks all hold', async () => {
    // The sleeve with the bar of the demo, 18 + 150 - 80.
    const demo = JSON.parse(readFileSync(join(root, 'demo/hub-station.json'), 'utf8')) as { components: { key: string; file: string }[] };
    const components = demo.components
      .filter((c) => ['sleeve-32-16', 'hub-bore-bar-16-inch'].includes(c.key))
      .map((c) => ({ ...c, file: join(root, 'demo', c.file) }));
    const pieces = [
      { id: 'p1', component: 'sleeve-32-16' },
      { id: 'p2', component: 'hub-bore-bar-16-inch', parent: { piece: 'p1', seat: 's1' }, stickOut: { by: 'clamping', value: 80 } },
    ];
    const edges = [{ piece: 'p2', tip: 't1', number: 4, name: 'bore' }];
    const recipe = join(out, 'recipe.json');
    writeFileSync(recipe, JSON.stringify({ name: 'Bar in sleeve', components, pieces, edges }));
    const made = await ruota('assemble', recipe, '--out', out, '--json');
    const result = made.json() as unknown as { gaugeLength: number; tips: { L: number; Q: number; Y: number }[]; package: string };
    expect(made.status).toBe(0);
    expect(result.gaugeLength).toBeCloseTo(88, 6);
    expect(result.tips).toMatchObject([{ Q: 11, Y: 0, edge: 'bore', number: 4 }]);
    // Steel, held over 80 of 150; it touches its bore and goes through nothing.
    expect(made.json()).toMatchObject({
      pieces: [{ stickOut: 0 }, { clamped: expect.closeTo(80, 6), standsOut: expect.closeTo(70, 2) }],
      overhang: { ratio: expect.closeTo(70 / 16, 2), limit: 4 },
      deflection: { force: 100 },
      contacts: [{ between: ['p2', 'p1'], kind: 'shank', gap: expect.closeTo(0, 6) }],
      overlaps: [],
    });
    const more = await ruota(
      'assemble',
      recipe,
      '--out',
      out,
      '--json',
      '--swap',
      'p2=hub-bore-bar-16-inch',
      '--find',
      'cylindrical 32..hub-bore-bar-16-inch',
      '--force',
      '250',
    );
    const answer = more.json() as unknown as { deflection: { value: number }; chains: unknown };
    expect(answer.deflection.value).toBeCloseTo((made.json() as unknown as typeof answer).deflection.value * 2.5, 9);
    expect(answer.chains).toEqual([{ through: ['sleeve-32-16'], length: 18, thinnest: 16 }]);
    const verified = await ruota('verify', result.package, '--json');
    expect(verified.status).toBe(0);
    // One byte of one file changed: it does not open.
    const bytes = readFileSync(result.package);
    bytes[Math.floor(bytes.length / 2)] ^= 255;
    const bad = join(out, 'bad.zip');
    writeFileSync(bad, bytes);
    const refused = await ruota('verify', bad);
    expect(refused.status).toBe(3);
    expect(refused.stderr).not.toMatch(/\n\s+at /);
  });
});

describe('envelope --mode plan', () => {
  it('gives the outline of a turning tool as lines and arcs, never inside', async () => {
    const r = await ruota(
      'envelope',
      join(models, 'hub-face-holder-25.step'),
      '--mode',
      'plan',
      '--tolerance',
      '0.05',
      '--out',
      join(out, 'plan.glb'),
      '--json',
    );
    expect(r.status).toBe(0);
    const plan = JSON.parse(r.stdout) as { growth: { min: number; max: number }; closed: boolean; profile: { kind: string; from: number[]; to: number[] }[] };
    expect(plan.closed).toBe(true);
    expect(plan.growth.min).toBeGreaterThanOrEqual(-1e-6);
    expect(plan.growth.max).toBeLessThanOrEqual(0.05);
    expect(plan.profile.length).toBeLessThan(40);
    // The functional length and width of the tool, from its own mount.
    expect(Math.max(...plan.profile.map((p) => p.from[0]))).toBeCloseTo(150, 1);
    expect(Math.max(...plan.profile.map((p) => p.from[1]))).toBeCloseTo(32, 1);
  });
});

describe('what cannot be done', () => {
  it.each([
    [[], 2],
    [['fly'], 2],
    [['shelf', 'x.zip'], 3],
    [['shelf', 'demo/hub-station.json'], 3],
    [['shelf', 'x.zip', '--out', 'x.step'], 2],
    [['reach', 'there-is-none.json'], 3],
    [['reach', 'demo/hub-set-up.json'], 3],
    [['propose', 'x.step', '--kind', 'spoon'], 2],
    [['inspect'], 2],
    [['assemble', 'x.json', '--out', 'x', '--swap', 'p1'], 2],
    [['assemble', 'x.json', '--out', 'x', '--find', 'p1'], 2],
    [['envelope', 'x.step', '--mode', 'shadow', '--tolerance', '1', '--out', 'x.stl'], 2],
    [['envelope', 'x.step', '--mode', 'exact', '--triangles', '200', '--tolerance', '1', '--out', 'x.stl'], 2],
    [['envelope', 'x.step', '--mode', 'wrap', '--close', '-1', '--tolerance', '1', '--out', 'x.stl'], 2],
    [['envelope', 'x.step', '--mode', 'exact', '--tolerance', '-1', '--out', 'x.stl'], 2],
    [['inspect', 'there-is-none.step'], 3],
    [['verify', 'package.json'], 3],
  ])('%j ends with %i, one sentence and no stack', async (args, code) => {
    const r = await ruota(...args);
    expect(r.status).toBe(code);
    expect(r.stdout).toBe('');
    expect(r.stderr.length).toBeGreaterThan(10);
    expect(r.stderr).not.toMatch(/\n\s+at /);
  });
});

describe('batch', () => {
  const folder = mkdtempSync(join(tmpdir(), 'ruota-batch-'));
  const made = join(folder, 'made');
  const recipe = join(folder, 'recipe.json');
  const light = { name: 'light', tolerance: 0.2, formats: ['stl'] };
  beforeAll(() => {
    for (const name of ['threading-b3.step', 'grooving-5.stl']) copyFileSync(join(root, 'demo/corpus/models', name), join(folder, name));
    writeFileSync(join(folder, 'broken.step'), 'ISO-10303-21;\nnothing');
    writeFileSync(recipe, JSON.stringify({ geometry: [light] }));
  });
  const run = (...args: string[]) => {
    const r = started('batch', folder, '--recipe', recipe, '--out', made, '--json', ...args);
    return {
      ...r,
      summary: (r.stdout ? JSON.parse(r.stdout) : {}) as {
        made: number;
        kept: number;
        refused: number;
        outcomes: { file: string; state: string; message?: string }[];
      },
    };
  };
  it('makes each model of a folder, names what it cannot read, and leaves what is there already', () => {
    const first = run();
    expect(first.status).toBe(4);
    expect(first.summary).toMatchObject({ files: 3, made: 2, kept: 0, refused: 1 });
    expect(first.summary.outcomes.find((o) => o.file === 'broken.step')?.message?.length).toBeGreaterThan(20);
    for (const name of ['threading-b3', 'grooving-5']) {
      const stl = readStl(new Uint8Array(readFileSync(join(made, readdirSync(made).find((f) => f.startsWith(name) && f.endsWith('.stl')) as string))), name);
      if (!stl.ok) throw new Error('not written');
      expect(isClosedMesh(validateMesh(weld(stl.value)))).toBe(true);
    }
    // Resumed: nothing is made again, but what is gone.
    expect(run().summary).toMatchObject({ made: 0, kept: 2, refused: 1 });
    rmSync(join(made, readdirSync(made).find((f) => f.startsWith('grooving-5') && f.endsWith('.stl')) as string));
    expect(run('--jobs', '1').summary).toMatchObject({ made: 1, kept: 1 });
    // Another recipe makes all anew.
    writeFileSync(recipe, JSON.stringify({ geometry: [{ ...light, tolerance: 0.3 }] }));
    expect(run().summary).toMatchObject({ made: 2, kept: 0 });
  });
  it('refuses a recipe with the field that is wrong, and a folder that is not there', () => {
    writeFileSync(recipe, JSON.stringify({ geometry: [{ ...light, tolerance: 0 }] }));
    expect(run()).toMatchObject({ status: 3, stderr: expect.stringMatching(/geometry\.0\.tolerance/) });
    writeFileSync(recipe, JSON.stringify({ geometry: [light] }));
    expect(started('batch', join(folder, 'none'), '--recipe', recipe, '--out', made)).toMatchObject({
      status: 3,
      stderr: expect.stringMatching(/does not exist/),
    });
  });
});

describe('as a shell starts it', () => {
  it.each([
    [['inspect', join(models, 'hub-bore-bar-16-inch.step'), '--json'], 0],
    [['fly'], 2],
    [['inspect', 'there-is-none.step'], 3],
  ])('%j ends with %i, and nothing else is on standard output', (args, code) => {
    const { status, stdout, stderr } = started(...args);
    expect(status).toBe(code);
    if (code === 0) expect(JSON.parse(stdout)).toMatchObject({ format: 'step' });
    else expect(stdout).toBe('');
    expect(stderr).not.toMatch(/\n\s+at /);
  });
});
