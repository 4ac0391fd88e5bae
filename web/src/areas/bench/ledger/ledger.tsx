import { Select } from '@mantine/core';
import { useMemo } from 'react';
import { COMPONENT_KINDS, type ComponentRecord, missingMarks } from '#core/records';
import type { Reading } from '#core/reading';
import type { LengthUnit } from '#core/units';
import { changeComponent } from '../../../app/store.ts';
import { LedgerEntry, LedgerOf } from '../../../ledger/ledger-entry.tsx';
import { WhenOpen } from '../../../ledger/when-open.tsx';
import { cutAtSplit } from '../bodies/cut-split.ts';
import { DataEntry } from '../bodies/data-entry.tsx';
import { InsertEntry } from '../bodies/insert-entry.tsx';
import { Materials } from '../bodies/materials.tsx';
import { OutlineEntry, SplitEntry, UnitEntry } from '../bodies/source-entry.tsx';
import { CuttingEntry } from '../cutting/cutting-entry.tsx';
import { GeometryEntry } from '../geometry/geometry-entry.tsx';
import { PlanEntry } from '../geometry/plan-entry.tsx';
import { MountEntry, SeatsEntry } from '../marks/connection-entries.tsx';
import { PoseEntry } from '../marks/pose-entry.tsx';
import { TipsEntry } from '../marks/tips-entry.tsx';
import { FactsEntry } from '../reading/facts-entry.tsx';
import { OfferSummary } from '../reading/offer-line.tsx';
import { SURE_ENOUGH, sureOffers } from '../reading/proposals.ts';
import { type LedgerProps, offerFor } from './entry-parts.tsx';

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
