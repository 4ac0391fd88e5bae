import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { readTable } from '#core/components';
import {
  type AnyRecord,
  type AssemblyRecord,
  type ComponentRecord,
  MACHINE_VERSION,
  type MachineRecord,
  readRecord,
  SET_UP_VERSION,
  TRIAL_VERSION,
  type TrialRecord,
  type SetUpRecord,
  ON_MASTER,
} from '#core/records';
import {
  bringOver,
  contentOf,
  ENTRY_FORM,
  entryOf,
  findOnShelf,
  merge,
  planBringing,
  planMerge,
  readQuery,
  readShelfFile,
  selectionOf,
  shelved,
  standingOf,
  takeOver,
  writeShelfFile,
  writeShelfTable,
} from './index.ts';
import { AT, newId, tool, set, built, byId, SHOP, MORE } from './shop-for-tests.ts';

describe('an entry', () => {
  it('has the form that stores keep it in: another one needs another number', () => {
    const names = 'changedAt coolant createdAt from hand id kind maker mount name of seats set state tags text type unit values';
    expect([ENTRY_FORM, Object.keys(entryOf(SHOP[0])).sort().join(' ')]).toEqual([1, names]);
  });
});

describe('searching', () => {
  const entries = SHOP.map(entryOf);
  const found = (text: string, unit: 'mm' | 'inch' = 'mm') => {
    const { query, faults } = readQuery(text, unit);
    expect(faults).toEqual([]);
    return findOnShelf(entries, query).entries.map((e) => e.id);
  };
  it.each([
    ['drill', ['d1', 'd2']],
    ['type=drill DC>=9', ['d2']],
    ['DC=10', ['d2', 'r1']],
    ['DC=8..9', ['d1']],
    ['DC<10', ['d1']],
    ['mount="cylindrical 10" -', []],
    ['mount="cylindrical 10"', ['d2', 'r1']],
    ['mount=“cylindrical 10”', ['d2', 'r1']],
    ['hand=right', ['b1']],
    ['seat="cylindrical 10"', ['c1']],
    ['mount="cylindrical 8.5" mount="cylindrical 10"', ['d1', 'd2', 'r1']],
    ['hand=left', ['t1']],
    ['tag:hub', ['d1']],
    ['maker=Alder kind="turning tool"', ['t1']],
    ['KAPR=95', ['t1', 'b1']],
    ['state=ready drill birch', ['d2']],
  ])('%s', (text, ids) => {
    expect(found(text)).toEqual(ids);
  });
  it('a vendor’s model is found by the numbers that its designation says, and by what is marked', () => {
    const vendor: ComponentRecord = { ...tool('DCLNL 2525 M12', 'v1'), source: { kind: 'file', fileName: 'v.step' } as never, designation: 'DVJNR 2525 M16' };
    const other = { ...vendor, id: 'v2', designation: 'a tool of mine' };
    const of = (text: string) => findOnShelf([vendor, other].map(entryOf), readQuery(text).query).entries.map((e) => e.id);
    expect(of('KAPR=93 EPSR=35 hand=right')).toEqual(['v1']);
    expect(of('KAPR=95')).toEqual([]);
    expect(of('RE>0')).toHaveLength(2);
  });
  it('lengths without a unit are in the unit that is shown', () => {
    expect(found('DC>=0.35', 'inch')).toEqual(['d2', 'r1']);
    expect(found('DC=10mm', 'inch')).toEqual(['d2', 'r1']);
    expect(found('DC<3/8"')).toEqual(['d1']);
  });
  it('says at which word a search is not understood', () => {
    expect(readQuery('drill DC=wide colour=red').faults).toEqual([
      { text: 'DC=wide', at: 7, why: expect.stringContaining('number') },
      { text: 'colour', at: 15, why: expect.stringContaining('maker') },
    ]);
  });
  it('counts what each further choice would give, by a plain recount', () => {
    const facets = ['kind', 'type', 'hand', 'maker', 'state'] as const;
    const value = { kind: 0, type: 1, hand: 2, maker: 3, state: 4 };
    const rows = entries.map((e) => [e.kind, e.type ?? '', e.hand ?? '', e.maker, e.state]);
    fc.assert(
      fc.property(fc.record(Object.fromEntries(facets.map((f) => [f, fc.subarray([...new Set(rows.map((r) => r[value[f]]))].filter(Boolean))]))), (chosen) => {
        const { counts, entries: got } = findOnShelf(entries, { words: [], ranges: [], chosen });
        const passes = (row: string[], without?: string) => facets.every((f) => f === without || chosen[f].length === 0 || chosen[f].includes(row[value[f]]));
        expect(got.length).toBe(rows.filter((r) => passes(r)).length);
        for (const f of facets) for (const [choice, n] of counts[f]) expect(n).toBe(rows.filter((r) => passes(r, f) && r[value[f]] === choice).length);
      }),
    );
  });
});

