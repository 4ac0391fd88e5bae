import { ActionIcon, Button, Menu, SegmentedControl } from '@mantine/core';
import { IconDots, IconPlus } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { type Clearance, planeOf, type SetUpParts, type StationRow, workMotion } from '#core/carrier';
import { compose, distance, type Frame, move, moveFrame, translation, type Vec3, worldFromFrame } from '#core/math';
import type { MachineRecord, Place, SetUpRecord } from '#core/records';
import { AreaHeader } from '../../app/area-header.tsx';
import { setUpOpened } from '../../app/session-slice.ts';
import { store, useAppSelector } from '../../app/store.ts';
import { WorkLayout } from '../../app/work-layout.tsx';
import { CheckList } from '../../common/check-list.tsx';
import { NumberField } from '../../common/number-field.tsx';
import { describePick } from '../../scene/describe.ts';
import type { StageMark, StageTip } from '../../scene/glyphs.tsx';
import { bodyOf, type PickRef } from '../../scene/picks.ts';
import { Stage } from '../../scene/stage.tsx';
import { OtherRecords } from '../../common/other-records.tsx';
import { useStable } from '../../common/use-stable.ts';
import { saveShelf } from '../../store/shelf-file-actions.ts';
import { changeSetUp, clearStation, deleteSetUp, machineOf, machinesOf, newSetUp, renameSetUp, selectSetUp } from '../../store/set-up-actions.ts';
import { Dial, SwingLine } from './dial.tsx';
import { DragArea } from './drag.tsx';
import { carrierItems, parkedItems, spindleItems } from './stage/machine-items.ts';
import { MachinePanel } from './machine/machine-panel.tsx';
import { isLost } from './say-row.ts';
import { StationPanel } from './station/station-panel.tsx';
import { ShelfTray } from './station/shelf-tray.tsx';
import { StationTable } from './station-table.tsx';
import { useIndexing } from './stage/use-indexing.ts';
import { useJog } from './stage/use-jog.ts';
import { useJogSlide } from './stage/use-jog-slide.ts';
import { useRoom } from './use-room.ts';
import { useSetUp } from './use-set-up.ts';

export default function CarrierPage() {
  const { id } = useParams();
  const navigate = useNavigate();
  const last = useAppSelector((s) => s.session.lastSetUp);
  const first = useAppSelector((s) => Object.values(s.library.records).find((r) => r.kind === 'set-up')?.id);
  const setUp = useAppSelector((s) => selectSetUp(s, id ?? last) ?? (id ? undefined : selectSetUp(s, first)));
  const records = useAppSelector((s) => s.library.records);
  useEffect(() => {
    if (setUp) store.dispatch(setUpOpened(setUp.id));
  }, [setUp]);
  const begin = (machineId: string) => void navigate(`/carrier/${newSetUp(machineId)}`);
  const machine = setUp && machineOf(records, setUp.machineId);
  if (!setUp)
    return (
      <div className="area">
        <div className="empty-area">
          <h1>Carrier</h1>
          <p>Here assemblies stand where they work: on a turret, a slide or a swivel head. Choose a machine to begin; it can be changed to yours.</p>
          <MachineChoice onChoose={begin} />
        </div>
      </div>
    );
  return (
    <div className="area">
      <AreaHeader
        title={setUp.name}
        onRename={(name) => renameSetUp(setUp.id, name)}
        note={
          <OtherRecords kind="set-up" id={setUp.id} word="set-up">
            {machine?.name}
          </OtherRecords>
        }
      >
        <Button size="xs" variant="default" leftSection={<IconPlus size={16} />} onClick={() => begin(setUp.machineId)}>
          New set-up
        </Button>
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon variant="default" size="lg" aria-label="More of this set-up">
              <IconDots size={17} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => void navigate(`/handover/${setUp.id}`)}>Hand it over, with all that stands in it</Menu.Item>
            <Menu.Item onClick={() => void saveShelf(setUp.name, [setUp.id])}>Write as a file, with its tools</Menu.Item>
            <Menu.Item
              color="brick"
              onClick={() => {
                deleteSetUp(setUp);
                void navigate('/carrier');
              }}
            >
              Delete this set-up
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </AreaHeader>
      {machine ? (
        <CarrierWork key={setUp.id} setUp={setUp} machine={machine} />
      ) : (
        <div className="empty-area">
          <p>The machine of this set-up is not there any more. Choose another one; what is loaded stays.</p>
          <MachineChoice onChoose={(machineId) => changeSetUp(setUp.id, 'Another machine', () => ({ machineId }))} />
        </div>
      )}
    </div>
  );
}

