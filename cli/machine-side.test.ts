// Commands of the machine side: what edges reach, programs against a set-up, stations.
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import { openAnyPackage } from '#core/handover';
import { ruota } from './run-here.ts';

const root = join(import.meta.dirname, '..');
const out = mkdtempSync(join(tmpdir(), 'ruota-machine-'));

describe('reach', () => {
  it('tells of the demo’s edges what each can cut, and what they leave together', async () => {
    const r = await ruota('reach', join(root, 'demo/hub-trial.json'), '--json');
    expect(r.status).toBe(0);
    const told = r.json() as unknown as {
      edges: { edge: string; reached: { from: number; to: number }[]; blocked: { why: string; by: string }[]; residual: { thickness: number } }[];
      together: { residual: { area: number } };
    };
    expect(told.edges.map((e) => e.edge)).toEqual(['Hub-turning holder 25 R', 'Hub-bore bar 16']);
    expect(told.edges[0].blocked.map((b) => b.why)).toEqual(['nose radius', 'nose radius', 'edge angle']);
    expect(told.edges[1].blocked.some((b) => b.why === 'body' && b.by.startsWith('Hub-bore bar 16'))).toBe(true);
    expect(told.together.residual.area).toBeLessThan(1);
    const plain = (await ruota('reach', join(root, 'demo/hub-trial.json'))).stdout;
    expect(plain).toMatch(/together they leave 0\.\d+ mm2/);
    expect(plain).toMatch(/taken in the order Hub-turning holder 25 R, Hub-bore bar 16/);
    expect((await ruota('reach', join(root, 'demo/hub-waist.json'))).stdout).toMatch(/missing: an insert of (80|60|55|35)° or slimmer/);
  });
});

describe('trial', () => {
  it('tells the demo’s mistake with its line and ends with 4; mended it ends with 0', async () => {
    const file = join(root, 'demo/hub-trial.json');
    const hit = await ruota('trial', file, '--json');
    expect(hit.status).toBe(4);
    const told = hit.json() as unknown as {
      events: { kind: string; line: number; depth: number }[];
      removedVolume: number;
      part: unknown[][];
      against: { under: number };
    };
    expect(told.events.filter((e) => e.kind !== 'near')).toEqual([expect.objectContaining({ kind: 'touch', line: 39, depth: expect.closeTo(0.3, 2) })]);
    expect(told.removedVolume).toBeGreaterThan(20_000);
    expect(told.part).toHaveLength(1);
    const program = join(mkdtempSync(join(tmpdir(), 'ruota-trial-')), 'mended.nc');
    writeFileSync(program, readFileSync(join(root, 'demo/hub-trial.nc'), 'utf8').replace('X10. Z-11.', 'X20. Z-11.'));
    const mended = await ruota('trial', file, '--program', program);
    expect(mended.status).toBe(0);
    expect(mended.stdout).toMatch(/against the contour: 0\.2\d+ mm too much, 0(\.000)? mm too little/);
    // Written of operations instead: kept as a file, and run.
    const folder = mkdtempSync(join(tmpdir(), 'ruota-cuts-'));
    const { program: _, ...rest } = JSON.parse(readFileSync(file, 'utf8')) as Record<string, unknown>;
    const operations = [
      { kind: 'face', tool: 1 },
      { kind: 'turn', tool: 1 },
      { kind: 'turn', tool: 4, side: 'inside', depthOfCut: 1 },
    ];
    const cuts = join(folder, 'cuts.json');
    writeFileSync(cuts, JSON.stringify({ ...rest, setUp: join(root, 'demo/hub-set-up.json'), operations }));
    const cut = await ruota('trial', cuts, '--out', join(folder, 'cuts.nc'), '--json');
    expect(cut.status).toBe(0);
    expect((cut.json() as unknown as { removedVolume: number }).removedVolume / 1000).toBeCloseTo(23.85, 1);
    expect(readFileSync(join(folder, 'cuts.nc'), 'utf8')).toMatch(/T0101[\s\S]*T0404/);
    writeFileSync(cuts, JSON.stringify({ ...rest, setUp: join(root, 'demo/hub-set-up.json'), operations: [{ kind: 'drill', tool: 1 }] }));
    expect((await ruota('trial', cuts)).stderr).toMatch(/Operation 1, drill, cannot be written\.\s+.*does not stand on the axis/);
    expect((await ruota('trial', file, '--out', join(folder, 'none.nc'))).stderr).toMatch(/--out: it writes what operations make/);
    // The other side, of what the first one leaves.
    const second = await ruota('trial', join(root, 'demo/hub-second-side.json'), '--json');
    expect(second.status).toBe(0);
    const whole = second.json() as unknown as { part: { from: number[] }[][]; against: { over: number; under: number }; fallen: unknown[] };
    const ends = whole.part.flat().map((p) => p.from[0]);
    expect([Math.min(...ends), Math.max(...ends)]).toEqual([expect.closeTo(-78, 3), expect.closeTo(0, 3)]);
    expect(whole.against.under).toBeLessThan(0.002);
    expect(whole.fallen).toEqual([]);
    const circle = join(folder, 'circle.json');
    writeFileSync(circle, JSON.stringify({ ...rest, setUp: join(root, 'demo/hub-set-up.json'), stock: { after: 'circle.json' }, operations }));
    expect((await ruota('trial', circle)).stderr).toMatch(/would come after itself/);
    const wrong = await ruota('trial', file, '--program', join(root, 'demo/hub-trial.json'));
    expect([wrong.status, wrong.stderr]).toEqual([3, expect.stringMatching(/line \d+/)]);
  });
});

