// The facts of a marked tool by their ISO 13399 names, what a designation says of them, and mistakes that can be seen from the geometry.
import { cross, degFromRad, distance, dot, frameFromWorld, length, move, normalize, roundTo, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { type ComponentRecord, mountFrameOf, programmedPointOf, type Tip, virtualTipOf } from '#core/records';
import type { Designation } from '#core/standards';
import type { Corner } from './corner.ts';
import { cornersOf } from './corners.ts';
import { across, lookAtFaces, planesOf, reachAlong } from './face-table.ts';
import { type BoreAtDepth, computeMinimumBore, largestSwing } from './minimum-bore.ts';
import { plateOf } from './roles.ts';
import { groupRound } from './round-groups.ts';
import { describeCorner, usualPose } from './tips.ts';

/** One fact: its ISO 13399 name where there is one, what it says, and its value in mm or degrees. */
export interface Fact {
  readonly key: string;
  readonly name: string;
  readonly value: number | string;
  readonly kind: 'length' | 'angle' | 'word';
}

export interface ToolFacts {
  readonly facts: readonly Fact[];
  /** For bars that go into a bore: what the holder asks for against depth, and the cutting part by itself. */
  readonly minimumBore?: { readonly holder: readonly BoreAtDepth[]; readonly cutting: number };
}

type Marked = Pick<ComponentRecord, 'mount' | 'tips' | 'bodies' | 'componentKind'>;
const bodiesOf = (record: Pick<Marked, 'bodies'>, model: Model, roles: readonly string[]): BodyGeometry[] =>
  model.bodies.filter((b) => roles.includes(record.bodies.find((e) => e.id === b.id)?.role ?? 'tool body'));

/** The corner that a tip was marked on, of a body that is not left out; none for a typed one. */
export function cornerOfTip(record: Pick<Marked, 'bodies'>, model: Model, tip: Pick<Tip, 'noseCentre' | 'noseRadius'>): Corner | undefined {
  const near = bodiesOf(record, model, ['tool body', 'cutting', 'hardware'])
    .flatMap(cornersOf)
    .filter((c) => distance(c.centre, tip.noseCentre) < 0.05 && Math.abs(c.radius - tip.noseRadius) < 0.05);
  return near.sort((a, b) => distance(a.centre, tip.noseCentre) - distance(b.centre, tip.noseCentre))[0];
}

/** Everything that mount, tips and bodies tell. Lengths in mm in the mount's frame, angles in degrees. */
export function computeFacts(record: Marked, model: Model): ToolFacts {
  const mount = mountFrameOf(record);
  const facts: Fact[] = [];
  const add = (key: string, name: string, value: number | string | undefined, kind: Fact['kind'] = 'length') => {
    if (value !== undefined && value !== '') facts.push({ key, name, value: typeof value === 'number' ? roundTo(value, 4) : value, kind });
  };
  const used = bodiesOf(record, model, ['tool body', 'cutting', 'hardware']);
  const [tip] = record.tips;
  if (record.mount && tip) {
    const p = move(frameFromWorld(mount), programmedPointOf(tip, mount));
    add('LF', 'functional length', p[2]);
    add('WF', 'functional width', p[0]);
    add('HF', 'functional height', p[1]);
  }
  const corner = tip && cornerOfTip(record, model, tip);
  if (tip) add('RE', 'nose radius', tip.noseRadius);
  if (tip && corner && record.mount) {
    const seen = describeCorner(corner, mount, usualPose(record));
    add('KAPR', seen.isFacing ? 'entering angle, facing' : 'entering angle', seen.enteringAngle, 'angle');
    add('EPSR', 'included angle', seen.includedAngle, 'angle');
    if (Math.abs(seen.includedAngle - seen.includedAngleInPlane) > 0.02) add('', 'included angle as it cuts', seen.includedAngleInPlane, 'angle');
    add('', 'end cutting angle', 180 - seen.enteringAngle - seen.includedAngleInPlane, 'angle');
    add('', 'relief, main and side', seen.relief.map((r) => (r === undefined ? '–' : `${r.toFixed(1)}°`)).join(' / '), 'word');
    add('HAND', 'hand', seen.hand, 'word');
    add('', 'tip orientation, usual pose', seen.tipOrientation, 'word');
    if (seen.hand !== 'neutral') add('', 'spindle', seen.hand === 'right' ? 'M3 towards the chuck, M4 away' : 'M4 towards the chuck, M3 away', 'word');
    const insert = corner.body;
    const plate = bodiesOf(record, model, ['cutting']).includes(insert) ? plateOf(insert) : undefined;
    add('IC', 'inscribed circle', plate && inscribedCircleOf(corner));
    add('S', 'thickness', plate?.thickness);
  }
  if (record.mount && record.componentKind === 'cutter') {
    const cutting = bodiesOf(record, model, ['cutting']).map((b) => reachAlong(b, mount.z));
    if (cutting.length > 0 && cutting.length < used.length)
      add('LCF', 'length of the cutting part', Math.max(...cutting.map((s) => s[1])) - Math.min(...cutting.map((s) => s[0])));
  }
  if (record.mount) {
    const spans = used.map((b) => reachAlong(b, mount.z));
    if (spans.length > 0) add('OAL', 'overall length', Math.max(...spans.map((s) => s[1])) - Math.min(...spans.map((s) => s[0])));
    add('', 'largest swing', largestSwing(used, mount));
  }
  const isBar = record.mount?.connection.standard === 'cylindrical' && tip && corner;
  if (!isBar || !record.mount) return { facts };
  const at = virtualTipOf(tip, mount);
  const [, , tz] = move(frameFromWorld(mount), at);
  const upTo = Math.max(1, tz);
  const holder = computeMinimumBore(bodiesOf(record, model, ['tool body', 'hardware']), mount, at, { upTo });
  const cutting = computeMinimumBore(bodiesOf(record, model, ['cutting']), mount, at, { upTo, depths: 1 });
  return { facts, minimumBore: { holder, cutting: cutting[cutting.length - 1].diameter } };
}

// Twice the distance of the insert's middle from its two edges at the corner, where both agree.
function inscribedCircleOf(c: Corner): number | undefined {
  const apart = c.legs.map((leg) => {
    // The sharp corner: where the two edges meet.
    const half = (c.includedDeg * Math.PI) / 360;
    const sharp: Vec3 = [0, 1, 2].map((k) => c.centre[k] + (c.towards[k] * c.radius) / Math.sin(half)) as unknown as Vec3;
    return length(across(across(subtract(c.body.centroid, sharp), leg), c.rake));
  });
  if (c.includedDeg < 10 || Math.abs(apart[0] - apart[1]) > 0.05) return undefined;
  return apart[0] + apart[1];
}

export interface Difference {
  readonly name: string;
  readonly said: number | string;
  readonly read: number | string;
  readonly kind: Fact['kind'];
  readonly agrees: boolean;
}

/** What a designation says beside what the model shows; lengths agree within 0.1 mm (an insert's sizes within 0.05), angles within 1 degree. */
export function compareWithDesignation(d: Designation, facts: readonly Fact[], record: Marked): Difference[] {
  const valueOf = (key: string) => facts.find((f) => f.key === key)?.value;
  const out: Difference[] = [];
  const put = (name: string, said: number | string | undefined, read: number | string | undefined, kind: Fact['kind'], within: number) => {
    if (said === undefined || read === undefined) return;
    const agrees = typeof said === 'number' && typeof read === 'number' ? Math.abs(said - read) <= within : said === read;
    out.push({ name, said, read, kind, agrees });
  };
  put('nose radius', d.noseRadius, valueOf('RE'), 'length', 0.05);
  put('included angle', d.includedAngle, valueOf('EPSR'), 'angle', 0.5);
  put('entering angle', d.enteringAngle, valueOf('KAPR'), 'angle', 1);
  put('hand', d.hand, valueOf('HAND'), 'word', 0);
  put('inscribed circle', d.inscribedCircle, valueOf('IC'), 'length', 0.05);
  put('thickness', d.thickness, valueOf('S'), 'length', 0.05);
  put('tool length', d.toolLength, valueOf('LF'), 'length', 0.5);
  put('functional width', d.functionalWidth, valueOf('WF'), 'length', 0.3);
  const { connection } = record.mount ?? {};
  if (connection && d.shankHeight !== undefined)
    put(
      'shank',
      `${d.shankHeight}x${d.shankWidth}`,
      connection.standard === 'square' ? String(connection.size) : `${connection.standard} ${connection.size}`,
      'word',
      0,
    );
  if (connection && d.shankDiameter !== undefined) put('shank', d.shankDiameter, Number(connection.size), 'length', 0.03);
  return out;
}

export interface Mistake {
  readonly at: 'mount' | 'tip';
  readonly code: 'z-turned' | 'mount-off-face' | 'mount-off-axis' | 'tip-off-plane' | 'upside-down';
  readonly message: string;
  /** Where it can be seen, in the file's coordinates. */
  readonly place: Vec3;
}

const ROUND = ['cylindrical', 'VDI', 'HSK-A', 'PSC', 'BT', 'SK', '7/24', 'ER'];

/** Mistakes that the geometry shows: Z the wrong way, a mount beside its face or axis, a tip off the turning plane, an insert upside down. */
export function findMistakes(record: Marked & Pick<ComponentRecord, 'seats'>, model: Model, said?: Designation): Mistake[] {
  const { mount, tips, seats } = record;
  const out: Mistake[] = [];
  if (!mount) return out;
  const { frame } = mount;
  const inMount = frameFromWorld(frame);
  const tool = bodiesOf(record, model, ['tool body']);
  const work = tips.length > 0 ? tips.map((t) => t.noseCentre) : seats.map((s) => s.frame.origin);
  const behind = work.filter((p) => move(inMount, p)[2] < -0.01);
  if (work.length > 0 && behind.length === work.length)
    out.push({
      at: 'mount',
      code: 'z-turned',
      message: `Z of the mount points away from the work: ${tips.length > 0 ? 'the tip lies' : 'the seats lie'} behind it. Flip Z.`,
      place: frame.origin,
    });
  out.push(...offFace(frame, tool), ...(ROUND.includes(mount.connection.standard) ? offAxis(frame, tool) : []));
  for (const tip of tips) {
    const y = move(inMount, virtualTipOf(tip, frame))[1];
    // Of a lone insert the seat that it goes into says where the turning plane is.
    if (Math.abs(y) > 0.05 && record.componentKind !== 'insert')
      out.push({
        at: 'tip',
        code: 'tip-off-plane',
        message: `${tip.name} lies ${Math.abs(y).toFixed(3)} mm ${y > 0 ? 'above' : 'below'} the turning plane: a part of 40 mm comes out about ${roundTo(((y * y) / 40) * 2000, 1)} µm off in diameter.`,
        place: tip.noseCentre,
      });
    const corner = cornerOfTip(record, model, tip);
    const hand = corner && describeCorner(corner, frame, usualPose(record)).hand;
    if (hand && hand !== 'neutral') {
      if (tip.runs && hand !== handFor(tip.runs))
        out.push({
          at: 'tip',
          code: 'upside-down',
          message: `${tip.name} is to cut with ${tip.runs.sense}, fed ${tip.runs.feed}, and its rake face looks the other way: the insert lies upside down for that, or it is a ${hand}-hand tool that needs ${tip.runs.sense === 'M3' ? 'M4' : 'M3'}.`,
          place: tip.noseCentre,
        });
      if (said?.hand && said.hand !== 'neutral' && hand !== said.hand)
        out.push({
          at: 'tip',
          code: 'upside-down',
          message: `The rake face looks as on a ${hand}-hand tool, and ${said.code} is ${said.hand}-hand: the insert lies upside down, or X of the mount points the wrong way.`,
          place: tip.noseCentre,
        });
    }
  }
  return out;
}

/**
 * The hand of a tool that cuts with a sense of the spindle and a feed. With M3 the work turns from Z towards X into +Y of the turning plane
 * (a right-hand drill on the tailstock side cuts), so the rake face looks along -Y: a right-hand tool fed towards the chuck. The other sense
 * and the other feed each want the other hand.
 */
export const handFor = ({ sense, feed }: NonNullable<Tip['runs']>): 'right' | 'left' =>
  (sense === 'M3') === (feed === 'towards the chuck') ? 'right' : 'left';

// A mount lies on a face across its Z, or where the tool ends.
function offFace(frame: ReturnType<typeof mountFrameOf>, tool: readonly BodyGeometry[]): Mistake[] {
  if (tool.length === 0) return [];
  const z0 = dot(frame.origin, frame.z);
  const levels = [
    ...tool.flatMap((b) =>
      planesOf(lookAtFaces(b))
        .filter((f) => Math.abs(dot(f.outward, frame.z)) > 0.9999)
        .map((f) => dot(f.centre, frame.z)),
    ),
    ...tool.flatMap((b) => reachAlong(b, frame.z)),
    // The gauge plane of a taper is on no face: where its cone ends.
    ...tool.flatMap((b) =>
      b.edges.flatMap((e) => (e.curve.kind === 'circle' && Math.abs(dot(e.curve.axis, frame.z)) > 0.9999 ? [dot(e.curve.centre, frame.z)] : [])),
    ),
  ];
  const nearest = levels.reduce((a, b) => (Math.abs(b - z0) < Math.abs(a - z0) ? b : a), Infinity);
  const off = Math.abs(nearest - z0);
  if (!(off > 0.02)) return [];
  return [
    {
      at: 'mount',
      code: 'mount-off-face',
      message: Number.isFinite(off)
        ? `No face of the tool lies in the mount’s reference plane: the nearest one is ${off.toFixed(3)} mm away along Z.`
        : 'The tool has no face across the mount’s Z: its axis leans.',
      place: frame.origin,
    },
  ];
}

function offAxis(frame: ReturnType<typeof mountFrameOf>, tool: readonly BodyGeometry[]): Mistake[] {
  const groups = groupRound(tool.flatMap(lookAtFaces)).filter((g) => g.area > 20);
  const best = groups
    .map((g) => ({
      lean: degFromRad(Math.asin(Math.min(1, length(cross(g.direction, frame.z))))),
      aside: length(across(subtract(g.origin, frame.origin), normalize(g.direction))),
      area: g.area,
    }))
    // A degree askew weighs as much as a millimetre beside.
    .sort((a, b) => a.aside + a.lean - b.aside - b.lean)[0];
  if (!best) return [];
  const text = [best.aside > 0.02 ? `${best.aside.toFixed(3)} mm beside it` : '', best.lean > 0.02 ? `${best.lean.toFixed(3)}° askew` : '']
    .filter(Boolean)
    .join(' and ');
  return text
    ? [{ at: 'mount', code: 'mount-off-axis', message: `The axis of the shank and the mount’s Z are not one line: the mount is ${text}.`, place: frame.origin }]
    : [];
}
