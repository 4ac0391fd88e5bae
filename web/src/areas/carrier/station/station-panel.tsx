import { memo } from 'react';
import { Button, Group, Menu, SegmentedControl, Select } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { Link } from 'react-router';
import {
  type Clearance,
  controlAngle,
  type EdgeRow,
  feetOf,
  footOf,
  liesOfSeats,
  type SetUpParts,
  type SetUpTable,
  standingOn,
  type StationRow,
  TURNS,
} from '#core/carrier';
import { addScaled, yOf } from '#core/math';
import { type Carrier, type ComponentRecord, type MachineRecord, type Place, type SetUpRecord, SPINDLES, worstOf } from '#core/records';
import { sayConnection } from '#core/standards';
import { formatAngleDeg, formatLength, type LengthUnit } from '#core/units';
import { changeComponent } from '../../../app/store.ts';
import { showProblem } from '../../../app/notify.tsx';
import { CheckList } from '../../../common/check-list.tsx';
import { WholeField } from '../../../common/whole-field.tsx';
import { addUse, changePlace, clearStation, loadMany, loadStation, moveStation, replaceStation, sayOfPlacedEdge } from '../../../store/set-up-actions.ts';
import { checksOf, STATE_WORDS } from '../say-row.ts';
import { useChoices, useSets } from './choices.ts';
import { SlideSketch } from './slide-sketch.tsx';
import { sayPieces } from '../../../common/count-of.ts';
import { SwivelBlock } from './swivel-block.tsx';

interface Props {
  readonly setUp: SetUpRecord;
  readonly machine: MachineRecord;
  readonly carrier: Carrier;
  readonly table: SetUpTable;
  readonly room: readonly Clearance[] | undefined;
  readonly station: number;
  readonly unit: LengthUnit;
  readonly parts: SetUpParts;
  readonly isLoading: boolean;
  /** Of the uses of a head's tool the one that is shown. */
  readonly use: string | undefined;
  readonly onUse: (placeId: string) => void;
  readonly onMoved: (station: number) => void;
  readonly onSwing: (place: Place, angleDeg: number | null) => void;
  /** Shows where two things get nearest. */
  readonly onShow: (near: Clearance) => void;
}

/** One station: what stands there, which way round, its edges as the control is to know them, and what is wrong. */
export const StationPanel = memo(function StationPanel(props: Props) {
  const { carrier, table, station } = props;
  const rows = table.stations.filter((r) => r.place.carrierId === carrier.id && r.place.station === station);
  if (rows.length === 0) return <EmptyStation {...props} />;
  const { swivel } = props.machine.control;
  if (carrier.kind !== 'swivel head' || rows.length === 1) return rows.map((row) => <Loaded key={row.place.id} {...props} row={row} />);
  const row = rows.find((r) => r.place.id === props.use) ?? rows[0];
  return (
    <>
      <SegmentedControl
        size="xs"
        fullWidth
        mt={10}
        aria-label="Use, by the control's angle"
        data={rows.map(({ place: { id, angleDeg = 0 } }) => ({ value: id, label: formatAngleDeg(controlAngle(swivel, angleDeg) ?? angleDeg) }))}
        value={row.place.id}
        onChange={props.onUse}
      />
      <Loaded key={row.place.id} {...props} row={row} />
    </>
  );
});

