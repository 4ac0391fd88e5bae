import { type ComponentRecord, spinsInWork } from '#core/records';
import type { Reading } from './propose.ts';

const KINDS: Readonly<Record<Reading['kind'], ComponentRecord['componentKind']>> = {
  turning: 'turning tool',
  boring: 'boring bar',
  grooving: 'turning tool',
  threading: 'turning tool',
  rotating: 'holder',
  cutter: 'cutter',
  block: 'station block',
  adapter: 'adapter',
  insert: 'insert',
};

/** The kind of component that a model was read as: what holds collets is a holder. */
export const componentKindOf = ({ kind, seats }: Pick<Reading, 'kind' | 'seats'>): ComponentRecord['componentKind'] =>
  kind === 'adapter' && seats.some((s) => s.connection.standard === 'ER') ? 'holder' : KINDS[kind];

/** Whether it spins about its mount's axis when it works, as far as it was read. */
export const spinsAsRead = (reading: Pick<Reading, 'kind' | 'seats' | 'mount'>): boolean =>
  spinsInWork({ componentKind: componentKindOf(reading), mount: reading.mount ?? null });
