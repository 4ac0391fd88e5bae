import { IDENTITY_FRAME, type Vec3 } from '#core/math';
import { counterClockwise, type FlatPoint, type FlatShape, loopThrough, type PathPiece, type PlacedBody, type PlacedShape } from '#core/outline';
import type { Filling } from '../filling.ts';
import type { ComponentSpec } from '../spec-schema.ts';
import type { PlacedConnection, PlacedTip } from '../made-part.ts';
import { stepped } from '../turned.ts';
import { clampedMount } from './insert.ts';
import { roundedLoop } from './plate-loop.ts';
import { tidy } from './say.ts';
import { leastBore, type TurningForm } from './turning.ts';

type Hand = ComponentSpec['hand'];
// mm. What is cut away above an insert, and how far a blade stays behind its edge.
const ABOVE = 60;
const BEHIND = 0.4;

/** The edge of a grooving insert seen from above: its front at x 0, its length along -x. */
interface Groove {
  readonly loop: readonly PathPiece[];
  readonly width: number;
  readonly length: number;
  readonly radius: number;
  readonly thickness: number;
}

function grooveOf(f: Filling): Groove | undefined {
  const width = f.need('CW');
  if (!width) return undefined;
  const radius = f.assume('RE', Math.min(0.2, width / 4), 'a usual corner');
  f.atMost('RE', width / 2, 'half of its width: a full radius');
  const thickness = f.assume('S', 4.5, 'usual for grooving inserts');
  const length = f.assume('INSL', Math.max(20, (f.get('CDX') ?? 0) + 6), 'usual for grooving inserts');
  const r = Math.min(radius, width / 2);
  const [x, y] = [-length, width / 2];
  const loop = roundedLoop(
    [
      [x, -y],
      [0, -y],
      [0, y],
      [x, y],
    ],
    [0, r, r, 0],
  );
  return { loop, width, length, radius: r, thickness };
}

/** A grooving insert by its width: a bar with a straight or round edge, cutting at both corners. */
export function groovingInsert(
  f: Filling,
): { readonly shape: FlatShape; readonly mount: PlacedConnection; readonly tips: readonly PlacedTip[]; readonly name: string } | undefined {
  const g = grooveOf(f);
  if (!g) return undefined;
  const isFull = g.radius >= g.width / 2 - 1e-9;
  return {
    shape: { format: 'ruota-shape', version: 1, form: 'flat', name: 'Insert', loop: [...g.loop], thickness: g.thickness, reliefDeg: 0, hole: null },
    mount: clampedMount([-g.length, 0, -g.thickness], 'the face that it lies on, at its rear stop'),
    tips: cornersOf(g, [1, 0, 0], [0, 1, 0], [0, 0, 1], [0, 0, 0]),
    name: `Grooving insert ${tidy(g.width)}${isFull ? ' full radius' : g.radius > 0 ? ` R${tidy(g.radius)}` : ''}`,
  };
}

// Both corners, or the one round edge; `ahead` out of the edge, `along` it.
function cornersOf(g: Groove, ahead: Vec3, along: Vec3, rake: Vec3, front: Vec3): PlacedTip[] {
  const at = (a: number, b: number): Vec3 => [0, 1, 2].map((k) => front[k] + a * ahead[k] + b * along[k]) as unknown as Vec3;
  const off = g.width / 2 - g.radius;
  const sides = off > 1e-9 ? [1, -1] : [0];
  return sides.map((side) => ({
    noseRadius: g.radius,
    noseCentre: at(-g.radius, side * off),
    towards: side === 0 ? ahead : ([0, 1, 2].map((k) => (ahead[k] + side * along[k]) / Math.SQRT2) as unknown as Vec3),
    rake,
    evidence: side === 0 ? 'its round edge' : 'a corner of its edge',
  }));
}

const insertBody = (g: Groove, place: PlacedBody['place']): PlacedBody => ({
  name: 'Insert',
  role: 'cutting',
  place,
  solid: { kind: 'plate', loop: [...g.loop], thickness: g.thickness, reliefDeg: 0, hole: null },
  cuts: [],
});

