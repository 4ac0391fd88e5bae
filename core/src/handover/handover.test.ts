import { beforeAll, describe, expect, it } from '@jest/globals';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { say } from '#core/issues';
import { type Kernel, loadKernel, readModelFile, writePlainStep } from '#core/kernel';
import { loopThrough } from '#core/outline';
import { IDENTITY, translation } from '#core/math';
import { readStl, writeStl } from '#core/mesh';
import { hashBytes, type Manifest } from '#core/records';
import { makeGeometry } from '#core/making';
import { cookRecipe, openPackage, packAssembly, readRecipe, verifyPackage } from './index.ts';

// A block of 40 x 40 x 30 with a bore seat in its front, and a bar of diameter 16 and length 100 with a small cutting box at its end.
let kernel: Kernel;
let files: Record<string, Uint8Array>;
beforeAll(async () => {
  kernel = await loadKernel();
  files = {
    'block.step': writePlainStep(kernel, [{ solid: { kind: 'box', size: [40, 40, 30] }, name: 'block', fileFromSolid: translation([-20, -20, 0]) }]),
    'bar.step': writePlainStep(kernel, [
      { solid: { kind: 'cylinder', radius: 8, height: 100 }, name: 'bar', fileFromSolid: IDENTITY },
      { solid: { kind: 'box', size: [4, 2, 4] }, name: 'edge', fileFromSolid: translation([5, -2, 97]) },
    ]),
  };
});

const frame = (z: number) => ({ origin: [0, 0, z], z: [0, 0, 1], x: [1, 0, 0] });
const recipe = {
  name: 'Block <b>with</b> bar',
  components: [
    {
      key: 'block',
      file: 'block.step',
      kind: 'station block',
      mount: { connection: { standard: 'bolted face', size: '' }, frame: frame(0) },
      seats: [{ id: 's1', name: 'Bore', connection: { standard: 'cylindrical', size: 16 }, frame: frame(30) }],
    },
    {
      key: 'bar',
      file: 'bar.step',
      roles: { b2: 'cutting' },
      mount: { connection: { standard: 'cylindrical', size: 16 }, frame: frame(0) },
      tips: [{ id: 't1', noseRadius: 0.4, noseCentre: [8.6, 0, 100.6], corner: { x: 1, z: 1 } }],
      geometry: [{ target: 'non-cutting', mode: 'revolved', tolerance: 0.05 }],
    },
  ],
  pieces: [
    { id: 'p1', component: 'block' },
    { id: 'p2', component: 'bar', parent: { piece: 'p1', seat: 's1' }, stickOut: -40 },
  ],
};

async function pack(change: object = {}): Promise<Uint8Array> {
  const read = readRecipe(JSON.stringify({ ...recipe, ...change }), 'r.json');
  if (!read.ok) throw new Error(read.issues.map(say).join());
  const cooked = await cookRecipe(kernel, read.value, (name) => files[name], { now: '2026-01-01T00:00:00Z' });
  if (!cooked.ok) throw new Error(cooked.issues.map(say).join());
  const packed = await packAssembly(kernel, { ...cooked.value, now: '2026-01-01T00:00:00Z' });
  if (!packed.ok) throw new Error(packed.issues.map(say).join());
  return packed.value.bytes;
}

// The package with its manifest and one file replaced, and the hashes put right again, as a careful forger would.
function forge(bytes: Uint8Array, change: (manifest: Manifest, files: Record<string, Uint8Array>) => void): Uint8Array {
  const inside = unzipSync(bytes);
  const manifest = JSON.parse(strFromU8(inside['manifest.json'])) as Manifest;
  change(manifest, inside);
  for (const f of manifest.files) (f as { sha256: string }).sha256 = hashBytes(inside[f.path]);
  return zipSync({ ...inside, 'manifest.json': strToU8(JSON.stringify(manifest)) });
}
const failedCodes = async (bytes: Uint8Array) => {
  const r = await verifyPackage(kernel, bytes, 'p.zip');
  if (!r.ok) return r.issues.map((i) => i.code);
  return [...new Set(r.value.checks.filter((c) => c.state === 'fail').map((c) => c.code))];
};