function MachineChoice({ onChoose }: { onChoose: (machineId: string) => void }) {
  const records = useAppSelector((s) => s.library.records);
  return (
    <div className="machine-choice">
      {machinesOf(records).map((m) => (
        <Button key={m.id} variant="default" onClick={() => onChoose(m.id)}>
          {m.name}
        </Button>
      ))}
    </div>
  );
}

const SIDES = ['station', 'shelf', 'machine'] as const;
type Side = (typeof SIDES)[number];

// The main chuck stands at the left, X goes up: Y comes towards the viewer.
const VIEW: Frame = { origin: [0, 0, 0], z: [0, 1, 0], x: [0, 0, 1] };

function CarrierWork({ setUp, machine }: { setUp: SetUpRecord; machine: MachineRecord }) {
  const unit = useAppSelector((s) => s.session.unit);
  // A head that is swung by hand is seen at once, and kept when it is let go.
  const [swung, setSwung] = useState<{ readonly place: string; readonly angleDeg: number } | null>(null);
  const seen = useMemo(
    () => (swung ? { ...setUp, places: setUp.places.map((p) => (p.id === swung.place ? { ...p, angleDeg: swung.angleDeg } : p)) } : setUp),
    [setUp, swung],
  );
  const { parts, table, isLoading } = useSetUp(seen, machine);
  const [carrierId, setCarrier] = useState<string | null>(null);
  const carrier = machine.carriers.find((c) => c.id === (carrierId ?? setUp.places[0]?.carrierId)) ?? machine.carriers[0];
  const [chosen, setChosen] = useState<number | null>(null);
  const station = Math.min(carrier.stations, chosen ?? setUp.places.find((p) => p.carrierId === carrier.id)?.station ?? 1);
  const [side, setSide] = useState<Side>('station');
  const room = useRoom(parts, isLoading);
  const [use, setUse] = useState<string | undefined>();
  const here = table.stations.filter((r) => r.place.carrierId === carrier.id && r.place.station === station);
  const row = here.find((r) => r.place.id === use) ?? here[0];
  const seenStation = useIndexing(carrier, station);
  const jog = useJog(row, carrier, parts);
  const [slidAxis, setSlidAxis] = useState<'x' | 'z'>('z');
  const slide = useJogSlide(jog, slidAxis, row, carrier, parts, unit);
  const perX = machine.control.diameters ? 2 : 1;
  const [shown, setShown] = useState<Clearance | null>(null);
  // The place that is shown, as long as the carrier stands where it was found.
  const isThere = shown && shown.working === station && shown.carrier === carrier.id && distance(shown.position, jog.reference) < 1e-6;
  const marks = useMemo(
    () => [...(row ? motionsOf(row, jog.reference, parts) : []), ...(isThere ? [{ key: 'near', at: shown.at, wrong: shown.distance === 0 }] : [])],
    [row, jog.reference, parts, isThere, shown],
  );
  const items = useMemo(
    () => [
      ...spindleItems(parts, jog.edge?.spindle ?? 'main'),
      ...carrierItems(carrier, table.stations, seenStation, jog.reference, parts, row?.place.id),
      ...parkedItems(carrier, table.stations, parts),
    ],
    [parts, carrier, table.stations, seenStation, row?.place.id, jog.reference, jog.edge?.spindle],
  );
  const tips = useMemo(() => (row ? tipsOf(row, jog.reference, parts) : []), [row, jog.reference, parts]);
  const describe = useMemo(
    () => (pick: PickRef) => {
      const found = bodyOf(items, pick);
      if (!found) return undefined;
      const at = table.stations.find((r) => pick.item.startsWith(`${r.place.id} `));
      const name = at ? `station ${at.place.station}, ${at.assembly?.name ?? ''}` : found.body.name;
      return { text: `${name}: ${describePick(found.body, pick, found.item.stageFromModel, unit)}`, action: at ? 'click takes the station to work' : '' };
    },
    [items, table.stations, unit],
  );
  const choose = useStable((n: number) => {
    setChosen(n);
    if (side === 'machine') setSide('station');
  });
  const swing = useStable((place: Place, angleDeg: number | null) => setSwung(angleDeg === null ? null : { place: place.id, angleDeg }));
  const show = useStable((near: Clearance) => {
    jog.to(jog.saidFor(near.position));
    setShown(near);
  });
  const lost = table.stations.filter(isLost);
  return (
    <DragArea setUp={setUp} carrier={carrier} onLoaded={choose}>
      <WorkLayout
        id="carrier"
        stripSize="33%"
        stage={
          <Stage
            items={items}
            tips={tips}
            marks={marks}
            slide={slide}
            view={VIEW}
            fitKey={`${setUp.id} ${machine.id} ${carrier.id} ${isLoading} ${jog.edge?.spindle ?? 'main'}`}
            describe={describe}
            onPick={(p) => {
              const at = table.stations.find((r) => p.item.startsWith(`${r.place.id} `));
              if (!at) return;
              setCarrier(at.place.carrierId);
              choose(at.place.station);
            }}
          >
            {machine.carriers.length > 1 && (
              <div className="stage-switch">
                <SegmentedControl
                  size="xs"
                  aria-label="Carrier"
                  data={machine.carriers.map((c) => ({ value: c.id, label: c.name }))}
                  value={carrier.id}
                  onChange={(v) => {
                    setCarrier(v);
                    setChosen(null);
                  }}
                />
              </div>
            )}
            {row && row.edges.length > 0 && (
              <div className="jog" role="group" aria-label="Where the tool stands">
                <span className="soft">{jog.edge?.own.name} at</span>
                <NumberField
                  kind="length"
                  unit={unit}
                  aria-label={machine.control.diameters ? 'X of the tip, on diameter' : 'X of the tip'}
                  leftSection="X"
                  value={jog.x * perX}
                  min={jog.range.x[0] * perX}
                  max={jog.range.x[1] * perX}
                  onCommit={(v) => jog.to({ x: v / perX })}
                />
                <NumberField
                  kind="length"
                  unit={unit}
                  aria-label="Z of the tip, from the jaws"
                  leftSection="Z"
                  value={jog.z}
                  min={jog.range.z[0]}
                  max={jog.range.z[1]}
                  onCommit={(v) => jog.to({ z: v })}
                />
                <span className="soft">Z from the jaws</span>
                <SegmentedControl
                  size="xs"
                  aria-label="Axis that is slid by hand"
                  data={[
                    { value: 'x', label: 'slide X' },
                    { value: 'z', label: 'slide Z' },
                  ]}
                  value={slidAxis}
                  onChange={(v) => setSlidAxis(v === 'x' ? 'x' : 'z')}
                />
              </div>
            )}
            {isLoading && (
              <p className="stage-note" role="status">
                Loading models…
              </p>
            )}
          </Stage>
        }
        strip={<StationTable {...{ carrier, table, unit }} told={machine.unit} room={room?.clearances} chosen={station} onChoose={choose} />}
        side={
          <div className="ledger" role="region" aria-label="Carrier">
            <Dial carrier={carrier} rows={table.stations} room={room?.clearances} chosen={station} onChoose={choose} />
            <SegmentedControl
              size="xs"
              fullWidth
              aria-label="Shown below"
              data={[
                { value: 'station', label: 'station' },
                { value: 'shelf', label: 'Shelf' },
                { value: 'machine', label: 'machine and work' },
              ]}
              value={side}
              onChange={(v) => setSide(SIDES.find((s) => s === v) ?? 'station')}
            />
            {room?.swings
              .filter((s) => s.carrier === carrier.id && table.stations.some((r) => r.place.carrierId === carrier.id))
              .map((s) => (
                <SwingLine key={s.carrier} swing={s} control={machine.control} unit={unit} />
              ))}
            {table.checks.length > 0 && <CheckList checks={table.checks} />}
            {lost.map(({ place, assembly, checks }) => (
              <div key={place.id} className="lost-place" role="group" aria-label={`Station ${place.station}, which is not there`}>
                <b>{assembly?.name ?? 'An assembly that is gone'}</b>
                <CheckList checks={checks.filter((c) => c.state === 'fail')} />
                <Button size="compact-xs" variant="default" onClick={() => clearStation(setUp.id, place)}>
                  Clear
                </Button>
              </div>
            ))}
            {side === 'shelf' && <ShelfTray {...{ setUp, carrier, station }} onLoaded={choose} />}
            {side === 'machine' && <MachinePanel {...{ setUp, machine, unit }} />}
            {side === 'station' && (
              <StationPanel
                {...{ setUp, machine, carrier, table, unit, station, parts, isLoading }}
                room={room?.clearances}
                use={row?.place.id}
                onUse={setUse}
                onMoved={choose}
                onSwing={swing}
                onShow={show}
              />
            )}
          </div>
        }
      />
    </DragArea>
  );
}

