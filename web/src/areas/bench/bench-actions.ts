// What the Bench changes in a component's record: every function is one step of the history.
import { type Frame, normalize, roundTo, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import {
  type BodyRole,
  type ComponentRecord,
  type Connection,
  cornerTowards,
  type FactOrigin,
  mirroredSeat,
  mountFrameOf,
  type PoseStep,
  repeatedSeats,
  type Tip,
  withMount,
} from '#core/records';
import { type ConnectionSize, sayConnection } from '#core/standards';
import { changeComponent } from '../../app/store.ts';
import { newId } from '../../common/new-id.ts';
import type { PickRef } from '../../scene/picks.ts';
import { noseFromPick } from './picks/pick-frames.ts';

export const setRole = (id: string, bodyId: string, role: BodyRole) =>
  changeComponent(id, `Role of a body: ${role}`, (r) => ({ bodies: r.bodies.map((b) => (b.id === bodyId ? { ...b, role } : b)) }));

export const setHidden = (id: string, bodyId: string, hidden: boolean) =>
  changeComponent(id, hidden ? 'Hid a body' : 'Showed a body', (r) => ({ bodies: r.bodies.map((b) => (b.id === bodyId ? { ...b, hidden } : b)) }));

export const showOnly = (id: string, bodyId: string | null) =>
  changeComponent(id, bodyId ? 'Showed one body' : 'Showed all bodies', (r) => ({
    bodies: r.bodies.map((b) => ({ ...b, hidden: bodyId !== null && b.id !== bodyId })),
  }));

// Pose

type NewStep = PoseStep extends infer S ? (S extends PoseStep ? Omit<S, 'id'> : never) : never;
const addStep = (id: string, step: NewStep) => changeComponent(id, step.note, (r) => ({ pose: [...r.pose, { ...step, id: newId() }] }));

export const rotateAbout = (id: string, point: Vec3, axis: Vec3, angleDeg: number, note: string) =>
  addStep(id, { kind: 'rotate', point, axis, angleDeg, note });
export const moveBy = (id: string, by: Vec3, note = 'Moved') => addStep(id, { kind: 'move', by, note });
export const alignTo = (id: string, point: Vec3, from: Vec3, to: Vec3, note: string) => addStep(id, { kind: 'align', point, from, to, note });

export const removeStep = (id: string, stepId: string) => changeComponent(id, 'Removed a pose step', (r) => ({ pose: r.pose.filter((s) => s.id !== stepId) }));

export const editStep = (id: string, stepId: string, change: { angleDeg: number } | { by: Vec3 } | { to: Vec3 }) =>
  changeComponent(id, 'Edited a pose step', (r) => ({ pose: r.pose.map((s) => (s.id === stepId ? { ...s, ...change } : s)) }));

export function moveStep(id: string, stepId: string, by: -1 | 1): void {
  changeComponent(id, 'Moved a pose step', (r) => {
    const pose = [...r.pose];
    const from = pose.findIndex((s) => s.id === stepId);
    const [step] = pose.splice(from, 1);
    pose.splice(Math.max(0, from + by), 0, step);
    return { pose };
  });
}

// Bodies' and faces' own colours

export const setBodyColour = (id: string, bodyId: string, ownColour: string | undefined) =>
  changeComponent(id, ownColour ? 'Colour of a body' : 'Colour of a body by its role', (r) => ({
    bodies: r.bodies.map((b) => (b.id === bodyId ? { ...b, ownColour } : b)),
  }));

/** Colours faces of one body; faces that had a colour before get the new one. Undefined takes the colour away. */
export function setFaceColour(id: string, body: string, faces: readonly number[], colour: string | undefined): void {
  changeComponent(id, colour ? `Colour of ${faces.length === 1 ? 'a face' : `${faces.length} faces`}` : 'Faces without a colour of their own', (r) => {
    const rest = r.faceColours.map((c) => (c.body === body ? { ...c, faces: c.faces.filter((f) => !faces.includes(f)) } : c)).filter((c) => c.faces.length > 0);
    return { faceColours: colour ? [...rest, { id: newId(), body, faces: [...faces], colour }] : rest };
  });
}

// Connections and tips

/** What joins a component to others: its mount and other feet towards the machine, seats towards the work. */
export type Connecting = 'mount' | 'foot' | 'seat';

/** Puts a connection where it was picked: a mount keeps the connection that it had, and another foot is most often of its kind. */
export function placeConnection({ id, mount }: ComponentRecord, what: Connecting, frame: Frame, guessed: ConnectionSize, origin: FactOrigin): void {
  if (what === 'seat') addSeat(id, frame, guessed, origin);
  else (what === 'foot' ? addFoot : setMount)(id, frame, mount?.connection ?? guessed, origin);
}

/** As which kind its frame is picked: its Z looks into the component, or out of it. */
export const pickedAs = (what: Connecting): 'mount' | 'seat' => (what === 'seat' ? 'seat' : 'mount');

/** Where X of a new connection leans to: the first tip. */
export const radialHint = (tips: readonly Tip[]): Vec3 | undefined => tips[0]?.noseCentre;

export function setMount(id: string, frame: Frame, connection: ConnectionSize, origin: FactOrigin): void {
  changeComponent(id, `Mount: ${sayConnection(connection)}`, (r) => withMount(r, { id: 'mount', name: 'Mount', frame, connection, origin }));
}

function addFoot(id: string, frame: Frame, connection: ConnectionSize, origin: FactOrigin): void {
  changeComponent(id, `Foot: ${sayConnection(connection)}`, ({ feet = [] }) => ({
    feet: [...feet, { id: newId(), name: `Foot ${feet.length + 2}`, frame, connection, origin }],
  }));
}

/** What stands on its mount stands on this one from now on, where nothing else is said; the mount before is one of the other feet. */
export function footAsMount(id: string, footId: string): void {
  changeComponent(id, 'Another foot as mount', (r) => {
    const foot = r.feet?.find((f) => f.id === footId);
    if (!foot) return {};
    const before = r.mount ? [{ ...r.mount, id: newId(), name: 'Foot 1' }] : [];
    return { ...withMount(r, { ...foot, id: 'mount', name: 'Mount' }), feet: [...before, ...(r.feet ?? []).filter((f) => f.id !== footId)] };
  });
}

export function addSeat(id: string, frame: Frame, connection: ConnectionSize, origin: FactOrigin): void {
  changeComponent(id, `Seat: ${sayConnection(connection)}`, (r) => ({
    seats: [...r.seats, { id: newId(), name: `Seat ${r.seats.length + 1}`, frame, connection, origin }],
  }));
}

/** More seats like one that is there, as one step: on the other side of the mount, or about its axis. */
export function addSeatsLike(id: string, seatId: string, how: 'mirrored' | { readonly about: number }): void {
  changeComponent(id, how === 'mirrored' ? 'Mirrored a seat' : `Repeated a seat ${how.about} times about the mount`, (r) => {
    const seat = r.seats.find((s) => s.id === seatId);
    if (!seat || !r.mount) return {};
    const frames = how === 'mirrored' ? [mirroredSeat(seat.frame, r.mount.frame)] : repeatedSeats(seat.frame, r.mount.frame, how.about);
    const origin: FactOrigin = { from: 'typed', evidence: `${how === 'mirrored' ? 'mirrored from' : 'repeated from'} ${seat.name}`.slice(0, 400) };
    return { seats: [...r.seats, ...frames.map((frame, i) => ({ ...seat, id: newId(), name: `Seat ${r.seats.length + i + 1}`, frame, origin }))] };
  });
}

/** Changes the mount (seatId null), a seat or another foot; a change by hand makes its origin "typed". */
export function editConnection(id: string, seatId: string | null, label: string, change: (c: Connection) => Partial<Connection>): void {
  const typed: FactOrigin = { from: 'typed', evidence: '' };
  const edit = (c: Connection): Connection => ({ ...c, origin: typed, ...change(c) });
  changeComponent(id, label, (r) => {
    if (seatId === null) return withMount(r, r.mount && edit(r.mount));
    const edited = (list: readonly Connection[]) => list.map((c) => (c.id === seatId ? edit(c) : c));
    return { seats: edited(r.seats), ...(r.feet ? { feet: edited(r.feet) } : {}) };
  });
}

export const removeMount = (id: string) => changeComponent(id, 'Removed the mount', (r) => withMount(r, null));
export const removeFoot = (id: string, footId: string) => changeComponent(id, 'Removed a foot', (r) => ({ feet: r.feet?.filter((f) => f.id !== footId) }));
export const removeSeat = (id: string, seatId: string) => changeComponent(id, 'Removed a seat', (r) => ({ seats: r.seats.filter((s) => s.id !== seatId) }));

/** A tip at a nose circle; its corner points where the nose bulges. */
export function addTip(id: string, nose: { noseRadius: number; noseCentre: Vec3; outward: Vec3; axis?: Vec3 }, origin: FactOrigin): void {
  changeComponent(id, `Tip: nose radius ${roundTo(nose.noseRadius, 3)}`, (r) => ({
    tips: [
      ...r.tips,
      {
        id: newId(),
        name: r.tips.length === 0 ? 'Tip' : `Tip ${r.tips.length + 1}`,
        noseRadius: nose.noseRadius,
        noseCentre: nose.noseCentre,
        corner: cornerTowards(nose.outward, mountFrameOf(r)),
        towards: normalize(nose.outward),
        ...(nose.axis ? { rake: nose.axis } : {}),
        programmedPoint: 'virtual tip' as const,
        origin,
      },
    ],
  }));
}

/** A tip from a rounded edge or face; false where the pick is no nose. */
export function addTipFromPick(id: string, model: Model, pick: PickRef): boolean {
  const nose = noseFromPick(model, pick);
  if (nose) addTip(id, nose, { from: 'picked', evidence: `${pick.kind === 'edge' ? 'rounded edge' : 'rounded face'} ${pick.index + 1} of ${pick.body}` });
  return nose !== undefined;
}

export function editTip(id: string, tipId: string, label: string, change: Partial<Tip>): void {
  changeComponent(id, label, (r) => ({ tips: r.tips.map((t) => (t.id === tipId ? { ...t, ...change } : t)) }));
}

export const removeTip = (id: string, tipId: string) => changeComponent(id, 'Removed a tip', (r) => ({ tips: r.tips.filter((t) => t.id !== tipId) }));

/** An empty typed mount, seat or tip, to be filled in by hand. */
export const typedOrigin: FactOrigin = { from: 'typed', evidence: '' };
export function addTypedTip(id: string): void {
  changeComponent(id, 'Tip, typed', (r) => ({
    tips: [
      ...r.tips,
      {
        id: newId(),
        name: `Tip ${r.tips.length + 1}`,
        noseRadius: 0.8,
        noseCentre: mountFrameOf(r).origin,
        corner: { x: 1, z: 1 },
        programmedPoint: 'virtual tip',
        origin: typedOrigin,
      },
    ],
  }));
}
