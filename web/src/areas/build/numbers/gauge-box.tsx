import { Button, Popover, Radio, UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import { firstPiece, gaugeLengthOf, gaugeLineAt, placeTips } from '#core/assembly';
import type { AssemblyRecord, ComponentRecord, GaugeLine } from '#core/records';
import { sayConnection } from '#core/standards';
import { formatLength, type LengthUnit } from '#core/units';
import { changeAssembly } from '../../../app/store.ts';

interface Props {
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly gaugeLength: number | undefined;
  /** Of what it is compared with; undefined where it is not. */
  readonly before: string | undefined;
  readonly unit: LengthUnit;
  readonly isFixed: boolean;
  readonly onPick: () => void;
}

/** The gauge length, and where it is told from: the mount of the first piece, a seat, or a point picked on the stage. */
export function GaugeBox({ record, components, gaugeLength, before, unit, isFixed, onPick }: Props) {
  const [open, setOpen] = useState(false);
  const mm = (v: number | undefined) => (v === undefined ? '–' : formatLength(v, unit));
  const first = firstPiece(record, components)?.mount;
  const stands = gaugeLineAt(record, components);
  const mountName = first ? `the mount, ${sayConnection(first.connection)}` : 'the first piece';
  const take = (gaugeLine: GaugeLine | undefined, name: string) => {
    setOpen(false);
    changeAssembly(record.id, `Gauge line at ${name}`, () => ({ gaugeLine }));
  };
  return (
    <div className="gauge-box">
      <span>
        Gauge length
        <Popover position="bottom-start" width={300} trapFocus opened={open} onChange={setOpen}>
          <Popover.Target>
            <UnstyledButton className="gauge-from" disabled={isFixed} aria-expanded={open} title="Where lengths are told from" onClick={() => setOpen(!open)}>
              from {stands?.name ?? mountName}
            </UnstyledButton>
          </Popover.Target>
          <Popover.Dropdown>{open && <Places {...{ record, components, unit, mountName, take }} onPick={() => (setOpen(false), onPick())} />}</Popover.Dropdown>
        </Popover>
      </span>
      <span>
        {before !== undefined && <span className="number gauge-before">{before} → </span>}
        <strong className="number" data-testid="gauge-length">
          {mm(gaugeLength)}
        </strong>
      </span>
    </div>
  );
}

interface PlacesProps extends Pick<Props, 'record' | 'components' | 'unit' | 'onPick'> {
  readonly mountName: string;
  readonly take: (line: GaugeLine | undefined, name: string) => void;
}

const MOUNT = 'mount';
const PICKED = 'picked';

// Each place with the gauge length that it would give.
function Places({ record, components, unit, mountName, take, onPick }: PlacesProps) {
  const { gaugeLine } = record;
  const by = (line: GaugeLine | undefined) => {
    const moved = { ...record, gaugeLine: line };
    const length = gaugeLengthOf(moved, placeTips(moved, components));
    return length === undefined ? '' : formatLength(length, unit);
  };
  const seats = record.pieces.flatMap((p) =>
    (components[p.componentId]?.seats ?? []).map((s) => ({
      value: `${p.id} ${s.id}`,
      name: `${s.name} of ${components[p.componentId]?.name}`,
      line: { pieceId: p.id, seatId: s.id },
    })),
  );
  const isPicked = gaugeLine !== undefined && 'at' in gaugeLine;
  const places = [
    { value: MOUNT, name: mountName, line: undefined as GaugeLine | undefined },
    ...seats,
    ...(isPicked && gaugeLineAt(record, components) ? [{ value: PICKED, name: gaugeLine.name, line: gaugeLine as GaugeLine }] : []),
  ];
  const now =
    !gaugeLine || !gaugeLineAt(record, components) ? MOUNT : isPicked ? PICKED : `${gaugeLine.pieceId} ${'seatId' in gaugeLine ? gaugeLine.seatId : ''}`;
  return (
    <>
      <Radio.Group
        label="lengths are told from"
        value={now}
        onChange={(v) => {
          const place = places.find((p) => p.value === v);
          if (place && v !== now) take(place.line, place.name);
        }}
      >
        {places.map((p) => (
          <Radio
            key={p.value}
            size="xs"
            mt={6}
            value={p.value}
            label={
              <>
                {p.name} <span className="number gauge-would">{by(p.line)}</span>
              </>
            }
          />
        ))}
      </Radio.Group>
      <Button size="compact-xs" variant="default" mt={10} onClick={onPick}>
        Pick it on the stage
      </Button>
    </>
  );
}
