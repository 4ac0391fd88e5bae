import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import { ruota } from './run-here.ts';

const out = mkdtempSync(join(tmpdir(), 'ruota-cli-data-'));

describe('component', () => {
  it('tells name, facts, what follows and what was assumed, marks and bodies, as the contract says; and writes it', async () => {
    const r = await ruota('component', '--text', 'DCLNR 2525 M12', '--out', join(out, 'holder.step'), '--json');
    expect(r.status).toBe(0);
    expect(r.json()).toMatchObject({
      kind: 'turning holder',
      name: 'DCLNR2525M12',
      facts: { KAPR: 95, LF: 150, WF: 32, H: 25, B: 25, IC: 12.7 },
      mount: { connection: { standard: 'square', size: '25x25' }, origin: [0, 0, 0], z: [0, 0, 1] },
      seats: [],
      tips: [{ noseRadius: 0.8 }],
      bodies: [
        { id: 'b1', closed: true },
        { id: 'b2', closed: true },
      ],
      warnings: [],
    });
    // Read again from the file alone.
    const read = await ruota('propose', join(out, 'holder.step'), '--json');
    expect(read.json()).toMatchObject({ tips: [{ enteringAngle: expect.closeTo(95, 1), hand: 'right' }] });
  });
  it('takes a specification, or several lines of words', async () => {
    const file = join(out, 'mill.json');
    writeFileSync(file, JSON.stringify({ kind: 'end mill', DC: 12, RE: 1, LU: 40 }));
    const r = await ruota('component', file, '--json');
    expect(r.json()).toMatchObject({
      facts: { DC: 12, RE: 1, DN: 11.4 },
      assumed: expect.arrayContaining([expect.objectContaining({ name: 'OAL', value: 83 })]),
    });
    const several = await ruota('component', '--text', 'M8 tap', '--text', 'drill 6.8', '--facts-only', '--json');
    expect((several.json() as unknown as { results: object[] }).results).toMatchObject([{ name: 'Tap M8' }, { name: 'Drill 6.8' }]);
    expect((several.json() as unknown as { results: object[] }).results[0]).not.toHaveProperty('bodies');
    const used = await ruota('component', '--text', 'M8 tap', '--text', 'end mill 10 z4 HSS', '--text', 'sleeve 32 to 16', '--facts-only', '--json');
    const [tap, mill, sleeve] = (used.json() as unknown as { results: { use?: object }[] }).results;
    expect([tap.use, mill.use, sleeve.use]).toMatchObject([
      { cuttingMaterial: 'HSS', sense: 'M3', feedPer: 'revolution', groups: { P: { feed: 1.25 }, H: null } },
      { cuttingMaterial: 'HSS', feedPer: 'tooth' },
      undefined,
    ]);
    const mixed = await ruota('component', '--text', 'drill 6 wobbly', '--text', 'drill 6.8', '--facts-only', '--json');
    expect([mixed.status, mixed.json()]).toMatchObject([
      4,
      {
        results: [
          { ok: false, text: 'drill 6 wobbly', error: { message: expect.stringContaining('wobbly'), from: 9, to: 14 } },
          { ok: true, name: 'Drill 6.8' },
        ],
      },
    ]);
    expect((await ruota('component', file)).stdout).toMatch(/OAL +overall length +83\.000 +assumed/);
  });
  it('refuses what it does not understand, misses, or cannot be, with the place', async () => {
    expect((await ruota('component', '--text', 'drill 8 wobbly')).stderr).toMatch(/wobbly \(at 9\): nothing is known/);
    expect((await ruota('component', '--text', 'slot cutter 20')).stderr).toMatch(/CW is missing/);
    expect((await ruota('component', '--text', 'ball end mill 8 r3')).stderr).toMatch(/DC \/ 2 gives 4/);
    const file = join(out, 'odd.json');
    writeFileSync(file, JSON.stringify({ kind: 'drill', DC: 8, COLOUR: 3 }));
    expect(await ruota('component', file)).toMatchObject({ status: 3 });
    expect((await ruota('component', file)).stderr).toMatch(/COLOUR/);
    expect(await ruota('component')).toMatchObject({ status: 2 });
  });
});