describe('machines and set-ups beside the Shelf', () => {
  const chuck = { diameter: 100, length: 50, jaws: 3, jawHeight: 20, jawStep: 5, gripped: 30, bore: 20 };
  const machine: MachineRecord = {
    kind: 'machine',
    version: MACHINE_VERSION,
    id: 'lathe',
    name: 'Lathe',
    unit: 'mm',
    spindles: { main: { name: 'main spindle', chuck, largestSpeed: 4000, clockwise: 'M3' }, counter: null },
    carriers: [
      {
        kind: 'slide',
        id: 'upper-turret',
        name: 'slide',
        side: 'above',
        travel: { x: [0, 100], y: null, z: [0, 200] },
        connection: { standard: 'square', size: '12x12' },
        stations: 4,
        driven: [],
        row: 'x',
        pitch: 30,
        points: 'across',
        reference: null,
      },
    ],
    control: {
      diameters: true,
      tipNumbers: [1, 2, 3, 4, 5, 6, 7, 8, 9],
      swivel: { zero: 0, sense: 1, range: [-180, 180] },
      toolDigits: 2,
      offsetDigits: 2,
      offsetsPerTool: 4,
      waits: [100, 199],
    },
    createdAt: AT,
    changedAt: AT,
  };
  const setUp = (id: string, assembly: string, machineId = machine.id): SetUpRecord => ({
    kind: 'set-up',
    version: SET_UP_VERSION,
    id,
    name: `set-up ${id}`,
    machineId,
    places: [{ id: 'p1', carrierId: 'upper-turret', station: 3, assemblyId: assembly, turnDeg: 0, spindle: 'main', edges: [] }],
    blanks: { main: { diameter: 30, bore: 0, length: 60 }, counter: null },
    createdAt: AT,
    changedAt: AT,
  });
  const mine = byId(...SHOP, built('a1', 'c1', 'd2'), setUp('s1', 'a1'), { ...machine, changedAt: AT });
  it('a set-up is written with its assemblies, their components, and its machine where that is one’s own', () => {
    expect(Object.keys(selectionOf(mine, ['s1'])).sort()).toEqual(['a1', 'c1', 'd2', machine.id, 's1'].sort());
    const { [machine.id]: _, ...shipped } = mine;
    expect(Object.keys(selectionOf(shipped, ['s1'])).sort()).toEqual(['a1', 'c1', 'd2', 's1']);
    // They are on no shelf.
    expect(shelved(mine).map((r) => r.kind)).not.toContain('set-up');
  });
  it('they are written and read as they are, and brought in they point at what came with them', () => {
    const file = writeShelfFile({ records: selectionOf(mine, ['s1']), blobs: {} }, AT);
    const read = readShelfFile(file, 'x.zip');
    if (!read.ok) throw new Error(JSON.stringify(read.issues));
    expect(read.value.records.s1).toEqual(mine.s1);
    expect(read.value.records[machine.id]).toEqual(mine[machine.id]);
    // Where all is there already nothing is to be done.
    expect(planMerge(mine, read.value.records).every((m) => m.state === 'same')).toBe(true);
    // Another assembly has that id here: theirs gets one of its own, and their set-up holds that.
    const other = byId(...SHOP, { ...built('a1', 'd3', 'c1'), name: 'mine', changedAt: AT });
    const plan = planMerge(other, read.value.records);
    const stateOf = (id: string) => plan.find((m) => m.theirs.id === id)?.state;
    expect([stateOf('s1'), stateOf(machine.id)]).toEqual(['new', 'new']);
    let n = 0;
    const after = merge(other, plan, { choices: { older: 'have both', newer: 'have both' }, newId: () => `n${++n}` });
    const brought = Object.values(after).find((r): r is SetUpRecord => r.kind === 'set-up');
    const held = brought && after[brought.places[0].assemblyId];
    expect(held?.kind).toBe('assembly');
    expect(held?.id).toMatch(/^n/);
    expect(brought?.machineId).toBe(machine.id);
  });
  it('a machine keeps the components that its shapes were measured of, whatever they are called here', () => {
    const measured = { component: 'd1', name: 'Chuck 100', inputs: 'x', steps: [{ from: 0, to: 50, radius: 50 }] };
    const main = { ...machine.spindles.main, chuck: { ...chuck, measured } };
    const theirs = byId(
      { ...SHOP[0], id: 'd1', changedAt: '2027-01-01T00:00:00Z', designation: 'theirs' },
      { ...machine, id: 'other', name: 'Other', spindles: { main, counter: null } },
    );
    const after = merge(byId(...SHOP), planMerge(byId(...SHOP), theirs), { choices: { newer: 'have both' }, newId: () => 'beside' });
    expect((after.beside as ComponentRecord).designation).toBe('theirs');
    expect((after.other as MachineRecord).spindles.main.chuck.measured?.component).toBe('beside');
    // Measured or not, nothing else of it changes.
    expect(merge({}, planMerge({}, theirs), { choices: {}, newId: () => 'none' }).other).toEqual(theirs.other);
  });
  it('a trial is written with its set-up and all that stands there, and brought in it is tried against that', () => {
    const trial: TrialRecord = {
      kind: 'trial',
      version: TRIAL_VERSION,
      id: 't1',
      name: 'first side',
      setUpId: 's1',
      spindle: 'main',
      zero: 60,
      support: null,
      zeros: { G55: -80 },
      contour: null,
      stock: null,
      programs: [{ name: 'p.nc', text: 'T1', carrier: null }],
      clearance: 0.5,
      tolerance: 0.005,
      createdAt: AT,
      changedAt: AT,
    };
    const all = { ...mine, t1: trial };
    expect(Object.keys(selectionOf(all, ['t1'])).sort()).toEqual(['a1', 'c1', 'd2', machine.id, 's1', 't1'].sort());
    const read = readShelfFile(writeShelfFile({ records: selectionOf(all, ['t1']), blobs: {} }, AT), 'x.zip');
    if (!read.ok) throw new Error(JSON.stringify(read.issues));
    expect(read.value.records.t1).toEqual(trial);
    // Their set-up gets another id where one of that id says something else.
    const theirs = { ...mine, s1: { ...setUp('s1', 'a1'), name: 'mine', blanks: { main: null, counter: null }, changedAt: '2027-01-01' } };
    let n = 0;
    const after = merge(theirs, planMerge(theirs, read.value.records), { choices: { older: 'have both', newer: 'have both' }, newId: () => `n${++n}` });
    const brought = Object.values(after).find((r): r is TrialRecord => r.kind === 'trial');
    expect(after[brought?.setUpId ?? '']).toMatchObject({ kind: 'set-up', blanks: { main: { diameter: 30 } } });
    expect(brought?.setUpId).not.toBe('s1');
    // A trial of another version, or with a number that is none, is refused with its field.
    expect(readRecord({ ...trial, zero: Number.NaN }, 'x')).toMatchObject({ ok: false });
    expect(readRecord({ ...trial, version: 9 }, 'x')).toMatchObject({ ok: false, issues: [{ code: 'package.newer' }] });
  });
  it('one that was changed in another way is newer or older, and told apart from one that is the same', () => {
    const theirs = byId({ ...setUp('s1', 'a1'), blanks: { main: null, counter: null }, changedAt: '2027-01-01' });
    expect(planMerge(mine, theirs).map((m) => m.state)).toEqual(['newer']);
    expect(planMerge(mine, byId({ ...setUp('s1', 'a1'), changedAt: '2027-01-01' })).map((m) => m.state)).toEqual(['same']);
    // By another id but the same name and content it is the same thing.
    expect(planMerge(mine, byId({ ...setUp('s9', 'a1'), name: 'set-up s1' })).map((m) => m.state)).toEqual(['same']);
    expect(planMerge(mine, byId({ ...setUp('s9', 'a1', 'other'), name: 'set-up s1' })).map((m) => m.state)).toEqual(['same name']);
  });
});

