import { COLUMN_USES, type ColumnUse } from '#core/components';
import { readSetting, writeSetting } from './settings.ts';

type Columns = Readonly<Record<string, ColumnUse>>;
// Headers that are remembered; the oldest go.
const MOST_HEADERS = 500;

/** What people said that columns are, by their headers. */
export async function rememberedColumns(): Promise<Columns> {
  const known = await readSetting<Record<string, unknown>>('columns').catch(() => null);
  const isUse = (use: unknown): use is ColumnUse => use === null || COLUMN_USES.some((u) => u === use);
  return Object.fromEntries(Object.entries(known ?? {}).filter((e): e is [string, ColumnUse] => isUse(e[1])));
}

/** Remembers them for the next table. */
export function rememberColumns(said: Columns): void {
  void rememberedColumns()
    .then((known) => writeSetting('columns', Object.fromEntries(Object.entries({ ...known, ...said }).slice(-MOST_HEADERS))))
    .catch(() => undefined);
}
