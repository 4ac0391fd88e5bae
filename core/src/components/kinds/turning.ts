import { addScaled, cross, degFromRad, dot, type Frame, normalize, radFromDeg, scale, type Vec3 } from '#core/math';
import { counterClockwise, crossingOf, type FlatPoint, loopThrough, type PathPiece, type PlacedBody, type PlacedShape } from '#core/outline';
import { type Designation, HOLDER_STYLES, INSERT_SHAPES } from '#core/standards';
import type { Filling } from '../filling.ts';
import type { PlacedConnection, PlacedTip } from '../made-part.ts';
import { stepped } from '../turned.ts';
import { type InsertForm, insertForm } from './insert.ts';

/** A turning tool with its insert in place, in the coordinates of its mount: x towards the tip, y up, z out of the machine. */
export interface TurningForm {
  readonly shape: PlacedShape;
  readonly mount: PlacedConnection;
  readonly tip: PlacedTip;
  readonly without: string;
}

// Degrees that a flat insert is tilted by, to have clearance on both sides of its corner: rake and inclination of usual holders. The sharper the corner, the more of the
// rake's tilt goes against the clearance of the end cutting edge, and the more it leans along the main one: tan(lambda) sin(eps) > tan(gamma) cos(eps).
const USUAL_TILT: Readonly<Partial<Record<string, { readonly rake: number; readonly lean: number }>>> = {
  V: { rake: -4, lean: -13 },
  D: { rake: -6, lean: -7 },
  K: { rake: -6, lean: -7 },
};
const OTHER_TILT = { rake: -6, lean: -6 };
const FLAT = { rake: 0, lean: 0 };
// mm: how far the body stays behind the insert's edges, and how much thicker than usual an insert may be.
const BEHIND = 1.2;
const ABOVE = 60;
// Thickness of the usual insert of a holder by its inscribed circle, mm: holders' designations do not say it.
const USUAL_THICKNESS: Readonly<Record<number, number>> = { 6.35: 2.38, 9.525: 3.97, 12.7: 4.76, 15.875: 6.35, 19.05: 6.35, 25.4: 9.52 };

interface Edges {
  /** From the nose along the main edge, along the other one, and out of the material between them; in [x, z]. */
  readonly main: FlatPoint;
  readonly minor: FlatPoint;
  readonly towards: FlatPoint;
}

// Outside the tool feeds to the side (x), inside ahead (z): one is the other's mirror image about x = z.
function edgesOf(kapr: number, epsr: number, isInside: boolean): Edges {
  const at = (deg: number): FlatPoint => {
    const [c, s] = [Math.cos(radFromDeg(deg)), Math.sin(radFromDeg(deg))];
    return isInside ? [s, c] : [c, s];
  };
  return { main: at(-kapr), minor: at(-kapr - epsr), towards: at(180 - kapr - epsr / 2) };
}

/** An outside holder (ISO 5608) or a boring bar (ISO 6261), with the insert that its designation names. */
export function turningForm(f: Filling, code: Designation | undefined, hand: 'right' | 'left' | 'neutral', isInside: boolean): TurningForm | undefined {
  const style = code && HOLDER_STYLES[styleOf(code.code, isInside)];
  const shape = code?.insertShape ?? '';
  if (!shape) {
    f.unsaid('its designation (ISO 5608 or 6261), which names its insert');
    return undefined;
  }
  const ic = f.need('IC');
  f.assume('S', USUAL_THICKNESS[ic] ?? 0.38 * ic, 'the usual thickness for its inscribed circle');
  if (shape !== 'R') f.assume('RE', ic >= 9 ? 0.8 : 0.4, 'a usual corner');
  const form = insertForm(f, shape, code);
  const kapr = f.need('KAPR');
  if (!form || !kapr) return undefined;
  const an = form.nominal.clearance;
  const why = an === 0 ? 'usual for inserts without clearance' : 'usual for inserts with clearance';
  const usual = an === 0 ? (USUAL_TILT[shape] ?? OTHER_TILT) : FLAT;
  f.assume('GAMO', usual.rake, why);
  const inBore = isInside ? leanInBore(f, an) : 0;
  f.assume('LAMS', Math.min(usual.lean, inBore), inBore < usual.lean ? 'so far that its flank is clear of its least bore' : why);
  const epsr = INSERT_SHAPES[shape] ?? 90;
  if (180 - kapr - epsr < 0 && shape !== 'R') f.note('its end cutting edge would rub: entering and included angle are more than 180 degrees together');
  return seatedTool(f, form, { kapr, epsr, hand, isInside, isFacing: !isInside && style?.[1] === true });
}

