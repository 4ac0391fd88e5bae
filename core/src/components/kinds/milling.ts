import { radFromDeg } from '#core/math';
import type { Filling } from '../filling.ts';
import type { SpecKind } from '../spec-schema.ts';
import { COARSE_PITCHES, FACE_MILLS, rowFor, WOODRUFF } from '../tables.ts';
import { Outside, stepped } from '../turned.ts';
import type { Rotating } from './rotating-form.ts';
import { FLUTES, tidy } from './say.ts';

/** Mills whose outside is more than a cylinder: how each is filled and drawn. */
export const MILLING: Readonly<Partial<Record<SpecKind, (f: Filling) => Rotating | undefined>>> = {
  'tapered mill': (f) => {
    // DC is at its tip; it gets wider towards the shank.
    const dc = f.need('DC');
    const taper = f.need('TAPER');
    if (!dc || !taper) return undefined;
    const slope = Math.tan(radFromDeg(taper));
    const re = f.assume('RE', 0, 'sharp corners');
    const lcf = f.assume('LCF', Math.max(4 * dc, 10), 'four diameters');
    const wide = f.derive('DC2', dc + 2 * lcf * slope, 'DC + 2 LCF tan TAPER, where its edges end');
    const dcon = f.assume('DCON', shankOver(wide), 'the next usual shank');
    const oal = f.assume('OAL', lcf + Math.max(36, 3 * dcon), 'room for the shank');
    f.atMost('RE', dc / 2, 'half of what it cuts at its tip');
    f.atMost('LCF', oal - 1, 'or no shank is left');
    f.derive('LS', oal - lcf, 'OAL - LCF');
    const half = dc / 2;
    const outside = new Outside([0, 0])
      .to(0, dcon / 2)
      .to(oal - lcf, dcon / 2)
      .to(oal - lcf, wide / 2);
    if (re > 0) {
      // The round touches the flank and the front: about a place re behind the front, as far from the axis as the flank allows.
      const lean = radFromDeg(taper);
      const r = half + re * slope - re / Math.cos(lean);
      const centre: [number, number] = [oal - re, r];
      outside.to(oal - re + re * Math.sin(lean), r + re * Math.cos(lean)).round(oal, Math.max(0, r), centre);
    } else outside.to(oal, half);
    const profile = outside.to(oal, 0).close();
    return { profile, cutting: lcf, without: FLUTES, name: `Tapered mill ${tidy(dc)} x ${tidy(taper)}°${re > 0 ? ` R${tidy(re)}` : ''}` };
  },
  'dovetail mill': (f) => {
    // The widest place is at the front; it gets narrower towards the shank.
    const dc = f.need('DC');
    if (!dc) return undefined;
    const taper = f.assume('TAPER', 30, 'a dovetail of 60 degrees: 30 from the axis');
    const lcf = f.assume('LCF', 0.4 * dc, 'two fifths of what it cuts');
    const dcn = f.derive('DCN', dc - 2 * lcf * Math.tan(radFromDeg(taper)), 'DC - 2 LCF tan TAPER, at the neck');
    const dcon = f.assume('DCON', shankOver(0.6 * dc), 'a usual shank for its size');
    if (dcn < 0.15 * dc) f.refuse('LCF', lcf, 'no neck is left behind its edges');
    const dn = f.assume('DN', Math.min(dcon, Math.max(0.1, dcn * 0.95)), 'a little less than the narrow end of its edges');
    f.atMost('DN', dcn, 'no more than the narrow end of its edges');
    const lu = f.assume('LU', lcf + dc, 'one diameter behind its edges');
    const oal = f.assume('OAL', lu + Math.max(36, 3 * dcon), 'room for the shank');
    f.atMost('LCF', lu, 'within its usable length');
    f.atMost('LU', oal - 1, 'or no shank is left');
    f.derive('LS', oal - lu, 'OAL - LU');
    const profile = stepped([
      [0, dcon],
      [oal - lu, dcon],
      [oal - lu, dn],
      [oal - lcf, dn],
      [oal - lcf, dcn],
      [oal, dc],
    ]);
    return { profile, cutting: lcf, without: 'teeth', name: `Dovetail mill ${tidy(dc)} x ${tidy(90 - taper)}°` };
  },
  'woodruff cutter': (f) => {
    const dc = f.need('DC');
    const row = rowFor(WOODRUFF, dc);
    const isUsual = row !== undefined && Math.abs(row[0] - dc) < 1e-6;
    const cw = isUsual ? f.assume('CW', row[1], 'the usual key for its diameter, ISO 3912') : f.need('CW');
    if (!dc || !cw) return undefined;
    const dcon = f.assume('DCON', dc > 20 ? 12 : dc > 8 ? 10 : 6, 'a usual shank, DIN 850');
    const dn = f.assume('DN', Math.min(dcon, 0.4 * dc), 'two fifths of what it cuts, no more than the shank');
    const oal = f.assume('OAL', dc > 20 ? 71 : dc > 8 ? 60 : 50, 'DIN 850');
    return disc(f, { dc, cw, dcon, dn, oal, name: `Woodruff cutter ${tidy(dc)} x ${tidy(cw)}` });
  },
  'thread mill': (f) => {
    const td = f.get('TD');
    const coarse = td === undefined ? undefined : COARSE_PITCHES[td];
    const tp = coarse === undefined ? f.need('TP') : f.assume('TP', coarse, 'the coarse pitch of ISO 261');
    const dc = td === undefined ? f.need('DC') : f.assume('DC', 0.75 * td, 'three quarters of the thread');
    if (!tp || !dc) return undefined;
    if (td !== undefined) f.atMost('DC', td - 1.1 * tp, 'it has to turn within the hole before threading');
    const lcf = f.assume('LCF', td === undefined ? 2 * dc : 2 * td, 'two diameters');
    const dcon = f.assume('DCON', shankOver(dc), 'the next usual shank');
    const oal = f.assume('OAL', lcf + Math.max(36, 3 * dcon), 'room for the shank');
    f.atMost('LCF', oal - 1, 'or no shank is left');
    f.derive('LS', oal - lcf, 'OAL - LCF');
    const profile = stepped([
      [0, dcon],
      [oal - lcf, dcon],
      [oal - lcf, dc],
      [oal, dc],
    ]);
    const without = 'threads and flutes: it is as wide as its crests all the way round';
    return { profile, cutting: lcf, without, name: `Thread mill ${tidy(dc)} x ${tidy(tp)}` };
  },
  'T-slot cutter': (f) => {
    const [dc, cw] = [f.need('DC'), f.need('CW')];
    if (!dc || !cw) return undefined;
    const dn = f.assume('DN', 0.5 * dc, 'half of what it cuts');
    const dcon = f.assume('DCON', shankOver(dn), 'the next usual shank over its neck');
    const oal = f.assume('OAL', 2 * dc + cw + 36, 'two diameters behind the disc, and room for the shank');
    return disc(f, { dc, cw, dcon, dn, oal, name: `T-slot cutter ${tidy(dc)} x ${tidy(cw)}` });
  },
  'face mill': (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const row = rowFor(FACE_MILLS, dc);
    const kapr = f.assume('KAPR', 90, 'a shoulder mill');
    const bore = f.assume('DCONMS', row?.[1] ?? 60, 'the usual arbor, ISO 6462');
    const high = f.assume('LF', row?.[2] ?? 63, 'the usual height, ISO 6462');
    const ap = f.assume('APMX', 0.12 * dc > 10 ? 10 : Math.max(3, 0.12 * dc), 'what its inserts reach');
    const re = f.assume('RE', 0.8, 'a usual corner');
    const beside = kapr < 90 ? ap / Math.tan(radFromDeg(kapr)) : 0;
    const widest = f.derive('DCX', dc + 2 * beside, 'DC + 2 APMX / tan KAPR');
    const hub = f.assume('BDX', Math.min(0.92 * widest, Math.max(bore + 18, 0.75 * widest)), 'its body behind the inserts');
    f.atMost('APMX', high - 5, 'or no body is left');
    f.atMost('DCONMS', hub - 4, 'or no wall is left about its bore');
    if (kapr > 90) f.refuse('KAPR', kapr, 'a face mill has at most 90 degrees');
    // It begins above the shoulder behind the inserts, and ends outside the bore for the screw.
    const screw = Math.min(hub - 6, 1.6 * bore);
    const flank = radFromDeg(kapr);
    const halfTurn = Math.tan(flank / 2);
    f.atMost('RE', Math.min(ap / Math.sin(flank), (dc - screw) / 2) / halfTurn, 'or its round does not fit between its face and its flank');
    f.derive('OAL', high, 'LF');
    // From its seat on the arbor outwards; the bore goes through, and is wider in front for the screw.
    const deep = Math.min(high - ap - 1, Math.max(high * 0.45, 4));
    const outside = new Outside([0, bore / 2])
      .to(0, hub / 2)
      .to(high - ap - 1, hub / 2)
      .to(high - ap - 1, widest / 2)
      .to(high - ap, widest / 2);
    // DC is where flank and face would meet (the cutting reference point of ISO 13399-3); the round touches both, so far from there.
    const touch = re * halfTurn;
    outside.to(high - touch * Math.sin(flank), dc / 2 + touch * Math.cos(flank));
    if (re > 0) outside.round(high, dc / 2 - touch, [high - re, dc / 2 - touch]);
    const profile = outside
      .to(high, screw / 2)
      .to(high - deep, screw / 2)
      .to(high - deep, bore / 2)
      .close();
    return {
      profile,
      cutting: ap + 1,
      without: 'its inserts and pockets: it is as wide as it cuts all the way round; the key of its seat',
      name: `Face mill ${tidy(dc)} x ${tidy(kapr)}°${re > 0 ? ` R${tidy(re)}` : ''}`,
      mount: { standard: 'bolted face', size: bore },
      tip: { noseRadius: re, z: high, r: dc / 2 - touch + re },
    };
  },
  'boring head': (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const re = f.assume('RE', 0.4, 'a usual corner');
    const dn = f.assume('DN', 0.75 * dc, 'three quarters of what it cuts');
    const lu = f.assume('LU', 3 * dc, 'three diameters');
    const dcon = f.assume('DCON', shankOver(dn), 'the next usual shank over its bar');
    const oal = f.assume('OAL', lu + Math.max(40, 2.5 * dcon), 'room for the shank');
    f.atMost('DN', dc - 0.4, 'less than it cuts');
    f.atMost('LU', oal - 1, 'or no shank is left');
    f.derive('LS', oal - lu, 'OAL - LU');
    const cw = Math.max(2 * re + 0.5, 0.12 * dc);
    const outside = new Outside([0, 0])
      .to(0, dcon / 2)
      .to(oal - lu, dcon / 2)
      .to(oal - lu, dn / 2)
      .to(oal - cw, dn / 2)
      .to(oal - cw, dc / 2)
      .to(oal - re, dc / 2);
    if (re > 0) outside.round(oal, dc / 2 - re, [oal - re, dc / 2 - re]);
    return {
      profile: outside.to(oal, 0).close(),
      cutting: cw,
      without: 'its slide and insert: it is as wide as it cuts all the way round',
      name: `Boring head ${tidy(dc)}`,
      tip: { noseRadius: re, z: oal, r: dc / 2 },
    };
  },
};

