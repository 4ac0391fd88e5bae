import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { zipSync, strToU8, unzipSync, strFromU8 } from 'fflate';
import { type AnyRecord, type AssemblyRecord, type ComponentRecord, hashBytes, sampleComponent } from '#core/records';
import { isShelfFile, merge, planMerge, readShelfFile, writeShelfFile } from './index.ts';
import { AT, newId, set, built, byId, SHOP, tool } from './shop-for-tests.ts';

describe('the Shelf’s file', () => {
  const vendor = new Uint8Array([1, 2, 3]);
  const file: ComponentRecord = { ...sampleComponent('f1', {}), name: 'Vendor’s block' };
  const withFile = { ...file, source: { ...file.source, blob: hashBytes(vendor) } } as ComponentRecord;
  const content = { records: byId(...SHOP, set('job'), built('a1', 'c1', 'd2'), withFile), blobs: { [hashBytes(vendor)]: vendor } };
  const bytes = writeShelfFile(content, AT);
  it('brings everything back as it was', () => {
    expect(isShelfFile(bytes)).toBe(true);
    // Packed again by another program, in another order.
    const { 'shelf.json': first, ...others } = unzipSync(bytes);
    expect(isShelfFile(zipSync({ ...others, 'shelf.json': first }))).toBe(true);
    expect(isShelfFile(zipSync(others))).toBe(false);
    const read = readShelfFile(bytes, 'shelf.zip');
    if (!read.ok) throw new Error(JSON.stringify(read.issues));
    expect(read.value.faults).toEqual([]);
    expect(read.value.records).toEqual(JSON.parse(JSON.stringify({ ...content.records, f1: { ...withFile, geometry: [] } })));
    expect(read.value.blobs).toEqual(content.blobs);
  });
  it('has open formats inside: one record a line, files by their names', () => {
    const files = unzipSync(bytes);
    expect(
      strFromU8(files['records.jsonl'])
        .trim()
        .split('\n')
        .map((l) => (JSON.parse(l) as AnyRecord).id),
    ).toEqual(Object.keys(content.records));
    const [path] = Object.keys(files).filter((p) => p.startsWith('files/'));
    expect(files[path]).toEqual(vendor);
    expect(path).toContain(file.source.fileName);
  });
  it('a damaged line and a missing vendor file are said; the rest is there', () => {
    const files = unzipSync(bytes);
    const lines = strFromU8(files['records.jsonl']).split('\n');
    lines[0] = lines[0].slice(0, 100);
    lines[1] = lines[1].replace('"drill"', '"spoon"');
    const [path] = Object.keys(files).filter((p) => p.startsWith('files/'));
    const read = readShelfFile(zipSync({ ...files, 'records.jsonl': strToU8(lines.join('\n')), [path]: new Uint8Array([9]) }), 'x.zip');
    if (!read.ok) throw new Error('it is read');
    expect(read.value.faults.map((f) => [f.code, f.values.line ?? f.values.name])).toEqual([
      ['shelf.bad-record', 1],
      ['shelf.bad-record', 2],
      ['shelf.missing-file', 'Vendor’s block'],
    ]);
    expect(Object.keys(read.value.records)).toEqual(Object.keys(content.records).slice(2));
  });
  it.each([
    ['nothing', new Uint8Array(0), 'file.empty'],
    ['no zip', new Uint8Array([1, 2, 3]), 'package.not-zip'],
    ['another zip', zipSync({ 'a.txt': strToU8('x') }), 'shelf.not-one'],
    [
      'a newer one',
      zipSync({ 'shelf.json': strToU8('{"format":"ruota-shelf","version":99,"createdAt":"","records":0,"blobs":[]}'), 'records.jsonl': strToU8('\n') }),
      'package.newer',
    ],
    ['cut off', bytes.subarray(0, bytes.length / 2), 'package.not-zip'],
  ])('%s is refused', (_, given, code) => {
    expect(readShelfFile(given, 'x.zip')).toMatchObject({ ok: false, issues: [{ code }] });
  });
});

