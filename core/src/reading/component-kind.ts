import { type ComponentRecord, spinsInWork } from '#core/records';
import type { Reading } from './reading.ts';

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

/** mm. A bore from which one is called an adapter's. */
export const LEAST_ADAPTER = 16;

type MarkedKind = Pick<ComponentRecord, 'mount' | 'seats' | 'tips'>;

/** The kind that follows from what is marked: connection, seats and tips. Undefined without a mount. */
export function kindOfMarked({ mount, seats, tips }: MarkedKind): ComponentRecord['componentKind'] | undefined {
  if (!mount) return undefined;
  const { standard, size } = mount.connection;
  // A tip off the axis turns or bores; one on it drills.
  const turns = tips.some((t) => t.noseRadius > 0);
  switch (standard) {
    case 'square':
      return 'turning tool';
    case 'VDI':
      return 'station block';
    case 'bolted face':
      return size === '' ? 'station block' : 'cutter';
    case 'ER':
      return 'holder';
    case 'cylindrical':
      if (seats.length > 0) return seats.some((s) => s.connection.standard === 'ER') ? 'holder' : 'adapter';
      return turns ? 'boring bar' : 'cutter';
    default:
      if (seats.length > 0)
        return seats.every((s) => s.connection.standard === 'cylindrical' && Number(s.connection.size) >= LEAST_ADAPTER) ? 'adapter' : 'holder';
      return turns ? 'turning tool' : 'holder';
  }
}

/** A kind that is offered, and what it follows from. */
export interface OfferedKind {
  readonly kind: ComponentRecord['componentKind'];
  readonly from: 'reading' | 'marks';
}

/**
 * The kind to offer for a component: what was read; where a person has set another connection than was read, what follows from that. Undefined where neither is
 * known, or where the kind that is set was not taken from the reading.
 */
export function kindToOffer(
  record: MarkedKind & Pick<ComponentRecord, 'componentKind'>,
  reading: Pick<Reading, 'kind' | 'seats' | 'mount'>,
): OfferedKind | undefined {
  const asRead = componentKindOf(reading);
  const isOther = record.mount && record.mount.origin.from !== 'read' && record.mount.connection.standard !== reading.mount?.connection.standard;
  const kind = isOther ? kindOfMarked(record) : asRead;
  const isOpen = record.componentKind === 'other' || (record.componentKind === asRead && kind !== asRead);
  return kind && isOpen ? { kind, from: isOther ? 'marks' : 'reading' } : undefined;
}