/** How the work moves at each edge of the station at work, and whether that is against its rake face. */
function motionsOf(row: StationRow, reference: Vec3, { machine, setUp }: SetUpParts): StageMark[] {
  const { motion, carrier } = row;
  if (!motion || !carrier) return [];
  const stand = compose(translation(reference), motion);
  return row.edges.flatMap((e): StageMark[] => {
    const asked = e.asked ?? e.sense;
    const spindle = machine.spindles[e.spindle];
    if (!asked || !spindle || e.own.spins || e.atWork.side === 0) return [];
    const plane = planeOf({ machine, setUp }, e.spindle, carrier.side);
    const wrong = e.sense !== null && asked !== e.sense;
    return [
      {
        key: `work ${e.own.piece} ${e.own.tip}`,
        at: move(stand, e.own.noseCentre),
        direction: workMotion(e.atWork.side, asked === spindle.clockwise, plane),
        ...(wrong ? { label: `upside down for ${asked}`, wrong } : {}),
      },
    ];
  });
}

/** The tips of the station at work, as they stand in the machine: what is programmed is made for the way that the tool stands there. */
function tipsOf(row: StationRow, reference: Vec3, { machine, setUp }: SetUpParts): StageTip[] {
  const { motion, carrier } = row;
  if (!motion || !carrier) return [];
  const stand = compose(translation(reference), motion);
  return row.edges.map(({ own, atWork, spindle, sense }): StageTip => {
    // What is told about the reference lies along the axes of the spindle's plane.
    const axes = { ...planeOf({ machine, setUp }, spindle, carrier.side), origin: reference };
    return {
      key: `${own.piece} ${own.tip}`,
      noseCentre: move(stand, own.noseCentre),
      noseRadius: own.noseRadius,
      virtualTip: move(worldFromFrame(axes), [atWork.X, atWork.Y, atWork.Z]),
      frame: moveFrame(stand, own.mount),
      label: `${own.name}${sense ? `, ${sense}` : ''}`,
    };
  });
}
