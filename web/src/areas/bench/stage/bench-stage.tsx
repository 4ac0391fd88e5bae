import { SegmentedControl } from '@mantine/core';
import { useCallback, useMemo, useState } from 'react';
import { dot, ENCLOSURE_SLACK, IDENTITY, move, moveFrame, turn, yOf } from '#core/math';
import type { Model } from '#core/mesh';
import { cornerOfTip, type FaceRef, findMistakes, type Mistake, type Reading } from '#core/reading';
import {
  choiceOf,
  type ComponentRecord,
  freshGeometry,
  freshPlan,
  GEOMETRY_TARGETS,
  mountFrameOf,
  posedFromFile,
  programmedPointOf,
  virtualTipOf,
  withMount,
  summarizeModel,
} from '#core/records';
import { sayConnection } from '#core/standards';
import { formatLength } from '#core/units';
import { WorkLayout } from '../../../app/work-layout.tsx';
import { describePick } from '../../../scene/describe.ts';
import type { StageMark } from '../../../scene/glyphs.tsx';
import { bodyOf, type Candidate, type PickRef, samePick, type StageItem } from '../../../scene/picks.ts';
import { Stage } from '../../../scene/stage.tsx';
import { viewFrameOf } from '../../../scene/view.ts';
import { useProfileEditing } from '../../../section/profile-editor.tsx';
import { SectionStrip } from '../../../section/section-strip.tsx';
import { useModels } from '../../../store/models.ts';
import { addTipFromPick, pickedAs, placeConnection, radialHint } from '../bench-actions.ts';
import { BodiesPanel } from '../bodies/bodies-panel.tsx';
import { useDesignation } from '../reading/facts-entry.tsx';
import type { Arm } from '../ledger/entry-parts.tsx';
import { Ledger } from '../ledger/ledger.tsx';
import { pickedEntries } from '../ledger/picked-entries.ts';
import { axisOfPick, framePicks, frameFromPicks, guessConnection, noseFromPick, pointOfPick } from '../picks/pick-frames.ts';
import { makeComponentGeometry } from '../geometry/make-component-geometry.ts';
import { PickedPanel, type Preview } from '../picks/picked-panel.tsx';
import { GrowthScale } from '../geometry/growth-scale.tsx';
import { asMark, type Offer, openOffers, useReading } from '../reading/proposals.ts';
import { useTried, withTried } from '../geometry/tried-geometry.ts';
import { useGrowthMaps } from '../geometry/use-growth-maps.ts';

interface BenchStageProps {
  readonly record: ComponentRecord;
  readonly model: Model;
  readonly unit: 'mm' | 'inch';
  readonly arm: Arm;
  readonly setArm: (arm: Arm) => void;
  readonly picks: readonly PickRef[];
  readonly setPicks: (picks: readonly PickRef[]) => void;
  readonly shown: Shown;
  readonly setShown: (shown: Shown) => void;
}

/** What the stage shows: the vendor's bodies, what was made of them, both side by side or one over the other, or how far the made stands outside. */
export type Shown = 'source' | 'simulation' | 'beside' | 'over' | 'growth';

const ITEM = 'component';
// Pixels; half of what the list of bodies covers: it hides only the corner of a slanting model.
const PANEL_SHARE = 150;

