// What is asked of a reading beside the truth of a corpus, and whether it is right: for the measurement and for tests.
import { addScaled, angleBetweenRad, degFromRad, distance, dot, subtract, type Vec3 } from '#core/math';
import { furthestAlong, type Model } from '#core/mesh';
import type { Reading } from '#core/reading';
import { sayConnection } from '#core/standards';
import type { CorpusTruth } from './corpus-model.ts';
import type { WildTruth } from './wild/wild-model.ts';

/** What both corpora say of a model. */
export interface Truth
  extends Omit<CorpusTruth, 'kind' | 'tips' | 'fused'>,
    Partial<Pick<WildTruth, 'oneOf' | 'otherMounts' | 'cutsFrom' | 'readAs' | 'written'>> {
  readonly kind: string;
  readonly tips: WildTruth['tips'];
  readonly fused?: boolean;
}

/** One thing that was asked of a model: what it was, how sure the reading was of it, and whether it was right. */
export interface Answer {
  readonly file: string;
  readonly group: 'B-rep' | 'mesh';
  readonly kind: string;
  readonly what: string;
  readonly right: boolean;
  readonly confidence: number;
  readonly text: string;
}

const offDeg = (a: Vec3, b: Vec3) => degFromRad(angleBetweenRad(a, b));
const lineOffDeg = (a: Vec3, b: Vec3) => Math.min(offDeg(a, b), 180 - offDeg(a, b));

/** Everything that is asked of a model, with the tolerances that the product promises. */
export function judge(truth: Truth, model: Model, reading: Reading): Answer[] {
  const isMesh = truth.format !== 'step';
  const base = { file: truth.file, group: isMesh ? ('mesh' as const) : ('B-rep' as const), kind: truth.kind };
  const out: Answer[] = [];
  const add = (what: string, right: boolean, confidence: number, text: string) => out.push({ ...base, what, right, confidence, text });
  for (const t of truth.bodies) {
    const body = [...model.bodies].sort((a, b) => score(a, t) - score(b, t))[0];
    const role = reading.roles.find((r) => r.body === body?.id);
    add('role', role?.role === t.role, role?.confidence ?? 0, `${body?.id} is ${t.role}, read ${role?.role}`);
  }
  const { mount } = reading;
  const sure = mount?.confidence ?? 0;
  // Of several that are as right the one that was meant.
  const places = [truth.mount, ...(truth.otherMounts ?? [])];
  const place = mount ? [...places].sort((a, b) => offDeg(mount.frame.z, a.frame.z) - offDeg(mount.frame.z, b.frame.z))[0] : truth.mount;
  add(
    'axis',
    !!mount && lineOffDeg(mount.frame.z, place.frame.z) < 0.01,
    sure,
    mount ? `${lineOffDeg(mount.frame.z, place.frame.z).toFixed(4)} deg off` : 'none',
  );
  const [want, got] = [sayConnection(truth.mount.connection), mount ? sayConnection(mount.connection) : 'none'];
  // The table cannot tell SK from BT where a model lacks the flange's details; an undecided 7/24 of the size counts.
  const undecided =
    mount?.connection.standard === '7/24' && ['SK', 'BT'].includes(truth.mount.connection.standard) && mount.connection.size === truth.mount.connection.size;
  add('mount', got === want || undecided, sure, `is ${want}, read ${got}`);
  const plane = mount ? Math.abs(dot(subtract(mount.frame.origin, place.frame.origin), place.frame.z)) : Infinity;
  const sense = !!mount && dot(mount.frame.z, place.frame.z) > 0;
  add('reference plane', plane < 0.01 && sense, sure, `${plane.toFixed(3)} off${sense ? '' : ', Z turned round'}`);
  const kind = truth.readAs ?? KINDS[truth.kind] ?? truth.kind;
  add('kind', kind.split(', ').includes(reading.kind), sure, `is ${kind}, read ${reading.kind}`);
  truth.seats.forEach((s) => {
    const found = reading.seats.find((r) => offDeg(r.frame.z, s.frame.z) < 0.1 && isAtSeat(r.frame.origin, s));
    // How far a collet closes is not asked for.
    const right = !!found && found.connection.standard === s.connection.standard && found.connection.size === s.connection.size;
    const read = reading.seats.map((r) => `${sayConnection(r.connection)} ${distance(r.frame.origin, s.frame.origin).toFixed(2)} off`).join(', ');
    add('seat', right, found?.confidence ?? reading.seats[0]?.confidence ?? 0, `is ${sayConnection(s.connection)}, read ${read || 'none'}`);
  });
  const [first] = reading.tips;
  // Of several alike the one that was found is asked for.
  const asked = truth.oneOf
    ? [...truth.tips].sort((a, b) => (first ? distance(a.noseCentre, first.noseCentre) - distance(b.noseCentre, first.noseCentre) : 0)).slice(0, 1)
    : truth.tips;
  asked.forEach((t) => {
    const tip = [...reading.tips].sort((a, b) => distance(a.noseCentre, t.noseCentre) - distance(b.noseCentre, t.noseCentre))[0];
    const c = tip?.confidence ?? 0;
    const limit = isMesh ? 0.03 : 0.01;
    add('nose radius', !!tip && Math.abs(tip.noseRadius - t.noseRadius) < limit, c, `is ${t.noseRadius}, read ${tip?.noseRadius.toFixed(4) ?? 'none'}`);
    add('nose centre', !!tip && distance(tip.noseCentre, t.noseCentre) < limit, c, tip ? `${distance(tip.noseCentre, t.noseCentre).toFixed(4)} off` : 'none');
    if (t.enteringAngle !== undefined)
      add('entering angle', !!tip && Math.abs(tip.enteringAngle - t.enteringAngle) < 0.1, c, `is ${t.enteringAngle.toFixed(2)}, read ${tip?.enteringAngle}`);
    if (t.includedAngle !== undefined)
      add(
        'included angle',
        !!tip && Math.abs(tip.includedAngleInPlane - t.includedAngle) < 0.1,
        c,
        `is ${t.includedAngle.toFixed(2)}, read ${tip?.includedAngleInPlane}`,
      );
    if (t.ownAngle !== undefined) add('own angle', !!tip && Math.abs(tip.includedAngle - t.ownAngle) < 0.1, c, `is ${t.ownAngle}, read ${tip?.includedAngle}`);
    if (t.hand) add('hand', tip?.hand === t.hand, c, `is ${t.hand}, read ${tip?.hand}`);
  });
  if (truth.cutsFrom) {
    const split = reading.splits?.[0];
    const { at, within } = truth.cutsFrom;
    add('cuts from', !!split && Math.abs(split.from - at) < within + 0.02, split?.confidence ?? 0, `is ${at} (${within}), read ${split?.from ?? 'none'}`);
  }
  const told = reading.tips.filter((t) => !isAxisEnd(t, truth, model));
  if (truth.tips.length === 0) add('no tip', told.length === 0 && model.bodies.length > 0, 1, `read ${told.length}`);
  return out;
}