describe('setup', () => {
  it('tells the stations of the demo with their room, and says by its exit code where something is wrong', async () => {
    const file = join(root, 'demo/hub-set-up.json');
    const zip = join(out, 'hub-shell.zip');
    const made = await ruota('setup', file, '--out', zip, '--json');
    expect([made.status, made.json().package]).toEqual([0, zip]);
    const { stations, clearances, swings, checks } = made.json() as unknown as Record<string, Record<string, unknown>[]>;
    expect(stations.map((s) => [s.station, s.carrier, (s.edges as { tipOrientation: number }[]).map((e) => e.tipOrientation)])).toEqual([
      [1, 'upper-turret', [3]],
      [2, 'upper-turret', [3]],
      [4, 'upper-turret', [2, 2]],
    ]);
    expect(clearances.every((c) => Number(c.distance) > 1)).toBe(true);
    expect(swings).toHaveLength(1);
    expect(checks.some((c) => c.state === 'fail')).toBe(false);
    // In its package each part is made as its recipe says.
    const packed = openAnyPackage(readFileSync(zip), 'hub-shell.zip');
    if (!packed.ok || packed.value.kind !== 'set-up') throw new Error('no package');
    const made1 = Object.values(packed.value.components).find((c) => c.id.endsWith('sleeve-32-16'))?.geometry;
    expect(made1?.map((g) => [g.target, g.mode, g.tolerance])).toEqual([['non-cutting', 'revolved', 0.05]]);
    // It is as good as the file; there is no trial in it.
    const again = await ruota('setup', zip, '--json');
    expect(again.json().stations).toEqual(stations);
    const none = await ruota('trial', zip, '--trial', 'First side');
    expect([none.status, none.stderr]).toEqual([3, expect.stringContaining('which trial is meant is not clear; there are: none')]);
    const upsideDown = JSON.parse(readFileSync(file, 'utf8')) as { places: { turn?: number; edges?: unknown[] }[]; assemblies: { recipe: string }[] };
    upsideDown.places = [{ ...upsideDown.places[0], turn: 180, edges: [{ tip: 't1', sense: 'M3' }] }];
    upsideDown.assemblies = [{ ...upsideDown.assemblies[0], recipe: join(root, 'demo/hub-turning.json') }];
    const path = join(out, 'upside-down.json');
    writeFileSync(path, JSON.stringify(upsideDown));
    const wrong = await ruota('setup', path);
    expect(wrong.status).toBe(4);
    expect(wrong.stdout).toMatch(/FAIL +sense .*upside down for M3/);
  });
});
