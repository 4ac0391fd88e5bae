import { Button, CloseButton, Paper, SegmentedControl } from '@mantine/core';
import { IconBuildingBridge2 } from '@tabler/icons-react';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { IDENTITY, move, moveFrame } from '#core/math';
import type { Model } from '#core/mesh';
import { type ComponentRecord, freshGeometry, mountFrameOf, posedFromFile, programmedPointOf, virtualTipOf, withMount } from '#core/records';
import type { Reading } from '#core/reading';
import { sayConnection } from '#core/standards';
import { AreaHeader } from '../../app/area-header.tsx';
import { showProblem } from '../../app/notify.tsx';
import { componentOpened } from '../../app/session-slice.ts';
import { selectComponent, store, useAppSelector } from '../../app/store.ts';
import { WorkLayout } from '../../app/work-layout.tsx';
import { describePick } from '../../scene/describe.ts';
import { bodyOf, type Candidate, type PickRef, samePick, type StageItem } from '../../scene/picks.ts';
import { Stage } from '../../scene/stage.tsx';
import { viewFrameOf } from '../../scene/view.ts';
import { SectionStrip } from '../../section/section-strip.tsx';
import { renameRecord, startAssembly } from '../../store/library-actions.ts';
import { useModel, useModels } from '../../store/models.ts';
import { EmptyArea } from '../empty-area.tsx';
import { addSeat, addTipFromPick, poseOffers, radialHint, setMount } from './bench-actions.ts';
import { BodiesPanel } from './bodies-panel.tsx';
import { type Arm, Ledger } from './ledger.tsx';
import { asMark, type Offer, openOffers, useReading } from './proposals.ts';
import { axisOfPick, frameFromPicks, guessConnection, noseFromPick, planeOfPick } from './pick-frames.ts';

export default function BenchPage() {
  const { id } = useParams();
  const last = useAppSelector((s) => s.session.lastComponent);
  const openId = id ?? last ?? undefined;
  const record = useAppSelector((s) => selectComponent(s, openId));
  useEffect(() => {
    if (record) store.dispatch(componentOpened(record.id));
  }, [record]);
  if (!record) return <EmptyArea title="Bench" text="Nothing is on the Bench. Drop a vendor’s STEP file anywhere, or take a component from the Shelf." />;
  return <BenchWork key={record.id} record={record} />;
}

function BenchWork({ record }: { record: ComponentRecord }) {
  const loaded = useModel(record.model.blob);
  const navigate = useNavigate();
  const unit = useAppSelector((s) => s.session.unit);
  const [arm, setArm] = useState<Arm>(null);
  const [picks, setPicks] = useState<readonly PickRef[]>([]);
  const [shown, setShown] = useState<'source' | 'simulation'>('source');
  useEffect(() => {
    const stop = (e: KeyboardEvent) => {
      if (e.key === 'Escape') setArm(null);
    };
    window.addEventListener('keydown', stop);
    return () => window.removeEventListener('keydown', stop);
  }, []);

  const toBuild = () => navigate(`/build/${startAssembly(record)}`);
  const header = (
    <AreaHeader title={record.name} onRename={(name) => renameRecord(record, name)} note={`${record.source.fileName} · ${record.model.faces} faces`}>
      <Button
        size="xs"
        disabled={!record.mount}
        title={record.mount ? '' : 'Mark the mount first'}
        leftSection={<IconBuildingBridge2 size={16} />}
        onClick={toBuild}
      >
        Start an assembly
      </Button>
    </AreaHeader>
  );
  if (loaded.state === 'missing')
    return (
      <div className="area">
        {header}
        <div className="empty-area">
          <p>
            The geometry of {record.name} is not in this browser’s storage any more. Open {record.source.fileName} again; what was marked can be seen in a
            package.
          </p>
        </div>
      </div>
    );
  return (
    <div className="area">
      {header}
      {loaded.state === 'ready' ? (
        <BenchStage {...{ record, unit, arm, setArm, picks, setPicks, shown, setShown }} model={loaded.value} />
      ) : (
        <div className="empty-area" role="status">
          <p>Loading the model…</p>
        </div>
      )}
    </div>
  );
}

