import { radFromDeg } from '#core/math';
import type { Filling } from '../filling.ts';
import { CENTRE_DRILLS, COARSE_PITCHES, COUNTERSINKS, DRILLS, END_MILLS, REAMERS, rowFor, TAPS } from '../tables.ts';
import { Outside, stepped } from '../turned.ts';
import { disc, MILLING } from './milling.ts';
import type { Rotating } from './rotating-form.ts';
import { FLUTES, tidy } from './say.ts';
import type { SpecKind } from '../spec-schema.ts';

/** How each kind of rotating tool is filled and drawn. */
export const ROTATING: Readonly<Partial<Record<SpecKind, (f: Filling) => Rotating | undefined>>> = {
  drill: (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const row = rowFor(DRILLS, dc);
    const oal = f.assume('OAL', row?.[1] ?? 12 * dc, row ? 'twist drills of usual length, ISO 235' : 'twelve diameters');
    const usual = row?.[2] ?? 7 * dc;
    const left = oal - 1.5 * dc;
    const why = usual > left ? 'what its overall length leaves' : row ? 'twist drills of usual length, ISO 235' : 'seven diameters';
    const lcf = f.assume('LCF', Math.max(0.01, Math.min(usual, left)), why);
    const dcon = f.assume('DCON', dc, 'a straight shank as wide as it cuts');
    const sig = f.assume('SIG', 118, 'usual for twist drills');
    const point = dc / 2 / Math.tan(radFromDeg(sig / 2));
    f.atMost('LCF', oal - 1, 'or no shank is left');
    f.derive('LS', oal - lcf, 'OAL - LCF');
    f.derive('LU', lcf - 1.5 * dc > 0 ? lcf - 1.5 * dc : lcf - point, 'LCF less one and a half diameters, for chips to get out');
    if (lcf <= point) f.refuse('LCF', lcf, `its point alone is ${tidy(point)} long`);
    const shankEnd = oal - lcf;
    const profile = stepped([
      [0, dcon],
      [shankEnd, dcon],
      [shankEnd, dc],
      [oal - point, dc],
      [oal, 0],
    ]);
    return { profile, cutting: lcf, without: FLUTES, name: `Drill ${tidy(dc)}` };
  },
  'centre drill': (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const row = rowFor(CENTRE_DRILLS, dc);
    const dcon = f.assume('DCON', row?.[1] ?? 2.5 * dc, row ? 'ISO 866, form A' : 'two and a half diameters');
    const oal = f.assume('OAL', row?.[2] ?? 10 * dc, row ? 'ISO 866, form A' : 'ten diameters');
    const pilot = row && Math.abs(row[0] - dc) < 1e-6 ? row[3] : 1.26 * dc;
    const tip = dc / 2 / Math.tan(radFromDeg(59));
    f.assume('SIG', 118, 'the pilot of ISO 866; its cone has 60 degrees');
    const cone = (dcon - dc) / 2 / Math.tan(radFromDeg(30));
    const lcf = f.derive('LCF', pilot + cone, 'pilot and cone of 60 degrees up to the body');
    f.derive('LS', oal - lcf, 'OAL - LCF');
    f.atMost('DC', dcon - 0.1, 'less than its body');
    if (pilot <= tip || oal <= lcf) f.refuse('OAL', oal, 'its pilot and cone do not fit in');
    const z = oal - pilot;
    const profile = stepped([
      [0, dcon],
      [z - cone, dcon],
      [z, dc],
      [oal - tip, dc],
      [oal, 0],
    ]);
    return { profile, cutting: lcf, without: `flutes, and its other end`, name: `Centre drill ${tidy(dc)}` };
  },
  countersink: (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const row = rowFor(COUNTERSINKS, dc);
    const dcon = f.assume('DCON', row?.[1] ?? dc / 2, row ? 'DIN 335, form C' : 'half of what it cuts');
    const oal = f.assume('OAL', row?.[2] ?? 3 * dc, row ? 'DIN 335, form C' : 'three diameters');
    const dcn = f.assume('DCN', row?.[3] ?? dc / 6, row ? 'DIN 335, form C' : 'a sixth of what it cuts');
    const sig = f.assume('SIG', 90, 'usual for countersinks');
    f.atMost('DCN', dc - 0.1, 'less than it cuts');
    const cone = (dc - dcn) / 2 / Math.tan(radFromDeg(sig / 2));
    const lcf = f.derive('LCF', cone, '(DC - DCN) / 2 / tan(SIG / 2)');
    const body = lcf + 0.25 * dc;
    if (oal <= body) f.refuse('OAL', oal, `its head alone is ${tidy(body)} long`);
    f.derive('LS', oal - body, 'OAL less the head');
    const profile = stepped([
      [0, dcon],
      [oal - body, dcon],
      [oal - body, dc],
      [oal - lcf, dc],
      [oal, dcn],
    ]);
    return { profile, cutting: lcf, without: FLUTES, name: `Countersink ${tidy(dc)} x ${tidy(sig)}°` };
  },
  reamer: (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const row = rowFor(REAMERS, dc);
    const oal = f.assume('OAL', row?.[1] ?? 10 * dc, row ? 'machine reamers, ISO 521' : 'ten diameters');
    const lcf = f.assume('LCF', row?.[2] ?? 3 * dc, row ? 'machine reamers, ISO 521' : 'three diameters');
    const dcon = f.assume('DCON', row?.[3] ?? 0.8 * dc, row ? 'machine reamers, DIN 212' : 'four fifths of what it cuts');
    f.atMost('LCF', oal - 1, 'or no shank is left');
    f.derive('LS', oal - lcf, 'OAL - LCF');
    const lead = Math.min(0.1 * dc, lcf / 2);
    const profile = stepped([
      [0, dcon],
      [oal - lcf, dcon],
      [oal - lcf, dc],
      [oal - lead, dc],
      [oal, dc - 2 * lead],
    ]);
    return { profile, cutting: lcf, without: FLUTES, name: `Reamer ${tidy(dc)}` };
  },
  tap: (f) => {
    const td = f.need('TD');
    if (!td) return undefined;
    const coarse = COARSE_PITCHES[td];
    const tp = coarse === undefined ? f.need('TP') : f.assume('TP', coarse, 'the coarse pitch of ISO 261');
    const row = rowFor(TAPS, td);
    const oal = f.assume('OAL', row?.[1] ?? 7 * td, row ? 'usual machine taps' : 'seven diameters');
    const lcf = f.assume('LCF', row?.[2] ?? 2 * td, row ? 'usual machine taps' : 'two diameters');
    const dcon = f.assume('DCON', row?.[3] ?? 0.7 * td, row ? 'usual machine taps' : 'seven tenths of the thread');
    f.atMost('LCF', oal - 1, 'or no shank is left');
    f.derive('DC', td, 'the thread that it cuts');
    if (td > 1.5 * tp) f.derive('PHD', td - tp, 'TD - TP, the usual hole for it');
    f.derive('LS', oal - lcf, 'OAL - LCF');
    const lead = Math.min(3 * tp, lcf / 2);
    const small = (td - 1.2 * tp) / 2;
    if (small <= 0) f.refuse('TP', tp, 'too coarse for its diameter');
    const profile = stepped([
      [0, dcon],
      [oal - lcf, dcon],
      [oal - lcf, td],
      [oal - lead, td],
      [oal, 2 * small],
    ]);
    return {
      profile,
      cutting: lcf,
      without: 'threads and flutes: it is as wide as its crests all the way round',
      name: `Tap M${tidy(td)}${tp === coarse ? '' : ` x ${tidy(tp)}`}`,
    };
  },
  'end mill': (f) => endMill(f, (dc) => Math.min(f.assume('RE', 0, 'sharp corners'), dc / 2)),
  'ball end mill': (f) => endMill(f, (dc) => f.derive('RE', dc / 2, 'DC / 2')),
  'chamfer mill': (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const row = rowFor(END_MILLS, dc);
    const dcon = f.assume('DCON', row?.[3] ?? dc, row ? 'usual solid mills' : 'as wide as it cuts');
    const oal = f.assume('OAL', row?.[1] ?? 5 * dc, row ? 'usual solid mills' : 'five diameters');
    const sig = f.assume('SIG', 90, 'usual for chamfers');
    const dcn = f.assume('DCN', 0, 'it comes to a point');
    f.atMost('DCN', dc - 0.1, 'less than it cuts');
    const lcf = f.derive('LCF', (dc - dcn) / 2 / Math.tan(radFromDeg(sig / 2)), '(DC - DCN) / 2 / tan(SIG / 2)');
    const land = Math.max(0, Math.min(dc / 2, oal - lcf - 1));
    if (oal <= lcf + 1) f.refuse('OAL', oal, `its cone alone is ${tidy(lcf)} long`);
    f.derive('LS', oal - lcf - (Math.abs(dc - dcon) > 1e-9 ? land : 0), 'OAL less the head');
    const head = oal - lcf - (Math.abs(dc - dcon) > 1e-9 ? land : 0);
    const profile = stepped([
      [0, dcon],
      [head, dcon],
      [head, dc],
      [oal - lcf, dc],
      [oal, dcn],
    ]);
    return { profile, cutting: lcf, without: FLUTES, name: `Chamfer mill ${tidy(dc)} x ${tidy(sig)}°` };
  },
  'slot cutter': (f) => {
    const [dc, cw] = [f.need('DC'), f.need('CW')];
    if (!dc || !cw) return undefined;
    const dcon = f.assume('DCON', dc >= 20 ? 16 : dc >= 12 ? 10 : 6, 'a usual shank for its size');
    const dn = f.assume('DN', Math.min(dcon, 0.5 * dc), 'half of what it cuts, no more than the shank');
    const oal = f.assume('OAL', 60 + cw, '60 behind the disc');
    return disc(f, { dc, cw, dcon, dn, oal, name: `Slot cutter ${tidy(dc)} x ${tidy(cw)}` });
  },
  'step drill': (f) => {
    const [dc, wide] = [f.need('DC'), f.need('DC2')];
    if (!dc || !wide) return undefined;
    const row = rowFor(DRILLS, wide);
    f.atMost('DC', wide - 0.1, 'less than its second diameter');
    const oal = f.assume('OAL', row?.[1] ?? 12 * wide, row ? 'as a twist drill of its second diameter, ISO 235' : 'twelve diameters');
    const lcf = f.assume('LCF', Math.min(row?.[2] ?? 7 * wide, oal - 1.5 * wide), row ? 'as a twist drill of its second diameter' : 'seven diameters');
    const sdl = f.assume('SDL', Math.min(2.5 * dc, 0.6 * lcf), 'two and a half diameters');
    const dcon = f.assume('DCON', wide, 'a straight shank as wide as it cuts');
    const sig = f.assume('SIG', 118, 'usual for twist drills');
    const step = f.assume('STA', 90, 'the usual countersink of its step');
    const point = dc / 2 / Math.tan(radFromDeg(sig / 2));
    const cone = (wide - dc) / 2 / Math.tan(radFromDeg(step / 2));
    f.atMost('LCF', oal - 1, 'or no shank is left');
    f.atMost('SDL', lcf - cone - 0.1, 'or no second diameter is left');
    if (sdl <= point) f.refuse('SDL', sdl, `its point alone is ${tidy(point)} long`);
    f.derive('LS', oal - lcf, 'OAL - LCF');
    const profile = stepped([
      [0, dcon],
      [oal - lcf, dcon],
      [oal - lcf, wide],
      [oal - sdl - cone, wide],
      [oal - sdl, dc],
      [oal - point, dc],
      [oal, 0],
    ]);
    return { profile, cutting: lcf, without: FLUTES, name: `Step drill ${tidy(dc)} / ${tidy(wide)}` };
  },
  'spot drill': (f) => {
    const dc = f.need('DC');
    if (!dc) return undefined;
    const row = rowFor(END_MILLS, dc);
    const oal = f.assume('OAL', row?.[1] ?? 6 * dc, row ? 'as solid mills of its diameter' : 'six diameters');
    const sig = f.assume('SIG', 90, 'usual for spot drills');
    const point = dc / 2 / Math.tan(radFromDeg(sig / 2));
    const lcf = f.assume('LCF', Math.max(2 * dc, point + 0.5), 'two diameters');
    const dcon = f.assume('DCON', dc, 'a straight shank as wide as it cuts');
    f.atMost('LCF', oal - 1, 'or no shank is left');
    if (lcf <= point) f.refuse('LCF', lcf, `its point alone is ${tidy(point)} long`);
    f.derive('LS', oal - lcf, 'OAL - LCF');
    const profile = stepped([
      [0, dcon],
      [oal - lcf, dcon],
      [oal - lcf, dc],
      [oal - point, dc],
      [oal, 0],
    ]);
    return { profile, cutting: lcf, without: FLUTES, name: `Spot drill ${tidy(dc)} x ${tidy(sig)}°` };
  },
  ...MILLING,
};

