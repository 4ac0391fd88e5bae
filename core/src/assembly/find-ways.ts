// Which chains of pieces connect what is there with what is wanted.
import { type ComponentSpec, makeComponent } from '#core/components';
import { dot, length, subtract } from '#core/math';
import type { ComponentRecord, Connection } from '#core/records';
import { checkFit, type ConnectionSize, ER_RANGES, sayConnection } from '#core/standards';

/** A chain from a seat to what is wanted: its pieces in between, from the machine outwards. */
export interface Way {
  readonly through: readonly WayPiece[];
  /** The seat that takes what is wanted; null where it goes straight onto what is there. */
  readonly last: Connection | null;
  /** mm from what is there to the last seat, along the chain. */
  readonly long: number;
  /** The smallest shank or bore on the way, mm: the stiffer of two ways of one length has the larger one. */
  readonly thinnest: number;
}
export interface WayPiece {
  readonly component: ComponentRecord;
  readonly seatId: string;
}

/** A piece that is not there and would make a way: after those in front of it. */
export interface MissingPiece {
  readonly through: readonly WayPiece[];
  readonly needs: string;
  /** What makes it from data; absent where no data does. */
  readonly spec?: ComponentSpec;
}

export interface Ways {
  /** The shortest first, of the same number of pieces the stiffest. */
  readonly ways: readonly Way[];
  /** Where there is none: what would make one, fewest pieces first. */
  readonly missing: readonly MissingPiece[];
}

export interface WayOptions {
  /** Pieces in between at most. */
  readonly most?: number;
  readonly limit?: number;
}

// What stands between: it has a mount and a seat, and does not cut.
const isBetween = (c: ComponentRecord): boolean => c.mount !== null && c.seats.length > 0 && c.tips.length === 0;

// Enough of one length to choose of; a Shelf where everything fits everything has no end.
const MOST_OF_A_LENGTH = 500;

/**
 * Ways from an open seat to a mount, through components that stand between. First it is told of each connection by how many pieces the mount is reached from
 * there, so that only what leads there is walked: thousands of pieces that lead nowhere cost one look each.
 */
export function findWays(from: ConnectionSize, to: ComponentRecord, components: readonly ComponentRecord[], { most = 4, limit = 40 }: WayOptions = {}): Ways {
  const { mount } = to;
  if (!mount) return { ways: [], missing: [] };
  const between = components.filter((c) => isBetween(c) && c.id !== to.id);
  const fittingTo = oncePerConnection((seat) => between.filter((c) => c.mount && checkFit(c.mount.connection, seat).ok));
  const seats = seatsFrom(from, fittingTo, most);
  const left = distances(seats, mount.connection, fittingTo);
  const leftFrom = (seat: ConnectionSize) => left.get(sayConnection(seat)) ?? Infinity;
  const ways: Way[] = [];
  // Of each number of pieces all, before any longer one.
  for (let count = 0; count <= most && ways.length < limit; count++) {
    const found: Way[] = [];
    const walk = (seat: ConnectionSize, way: Way): void => {
      const more = count - way.through.length;
      if (found.length >= MOST_OF_A_LENGTH || leftFrom(seat) > more) return;
      if (more === 0) return void found.push(way);
      for (const component of fittingTo(seat)) {
        // Never the same piece twice: a chain of the same extension is one more extension.
        if (way.through.some((t) => t.component.id === component.id)) continue;
        for (const s of component.seats)
          walk(s.connection, {
            through: [...way.through, { component, seatId: s.id }],
            last: s,
            long: way.long + lengthOf(component, s),
            thinnest: Math.min(way.thinnest, widthOf(s.connection)),
          });
      }
    };
    walk(from, { through: [], last: null, long: 0, thinnest: Infinity });
    ways.push(...found.sort((a, b) => a.long - b.long || b.thinnest - a.thinnest));
  }
  return { ways: ways.slice(0, limit), missing: ways.length > 0 ? [] : missingTo(mount.connection, seats) };
}

type FittingTo = (seat: ConnectionSize) => readonly ComponentRecord[];

function oncePerConnection(find: FittingTo): FittingTo {
  const known = new Map<string, readonly ComponentRecord[]>();
  return (seat) => {
    const key = sayConnection(seat);
    const found = known.get(key) ?? find(seat);
    known.set(key, found);
    return found;
  };
}