interface BenchStageProps {
  readonly record: ComponentRecord;
  readonly model: Model;
  readonly unit: 'mm' | 'inch';
  readonly arm: Arm;
  readonly setArm: (arm: Arm) => void;
  readonly picks: readonly PickRef[];
  readonly setPicks: (picks: readonly PickRef[]) => void;
  readonly shown: 'source' | 'simulation';
  readonly setShown: (shown: 'source' | 'simulation') => void;
}

const ITEM = 'component';
// Pixels; half of what the list of bodies covers: it hides only the corner of a slanting model.
const PANEL_SHARE = 150;

function BenchStage({ record, model, unit, arm, setArm, picks, setPicks, shown, setShown }: BenchStageProps) {
  const { id, pose, mount, seats, tips } = record;
  const reading = useReading(record, model);
  const offers = useMemo(() => openOffers(record, reading ?? undefined), [record, reading]);
  const posed = useMemo(() => posedFromFile(pose), [pose]);
  const roles = useMemo(() => Object.fromEntries(record.bodies.map((b) => [b.id, b.role])), [record.bodies]);
  const hidden = useMemo(() => new Set(record.bodies.filter((b) => b.hidden).map((b) => b.id)), [record.bodies]);
  const source = useMemo((): StageItem[] => [{ key: ITEM, model, stageFromModel: posed, roles, hidden }], [model, posed, roles, hidden]);
  const simulation = useSimulationItems(record, source);
  const items = shown === 'simulation' && simulation ? simulation : source;
  const canCompare = simulation !== undefined;

  // Until a mount is marked the one that was read serves to look at the tool.
  const offeredMount = offers.some((o) => o.key === 'mount') ? reading?.mount : undefined;
  const seenMount = mount?.frame ?? offeredMount?.frame;
  const mountFrame = seenMount ?? mountFrameOf(record);
  const seenTips = useMemo(() => (offeredMount ? withMount(record, asMark(offeredMount, 'mount', '')).tips : tips), [offeredMount, record, tips]);
  const onStage = useMemo(() => moveFrame(posed, mountFrame), [posed, mountFrame]);
  const frames = useMemo(
    () => [
      ...(mount ? [{ key: 'mount', kind: 'mount' as const, frame: moveFrame(posed, mount.frame), label: `mount, ${sayConnection(mount.connection)}` }] : []),
      ...seats.map((s) => ({
        key: s.id,
        kind: 'seat' as const,
        frame: moveFrame(posed, s.frame),
        label: `${s.name}, ${sayConnection(s.connection)}`,
        quiet: mount !== null,
      })),
      ...offeredFrames(offers, reading).map((f) => ({ ...f, frame: moveFrame(posed, f.frame), kind: f.kind, quiet: true })),
    ],
    [mount, seats, posed, offers, reading],
  );
  const stageTips = useMemo(
    () =>
      seenTips
        .map((t) => ({
          key: t.id,
          noseCentre: move(posed, t.noseCentre),
          noseRadius: t.noseRadius,
          virtualTip: move(posed, virtualTipOf(t, mountFrame)),
          point: move(posed, programmedPointOf(t, mountFrame)),
          frame: onStage,
          label: t.name,
        }))
        .concat(
          offers.some((o) => o.key === 'tip')
            ? (reading?.tips ?? []).map((t, i) => ({
                key: `offered tip ${i}`,
                noseCentre: move(posed, t.noseCentre),
                noseRadius: t.noseRadius,
                virtualTip: move(posed, t.virtualTip),
                point: move(posed, t.virtualTip),
                frame: moveFrame(posed, reading?.mount?.frame ?? mountFrame),
                label: 'proposed tip',
              }))
            : [],
        ),
    [seenTips, posed, mountFrame, onStage, offers, reading],
  );

  const describe = useCallback(
    (pick: PickRef) => {
      const found = bodyOf(source, pick);
      return found ? { text: describePick(found.body, pick, posed, unit), action: actionText(model, pick, picks, arm) } : undefined;
    },
    [source, posed, unit, model, picks, arm],
  );

  const onPick = useCallback(
    (pick: Candidate) => {
      const ref: PickRef = { item: pick.item, body: pick.body, kind: pick.kind, index: pick.index };
      if (arm === 'tip') {
        if (addTipFromPick(id, model, ref)) setArm(null);
        else showProblem('That is not a rounded edge. Pick the small rounded edge of the cutting corner, on the top face.');
        return;
      }
      if (arm === 'mount' || arm === 'seat') {
        const all = [...picks.filter((p) => !samePick(p, ref)), ref].slice(-2);
        const usable = all.length > 1 && axisOfPick(model, all[0]) && !planeOfPick(model, all[0]) ? all : [ref];
        const frame = frameFromPicks(model, usable, arm, radialHint(tips));
        if (!frame) {
          setPicks(axisOfPick(model, ref) ? [ref] : []);
          if (!axisOfPick(model, ref)) showProblem('Pick a circle, a flat face, or a cylinder and then the flat face where it ends.');
          return;
        }
        const origin = { from: 'picked' as const, evidence: usable.map((p) => sayPick(model, p)).join(', ') };
        const connection = guessConnection(model, usable);
        if (arm === 'mount') setMount(id, frame, mount?.connection ?? connection, origin);
        else addSeat(id, frame, connection, origin);
        setPicks([]);
        setArm(null);
        return;
      }
      setPicks(picks.some((p) => samePick(p, ref)) ? picks.filter((p) => !samePick(p, ref)) : [...picks, ref]);
    },
    [arm, id, model, mount, picks, setArm, setPicks, tips],
  );

  const hasTip = stageTips.length > 0;
  const view = useMemo(() => moveFrame(seenMount ? posed : IDENTITY, viewFrameOf(model, seenMount, hasTip)), [seenMount, posed, model, hasTip]);
  const connectionSeen = (mount ?? offeredMount)?.connection.standard;
  const revolved = freshGeometry(record, 'non-cutting');
  return (
    <WorkLayout
      id="bench"
      stage={
        <Stage
          items={items}
          frames={frames}
          tips={stageTips}
          picks={shown === 'source' ? picks : []}
          view={view}
          fitKey={`${record.id} ${seenMount ? 'mounted' : ''}`}
          insetLeft={PANEL_SHARE}
          describe={shown === 'source' ? describe : undefined}
          onPick={onPick}
        >
          <BodiesPanel record={record} />
          <PickedPanel {...{ id, model, pose, picks, setPicks, posed, unit, arm }} />
          {canCompare && (
            <SegmentedControl
              className="stage-switch"
              size="xs"
              aria-label="Shown on the stage"
              data={[
                { value: 'source', label: `Source · ${record.model.triangles.toLocaleString('en')} tri` },
                { value: 'simulation', label: `Simulation · ${record.geometry.reduce((n, g) => n + g.trianglesOut, 0).toLocaleString('en')} tri` },
              ]}
              value={shown}
              onChange={(v) => setShown(v)}
            />
          )}
        </Stage>
      }
      strip={
        <SectionStrip
          items={source}
          frame={onStage}
          hasMount={seenMount !== undefined}
          half={seenMount !== undefined && connectionSeen !== 'square' && !hasTip && record.componentKind !== 'station block'}
          tips={stageTips}
          profile={revolved?.profile}
          unit={unit}
        />
      }
      side={<Ledger record={record} model={model} unit={unit} arm={arm} onArm={setArm} offers={offers} reading={reading === undefined} />}
    />
  );
}

