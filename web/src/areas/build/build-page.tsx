import { Button, SegmentedControl, Select } from '@mantine/core';
import { IconPackageExport } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { checkAssembly, checkFits, dimensionedTip, firstPiece, gaugeLineAt, placeFrame, placePieces, placeTips } from '#core/assembly';
import { IDENTITY_FRAME } from '#core/math';
import type { AssemblyRecord } from '#core/records';
import { sayConnection } from '#core/standards';
import { AreaHeader } from '../../app/area-header.tsx';
import { assemblyOpened } from '../../app/session-slice.ts';
import { selectAssembly, selectComponentsById, store, useAppSelector } from '../../app/store.ts';
import { WorkLayout } from '../../app/work-layout.tsx';
import { describePick } from '../../scene/describe.ts';
import { bodyOf, type PickRef, type StageItem } from '../../scene/picks.ts';
import { assemblyItems } from '../../scene/assembly-items.ts';
import { Stage } from '../../scene/stage.tsx';
import { SectionStrip } from '../../section/section-strip.tsx';
import { renameRecord } from '../../store/library-actions.ts';
import { useComponentModels } from '../../store/models.ts';
import { EmptyArea } from '../empty-area.tsx';
import { AssemblyPanel } from './assembly-panel.tsx';
import { differing } from './compare/differing.ts';
import { MeasurePanel, MeasureSwitch } from './measure/measure-panel.tsx';
import { useMeasure } from './measure/use-measure.ts';
import { usePickPoint } from './numbers/use-pick-point.ts';
import { isInPlane, planeAt } from './section/planes.ts';
import { ChainRow } from './row/chain-row.tsx';
import { useDimensions } from './section/use-dimensions.ts';
import { SectionPlane, useBehind } from './section/section-plane.tsx';
import { useStickOut } from './stick-out/use-stick-out.ts';
import type { Tried } from './tried.ts';
import { sayPieces } from '../../common/count-of.ts';
import { useFits } from './use-fits.ts';

export default function BuildPage() {
  const { id } = useParams();
  const navigate = useNavigate();
  const last = useAppSelector((s) => s.session.lastAssembly);
  const first = useAppSelector((s) => Object.values(s.library.records).find((r) => r.kind === 'assembly')?.id);
  const record = useAppSelector((s) => selectAssembly(s, id ?? last ?? undefined) ?? (id ? undefined : selectAssembly(s, first)));
  const all = useAppSelector((s) => s.library.records);
  const assemblies = useMemo(() => Object.values(all).filter((r) => r.kind === 'assembly'), [all]);
  useEffect(() => {
    if (record) store.dispatch(assemblyOpened(record.id));
  }, [record]);
  if (!record)
    return <EmptyArea title="Build" text="There is no assembly yet. Mark a component’s mount on the Bench and start one from there, or open a package." />;
  return (
    <div className="area">
      <AreaHeader
        title={record.name}
        onRename={(name) => renameRecord(record, name)}
        note={
          assemblies.length > 1 ? (
            <Select
              size="xs"
              w={210}
              aria-label="Other assembly"
              placeholder="other assemblies"
              value={null}
              data={assemblies.filter((a) => a.id !== record.id).map((a) => ({ value: a.id, label: a.name }))}
              onChange={(v) => v && navigate(`/build/${v}`)}
            />
          ) : (
            sayPieces(record)
          )
        }
      >
        <Button size="xs" leftSection={<IconPackageExport size={16} />} onClick={() => navigate(`/handover/${record.id}`)}>
          Hand over
        </Button>
      </AreaHeader>
      <BuildWork key={record.id} record={record} />
    </div>
  );
}

// mm: a gap that can be shown as two places.
const SHOWN_GAP = 0.01;
const NO_ITEMS: readonly StageItem[] = [];