describe('import', () => {
  it('tells what columns are, the tools, and what is wrong with which row, as the contract says', async () => {
    const file = join(out, 'tools.csv');
    // As an older program writes it: not UTF-8.
    writeFileSync(file, Buffer.from('Art;Durchmesser;Gesamtl\xe4nge\nBohrer;8,5;117\nReibahle;10;133\nBohrer;acht;117\n', 'latin1'));
    const r = await ruota('import', file, '--json');
    expect(r.status).toBe(4);
    expect(r.json()).toMatchObject({
      rows: 3,
      components: [
        { row: 2, kind: 'drill', name: 'Drill 8.5', facts: { DC: 8.5, OAL: 117 } },
        { row: 3, kind: 'reamer', name: 'Reamer 10', facts: { DC: 10 } },
      ],
      errors: [{ row: 4, column: 'Durchmesser', message: '“acht” is no number' }],
      map: { Art: 'kind', Durchmesser: 'DC', Gesamtlänge: 'OAL' },
    });
    const map = join(out, 'map.json');
    writeFileSync(map, '{ "Durchmesser": null }');
    expect((await ruota('import', file, '--map', map)).stdout).toMatch(/Durchmesser +not used[\s\S]*DC is missing/);
    expect(await ruota('import', file, '--kind', 'spoon')).toMatchObject({ status: 2 });
  });
});

describe('shelf', () => {
  it('import writes one; it is listed, searched, merged, and written as a table', async () => {
    const [a, b, c, csv, both] = ['a.csv', 'b.csv', 'a.zip', 'both.csv', 'both.zip'].map((n) => join(out, n));
    writeFileSync(a, 'kind,DC,OAL,maker\ndrill,8.5,117,Alder\nreamer,10,133,\nend mill,12,83,Birch\n');
    writeFileSync(b, 'kind,DC,OAL\ndrill,9,125\nreamer,10,140\n');
    const other = join(out, 'b.zip');
    expect(await ruota('import', a, '--out', c)).toMatchObject({ status: 0 });
    expect(await ruota('import', b, '--out', other)).toMatchObject({ status: 0 });
    const found = await ruota('shelf', c, '--where', 'DC>=10 maker=Birch', '--json');
    expect(found.json()).toMatchObject({
      components: [{ name: 'End mill 12', kind: 'cutter', type: 'end mill', mount: 'cylindrical 12', state: 'ready', set: null, facts: { DC: 12, OAL: 83 } }],
      assemblies: [],
      sets: [],
    });
    const merged = await ruota('shelf', c, '--merge', other, '--out', both, '--json');
    expect(merged.json()).toMatchObject({
      merge: [
        { state: 'new', choice: 'take', names: ['Drill 9'] },
        { state: 'same name', choice: 'have both', names: ['Reamer 10'] },
      ],
    });
    expect((await ruota('shelf', both)).stdout).toMatch(/both\.zip: 5 of 5 records[\s\S]*Reamer 10 2/);
    expect(await ruota('shelf', both, '--where', 'DC=10', '--out', csv)).toMatchObject({ status: 0 });
    expect(readFileSync(csv, 'utf8')).toMatch(/^name,kind,[^\n]*DC,[^\n]*\r\nReamer 10,reamer,/);
    const odd = await ruota('shelf', c, '--where', 'drill DC=wide');
    expect([odd.status, odd.stderr]).toEqual([3, expect.stringContaining('“DC=wide” at 7')]);
  });
});

describe('designation', () => {
  it('a designation is told field by field, also with blanks; another word is refused', async () => {
    expect((await ruota('designation', 'DCLNL', '2525M12', '--json')).json()).toMatchObject({
      standard: 'ISO 5608',
      code: 'DCLNL2525M12',
      facts: { shape: 'C', EPSR: 80, AN: 0, KAPR: 95, HAND: 'left', H: 25, B: 25, LF: 150, WF: 32 },
    });
    expect((await ruota('designation', 'CNMG120408')).stdout).toMatch(/08 +9 to 10 +corner +radius 0\.8 mm/);
    const several = await ruota('designation', 'CNMG', '432', 'CZMG', '120408', 'A16R-SCLCR09', '--json');
    expect([several.status, several.json()]).toMatchObject([
      4,
      {
        results: [
          {
            ok: true,
            standard: 'ANSI B212.4',
            facts: { IC: 12.7, RE: 0.79375, M: 3.088 },
            fields: [{ text: 'C', from: 1, to: 1, meaning: 'rhombic, 80 degrees' }, {}, {}, {}, {}, {}, {}],
          },
          { ok: false, code: 'CZMG 120408', error: { field: 'clearance', from: 2, to: 2, message: expect.stringContaining('“Z”') } },
          { ok: true, standard: 'ISO 6261' },
        ],
      },
    ]);
    const wrong = await ruota('designation', 'CNMG', '130408');
    expect([wrong.status, wrong.stderr]).toEqual([3, expect.stringContaining('“13” at character 6 is no size')]);
    expect(await ruota('designation', 'hub-special')).toMatchObject({ status: 3, stdout: '' });
    expect((await ruota('designation')).status).toBe(2);
  });
});
