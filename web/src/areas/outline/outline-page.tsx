import { ActionIcon, Button, Checkbox, Menu, Tooltip } from '@mantine/core';
import { IconArrowsExchange, IconDownload, IconPlus } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Frame } from '#core/math';
import { IDENTITY } from '#core/math';
import type { FlatPoint } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import { invertFlat, mapFlat, OUTLINE_FILES, type OutlineFileKind, shapeOfOutline } from '#core/sources';
import { simpleStack } from '#core/stack';
import { formatLength, type LengthUnit } from '#core/units';
import { AreaHeader } from '../../app/area-header.tsx';
import { outlineOpened } from '../../app/session-slice.ts';
import { changeOutline, selectComponentOfOutline, selectOutline, store, useAppSelector } from '../../app/store.ts';
import { SideLayout } from '../../app/work-layout.tsx';
import { newId } from '../../common/new-id.ts';
import { LedgerOf } from '../../ledger/ledger-entry.tsx';
import type { StageItem } from '../../scene/picks.ts';
import { Stage } from '../../scene/stage.tsx';
import { renameRecord } from '../../store/library-actions.ts';
import { chooseReading, makeComponent, newDrawn, newDrawnInsert, newStack, saveOutline } from '../../store/outline-actions.ts';
import { usePictureUrl, useSheet } from '../../store/sheets.ts';
import { OpenButton } from '../empty-area.tsx';
import { DrawingEntries, type Wanted } from './ledger/drawing-entries.tsx';
import { CutterEntry } from './ledger/cutter-entry.tsx';
import { DistanceAsked } from './ledger/distance-asked.tsx';
import { SaidEntries } from './ledger/said-entries.tsx';
import { StackEntries } from './ledger/stack-entries.tsx';
import { NumberEntries, PurposeEntries } from './ledger/use-entries.tsx';
import { NO_INSET } from './sheet/use-sheet-view.ts';
import { isUnscaled, Sheet, type SheetPick } from './sheet/sheet.tsx';
import { useSketchEditing } from './sketch/use-sketch-editing.ts';
import { useSolid } from './solid/use-solid.ts';

export default function OutlinePage() {
  const { id } = useParams();
  const last = useAppSelector((s) => s.session.lastOutline);
  const outline = useAppSelector((s) => selectOutline(s, id ?? last ?? undefined));
  useEffect(() => {
    if (outline) store.dispatch(outlineOpened(outline.id));
  }, [outline]);
  return outline ? <OutlineWork key={outline.id} outline={outline} /> : <NoOutline />;
}

function useBegin() {
  const navigate = useNavigate();
  return {
    holder: () =>
      void navigate(
        `/outline/${newStack('Holder', 'holder', { ...simpleStack({ standard: 'HSK-A', size: 63, length: 0 }, 50, 60, newId()), bore: { standard: 'ER', size: 25, depth: 0 } })}`,
      ),
    insert: () => void navigate(`/outline/${newDrawnInsert('Drawn insert')}`),
    drawn: () => void navigate(`/outline/${newDrawn('Drawn cutter')}`),
    cutter: () => void navigate(`/outline/${newStack('Cutter', 'cutter', simpleStack({ standard: 'cylindrical', size: 12, length: 40 }, 16, 15, newId()))}`),
  };
}

function NoOutline() {
  const begin = useBegin();
  return (
    <div className="area">
      <div className="empty-area">
        <h1>Outline</h1>
        <p>
          A tool without a model: drop its drawing (DXF, SVG) or its picture (PNG, JPEG) anywhere, or type its lengths and diameters. It becomes a solid with
          true faces, a component like any other.
        </p>
        <div className="button-row">
          <OpenButton />
          <Button variant="default" onClick={begin.holder}>
            Type a holder
          </Button>
          <Button variant="default" onClick={begin.cutter}>
            Type a cutter
          </Button>
          <Button variant="default" onClick={begin.drawn}>
            Draw one
          </Button>
        </div>
      </div>
    </div>
  );
}

// Seen from the side, the work at the right, as on the sheet.
const SOLID_VIEW: Frame = { origin: [0, 0, 0], z: [1, 0, 0], x: [0, 0, 1] };
const NOTHING_HIDDEN: ReadonlySet<string> = new Set();
// Pixels that the smaller view takes, with its margin.
const INSET = { width: 300, height: 212 };