/** How an insert stands in its tool. */
export interface Seating {
  readonly kapr: number;
  readonly epsr: number;
  readonly hand: 'right' | 'left' | 'neutral';
  readonly isInside: boolean;
  /** Feeds ahead though its shank is that of an outside tool. */
  readonly isFacing: boolean;
}

/** A tool with an insert at its entering angle, functional sizes, rake and inclination: a square shank outside, a round bar inside. */
export function seatedTool(f: Filling, form: InsertForm, { kapr, epsr, hand, isInside, isFacing }: Seating): TurningForm | undefined {
  const lf = f.need('LF');
  const wf = f.need('WF');
  const size = isInside ? f.need('DCON') : Math.min(f.need('H'), f.need('B'));
  if (!lf || !wf || !size) return undefined;
  const [gamma, lambda] = [f.get('GAMO') ?? 0, f.get('LAMS') ?? 0];
  const edges = edgesOf(kapr, epsr, isInside || isFacing);
  const re = f.get('RE') ?? 0;
  const ic = form.nominal.inscribedCircle;
  // Left hands are the mirror image: their top looks down.
  const up = hand === 'left' ? -1 : 1;
  const flat = ([x, z]: FlatPoint): Vec3 => [x, 0, z];
  const inward = flat(acrossInto(edges));
  const slope = addScaled(scale(inward, Math.tan(radFromDeg(-gamma))), flat(edges.main), Math.tan(radFromDeg(-lambda)));
  const normal = normalize(addScaled([0, up, 0], slope, -1));
  const corner = flat(edges.towards);
  // Seen along y the main edge stands at its entering angle, however the insert is tilted.
  const main = normalize(addScaled(flat(edges.main), [0, up, 0], -dot(flat(edges.main), normal) / (up * normal[1])));
  const turned = [1, -1].map((way) => turnAbout(main, normal, way * (180 - epsr / 2)));
  const along = dot(turned[0], corner) > dot(turned[1], corner) ? turned[0] : turned[1];
  // The nose reaches where the standard counts from, and what is highest or lowest of it is at the height of the tip.
  const reach = (axis: Vec3): number => re * Math.sqrt(Math.max(0, 1 - dot(normal, axis) ** 2));
  const side = (v: number): number => (Math.abs(v) > 0.17 ? Math.sign(v) : 0);
  const nose: Vec3 = [wf - reach([1, 0, 0]) * side(edges.towards[0]), -re * along[1], lf - reach([0, 0, 1]) * side(edges.towards[1])];
  // About the nose, as the insert is drawn about its middle.
  const [shift] = form.tips.map((t) => t.noseCentre);
  const place: Frame = { origin: addScaled(addScaled(nose, along, -shift[0]), cross(normal, along), -shift[1]), z: normal, x: along };
  const insert: PlacedBody = {
    name: 'Insert',
    role: 'cutting',
    place,
    solid: { kind: 'plate', loop: form.shape.loop, thickness: form.shape.thickness, reliefDeg: form.shape.reliefDeg, hole: form.shape.hole },
    cuts: [],
  };
  if (isInside) leastBore(f, size, wf);
  const pocket = { place, loop: pocketOf(form.nominal.edgeNormals, form.nominal.inscribedCircle), below: form.shape.thickness, above: ABOVE };
  const body = isInside
    ? barBody(f, { lf, wf, edges, up, ic: f.get('L') ?? ic, pocket })
    : holderBody(f, { lf, wf, edges, up, reach: f.get('L') ?? ic, pocket, isFacing });
  if (!body) return undefined;
  return {
    shape: { format: 'ruota-shape', version: 1, form: 'placed', bodies: [body, insert] },
    mount: {
      connection: isInside ? { standard: 'cylindrical', size } : { standard: 'square', size: `${f.get('H')}x${f.get('B')}` },
      frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] },
      evidence: isInside ? 'its shank, at the rear' : 'its back side, at the rear, as high as the tip',
    },
    tip: { noseRadius: re, noseCentre: nose, towards: along, rake: normal, evidence: 'the corner of its insert' },
    without: 'clamps, screws, the shim and coolant bores',
  };
}

/**
 * Degrees that an insert leans along its main edge so that its flank, S below the edge, is clear of a bore of DMIN: the wall comes round by r - sqrt(r2 - S2) there. Whole
 * degrees, a quarter of one to spare; 0 where its own clearance is enough or its numbers are not known.
 */
