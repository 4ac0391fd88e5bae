import { CloseButton } from '@mantine/core';
import { OpenButton } from '../areas/empty-area.tsx';
import { newcomerBegan } from './session-slice.ts';
import { useAppDispatch, useAppSelector } from './store.ts';

/** One line for who comes the first time: where to begin. It goes when it is put away, or when a file of one's own is opened. */
export function BeginLine() {
  const dispatch = useAppDispatch();
  const isNew = useAppSelector((s) => s.session.isNew);
  if (!isNew) return null;
  return (
    <aside className="begin-line" aria-label="Where to begin">
      <p>All this is demo data of a hub shop. Begin with a tool of your own: drop its model anywhere, mark it on the Bench, join it in Build, hand it over.</p>
      <OpenButton size="compact-xs" />
      <CloseButton size="sm" aria-label="Put this line away" onClick={() => dispatch(newcomerBegan())} />
    </aside>
  );
}
