import { OrbitControls, OrthographicCamera } from '@react-three/drei';
import { type RootState, useThree } from '@react-three/fiber';
import { ActionIcon, Kbd, Tooltip, useComputedColorScheme } from '@mantine/core';
import { IconFocusCentered } from '@tabler/icons-react';
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Object3D, type OrthographicCamera as ThreeOrthographicCamera, Vector3 } from 'three';
import { addScaled, boundsCentre, boundsCorners, boundsDiagonal, type Frame, joinBounds, type Motion, move, type Vec3, yOf } from '#core/math';
import { Evidence, Highlight, ItemBodies, ItemOver } from './bodies.tsx';
import { FrameGlyph, labelsOf, MarkGlyph, type StageFrame, type StageMark, type StageTip, TipGlyph } from './glyphs.tsx';
import { GrowthMesh, type GrowthShown } from './growth-mesh.tsx';
import { KeptCanvas } from './kept-canvas.tsx';
import { LabelLayer, LabelPlacer } from './labels.tsx';
import { pickAt } from './picking.ts';
import { type Candidate, type PickRef, samePick, type StageItem } from './picks.ts';
import { LEFT, RIGHT, SideBySide } from './side-by-side.tsx';
import type { Slide } from './slide.ts';
import { SlideHandle, type SlidePlace, SlidePlacer } from './slide-handle.tsx';

export interface StageProps {
  readonly items: readonly StageItem[];
  readonly frames?: readonly StageFrame[];
  readonly tips?: readonly StageTip[];
  readonly picks?: readonly PickRef[];
  /** The frame that the view stands by: Y is up, Z comes towards the viewer. */
  readonly view: Frame;
  /** Pixels at the left that a panel covers: the model is fitted beside it. */
  readonly insetLeft?: number;
  /** A new value fits the view again. */
  readonly fitKey: string;
  /** What is under the pointer in words, and what a click would do. */
  readonly describe?: (pick: PickRef) => { text: string; action: string } | undefined;
  /** `gather`: with Shift, to add to what is picked. */
  readonly onPick?: (pick: Candidate, gather: boolean) => void;
  /** A key that the stage itself has no use for, in lower case. */
  readonly onKey?: (key: string) => void;
  /** Called with what is under the pointer, and with null when nothing is. */
  readonly onHover?: (pick: Candidate | null) => void;
  /** Points, with a direction or without, and what is wrong there. */
  readonly marks?: readonly StageMark[];
  /** Items at the right half of the stage, seen as those at its left are; nothing is picked then. */
  readonly beside?: readonly StageItem[];
  /** Items that are laid over the others, to be seen through. */
  readonly over?: readonly StageItem[];
  /** Made geometry coloured by its growth, in place of items. */
  readonly growth?: { readonly maps: readonly GrowthShown[]; readonly scale: number; readonly stageFromModel: Motion };
  /** Faces of the first item that what is being looked at rests on. */
  readonly evidence?: readonly { readonly body: string; readonly face: number }[];
  /** Something that can be slid along a line. */
  readonly slide?: Slide | undefined;
  readonly children?: ReactNode;
}

interface Hover {
  readonly candidates: readonly Candidate[];
  readonly at: number;
}

const NO_FRAMES: readonly StageFrame[] = [];
const NO_TIPS: readonly StageTip[] = [];
const NO_MARKS: readonly StageMark[] = [];
// Of the width, what one of two pictures is fitted to: a half with room for the scale.
const BESIDE = 0.44;
const NO_HOVER: Hover = { candidates: [], at: 0 };
const HOVER_COLOUR = '#e0a32e';
const PICK_COLOUR = '#1c9a8c';