function leanInBore(f: Filling, clearance: number): number {
  const [s, wf, d] = [f.get('S'), f.get('WF'), f.get('DCON')];
  const r = (f.get('DMIN') ?? (wf !== undefined && d !== undefined ? wf + d / 2 : 0)) / 2;
  if (s === undefined || !(r > s)) return 0;
  const comesRound = Math.atan((r - Math.sqrt(r * r - s * s)) / s);
  return -Math.max(0, Math.ceil(degFromRad(comesRound) + 0.25 - clearance));
}

// A direction turned about another one that is square to it, degrees.
const turnAbout = (v: Vec3, axis: Vec3, deg: number): Vec3 =>
  normalize(addScaled(scale(v, Math.cos(radFromDeg(deg))), cross(axis, v), Math.sin(radFromDeg(deg))));

// The style's letter within a designation: the third of a holder, after the shank of a bar.
const styleOf = (code: string, isInside: boolean): string => (isInside ? code.replace(/^[A-Z]\d{2}[A-Z]-?/, '')[2] : code[2]) ?? '';

// Square to the main edge, into the insert.
function acrossInto({ main, towards }: Edges): FlatPoint {
  const n: FlatPoint = [-main[1], main[0]];
  return n[0] * towards[0] + n[1] * towards[1] < 0 ? n : [-n[0], -n[1]];
}

// What is cut free for the insert: all in front of those of its edges that look away from the corner that cuts. Convex.
function pocketOf(normalsDeg: readonly number[], ic: number): PathPiece[] {
  const far = 8 * ic;
  let polygon: FlatPoint[] = [
    [-far, -far],
    [far, -far],
    [far, far],
    [-far, far],
  ];
  const back = normalsDeg.length === 0 ? [130, 180, 230] : normalsDeg.map((d) => ((d % 360) + 360) % 360).filter((d) => Math.cos(radFromDeg(d)) < -0.05);
  for (const deg of back) {
    const n: FlatPoint = [Math.cos(radFromDeg(deg)), Math.sin(radFromDeg(deg))];
    polygon = clip(polygon, n, ic / 2);
  }
  return loopThrough(polygon);
}

// Of a convex polygon what lies within n p <= far.
function clip(polygon: readonly FlatPoint[], n: FlatPoint, far: number): FlatPoint[] {
  const off = (p: FlatPoint): number => p[0] * n[0] + p[1] * n[1] - far;
  return polygon.flatMap((p, i): FlatPoint[] => {
    const q = polygon[(i + 1) % polygon.length];
    const [a, b] = [off(p), off(q)];
    const cut: FlatPoint[] = a < 0 !== b < 0 ? [[p[0] + ((q[0] - p[0]) * a) / (a - b), p[1] + ((q[1] - p[1]) * a) / (a - b)]] : [];
    return a <= 0 ? [p, ...cut] : cut;
  });
}

type Pocket = PlacedBody['cuts'][number];

function holderBody(
  f: Filling,
  { lf, wf, edges, up, reach, pocket, isFacing }: { lf: number; wf: number; edges: Edges; up: number; reach: number; pocket: Pocket; isFacing: boolean },
): PlacedBody | undefined {
  const [h, b] = [f.need('H'), f.need('B')];
  f.derive('HF', h, 'the tip is as high as the shank');
  const lh = f.assume('LH', Math.max(2 * reach + 8, 0.25 * b + reach), 'room for the insert and its clamp');
  f.atMost('LH', lf - 10, 'or no shank is left');
  const sharp: FlatPoint = [wf, lf];
  // The edge that runs back along the tool, and the one across its front: the main one is the first outside, the other for facing.
  const [side, across] = isFacing ? [edges.minor, edges.main] : [edges.main, edges.minor];
  const at = (a: number, c: number): FlatPoint => [sharp[0] + a * side[0] + c * across[0], sharp[1] + a * side[1] + c * across[1]];
  // Across the front as far as the head is wide.
  const wide = Math.min(2.4 * reach, Math.abs(across[0]) > 0.1 ? (wf - 1) / Math.abs(across[0]) : reach);
  // An edge that leans into the shank ends where it meets its side.
  const long = side[0] < -0.05 ? Math.min(1.6 * reach, Math.max(BEHIND + 0.1, (wf - b) / -side[0])) : 1.6 * reach;
  const [near, beside, front] = [at(BEHIND, BEHIND), at(long, BEHIND), at(BEHIND, wide)];
  const back = lf - lh;
  const corners: FlatPoint[] = [
    [0, 0],
    [b, 0],
    [b, back],
  ];
  if (beside[1] > back) corners.push(beside);
  corners.push(near, front);
  if (front[0] > 0.5) corners.push([0, Math.max(back, front[1] - front[0])]);
  else corners[corners.length - 1] = [0, Math.max(back, crossingOf(near, front, [0, 0], [0, 1])?.at[1] ?? front[1])];
  // In the plane of the tool's own side, looked at along y: z of the place is y, so that [x, y] of the plate is [z, x].
  const loop = loopThrough(corners.map(([x, z]): FlatPoint => [z, x]));
  return {
    name: 'Holder',
    role: 'tool body',
    place: { origin: [0, up > 0 ? 0 : h, 0], z: [0, 1, 0], x: [0, 0, 1] },
    solid: { kind: 'plate', loop: counterClockwise(loop), thickness: h, reliefDeg: 0, hole: null },
    cuts: [pocket],
  };
}

