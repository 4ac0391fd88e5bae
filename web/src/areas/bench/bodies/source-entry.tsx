import { Button, Group, Select } from '@mantine/core';
import { useState } from 'react';
import { addScaled, type Frame, fromZAndX, move, frameFromWorld, roundTo } from '#core/math';
import type { FaceRef, Reading } from '#core/reading';
import { type ComponentRecord, type CutRecord, mountFrameOf, withCuts, withUnitScale } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { newId } from '../../../common/new-id.ts';
import { Link } from 'react-router';
import { selectOutline, useAppSelector } from '../../../app/store.ts';
import { reworkComponent } from '../../../store/library-actions.ts';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { cutAcross, cutAtSplit, rectangle } from './cut-split.ts';

const UNITS: Record<string, number> = { mm: 1, inch: 25.4, cm: 10, m: 1000, µm: 0.001 };
const nameOfScale = (scale: number): string | undefined => Object.entries(UNITS).find(([, f]) => Math.abs(f - scale) < 1e-9 * f)?.[0];

/** The unit of the file, and another one where it is wrong; marks grow with the model. */
export function UnitEntry({ record, reading }: { record: ComponentRecord; reading: Reading | null | undefined }) {
  const { unit, unitScale, foundScale, format } = record.source;
  const doubt = reading?.warnings.find((w) => w.code === 'unit');
  const changed = Math.abs(unitScale - foundScale) > 1e-9;
  const hasUnit = format !== 'stl' && format !== 'obj';
  return (
    <LedgerEntry
      title="Unit"
      state={doubt ? 'warn' : 'set'}
      origin={{ from: changed ? 'typed' : 'read', evidence: '' }}
      value={nameOfScale(unitScale) ?? `${roundTo(unitScale, 6)} mm`}
      note={
        changed
          ? `the file ${hasUnit ? `says ${unit}` : 'has none'}; taken as ${nameOfScale(unitScale) ?? `${roundTo(unitScale, 6)} mm`} by hand`
          : hasUnit
            ? `${unit}, read from the file · 1 = ${roundTo(unitScale, 6)} mm`
            : `${format.toUpperCase()} has no unit; taken as mm`
      }
    >
      {doubt && <p className="ledger-hint warn">{doubt.message}</p>}
      <Select
        size="xs"
        w={92}
        aria-label="Unit of the file"
        data={Object.keys(UNITS)}
        value={nameOfScale(unitScale) ?? null}
        placeholder={unit}
        allowDeselect={false}
        onChange={(u) => u && u !== nameOfScale(unitScale) && void reworkComponent(record.id, `Unit: ${u}`, (r) => withUnitScale(r, UNITS[u]))}
      />
    </LedgerEntry>
  );
}

/** The outline that a component was made of, which it follows. */
export function OutlineEntry({ record, outlineId }: { record: ComponentRecord; outlineId: string }) {
  const outline = useAppSelector((s) => selectOutline(s, outlineId));
  return (
    <LedgerEntry
      title="Outline"
      state="set"
      value={outline?.name ?? 'not there any more'}
      note={outline ? 'this component follows it; what is marked by hand stays' : 'the component stays as it was made last'}
    >
      {outline && (
        <Button
          component={Link}
          to={`/outline/${outline.id}`}
          size="compact-xs"
          variant="default"
          style={{ alignSelf: 'flex-start' }}
          aria-label={`Open the outline of ${record.name}`}
        >
          Open the outline
        </Button>
      )}
    </LedgerEntry>
  );
}