function BuildWork({ record: kept }: { record: AssemblyRecord }) {
  const components = useAppSelector(selectComponentsById);
  const unit = useAppSelector((s) => s.session.unit);
  const [tried, setTried] = useState<Tried | null>(null);
  // What was worked out for another state of the assembly is gone with it.
  const shown = tried?.of === kept ? tried : null;
  const [comparedId, setCompared] = useState<string | null>(null);
  const chosen = useAppSelector((s) => selectAssembly(s, comparedId ?? undefined));
  // While something is tried, it is compared with what is kept.
  const compared = shown ? kept : chosen?.id === kept.id ? undefined : chosen;
  const both = useMemo(() => ({ ...kept, pieces: [...kept.pieces, ...(shown?.change.pieces ?? []), ...(compared?.pieces ?? [])] }), [kept, shown, compared]);
  const used = useMemo(() => [...new Set(both.pieces.map((p) => p.componentId))].flatMap((id) => components[id] ?? []), [both.pieces, components]);
  const { models } = useComponentModels(used);
  const [selected, setSelected] = useState<string | null>(null);
  const { record: slid, slide } = useStickOut(kept, selected, components, models, unit);
  const record = useMemo(() => (shown ? { ...kept, pieces: shown.change.pieces, edges: shown.change.edges } : slid), [kept, shown, slid]);
  const { fits, isLooking } = useFits(record, components, models);
  const placed = useMemo(() => placePieces(record, components), [record, components]);
  const tips = useMemo(() => placeTips(record, components, placed), [record, components, placed]);
  const checks = useMemo(
    () => [...checkAssembly(record, components, models), ...(fits ? checkFits(fits, record, components) : [])],
    [record, components, models, fits],
  );
  const items = useMemo(() => assemblyItems(record, components, models, placed), [record, components, models, placed]);
  const over = useMemo(
    () => (compared ? differing(assemblyItems(compared, components, models, placePieces(compared, components)), items) : NO_ITEMS),
    [compared, components, models, items],
  );
  const measuring = useMeasure(items);
  const pickPoint = usePickPoint(kept, components, placed, items, unit);
  // While something is tried nothing is said of edges.
  const armed = shown ? null : pickPoint.armed;
  const frames = useMemo(() => {
    const first = firstPiece(record, components);
    const gauge = first?.mount
      ? [
          {
            key: 'gauge',
            kind: 'mount' as const,
            frame: IDENTITY_FRAME,
            label: `gauge line, ${gaugeLineAt(record, components)?.name ?? sayConnection(first.mount.connection)}`,
          },
        ]
      : [];
    const open = record.pieces.flatMap((piece) => {
      const motion = placed.get(piece.id);
      const seats = components[piece.componentId]?.seats ?? [];
      if (!motion) return [];
      return seats
        .filter((s) => !record.pieces.some((p) => p.parent?.pieceId === piece.id && p.parent.seatId === s.id))
        .map((s) => ({ key: `${piece.id} ${s.id}`, kind: 'seat' as const, frame: placeFrame(motion, s.frame), label: `${s.name}, free`, quiet: true }));
    });
    return [...gauge, ...open];
  }, [record, components, placed]);
  const stageTips = useMemo(
    () =>
      tips.map((t) => {
        const piece = record.pieces.find((p) => p.id === t.piece);
        const motion = placed.get(t.piece);
        const mount = piece && components[piece.componentId]?.mount?.frame;
        return {
          key: `${t.piece} ${t.tip}`,
          noseCentre: t.noseCentre,
          noseRadius: t.noseRadius,
          virtualTip: t.virtualTip,
          point: t.point,
          frame: motion && mount ? placeFrame(motion, mount) : IDENTITY_FRAME,
          label: piece ? (components[piece.componentId]?.name ?? '') : '',
        };
      }),
    [tips, record.pieces, placed, components],
  );
  const describe = useMemo(
    () => (pick: PickRef) => {
      const found = bodyOf(items, pick);
      const piece = record.pieces.find((p) => p.id === pick.item);
      if (!found || !piece) return undefined;
      return {
        text: `${components[piece.componentId]?.name ?? ''}: ${describePick(found.body, pick, found.item.stageFromModel, unit)}`,
        action: armed
          ? armed === 'gauge line'
            ? 'click sets the gauge line here'
            : 'click programs this point'
          : !measuring.isOn
            ? 'click selects the piece'
            : measuring.picks.length === 1
              ? 'click measures to it'
              : 'click measures from it',
      };
    },
    [items, record.pieces, components, unit, armed, measuring.isOn, measuring.picks.length],
  );
  const marks = useMemo(
    () => (measuring.found && measuring.found.gap > SHOWN_GAP ? measuring.found.gapAt.map((at, i) => ({ key: `gap ${i}`, at })) : []),
    [measuring.found],
  );
  const [planeDeg, setPlaneDeg] = useState(0);
  const plane = useMemo(() => planeAt(planeDeg), [planeDeg]);
  const behind = useBehind(items, components, record, plane);
  const [strip, setStrip] = useState<'section' | 'chain'>('section');
  const switchStrip = (
    <SegmentedControl
      size="xs"
      aria-label="Below the stage"
      data={['section', 'chain']}
      value={strip}
      onChange={(v) => setStrip(v === 'chain' ? 'chain' : 'section')}
    />
  );
  const dimensioned = dimensionedTip(record, tips, selected);
  const dimensions = useDimensions(
    record,
    components,
    planeDeg === 0 && dimensioned && isInPlane(dimensioned.point, plane) ? dimensioned : undefined,
    unit,
    shown !== null,
  );
  // The dimensioned tip first, then the outermost piece's: the first is the one that is measured, where it lies in the plane.
  const stripTips = useMemo(() => {
    const order = [...record.pieces].reverse().map((p) => p.id);
    const first = dimensioned && `${dimensioned.piece} ${dimensioned.tip}`;
    return stageTips
      .filter((t) => isInPlane(t.point, plane))
      .sort((a, b) => Number(b.key === first) - Number(a.key === first) || order.indexOf(a.key.split(' ')[0]) - order.indexOf(b.key.split(' ')[0]));
  }, [stageTips, record.pieces, plane, dimensioned]);
  const loading = record.pieces.some((p) => components[p.componentId] && !models[p.componentId]);
  return (
    <WorkLayout
      id="build"
      stripSize="40%"
      stage={
        <Stage
          items={items}
          frames={frames}
          tips={stageTips}
          view={IDENTITY_FRAME}
          fitKey={`${record.id} ${record.pieces.length} ${items.length} ${JSON.stringify(kept.gaugeLine ?? null)}`}
          describe={describe}
          onPick={(p) => (armed ? pickPoint.takePoint(p) : measuring.isOn ? measuring.onPick(p) : setSelected(p.item))}
          onKey={(key) => key === 'm' && measuring.onSwitch()}
          picks={measuring.picks}
          marks={marks}
          over={over}
          slide={shown ? undefined : slide}
        >
          <MeasureSwitch measuring={measuring} />
          {measuring.isOn && <MeasurePanel measuring={measuring} unit={unit} />}
          {armed && (
            <p className="stage-note" role="status">
              {armed === 'gauge line' ? 'Pick where the gauge line stands' : 'Pick the point that is programmed'}: a corner, a round edge for its centre, or a
              place on a face. Escape leaves it.
            </p>
          )}
          {loading && !armed && (
            <p className="stage-note" role="status">
              Loading models…
            </p>
          )}
        </Stage>
      }
      strip={
        strip === 'chain' ? (
          <ChainRow {...{ kept, record, components, models, unit, selected }} tip={dimensioned} onSelect={setSelected} onTry={setTried} tools={switchStrip} />
        ) : (
          <SectionStrip
            items={items}
            frame={plane}
            hasMount
            half={false}
            tips={stripTips}
            behind={behind}
            made={over}
            dimensions={dimensions}
            slide={shown ? undefined : slide}
            names={planeDeg === 0 ? { along: 'L', across: 'Q' } : { along: 'L', across: 'from the axis' }}
            tools={
              <>
                {switchStrip}
                <SectionPlane {...{ record, components, tips }} deg={planeDeg} onTurn={setPlaneDeg} />
              </>
            }
            unit={unit}
          />
        )
      }
      side={
        <AssemblyPanel
          {...{ kept, record, components, models, tips, checks, isLooking, unit, selected }}
          tried={shown}
          compared={compared}
          onCompare={setCompared}
          onPickPoint={pickPoint.arm}
          onPickGaugeLine={() => pickPoint.arm('gauge line')}
          onTry={setTried}
          onTriedEnd={() => setTried(null)}
          onSelect={setSelected}
        />
      }
    />
  );
}