function OutlineWork({ outline }: { outline: OutlineRecord }) {
  const unit = useAppSelector((s) => s.session.unit);
  const component = useAppSelector((s) => selectComponentOfOutline(s, outline.id));
  const navigate = useNavigate();
  const begin = useBegin();
  const under = useSheet(outline.way);
  const pictureUrl = usePictureUrl(outline.way);
  const [isSwapped, setSwapped] = useState(false);
  const [isFaded, setFaded] = useState(true);
  const [lit, setLit] = useState<string | null>(null);
  const made = useMemo(() => shapeOfOutline(outline), [outline]);
  const shape = made.ok ? made.value : undefined;
  const { solid, fault } = useSolid(shape);
  const asked = usePicking(outline, under);
  const editing = useSketchEditing(outline);
  const mayChange = outline.way.kind !== 'stack';
  const ledger = useMemo(() => ({ id: outline.id, picked: NOTHING_PICKED }), [outline.id]);
  const items = useMemo(
    (): StageItem[] => (solid ? [{ key: outline.id, model: solid.model, stageFromModel: IDENTITY, roles: solid.roles, hidden: NOTHING_HIDDEN }] : []),
    [solid, outline.id],
  );
  const wrong = outline.fault ?? fault ?? (made.ok ? null : made.issues.map((i) => String(i.values.text)).join());
  const sheet = (
    <Sheet
      outline={outline}
      under={under}
      lit={lit}
      pictureUrl={pictureUrl}
      isFaded={isFaded && outline.profile.length > 0}
      editing={editing}
      mayChange={mayChange}
      pick={asked.pick}
      given={asked.given}
      onEdges={(cutting) => changeOutline(outline.id, 'Edges that cut', (o) => ({ insert: { ...o.insert, cutting } }))}
      onCutting={(cutting) => changeOutline(outline.id, 'Length of the cutting part', () => ({ cutting }))}
      unit={unit}
      inset={isSwapped ? NO_INSET : INSET}
    >
      {wrong !== null && !asked.pick && (
        <p className={isUnscaled(outline) ? 'sheet-fault next' : 'sheet-fault'} role="alert">
          {!isUnscaled(outline) && <span className="ledger-mark fail" role="img" aria-label="wrong" />}
          {wrong}
        </p>
      )}
    </Sheet>
  );
  const view3d = items.length > 0 && (
    <Stage key={String(isSwapped)} items={items} view={outline.purpose === 'insert' ? PLATE_VIEW : SOLID_VIEW} fitKey={`${outline.id} ${sizeKey(outline)}`} />
  );
  return (
    <div className="area">
      <AreaHeader title={outline.name} onRename={(name) => renameRecord(outline, name)} note={<OutlineNote outline={outline} unit={unit} />}>
        <Menu position="bottom-end">
          <Menu.Target>
            <Button size="xs" variant="default" leftSection={<IconPlus size={15} />}>
              New
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={begin.holder}>Holder by numbers</Menu.Item>
            <Menu.Item onClick={begin.cutter}>Cutter by numbers</Menu.Item>
            <Menu.Item onClick={begin.drawn}>Drawn by hand, turned</Menu.Item>
            <Menu.Item onClick={begin.insert}>Drawn by hand, an insert</Menu.Item>
          </Menu.Dropdown>
        </Menu>
        <SaveMenu outline={outline} disabled={!shape} />
        {component ? (
          <Button size="xs" component={Link} to={`/bench/${component.id}`}>
            On the Bench
          </Button>
        ) : (
          <Button
            size="xs"
            disabled={!shape || wrong !== null}
            onClick={() => void makeComponent(outline.id).then((made) => made && navigate(`/bench/${made}`))}
          >
            Make the component
          </Button>
        )}
      </AreaHeader>
      <SideLayout
        id="outline"
        main={
          <div className={`outline-stage ${isSwapped ? 'swapped' : ''}`}>
            <div className={isSwapped ? 'outline-inset' : 'outline-main'}>{sheet}</div>
            <div className={isSwapped ? 'outline-main' : 'outline-inset'}>
              {view3d || <p className="inset-empty">The solid is seen here once there is one.</p>}
            </div>
            <Tooltip label="Swap the sheet and the solid" position="left">
              <ActionIcon className="outline-swap" variant="default" size="lg" aria-label="Swap the sheet and the solid" onClick={() => setSwapped(!isSwapped)}>
                <IconArrowsExchange size={18} />
              </ActionIcon>
            </Tooltip>
            {pictureUrl && outline.profile.length > 0 && (
              <Checkbox className="sheet-fade" size="xs" label="picture faded" checked={isFaded} onChange={(e) => setFaded(e.currentTarget.checked)} />
            )}
          </div>
        }
        side={
          <LedgerOf.Provider value={ledger}>
            <div className="ledger" role="region" aria-label="Ledger">
              <div className="ledger-head">
                <h2>Ledger</h2>
                <p className="ledger-summary" role="status">
                  {standing(outline, wrong, component !== undefined)}
                </p>
              </div>
              {asked.distance && (
                <DistanceAsked
                  unit={unit}
                  found={asked.distance.found}
                  onTake={asked.distance.take}
                  onLeave={() => asked.want(null)}
                  {...(asked.distance.check === undefined ? {} : { check: asked.distance.check })}
                />
              )}
              {outline.way.kind === 'drawing' ? (
                <DrawingEntries
                  outline={outline}
                  way={outline.way}
                  under={under}
                  unit={unit}
                  wanted={asked.wanted}
                  onWant={asked.want}
                  lit={lit}
                  onLight={setLit}
                />
              ) : outline.way.kind === 'stack' ? (
                <StackEntries outline={outline} stack={outline.way.stack} unit={unit} />
              ) : null}
              {mayChange && outline.profile.length > 0 && <SaidEntries editing={editing} unit={unit} />}
              {outline.profile.length > 0 && (
                <>
                  <h3>Use</h3>
                  <PurposeEntries outline={outline} unit={unit} />
                </>
              )}
              <NumberEntries outline={outline} unit={unit} />
              {outline.profile.length > 0 && outline.purpose !== 'insert' && <CutterEntry key={outline.id} outline={outline} unit={unit} />}
            </div>
          </LedgerOf.Provider>
        }
      />
    </div>
  );
}