/** The 3D view: bodies, frames, tips, pointing and picking. Draws only when something changed. */
export function Stage(props: StageProps) {
  const {
    items,
    frames = NO_FRAMES,
    tips = NO_TIPS,
    marks = NO_MARKS,
    picks = [],
    describe,
    onPick,
    onHover,
    onKey,
    evidence,
    growth,
    beside,
    over,
    view,
    fitKey,
    insetLeft = 0,
    slide,
    children,
  } = props;
  const dark = useComputedColorScheme('light') === 'dark';
  const [hover, setHover] = useState<Hover>(NO_HOVER);
  const [refit, setRefit] = useState(0);
  const three = useRef<(() => RootState) | null>(null);
  const takeState = useCallback((get: () => RootState) => {
    three.current = get;
  }, []);
  const down = useRef<{ x: number; y: number } | null>(null);
  const queued = useRef(0);
  const bounds = useMemo(() => boundsOfItems(items), [items]);
  const size = bounds ? boundsDiagonal(bounds) * 0.16 : 10;
  const labels = useMemo(() => labelsOf(frames, tips, marks, size), [frames, tips, marks, size]);
  const growthMeshes = growth?.maps.map((m, i) => <GrowthMesh key={i} map={m} scale={growth.scale} stageFromModel={growth.stageFromModel} />);
  const edgeColour = dark ? '#0b0f12' : '#22303a';
  const labelLayer = useRef<HTMLDivElement | null>(null);
  const slidePlace = useRef<SlidePlace>({ element: null, per: [0, 0] });

  // Where the pointer was last, and exactly what is under it: as long as that is the same faces and edges nothing is drawn anew.
  const under = useRef<{ x: number; y: number; candidates: readonly Candidate[] }>({ x: 0, y: 0, candidates: [] });
  const tooltip = useRef<HTMLDivElement | null>(null);

  const hoverAt = useCallback(
    (x: number, y: number) => {
      cancelAnimationFrame(queued.current);
      queued.current = requestAnimationFrame(() => {
        const state = three.current?.();
        if (!state || !describe) return;
        const candidates = pickAt(items, { camera: state.camera, width: state.size.width, height: state.size.height }, x, y);
        under.current = { x, y, candidates };
        if (tooltip.current) Object.assign(tooltip.current.style, { left: `${x}px`, top: `${y}px` });
        setHover((before) => {
          if (candidates.length === 0) return NO_HOVER;
          const isKept = candidates.length === before.candidates.length && samePick(candidates[0], before.candidates[0]);
          if (isKept && candidates.every((c, i) => samePick(c, before.candidates[i]))) return before;
          return { candidates, at: isKept ? before.at : 0 };
        });
      });
    },
    [items, describe],
  );
  useEffect(() => () => cancelAnimationFrame(queued.current), []);

  const current = hover.candidates[hover.at];
  const said = current && describe?.(current);
  const pick = (gather: boolean) => {
    // What is named, at the very place where the pointer is now.
    if (current) onPick?.(under.current.candidates.find((c) => samePick(c, current)) ?? current, gather);
  };
  // The pointer moves often and the pick seldom: whoever listens hears of another pick only.
  const heard = useRef<PickRef | null>(null);
  useEffect(() => {
    const isSame = current && heard.current ? samePick(current, heard.current) : !current && !heard.current;
    if (isSame || !onHover) return;
    heard.current = current ?? null;
    onHover(current ?? null);
  }, [current, onHover]);

  return (
    <div
      className="stage"
      role="application"
      aria-label="3D stage. Point at a face or an edge; Tab goes to what lies behind, Enter takes it, Shift adds to what is picked, F fits the view."
      tabIndex={0}
      onPointerMove={(e) => {
        if (e.buttons !== 0 || e.target !== three.current?.().gl.domElement) return setHover(NO_HOVER);
        hoverAt(e.nativeEvent.offsetX, e.nativeEvent.offsetY);
      }}
      onPointerLeave={() => setHover(NO_HOVER)}
      onPointerDown={(e) => {
        down.current = { x: e.clientX, y: e.clientY };
      }}
      onPointerUp={(e) => {
        const from = down.current;
        down.current = null;
        if (e.button === 0 && from && Math.hypot(e.clientX - from.x, e.clientY - from.y) < 4 && e.target === three.current?.().gl.domElement) pick(e.shiftKey);
      }}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        if (e.key === 'Tab' && hover.candidates.length > 1) {
          e.preventDefault();
          const step = e.shiftKey ? hover.candidates.length - 1 : 1;
          setHover({ ...hover, at: (hover.at + step) % hover.candidates.length });
        } else if (e.key === 'Enter') pick(e.shiftKey);
        else if (e.ctrlKey || e.metaKey || e.altKey) return;
        else if (e.key.toLowerCase() === 'f') setRefit((n) => n + 1);
        else onKey?.(e.key.toLowerCase());
      }}
    >
      <KeptCanvas onReady={takeState}>
        <StageView
          view={view}
          bounds={bounds}
          fitKey={`${fitKey} ${refit} ${beside ? 'beside' : ''}`}
          insetLeft={beside ? 0 : insetLeft}
          share={beside ? BESIDE : 1}
        />
        <hemisphereLight args={['#ffffff', dark ? '#3a444c' : '#b9b2a4', 1.5]} />
        <group name={LEFT}>
          {items.map((item) => (
            <ItemBodies key={item.key} item={item} edgeColour={edgeColour} />
          ))}
        </group>
        {beside && (
          <>
            <group name={RIGHT}>
              {beside.map((item) => (
                <ItemBodies key={item.key} item={item} edgeColour={edgeColour} />
              ))}
              {growthMeshes}
            </group>
            <SideBySide />
          </>
        )}
        {over?.map((item) => (
          <ItemOver key={item.key} item={item} colour={dark ? '#57c4b4' : PICK_COLOUR} />
        ))}
        {!beside && growthMeshes}
        {picks.map((p) => (
          <Highlight key={`${p.item} ${p.body} ${p.kind} ${p.index}`} items={items} pick={p} colour={PICK_COLOUR} size={size} />
        ))}
        {current && <Highlight items={items} pick={current} colour={HOVER_COLOUR} size={size} />}
        {frames.map((f) => (
          <FrameGlyph {...f} key={f.key} size={size} />
        ))}
        {evidence && evidence.length > 0 && items[0] && <Evidence item={items[0]} faces={evidence} />}
        {marks.map((m) => (
          <MarkGlyph {...m} key={m.key} size={size} />
        ))}
        {tips.map((t) => (
          <TipGlyph {...t} key={t.key} size={size} />
        ))}
        <LabelPlacer labels={labels} layer={labelLayer} />
        {slide && <SlidePlacer slide={slide} place={slidePlace} />}
      </KeptCanvas>
      <LabelLayer labels={labels} layer={labelLayer} />
      {slide && <SlideHandle slide={slide} place={slidePlace} />}
      {said && (
        <div ref={tooltip} className="stage-tooltip" style={{ left: under.current.x, top: under.current.y }} role="status">
          <div>{said.text}</div>
          <div className="stage-tooltip-action">
            {said.action}
            {hover.candidates.length > 1 && (
              <>
                {' · '}
                <Kbd size="xs">Tab</Kbd> {hover.at + 1} of {hover.candidates.length}
              </>
            )}
          </div>
        </div>
      )}
      <Tooltip label="Fit the view (F)" position="left">
        <ActionIcon className="stage-fit" variant="default" size="lg" aria-label="Fit the view" onClick={() => setRefit((n) => n + 1)}>
          <IconFocusCentered size={18} />
        </ActionIcon>
      </Tooltip>
      {children}
    </div>
  );
}