// Where the mount and the seats would be that were read and are not taken yet.
function offeredFrames(offers: readonly Offer[], reading: Reading | null | undefined) {
  const open = (key: Offer['key']) => offers.some((o) => o.key === key);
  return [
    ...(reading?.mount && open('mount')
      ? [{ key: 'offered mount', kind: 'mount' as const, frame: reading.mount.frame, label: `proposed mount, ${sayConnection(reading.mount.connection)}` }]
      : []),
    ...(open('seats') ? (reading?.seats ?? []) : []).map((s, i) => ({
      key: `offered seat ${i}`,
      kind: 'seat' as const,
      frame: s.frame,
      label: `proposed seat, ${sayConnection(s.connection)}`,
    })),
  ];
}

// The made geometry in place of the bodies that it stands for.
function useSimulationItems(record: ComponentRecord, source: readonly StageItem[]): readonly StageItem[] | undefined {
  const made = useMemo(() => (['non-cutting', 'cutting'] as const).map((t) => freshGeometry(record, t)).filter((g) => g !== undefined), [record]);
  const hashes = useMemo(() => made.map((g) => g.blob), [made]);
  const models = useModels(hashes);
  return useMemo(() => {
    if (made.length === 0 || made.some((g) => models[g.blob]?.state !== 'ready')) return undefined;
    return made.map((g): StageItem => {
      const loaded = models[g.blob];
      return {
        key: g.target,
        model: loaded.state === 'ready' ? loaded.value : { format: 'step', unit: 'mm', unitScale: 1, chordTolerance: 1, bodies: [] },
        stageFromModel: source[0].stageFromModel,
        roles: { b1: g.target === 'cutting' ? 'cutting' : 'tool body' },
        hidden: new Set(),
      };
    });
  }, [made, models, source]);
}

