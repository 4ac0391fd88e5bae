// Components of data: a table of tools, and the solid of a turning tool from its designation.
import { makeComponent, readTable, readWords, type TableTool } from '#core/components';
import { loadKernel, readModelFile } from '#core/kernel';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { type AnyRecord } from '#core/records';
import { entryOf, findOnShelf, planMerge, readQuery, readShelfFile, shelved, writeShelfFile } from '#core/shelf';
import { componentOfSpec } from '#core/sources';
import { listOf, listOfText, oneList, textOfList } from '../web/src/store/kept-lists.ts';
import { type BenchRow, medianMs } from './measure.ts';

const KINDS = ['drill', 'reamer', 'end mill', 'ball end mill', 'countersink'];

/** ms of what is typed and imported. */
export async function benchData(): Promise<BenchRow[]> {
  const rows = Array.from({ length: 10_000 }, (_, i) => `${KINDS[i % 5]};${String(2 + (i % 180) / 10).replace('.', ',')};${100 + (i % 60)};tool ${i}`);
  const table = `Kind;D;OAL;Name\n${rows.join('\n')}`;
  let tools: readonly TableTool[] = [];
  const read = await medianMs(
    () => {
      const r = readTable(table, 'tools.csv');
      if (!r.ok || r.value.tools.length !== rows.length) throw new Error('data.bench: a table of good rows');
      tools = r.value.tools;
    },
    { rounds: 3, warm: 1 },
  );
  const recorded = await medianMs(() => void tools.map(({ spec, made, name }, i) => componentOfSpec(spec, made.part, { id: `t${i}`, name, now: '' })), {
    rounds: 3,
    warm: 1,
  });
  const kernel = await loadKernel();
  const solid = async (words: string): Promise<number> => {
    return medianMs(
      async () => {
        const { spec } = readWords(words);
        const made = spec && makeComponent(spec);
        if (!made?.ok) throw new Error(`data.bench: a tool that can be made; got ${words}`);
        await readModelFile(kernel, writeSolidShape(made.part.shape), shapeFileName('x'));
      },
      { rounds: 7, warm: 2 },
    );
  };
  const shelf = benchShelf();
  const entries = shelved(shelf).map(entryOf);
  const find = async (text: string): Promise<number> => medianMs(() => void findOnShelf(entries, readQuery(text).query), { rounds: 9, warm: 2 });
  // As a browser keeps them, many in each item.
  const items = Array.from({ length: 256 }, (_, i) => Object.values(shelf).filter((__, k) => k % 256 === i));
  const [lists, wholes] = [items.map((of) => textOfList(listOf(of))), items.map((of) => JSON.stringify(of))];
  const listed = await medianMs(() => void oneList(lists.map(listOfText)));
  const parsed = await medianMs(() => void wholes.map((text) => JSON.parse(text) as unknown));
  let file = new Uint8Array();
  const write = await medianMs(() => void (file = writeShelfFile({ records: shelf, blobs: {} }, '') as Uint8Array<ArrayBuffer>), { rounds: 1, warm: 0 });
  const back = await medianMs(
    () => {
      const r = readShelfFile(file, 'shelf.zip');
      if (!r.ok || planMerge(shelf, r.value.records).some((m) => m.state !== 'same')) throw new Error('data.bench: a Shelf that comes back as it was');
    },
    { rounds: 1, warm: 0 },
  );
  return [
    { what: '20,000 records searched, all facets counted: words', value: await find('drill 12'), unit: 'ms', limit: 30 },
    { what: 'the same by numbers and choices', value: await find('type=drill DC=8..9 maker=Alder'), unit: 'ms', limit: 30 },
    { what: 'the same, everything', value: await find(''), unit: 'ms', limit: 30 },
    { what: 'what a list shows of 20,000, read from the storage’s texts', value: listed, unit: 'ms' },
    { what: 'the same, as a share of reading the records themselves', value: listed / parsed, unit: 'x', limit: 0.35 },
    { what: '20,000 records written as a Shelf’s file', value: write, unit: 'ms' },
    { what: 'that file, read and compared record by record', value: back, unit: 'ms' },
    { what: 'a table of 10,000 tools, read', value: read, unit: 'ms' },
    { what: 'and made into records', value: recorded, unit: 'ms' },
    { what: 'read and made together', value: read + recorded, unit: 'ms', limit: 3000 },
    { what: 'a turning tool from its designation, solid with its model, warm', value: await solid('DCLNR 2525 M12'), unit: 'ms', limit: 500 },
    { what: 'a drill from its words, the same', value: await solid('drill 8.5 x 110'), unit: 'ms' },
  ];
}

// Twenty thousand records of six kinds.
function benchShelf(): Record<string, AnyRecord> {
  const words = ['drill', 'reamer', 'end mill', 'ball end mill', 'countersink'];
  const holders = ['DCLNR 2525 M12', 'PDJNL 2020 K15', 'MTJNR 2525 M16'];
  const makers = ['Alder', 'Birch', 'Cedar', ''];
  const records: Record<string, AnyRecord> = {};
  for (let i = 0; i < 20_000; i++) {
    const { spec } = readWords(i % 6 === 5 ? holders[i % 3] : `${words[i % 6]} ${(2 + (i % 180) / 10).toFixed(1)}`);
    const made = spec && makeComponent(spec);
    if (!spec || !made?.ok) throw new Error('data.bench: tools that can be made');
    const record = componentOfSpec(spec, made.part, { id: `r${i}`, name: `${made.part.name} ${i}`, now: '2026-01-01' });
    records[record.id] = { ...record, shelf: { ...record.shelf, maker: makers[i % 4], tags: i % 7 === 0 ? ['roughing'] : [] } };
  }
  return records;
}
