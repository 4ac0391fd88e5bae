import { Button, Menu } from '@mantine/core';
import { useEffect, useState } from 'react';
import { showProblem } from '../../app/notify.tsx';
import { useAppSelector } from '../../app/store.ts';
import { type KeptCopy, listCopies, readCopy } from '../../store/copies.ts';
import { offerMerge } from '../../store/open-merge.ts';
import { askToKeep, type StorageState, storageState } from '../../store/storage.ts';

const size = (bytes: number): string => (bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(bytes >= 1e7 ? 0 : 1)} MB`);

/** What this browser's storage holds, whether it may be cleared, and copies of before large changes. */
export function StorageLine() {
  const records = useAppSelector((s) => s.library.records);
  const [state, setState] = useState<StorageState | undefined>();
  const [copies, setCopies] = useState<readonly KeptCopy[]>([]);
  useEffect(() => {
    let live = true;
    // Writing goes on for a moment after a change.
    const timer = setTimeout(
      () =>
        void Promise.all([storageState(), listCopies().catch(() => [])]).then(([s, c]) => {
          if (!live) return;
          setState(s);
          setCopies(c);
        }),
      600,
    );
    return () => {
      live = false;
      clearTimeout(timer);
    };
  }, [records]);
  const bring = async (copy: KeptCopy) => offerMerge({ from: `the copy of ${sayTime(copy.at)}`, records: await readCopy(copy.key), blobs: {}, faults: [] });
  const ask = async () => {
    const isKept = await askToKeep();
    if (isKept) setState((now) => now && { ...now, isKept });
    else showProblem('This browser said no: it keeps pages that are bookmarked, installed or used often. Write the whole Shelf as a file to be safe.');
  };
  if (!state) return null;
  return (
    <footer className="storage-line" aria-label="Storage">
      <span>
        {size(state.used)} kept in this browser, {size(state.free)} free
      </span>
      {state.isKept ? (
        <span>kept until you delete it</span>
      ) : (
        <>
          <span className="warn">the browser may clear it when space gets short</span>
          <Button size="compact-xs" variant="default" onClick={() => void ask()}>
            Ask it not to
          </Button>
        </>
      )}
      {copies.length > 0 && (
        <Menu position="top-end">
          <Menu.Target>
            <Button size="compact-xs" variant="subtle" color="gray">
              {copies.length === 1 ? '1 earlier copy' : `${copies.length} earlier copies`}
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {copies.map((c) => (
              <Menu.Item key={c.key} onClick={() => void bring(c)}>
                {sayTime(c.at)}, {c.count} records: {c.why}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
      )}
    </footer>
  );
}

const sayTime = (at: string): string => new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
