import { Select } from '@mantine/core';
import { useMemo } from 'react';
import { measuredFrom } from '#core/carrier';
import type { ComponentRecord, MeasuredChuck, MeasuredDisc } from '#core/records';
import { compareNames } from '#core/shelf';
import { selectComponentsById, useAppSelector } from '../../../app/store.ts';

const BY_SIZES = 'sizes';

interface Props {
  /** What is shaped: "chuck of the main spindle". */
  readonly of: string;
  readonly measured: MeasuredChuck | MeasuredDisc | undefined;
  /** How its mount is to be marked. */
  readonly howMounted: string;
  /** Measures a component, or goes back to the sizes. */
  readonly onChoose: (component: ComponentRecord | undefined) => void;
}

/** Whether something of a machine is shaped by its sizes or as a component of the Shelf is; what was measured holds when that is gone. */
export function ShapeChoice({ of, measured, howMounted, onChoose }: Props) {
  const components = useAppSelector(selectComponentsById);
  const choices = useMemo(() => {
    const all = Object.values(components).filter((c) => c.mount && c.tips.length === 0);
    return all.sort((a, b) => compareNames(a.name, b.name)).map((c) => ({ value: c.id, label: c.name }));
  }, [components]);
  const own = measured && components[measured.component];
  const lost = measured && !choices.some((c) => c.value === measured.component) ? [{ value: measured.component, label: measured.name }] : [];
  const hasChanged = own && measuredFrom(own) !== measured.inputs;
  return (
    <div className="shape-of">
      <Select
        size="xs"
        label="shaped"
        aria-label={`Shape of the ${of}`}
        allowDeselect={false}
        searchable={choices.length > 8}
        data={[
          { value: BY_SIZES, label: 'by its sizes' },
          { group: 'as a component with a mount is', items: [...lost, ...choices] },
        ]}
        value={measured?.component ?? BY_SIZES}
        onChange={(v) => (v === BY_SIZES ? onChoose(undefined) : v !== null && v !== measured?.component && onChoose(components[v]))}
      />
      {measured ? (
        <p className="soft">
          Measured, as {'steps' in measured ? `${measured.steps.length} cylinders that hold all it sweeps` : `${measured.slabs.length} prisms that hold it`}
          {own ? '.' : '; the component itself is gone from the Shelf.'}
          {hasChanged && (
            <>
              {' '}
              <button type="button" className="text-button" onClick={() => onChoose(own)}>
                It has changed since: measure it anew
              </button>
            </>
          )}
        </p>
      ) : (
        <p className="soft">For its true shape, open its model on the Bench and mark its mount: {howMounted}.</p>
      )}
    </div>
  );
}
