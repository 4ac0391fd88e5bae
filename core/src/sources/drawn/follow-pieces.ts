import type { FlatPoint } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import type { Sketched } from '#core/sketch';

/** A change of all of an outline: where its places go, and by how much it gets larger. */
export interface WholeChange {
  readonly at: (p: FlatPoint) => FlatPoint;
  readonly factor: number;
}

type Following = Pick<OutlineRecord, 'insert' | 'cutting' | 'mountZ' | 'seat'>;

/**
 * What belongs to an outline besides its pieces, after these were changed by hand: edges that cut are the same edges (a new piece cuts where the one before
 * it does), and where all of it is moved, turned or scaled the hole goes along and lengths grow.
 */
export function followPieces(before: Following & { readonly purpose: OutlineRecord['purpose'] }, from: Sketched, to: Sketched, whole?: WholeChange): Following {
  const { insert, cutting, mountZ, seat, purpose } = before;
  const grown = whole?.factor ?? 1;
  const hole = insert.hole && whole ? { at: whole.at(insert.hole.at), diameter: insert.hole.diameter * grown } : insert.hole;
  const edges = purpose === 'insert' && insert.cutting !== null ? cuttingEdges(insert.cutting, from, to) : insert.cutting;
  return {
    insert: { ...insert, hole, cutting: edges },
    cutting: cutting && { from: cutting.from * grown, to: cutting.to * grown },
    mountZ: mountZ * grown,
    seat: seat && { ...seat, z: seat.z * grown },
  };
}

// By the corners at both ends of a piece: turned over, it begins where it ended.
function cuttingEdges(cutting: readonly number[], from: Sketched, to: Sketched): number[] | null {
  const [was, is] = [from.sketch.names[0] ?? [], to.sketch.names[0] ?? []];
  const isTurnedOver = is.length === was.length && is.length > 2 && is.every((name, k) => name === was[(was.length - k) % was.length]);
  const known = new Map(was.map((name, i) => [isTurnedOver ? was[(i + 1) % was.length] : name, cutting.includes(i)]));
  let last = known.get([...is].reverse().find((name) => known.has(name)) ?? '') ?? true;
  const edges = is.flatMap((name, i) => {
    last = known.get(name) ?? last;
    return last ? [i] : [];
  });
  return edges.length === is.length ? null : edges;
}