describe('a package', () => {
  it('opens again as the same assembly, and every check recomputed from it passes', async () => {
    const bytes = await pack();
    const opened = openPackage(bytes, 'p.zip');
    if (!opened.ok) throw new Error(opened.issues.map(say).join());
    const { manifest, assembly, components } = opened.value;
    // By hand: seat at 30, bar 40 inside, tip 101 in front of its mount.
    expect(manifest.gaugeLength).toBeCloseTo(91, 9);
    expect(manifest.tips[0]).toMatchObject({ Q: 9, Y: 0, noseRadius: 0.4 });
    expect(assembly.pieces).toHaveLength(2);
    expect(Object.keys(components).sort()).toEqual(['bar', 'block']);
    expect(manifest.pieces.map((p) => p.parts.map((x) => x.target))).toEqual([['non-cutting'], ['non-cutting', 'cutting']]);
    expect(Object.keys(opened.value.files).every((p) => /^[\w./-]+$/.test(p))).toBe(true);
    expect(await failedCodes(bytes)).toEqual([]);
  });
  it('holds the same files when made again', async () => {
    const hashes = (bytes: Uint8Array) => (JSON.parse(strFromU8(unzipSync(bytes)['manifest.json'])) as Manifest).files;
    expect(hashes(await pack())).toEqual(hashes(await pack()));
  });
  it('stands in the gauge frame: the bar begins 40 behind the seat', async () => {
    const opened = openPackage(await pack(), 'p.zip');
    if (!opened.ok) throw new Error('closed');
    const part = opened.value.manifest.pieces[1].parts[0];
    const stl = readStl(opened.value.files[part.files.stl], 'x');
    if (!stl.ok) throw new Error('stl');
    const z = stl.value.positions.filter((_, i) => i % 3 === 2);
    expect([Math.min(...z), Math.max(...z)].map((v) => Math.round(v * 1e4) / 1e4)).toEqual([-10, 90]);
  });
  it('names the interfaces in its STEP files: where a piece is mounted, what it holds, where its tip is', async () => {
    const opened = openPackage(await pack(), 'p.zip');
    if (!opened.ok) throw new Error('closed');
    const { manifest, files: packed } = opened.value;
    const named = async (piece: number, target: string) => {
      const path = manifest.pieces[piece].parts.find((p) => p.target === target)?.files.step ?? '';
      const r = await readModelFile(kernel, packed[path], 'part.step');
      return r.ok ? r.value.model.placements?.map((p) => [p.name, p.frame.origin.map((v) => Math.round(v * 1e6) / 1e6), p.frame.z]) : undefined;
    };
    // By hand: the seat is 30 in front of the block's foot, the bar 40 inside, its tip 91 in front and 9 beside.
    expect(await named(0, 'non-cutting')).toEqual([
      ['PCS', [0, 0, 0], [0, 0, 1]],
      ['MCS', [0, 0, 0], [0, 0, 1]],
      ['CSW1', [0, 0, 30], [0, 0, 1]],
    ]);
    for (const target of ['non-cutting', 'cutting'])
      expect(await named(1, target)).toEqual([
        ['PCS', [0, 0, -10], [0, 0, 1]],
        ['MCS', [0, 0, -10], [0, 0, 1]],
        ['CRP', [9, 0, 91], [0, 0, 1]],
      ]);
  });
  it.each([
    // By hand: the tip is 91 in front of the block's foot, the seat 30 of them; a point 35 along the bar stands 5 behind the seat.
    ['at a seat', { piece: 'p1', seat: 's1' }, 61, [-40, 60]],
    ['at a point of the bar', { piece: 'p2', name: 'collar', at: [3, 0, 35] }, 66, [-35, 65]],
  ])('whose gauge line stands %s is told and stands from there, and passes every check', async (_, gaugeLine, length, bar) => {
    const bytes = await pack({ gaugeLine });
    const opened = openPackage(bytes, 'p.zip');
    if (!opened.ok) throw new Error('closed');
    expect(opened.value.manifest.gaugeLength).toBeCloseTo(length, 9);
    expect(opened.value.manifest.tips[0]).toMatchObject({ Q: 9, Y: 0 });
    const stl = readStl(opened.value.files[opened.value.manifest.pieces[1].parts[0].files.stl], 'x');
    const z = stl.ok ? stl.value.positions.filter((_, i) => i % 3 === 2) : [];
    expect([Math.min(...z), Math.max(...z)].map((v) => Math.round(v * 1e4) / 1e4)).toEqual(bar);
    expect(await failedCodes(bytes)).toEqual([]);
  });
  it('whose gauge length was changed by hand is found out', async () => {
    expect(await failedCodes(forge(await pack(), (m) => ((m as { gaugeLength: number }).gaugeLength = 91.002)))).toEqual(['numbers']);
  });
  it('whose STL was shrunk into the tool is found out', async () => {
    const shrunk = forge(await pack(), (m, inside) => {
      const path = m.pieces[1].parts[0].files.stl;
      const stl = readStl(inside[path], 'x');
      if (!stl.ok) throw new Error('stl');
      inside[path] = writeStl({ ...stl.value, positions: stl.value.positions.map((v, i) => (i % 3 === 2 ? v : v * 0.99)) });
    });
    expect((await failedCodes(shrunk)).length).toBeGreaterThan(0);
  });
  it('whose profile was pulled under the tool is found out', async () => {
    const pulled = forge(await pack(), (m) => {
      const part = m.pieces[1].parts[0] as { profile?: { from: number[]; to: number[] }[][] };
      const lower = ([z, r]: number[]) => [z, r * 0.999];
      part.profile = part.profile?.map((loop) => loop.map((p) => ({ ...p, from: lower(p.from), to: lower(p.to) })));
    });
    expect((await failedCodes(pulled)).length).toBeGreaterThan(0);
  });
});