const SHANKS = [3, 4, 6, 8, 10, 12, 14, 16, 18, 20, 25, 32, 40, 50];
// mm. The smallest usual shank that is no thinner.
const shankOver = (d: number): number => SHANKS.find((s) => s >= d - 1e-9) ?? d;

interface Disc {
  readonly dc: number;
  readonly cw: number;
  readonly dcon: number;
  readonly dn: number;
  readonly oal: number;
  readonly name: string;
}

/** A disc on a neck, as cutters for slots are. */
export function disc(f: Filling, { dc, cw, dcon, dn, oal, name }: Disc): Rotating {
  const lu = f.assume('LU', Math.min(cw + dc, oal - 1), 'one diameter behind the disc');
  f.atMost('DN', dc - 0.2, 'less than it cuts');
  f.atMost('CW', lu, 'within its usable length');
  f.atMost('LU', oal - 1, 'or no shank is left');
  f.derive('LCF', cw, 'the width of the disc');
  f.derive('LS', oal - lu, 'OAL - LU');
  f.derive('CDX', (dc - dn) / 2, 'how deep it gets: (DC - DN) / 2');
  const profile = stepped([
    [0, dcon],
    [oal - lu, dcon],
    [oal - lu, dn],
    [oal - cw, dn],
    [oal - cw, dc],
    [oal, dc],
  ]);
  return { profile, cutting: cw, without: 'teeth', name };
}
