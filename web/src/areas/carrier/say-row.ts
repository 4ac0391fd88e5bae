import type { StationRow } from '#core/carrier';
import type { Carrier, Check } from '#core/records';

export type RowState = 'pass' | 'warn' | 'fail';

/** All checks of a station, the worst first. */
export const checksOf = (row: StationRow): Check[] => [...row.checks, ...row.edges.flatMap((e) => e.checks)].sort((a, b) => ORDER[a.state] - ORDER[b.state]);

const ORDER: Record<Check['state'], number> = { fail: 0, warn: 1, pass: 2 };

export const stateOf = (checks: readonly Check[]): RowState =>
  checks.some((c) => c.state === 'fail') ? 'fail' : checks.some((c) => c.state === 'warn') ? 'warn' : 'pass';

export const STATE_WORDS: Readonly<Record<RowState, string>> = { pass: 'in order', warn: 'look at this', fail: 'wrong' };

/** Degrees that are usual for which way round a block sits. */
export const TURNS = [0, 90, 180, 270] as const;

/** The stations that are shown of a carrier: all, but of a magazine those that hold something and the next one. */
export function shownStations(carrier: Carrier, rows: readonly StationRow[]): number[] {
  const all = Array.from({ length: carrier.stations }, (_, i) => i + 1);
  if (carrier.kind !== 'swivel head') return all;
  const held = new Set(rows.filter((r) => r.place.carrierId === carrier.id).map((r) => r.place.station));
  const free = all.find((n) => !held.has(n));
  return all.filter((n) => held.has(n) || n === free);
}
