import { type AnyRecord, hashPlain, type ShelvedRecord, withComponentIds } from '#core/records';

export type RecordsById = Readonly<Record<string, AnyRecord>>;

// Of components and outlines it follows from the record alone.
const known = new WeakMap<ShelvedRecord, string>();

/**
 * What a record is, whatever it is called and wherever it is kept: two with equal content are the same thing twice. Made geometry is no part
 * of it, for it follows from the rest. Of an assembly the components count, not their ids.
 */
export function contentOf(record: ShelvedRecord, records: RecordsById): string {
  if (record.kind === 'assembly') {
    const { pieces, edges, gaugeLine } = withComponentIds(record, (id) => {
      const component = records[id];
      return component?.kind === 'component' ? contentOf(component, records) : '';
    });
    const said = edges.length > 0 ? edges : undefined;
    return hashPlain(said || gaugeLine ? { pieces, edges: said, gaugeLine } : pieces);
  }
  const before = known.get(record);
  if (before !== undefined) return before;
  const { id: _, name: __, version: ___, shelf: ____, createdAt: _____, changedAt: ______, ...rest } = record;
  const made = rest.kind === 'component' ? { ...rest, geometry: [], plan: null, source: placeless(rest.source) } : rest;
  const content = hashPlain(made);
  known.set(record, content);
  return content;
}

// A source as it is wherever its outline is kept.
const placeless = <T extends { readonly kind: string }>(source: T): T => (source.kind === 'outline' ? { ...source, outline: '' } : source);

/** How a record that was brought over stands to the one that it was brought from. */
export type Standing = 'own' | 'same' | 'original changed' | 'changed here' | 'both changed' | 'original gone';

export function standingOf(record: ShelvedRecord, records: RecordsById): Standing {
  const { from } = record.shelf;
  if (!from) return 'own';
  const original = records[from.id];
  if (!original || original.kind !== record.kind) return 'original gone';
  const [isOther, isHere] = [contentOf(original, records) !== from.content, contentOf(record, records) !== from.content];
  // Both to the same: nothing is left to be done.
  if (isOther && isHere && contentOf(original, records) === contentOf(record, records)) return 'same';
  return isOther ? (isHere ? 'both changed' : 'original changed') : isHere ? 'changed here' : 'same';
}