/** A seat that is reached, and by the fewest pieces. */
interface OpenSeat {
  readonly seat: ConnectionSize;
  readonly through: readonly WayPiece[];
}

// All connections that are reached from a seat through `most` pieces, each once, the nearest first.
function seatsFrom(from: ConnectionSize, fittingTo: FittingTo, most: number): OpenSeat[] {
  const seen = new Set([sayConnection(from)]);
  const out: OpenSeat[] = [{ seat: from, through: [] }];
  // What is found while it is gone through is gone through as well.
  for (const { seat, through } of out) {
    if (through.length >= most) continue;
    for (const component of fittingTo(seat))
      for (const s of component.seats) {
        const key = sayConnection(s.connection);
        if (!seen.has(key)) out.push({ seat: s.connection, through: [...through, { component, seatId: s.id }] });
        seen.add(key);
      }
  }
  return out;
}

// By how many pieces a mount is reached from each seat; seats from which it is not are left out.
function distances(seats: readonly OpenSeat[], mount: ConnectionSize, fittingTo: FittingTo): Map<string, number> {
  const left = new Map(seats.filter(({ seat }) => checkFit(mount, seat).ok).map(({ seat }) => [sayConnection(seat), 0]));
  // Connections that lead to another one, each pair once.
  const steps = seats.map(({ seat }) => ({
    from: sayConnection(seat),
    to: [...new Set(fittingTo(seat).flatMap((c) => c.seats.map((s) => sayConnection(s.connection))))],
  }));
  for (let isShorter = true; isShorter; ) {
    isShorter = false;
    for (const { from, to } of steps) {
      const next = 1 + Math.min(...to.map((key) => left.get(key) ?? Infinity));
      if (next >= (left.get(from) ?? Infinity)) continue;
      left.set(from, next);
      isShorter = true;
    }
  }
  return left;
}

// How far a piece brings the chain on: from its mount to its seat.
function lengthOf({ mount }: ComponentRecord, seat: Connection): number {
  if (!mount) return 0;
  const d = subtract(seat.frame.origin, mount.frame.origin);
  // A seat at an angle goes aside as well.
  return Math.max(Math.abs(dot(d, mount.frame.z)), length(d) * (dot(seat.frame.z, mount.frame.z) > 0.99 ? 0 : 1));
}

const widthOf = ({ standard, size }: ConnectionSize): number => (standard === 'cylindrical' ? Number(size) : Infinity);

function missingTo(mount: ConnectionSize, open: readonly OpenSeat[]): MissingPiece[] {
  const found = open.flatMap(({ seat, through }): MissingPiece[] => {
    const spec = linkOf(seat, mount);
    return spec && makeComponent(spec).ok ? [{ through, needs: sayLink(spec), spec }] : [];
  });
  // A sleeve is nearest where its wall is least.
  const wall = (m: MissingPiece): number => (m.spec?.values.DCON ?? 0) - (m.spec?.values.DCONWS ?? 0);
  found.sort((a, b) => a.through.length - b.through.length || wall(a) - wall(b));
  const kinds = new Set<string>();
  const first = found.filter((m) => !kinds.has(m.needs) && kinds.add(m.needs)).slice(0, 6);
  if (first.length > 0) return first;
  const [here] = open;
  return here ? [{ through: [], needs: `a piece with a ${sayConnection(here.seat)} mount and a ${sayConnection(mount)} seat` }] : [];
}

// What data makes to go from a seat to a mount: a sleeve in a bore, a collet in a collet chuck.
function linkOf(seat: ConnectionSize, mount: ConnectionSize): ComponentSpec | undefined {
  const base = { designation: '', shape: '', hand: 'right', thread: '', inside: false, size: '' } as const;
  if (mount.standard !== 'cylindrical') return undefined;
  const bore = Number(mount.size);
  if (seat.standard === 'cylindrical' && Number(seat.size) > bore + 1) return { ...base, kind: 'sleeve', values: { DCON: Number(seat.size), DCONWS: bore } };
  const range = seat.standard === 'ER' ? ER_RANGES[Number(seat.size)] : undefined;
  if (range && bore >= range[0] && bore <= range[1]) return { ...base, kind: 'collet', size: String(seat.size), values: { DCONWS: bore } };
  return undefined;
}

const sayLink = ({ kind, size, values }: ComponentSpec): string =>
  kind === 'sleeve' ? `a sleeve ${values.DCON} to ${values.DCONWS}` : `a collet ER ${size} for ${values.DCONWS}`;