function actionText(model: Model, pick: PickRef, picks: readonly PickRef[], arm: Arm): string {
  if (arm === 'tip') return noseFromPick(model, pick) ? 'click takes it as nose' : 'not a rounded edge';
  if (arm === 'mount' || arm === 'seat') {
    if (frameFromPicks(model, [pick], arm))
      return `click puts the ${arm} ${pick.kind === 'edge' ? 'at its centre' : picks.length > 0 ? 'where the axis meets it' : 'at its middle'}`;
    return axisOfPick(model, pick) ? `click takes it as the ${arm}’s axis; then pick the face where it ends` : 'pick a circle, a flat face or a cylinder';
  }
  return picks.some((p) => samePick(p, pick)) ? 'click lets it go' : 'click picks it';
}

const sayPick = (model: Model, pick: PickRef): string => {
  const body = model.bodies.find((b) => b.id === pick.body);
  const what = pick.kind === 'corner' ? 'corner' : pick.kind === 'edge' ? body?.edges[pick.index].curve.kind : body?.faces[pick.index].surface.kind;
  return `${what} ${pick.index + 1} of ${pick.body}`;
};

interface PickedProps {
  readonly id: string;
  readonly model: Model;
  readonly pose: ComponentRecord['pose'];
  readonly picks: readonly PickRef[];
  readonly setPicks: (picks: readonly PickRef[]) => void;
  readonly posed: ReturnType<typeof posedFromFile>;
  readonly unit: 'mm' | 'inch';
  readonly arm: Arm;
}

function PickedPanel({ id, model, pose, picks, setPicks, posed, unit, arm }: PickedProps) {
  if (picks.length === 0 && !arm) return null;
  const offers = arm ? [] : poseOffers(id, model, pose, picks);
  return (
    <Paper className="picked-panel" withBorder shadow="xs" role="group" aria-label="Picked">
      {arm && (
        <p className="picked-arm">
          {arm === 'tip'
            ? 'Pick the rounded edge of the cutting corner.'
            : `Pick a circle or a flat face for the ${arm}, or a cylinder and the face where it ends.`}
        </p>
      )}
      {picks.map((p) => {
        const body = model.bodies.find((b) => b.id === p.body);
        return (
          <div key={`${p.body} ${p.kind} ${p.index}`} className="picked-row">
            <span>{body ? describePick(body, p, posed, unit) : ''}</span>
            <CloseButton size="xs" aria-label="Let this pick go" onClick={() => setPicks(picks.filter((q) => !samePick(p, q)))} />
          </div>
        );
      })}
      {offers.length > 0 && (
        <div className="picked-offers">
          {offers.map((o) => (
            <Button
              key={o.label}
              size="compact-xs"
              variant="default"
              onClick={() => {
                o.run();
                setPicks([]);
              }}
            >
              {o.label}
            </Button>
          ))}
        </div>
      )}
    </Paper>
  );
}
