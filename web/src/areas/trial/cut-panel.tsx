import { Button, Group, Select, Switch } from '@mantine/core';
import { useState } from 'react';
import { say } from '#core/issues';
import type { TrialRecord } from '#core/records';
import { type CutAnswer, type LoadedEdge, type Operation, type OperationKind, OPERATION_KINDS, operationSchema, sayOperation, withBlocks } from '#core/trial';
import type { LengthUnit } from '#core/units';
import { NumberField } from '../../common/number-field.tsx';
import { changeProgram } from '../../store/trial-actions.ts';
import { CUT_FIELDS, type CutField, isAsked, valueOf } from './cut-fields.ts';
import { sayTime } from './say-event.ts';

interface Props {
  readonly trial: TrialRecord;
  readonly edges: readonly LoadedEdge[];
  readonly unit: LengthUnit;
  readonly op: Operation | undefined;
  readonly onOp: (op: Operation) => void;
  /** What the cut would be; undefined until it is known. */
  readonly cut: CutAnswer | undefined;
  /** Whether the program before it runs: else nothing tells what is there to cut. */
  readonly isReady: boolean;
}

/** A cut as it begins: with the values that are usual, on the contour's own length. */
export function newCut(kind: OperationKind, { edge, carrier }: LoadedEdge, trial: TrialRecord): Operation {
  const zs = (trial.contour ?? []).flat().map((p) => p.from[0]);
  const front = zs.length > 0 ? Math.max(...zs) : 0;
  const thread = kind === 'thread' ? { pitch: 1.5, from: front, to: front - 10 } : {};
  const side = (kind === 'turn' || kind === 'groove' || kind === 'thread') && edge.atWork.inside ? { side: 'inside' } : {};
  return operationSchema.parse({
    kind,
    carrier: carrier.id,
    tool: edge.tool,
    ...(edge.offset === undefined ? {} : { offset: edge.offset }),
    ...thread,
    ...side,
  });
}

const keyOf = ({ row, edge }: LoadedEdge): string => `${row.place.id} ${edge.tool} ${edge.offset ?? ''}`;

/** Writes cuts from the contour: what is chosen is drawn in the section at once, and put at the end of the program where it is wanted. */
export function CutPanel({ trial, edges, unit, op, onOp, cut, isReady }: Props) {
  const [added, setAdded] = useState<string>();
  if (!trial.contour) return <p className="soft">Say what is to come out, under tried: cuts are written from it.</p>;
  if (edges.length === 0) return <p className="soft">No edge of the set-up works at this spindle.</p>;
  const chosen =
    edges.find((e) => op && e.carrier.id === op.carrier && e.edge.tool === op.tool && (op.offset === undefined || e.edge.offset === op.offset)) ?? edges[0];
  const set = (key: string, value: unknown) => {
    onOp(operationSchema.parse({ ...op, [key]: value }));
  };
  const written = cut && !cut.faults ? cut : undefined;
  // Of the programs the one that moves its carrier, else one that is not said to move another.
  const own = trial.programs.findIndex((p) => p.carrier === chosen.carrier.id);
  const index = own >= 0 ? own : trial.programs.findIndex((p) => p.carrier === null);
  const program = trial.programs.at(index);
  const add = () => {
    if (!written || !op || index < 0 || !program) return;
    changeProgram(trial.id, index, `Cut: ${sayOperation(op)}`, { text: withBlocks(program.text, written.text) });
    setAdded(sayOperation(op));
  };
  return (
    <section className="tried-panel" aria-label="Cuts">
      <div className="edge-numbers two">
        <Select
          size="xs"
          label="cut"
          allowDeselect={false}
          data={OPERATION_KINDS.map((k) => ({ value: k, label: k }))}
          value={op?.kind ?? null}
          onChange={(v) => {
            const kind = OPERATION_KINDS.find((k) => k === v);
            if (kind) onOp(newCut(kind, chosen, trial));
          }}
        />
        <Select
          size="xs"
          label="edge"
          allowDeselect={false}
          data={edges.map((e) => ({ value: keyOf(e), label: `${e.edge.tool} ${e.edge.own.name}` }))}
          value={keyOf(chosen)}
          onChange={(v) => {
            const edge = edges.find((e) => keyOf(e) === v);
            if (edge && op) onOp(operationSchema.parse({ ...op, carrier: edge.carrier.id, tool: edge.edge.tool, offset: edge.edge.offset }));
          }}
        />
        {op &&
          CUT_FIELDS[op.kind].filter((f) => isAsked(op, f)).map((f) => <Field key={f.key} field={f} op={op} unit={unit} onChange={(v) => set(f.key, v)} />)}
      </div>
      {!isReady && <p className="soft">The program has a fault: mend it first, so that it is known what is there to cut.</p>}
      <div aria-live="polite">
        {isReady && !cut && <p className="soft">Working it out…</p>}
        {cut?.faults && (
          <ul className="checks" role="alert">
            {cut.faults.map((f) => (
              <li key={say(f)} className="fail">
                <span className="ledger-mark fail" role="img" aria-label="fail" />
                {say(f)}
              </li>
            ))}
          </ul>
        )}
        {written && (
          <p>
            Takes {(written.removedVolume / 1000).toFixed(2)} cm³ away in {sayTime(written.time)}, {written.fed.toFixed(0)} mm fed,{' '}
            {written.text.split('\n').length} blocks.
          </p>
        )}
        {written && written.notes.length > 0 && (
          <ul className="checks">
            {written.notes.map((n) => (
              <li key={say(n)} className="warn">
                <span className="ledger-mark warn" role="img" aria-label="warn" />
                {say(n)}
              </li>
            ))}
          </ul>
        )}
      </div>
      <Group gap={6}>
        <Button size="compact-sm" disabled={!written || index < 0} onClick={add}>
          Add it to the program
        </Button>
        {index < 0 && <span className="soft">No program moves {chosen.carrier.name}: add one under program.</span>}
        {added !== undefined && (
          <span className="soft" role="status">
            Added: {added}.
          </span>
        )}
      </Group>
    </section>
  );
}

interface FieldProps {
  readonly field: CutField;
  readonly op: Operation;
  readonly unit: LengthUnit;
  readonly onChange: (value: unknown) => void;
}

function Field({ field, op, unit, onChange }: FieldProps) {
  const { key, label } = field;
  const value = valueOf(op, key);
  if (field.kind === 'choice')
    return <Select size="xs" label={label} allowDeselect={false} data={field.data.map((d) => ({ ...d }))} value={String(value)} onChange={onChange} />;
  if (field.kind === 'yes') return <Switch size="xs" label={label} checked={value === true} onChange={(e) => onChange(e.currentTarget.checked)} mt={22} />;
  const number = typeof value === 'number' ? value : undefined;
  const shared = { label, value: number, onCommit: onChange, ...(field.isOptional ? { placeholder: 'by itself', onClear: () => onChange(undefined) } : {}) };
  if (field.kind === 'length') return <NumberField kind="length" unit={unit} {...shared} min={field.least} max={field.most} />;
  // What counts is a whole number.
  const onCommit = (v: number) => onChange(field.digits === 0 ? Math.round(v) : v);
  return <NumberField kind="plain" mark={field.mark} digits={field.digits} {...shared} onCommit={onCommit} min={field.least} max={field.most} />;
}
