import { writeFileSync } from 'node:fs';
import { makeComponent, readWords } from '#core/components';
import { componentOfSpec } from '#core/sources';
const words = ['drill', 'reamer', 'end mill', 'ball end mill', 'countersink'];
const holders = ['DCLNR 2525 M12', 'PDJNL 2020 K15', 'MTJNR 2525 M16'];
const makers = ['Alder', 'Birch', 'Cedar', ''];
const buckets: any = {};
const bucketOf = (id: string) => { let hash = 0; for (let i = 0; i < id.length; i++) hash = (hash * 31 + id.charCodeAt(i)) | 0; return String((hash >>> 0) % 256); };
for (let i = 0; i < 20_000; i++) {
  const { spec } = readWords(i % 6 === 5 ? holders[i % 3] : `${words[i % 6]} ${(2 + (i % 180) / 10).toFixed(1)}`);
  const made = makeComponent(spec as any);
  if (!made.ok) throw 1;
  const record = componentOfSpec(spec as any, made.part, { id: `r${i}`, name: `${made.part.name} ${i}`, now: '2026-01-01' }) as any;
  (buckets[bucketOf(record.id)] ??= {})[record.id] = { revision: 1, record: { ...record, shelf: { ...record.shelf, maker: makers[i % 4], tags: i % 7 === 0 ? ['roughing'] : [] } } };
}
const all = Object.entries(buckets).map(([k, b]) => [k, JSON.stringify(b)]);
console.log(all.reduce((s, [, t]) => s + (t as string).length, 0) / 1e6, 'MB', all.filter(([, t]) => /[^\x00-\xff]/.test(t as string)).length, 'two-byte');
writeFileSync('/tmp/d/buckets.json', JSON.stringify(all));
