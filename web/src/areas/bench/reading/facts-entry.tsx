import { TextInput } from '@mantine/core';
import { lazy, useEffect, useMemo, useState } from 'react';
import type { Model } from '#core/mesh';
import { compareTiltedEdge, usualPose, compareWithDesignation, cornerOfTip, type Fact, type ToolFacts } from '#core/reading';
import type { ComponentRecord } from '#core/records';
import { type Designation, readDesignation } from '#core/standards';
import { sayWhat } from '#core/issues';
import { formatAngleDeg, formatLength, type LengthUnit } from '#core/units';
import { roundTo } from '#core/math';
import { changeComponent } from '../../../app/store.ts';
import { NumberField } from '../../../common/number-field.tsx';
import { geometryClient, withHeldModel } from '../../../workers/geometry-client.ts';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { WhenOpen } from '../../../ledger/when-open.tsx';

// The chart library is larger than the rest of the Bench: it comes when a bar is on it.
const BoreChart = lazy(() => import('../../../common/bore-chart.tsx'));
const EdgeChart = lazy(() => import('./edge-chart.tsx'));

const sayFact = ({ value, kind }: Pick<Fact, 'value' | 'kind'>, unit: LengthUnit): string =>
  typeof value === 'string' ? value : kind === 'length' ? formatLength(value, unit) : kind === 'angle' ? formatAngleDeg(roundTo(value, 2)) : String(value);

/** What the designation of a component says, or why it cannot be read. */
export function useDesignation(record: Pick<ComponentRecord, 'designation'>): { said?: Designation; fault?: string } {
  return useMemo(() => {
    if (!record.designation.trim()) return {};
    const read = readDesignation(record.designation);
    return read.ok ? { said: read.value } : { fault: sayWhat(read.issues[0]) };
  }, [record.designation]);
}

// The facts follow the marks; they are computed in the worker, and an older answer is dropped.
function useFacts(record: ComponentRecord, model: Model): ToolFacts | undefined {
  const [facts, setFacts] = useState<ToolFacts>();
  const { mount, tips, bodies } = record;
  useEffect(() => {
    let live = true;
    if (!mount && tips.length === 0) {
      setFacts(undefined);
      return;
    }
    void geometryClient
      .run<ToolFacts>({ job: 'measuring the tool', limitSeconds: 60 }, (remote) =>
        withHeldModel(
          remote,
          record.model.blob,
          () => Promise.resolve(model),
          () => remote.facts(record),
        ),
      )
      .then((r) => {
        if (live && r.state === 'done') setFacts(r.value);
      });
    return () => {
      live = false;
    };
    // biome-ignore lint: only what the facts depend on
  }, [mount, tips, bodies, model]); // oxlint-disable-line react/exhaustive-deps
  return facts;
}

/** The facts of the tool by their ISO 13399 names, beside what its designation says, and the bore it can work in. */
export function FactsEntry({ record, model, unit }: { record: ComponentRecord; model: Model; unit: LengthUnit }) {
  const facts = useFacts(record, model);
  const { said, fault } = useDesignation(record);
  const differences = useMemo(() => (said && facts ? compareWithDesignation(said, facts.facts, record) : []), [said, facts, record]);
  const wrong = differences.filter((d) => !d.agrees);
  const lf = facts?.facts.find((f) => f.key === 'LF');
  if (!facts && !record.designation && !record.mount) return null;
  return (
    <LedgerEntry
      title="Facts"
      state={wrong.length > 0 ? 'warn' : 'set'}
      value={lf ? `LF ${sayFact(lf, unit)}` : undefined}
      note={wrong.length > 0 ? 'the model is not what its designation says' : 'measured on the model'}
    >
      <DesignationField record={record} fault={fault} said={said} />
      {wrong.map((d) => (
        <p key={d.name} className="ledger-hint warn">
          {d.name}: {said?.code} says {sayFact({ value: d.said, kind: d.kind }, unit)}, the model has {sayFact({ value: d.read, kind: d.kind }, unit)}.
        </p>
      ))}
      {said && differences.length > 0 && wrong.length === 0 && (
        <p className="ledger-hint">
          Agrees with {said.code} in {differences.map((d) => d.name).join(', ')}.
        </p>
      )}
      {facts && (
        <dl className="facts">
          {facts.facts.map((f) => (
            <FactRow key={f.key + f.name} fact={f} unit={unit} />
          ))}
        </dl>
      )}
      {facts?.minimumBore && (
        <WhenOpen>
          <BoreChart bore={facts.minimumBore} of="holder and hardware" unit={unit} />
        </WhenOpen>
      )}
      {facts && <TiltedEdge record={record} model={model} unit={unit} />}
    </LedgerEntry>
  );
}

function FactRow({ fact, unit }: { fact: Fact; unit: LengthUnit }) {
  return (
    <>
      <dt title={fact.name}>
        {fact.key ? <b>{fact.key}</b> : null} {fact.name}
      </dt>
      <dd>{sayFact(fact, unit)}</dd>
    </>
  );
}

function DesignationField({ record, fault, said }: { record: ComponentRecord; fault: string | undefined; said: Designation | undefined }) {
  const [text, setText] = useState(record.designation);
  useEffect(() => setText(record.designation), [record.designation]);
  const commit = () => {
    const next = text.trim().slice(0, 100);
    if (next !== record.designation) changeComponent(record.id, next ? `Designation ${next}` : 'No designation', () => ({ designation: next }));
  };
  return (
    <TextInput
      size="xs"
      label="Designation"
      placeholder="DCLNL 2525M12, CCMT 060204 …"
      value={text}
      error={fault}
      description={said && `${said.standard}`}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(e) => e.key === 'Enter' && commit()}
    />
  );
}

// A tilted insert cuts another profile than a flat one: by how much, at a work diameter that is typed.
function TiltedEdge({ record, model, unit }: { record: ComponentRecord; model: Model; unit: LengthUnit }) {
  const [diameter, setDiameter] = useState(40);
  const { mount, tips, bodies, componentKind } = record;
  const corner = useMemo(() => (mount && tips[0] ? cornerOfTip({ bodies }, model, tips[0]) : undefined), [mount, tips, bodies, model]);
  const edge = useMemo(
    () => (mount && corner ? compareTiltedEdge(corner, mount.frame, usualPose({ mount, componentKind }), diameter) : []),
    [mount, componentKind, corner, diameter],
  );
  const worst = edge.reduce((m, e) => Math.max(m, Math.abs(e.difference)), 0);
  // Below a tenth of a micrometre the insert is flat and on the centre.
  if (worst < 1e-4) return null;
  return (
    <div className="bore-chart">
      <NumberField
        kind="length"
        unit={unit}
        label="Tilted edge against the flat one, at a work diameter of"
        min={0.5}
        max={2000}
        value={diameter}
        onCommit={setDiameter}
      />
      <p className="ledger-hint">
        up to <span className="number">{roundTo(worst * 1000, 1)} µm</span> across the edge, within 2 mm of the nose
      </p>
      <WhenOpen>
        <EdgeChart edge={edge} />
      </WhenOpen>
    </div>
  );
}
