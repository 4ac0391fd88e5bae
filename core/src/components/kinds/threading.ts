import { radFromDeg } from '#core/math';
import type { FlatPoint } from '#core/outline';
import type { NominalInsert } from '#core/standards';
import type { Filling } from '../filling.ts';
import type { ComponentSpec } from '../spec-schema.ts';
import { clampedMount, type InsertForm } from './insert.ts';
import { roundedLoop } from './plate-loop.ts';
import { tidy } from './say.ts';
import { seatedTool, type TurningForm } from './turning.ts';

type Hand = ComponentSpec['hand'];

// Inscribed circle and thickness of laid-down threading inserts by the length of their edge in whole millimetres.
const SIZES: Readonly<Record<number, readonly [ic: number, s: number]>> = {
  6: [3.97, 2.3],
  8: [4.76, 2.5],
  11: [6.35, 3.05],
  16: [9.525, 3.52],
  22: [12.7, 4.71],
  27: [15.875, 6.25],
};

/** What a threading insert of three corners is; its profile stands at the corner along x. Names give its size by the edge (16). */
export function threadingInsert(f: Filling, isInside: boolean): (InsertForm & { readonly name: string }) | undefined {
  const edge = f.get('L');
  const row = edge === undefined ? undefined : SIZES[Math.round(edge)];
  if (edge !== undefined && !row) f.refuse('L', edge, `one of ${Object.keys(SIZES).join(', ')}`);
  const ic = row ? f.derive('IC', row[0], 'the inscribed circle of its edge length') : f.assume('IC', 9.525, 'a usual size (16)');
  const s = f.assume('S', row?.[1] ?? 0.37 * ic, 'usual for its size');
  const eps = f.assume('EPSR', 60, 'a metric or unified thread, ISO 68');
  if (eps > 60 + 1e-6) f.refuse('EPSR', eps, 'at most 60 degrees: a triangle has no more');
  const tp = f.assume('TP', 1.5, 'a usual pitch');
  const re = f.assume(
    'RE',
    eps > 57 ? (isInside ? 0.0722 : 0.1443) * tp : 0.1373 * tp,
    eps > 57 ? (isInside ? 'H / 12, the crest of an inner thread, ISO 68' : 'H / 6, the root of an outer thread, ISO 68') : '0.1373 P, ISO 228',
  );
  if (f.conflicts.length > 0) return undefined;
  const half = radFromDeg(eps / 2);
  // How far the profile reaches behind its point: a little more than the thread is deep.
  const deep = Math.min(1.1 * tp, 0.35 * ic);
  const tip = ic;
  const back = 1 / Math.tan(radFromDeg(30));
  const edgeAt = (x: number): number => (tip - x) / back;
  const corner = (x: number): number => (tip - x) * Math.tan(half);
  const x = tip - deep;
  const far: FlatPoint[] = [
    [-ic / 2, edgeAt(-ic / 2)],
    [-ic / 2, -edgeAt(-ic / 2)],
  ];
  // As narrow as a triangle's own corner it needs no step.
  const points: FlatPoint[] = eps > 59.99 ? [[tip, 0], ...far] : [[tip, 0], [x, corner(x)], [x, edgeAt(x)], ...far, [x, -edgeAt(x)], [x, -corner(x)]];
  const loop = roundedLoop(
    points,
    points.map((_, i) => (i === 0 ? re : 0)),
  );
  const nominal: NominalInsert = {
    code: 'threading',
    inscribedCircle: ic,
    thickness: s,
    noseRadius: re,
    clearance: 0,
    edgeNormals: [60, 180, 300],
    rounded: [true, false, false],
  };
  return {
    shape: { format: 'ruota-shape', version: 1, form: 'flat', name: 'Insert', loop, thickness: s, reliefDeg: 0, hole: null },
    nominal,
    tips: [{ noseRadius: re, noseCentre: [tip - re / Math.sin(half), 0, 0], towards: [1, 0, 0], rake: [0, 0, 1], evidence: 'the point of its profile' }],
    mount: clampedMount([0, 0, -s], 'the middle of the face that it lies on'),
    without: 'its other two profiles, its hole, and its clearance',
    name: `Threading insert ${isInside ? 'inside' : 'outside'} ${tidy(tp)} x ${tidy(eps)}°`,
  };
}

/** A holder or bar with a threading insert whose point stands square to the thread's axis. */
export function threadingTool(f: Filling, hand: Hand, isInside: boolean): (TurningForm & { readonly name: string }) | undefined {
  const form = threadingInsert(f, isInside);
  const eps = f.get('EPSR') ?? 60;
  if (isInside) {
    const d = f.need('DCON');
    if (!d) return undefined;
    f.assume('LF', 9 * d, 'nine diameters');
    f.assume('WF', d / 2 + Math.max(1.5, 0.15 * d), 'its point a little beyond the bar');
  } else {
    const h = f.assume('H', 25, 'a usual shank');
    f.assume('B', h, 'a square shank');
    f.assume('LF', 5 * Math.max(h, 20) + 25, 'a usual length');
    f.assume('WF', (f.get('B') ?? h) + 0.28 * h, 'as ISO 5608 has it for its shank');
  }
  if (!form || f.conflicts.length > 0) return undefined;
  f.assume('GAMO', 0, 'threading inserts lie flat');
  f.assume('LAMS', 0, 'without a shim that leans it into the helix');
  const kapr = f.derive('KAPR', 90 - eps / 2, 'its point square to the feed: 90 - EPSR / 2');
  const seated = seatedTool(f, form, { kapr, epsr: eps, hand, isInside, isFacing: false });
  return (
    seated && {
      ...seated,
      name: isInside ? `Threading bar ${tidy(f.get('DCON') ?? 0)}` : `Threading holder ${tidy(f.get('H') ?? 0)} x ${tidy(f.get('B') ?? 0)}`,
    }
  );
}
