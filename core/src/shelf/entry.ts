import { VALUE_NAMES, type ValueName, type Values } from '#core/components';
import type { Coolant } from '#core/cutting';
import { type ComponentRecord, handOf, missingMarks, type ShelvedRecord } from '#core/records';
import { factsOfDesignation, readDesignation, sayConnection } from '#core/standards';

/**
 * The form of an entry as a store may keep it beside its record. To be raised with every change of `ShelfEntry`: what is kept in another form is worked out
 * anew.
 */
export const ENTRY_FORM = 1;

/** By what a record is found on the Shelf, and all that a list of many shows of it: what is worked out of one, without what it holds. */
export interface ShelfEntry {
  readonly id: string;
  readonly name: string;
  readonly of: ShelvedRecord['kind'];
  /** Null: of the master shelf. */
  readonly set: string | null;
  readonly maker: string;
  readonly tags: readonly string[];
  readonly createdAt: string;
  readonly changedAt: string;
  /** Kind of component, or 'assembly', 'outline'. */
  readonly kind: string;
  /** What it is more closely, where data says so: 'drill', 'reamer'. */
  readonly type: string | null;
  /** All its words in small letters. */
  readonly text: string;
  /** "PSC 63" */
  readonly mount: string | null;
  readonly seats: readonly string[];
  /** Null where nothing says it. */
  readonly hand: 'right' | 'left' | 'neutral' | null;
  /** As somebody said it; null where it is as usual. */
  readonly coolant: Coolant | null;
  readonly unit: string;
  readonly from: 'file' | 'outline' | 'data' | null;
  readonly state: 'ready' | 'mount missing' | 'tip missing' | 'no pieces' | 'no outline';
  /** Numbers by their ISO 13399 names, mm and degrees. */
  readonly values: Values;
}

// Records are never changed, so what was found of one holds as long as it is there.
const known = new WeakMap<ShelvedRecord, ShelfEntry>();

/** What the Shelf knows of a record; worked out once for each. */
export function entryOf(record: ShelvedRecord): ShelfEntry {
  const before = known.get(record);
  if (before) return before;
  const entry = makeEntry(record);
  known.set(record, entry);
  return entry;
}

function makeEntry(record: ShelvedRecord): ShelfEntry {
  const { tags, maker } = record.shelf;
  if (record.kind === 'component') return componentEntry(record);
  const isAssembly = record.kind === 'assembly';
  const file = record.kind === 'outline' && record.way.kind === 'drawing' ? record.way.fileName : '';
  return {
    ...headOf(record),
    kind: record.kind,
    type: null,
    text: words([record.name, record.kind, file, maker, ...tags]),
    mount: record.kind === 'outline' && record.mount ? sayConnection(record.mount) : null,
    seats: [],
    hand: null,
    coolant: null,
    unit: 'mm',
    from: null,
    state: isAssembly ? (record.pieces.length > 0 ? 'ready' : 'no pieces') : record.profile.length > 0 || record.way.kind === 'stack' ? 'ready' : 'no outline',
    values: {},
  };
}

const headOf = ({ id, name, kind, shelf: { set, maker, tags }, createdAt, changedAt }: ShelvedRecord) => ({
  id,
  name,
  of: kind,
  set,
  maker,
  tags,
  createdAt,
  changedAt,
});

function componentEntry(record: ComponentRecord): ShelfEntry {
  const { source, mount, seats, shelf } = record;
  const data = source.kind === 'data' ? source : undefined;
  const [first] = missingMarks(record);
  const held = mount ? sayConnection(mount.connection) : null;
  // By their size: what else they clamp is no other kind of seat.
  const places = [...new Set(seats.map((s) => sayConnection({ standard: s.connection.standard, size: s.connection.size })))];
  return {
    ...headOf(record),
    kind: record.componentKind,
    type: data?.spec.kind ?? null,
    text: words([
      record.name,
      record.componentKind,
      data ? data.spec.kind : source.fileName,
      record.designation,
      source.unit,
      held ?? '',
      ...places,
      shelf.maker,
      ...shelf.tags,
    ]),
    mount: held,
    seats: places,
    hand: handOf(record),
    coolant: record.use.coolant ?? null,
    unit: source.unit,
    from: source.kind,
    state: first === undefined ? 'ready' : `${first} missing`,
    values: data?.values ?? marked(record),
  };
}

// What the marks of a component say in numbers, beside what its designation says.
function marked({ mount, tips, designation }: ComponentRecord): Values {
  const said = designation === '' ? undefined : readDesignation(designation);
  const facts = said?.ok ? factsOfDesignation(said.value) : {};
  const out: Partial<Record<ValueName, number>> = {};
  for (const name of VALUE_NAMES) if (typeof facts[name] === 'number') out[name] = facts[name];
  const size = Number(mount?.connection.size);
  if (mount?.connection.standard === 'cylindrical' && size > 0) out.DCON = size;
  if (tips.length > 0) out.RE = Math.max(...tips.map((t) => t.noseRadius));
  return out;
}

const words = (parts: readonly string[]): string => parts.filter(Boolean).join(' ').toLowerCase();
