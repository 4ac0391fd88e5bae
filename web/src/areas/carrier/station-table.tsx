import { memo } from 'react';
import { useMergedRef } from '@mantine/hooks';
import type { Clearance, EdgeRow, SetUpTable, StationRow } from '#core/carrier';
import { type Carrier, type Check, worstOf } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { useDragged, useStationTarget } from './drag.tsx';
import { checksOf, shownStations, STATE_WORDS } from './say-row.ts';

interface Props {
  readonly carrier: Carrier;
  readonly table: SetUpTable;
  readonly room: readonly Clearance[] | undefined;
  readonly chosen: number;
  readonly unit: LengthUnit;
  /** That the control counts in. */
  readonly told: LengthUnit;
  readonly onChoose: (station: number) => void;
}

const HEADS: readonly [text: string, title: string, isNumber?: boolean][] = [
  ['station', 'and what stands there'],
  ['edge', ''],
  ['T', 'tool number', true],
  ['D', 'offset number', true],
  ['spindle', ''],
  ['tip', 'tip orientation, as the control calls it', true],
  ['sense', 'that the spindle turns with, from the rake face'],
  ['X', 'of the programmed point about the reference of the carrier, as the control tells it', true],
  ['Z', 'of the programmed point about the reference of the carrier, in the unit of the control', true],
  ['past the axis', 'how far the point gets beyond the spindle axis', true],
  ['room', 'the least distance of its neighbours, the disc or head and its own other side to chuck, jaws and work, wherever it works', true],
];

/** Every station of a carrier with its edges: what the control is to be told, and what is wrong. */
export const StationTable = memo(function StationTable({ carrier, table, room, chosen, unit, told, onChoose }: Props) {
  const rows = table.stations.filter((r) => r.place.carrierId === carrier.id);
  return (
    <div className="station-table" role="region" aria-label="Station table" tabIndex={0}>
      <table>
        <thead>
          <tr>
            {HEADS.map(([text, title, isNumber]) => (
              <th key={text} title={title || undefined} className={isNumber ? 'number' : undefined} scope="col">
                {text}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {runsOf(shownStations(carrier, table.stations), rows).map((run) =>
            run.held.length > 0 ? (
              run.held.flatMap((row) => rowsOf(row, row.place.station === chosen, room, [unit, told], onChoose))
            ) : (
              <tr key={run.stations[0]} className="empty-station">
                <td colSpan={HEADS.length}>
                  {run.stations.map((station) => (
                    <EmptyPlace key={station} station={station} isChosen={station === chosen} onChoose={onChoose} />
                  ))}{' '}
                  empty
                </td>
              </tr>
            ),
          )}
        </tbody>
      </table>
    </div>
  );
});

function EmptyPlace({ station, isChosen, onChoose }: { station: number; isChosen: boolean; onChoose: (station: number) => void }) {
  const target = useStationTarget(`empty ${station}`, station);
  return (
    <button
      type="button"
      ref={target.ref}
      data-chosen={isChosen || undefined}
      data-over={target.isOver || undefined}
      aria-label={`Station ${station}, empty`}
      onClick={() => onChoose(station)}
    >
      {station}
    </button>
  );
}

interface Run {
  readonly stations: readonly number[];
  readonly held: readonly StationRow[];
}

// Each station that holds something, and empty ones together as far as they follow one another.
function runsOf(stations: readonly number[], rows: readonly StationRow[]): Run[] {
  const runs: Run[] = [];
  for (const station of stations) {
    const held = rows.filter((r) => r.place.station === station);
    const last = runs.at(-1);
    if (held.length === 0 && last?.held.length === 0) runs[runs.length - 1] = { stations: [...last.stations, station], held };
    else runs.push({ stations: [station], held });
  }
  return runs;
}

function rowsOf(row: StationRow, isChosen: boolean, room: Props['room'], [unit, told]: readonly [LengthUnit, LengthUnit], onChoose: Props['onChoose']) {
  const state = worstOf(checksOf(row, room));
  const { place, assembly, edges } = row;
  const count = Math.max(1, edges.length);
  const of = room?.filter((c) => c.carrier === place.carrierId && c.working === place.station);
  const least = of && of.length > 0 ? of.reduce((a, b) => (b.distance < a.distance ? b : a)) : undefined;
  return Array.from({ length: count }, (_, i) => {
    const edge: EdgeRow | undefined = edges[i];
    return (
      <tr key={`${place.id} ${i}`} data-chosen={isChosen || undefined} onClick={() => onChoose(place.station)}>
        {i === 0 && (
          <td rowSpan={count}>
            <HeldPlace id={place.id} station={place.station} name={assembly?.name ?? 'gone from the Shelf'} state={state} onChoose={onChoose} />
          </td>
        )}
        {edge ? <EdgeCells edge={edge} told={told} /> : <td colSpan={8}>no tip</td>}
        {i === 0 && (
          <>
            <td rowSpan={count} className="number">
              {row.reach ? formatLength(row.reach.pastCentre, unit) : '–'}
            </td>
            <td
              rowSpan={count}
              className={`number ${least && least.distance === 0 ? 'fail' : ''}`}
              title={least && `${least.other === 0 ? least.otherName : `${least.otherName}, station ${least.other},`} to the ${least.against}`}
            >
              {least ? formatLength(least.distance, unit) : room ? '–' : '…'}
            </td>
          </>
        )}
      </tr>
    );
  });
}

interface HeldProps {
  readonly id: string;
  readonly station: number;
  readonly name: string;
  readonly state: Check['state'];
  readonly onChoose: (station: number) => void;
}

function HeldPlace({ id, station, name, state, onChoose }: HeldProps) {
  const target = useStationTarget(`row ${id}`, station);
  const { ref, ...drag } = useDragged(`row ${id}`, { station, name });
  const hold = useMergedRef(target.ref, ref);
  return (
    <button
      type="button"
      ref={hold}
      data-over={target.isOver || undefined}
      aria-label={`${station} ${name}, ${STATE_WORDS[state]}`}
      onClick={() => onChoose(station)}
      {...drag}
    >
      <span className={`ledger-mark ${state === 'pass' ? 'set' : state}`} title={STATE_WORDS[state]} aria-hidden />
      <b className="number">{station}</b> {name}
    </button>
  );
}

function EdgeCells({ edge, told }: { edge: EdgeRow; told: LengthUnit }) {
  return (
    <>
      <td title={edge.own.hand ? `${edge.own.hand} hand` : undefined}>{edge.own.name}</td>
      <td className="number">{edge.tool}</td>
      <td className="number">{edge.offset ?? '–'}</td>
      <td>{edge.spindle}</td>
      <td className="number">{edge.tipOrientation}</td>
      <td>{edge.sense ?? '–'}</td>
      <td className="number">{formatLength(edge.controlX, told)}</td>
      <td className="number">{formatLength(edge.atWork.Z, told)}</td>
    </>
  );
}
