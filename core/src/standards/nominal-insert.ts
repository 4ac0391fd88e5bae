// The nominal insert of an ISO 1832 designation: its outline as edges around the inscribed circle. Plain top, no hole, no chip groove.
import { done, failed, type Result } from '#core/issues';
import { type Designation, isInsertCode, readDesignation } from './designation/index.ts';

/** Lengths in mm, angles in degrees. */
export interface NominalInsert {
  readonly code: string;
  readonly inscribedCircle: number;
  readonly thickness: number;
  readonly noseRadius: number;
  readonly clearance: number;
  /**
   * Directions of the edges' normals from the middle of the insert, counter-clockwise, each edge touching the inscribed circle; the corner
   * before the first edge is the one that cuts, on the X axis. Empty for a round insert.
   */
  readonly edgeNormals: readonly number[];
  /** Which corners, each before its edge, are rounded with the nose radius. */
  readonly rounded: readonly boolean[];
}

/** What a designation says of the insert's form; refused where it leaves something open that its form needs. */
export function nominalInsertOf(text: string): Result<NominalInsert> {
  const read = readDesignation(text);
  if (!read.ok) return read;
  const d = read.value;
  const open = (field: string) => failed('designation.incomplete', { text: d.code, field });
  if (!isInsertCode(d)) return failed('designation.no-insert', { text: d.code, standard: d.standard });
  const edges = insertEdges(d);
  if (!edges) return failed('designation.no-form', { text: d.code, shape: d.insertShape });
  if (d.inscribedCircle === undefined) return open('size');
  if (d.thickness === undefined) return open('thickness');
  if (d.noseRadius === undefined) return open('nose radius');
  if (d.clearance === undefined) return open('clearance angle');
  const { code, inscribedCircle, thickness, noseRadius, clearance } = d;
  return done({ code, inscribedCircle, thickness, noseRadius, clearance, ...edges });
}

/** The edges of an insert by its shape (ISO 1832); undefined for those with two lengths, of which a designation gives one. */
export function insertEdges({
  insertShape,
  includedAngle,
}: Pick<Designation, 'insertShape' | 'includedAngle'>): Pick<NominalInsert, 'edgeNormals' | 'rounded'> | undefined {
  if (insertShape === 'R') return { edgeNormals: [], rounded: [] };
  // A rectangle and a parallelogram have two lengths, of which the designation gives one.
  if (includedAngle === undefined || insertShape === 'L' || insertShape === 'A' || insertShape === 'B' || insertShape === 'K') return undefined;
  const turn = 180 - includedAngle;
  if (insertShape === 'W') {
    // Acute corners every 120 degrees, and a blunt one between two of them.
    const blunt = 120 - turn;
    const edgeNormals = [0, 1, 2].flatMap((k) => [turn / 2 + 120 * k, turn / 2 + blunt + 120 * k]);
    return { edgeNormals, rounded: edgeNormals.map((_, i) => i % 2 === 0) };
  }
  const regular = ['T', 'S', 'P', 'H', 'O'].includes(insertShape);
  // Rhombic: acute and blunt corners by turns.
  const turns = regular ? Array.from({ length: Math.round(360 / turn) }, () => turn) : [turn, 180 - turn, turn, 180 - turn];
  let at = -turn / 2;
  const edgeNormals = turns.map((t) => (at += t));
  return { edgeNormals, rounded: edgeNormals.map(() => true) };
}

/** One piece of an outline, counter-clockwise: a line, or an arc about a centre. Coordinates with the corner's nose centre at the origin and the corner along +X. */
export interface OutlinePiece {
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  readonly arc?: { readonly centre: readonly [number, number]; readonly radius: number };
}

/**
 * The outline of a nominal insert with edges `inward` mm inside those of its top (0: the top itself). Radii shrink with it, to half of what they are at the top: below
 * that the flank of a corner is no cone about the nose's axis any more, and vendors differ.
 */
export function insertOutline(insert: NominalInsert, inward: number): OutlinePiece[] {
  const apothem = insert.inscribedCircle / 2 - inward;
  const radius = Math.max(insert.noseRadius / 2, insert.noseRadius - inward);
  const n = insert.edgeNormals.length;
  const corners = insert.edgeNormals.map((after, i) => {
    const before = insert.edgeNormals[(i + n - 1) % n];
    const turn = ((((after - before) % 360) + 360) % 360) * RAD;
    const middle = before * RAD + turn / 2;
    const r = insert.rounded[i] ? radius : 0;
    const far = (apothem - r) / Math.cos(turn / 2);
    const centre = [far * Math.cos(middle), far * Math.sin(middle)] as const;
    const at = (angle: number) => [centre[0] + r * Math.cos(angle), centre[1] + r * Math.sin(angle)] as const;
    return { centre, r, enter: at(before * RAD), leave: at(after * RAD) };
  });
  const shift = middleFromNose(insert);
  const moved = (p: readonly [number, number]): [number, number] => [p[0] - shift, p[1]];
  return corners.flatMap((c, i): OutlinePiece[] => {
    const next = corners[(i + 1) % n];
    const line = { from: moved(c.leave), to: moved(next.enter) };
    return c.r > 0 ? [{ from: moved(c.enter), to: moved(c.leave), arc: { centre: moved(c.centre), radius: c.r } }, line] : [line];
  });
}

/** From the nose centre of the cutting corner to the middle of the insert, along -X. */
export const middleFromNose = (insert: NominalInsert): number =>
  insert.edgeNormals.length === 0 ? 0 : (insert.inscribedCircle / 2 - insert.noseRadius) / Math.cos(turnAt(insert, 0) / 2);

const RAD = Math.PI / 180;
/** By how much the outline turns at a corner, radians. */
export const turnAt = ({ edgeNormals: e }: NominalInsert, i: number): number => ((((e[i] - e[(i + e.length - 1) % e.length]) % 360) + 360) % 360) * RAD;

/** The included angle of the corner that cuts, degrees; undefined for a round insert. */
export const cornerAngleOf = (insert: NominalInsert): number | undefined =>
  insert.edgeNormals.length === 0 ? undefined : Math.round((180 - turnAt(insert, 0) / RAD) * 1e6) / 1e6;
