import { Button } from '@mantine/core';
import { useEffect } from 'react';
import type { FaceRef } from '#core/reading';
import { type Offer, takeOffers } from './proposals.ts';

/** A proposal inside an entry of the Ledger: value, confidence, evidence, and a button to take it. */
export function OfferLine({ id, offer, onLook }: { id: string; offer: Offer | undefined; onLook: (faces: readonly FaceRef[]) => void }) {
  // What was looked at is not lit up any more once the line is gone.
  useEffect(() => () => onLook([]), [onLook]);
  if (!offer) return null;
  const look = () => onLook(offer.faces);
  const away = () => onLook([]);
  return (
    <div className="ledger-offer" onPointerEnter={look} onPointerLeave={away} onFocus={look} onBlur={away}>
      <span>
        proposed <b>{offer.text}</b>{' '}
        <span className="number" title="how sure it is, from 0 to 1">
          {offer.confidence.toFixed(2)}
        </span>
        <span className="ledger-evidence">{offer.evidence}</span>
      </span>
      <Button data-settles size="compact-xs" variant="light" flex="none" aria-label={`Accept ${offer.text}`} onClick={() => takeOffers(id, [offer])}>
        accept
      </Button>
    </div>
  );
}

/** All proposals that are sure enough, in one press. */
export function OfferSummary({
  id,
  offers,
  reading,
  cut,
}: {
  id: string;
  offers: readonly Offer[];
  reading: boolean;
  /** Cuts off what cuts, after the others are taken. */
  cut: (() => void) | undefined;
}) {
  if (reading) return <p className="ledger-hint">Reading the model…</p>;
  const count = offers.length + (cut ? 1 : 0);
  if (count === 0) return null;
  const takeAll = () => {
    if (offers.length > 0) takeOffers(id, offers);
    cut?.();
  };
  return (
    <Button size="xs" fullWidth mb={8} onClick={takeAll}>
      {count === 1 ? 'Accept the proposal' : `Accept all ${count} proposals`}
    </Button>
  );
}