/** A tool that is one solid: cutting its cutting part off as a body of its own, by a length from the tip or by a box around it. */
export function SplitEntry({
  record,
  reading,
  unit,
  onPickFaces,
}: {
  record: ComponentRecord;
  reading: Reading | null | undefined;
  unit: LengthUnit;
  onPickFaces: (faces: readonly FaceRef[]) => void;
}) {
  const [long, setLong] = useState(10);
  const tip = record.tips[0];
  const found = reading?.tips[0];
  const split = reading?.splits?.[0];
  // Of a drill of which nothing says where it begins to cut there is nothing to cut off.
  const canCut = split !== undefined || ((reading?.isFused ?? false) && found?.kind !== 'point');
  const isFused = canCut && record.cuts.length === 0 && !record.bodies.some((b) => b.role === 'cutting');
  if (!isFused && record.cuts.length === 0) return null;
  const place = tip ? { centre: tip.noseCentre, radius: tip.noseRadius } : found && { centre: found.noseCentre, radius: found.noseRadius };
  const mount = record.mount?.frame ?? reading?.mount?.frame ?? mountFrameOf(record);
  const body = found?.body ?? record.bodies[0].id;
  const cut = (c: Omit<CutRecord, 'id' | 'body'>) => {
    const made = { id: newId(), body, ...c };
    void reworkComponent(record.id, `Cut: ${c.note}`, (r) => withCuts(r, [...r.cuts, made]));
  };
  const byLength = () => {
    if (!place) return;
    const z = move(frameFromWorld(mount), place.centre)[2] + place.radius - long;
    cut({
      ...cutAcross(mount, z),
      note: `${formatLength(long, unit)} from the tip`,
    });
  };
  const byBox = () => {
    if (!place || !found) return;
    const frame: Frame = fromZAndX(addScaled(place.centre, found.towards, place.radius), found.rake, found.towards);
    // Below the rake face as deep as a usual insert is thick for its length.
    cut({
      frame,
      outline: rectangle(-long, 1, -long, long),
      from: -Math.max(2, 0.4 * long),
      to: 8,
      note: `a box of ${formatLength(long, unit)} around the corner`,
    });
  };
  return (
    <LedgerEntry
      title="Cutting part"
      state={record.cuts.length > 0 ? 'set' : 'missing'}
      value={record.cuts.length > 0 ? `cut off, ${record.cuts.length}` : 'one solid'}
      note={record.cuts.length > 0 ? 'a body of its own, made from the vendor’s solid' : 'the file has no separate cutting part: cut it off here'}
    >
      {record.cuts.map((c) => (
        <Group key={c.id} justify="space-between" wrap="nowrap" gap={6}>
          <span className="sub-name">{c.note}</span>
          <Button
            size="compact-xs"
            variant="subtle"
            color="gray"
            aria-label={`Remove the cut ${c.note}`}
            onClick={() =>
              void reworkComponent(record.id, 'Removed a cut', (r) =>
                withCuts(
                  r,
                  r.cuts.filter((o) => o.id !== c.id),
                ),
              )
            }
          >
            Remove
          </Button>
        </Group>
      ))}
      {record.cuts.length === 0 && split && (
        <div className="ledger-offer">
          <span>
            proposed <b>{formatLength(split.to - split.from, unit)} that cut</b> <span className="number">{split.confidence.toFixed(2)}</span>
            <span className="ledger-evidence">{split.evidence}</span>
          </span>
          <Button
            size="compact-xs"
            variant="light"
            flex="none"
            aria-label="Cut off what cuts"
            onClick={() => cutAtSplit(record.id, split, reading?.mount?.frame ?? mount, unit)}
          >
            cut off
          </Button>
        </div>
      )}
      {record.cuts.length === 0 && (
        <Group gap={6} wrap="nowrap" align="end">
          <NumberField kind="length" unit={unit} label="From the tip" min={0.5} max={500} value={long} onCommit={setLong} w={90} />
          <Button size="xs" variant="default" disabled={!place} onClick={byBox} title="A box around the cutting corner, in the plane of its rake face">
            Cut a box
          </Button>
          <Button size="xs" variant="default" disabled={!place} onClick={byLength} title="Everything nearer to the tip than this, along the tool">
            Cut across
          </Button>
        </Group>
      )}
      {record.cuts.length === 0 && found && found.kind !== 'point' && (
        <Group gap={6}>
          <Button
            size="compact-xs"
            variant="default"
            title="Picks the faces at the corner; add to them or take from them on the stage, then cut around them"
            onClick={() => onPickFaces(found.faces.map((face) => ({ body: found.body, face })))}
          >
            Cut around its faces…
          </Button>
        </Group>
      )}
    </LedgerEntry>
  );
}
