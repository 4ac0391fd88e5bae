import { Button, Collapse, Group } from '@mantine/core';
import { type ReactNode, useState } from 'react';
import type { Vec3 } from '#core/math';
import { type ComponentRecord, type Connection, mountFrameOf } from '#core/records';
import { sayConnection } from '#core/standards';
import type { LengthUnit } from '#core/units';
import { LedgerEntry, sayOrigin } from '../../../ledger/ledger-entry.tsx';
import { addSeat, footAsMount, removeFoot, removeMount, removeSeat, setMount, typedOrigin } from '../bench-actions.ts';
import { ArmButton, EditToggle, type LedgerProps, offerFor } from '../ledger/entry-parts.tsx';
import { OfferLine } from '../reading/offer-line.tsx';
import { otherMountOffers } from '../reading/proposals.ts';
import { ConnectionEditor } from './frame-editor.tsx';

const origin0: Vec3 = [0, 0, 0];
const fileFrame = { origin: origin0, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 };

/** What joins a component to the machine: its mount, and other feet. */
export function MountEntry(props: LedgerProps) {
  const { record, unit, arm, onArm } = props;
  const [open, setOpen] = useState<string | null>(null);
  const { mount, feet = [] } = record;
  return (
    <LedgerEntry
      title="Mount"
      state={!mount ? 'missing' : props.mistakes.some((m) => m.at === 'mount') ? 'fail' : 'set'}
      waits={!mount || props.mistakes.some((m) => m.at === 'mount') || arm === 'mount' || arm === 'foot'}
      value={mount ? sayConnection(mount.connection) : 'none'}
      origin={mount?.origin}
      note={mount ? sayOrigin(mount.origin) : 'the connection towards the machine'}
    >
      {offerFor(props, 'mount')}
      {otherMountOffers(record, props.reading).map((offer) => (
        <OfferLine key={offer.text} id={record.id} offer={offer} onLook={props.onLook} />
      ))}
      <Group gap={6}>
        <ArmButton what="mount" arm={arm} onArm={onArm} label={mount ? 'Pick again' : 'Pick on the model'} />
        {!mount && (
          <Button
            size="compact-xs"
            variant="subtle"
            color="gray"
            onClick={() => setMount(record.id, fileFrame, { standard: 'cylindrical', size: 16 }, typedOrigin)}
          >
            Type it
          </Button>
        )}
        {mount && <EditToggle what="mount" open={open === 'mount'} onToggle={() => setOpen(open === 'mount' ? null : 'mount')} />}
        {mount && (
          <Button size="compact-xs" variant="subtle" color="gray" onClick={() => removeMount(record.id)}>
            Remove
          </Button>
        )}
      </Group>
      <Collapse expanded={open === 'mount' && mount !== null}>
        {mount && <ConnectionEditor componentId={record.id} what="mount" connection={mount} pose={record.pose} unit={unit} />}
      </Collapse>
      {feet.map((foot) => (
        <SubConnection
          key={foot.id}
          what="foot"
          {...{ record, unit, connection: foot }}
          isOpen={open === foot.id}
          onToggle={() => setOpen(open === foot.id ? null : foot.id)}
          onRemove={() => removeFoot(record.id, foot.id)}
        >
          <Button size="compact-xs" variant="default" onClick={() => footAsMount(record.id, foot.id)}>
            Make it the mount
          </Button>
        </SubConnection>
      ))}
      {mount && record.componentKind === 'station block' && (
        <Group>
          <ArmButton what="foot" arm={arm} onArm={onArm} label="Pick another foot" />
        </Group>
      )}
    </LedgerEntry>
  );
}

interface SubProps {
  readonly record: ComponentRecord;
  readonly what: 'seat' | 'foot';
  readonly connection: Connection;
  readonly unit: LengthUnit;
  readonly isOpen: boolean;
  readonly onToggle: () => void;
  readonly onRemove: () => void;
  readonly children?: ReactNode;
}

// One of several connections of a component, a line that opens.
function SubConnection({ record, what, connection, unit, isOpen, onToggle, onRemove, children }: SubProps) {
  return (
    <div className="ledger-sub">
      <Group justify="space-between" wrap="nowrap" gap={4}>
        <span className="sub-name">
          {connection.name}: <span className="number">{sayConnection(connection.connection)}</span>
        </span>
        <Group gap={0} wrap="nowrap">
          <EditToggle what={connection.name} open={isOpen} onToggle={onToggle} />
          <Button size="compact-xs" variant="subtle" color="gray" aria-label={`Remove ${connection.name}`} onClick={onRemove}>
            Remove
          </Button>
        </Group>
      </Group>
      <Collapse expanded={isOpen}>
        <ConnectionEditor componentId={record.id} what={what} connection={connection} pose={record.pose} unit={unit} />
        {children}
      </Collapse>
    </div>
  );
}

/** What joins others to a component. */
export function SeatsEntry(props: LedgerProps) {
  const { record, unit, arm, onArm } = props;
  const [open, setOpen] = useState<string | null>(null);
  return (
    <LedgerEntry
      title="Seats"
      state="set"
      waits={props.offers.some((o) => o.key === 'seats') || arm === 'seat'}
      origin={record.seats.length === 1 ? record.seats[0].origin : undefined}
      value={record.seats.length === 0 ? 'none' : record.seats.length === 1 ? sayConnection(record.seats[0].connection) : String(record.seats.length)}
      note="connections towards the work"
    >
      {record.seats.map((seat) => (
        <SubConnection
          key={seat.id}
          what="seat"
          {...{ record, unit, connection: seat }}
          isOpen={open === seat.id}
          onToggle={() => setOpen(open === seat.id ? null : seat.id)}
          onRemove={() => removeSeat(record.id, seat.id)}
        />
      ))}
      {offerFor(props, 'seats')}
      <Group gap={6}>
        <ArmButton what="seat" arm={arm} onArm={onArm} label="Pick a seat" />
        <Button
          size="compact-xs"
          variant="subtle"
          color="gray"
          onClick={() => addSeat(record.id, mountFrameOf(record), { standard: 'cylindrical', size: 16 }, typedOrigin)}
        >
          Type one
        </Button>
      </Group>
    </LedgerEntry>
  );
}
