import { IDENTITY_FRAME, radFromDeg, type Vec3 } from '#core/math';
import { areaOfPath, type FlatPoint, loopThrough, type PlacedBody } from '#core/outline';
import type { Filling } from '../filling.ts';
import { stepped } from '../turned.ts';
import { roundedLoop } from './plate-loop.ts';
import { tidy } from './say.ts';
import type { TurningForm } from './turning.ts';

/**
 * A small bar of one piece, by the dimensions of its catalogue: shank, neck and a ground edge. Its neck fits into the least bore beside its edge:
 * DMIN = DN + CDX, where CDX is how far the edge stands out beyond the neck.
 */
export function solidBar(f: Filling, hand: 'right' | 'left' | 'neutral'): (TurningForm & { readonly name: string }) | undefined {
  const dmin = f.get('DMIN');
  const d = dmin === undefined ? f.need('DCON') : f.assume('DCON', SHANKS.find((s) => s >= dmin) ?? dmin, 'the next usual shank');
  if (!d) return undefined;
  const bore = dmin ?? f.assume('DMIN', 0.9 * d, 'nine tenths of its shank');
  const given = { dn: f.get('DN'), cdx: f.get('CDX') };
  const dn =
    given.dn ?? (given.cdx === undefined ? f.assume('DN', 0.8 * bore, 'four fifths of its least bore') : f.derive('DN', bore - given.cdx, 'DMIN - CDX'));
  const cdx = f.derive('CDX', bore - dn, 'DMIN - DN: how far its edge stands out beyond its neck');
  const lu = f.assume('LU', 4 * bore, 'four times its least bore: steel');
  const oal = f.assume('OAL', lu + Math.max(20, 4 * d), 'room for its shank');
  f.derive('LF', oal, 'OAL');
  f.derive('LS', oal - lu, 'OAL - LU');
  const wf = f.assume('WF', bore / 2, 'half of its least bore: its edge in line with the bore about the axis of its shank');
  const re = f.assume('RE', Math.min(0.2, cdx / 3), 'a usual corner');
  const kapr = f.assume('KAPR', 95, 'usual for boring to the bottom');
  const epsr = f.assume('EPSR', 180 - kapr - 5 > 20 ? Math.min(80, 180 - kapr - 5) : 20, '5 degrees between its other edge and the bottom');
  f.atMost('EPSR', 180 - kapr, 'or its end edge rubs: KAPR and EPSR are at most 180 together');
  f.atMost('LU', oal - 5, 'or no shank is left');
  f.atMost('DN', bore - 0.1, 'less than its least bore');
  f.atMost('RE', Math.min(cdx, dn / 4), 'no more than its edge stands out');
  if (cdx <= 0.02) f.refuse('CDX', cdx, 'its edge has to stand out beyond its neck');
  if (f.conflicts.length > 0) return undefined;
  // The edge's flanks, as inside: the main one across, the other one back along the front.
  const at = (deg: number): FlatPoint => [Math.sin(radFromDeg(deg)), Math.cos(radFromDeg(deg))];
  const [main, minor] = [at(-kapr), at(-kapr - epsr)];
  const sharp: FlatPoint = [wf, oal];
  const r = dn / 2;
  const middle = wf - cdx - r;
  const up = hand === 'left' ? -1 : 1;
  // From the nose along one edge to the front of the neck, along the other to its side, and into the neck.
  const [front, side] = main[1] > minor[1] ? [main, minor] : [minor, main];
  const across = Math.min(r + cdx, Math.abs(front[0]) > 0.2 ? (cdx + 0.9 * r) / Math.abs(front[0]) : r);
  const back = Math.min(lu * 0.5, Math.abs(side[1]) > 0.2 ? (1.2 * cdx + 0.6 * r) / Math.abs(side[1]) : r);
  const on = (edge: FlatPoint, by: number): FlatPoint => [sharp[0] + by * edge[0], sharp[1] + by * edge[1]];
  const [a, b] = [on(front, across), on(side, back)];
  const inner: FlatPoint = [middle, Math.min(a[1], b[1]) - 0.2 * r];
  // In the tool's turning plane; [x, y] of the plate is [z, x].
  const corners = [sharp, a, inner, b].map(([x, z]): FlatPoint => [z, x]);
  const isTurned = areaOfPath(loopThrough(corners)) < 0;
  const loop = roundedLoop(isTurned ? [corners[0], ...corners.slice(1).reverse()] : corners, [re, 0, 0, 0]);
  const toward: FlatPoint = [-(main[0] + minor[0]), -(main[1] + minor[1])];
  const size = Math.hypot(...toward);
  const out = re / Math.sin(radFromDeg(epsr / 2));
  const nose: Vec3 = [wf - (toward[0] / size) * out, 0, oal - (toward[1] / size) * out];
  const deep = 0.7 * r;
  // Its edge is as thick as it is deep, below the turning plane or, of left hands, above it.
  const place = { origin: [0, up > 0 ? 0 : deep, 0] as const, z: [0, 1, 0] as const, x: [0, 0, 1] as const };
  const neckEnd = Math.min(a[1], oal) - 0.15 * r;
  const bodies: PlacedBody[] = [
    {
      name: 'Shank',
      role: 'tool body',
      place: IDENTITY_FRAME,
      solid: {
        kind: 'turned',
        profile: stepped([
          [0, d],
          [oal - lu, d],
        ]),
      },
      cuts: [],
    },
    {
      name: 'Neck',
      role: 'tool body',
      place: { origin: [middle, 0, oal - lu], z: [0, 0, 1], x: [1, 0, 0] },
      solid: {
        kind: 'turned',
        profile: stepped([
          [0, dn],
          [neckEnd - (oal - lu), dn],
        ]),
      },
      cuts: [{ place, loop, below: up > 0 ? deep : deep + 2 * d, above: up > 0 ? 2 * d : 0 }],
    },
    { name: 'Edge', role: 'cutting', place, solid: { kind: 'plate', loop, thickness: deep, reliefDeg: 0, hole: null }, cuts: [] },
  ];
  return {
    shape: { format: 'ruota-shape', version: 1, form: 'placed', bodies },
    mount: { connection: { standard: 'cylindrical', size: d }, frame: IDENTITY_FRAME, evidence: 'its shank, at the rear' },
    tip: { noseRadius: re, noseCentre: nose, towards: [toward[0] / size, 0, toward[1] / size], rake: [0, up, 0], evidence: 'its ground corner' },
    without: 'the clearance of its edge, coolant and flats',
    name: `Solid bar ${tidy(d)}, bore ${tidy(bore)}`,
  };
}

const SHANKS = [3, 4, 5, 6, 7, 8, 10, 12, 16];
