import { checkRoom, type Clearance, type StationRow } from '#core/carrier';
import type { Carrier, Check } from '#core/records';

/** All checks of a station, what the room says included as far as it is known. */
export const checksOf = (row: StationRow, room: readonly Clearance[] | undefined): Check[] => [
  ...row.checks,
  ...row.edges.flatMap((e) => e.checks),
  ...(room ? checkRoom(row, room) : []),
];

export const STATE_WORDS: Readonly<Record<Check['state'], string>> = { pass: 'in order', warn: 'look at this', fail: 'wrong' };

/** The stations that are shown of a carrier: all, but of a magazine those that hold something and the next one. */
export function shownStations(carrier: Carrier, rows: readonly StationRow[]): number[] {
  const all = Array.from({ length: carrier.stations }, (_, i) => i + 1);
  if (carrier.kind !== 'swivel head') return all;
  const held = new Set(rows.filter((r) => r.place.carrierId === carrier.id).map((r) => r.place.station));
  const free = all.find((n) => !held.has(n));
  return all.filter((n) => held.has(n) || n === free);
}

/** What stands where no station is: its carrier is gone, or has fewer stations. */
export const isLost = ({ place, carrier }: StationRow): boolean => !carrier || place.station > carrier.stations;
