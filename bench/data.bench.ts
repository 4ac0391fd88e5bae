// Components of data: a table of tools, and the solid of a turning tool from its designation.
import { makeComponent, readTable, readWords } from '#core/components';
import { loadKernel, readModelFile } from '#core/kernel';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { type BenchRow, medianMs } from './measure.ts';

const KINDS = ['drill', 'reamer', 'end mill', 'ball end mill', 'countersink'];

/** ms of what is typed and imported. */
export async function benchData(): Promise<BenchRow[]> {
  const rows = Array.from({ length: 10_000 }, (_, i) => `${KINDS[i % 5]};${String(2 + (i % 180) / 10).replace('.', ',')};${100 + (i % 60)};tool ${i}`);
  const table = `Kind;D;OAL;Name\n${rows.join('\n')}`;
  const read = await medianMs(
    () => {
      const r = readTable(table, 'tools.csv');
      if (!r.ok || r.value.tools.length !== rows.length) throw new Error('data.bench: a table of good rows');
    },
    { rounds: 3, warm: 1 },
  );
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
  return [
    { what: 'a table of 10,000 tools, read', value: read, unit: 'ms', limit: 3000 },
    { what: 'a turning tool from its designation, solid with its model, warm', value: await solid('DCLNR 2525 M12'), unit: 'ms', limit: 500 },
    { what: 'a drill from its words, the same', value: await solid('drill 8.5 x 110'), unit: 'ms' },
  ];
}
