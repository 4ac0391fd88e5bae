import type { ReactNode } from 'react';
import type { FactOrigin } from '#core/records';

/** How an entry of the Ledger stands: settled, still missing, or worth a look. */
export type EntryState = 'set' | 'missing' | 'warn' | 'fail';

const STATE_WORDS: Record<EntryState, string> = { set: 'set', missing: 'to decide', warn: 'look at this', fail: 'wrong' };

/** One line of the Ledger: what it is, its value, where that came from; anything else below. */
export function LedgerEntry({
  title,
  value,
  note,
  state,
  children,
}: {
  title: string;
  value?: ReactNode;
  note?: ReactNode;
  state: EntryState;
  children?: ReactNode;
}) {
  return (
    <section className="ledger-entry" aria-label={title}>
      <div className="ledger-line">
        <span className={`ledger-mark ${state}`} role="img" aria-label={STATE_WORDS[state]} />
        <h3>{title}</h3>
        <span className={`ledger-value ${state}`}>{value}</span>
      </div>
      {note && <p className="ledger-note">{note}</p>}
      {children && <div className="ledger-more">{children}</div>}
    </section>
  );
}

/** Where a value came from, in words. */
export const sayOrigin = ({ from, evidence }: FactOrigin): string => (evidence ? `${from} · ${evidence}` : from);