// The seat of an insert: as long as it is, a little wider, open to the front and above.
const seatCut = (g: Groove, place: PlacedBody['place']): PlacedBody['cuts'][number] => ({
  place,
  loop: loopThrough([
    [-g.length, -g.width / 2],
    [BEHIND + 1, -g.width / 2],
    [BEHIND + 1, g.width / 2],
    [-g.length, g.width / 2],
  ]),
  below: g.thickness,
  above: ABOVE,
});

const shapeOf = (...bodies: PlacedBody[]): PlacedShape => ({ format: 'ruota-shape', version: 1, form: 'placed', bodies });
const WITHOUT = 'clamps, screws, coolant bores, and the clearance of its insert';
// mm. A blade is thinner than its insert by this on each side.
const beside = (width: number): number => Math.min(0.25, 0.1 * width);

// A plate from above, y of the tool along its normal; corners in [z, x].
function plateBody(name: string, corners: readonly FlatPoint[], top: number, thickness: number, cuts: PlacedBody['cuts']): PlacedBody {
  const loop = loopThrough([...corners]);
  return {
    name,
    role: 'tool body',
    place: { origin: [0, top, 0], z: [0, 1, 0], x: [0, 0, 1] },
    solid: { kind: 'plate', loop: counterClockwise(loop), thickness, reliefDeg: 0, hole: null },
    cuts,
  };
}

type Grooving = Omit<TurningForm, 'tip'> & { readonly tips: readonly PlacedTip[]; readonly name: string };

/** A holder for grooves from outside, its edge in front: a square shank with a blade as deep as it cuts. */
export function groovingHolder(f: Filling, hand: Hand): Grooving | undefined {
  const h = f.assume('H', 25, 'a usual shank');
  const b = f.assume('B', h, 'a square shank');
  const width = f.need('CW');
  const deep = f.assume('CDX', Math.max(6, 4 * width), 'four times its width');
  const g = grooveOf(f);
  const lf = f.assume('LF', 5 * Math.max(h, 20) + 25, 'a usual length');
  const wf = f.assume('WF', b, 'its outer corner in line with the shank');
  if (!g || f.conflicts.length > 0) return undefined;
  f.derive('HF', h, 'the tip is as high as the shank');
  f.assume('KAPR', 90, 'its edge is square to its feed');
  f.atMost('CDX', lf - 20, 'or no shank is left');
  f.atMost('S', h - 3, 'or nothing carries its insert');
  const up = hand === 'left' ? -1 : 1;
  const [inner, outer] = [wf - g.width + beside(g.width), wf - beside(g.width)];
  const back = lf - deep - 0.5;
  const corners: FlatPoint[] = [
    [0, 0],
    [back, 0],
  ];
  if (Math.abs(inner) > 1e-6) corners.push([back, inner]);
  corners.push([lf - BEHIND, inner], [lf - BEHIND, outer], [back, outer]);
  if (Math.abs(outer - b) > 1e-6) corners.push([back, b]);
  corners.push([0, b]);
  const front: Vec3 = [wf - g.width / 2, 0, lf];
  const place = { origin: front, z: [0, up, 0] as const, x: [0, 0, 1] as const };
  return {
    shape: shapeOf(plateBody('Holder', corners, up > 0 ? 0 : h, h, [seatCut(g, place)]), insertBody(g, place)),
    mount: { connection: { standard: 'square', size: `${h}x${b}` }, frame: IDENTITY_FRAME, evidence: 'its back side, at the rear, as high as the tip' },
    tips: cornersOf(g, [0, 0, 1], [1, 0, 0], [0, up, 0], front),
    without: WITHOUT,
    name: `Grooving holder ${tidy(h)} x ${tidy(b)}, ${tidy(g.width)} wide`,
  };
}

