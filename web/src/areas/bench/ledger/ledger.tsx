import { Button, Collapse, Group, Select } from '@mantine/core';
import { type ReactNode, useMemo, useState } from 'react';
import { frameFromWorld, move, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import { COMPONENT_KINDS, type ComponentRecord, type Connection, missingMarks, mountFrameOf, type Tip, virtualTipOf } from '#core/records';
import type { FaceRef, Mistake, Reading } from '#core/reading';
import { sayConnection } from '#core/standards';
import { formatLength, type LengthUnit } from '#core/units';
import { changeComponent } from '../../../app/store.ts';
import { NumberField } from '../../../common/number-field.tsx';
import {
  addSeat,
  addTypedTip,
  type Connecting,
  editTip,
  footAsMount,
  removeFoot,
  removeMount,
  removeSeat,
  removeTip,
  setMount,
  typedOrigin,
} from '../bench-actions.ts';
import { FactsEntry } from '../reading/facts-entry.tsx';
import { ConnectionEditor } from '../marks/frame-editor.tsx';
import { GeometryEntry } from '../geometry/geometry-entry.tsx';
import { PlanEntry } from '../geometry/plan-entry.tsx';
import { InsertEntry } from '../bodies/insert-entry.tsx';
import { LedgerEntry, LedgerOf, sayOrigin } from '../../../ledger/ledger-entry.tsx';
import { OfferLine, OfferSummary } from '../reading/offer-line.tsx';
import { PoseEntry } from '../marks/pose-entry.tsx';
import { type Offer, type OfferKey, otherMountOffers, SURE_ENOUGH, sureOffers } from '../reading/proposals.ts';
import { cutAtSplit } from '../bodies/cut-split.ts';
import { CuttingEntry } from '../cutting/cutting-entry.tsx';
import { DataEntry } from '../bodies/data-entry.tsx';
import { Materials } from '../bodies/materials.tsx';
import { WhenOpen } from '../../../ledger/when-open.tsx';
import { OutlineEntry, SplitEntry, UnitEntry } from '../bodies/source-entry.tsx';

/** What the next pick is for. */
export type Arm = Connecting | 'tip' | null;

interface LedgerProps {
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

/** Everything a component still needs, in any order: each entry with its value, its origin and what to do about it. */
export function Ledger(props: LedgerProps) {
  const { record, model, unit, offers, reading, mistakes } = props;
  const { mount, seats, tips } = record;
  const standing = useMemo(() => ({ id: record.id, picked: props.picked }), [record.id, props.picked]);
  const missing = missingMarks(record);
  const cuts = !['holder', 'adapter', 'station block'].includes(record.componentKind);
  const hasRoles = record.bodies.length === 1 || !cuts || record.bodies.some((b) => b.role !== 'tool body');
  return (
    <LedgerOf.Provider value={standing}>
      <div className="ledger" role="region" aria-label="Ledger">
        <div className="ledger-head">
          <h2>Ledger</h2>
          <p className="ledger-summary" role="status">
            {sayStanding(missing, mistakes.length)}
          </p>
          <OfferSummary id={record.id} offers={sureOffers(offers)} reading={reading === undefined} cut={sureCut(record, reading, unit)} />
        </div>
        {mistakes.map((m) => (
          <p key={m.code + m.place.join()} className="ledger-mistake" role="alert">
            <span className="ledger-mark fail" role="img" aria-label="wrong" />
            {m.message}
          </p>
        ))}
        {offers.length > 0 &&
          (reading?.warnings ?? [])
            .filter((w) => w.code !== 'unit')
            .map((w) => (
              <p key={w.code} className="ledger-hint warn">
                {w.message}
              </p>
            ))}
        <h3>Model</h3>
        <LedgerEntry
          title="Kind"
          state={record.componentKind === 'other' ? 'missing' : 'set'}
          waits={offers.some((o) => o.key === 'kind')}
          value={record.componentKind === 'other' ? 'not said' : record.componentKind}
        >
          <KindSelect record={record} />
          {offerFor(props, 'kind')}
        </LedgerEntry>
        {record.source.kind === 'outline' ? (
          <OutlineEntry record={record} outlineId={record.source.outline} />
        ) : record.source.kind === 'data' ? (
          <DataEntry record={record} spec={record.source.spec} unit={unit} />
        ) : (
          <UnitEntry record={record} reading={reading} />
        )}
        <LedgerEntry
          title="Bodies"
          state={hasRoles ? 'set' : 'missing'}
          waits={!hasRoles || offers.some((o) => o.key === 'roles')}
          value={String(record.bodies.length)}
          note={hasRoles ? sayRoles(record) : 'all are tool body; say which one cuts, in the list on the stage'}
        >
          {offerFor(props, 'roles')}
          <WhenOpen>
            <Materials record={record} />
          </WhenOpen>
        </LedgerEntry>
        <SplitEntry record={record} reading={reading} unit={unit} onPickFaces={props.onPickFaces} />
        <InsertEntry record={record} model={model} unit={unit} />
        <PoseEntry record={record} unit={unit} />
        <h3>Marks</h3>
        <MountEntry {...props} />
        <SeatsEntry {...props} />
        <TipsEntry {...props} />
        <FactsEntry record={record} model={model} unit={unit} />
        <CuttingEntry record={record} unit={unit} />
        <h3>Geometry</h3>
        <GeometryEntry record={record} target="cutting" unit={unit} />
        <GeometryEntry record={record} target="non-cutting" unit={unit} />
        <PlanEntry record={record} unit={unit} />
        {seats.length === 0 && !mount && tips.length === 0 && (
          <p className="ledger-hint">Point at the model: whatever is under the pointer is named. Tab goes to what lies behind.</p>
        )}
      </div>
    </LedgerOf.Provider>
  );
}

// What cuts of a one-solid tool, where it is sure enough to be taken with the rest.
function sureCut(record: ComponentRecord, reading: Reading | null | undefined, unit: LengthUnit): (() => void) | undefined {
  const [split] = reading?.splits ?? [];
  const frame = reading?.mount?.frame;
  if (!split || !frame || split.confidence < SURE_ENOUGH || record.cuts.length > 0 || record.bodies.length > 1) return undefined;
  return () => cutAtSplit(record.id, split, frame, unit);
}

function sayStanding(missing: readonly unknown[], wrong: number): string {
  if (wrong > 0) return wrong === 1 ? 'one thing is wrong' : `${wrong} things are wrong`;
  return missing.length > 0 ? `still to mark: ${missing.join(', ')}` : 'marked and ready to build';
}

const offerFor = ({ record, offers, onLook }: LedgerProps, key: OfferKey) => {
  const offer = offers.find((o) => o.key === key);
  return offer && <OfferLine id={record.id} offer={offer} onLook={onLook} />;
};

function KindSelect({ record }: { record: ComponentRecord }) {
  return (
    <Select
      size="xs"
      w={130}
      aria-label="Kind of component"
      data={[...COMPONENT_KINDS]}
      value={record.componentKind}
      allowDeselect={false}
      onChange={(k) => k && changeComponent(record.id, `Kind: ${k}`, () => ({ componentKind: k }))}
    />
  );
}

const sayRoles = (record: ComponentRecord): string =>
  (['tool body', 'cutting', 'hardware', 'left out'] as const)
    .map((role) => [record.bodies.filter((b) => b.role === role).length, role] as const)
    .filter(([n]) => n > 0)
    .map(([n, role]) => `${n} ${role}`)
    .join(' · ');

function ArmButton({ what, arm, onArm, label }: { what: Exclude<Arm, null>; arm: Arm; onArm: (arm: Arm) => void; label: string }) {
  return (
    <Button size="compact-xs" variant={arm === what ? 'filled' : 'light'} aria-pressed={arm === what} onClick={() => onArm(arm === what ? null : what)}>
      {arm === what ? 'Picking… (Esc stops)' : label}
    </Button>
  );
}

function EditToggle({ open, onToggle, what }: { open: boolean; onToggle: () => void; what: string }) {
  return (
    <Button size="compact-xs" variant="subtle" color="gray" aria-expanded={open} aria-label={`${open ? 'Close' : 'Edit'} ${what}`} onClick={onToggle}>
      {open ? 'Close' : 'Edit'}
    </Button>
  );
}

const origin0: Vec3 = [0, 0, 0];
const fileFrame = { origin: origin0, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 };

function MountEntry(props: LedgerProps) {
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

function SeatsEntry(props: LedgerProps) {
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

const CORNERS = ['+X +Z', '+X -Z', '-X -Z', '-X +Z', '+X', '-X', '+Z', '-Z', 'none'] as const;
const cornerText = ({ x, z }: Tip['corner']): string =>
  [x === 0 ? '' : x > 0 ? '+X' : '-X', z === 0 ? '' : z > 0 ? '+Z' : '-Z'].filter(Boolean).join(' ') || 'none';
const cornerOfText = (text: string): Tip['corner'] => ({
  x: text.includes('+X') ? 1 : text.includes('-X') ? -1 : 0,
  z: text.includes('+Z') ? 1 : text.includes('-Z') ? -1 : 0,
});

const RUNS: NonNullable<Tip['runs']>[] = (['M3', 'M4'] as const).flatMap((sense) =>
  (['towards the chuck', 'away from it'] as const).map((feed) => ({ sense, feed })),
);
const sayRuns = ({ sense, feed }: NonNullable<Tip['runs']>): string => `${sense}, ${feed}`;

function TipsEntry(props: LedgerProps) {
  const { record, unit, arm, onArm } = props;
  const [open, setOpen] = useState<string | null>(null);
  const mount = mountFrameOf(record);
  const mountFromFile = frameFromWorld(mount);
  const needsTip = record.bodies.some((b) => b.role === 'cutting');
  const mm = (v: number) => formatLength(v, unit);
  return (
    <LedgerEntry
      title="Tip"
      state={props.mistakes.some((m) => m.at === 'tip') ? 'fail' : record.tips.length === 0 && needsTip ? 'missing' : 'set'}
      waits={(record.tips.length === 0 && needsTip) || props.mistakes.some((m) => m.at === 'tip') || arm === 'tip' || props.offers.some((o) => o.key === 'tip')}
      value={record.tips[0] ? `RE ${mm(record.tips[0].noseRadius)}` : 'none'}
      origin={record.tips[0]?.origin}
      note={record.tips[0] ? sayOrigin(record.tips[0].origin) : 'pick the rounded edge of the cutting corner'}
    >
      {record.tips.map((tip) => {
        const p = move(mountFromFile, virtualTipOf(tip, mount));
        const off = Math.abs(p[1]) > 0.05;
        return (
          <div key={tip.id} className="ledger-sub">
            <Group justify="space-between" wrap="nowrap" gap={4}>
              <span className="sub-name">{tip.name}</span>
              <Group gap={0} wrap="nowrap">
                <EditToggle what={tip.name} open={open === tip.id} onToggle={() => setOpen(open === tip.id ? null : tip.id)} />
                <Button size="compact-xs" variant="subtle" color="gray" aria-label={`Remove ${tip.name}`} onClick={() => removeTip(record.id, tip.id)}>
                  Remove
                </Button>
              </Group>
            </Group>
            {record.mount && (
              <dl className="facts">
                <dt>LF</dt>
                <dd>{mm(p[2])}</dd>
                <dt>WF</dt>
                <dd>{mm(p[0])}</dd>
                <dt>centre height</dt>
                <dd className={off ? 'warn' : ''}>{mm(p[1])}</dd>
              </dl>
            )}
            <Collapse expanded={open === tip.id}>
              <TipEditor record={record} tip={tip} unit={unit} />
            </Collapse>
          </div>
        );
      })}
      {offerFor(props, 'tip')}
      <Group gap={6}>
        <ArmButton what="tip" arm={arm} onArm={onArm} label={record.tips.length > 0 ? 'Pick another' : 'Pick on the model'} />
        <Button size="compact-xs" variant="subtle" color="gray" onClick={() => addTypedTip(record.id)}>
          Type it
        </Button>
      </Group>
    </LedgerEntry>
  );
}

function TipEditor({ record, tip, unit }: { record: ComponentRecord; tip: Tip; unit: LengthUnit }) {
  const mount = mountFrameOf(record);
  const c = move(frameFromWorld(mount), tip.noseCentre);
  const setCentre = (k: number, v: number) => {
    const next = c.map((old, i) => (i === k ? v : old)) as unknown as Vec3;
    const y: Vec3 = [
      mount.z[1] * mount.x[2] - mount.z[2] * mount.x[1],
      mount.z[2] * mount.x[0] - mount.z[0] * mount.x[2],
      mount.z[0] * mount.x[1] - mount.z[1] * mount.x[0],
    ];
    const noseCentre = [0, 1, 2].map((i) => mount.origin[i] + next[0] * mount.x[i] + next[1] * y[i] + next[2] * mount.z[i]) as unknown as Vec3;
    editTip(record.id, tip.id, 'Nose centre', { noseCentre, origin: typedOrigin });
  };
  return (
    <div className="frame-editor">
      <div className="triple">
        {[0, 1, 2].map((k) => (
          <NumberField key={k} kind="length" unit={unit} label={`centre ${'XYZ'[k]}`} value={c[k]} onCommit={(v) => setCentre(k, v)} />
        ))}
      </div>
      <Group gap={6} wrap="nowrap" align="end">
        <NumberField
          kind="length"
          unit={unit}
          label="nose radius"
          min={0}
          max={500}
          value={tip.noseRadius}
          onCommit={(noseRadius) => editTip(record.id, tip.id, 'Nose radius', { noseRadius, origin: typedOrigin })}
        />
        <Select
          size="xs"
          label="corner points to"
          data={[...CORNERS]}
          value={cornerText(tip.corner)}
          allowDeselect={false}
          onChange={(t) => t && editTip(record.id, tip.id, 'Corner', { corner: cornerOfText(t), towards: undefined })}
        />
      </Group>
      <Select
        size="xs"
        label="runs with"
        data={RUNS.map(sayRuns)}
        value={tip.runs ? sayRuns(tip.runs) : null}
        placeholder="not said"
        clearable
        onChange={(t) => editTip(record.id, tip.id, t ? `Runs with ${t}` : 'Runs with: not said', { runs: RUNS.find((r) => sayRuns(r) === t) })}
      />
      <Select
        size="xs"
        label="programmed point"
        data={['virtual tip', 'nose centre']}
        value={tip.programmedPoint}
        allowDeselect={false}
        onChange={(p) => p && editTip(record.id, tip.id, `Programmed point: ${p}`, { programmedPoint: p })}
      />
    </div>
  );
}
