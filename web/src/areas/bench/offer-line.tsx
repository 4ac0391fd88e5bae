import { Button } from '@mantine/core';
import { type Offer, takeOffers } from './proposals.ts';

/** A proposal inside an entry of the Ledger: value, confidence, evidence, and a button to take it. */
export function OfferLine({ id, offer }: { id: string; offer: Offer | undefined }) {
  if (!offer) return null;
  return (
    <div className="ledger-offer">
      <span>
        proposed <b>{offer.text}</b> <span className="number">{offer.confidence.toFixed(2)}</span>
        <span className="ledger-evidence">{offer.evidence}</span>
      </span>
      <Button size="compact-xs" variant="light" flex="none" aria-label={`Accept ${offer.text}`} onClick={() => takeOffers(id, [offer])}>
        accept
      </Button>
    </div>
  );
}

/** All proposals that are sure enough, in one press. */
export function OfferSummary({ id, offers, reading }: { id: string; offers: readonly Offer[]; reading: boolean }) {
  if (reading) return <p className="ledger-hint">Reading the model…</p>;
  if (offers.length === 0) return null;
  return (
    <Button size="xs" fullWidth mb={8} onClick={() => takeOffers(id, offers)}>
      {offers.length === 1 ? 'Accept the proposal' : `Accept all ${offers.length} proposals`}
    </Button>
  );
}
