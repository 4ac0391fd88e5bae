import { Button } from '@mantine/core';
import type { Model } from '#core/mesh';
import type { ComponentRecord } from '#core/records';
import type { FaceRef, Mistake, Reading } from '#core/reading';
import type { LengthUnit } from '#core/units';
import type { Connecting } from '../bench-actions.ts';
import { OfferLine } from '../reading/offer-line.tsx';
import type { Offer, OfferKey } from '../reading/proposals.ts';

/** What the next pick is for. */
export type Arm = Connecting | 'tip' | null;

/** What the entries of the Ledger are made of. */
export interface LedgerProps {
  /** What was read and is still open. */
  readonly offers: readonly Offer[];
  /** Undefined while the model is being read, null where nothing came of it. */
  readonly reading: Reading | null | undefined;
  readonly mistakes: readonly Mistake[];
  /** Lights up faces on the stage. */
  readonly onLook: (faces: readonly FaceRef[]) => void;
  /** Picks faces on the stage, to go on with them there. */
  readonly onPickFaces: (faces: readonly FaceRef[]) => void;
  readonly record: ComponentRecord;
  readonly model: Model;
  readonly unit: LengthUnit;
  readonly arm: Arm;
  readonly onArm: (arm: Arm) => void;
  /** Titles of the entries whose part is picked on the stage. */
  readonly picked: ReadonlySet<string>;
}

/** What was read for an entry and is still open, to be taken. */
export const offerFor = ({ record, offers, onLook }: LedgerProps, key: OfferKey) => {
  const offer = offers.find((o) => o.key === key);
  return offer && <OfferLine id={record.id} offer={offer} onLook={onLook} />;
};

/** Begins and ends picking on the stage. */
export function ArmButton({ what, arm, onArm, label }: { what: Exclude<Arm, null>; arm: Arm; onArm: (arm: Arm) => void; label: string }) {
  return (
    <Button size="compact-xs" variant={arm === what ? 'filled' : 'light'} aria-pressed={arm === what} onClick={() => onArm(arm === what ? null : what)}>
      {arm === what ? 'Picking… (Esc stops)' : label}
    </Button>
  );
}

/** Opens and closes the fields of one thing. */
export function EditToggle({ open, onToggle, what }: { open: boolean; onToggle: () => void; what: string }) {
  return (
    <Button size="compact-xs" variant="subtle" color="gray" aria-expanded={open} aria-label={`${open ? 'Close' : 'Edit'} ${what}`} onClick={onToggle}>
      {open ? 'Close' : 'Edit'}
    </Button>
  );
}
