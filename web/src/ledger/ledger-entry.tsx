import { Tooltip } from '@mantine/core';
import { IconBook2, IconChevronRight, IconEye, IconKeyboard, IconPointer, IconTable, IconVectorSpline } from '@tabler/icons-react';
import { createContext, type ReactNode, useContext, useId, useState } from 'react';
import type { FactOrigin } from '#core/records';

/** How an entry of the Ledger stands: settled, still missing, or worth a look. */
export type EntryState = 'set' | 'missing' | 'warn' | 'fail';

const STATE_WORDS: Record<EntryState, string> = { set: 'set', missing: 'to decide', warn: 'look at this', fail: 'wrong' };

/** Whose Ledger it is, and the titles of the entries whose part is picked on the stage. */
export const LedgerOf = createContext<{ readonly id: string; readonly picked: ReadonlySet<string> }>({ id: '', picked: new Set() });

/** Whether the entry around is open: what is costly to draw waits for that. */
export const EntryOpen = createContext(false);

// What a person opened and closed of one component; it stays so when the model is read anew.
const wishes = new Map<string, boolean>();
let wishesOf = '';
function wishOf(id: string, title: string): boolean | undefined {
  if (wishesOf !== id) wishes.clear();
  wishesOf = id;
  return wishes.get(title);
}

interface LedgerEntryProps {
  readonly title: string;
  readonly value?: ReactNode;
  /** A word before the value, quieter. */
  readonly detail?: ReactNode;
  readonly origin?: FactOrigin | undefined;
  readonly note?: ReactNode;
  readonly state: EntryState;
  /** Whether something in it waits for an answer; what is missing or wrong does. */
  readonly waits?: boolean;
  /** What can be done while it is closed. */
  readonly action?: ReactNode;
  readonly children?: ReactNode;
}

/**
 * An entry of the Ledger: one line with its mark, name, value and origin while it is settled; open where something waits for an answer, where its part is
 * picked on the stage, or where a person opened it or works in it.
 */
export function LedgerEntry({ title, value, detail, origin, note, state, waits = state !== 'set', action, children }: LedgerEntryProps) {
  const ledger = useContext(LedgerOf);
  const picked = ledger.picked.has(title);
  // What a person wants, until something else calls for it.
  const [wish, setWishNow] = useState(() => wishOf(ledger.id, title));
  const setWish = (open: boolean | undefined) => {
    if (open === undefined) wishes.delete(title);
    else wishes.set(title, open);
    setWishNow(open);
  };
  const [seen, setSeen] = useState({ waits, picked });
  if (seen.waits !== waits || seen.picked !== picked) {
    setSeen({ waits, picked });
    // What begins to call opens it, also where a person had closed it.
    if (wish === false && ((waits && !seen.waits) || (picked && !seen.picked))) setWish(undefined);
  }
  const open = wish ?? (waits || picked);
  const id = useId();
  const keepOpen = (e: React.SyntheticEvent) => {
    // What settles the entry lets it close.
    if (!(e.target as Element).closest('[data-settles]')) setWish(true);
  };
  return (
    <section className="ledger-entry" aria-label={title}>
      <div className="ledger-line">
        <span className={`ledger-mark ${state}`} role="img" aria-label={STATE_WORDS[state]} />
        <h4>
          <button type="button" aria-expanded={open} aria-controls={id} onClick={() => setWish(!open)}>
            {title}
          </button>
        </h4>
        {detail && <span className="ledger-detail">{detail}</span>}
        <span className={`ledger-value ${state}`}>{value}</span>
        {origin && <OriginSymbol origin={origin} />}
        {!open && action}
        <IconChevronRight className="ledger-chevron" size={14} aria-hidden />
      </div>
      <div id={id} hidden={!open} onPointerDownCapture={keepOpen} onKeyDownCapture={keepOpen}>
        {note && <p className="ledger-note">{note}</p>}
        <EntryOpen.Provider value={open}>{children && <div className="ledger-more">{children}</div>}</EntryOpen.Provider>
      </div>
    </section>
  );
}

const ORIGIN_ICONS = { read: IconEye, picked: IconPointer, typed: IconKeyboard, standard: IconBook2, drawn: IconVectorSpline, data: IconTable } as const;

// Where a value came from, as a symbol; the words come when it is pointed at.
function OriginSymbol({ origin }: { origin: FactOrigin }) {
  const Icon = ORIGIN_ICONS[origin.from];
  return (
    <Tooltip label={sayOrigin(origin)} multiline maw={300} events={{ hover: true, focus: true, touch: true }}>
      <span className="ledger-origin" role="img" aria-label={sayOrigin(origin)}>
        <Icon size={14} aria-hidden />
      </span>
    </Tooltip>
  );
}

/** Where a value came from, in words. */
export const sayOrigin = ({ from, evidence }: FactOrigin): string => (evidence ? `${from} · ${evidence}` : from);