describe('a recipe', () => {
  const code = (change: object) => {
    const r = readRecipe(JSON.stringify({ ...recipe, ...change }), 'r.json');
    return r.ok ? 'ok' : `${r.issues[0].code} ${r.issues[0].values.field}`;
  };
  it('that names what is not there is refused with the place', () => {
    expect(code({})).toBe('ok');
    expect(code({ pieces: [{ id: 'p1', component: 'lathe' }] })).toBe('recipe.missing pieces.0.component');
    expect(code({ pieces: [recipe.pieces[0], { ...recipe.pieces[1], parent: { piece: 'p9', seat: 's1' } }] })).toBe('recipe.missing pieces.1.parent.piece');
    expect(code({ pieces: [recipe.pieces[0], { ...recipe.pieces[1], parent: { piece: 'p1', seat: 's9' } }] })).toBe('recipe.missing pieces.1.parent.seat');
    expect(code({ pieces: [recipe.pieces[0], recipe.pieces[0]] })).toBe('record.bad pieces');
    expect(code({ gaugeLine: { piece: 'p9', seat: 's1' } })).toBe('recipe.missing gaugeLine.piece');
    expect(code({ gaugeLine: { piece: 'p1', seat: 's9' } })).toBe('recipe.missing gaugeLine.seat');
    expect(code({ gaugeLine: { piece: 'p1' } })).toMatch(/^record.bad/);
    expect(code({ name: '' })).toBe('record.bad name');
    expect(readRecipe('{', 'r.json')).toMatchObject({ ok: false, issues: [{ code: 'record.bad' }] });
  });
  it('that gives a role to a body the file does not have is refused', async () => {
    const read = readRecipe(JSON.stringify({ ...recipe, components: [{ ...recipe.components[0], roles: { b7: 'cutting' } }, recipe.components[1]] }), 'r.json');
    const cooked = read.ok ? await cookRecipe(kernel, read.value, (name) => files[name], { now: '' }) : read;
    expect(!cooked.ok && cooked.issues[0]).toMatchObject({ code: 'envelope.unknown-body', values: { body: 'b7', found: 'b1' } });
  });
});

describe('simulation geometry', () => {
  const request = { file: 'bar.step', bodies: ['b1'], frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as const, tolerance: 0.05 };
  it('of a plain bar keeps its diameter and the tolerance, and gives its numbers', async () => {
    const r = await makeGeometry(kernel, { ...request, bytes: files['bar.step'], mode: 'revolved' });
    if (!r.ok) throw new Error(r.issues.map(say).join());
    const { growth, closed, profile, volumeIn, volumeOut } = r.value;
    expect(profile?.[0].map(({ from: [z, x] }) => [Math.round(z * 1e6) / 1e6 + 0, Math.round(x * 1e6) / 1e6])).toEqual([
      [0, 0],
      [100, 0],
      [100, 8],
      [0, 8],
    ]);
    expect(growth.min).toBeGreaterThanOrEqual(0);
    expect(growth.max).toBeLessThanOrEqual(0.05);
    expect(closed).toBe(true);
    expect(volumeIn / (Math.PI * 64 * 100)).toBeCloseTo(1, 6);
    expect(volumeOut).toBeGreaterThan(volumeIn);
  });
  it('takes a profile that was changed by hand, and its proof tells what that did', async () => {
    const shaft = (r: number) => [
      loopThrough([
        [0, 0],
        [100, 0],
        [100, r],
        [0, 8],
      ]),
    ];
    const drawn = async (r: number) => {
      const made = await makeGeometry(kernel, { ...request, bytes: files['bar.step'], mode: 'revolved', drawn: shaft(r) });
      if (!made.ok) throw new Error(made.issues.map(say).join());
      return made.value;
    };
    const wider = await drawn(8.5);
    expect(wider.growth.min).toBeGreaterThanOrEqual(-1e-6);
    expect(wider.growth.max).toBeCloseTo(0.5, 1);
    expect(wider.parts[0].why).toContain('changed by hand');
    const narrower = await drawn(7.6);
    expect(narrower.growth.min).toBeCloseTo(-0.4, 1);
    // At the far end of the bar.
    expect(narrower.parts[0].proof.leastAt[2]).toBeCloseTo(100, 1);
    const crossed = loopThrough([
      [0, 0],
      [100, 0],
      [0, 8],
      [100, 8],
    ]);
    const refused = await makeGeometry(kernel, { ...request, bytes: files['bar.step'], mode: 'revolved', drawn: [crossed] });
    expect(refused).toMatchObject({ ok: false, issues: [{ code: 'envelope.bad-profile' }] });
  });
  it('is refused for tolerances that cannot be meant and bodies that are not there', async () => {
    for (const tolerance of [0, -0.1, Number.NaN, 9])
      expect(await makeGeometry(kernel, { ...request, bytes: files['bar.step'], mode: 'exact', tolerance })).toMatchObject({
        issues: [{ code: 'envelope.bad-tolerance' }],
      });
    expect(await makeGeometry(kernel, { ...request, bytes: files['bar.step'], mode: 'exact', bodies: ['b9'] })).toMatchObject({
      issues: [{ code: 'envelope.unknown-body' }],
    });
    expect(await makeGeometry(kernel, { ...request, bytes: files['bar.step'], mode: 'exact', bodies: [] })).toMatchObject({
      issues: [{ code: 'envelope.no-bodies' }],
    });
  });
});
