// What was read from the model, as offers that can be taken one by one or all at once.
import { useEffect, useState } from 'react';
import type { Model } from '#core/mesh';
import { type ComponentRecord, cornerTowards, type FactOrigin, mountFrameOf, type Tip, withMount } from '#core/records';
import { type FaceRef, type FoundConnection, type FoundTip, kindToOffer, type Reading } from '#core/reading';
import { sayConnection } from '#core/standards';
import { roundTo } from '#core/math';
import { changeComponent } from '../../../app/store.ts';
import { newId } from '../../../common/new-id.ts';
import { readingOf } from '../../../store/readings.ts';

export type OfferKey = 'kind' | 'roles' | 'mount' | 'seats' | 'tip';

/** One thing that was read and is not settled yet. */
export interface Offer {
  readonly key: OfferKey;
  readonly text: string;
  readonly confidence: number;
  readonly evidence: string;
  /** The faces that it rests on, to light up. */
  readonly faces: readonly FaceRef[];
  /** What taking it changes. */
  readonly take: (record: ComponentRecord) => Partial<ComponentRecord>;
}

// Less sure than this is said, but not taken by "accept all".
export const SURE_ENOUGH = 0.7;

// What follows from a connection that a person has set; holder and adapter may be either.
const MARKED_KIND = 0.8;

const read = (evidence: string): FactOrigin => ({ from: 'read', evidence: evidence.slice(0, 400) });

/** What was found, as a mark of a record. */
export const asMark = (found: FoundConnection, id: string, name: string) => ({
  id,
  name,
  frame: found.frame,
  connection: found.connection,
  origin: read(found.evidence),
});

function asTip(found: FoundTip, record: ComponentRecord, name: string): Tip {
  return {
    id: newId(),
    name,
    noseRadius: roundTo(found.noseRadius, 6),
    noseCentre: found.noseCentre,
    corner: cornerTowards(found.towards, mountFrameOf(record)),
    towards: found.towards,
    rake: found.rake,
    programmedPoint: 'virtual tip',
    origin: read(found.evidence),
  };
}

/** The offers that a component is still open for; what a person has marked is never offered again. */
export function openOffers(record: ComponentRecord, reading: Reading | undefined): Offer[] {
  if (!reading) return [];
  const offers: Offer[] = [];
  const { mount, seats, tips, roles } = reading;
  const kind = kindToOffer(record, reading);
  const isRead = kind?.from === 'reading';
  const sure = isRead ? (mount?.confidence ?? (reading.kind === 'insert' ? roles[0]?.confidence : undefined)) : MARKED_KIND;
  if (kind && sure !== undefined)
    offers.push({
      key: 'kind',
      text: kind.kind,
      confidence: sure,
      evidence: !isRead ? 'from the connection that is set' : mount ? 'from its connection and bodies' : 'from its form',
      faces: [],
      take: () => ({ componentKind: kind.kind }),
    });
  if ((roles.length > 1 || reading.kind === 'insert') && record.bodies.every((b) => b.role === 'tool body') && roles.some((r) => r.role !== 'tool body'))
    offers.push({
      key: 'roles',
      text: sayRoleCounts(roles.map((r) => r.role)),
      confidence: Math.min(...roles.map((r) => r.confidence)),
      evidence:
        roles
          .filter((r) => r.role === 'cutting')
          .map((r) => r.evidence)
          .join('; ') || 'by shape, size and place',
      faces: [],
      take: (r) => ({ bodies: r.bodies.map((b) => ({ ...b, role: roles.find((p) => p.body === b.id)?.role ?? b.role })) }),
    });
  if (!record.mount && mount) offers.push(mountOffer(mount));
  if (record.seats.length === 0 && seats.length > 0)
    offers.push({
      key: 'seats',
      text: seats.map((s) => sayConnection(s.connection)).join(', '),
      confidence: Math.min(...seats.map((s) => s.confidence)),
      evidence: seats.map((s) => s.evidence).join('; '),
      faces: seats.flatMap((s) => s.faces),
      take: () => ({ seats: seats.map((s, i) => asMark(s, newId(), `Seat ${i + 1}`)) }),
    });
  if (record.tips.length === 0 && tips.length > 0)
    offers.push({
      key: 'tip',
      text: sayTips(tips),
      confidence: Math.min(...tips.map((t) => t.confidence)),
      evidence: [...new Set(tips.map((t) => t.evidence))].join('; '),
      faces: tips.flatMap((t) => t.faces.map((face) => ({ body: t.body, face }))),
      take: (r) => ({ tips: tips.map((t, i) => asTip(t, r, i === 0 ? 'Tip' : `Tip ${i + 1}`)) }),
    });
  return offers;
}

const mountOffer = (mount: FoundConnection): Offer => ({
  key: 'mount',
  text: sayConnection(mount.connection),
  confidence: mount.confidence,
  evidence: mount.evidence,
  faces: mount.faces,
  take: (r) => withMount(r, asMark(mount, 'mount', 'Mount')),
});

/** What else the mount could be, as long as none is marked; "accept all" does not take these. */
export const otherMountOffers = (record: ComponentRecord, reading: Reading | null | undefined): Offer[] =>
  record.mount || !reading ? [] : reading.otherMounts.map(mountOffer);

function sayTips(tips: readonly FoundTip[]): string {
  const [t] = tips;
  if (t.kind === 'point') return t.includedAngle === 180 ? 'end on the axis' : `drill point ${roundTo(t.includedAngle, 1)}°`;
  if (t.kind === 'groove') return `groove ${roundTo(t.width ?? 0, 3)} wide, RE ${roundTo(t.noseRadius, 3)} twice, ${t.hand}`;
  if (t.kind === 'full radius') return `full radius ${roundTo(t.noseRadius, 3)}, ${t.hand}`;
  return `RE ${roundTo(t.noseRadius, 3)}, entering angle ${roundTo(t.enteringAngle, 1)}°, ${t.hand}`;
}

const sayRoleCounts = (roles: readonly string[]): string => [...new Set(roles)].map((role) => `${roles.filter((r) => r === role).length} ${role}`).join(' · ');

export const sureOffers = (offers: readonly Offer[]): Offer[] => offers.filter((o) => o.confidence >= SURE_ENOUGH);

/** Takes offers as one step of the history; later ones see what earlier ones changed. */
export function takeOffers(id: string, offers: readonly Offer[]): void {
  const label = offers.length === 1 ? `Accepted: ${offers[0].text}` : `Accepted ${offers.length} proposals`;
  changeComponent(id, label, (record) => offers.reduce((r, offer) => ({ ...r, ...offer.take(r) }), record));
}

/** What was read from a component's model: undefined while it is being read, null where nothing came of it. */
export function useReading(record: ComponentRecord, model: Model): Reading | null | undefined {
  const [state, setState] = useState<{ blob: string; reading: Reading | null } | null>(null);
  const { blob } = record.model;
  useEffect(() => {
    let live = true;
    void readingOf(blob, () => Promise.resolve(model)).then((reading) => {
      if (live) setState({ blob, reading: reading ?? null });
    });
    return () => {
      live = false;
    };
  }, [blob, model]);
  return state?.blob === blob ? state.reading : undefined;
}