function EmptyStation({ setUp, carrier, station }: Props) {
  const choices = useChoices(carrier);
  const sets = useSets(choices);
  const fitting = choices.filter((c) => c.why === undefined);
  const others = choices.filter((c) => c.why !== undefined);
  return (
    <section className="station-panel" aria-label={`Station ${station}`}>
      <h2>
        Station {station} <span className="soft">takes {sayConnection(carrier.connection)}</span>
      </h2>
      {fitting.length === 0 ? (
        <p>
          No assembly on the Shelf begins with {sayConnection(carrier.connection)}. <Link to="/build">Build one</Link>, or change what this carrier takes under
          Machine.
        </p>
      ) : (
        <>
          <p>It is empty. What fits:</p>
          <ul className="load-list">
            {fitting.map(({ assembly }) => (
              <li key={assembly.id}>
                <button
                  type="button"
                  onClick={() => loadStation(setUp.id, { carrierId: carrier.id, station, assemblyId: assembly.id, spindle: 'main' }, assembly.name)}
                >
                  {assembly.name} <span className="soft">{sayPieces(assembly)}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {sets.map(({ set, assemblies }) => (
        <Button
          key={set.id}
          size="compact-xs"
          variant="default"
          onClick={() => {
            const left = loadMany(setUp.id, carrier, assemblies, `${set.name} into ${carrier.name}`);
            if (left > 0) showProblem(`${left} of ${set.name} found no free station in ${carrier.name}.`);
          }}
        >
          Load the whole set {set.name} ({assemblies.length})
        </Button>
      ))}
      {others.length > 0 && (
        <details>
          <summary>{others.length} that do not fit here</summary>
          <ul className="load-list">
            {others.map(({ assembly, why }) => (
              <li key={assembly.id} className="soft">
                {assembly.name}: {why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

function Loaded({ setUp, machine, carrier, room, unit, row, parts, isLoading, onUse, onMoved, onSwing, onShow }: Props & { row: StationRow }) {
  const { place, assembly, edges, reach } = row;
  const feet = row.first ? feetOf(row.first) : [];
  const checks = checksOf(row, room);
  const state = worstOf(checks);
  const instead = useChoices(carrier).filter((c) => c.why === undefined && c.assembly.id !== assembly?.id);
  const near = room?.filter((c) => c.carrier === carrier.id && c.working === place.station).sort((a, b) => a.distance - b.distance);
  return (
    <section className="station-panel" aria-label={`Station ${place.station}`}>
      <h2>
        Station {place.station} <span className={`check-sum ${state}`}>{STATE_WORDS[state]}</span>
      </h2>
      <Group justify="space-between" wrap="nowrap" gap="xs">
        {assembly ? (
          <Link to={`/build/${assembly.id}`} title="Change it in Build" className="assembly-link">
            {assembly.name}
          </Link>
        ) : (
          <span className="fail">gone from the Shelf</span>
        )}
        <Group gap={6} wrap="nowrap">
          {instead.length > 0 && (
            <Menu position="bottom-end">
              <Menu.Target>
                <Button size="compact-xs" variant="default">
                  Instead
                </Button>
              </Menu.Target>
              <Menu.Dropdown>
                {instead.map(({ assembly: other }) => (
                  <Menu.Item key={other.id} onClick={() => replaceStation(setUp.id, place, other)}>
                    {other.name}
                  </Menu.Item>
                ))}
              </Menu.Dropdown>
            </Menu>
          )}
          <Button size="compact-xs" variant="default" leftSection={<IconTrash size={13} />} onClick={() => clearStation(setUp.id, place)}>
            Clear
          </Button>
        </Group>
      </Group>
      <div className="station-fields">
        <span>stands at</span>
        <Select
          size="xs"
          aria-label="Stands at station"
          allowDeselect={false}
          searchable
          data={Array.from({ length: carrier.stations }, (_, i) => String(i + 1))}
          value={String(place.station)}
          onChange={(v) => {
            if (!v || Number(v) === place.station) return;
            moveStation(setUp.id, carrier.id, place.station, Number(v));
            onMoved(Number(v));
          }}
        />
        {feet.length > 1 && (
          <>
            <span>stands on</span>
            <Select
              size="xs"
              aria-label="Stands on"
              allowDeselect={false}
              data={feet.map((f) => ({ value: f.id, label: `${f.name || 'mount'}, ${sayConnection(f.connection)}` }))}
              value={row.first ? footOf(row.first, place)?.id : null}
              onChange={(v) => changePlace(setUp.id, place, 'Foot', { foot: v === feet[0].id ? undefined : (v ?? undefined) })}
            />
          </>
        )}
        <span>turned by</span>
        <SegmentedControl
          size="xs"
          aria-label="Which way round"
          data={TURNS.map((t) => ({ value: String(t), label: `${t}°` }))}
          value={String(((Math.round(place.turnDeg) % 360) + 360) % 360)}
          onChange={(v) => changePlace(setUp.id, place, 'Turn', { turnDeg: Number(v) })}
        />
        <span>works at</span>
        <SegmentedControl
          size="xs"
          aria-label="Spindle"
          data={SPINDLES.map((s) => ({ value: s, label: s, disabled: !machine.spindles[s] }))}
          value={place.spindle}
          onChange={(v) => changePlace(setUp.id, place, 'Spindle', { spindle: v === 'counter' ? 'counter' : 'main' })}
        />
      </div>
      {carrier.kind === 'swivel head' && (
        <>
          <SwivelBlock {...{ setUp, machine, carrier, row, parts, isLoading }} onSwing={(angle) => onSwing(place, angle)} />
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              const angle = place.angleDeg ?? 0;
              onUse(addUse(setUp.id, place, angle + 45 <= carrier.range[1] ? angle + 45 : angle - 45));
            }}
          >
            Use it at another angle too
          </Button>
        </>
      )}
      {edges.map((edge) => (
        <EdgeBlock key={`${edge.own.piece} ${edge.own.tip}`} {...{ setUp, machine, carrier, row, edge, unit }} />
      ))}
      {reach && (
        <dl className="number-list">
          <dt>passes the axis by</dt>
          <dd>{formatLength(reach.pastCentre, unit)}</dd>
          <dt>passes the jaws by</dt>
          <dd>{formatLength(reach.pastJaws, unit)}</dd>
          <dt>longest work it faces</dt>
          <dd>{formatLength(reach.longest, unit)}</dd>
        </dl>
      )}
      {near && near.length > 0 && (
        <>
          <h3>Room while it works</h3>
          <ul className="room-list">
            {near.slice(0, 5).map((c) => (
              <li key={`${c.other} ${c.against}`}>
                <button type="button" className="text-button" title="Show the place" onClick={() => onShow(c)}>
                  {c.other === 0 ? c.otherName : c.other === place.station ? 'its other side' : `station ${c.other}, ${c.otherName}`}, to the {c.against}
                </button>
                <span className={c.distance === 0 ? 'fail' : 'number'}>{c.distance === 0 ? 'touches' : formatLength(c.distance, unit)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {row.first && <SeatMend component={standingOn(row.first, place)} />}
      <CheckList checks={checks} />
    </section>
  );
}

// Seats that lie off the centre plane of their block, to be moved onto it.
function SeatMend({ component }: { component: ComponentRecord }) {
  if (component.componentKind !== 'station block' || !component.mount) return null;
  const off = liesOfSeats(component).filter((s) => Math.abs(s.height) > 1e-6);
  const { frame } = component.mount;
  return off.map(({ id, name, height }) => (
    <Button
      key={id}
      size="compact-xs"
      variant="default"
      onClick={() =>
        changeComponent(component.id, `${name || 'Seat'} onto the centre plane`, (r) => ({
          seats: r.seats.map((s) => (s.id === id ? { ...s, frame: { ...s.frame, origin: addScaled(s.frame.origin, yOf(frame), -height) } } : s)),
        }))
      }
    >
      Move {name || 'the seat'} onto the centre plane
    </Button>
  ));
}

interface EdgeProps {
  readonly setUp: SetUpRecord;
  readonly machine: MachineRecord;
  readonly carrier: Carrier;
  readonly row: StationRow;
  readonly edge: EdgeRow;
  readonly unit: LengthUnit;
}

function EdgeBlock({ setUp, machine, carrier, row: { place }, edge, unit }: EdgeProps) {
  const { own, atWork, said, slide } = edge;
  const of = { pieceId: own.piece, tipId: own.tip };
  const sayEdge = (label: string, more: Parameters<typeof sayOfPlacedEdge>[4]) => sayOfPlacedEdge(setUp.id, place, of, `${label} of ${own.name}`, more);
  return (
    <div className="edge-block" role="group" aria-label={`Edge ${own.name}`}>
      <h3>
        {own.name}
        {own.hand && <span className="soft"> {own.hand} hand</span>}
      </h3>
      <div className="edge-numbers">
        <WholeField label="tool" min={1} max={10 ** machine.control.toolDigits - 1} value={edge.tool} onCommit={(v) => sayEdge('Tool number', { tool: v })} />
        <WholeField
          label="offset"
          min={1}
          max={10 ** machine.control.offsetDigits - 1}
          value={edge.offset}
          onCommit={(v) => sayEdge('Offset number', { offset: v })}
        />
        <Select
          size="xs"
          label="runs with"
          placeholder={edge.sense ?? 'not said'}
          data={['M3', 'M4']}
          clearable
          value={said?.sense ?? null}
          onChange={(v) => sayEdge('Sense', { sense: v === 'M3' || v === 'M4' ? v : undefined })}
        />
        <Select
          size="xs"
          label="spindle"
          placeholder={place.spindle}
          data={SPINDLES.filter((s) => machine.spindles[s])}
          clearable
          value={said?.spindle ?? null}
          onChange={(v) => sayEdge('Spindle', { spindle: SPINDLES.find((s) => s === v) })}
        />
      </div>
      <dl className="number-list">
        <dt>{machine.control.diameters ? 'X, on diameter' : 'X'}</dt>
        <dd>{formatLength(edge.controlX, machine.unit)}</dd>
        <dt>Z</dt>
        <dd>{formatLength(atWork.Z, machine.unit)}</dd>
        <dt>Y, off the turning plane</dt>
        <dd>{formatLength(atWork.Y, unit)}</dd>
        <dt>tip orientation</dt>
        <dd>{edge.tipOrientation}</dd>
        <dt>turns the work with</dt>
        <dd>{edge.sense ?? 'not known'}</dd>
      </dl>
      {atWork.feeds && (
        <table className="feed-table">
          <thead>
            <tr>
              <th scope="col">it can be fed</th>
              <th scope="col" className="number">
                entering
              </th>
              <th scope="col" className="number">
                end cutting
              </th>
            </tr>
          </thead>
          <tbody>
            {atWork.feeds.map((f) => (
              <tr key={f.feed}>
                <td>{f.feed}</td>
                <td className="number">{formatAngleDeg(f.enteringAngle)}</td>
                <td className="number">{formatAngleDeg(f.endCuttingAngle)}</td>
              </tr>
            ))}
            {atWork.feeds.length === 0 && (
              <tr>
                <td colSpan={3}>along none of its axes</td>
              </tr>
            )}
          </tbody>
        </table>
      )}
      {slide && carrier.kind === 'slide' && carrier.reference && <SlideSketch slide={slide} positions={carrier.reference} unit={unit} />}
    </div>
  );
}
