import type { ComponentRecord } from '#core/records';
import { ComponentRow } from './component-row.tsx';

// Rows of a list: a Shelf may have thousands that fit.
const MOST_ROWS = 60;

/** Components to choose of, as many as a list can hold; `none` is said where there are none. */
export function ComponentList({
  components,
  onChoose,
  none,
}: {
  components: readonly ComponentRecord[];
  onChoose: (c: ComponentRecord) => void;
  none: string;
}) {
  return (
    <>
      {components.slice(0, MOST_ROWS).map((c) => (
        <ComponentRow key={c.id} component={c} onChoose={() => onChoose(c)} />
      ))}
      {components.length > MOST_ROWS && <p className="ledger-hint">and {components.length - MOST_ROWS} more: search for one</p>}
      {components.length === 0 && none !== '' && <p className="ledger-hint">{none}</p>}
    </>
  );
}