const PLATE_VIEW: Frame = { origin: [0, 0, 0], z: [0, -1, 0], x: [1, 0, 0] };
const NOTHING_PICKED: ReadonlySet<string> = new Set();

// The view is fitted again where the size has changed by much.
const sizeKey = ({ profile }: OutlineRecord): string => {
  const far = profile.flat().reduce((m, p) => Math.max(m, Math.abs(p.from[0]), Math.abs(p.from[1])), 1);
  return String(Math.round(Math.log2(far) * 4));
};

function standing(outline: OutlineRecord, wrong: string | null, hasComponent: boolean): string {
  if (wrong !== null) return outline.profile.length === 0 ? 'no outline yet' : 'something is wrong';
  return hasComponent ? 'its component follows' : 'ready to become a component';
}

function OutlineNote({ outline, unit }: { outline: OutlineRecord; unit: LengthUnit }) {
  const { way, byHand } = outline;
  if (way.kind === 'stack') {
    const long = way.stack.segments.reduce((l, s) => l + s.length, 0);
    return <>by numbers · {formatLength(long, unit)} long</>;
  }
  if (way.kind === 'drawn') return <>drawn by hand</>;
  return (
    <>
      {way.fileName}
      {byHand && ' · changed by hand'}
    </>
  );
}

const FILE_WORDS: Readonly<Record<OutlineFileKind, string>> = {
  step: 'STEP, true faces',
  stl: 'STL mesh',
  glb: 'GLB mesh',
  '3mf': '3MF mesh',
  dxf: 'DXF outline',
  svg: 'SVG outline',
  json: 'Outline record (JSON)',
};

function SaveMenu({ outline, disabled }: { outline: OutlineRecord; disabled: boolean }) {
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button size="xs" variant="default" disabled={disabled} leftSection={<IconDownload size={15} />}>
          Save as
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {OUTLINE_FILES.map((kind) => (
          <Menu.Item key={kind} onClick={() => void saveOutline(outline, kind)}>
            {FILE_WORDS[kind]}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

const ASKS: Readonly<Record<NonNullable<Wanted>, readonly string[]>> = {
  axis: ['Point at one place of the axis.', 'Point at another place of the axis.'],
  outline: ['Point into what is meant.'],
  scale: ['Point at the first of two places whose distance you know.', 'Point at the second one.'],
  check: ['Point at the first of two other places.', 'Point at the second one.'],
};

/** What is being pointed at on the sheet, and what comes of it. */
function usePicking(outline: OutlineRecord, under: ReturnType<typeof useSheet>) {
  const [wanted, setWanted] = useState<Wanted>(null);
  const [given, setGiven] = useState<readonly FlatPoint[]>([]);
  const want = (next: Wanted) => {
    setWanted(next);
    setGiven([]);
  };
  useEffect(() => {
    const stop = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return;
      setWanted(null);
      setGiven([]);
    };
    window.addEventListener('keydown', stop);
    return () => window.removeEventListener('keydown', stop);
  }, []);
  const { way } = outline;
  const back = under && invertFlat(under.ghost.sheetFromFile);
  if (!wanted || !back || way.kind !== 'drawing') return { wanted, want, given, pick: null, distance: null };
  const inFile = (p: FlatPoint): FlatPoint => mapFlat(back, p);
  const asks = ASKS[wanted];
  const isFull = given.length >= asks.length;
  const take = (at: FlatPoint) => {
    const all = [...given, at];
    setGiven(all);
    if (all.length < asks.length) return;
    if (wanted === 'outline') {
      want(null);
      void chooseReading(outline.id, 'Another outline', { at: inFile(at) });
    } else if (wanted === 'axis') {
      want(null);
      void chooseReading(outline.id, 'Another axis', { axis: { from: inFile(all[0]), to: inFile(at) } });
    }
  };
  const pick: SheetPick | null = isFull ? null : { ask: asks[given.length], take };
  if (!isFull || (wanted !== 'scale' && wanted !== 'check')) return { wanted, want, given, pick, distance: null };
  const [from, to] = given.map(inFile);
  const pixels = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const { scale } = way.choice;
  const perPixel = scale && scale.mm / Math.hypot(scale.to[0] - scale.from[0], scale.to[1] - scale.from[1]);
  const found = perPixel ? pixels * perPixel : undefined;
  if (wanted === 'check') return { wanted, want, given, pick, distance: { found, check: true as const, take: () => undefined } };
  const scaled = (mm: number) => {
    want(null);
    void chooseReading(outline.id, 'Scale of the picture', { scale: { from, to, mm } });
  };
  return { wanted, want, given, pick, distance: { found, check: undefined, take: scaled } };
}
