import { type ReactNode, Suspense, useContext } from 'react';
import { EntryOpen } from './ledger-entry.tsx';

/** Something that is loaded and drawn only while the entry of the Ledger around it is open: charts. */
export const WhenOpen = ({ children }: { children: ReactNode }) => (useContext(EntryOpen) ? <Suspense fallback={null}>{children}</Suspense> : null);
