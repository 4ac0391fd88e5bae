// Bodies brought to another place within their component, as steps that the file is opened with.
import { locate, type LocatingPair } from '#core/assembly';
import { addScaled, axisAngleOf, degFromRad, distance, dot, type Frame, length, move, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { type Corner, cornerOfTip, cornersOf, leadingLeg, usualPose } from '#core/reading';
import { type BodyMove, type ComponentRecord, mountFrameOf, type PoseStep, type Tip, withMoves } from '#core/records';
import { middleFromNose, type NominalInsert } from '#core/standards';
import { newId } from '../../../common/new-id.ts';
import { reworkComponent } from '../../../store/library-actions.ts';

/** The corner that the first tip is on, if that is one of the model. */
export const firstCorner = (record: Pick<ComponentRecord, 'tips' | 'bodies'>, model: Model): Corner | undefined =>
  record.tips.map((t) => cornerOfTip(record, model, t)).find((c) => c !== undefined);

const bodiesOfTips = (record: ComponentRecord, model: Model): Record<string, string | undefined> =>
  Object.fromEntries(record.tips.map((t) => [t.id, cornerOfTip(record, model, t)?.body.id]));

/** Changes the list of moves; tips that are on a moved body go with it. */
export function changeMoves(record: ComponentRecord, model: Model, label: string, change: (moves: readonly BodyMove[]) => BodyMove[]): Promise<boolean> {
  const onBody = bodiesOfTips(record, model);
  return reworkComponent(record.id, label, (r) => withMoves(r, change(r.moves), onBody));
}

const stepOf = <S extends object>(body: string, step: S): BodyMove => ({ id: newId(), body, step: { id: newId(), ...step } as unknown as PoseStep });

/** Brings a body to where pairs of picks say. */
export function bringTogether(record: ComponentRecord, model: Model, body: string, pairs: readonly LocatingPair[]): Promise<boolean> {
  const { motion } = locate(pairs);
  const { axis, angleRad } = axisAngleOf(motion);
  const about = model.bodies.find((b) => b.id === body)?.centroid ?? ([0, 0, 0] as Vec3);
  const by = move(motion, about).map((v, k) => v - about[k]) as unknown as Vec3;
  const pairCount = pairs.length === 1 ? 'one pair' : `${pairs.length} pairs`;
  const steps: BodyMove[] = [];
  if (angleRad > 1e-9) steps.push(stepOf(body, { kind: 'rotate', point: about, axis, angleDeg: degFromRad(angleRad), note: `turned by ${pairCount}` }));
  if (length(by) > 1e-9) steps.push(stepOf(body, { kind: 'move', by, note: `shifted by ${pairCount}` }));
  if (steps.length === 0) return Promise.resolve(true);
  return changeMoves(record, model, 'Brought a body into place', (moves) => [...moves, ...steps]);
}

/** Typed amounts, in mm and degrees: up out of the rake face, about its normal, and about the leading edge. */
export interface InsertNudge {
  readonly raise: number;
  readonly turnDeg: number;
  readonly tiltDeg: number;
}

/** Moves the insert of the first tip by typed amounts, as one step of the history: tilted and turned about its nose centre, then raised. */
export function nudgeInsert(record: ComponentRecord, model: Model, corner: Corner, { raise, turnDeg, tiltDeg }: InsertNudge): Promise<boolean> {
  const body = corner.body.id;
  const shank = usualPose(record);
  const edge = corner.legs[leadingLeg(corner, mountFrameOf(record), shank)];
  const steps: BodyMove[] = [];
  if (tiltDeg !== 0)
    steps.push(stepOf(body, { kind: 'rotate', point: corner.centre, axis: normalize(edge), angleDeg: tiltDeg, note: 'tilted about the leading edge' }));
  if (turnDeg !== 0) steps.push(stepOf(body, { kind: 'rotate', point: corner.centre, axis: corner.rake, angleDeg: turnDeg, note: 'turned in its plane' }));
  if (raise !== 0) steps.push(stepOf(body, { kind: 'move', by: scale(corner.rake, raise), note: raise > 0 ? 'raised' : 'lowered' }));
  return changeMoves(record, model, 'Moved the insert', (moves) => [...moves, ...steps]);
}

/** Another amount for a step: degrees for a turn, mm along its way for a shift; nothing takes the step away. */
export function editMove(record: ComponentRecord, model: Model, id: string, amount: number): Promise<boolean> {
  const edited = (step: PoseStep): PoseStep => {
    if (step.kind === 'rotate') return { ...step, angleDeg: amount };
    return step.kind === 'move' ? { ...step, by: scale(normalize(step.by), amount) } : step;
  };
  if (amount === 0) return removeMove(record, model, id);
  return changeMoves(record, model, 'Edited a move', (moves) => moves.map((m) => (m.id === id ? { ...m, step: edited(m.step) } : m)));
}

export const removeMove = (record: ComponentRecord, model: Model, id: string): Promise<boolean> =>
  changeMoves(record, model, 'Removed a move', (moves) => moves.filter((m) => m.id !== id));

/**
 * Puts a nominal insert where the vendor's insert is: the middles and the rake faces coincide, so that the pocket holds it. The vendor's is
 * left out, and the tip takes the nominal nose.
 */
export function replaceInsert(record: ComponentRecord, corner: Corner, insert: NominalInsert): Promise<boolean> {
  // A plate's centroid is on the line through its middle.
  const aside = subtract(corner.body.centroid, corner.centre);
  const middle = addScaled(corner.body.centroid, corner.rake, -dot(aside, corner.rake));
  const origin = addScaled(middle, corner.towards, middleFromNose(insert));
  const frame: Frame = { origin, z: corner.rake, x: corner.towards };
  const tipIds = record.tips.filter((t) => distance(t.noseCentre, corner.centre) < 0.05).map((t) => t.id);
  return reworkComponent(record.id, `Nominal insert ${insert.code}`, (r) => ({
    ...r,
    inserts: [...r.inserts, { id: newId(), designation: insert.code, frame, replaces: corner.body.id }],
    bodies: r.bodies.map((b) => (b.id === corner.body.id ? { ...b, role: 'left out' as const, hidden: true } : b)),
    tips: r.tips.map((t) =>
      tipIds.includes(t.id) ? { ...t, noseRadius: insert.noseRadius, noseCentre: origin, towards: corner.towards, rake: corner.rake } : t,
    ),
  }));
}

/** Takes a nominal insert out again: the body that was left out for it cuts again, and the tips on the nominal one go to its corner. */
export function removeInsert(record: ComponentRecord, model: Model, id: string): Promise<boolean> {
  const onBody = bodiesOfTips(record, model);
  return reworkComponent(record.id, 'Removed a nominal insert', (r) => {
    const index = r.inserts.findIndex((n) => n.id === id);
    const body = `b${r.bodies.length - r.inserts.length + index + 1}`;
    const { replaces } = r.inserts[index];
    const still = withMoves(
      r,
      r.moves.filter((m) => m.body !== body),
      onBody,
    );
    return {
      ...still,
      inserts: r.inserts.filter((n) => n.id !== id),
      bodies: r.bodies.map((b) => (b.id === replaces ? { ...b, role: 'cutting' as const, hidden: false } : b)),
      tips: still.tips.map((t) =>
        onBody[t.id] === body
          ? onCornerOf(
              t,
              model.bodies.find((b) => b.id === replaces),
            )
          : t,
      ),
    };
  });
}

// A tip on the nearest corner of a body that looks the same way.
function onCornerOf(tip: Tip, body: BodyGeometry | undefined): Tip {
  const { rake, towards, noseCentre } = tip;
  const corners = body && rake && towards ? cornersOf(body).filter((c) => dot(c.rake, rake) > 0.9 && dot(c.towards, towards) > 0.9) : [];
  const [corner] = [...corners].sort((a, b) => distance(a.centre, noseCentre) - distance(b.centre, noseCentre));
  return corner ? { ...tip, noseRadius: corner.radius, noseCentre: corner.centre, towards: corner.towards, rake: corner.rake } : tip;
}
