// A small Shelf that tests begin with.
import { makeComponent, readWords } from '#core/components';
import { ASSEMBLY_VERSION, type AnyRecord, type AssemblyRecord, type ComponentRecord, ON_MASTER, type SetRecord } from '#core/records';
import { componentOfSpec } from '#core/sources';

export const AT = '2026-02-01T00:00:00Z';
let next = 0;
export const newId = () => `n${next++}`;

export function tool(words: string, id: string, place: Partial<typeof ON_MASTER> = {}): ComponentRecord {
  const { spec } = readWords(words);
  const made = spec && makeComponent(spec);
  if (!spec || !made?.ok) throw new Error(words);
  const record = componentOfSpec(spec, made.part, { id, name: made.part.name, now: '2026-01-01T00:00:00Z' });
  return { ...record, shelf: { ...record.shelf, ...place } };
}
export const set = (id: string, name = id): SetRecord => ({ kind: 'set', version: 1, id, name, purpose: 'job', createdAt: AT, changedAt: AT });
export const built = (id: string, ...components: string[]): AssemblyRecord => ({
  kind: 'assembly',
  version: ASSEMBLY_VERSION,
  edges: [],
  shelf: ON_MASTER,
  id,
  name: `Station ${id}`,
  pieces: components.map((c, i) => ({
    id: `p${i}`,
    componentId: c,
    parent: i === 0 ? null : { pieceId: `p${i - 1}`, seatId: 'data-seat-0' },
    stickOut: 0,
    rollDeg: 0,
  })),
  createdAt: AT,
  changedAt: AT,
});
export const byId = (...records: AnyRecord[]): Record<string, AnyRecord> => Object.fromEntries(records.map((r) => [r.id, r]));

export const SHOP = [
  tool('drill 8.5 x 110', 'd1', { maker: 'Alder', tags: ['hub'] }),
  tool('drill 10', 'd2', { maker: 'Birch' }),
  tool('reamer 10', 'r1'),
  tool('DCLNL 2525 M12', 't1', { maker: 'Alder' }),
  tool('A16M-SCLCR 06', 'b1'),
  tool('collet er32 d10', 'c1'),
];
// What needs more than its numbers to be made again.
export const MORE = ['1/4-20 UNC tap', 'G1/4 tap', 'SIL 0016 M11', '16IR 1.5 ISO', 'grooving holder left 2020 width 3', 'CNMG 432', 'solid bar dmin 4'].map(
  (w, i) => tool(w, `m${i}`),
);
