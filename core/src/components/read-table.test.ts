import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { say } from '#core/issues';
import { cellKey, readTable, type TableOptions } from './read-table.ts';

const table = (text: string, options?: TableOptions) => {
  const r = readTable(text, 'x.csv', options);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
};

describe('a table of tools', () => {
  it('is read with its delimiter, decimal comma, header and units, in several languages', () => {
    const german = table('Art;Durchmesser;Gesamtlänge;Schneidenlänge\nBohrer;8,5;117;75\nSchaftfräser;12;83;26\n');
    expect(german.delimiter).toBe(';');
    expect(german.tools.map((t) => [t.row, t.spec.kind, t.spec.values])).toEqual([
      [2, 'drill', { DC: 8.5, OAL: 117, LCF: 75 }],
      [3, 'end mill', { DC: 12, OAL: 83, LCF: 26 }],
    ]);
    const inches = table('Type,Dia [inch],OAL (in)\nReamer,0.5,"6"\n');
    expect(inches.tools[0].spec.values).toEqual({ DC: 12.7, OAL: 152.4 });
    const pasted = table('Kind\tThread\tName\ntap\tM10x1\tFine tap\ntap\tM8\t\n');
    expect(pasted.tools.map((t) => [t.name, t.spec.values])).toEqual([
      ['Fine tap', { TD: 10, TP: 1 }],
      ['Tap M8', { TD: 8 }],
    ]);
    expect(table('designation,RE\nCNMG 120408,\nDCLNR 2525 M12,1.2\n').tools.map((t) => [t.spec.kind, t.made.part.values.RE])).toEqual([
      ['insert', 0.8],
      ['turning holder', 1.2],
    ]);
    expect(table('drill 8.5 x 110\nM8 tap\n').tools.map((t) => t.name)).toEqual(['Drill 8.5', 'Tap M8']);
  });
  it('lists bad rows with their line, column and reason, and keeps the good ones', () => {
    const t = table('Kind,D,OAL\ndrill,8,100\ndrill,eight,100\nwidget,8,100\ndrill,8,5\n,9,\n=cmd|calc,8,100\n');
    expect(t.rows).toBe(6);
    expect(t.tools.map((x) => x.row)).toEqual([2]);
    expect(t.errors).toEqual([
      { row: 3, column: 'D', message: '“eight” is no number' },
      { row: 4, column: 'Kind', message: '“widget” is no kind of tool that is known' },
      { row: 5, column: expect.any(String), message: expect.stringMatching(/between|at most|long/) },
      { row: 6, column: 'Kind', message: 'no cell says what it is' },
      { row: 7, column: 'Kind', message: expect.stringMatching(/no kind of tool/) },
    ]);
    expect(table('Name,Kind,D\n=HYPERLINK("x"),drill,8\n<b>8 mm</b>,drill,8\n').errors).toEqual([
      { row: 2, column: 'Name', message: expect.stringMatching(/does not begin/) },
    ]);
  });
  it('takes what tools are made of and how they are cooled, in several words, and says what it does not know', () => {
    const read = table('kind;DC;material;coolant;Z\nend mill;12;VHM;yes;4\ndrill;8;HSS;flood;\ndrill;9;cheese;beer;');
    expect(read.tools.map((t) => [t.use, t.spec.values.NOF])).toEqual([
      [{ groups: {}, cuttingMaterial: 'HC', coolant: 'through the tool' }, 4],
      [{ groups: {}, cuttingMaterial: 'HSS', coolant: 'outside' }, undefined],
    ]);
    expect(read.errors.map((e) => [e.row, e.column])).toEqual([
      [4, 'material'],
      [4, 'coolant'],
    ]);
  });
  it('takes cells that were mended', () => {
    const text = 'Kind,D,OAL\ndrill,eight,100\n';
    expect(table(text).tools).toEqual([]);
    expect(table(text, { edits: { [cellKey(2, 'D')]: '8' } }).tools[0].spec.values.DC).toBe(8);
  });
  it('takes what columns are from a map, and the kind of all rows', () => {
    const t = table('A,B,C\n8,100,x\n', { map: { A: 'DC', B: 'OAL', C: null }, kind: 'drill' });
    expect(t.tools[0].spec).toMatchObject({ kind: 'drill', values: { DC: 8, OAL: 100 } });
    expect(t.columns.map((c) => c.use)).toEqual(['DC', 'OAL', null]);
  });
  it('takes headers for what they are, also those that a program has words for', () => {
    const t = table('kind,D,constructor,toString,__proto__\ndrill,8,1,2,3\n');
    expect(t.columns.map((c) => c.use)).toEqual(['kind', 'DC', null, null, null]);
    expect(t.tools).toHaveLength(1);
  });
  it('refuses what is no table of tools in a sentence', () => {
    expect(readTable('', 'x.csv')).toMatchObject({ ok: false, issues: [{ code: 'table.empty' }] });
    expect(readTable('x'.repeat(51e6), 'x.csv')).toMatchObject({ ok: false, issues: [{ code: 'table.too-large' }] });
    // Of words that mean nothing each line is an error, and nothing is made.
    const odd = table('foo,bar\n1,2\n');
    expect([odd.tools.length, odd.errors.length > 0]).toEqual([0, true]);
  });
  it('has as many tools and errors as it has rows, whatever is in it', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.string({ maxLength: 12 }), { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 8 }), (rows) => {
        const text = `Kind,D,OAL,Name\n${rows.map((r) => r.map((c) => `"${c.replace(/"/g, '""')}"`).join(',')).join('\n')}`;
        const r = readTable(text, 'x.csv');
        if (!r.ok) return;
        const bad = new Set(r.value.errors.map((e) => e.row));
        expect(r.value.tools.length + bad.size).toBe(r.value.rows);
      }),
    );
  });
});
