import { IDENTITY_FRAME } from '#core/math';
import type { HalfProfile } from '#core/outline';
import { colletClamps, colletSeat, ER_RANGES } from '#core/standards';
import type { Filling } from '../filling.ts';
import type { PlacedConnection } from '../made-part.ts';
import { Outside } from '../turned.ts';
import { tidy } from './say.ts';

/** Something that holds a round tool: what is turned, and its two sides. z 0 is the face of what holds it. */
export interface Holding {
  readonly profile: HalfProfile;
  readonly mount: PlacedConnection;
  readonly seat: PlacedConnection;
  readonly name: string;
  readonly without: string;
}

/** A collet by the size of its cone and its bore (ISO 15488). */
export function colletForm(f: Filling, size: string): Holding | undefined {
  const bore = f.need('DCONWS');
  const cone = colletSeat(Number(size.replace(/^ER\s*/i, '')));
  if (!cone) {
    f.unsaid('the size of its cone, ER 11 to ER 40');
    return undefined;
  }
  if (!bore) return undefined;
  const n = Number(size.replace(/^ER\s*/i, ''));
  f.derive('BDX', cone.mouth, `ER ${n}, ISO 15488`);
  f.derive('OAL', cone.depth, `ER ${n}, ISO 15488`);
  f.atMost('DCONWS', ER_RANGES[n][1], `the largest bore of ER ${n}`);
  if (bore < ER_RANGES[n][0]) f.refuse('DCONWS', bore, `the smallest bore of ER ${n} is ${ER_RANGES[n][0]}`);
  // Behind, the cone gets smaller than a large bore: it begins where a wall is left.
  const slope = (cone.mouth - cone.ground) / cone.depth;
  const back = -Math.min(cone.depth, (cone.mouth - bore - 2 * WALL) / slope);
  const profile = new Outside([back, bore / 2])
    .to(back, (cone.mouth + slope * back) / 2)
    .to(0, cone.mouth / 2)
    .to(0, bore / 2)
    .close();
  return {
    profile,
    mount: { connection: { standard: 'ER', size: n }, frame: IDENTITY_FRAME, evidence: `cone of ISO 15488, ER ${n}` },
    seat: {
      connection: { standard: 'cylindrical', size: bore, clamps: colletClamps(n, bore) },
      frame: IDENTITY_FRAME,
      evidence: 'its bore, and how far it closes',
    },
    name: `Collet ER ${n} / ${tidy(bore)}`,
    without: 'slots, the groove for the nut, and the front cone under it',
  };
}

// mm that a collet has around its bore at least.
const WALL = 0.4;

/** A sleeve from one diameter to a smaller one. */
export function sleeveForm(f: Filling): Holding | undefined {
  const [outer, bore] = [f.need('DCON'), f.need('DCONWS')];
  if (!outer || !bore) return undefined;
  const ls = f.assume('LS', outer <= 20 ? 50 : 60, 'a usual length');
  const bdx = f.assume('BDX', outer + 8, '4 mm of flange all around');
  const lpr = f.assume('LPR', 5, 'a usual flange');
  f.atMost('DCONWS', outer - 1, 'or no wall is left');
  if (bdx < outer) f.refuse('BDX', bdx, 'its flange is at least as wide as its shank');
  f.derive('OAL', ls + lpr, 'LS + LPR');
  const profile = new Outside([-ls, bore / 2])
    .to(-ls, outer / 2)
    .to(0, outer / 2)
    .to(0, bdx / 2)
    .to(lpr, bdx / 2)
    .to(lpr, bore / 2)
    .close();
  return {
    profile,
    mount: { connection: { standard: 'cylindrical', size: outer }, frame: IDENTITY_FRAME, evidence: 'its shank, at the face of its flange' },
    seat: { connection: { standard: 'cylindrical', size: bore }, frame: { ...IDENTITY_FRAME, origin: [0, 0, lpr] }, evidence: 'its bore' },
    name: `Sleeve ${tidy(outer)} / ${tidy(bore)}`,
    without: 'slots and screws',
  };
}

/** An arbor for face mills: a shank, a flange that the mill sits on, and the spigot that goes into its bore. */
export function arborForm(f: Filling): Holding | undefined {
  const spigot = f.need('DCONWS');
  if (!spigot) return undefined;
  const dcon = f.assume('DCON', Math.max(16, Math.ceil(spigot / 5) * 5), 'a usual shank for its spigot');
  const ls = f.assume('LS', dcon <= 20 ? 50 : 60, 'a usual length');
  const bdx = f.assume('BDX', spigot + 18, 'a usual flange');
  const lpr = f.assume('LPR', 20, 'a usual distance to the seat');
  const nose = f.assume('LSCWS', spigot <= 16 ? 17 : spigot <= 22 ? 19 : spigot <= 27 ? 21 : spigot <= 32 ? 24 : 27, 'the spigot of ISO 6462');
  f.atMost('DCONWS', bdx - 4, 'or no face is left that the mill sits on');
  f.derive('OAL', ls + lpr + nose, 'LS + LPR + LSCWS');
  const profile = new Outside([-ls, 0])
    .to(-ls, dcon / 2)
    .to(0, dcon / 2)
    .to(0, bdx / 2)
    .to(lpr, bdx / 2)
    .to(lpr, spigot / 2)
    .to(lpr + nose, spigot / 2)
    .to(lpr + nose, 0)
    .close();
  return {
    profile,
    mount: { connection: { standard: 'cylindrical', size: dcon }, frame: IDENTITY_FRAME, evidence: 'its shank, at the face of its flange' },
    seat: { connection: { standard: 'bolted face', size: spigot }, frame: { ...IDENTITY_FRAME, origin: [0, 0, lpr] }, evidence: 'its face, about the spigot' },
    name: `Arbor ${tidy(dcon)} / ${tidy(spigot)}`,
    without: 'keys and the screw',
  };
}