function boundsOfItems(items: readonly StageItem[]) {
  return joinBounds(
    items.flatMap((item) =>
      item.model.bodies
        .filter((b) => !item.aside && !item.hidden.has(b.id))
        .map((b) => {
          const corners = boundsCorners(b.bbox).map((c) => move(item.stageFromModel, c));
          const axis = (k: 0 | 1 | 2) => corners.map((c) => c[k]);
          return {
            min: [Math.min(...axis(0)), Math.min(...axis(1)), Math.min(...axis(2))] as Vec3,
            max: [Math.max(...axis(0)), Math.max(...axis(1)), Math.max(...axis(2))] as Vec3,
          };
        }),
    ),
  );
}

// Camera and controls: stands by the view frame, fits the bounds when asked, then leaves the camera to the person.
function StageView({
  view,
  bounds,
  fitKey,
  insetLeft,
  share,
}: {
  view: Frame;
  bounds: ReturnType<typeof boundsOfItems>;
  fitKey: string;
  insetLeft: number;
  /** Of the width, that one picture has. */
  share: number;
}) {
  const { size, invalidate, get } = useThree();
  const controls = useThree((s) => s.controls) as unknown as { target: Vector3; update(): void } | null;
  const fitted = useRef<{ key: string; controls: unknown }>({ key: '', controls: null });
  const lightTarget = useMemo(() => new Object3D(), []);
  const up = yOf(view);
  const upKey = up.map((v) => v.toFixed(6)).join();
  useEffect(() => {
    const key = `${fitKey} ${upKey}`;
    // Controls come a moment after the camera, and anew when "up" changes: without them the fit would be undone.
    if (!bounds || size.width === 0 || !controls || (fitted.current.key === key && fitted.current.controls === controls)) return;
    fitted.current = { key, controls };
    const camera = get().camera as ThreeOrthographicCamera;
    const target = boundsCentre(bounds);
    const away = boundsDiagonal(bounds) * 2 + 10;
    // From above, from the side that the work is on, so that the tip comes to the front.
    const from = addScaled(addScaled(addScaled(target, view.x, 0.72 * away), up, 0.62 * away), view.z, 0.62 * away);
    camera.up.set(...up);
    camera.position.set(...from);
    camera.near = -away * 2;
    camera.far = away * 6;
    camera.lookAt(...target);
    camera.updateMatrixWorld();
    camera.zoom = zoomToFit(camera, bounds, share * size.width - insetLeft, size.height);
    camera.updateProjectionMatrix();
    const aside = new Vector3().setFromMatrixColumn(camera.matrixWorld, 0).multiplyScalar(-insetLeft / 2 / camera.zoom);
    camera.position.add(aside);
    controls.target.set(...target).add(aside);
    controls.update();
    invalidate();
  });
  return (
    <>
      <OrthographicCamera makeDefault>
        {/* A light that comes with the viewer, so that no side is dark. */}
        <primitive object={lightTarget} position={[0, 0, -1]} />
        <directionalLight position={[0.5, 0.8, 1]} target={lightTarget} intensity={2.2} />
      </OrthographicCamera>
      <OrbitControls key={upKey} makeDefault enableDamping={false} zoomToCursor={share === 1} />
    </>
  );
}

function zoomToFit(camera: ThreeOrthographicCamera, bounds: NonNullable<ReturnType<typeof boundsOfItems>>, width: number, height: number): number {
  const inverse = camera.matrixWorld.clone().invert();
  const points = boundsCorners(bounds).map((c) => new Vector3(...c).applyMatrix4(inverse));
  const spread = (pick: (v: Vector3) => number) => Math.max(...points.map(pick)) - Math.min(...points.map(pick));
  return (
    0.84 *
    Math.min(
      width /
        Math.max(
          1e-6,
          spread((v) => v.x),
        ),
      height /
        Math.max(
          1e-6,
          spread((v) => v.y),
        ),
    )
  );
}