/** The smallest bore that a round bar works in, its tip at WF: what is left of it on the other side. A larger one may be given. */
export function leastBore(f: Filling, size: number, wf: number): void {
  if (wf <= size / 2) return f.note('its edge does not stand out beyond its bar: it cannot bore');
  const least = wf + size / 2;
  const given = f.get('DMIN');
  if (given === undefined) f.derive('DMIN', least, 'WF + DCON / 2, of a round bar');
  else if (given < least - 0.015) f.conflict('DMIN', given, least, 'WF + DCON / 2');
}

interface BarFront {
  readonly lf: number;
  readonly wf: number;
  readonly edges: Edges;
  readonly up: number;
  readonly ic: number;
  readonly pocket: Pocket;
}

function barBody(f: Filling, front: BarFront): PlacedBody {
  const d = f.need('DCON');
  // The bar ends a little behind its insert.
  const end = front.lf - BEHIND;
  return {
    name: 'Bar',
    role: 'tool body',
    place: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] },
    solid: {
      kind: 'turned',
      profile: stepped([
        [0, d],
        [end, d],
      ]),
    },
    ...headOf(f, d, end, front),
  };
}

// mm: how far a head stays within the least bore; a lower one is none; and beside the bar what is cut free stops.
const [IN_BORE, LEAST_HEAD, BESIDE] = [0.25, 0.5, 0.2];

// Where an insert stands out of its bar, the bar grows under it: below the height of the tip, within the least bore, and behind the insert's end cutting edge.
function headOf(f: Filling, d: number, end: number, { lf, wf, edges, up, ic, pocket }: BarFront): Pick<PlacedBody, 'adds' | 'cuts'> {
  const bore = f.get('DMIN');
  if (bore === undefined || wf - IN_BORE <= d / 2 + LEAST_HEAD) return { cuts: [pocket] };
  const [middle, radius] = [wf - bore / 2, bore / 2 - IN_BORE];
  const long = f.assume('LH', Math.min(1.8 * ic, lf / 3), 'room for the insert');
  // Seen along the bar: half of the bore, on the side that the insert lies on. The plane is looked at along z, x to the right.
  const [right, left]: FlatPoint[] = [
    [middle + radius, 0],
    [middle - radius, 0],
  ];
  const half: PathPiece[] = [
    { kind: 'line', from: right, to: left },
    { kind: 'arc', from: left, to: right, centre: [middle, 0], ccw: up > 0 },
  ];
  // What lies in front of the end cutting edge, a little behind it, beyond the bar: in the plane of the tool, as [z, x].
  const { minor } = edges;
  const beside = (t: number): FlatPoint => [lf + t * minor[1], wf - BEHIND + t * minor[0]];
  const reach = minor[0] < -1e-3 ? Math.min(2 * long, (wf - BEHIND - d / 2 - BESIDE) / -minor[0]) : 2 * long;
  const [near, far] = [beside(-2 * BEHIND), beside(Math.max(0.5, reach))];
  // Further back no wider than there.
  const back = Math.min(far[0], end - long) - 1;
  const free = loopThrough([near, [near[0], wf + bore], [back, wf + bore], [back, far[1]], far]);
  return {
    adds: [{ place: { origin: [0, 0, end], z: [0, 0, 1], x: [1, 0, 0] }, loop: counterClockwise(half), below: long, above: 0 }],
    cuts: [{ place: { origin: [0, 0, 0], z: [0, 1, 0], x: [0, 0, 1] }, loop: counterClockwise(free), below: bore, above: bore }, pocket],
  };
}