/** Stage, section strip and Ledger of one component. */
export function BenchStage({ record, model, unit, arm, setArm, picks, setPicks, shown: wished, setShown }: BenchStageProps) {
  const { id, pose, mount, feet, seats, tips } = record;
  const reading = useReading(record, model);
  const offers = useMemo(() => openOffers(record, reading ?? undefined), [record, reading]);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [hovered, setHovered] = useState<Candidate | null>(null);
  const [evidence, setEvidence] = useState<readonly FaceRef[]>([]);
  const { said } = useDesignation(record);
  const posed = useMemo(() => posedFromFile(pose), [pose]);
  const roles = useMemo(() => Object.fromEntries(record.bodies.map((b) => [b.id, b.role])), [record.bodies]);
  const hidden = useMemo(() => new Set(record.bodies.filter((b) => b.hidden).map((b) => b.id)), [record.bodies]);
  const colours = useMemo(() => Object.fromEntries(record.bodies.flatMap((b) => (b.ownColour ? [[b.id, b.ownColour]] : []))), [record.bodies]);
  const source = useMemo(
    (): StageItem[] => [{ key: ITEM, model, stageFromModel: posed, roles, hidden, colours, faceColours: record.faceColours }],
    [model, posed, roles, hidden, colours, record.faceColours],
  );
  const tried = useTried(id);
  const simulation = useSimulationItems(
    useMemo(() => withTried(record, tried), [record, tried]),
    source,
  );
  const canCompare = simulation !== undefined;
  // Where nothing is made (any more) there is only the source to see.
  // Who drags a tolerance wants to see what becomes of it.
  const shown = !canCompare ? 'source' : tried && wished === 'source' ? 'simulation' : wished;
  // The map stands for the bodies, which still give the view its size.
  const behind = useMemo(() => source.map((i) => ({ ...i, hidden: new Set(i.model.bodies.map((b) => b.id)) })), [source]);
  // Not of what is only tried.
  const growth = useGrowthMaps(record, (shown === 'growth' || shown === 'beside') && !tried);
  const items = shown === 'simulation' && simulation ? simulation : shown === 'growth' && growth ? behind : source;
  // Marks belong to the picture of one thing.
  const isPlain = shown === 'source' || shown === 'simulation';

  // Until a mount is marked the one that was read serves to look at the tool.
  const offeredMount = offers.some((o) => o.key === 'mount') ? reading?.mount : undefined;
  const seenMount = mount?.frame ?? offeredMount?.frame;
  const mountFrame = seenMount ?? mountFrameOf(record);
  const seenTips = useMemo(() => (offeredMount ? withMount(record, asMark(offeredMount, 'mount', '')).tips : tips), [offeredMount, record, tips]);
  const onStage = useMemo(() => moveFrame(posed, mountFrame), [posed, mountFrame]);
  // While something is picked for, what is under the pointer shows what a click would make of it.
  const seen = useMemo(() => (hovered && arm ? previewOf(model, hovered, picks, arm, record) : null) ?? preview, [hovered, arm, model, picks, record, preview]);
  const third = useMemo(() => thirdAxisName({ mount, tips, bodies: record.bodies }, model), [mount, tips, record.bodies, model]);
  const frames = useMemo(
    () => [
      ...(mount
        ? [{ key: 'mount', kind: 'mount' as const, frame: moveFrame(posed, mount.frame), label: `mount, ${sayConnection(mount.connection)}`, third }]
        : []),
      ...(feet ?? []).map((f) => ({
        key: f.id,
        kind: 'mount' as const,
        frame: moveFrame(posed, f.frame),
        label: `${f.name}, ${sayConnection(f.connection)}`,
        quiet: true,
      })),
      ...seats.map((s) => ({
        key: s.id,
        kind: 'seat' as const,
        frame: moveFrame(posed, s.frame),
        label: `${s.name}, ${sayConnection(s.connection)}`,
        quiet: mount !== null,
      })),
      ...offeredFrames(offers, reading).map((f) => ({ ...f, frame: moveFrame(posed, f.frame), kind: f.kind, quiet: true })),
      ...(seen?.frame
        ? [
            {
              key: 'preview',
              kind: arm === 'seat' ? ('seat' as const) : ('mount' as const),
              frame: moveFrame(posed, seen.frame),
              label: `${arm ?? 'mount'} would be here`,
            },
          ]
        : []),
    ],
    [mount, feet, seats, posed, offers, reading, seen, arm, third],
  );
  const { componentKind, bodies } = record;
  const mistakes = useMemo(
    () => findMistakes({ mount, seats, tips, bodies, componentKind }, model, said),
    [mount, seats, tips, bodies, componentKind, model, said],
  );
  const cutIns = useMemo(
    () =>
      GEOMETRY_TARGETS.flatMap((t) => freshGeometry(record, t)?.parts ?? [])
        .filter((p) => p.growth.min < -ENCLOSURE_SLACK)
        .map((p) => p.leastAt),
    [record],
  );
  const marks = useMemo(
    (): StageMark[] => [
      ...(seen?.point && !seen.frame
        ? [{ key: 'preview', at: move(posed, seen.point), ...(seen.direction ? { direction: turn(posed, seen.direction) } : {}) }]
        : []),
      ...cutIns.map((at) => ({ key: `cut ${at.join()}`, at: move(posed, at), label: 'geometry cuts in here', wrong: true })),
      ...mistakes.map((m) => ({ key: `${m.code} ${m.place.join()}`, at: move(posed, m.place), label: MISTAKE_WORDS[m.code], wrong: true })),
    ],
    [seen, posed, mistakes, cutIns],
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
        )
        .concat(
          seen?.nose
            ? [
                {
                  key: 'preview',
                  noseCentre: move(posed, seen.nose.noseCentre),
                  noseRadius: seen.nose.noseRadius,
                  virtualTip: move(posed, seen.nose.noseCentre),
                  point: move(posed, seen.nose.noseCentre),
                  frame: onStage,
                  label: `nose, radius ${formatLength(seen.nose.noseRadius, unit)}`,
                },
              ]
            : [],
        ),
    [seenTips, posed, mountFrame, onStage, offers, reading, seen, unit],
  );

  const describe = useCallback(
    (pick: PickRef) => {
      const found = bodyOf(source, pick);
      return found ? { text: describePick(found.body, pick, posed, unit), action: actionText(model, pick, picks, arm) } : undefined;
    },
    [source, posed, unit, model, picks, arm],
  );

  const onPick = useCallback(
    (pick: Candidate, gather: boolean) => {
      const ref: PickRef = { item: pick.item, body: pick.body, kind: pick.kind, index: pick.index };
      const toggled = picks.some((p) => samePick(p, ref)) ? picks.filter((p) => !samePick(p, ref)) : [...picks, ref];
      if (gather) return setPicks(toggled);
      if (arm === 'tip') {
        if (addTipFromPick(id, model, ref)) setArm(null);
        else setPicks(toggled);
        return;
      }
      if (arm) {
        const usable = framePicks(model, picks, ref);
        const frame = frameFromPicks(model, usable, pickedAs(arm), radialHint(tips));
        if (!frame) {
          // A corner, an edge or an axis alone is no frame yet: it is gathered.
          setPicks(toggled);
          return;
        }
        const origin = { from: 'picked' as const, evidence: usable.map((p) => sayPick(model, p)).join(', ') };
        const connection = guessConnection(model, usable);
        placeConnection(record, arm, frame, connection, origin);
        setPicks([]);
        setArm(null);
        return;
      }
      setPicks(toggled);
    },
    [arm, id, model, picks, record, setArm, setPicks, tips],
  );

  const pickFaces = useCallback(
    (faces: readonly FaceRef[]) => {
      setArm(null);
      setPicks(faces.map(({ body, face }) => ({ item: ITEM, body, kind: 'face', index: face })));
    },
    [setArm, setPicks],
  );

  const picked = useMemo(() => pickedEntries(record, model, picks), [record, model, picks]);
  const hasTip = stageTips.length > 0;
  const view = useMemo(() => moveFrame(seenMount ? posed : IDENTITY, viewFrameOf(model, seenMount, hasTip)), [seenMount, posed, model, hasTip]);
  const connectionSeen = (mount ?? offeredMount)?.connection.standard;
  const revolved = freshGeometry(record, 'non-cutting');
  const editing = useProfileEditing(mount ? revolved?.profile : undefined, async (drawn) => {
    if (revolved) await makeComponentGeometry(record, 'non-cutting', { ...choiceOf(revolved), mode: 'revolved', drawn });
  });
  // A profile is drawn as such, all else as its section.
  const madeForStrip = useMemo(() => simulation?.filter((i) => i.key !== 'non-cutting' || !revolved?.profile), [simulation, revolved]);
  return (
    <WorkLayout
      id="bench"
      stage={
        <Stage
          items={items}
          frames={isPlain ? frames : []}
          tips={isPlain ? stageTips : []}
          picks={shown === 'source' ? picks : []}
          view={view}
          // Another pose may take the tool out of the view.
          fitKey={`${record.id} ${seenMount ? 'mounted' : ''} ${posed.r.map((v) => v.toFixed(6)).join()} ${posed.t.map((v) => v.toFixed(3)).join()}`}
          insetLeft={PANEL_SHARE}
          describe={shown === 'source' ? describe : undefined}
          onPick={onPick}
          onHover={arm ? setHovered : undefined}
          marks={shown === 'source' ? marks : []}
          evidence={shown === 'source' ? evidence : []}
          beside={shown !== 'beside' ? undefined : growth && !tried ? [] : simulation}
          over={shown === 'over' ? simulation : undefined}
          growth={
            (shown === 'growth' || shown === 'beside') && growth && !tried ? { maps: growth.maps, scale: growth.greatest, stageFromModel: posed } : undefined
          }
        >
          {shown !== 'beside' && <BodiesPanel record={record} />}
          <PickedPanel {...{ record, model, picks, setPicks, posed, axes: mountFrame, unit, arm, setArm }} onPreview={setPreview} />
          {(shown === 'growth' || shown === 'beside') && growth && !tried && <GrowthScale greatest={growth.greatest} unit={unit} />}
          {shown === 'beside' && (
            <>
              <p className="half-caption left">source</p>
              <p className="half-caption right">{growth && !tried ? 'simulation, by its growth' : 'simulation'}</p>
            </>
          )}
          {canCompare && (
            <SegmentedControl
              className="stage-switch"
              size="xs"
              aria-label="Shown on the stage"
              data={[
                { value: 'source', label: `Source · ${summarizeModel(model).triangles.toLocaleString('en')} tri` },
                {
                  value: 'simulation',
                  label: `Simulation · ${withTried(record, tried)
                    .geometry.reduce((n, g) => n + g.trianglesOut, 0)
                    .toLocaleString('en')} tri`,
                },
                { value: 'beside', label: 'Side by side' },
                { value: 'over', label: 'Overlaid' },
                { value: 'growth', label: 'Growth' },
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
          profile={editing}
          made={shown === 'source' ? madeForStrip : undefined}
          plan={freshPlan(record)?.parts}
          wrong={cutIns.map((at) => move(posed, at))}
          unit={unit}
        />
      }
      side={
        <Ledger
          key={id}
          picked={picked}
          record={record}
          model={model}
          unit={unit}
          arm={arm}
          onArm={setArm}
          offers={offers}
          reading={reading}
          mistakes={mistakes}
          onLook={setEvidence}
          onPickFaces={pickFaces}
        />
      }
    />
  );
}

// What is true of a mount's Y: how it looks at the rake face, where there is one.
function thirdAxisName(record: Pick<ComponentRecord, 'mount' | 'tips' | 'bodies'>, model: Model): string {
  const corner = record.mount && record.tips[0] ? cornerOfTip(record, model, record.tips[0]) : undefined;
  if (!corner || !record.mount) return 'across';
  const along = dot(yOf(record.mount.frame), corner.rake);
  return along > 0.7 ? 'above the rake face' : along < -0.7 ? 'below the rake face' : 'across';
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
        roles: Object.fromEntries(g.parts.map((_, i) => [`p${i + 1}`, g.target === 'cutting' ? ('cutting' as const) : ('tool body' as const)])),
        hidden: new Set(),
      };
    });
  }, [made, models, source]);
}