function endMill(f: Filling, radius: (dc: number) => number): Rotating | undefined {
  const dc = f.need('DC');
  if (!dc) return undefined;
  const row = rowFor(END_MILLS, dc);
  const why = row ? 'solid end mills of usual length' : 'in diameters';
  const oal = f.assume('OAL', row?.[1] ?? 4.5 * dc, why);
  const lcf = f.assume('LCF', row?.[2] ?? 1.8 * dc, why);
  const dcon = f.assume('DCON', row?.[3] ?? dc, why);
  const re = radius(dc);
  f.atMost('RE', dc / 2, 'half of what it cuts');
  f.atMost('LCF', oal - 1, 'or no shank is left');
  if (lcf < re) f.refuse('LCF', lcf, `its corners alone are ${tidy(re)} long`);
  const lu = f.get('LU');
  const dn = lu === undefined ? undefined : f.assume('DN', 0.95 * dc, 'a little less than it cuts');
  if (lu !== undefined) {
    f.atMost('LCF', lu, 'within its usable length');
    f.atMost('LU', oal - 1, 'or no shank is left');
    f.atMost('DN', dc, 'no more than it cuts');
  }
  const reach = lu ?? lcf;
  f.derive('LS', oal - reach, lu === undefined ? 'OAL - LCF' : 'OAL - LU');
  const outside = new Outside([0, 0]).to(0, dcon / 2).to(oal - reach, dcon / 2);
  if (dn !== undefined && lcf < reach) outside.to(oal - reach, dn / 2).to(oal - lcf, dn / 2);
  outside.to(oal - lcf, dc / 2).to(oal - re, dc / 2);
  if (re > 0) outside.round(oal, dc / 2 - re, [oal - re, dc / 2 - re]);
  const isBall = Math.abs(re - dc / 2) < 1e-9;
  return {
    profile: outside.to(oal, 0).close(),
    cutting: lcf,
    without: FLUTES,
    name: `${isBall ? 'Ball end mill' : 'End mill'} ${tidy(dc)}${re > 0 && !isBall ? ` R${tidy(re)}` : ''}`,
  };
}