describe('merging', () => {
  const mine = byId(...SHOP, set('job'));
  const usual = (theirs: Record<string, AnyRecord>) => {
    const plan = planMerge(mine, theirs);
    return { states: plan.map((m) => m.state), after: { ...mine, ...merge(mine, plan, { choices: {}, newId }) } };
  };
  it('the same Shelf twice changes nothing', () => {
    const { states, after } = usual(mine);
    expect(new Set(states)).toEqual(new Set(['same']));
    expect(after).toEqual(mine);
  });
  it('into an empty Shelf everything comes as it was', () => {
    expect(merge({}, planMerge({}, mine), { choices: {}, newId })).toEqual(mine);
  });
  it('newer ones are taken, older ones stay, and of one name two are kept', () => {
    const newer = { ...SHOP[0], designation: 'new', changedAt: '2027-01-01T00:00:00Z' };
    const older = { ...SHOP[1], designation: 'old', changedAt: '2020-01-01T00:00:00Z' };
    const other = { ...tool('reamer 10 x 99', 'elsewhere'), name: 'Reamer 10' };
    const twin = { ...SHOP[5], id: 'twin' };
    const assembly = built('a9', 'twin', 'elsewhere');
    const { states, after } = usual(byId(newer, older, other, twin, assembly));
    expect(states).toEqual(['newer', 'older', 'same name', 'same', 'new']);
    expect([(after.d1 as ComponentRecord).designation, (after.d2 as ComponentRecord).designation, after.elsewhere.name]).toEqual(['new', '', 'Reamer 10 2']);
    expect(after.twin).toBeUndefined();
    expect((after.a9 as AssemblyRecord).pieces.map((p) => p.componentId)).toEqual(['c1', 'elsewhere']);
  });
  it('both are kept where that is wished, and nothing of mine is lost whatever is chosen', () => {
    const newer = { ...SHOP[0], designation: 'new', changedAt: '2027-01-01T00:00:00Z' };
    const plan = planMerge(mine, byId(newer));
    const both = { ...mine, ...merge(mine, plan, { choices: { newer: 'have both' }, newId: () => 'second' }) };
    expect([(both.d1 as ComponentRecord).designation, (both.second as ComponentRecord).designation, both.second.name]).toEqual(['', 'new', 'Drill 8.5 2']);
    expect(merge(mine, plan, { choices: { newer: 'keep mine' }, newId })).toEqual({});
  });
});

describe('merging, whatever two Shelves have', () => {
  // Records of a few ids, names and numbers, so that all kinds of clashes come up.
  const shelf = fc
    .array(
      fc.record({
        id: fc.constantFrom('a', 'b', 'c', 'd'),
        dc: fc.constantFrom(8, 10),
        name: fc.constantFrom('x', 'y'),
        year: fc.constantFrom('2025', '2026'),
      }),
      { maxLength: 5 },
    )
    .map((rows) => byId(...rows.map(({ id, dc, name, year }) => ({ ...tool(`drill ${dc}`, id), name, changedAt: `${year}-01-01T00:00:00Z` }))));
  const choices = fc.record({
    newer: fc.constantFrom('take', 'keep mine', 'have both'),
    older: fc.constantFrom('take', 'keep mine', 'have both'),
    'same name': fc.constantFrom('take', 'keep mine', 'have both'),
  } as const);
  it('nothing of mine goes unless it is replaced by choice; a second time changes nothing; no name stands twice that did not', () => {
    fc.assert(
      fc.property(shelf, shelf, choices, (mine, theirs, chosen) => {
        const after = { ...mine, ...merge(mine, planMerge(mine, theirs), { choices: chosen, newId }) };
        for (const id of Object.keys(mine)) expect(after[id]).toBeDefined();
        if (Object.values(chosen).every((c) => c !== 'take')) for (const [id, r] of Object.entries(mine)) expect(after[id]).toEqual(r);
        if (chosen.newer === 'take' && chosen.older === 'take' && chosen['same name'] === 'keep mine')
          expect(
            planMerge(after, theirs)
              .filter((m) => m.theirs.id in mine)
              .every((m) => m.state === 'same'),
          ).toBe(true);
        const fresh = Object.values(after).filter((r) => mine[r.id] === undefined);
        for (const r of fresh) expect(Object.values(after).filter((o) => o.name === r.name && o.id !== r.id && !(o.id in theirs && o.id in mine))).toEqual([]);
      }),
      { numRuns: 300 },
    );
  });
});