describe('sets', () => {
  const records = byId(...SHOP, set('job'), built('a1', 'c1', 'd2'));
  it('an assembly comes over with its pieces, which know where they come from', () => {
    const plan = planBringing(records, ['a1'], 'job');
    expect(plan.map((b) => [b.record.id, b.state])).toEqual([
      ['c1', 'new'],
      ['d2', 'new'],
      ['a1', 'new'],
    ]);
    const after = bringOver(records, plan, 'job', { choices: {}, newId, now: AT });
    const copy = Object.values(after).find((r) => r.kind === 'assembly');
    if (copy?.kind !== 'assembly') throw new Error('it came over');
    expect(copy.pieces.map((p) => (after[p.componentId] as ComponentRecord).shelf)).toEqual([
      { ...ON_MASTER, set: 'job', from: { id: 'c1', content: contentOf(SHOP[5], records), at: AT } },
      { ...ON_MASTER, set: 'job', maker: 'Birch', from: { id: 'd2', content: contentOf(SHOP[1], records), at: AT } },
    ]);
    // A second time everything is there.
    const both = { ...records, ...after };
    expect(planBringing(both, ['a1'], 'job').map((b) => b.state)).toEqual(['there', 'there', 'there']);
    expect(bringOver(both, planBringing(both, ['a1'], 'job'), 'job', { choices: {}, newId, now: AT })).toEqual({});
    expect(standingOf(copy, both)).toBe('same');
  });
  it('says that the original has changed, and takes it over with id, name and place kept', () => {
    const one = { ...records, ...bringOver(records, planBringing(records, ['d2'], 'job'), 'job', { choices: {}, newId: () => 'copy', now: AT }) };
    const longer = { ...tool('drill 10 x 150', 'd2'), name: 'Drill 10' };
    const copy = one.copy as ComponentRecord;
    expect(standingOf(copy, { ...one, d2: { ...SHOP[1], name: 'Another name' } })).toBe('same');
    const changed: Record<string, AnyRecord> = { ...one, d2: longer };
    expect(standingOf(copy, changed)).toBe('original changed');
    const after = takeOver(changed, 'copy', { newId, now: AT });
    expect(after?.copy).toMatchObject({ id: 'copy', name: 'Drill 10', shelf: { set: 'job', from: { id: 'd2' } }, source: { spec: { values: { OAL: 150 } } } });
    expect(standingOf(after?.copy as ComponentRecord, { ...changed, ...after })).toBe('same');
    expect(standingOf({ ...copy, designation: 'mine' }, one)).toBe('changed here');
    expect(standingOf({ ...copy, designation: 'mine' }, changed)).toBe('both changed');
    const { d2: _, ...gone } = one;
    expect(standingOf(copy, gone)).toBe('original gone');
  });
  it('an assembly is taken over with what its original got in between', () => {
    const one = { ...records, ...bringOver(records, planBringing(records, ['a1'], 'job'), 'job', { choices: {}, newId, now: AT }) };
    const copy = Object.values(one).find((r): r is AssemblyRecord => r.kind === 'assembly' && r.shelf.set === 'job') as AssemblyRecord;
    const changed: Record<string, AnyRecord> = { ...one, a1: built('a1', 'c1', 'r1') };
    expect(standingOf(copy, changed)).toBe('original changed');
    const after: Record<string, AnyRecord> = { ...changed, ...takeOver(changed, copy.id, { newId, now: AT }) };
    const now = after[copy.id] as AssemblyRecord;
    expect(now.pieces.map((p) => [(after[p.componentId] as ComponentRecord).name, (after[p.componentId] as ComponentRecord).shelf.set])).toEqual([
      ['Collet ER 32 / 10', 'job'],
      ['Reamer 10', 'job'],
    ]);
    expect(standingOf(now, after)).toBe('same');
  });
  it('what is said of the edges of an assembly is part of what it is', () => {
    const one = { ...records, ...bringOver(records, planBringing(records, ['a1'], 'job'), 'job', { choices: {}, newId, now: AT }) };
    const copy = Object.values(one).find((r): r is AssemblyRecord => r.kind === 'assembly' && r.shelf.set === 'job') as AssemblyRecord;
    const original = built('a1', 'c1', 'd2');
    const edges = [{ pieceId: original.pieces[1].id, tipId: 't1', name: 'spot', number: 7 }];
    const changed: Record<string, AnyRecord> = { ...one, a1: { ...original, edges } };
    expect(standingOf(copy, changed)).toBe('original changed');
    expect((takeOver(changed, copy.id, { newId, now: AT })?.[copy.id] as AssemblyRecord).edges).toEqual(edges);
    // Nothing said is what it was.
    expect(standingOf(copy, { ...one, a1: original })).toBe('same');
  });
  it('a part that was changed in the set stays as it is when the assembly is taken over', () => {
    const one = { ...records, ...bringOver(records, planBringing(records, ['a1'], 'job'), 'job', { choices: {}, newId, now: AT }) };
    const copies = shelved(one).filter((r) => r.shelf.set === 'job');
    const [collet, drill] = ['c1', 'd2'].map((id) => copies.find((r) => r.kind === 'component' && r.shelf.from?.id === id) as ComponentRecord);
    const assembly = copies.find((r) => r.kind === 'assembly') as AssemblyRecord;
    const changed: Record<string, AnyRecord> = {
      ...one,
      [drill.id]: { ...drill, designation: 'mine' },
      d2: { ...SHOP[1], designation: 'theirs' },
      c1: { ...SHOP[5], designation: 'theirs' },
      a1: { ...built('a1', 'c1', 'd2'), pieces: built('a1', 'c1', 'd2').pieces.map((p) => ({ ...p, rollDeg: 90 })) },
    };
    const after = { ...changed, ...takeOver(changed, assembly.id, { newId, now: AT }) };
    expect([(after[drill.id] as ComponentRecord).designation, (after[collet.id] as ComponentRecord).designation]).toEqual(['mine', 'theirs']);
    expect((after[assembly.id] as AssemblyRecord).pieces.map((p) => [p.componentId, p.rollDeg])).toEqual([
      [collet.id, 90],
      [drill.id, 90],
    ]);
  });
  it.each([
    ['use', ['mine'], 'Drill 10', 'mine'],
    ['beside', ['mine', 'fresh'], 'Drill 10 2', 'fresh'],
    ['replace', ['mine'], 'Drill 10', 'mine'],
  ] as const)('one of the same name is there: %s', (choice, ids, name, id) => {
    const own = { ...tool('drill 10 x 99', 'mine'), name: 'Drill 10', shelf: { ...ON_MASTER, set: 'job' } };
    const all = { ...records, mine: own };
    const plan = planBringing(all, ['d2'], 'job');
    expect(plan).toMatchObject([{ state: 'clash', why: 'name', other: { id: 'mine' } }]);
    const after: Record<string, AnyRecord> = { ...all, ...bringOver(all, plan, 'job', { choices: { d2: choice }, newId: () => 'fresh', now: AT }) };
    expect(
      shelved(after)
        .filter((r) => r.shelf.set === 'job')
        .map((r) => r.id),
    ).toEqual(ids);
    expect(after[id].name).toBe(name);
    expect(contentOf(after[id] as ComponentRecord, after) === contentOf(SHOP[1], after)).toBe(choice !== 'use');
  });
  it('what was bettered in a job goes back to its original', () => {
    const one = { ...records, ...bringOver(records, planBringing(records, ['d2'], 'job'), 'job', { choices: {}, newId: () => 'copy', now: AT }) };
    const better: Record<string, AnyRecord> = { ...one, copy: { ...(one.copy as ComponentRecord), designation: 'mine' } };
    const plan = planBringing(better, ['copy'], null);
    expect(plan).toMatchObject([{ state: 'clash', why: 'original', other: { id: 'd2' } }]);
    const after: Record<string, AnyRecord> = { ...better, ...bringOver(better, plan, null, { choices: { copy: 'replace' }, newId, now: AT }) };
    expect(after.d2).toMatchObject({ designation: 'mine', shelf: { set: null, from: null } });
    expect(standingOf(after.copy as ComponentRecord, after)).toBe('same');
  });
});

describe('the Shelf as a table', () => {
  it('is read again as the same tools', () => {
    const all = [...SHOP, ...MORE];
    const text = writeShelfTable(all);
    const read = readTable(text, 'shelf.csv');
    if (!read.ok) throw new Error(JSON.stringify(read.issues));
    expect(read.value.errors).toEqual([]);
    expect(read.value.tools.map((t) => [t.name, t.maker, t.made.part.name, t.spec.hand, t.spec.kind, t.made.part.values])).toEqual(
      all.map((r) => [
        r.name,
        r.shelf.maker,
        r.name,
        r.source.kind === 'data' ? r.source.spec.hand : '',
        r.source.kind === 'data' ? r.source.spec.kind : '',
        r.source.kind === 'data' ? r.source.values : {},
      ]),
    );
    // What follows from other numbers follows again, and is not kept as given.
    expect(read.value.tools[0].spec.values.LS).toBeUndefined();
    expect(read.value.tools[0].tags).toEqual(['hub']);
  });
  it('a name that a spreadsheet would run is text in it', () => {
    expect(writeShelfTable([{ ...SHOP[0], name: '=HYPERLINK("x")' }])).toContain(`"'=HYPERLINK(""x"")"`);
  });
});