function actionText(model: Model, pick: PickRef, picks: readonly PickRef[], arm: Arm): string {
  if (arm === 'tip') return noseFromPick(model, pick) ? 'click takes it as nose' : 'click gathers it for a nose';
  if (arm) {
    if (frameFromPicks(model, [pick], pickedAs(arm)))
      return `click puts the ${arm} ${pick.kind === 'edge' ? 'at its centre' : picks.length > 0 ? 'where the axis meets it' : 'at its middle'}`;
    return axisOfPick(model, pick) ? `click takes it as the ${arm}’s axis; then pick the face where it ends` : 'click gathers it for a point';
  }
  return picks.some((p) => samePick(p, pick)) ? 'click lets it go' : 'click picks it';
}

const sayPick = (model: Model, pick: PickRef): string => {
  const body = model.bodies.find((b) => b.id === pick.body);
  const what = pick.kind === 'corner' ? 'corner' : pick.kind === 'edge' ? body?.edges[pick.index].curve.kind : body?.faces[pick.index].surface.kind;
  return `${what} ${pick.index + 1} of ${pick.body}`;
};

// Words on the stage where something is wrong; the Ledger says the rest.
const MISTAKE_WORDS: Record<Mistake['code'], string> = {
  'z-turned': 'Z points away from the work',
  'mount-off-face': 'mount off its face',
  'mount-off-axis': 'mount off the axis',
  'tip-off-plane': 'tip off the turning plane',
  'upside-down': 'insert upside down?',
};

// What a click on something would make of it.
function previewOf(model: Model, pick: PickRef, picks: readonly PickRef[], arm: Exclude<Arm, null>, record: ComponentRecord): Preview | null {
  if (arm === 'tip') {
    const nose = noseFromPick(model, pick);
    return nose ? { nose: { name: 'nose', ...nose } } : null;
  }
  const frame = frameFromPicks(model, framePicks(model, picks, pick), pickedAs(arm), radialHint(record.tips));
  if (frame) return { frame };
  const point = pointOfPick(model, pick);
  return point ? { point } : null;
}