/** A bar for grooves in bores: its edge stands out at the side. */
export function groovingBar(f: Filling, hand: Hand): Grooving | undefined {
  const d = f.need('DCON');
  const width = f.need('CW');
  if (!d || !width) return undefined;
  const deep = f.assume('CDX', Math.max(1.5, Math.min(1.5 * width, 0.3 * d)), 'one and a half times its width, at most three tenths of the bar');
  f.assume('INSL', deep + 0.5 * d, 'to the middle of its bar');
  f.assume('S', Math.min(4, 0.3 * d), 'three tenths of its bar at most');
  const g = grooveOf(f);
  const lf = f.assume('LF', 9 * d, 'nine diameters');
  const wf = f.derive('WF', d / 2 + deep, 'DCON / 2 + CDX');
  if (!g || f.conflicts.length > 0) return undefined;
  f.assume('KAPR', 90, 'its edge is square to its feed');
  leastBore(f, d, wf);
  f.atMost('CW', lf / 3, 'within its length');
  f.atMost('S', 0.45 * d, 'or nothing carries its insert');
  const up = hand === 'left' ? -1 : 1;
  const front: Vec3 = [wf, 0, lf - g.width / 2];
  const place = { origin: front, z: [0, up, 0] as const, x: [1, 0, 0] as const };
  const bar: PlacedBody = {
    name: 'Bar',
    role: 'tool body',
    place: IDENTITY_FRAME,
    solid: {
      kind: 'turned',
      profile: stepped([
        [0, d],
        [lf - beside(g.width), d],
      ]),
    },
    cuts: [seatCut(g, place)],
  };
  return {
    shape: shapeOf(bar, insertBody(g, place)),
    mount: { connection: { standard: 'cylindrical', size: d }, frame: IDENTITY_FRAME, evidence: 'its shank, at the rear' },
    tips: cornersOf(g, [1, 0, 0], [0, 0, 1], [0, up, 0], front),
    without: WITHOUT,
    name: `Grooving bar ${tidy(d)}, ${tidy(g.width)} wide`,
  };
}

// Height of the edge over the lower side of a blade by its height, and its usual length, mm.
const BLADES: Readonly<Record<number, readonly [number, number]>> = { 26: [21.4, 110], 32: [25, 150] };

/** A blade for parting off, thinner than its insert over its whole length. */
export function partingBlade(f: Filling): Grooving | undefined {
  const h = f.assume('H', 26, 'a usual blade');
  const width = f.need('CW');
  if (!width) return undefined;
  const g = grooveOf(f);
  const hf = f.assume('HF', BLADES[h]?.[0] ?? 0.8 * h, 'usual for its height');
  const lf = f.assume('LF', BLADES[h]?.[1] ?? 5 * h, 'usual for its height');
  const thin = width - 2 * beside(width);
  f.derive('B', thin, 'CW less what its insert is wider on both sides');
  f.assume('CDX', lf / 3, 'a third of its length');
  f.derive('WF', width / 2, 'CW / 2: from the middle of the blade');
  if (!g || f.conflicts.length > 0) return undefined;
  f.atMost('HF', h, 'no higher than its blade');
  f.atMost('S', hf - 3, 'or nothing carries its insert');
  f.assume('KAPR', 90, 'its edge is square to its feed');
  const front: Vec3 = [0, 0, lf];
  const place = { origin: front, z: [0, 1, 0] as const, x: [0, 0, 1] as const };
  const corners: FlatPoint[] = [
    [0, -thin / 2],
    [lf - BEHIND, -thin / 2],
    [lf - BEHIND, thin / 2],
    [0, thin / 2],
  ];
  const mount: PlacedConnection = {
    connection: { standard: 'square', size: `${tidy(h)}x${tidy(thin)}` },
    frame: IDENTITY_FRAME,
    evidence: 'its middle, at the rear, as high as the tip',
  };
  return {
    shape: shapeOf(plateBody('Blade', corners, h - hf, h, [seatCut(g, place)]), insertBody(g, place)),
    mount,
    tips: cornersOf(g, [0, 0, 1], [1, 0, 0], [0, 1, 0], front),
    without: WITHOUT,
    name: `Parting blade ${tidy(h)}, ${tidy(width)} wide`,
  };
}