/** A cutter's length may be told to where it ends on its axis: nothing of it is farther along the true mount's Z. */
export function isAxisEnd({ kind, includedAngle, noseCentre }: Reading['tips'][number], truth: Truth, model: Model): boolean {
  if (!(truth.cutsFrom || truth.kind === 'cutter') || kind !== 'point' || includedAngle !== 180) return false;
  const { origin, z } = truth.mount.frame;
  const along = (p: Vec3) => dot(subtract(p, origin), z);
  const end = Math.max(...model.bodies.map((b) => furthestAlong(b.mesh, z))) - dot(origin, z);
  return Math.abs(along(noseCentre) - end) < 0.01 && distance(noseCentre, addScaled(origin, z, end)) < 0.03;
}

// A channel's corner depends on which hand is put in: any of its corners on the opening plane is right.
const isAtSeat = (p: Vec3, s: Truth['seats'][number]): boolean => {
  if (s.connection.standard !== 'square') return distance(p, s.frame.origin) < 0.05;
  const d = subtract(p, s.frame.origin);
  return Math.abs(dot(d, s.frame.z)) < 0.05 && distance(p, s.frame.origin) < 1.5 * Number.parseFloat(String(s.connection.size));
};

/** What is read of a file that does not open. */
export const NOTHING: Reading = { kind: 'rotating', roles: [], otherMounts: [], seats: [], tips: [], isFused: false, warnings: [] };

/** Confidence from which "Accept all" takes a proposal. */
export const ACCEPTED = 0.7;

// Names of the corpus for kinds that reading calls otherwise.
const KINDS: Record<string, string> = { holder: 'rotating' };

const score = (b: Model['bodies'][number], t: Truth['bodies'][number]) =>
  distance(b.centroid, t.centroid) + 20 * Math.abs(Math.log(Math.max(1e-6, Math.abs(b.volume)) / Math.max(1e-6, Math.abs(t.volume))));
