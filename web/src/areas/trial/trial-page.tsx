import { ActionIcon, Button, Menu, SegmentedControl } from '@mantine/core';
import { IconDots, IconPlus } from '@tabler/icons-react';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Frame } from '#core/math';
import { flattenPath, type FlatPoint } from '#core/outline';
import type { MachineRecord, SetUpRecord, TrialRecord } from '#core/records';
import { isFault, type Operation, type Recording, stockOf, supportSection, type TrialEvent, wholePieces } from '#core/trial';
import { AreaHeader } from '../../app/area-header.tsx';
import { trialOpened } from '../../app/session-slice.ts';
import { store, useAppSelector } from '../../app/store.ts';
import { WorkLayout } from '../../app/work-layout.tsx';
import { Stage } from '../../scene/stage.tsx';
import { OtherRecords } from '../../common/other-records.tsx';
import { saveShelf } from '../../store/shelf-file-actions.ts';
import { changeTrial, deleteTrial, furtherTrial, newTrial, selectTrial } from '../../store/trial-actions.ts';
import { CutPanel, newCut } from './cut-panel.tsx';
import { JobPanel } from './job-panel.tsx';
import { ProgramPanel } from './program-panel.tsx';
import { ReachPanel } from './reach-panel.tsx';
import { EventList } from './event-list.tsx';
import { Outcome } from './outcome.tsx';
import { SectionView } from './section-view.tsx';
import { Timeline } from './timeline.tsx';
import { machineItems, turnedItem } from './trial-items.ts';
import { hasText, useSetUpOf, useTrial } from './use-trial.ts';

const OffChart = lazy(() => import('./off-chart.tsx'));
const OverTime = lazy(() => import('./over-time.tsx'));

export default function TrialPage() {
  const { id } = useParams();
  const navigate = useNavigate();
  const last = useAppSelector((s) => s.session.lastTrial);
  const first = useAppSelector((s) => Object.values(s.library.records).find((r) => r.kind === 'trial')?.id);
  const trial = useAppSelector((s) => selectTrial(s, id ?? last) ?? (id ? undefined : selectTrial(s, first)));
  const records = useAppSelector((s) => s.library.records);
  const setUps = useMemo(() => Object.values(records).filter((r): r is SetUpRecord => r.kind === 'set-up'), [records]);
  const { setUp, machine } = useSetUpOf(trial);
  useEffect(() => {
    if (trial) store.dispatch(trialOpened(trial.id));
  }, [trial]);
  if (!trial)
    return (
      <div className="area">
        <div className="empty-area">
          <h1>Trial</h1>
          <p>Here a program is run against a set-up: what is cut, what touches, and how the part comes out.</p>
          {setUps.length === 0 ? (
            <p>
              There is no set-up yet. <Link to="/carrier">Load one in Carrier</Link>.
            </p>
          ) : (
            <div className="machine-choice">
              {setUps.map((s) => (
                <Button key={s.id} variant="default" onClick={() => void navigate(`/trial/${newTrial(s.id)}`)}>
                  {s.name}
                </Button>
              ))}
            </div>
          )}
        </div>
      </div>
    );
  return (
    <div className="area">
      <AreaHeader
        title={trial.name}
        onRename={(name) => changeTrial(trial.id, `Renamed to ${name.trim()}`, { name: name.trim().slice(0, 200) || trial.name })}
        note={
          <OtherRecords kind="trial" id={trial.id} word="trial">
            {setUp?.name}
          </OtherRecords>
        }
      >
        {setUp && (
          <Button size="xs" variant="default" leftSection={<IconPlus size={16} />} onClick={() => void navigate(`/trial/${newTrial(setUp.id)}`)}>
            New trial
          </Button>
        )}
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon variant="default" size="lg" aria-label="More of this trial">
              <IconDots size={17} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            {setUp && <Menu.Item onClick={() => void navigate(`/handover/${setUp.id}`)}>Hand over its set-up, with its programs</Menu.Item>}
            <Menu.Item onClick={() => void saveShelf(trial.name, [trial.id])}>Write as a file, with its set-up and tools</Menu.Item>
            <Menu.Item
              color="brick"
              onClick={() => {
                deleteTrial(trial);
                void navigate('/trial');
              }}
            >
              Delete this trial
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </AreaHeader>
      {setUp && machine ? (
        <TrialWork key={trial.id} {...{ trial, setUp, machine }} />
      ) : (
        <div className="empty-area">
          <p>The set-up of this trial is not there any more. Choose another one.</p>
          <div className="machine-choice">
            {setUps.map((s) => (
              <Button key={s.id} variant="default" onClick={() => changeTrial(trial.id, 'Another set-up', { setUpId: s.id })}>
                {s.name}
              </Button>
            ))}
          </div>
        </div>
      )}
    </div>
  );
}

// The main chuck stands at the left, X goes up: Y comes towards the viewer.
const VIEW: Frame = { origin: [0, 0, 0], z: [0, 1, 0], x: [0, 0, 1] };
// The counter spindle's work is seen from its own front.
const FROM_COUNTER: Frame = { origin: [0, 0, 0], z: [0, -1, 0], x: [0, 0, -1] };
const TABS = ['events', 'program', 'cuts', 'reach', 'job'] as const;
type Tab = (typeof TABS)[number];

function TrialWork({ trial, setUp, machine }: { trial: TrialRecord; setUp: SetUpRecord; machine: MachineRecord }) {
  const unit = useAppSelector((s) => s.session.unit);
  const [asked, setTime] = useState<number | null>(null);
  const [tab, setTab] = useState<Tab>('events');
  const [op, setOp] = useState<Operation>();
  const [shown, setChannel] = useState(0);
  const channel = Math.min(shown, trial.programs.length - 1);
  const [strip, setStrip] = useState<'section' | 'time'>('section');
  const { setting, parts, isLoading, answer, isRunning, replay, cuts, reach, isLooking, cut, isCutReady } = useTrial(trial, setUp, machine, {
    wantsReach: tab === 'reach',
    wantsCuts: strip === 'time',
    op: tab === 'cuts' ? op : undefined,
  });
  const [edge, setEdge] = useState(0);
  const [place, setPlace] = useState<FlatPoint>();
  const ran = answer && !answer.faults ? answer : undefined;
  // Nothing said: what came out.
  // A cut is made of what is there at the end.
  const time = Math.min(tab === 'cuts' ? Infinity : (asked ?? Infinity), ran?.time ?? 0);
  const moment = useMemo(() => replay?.at(time), [replay, time]);
  const stock = useMemo(() => stockOf(setting), [setting]);
  // What runs at the moment, of each channel the move and the tool.
  const running = useMemo(() => {
    if (!moment || !ran) return [];
    const { moves, tools } = ran.recording;
    return [moment, ...moment.others].map((at) => ({ at, move: moves[at.move], tool: tools[at.tool] }));
  }, [moment, ran]);
  const run = running.find((r) => r.move.channel === channel)?.move;
  const navigate = useNavigate();
  const [isOpen, setOpen] = useState(true);
  const [isWhole, setWhole] = useState(false);
  const section = useMemo(() => supportSection(setting), [setting]);
  const work = useMemo(() => {
    // Before anything moves: what is gripped.
    const loops = moment ? moment.region.loops : (stock ?? []).map((l) => flattenPath(l, 0.005, false));
    if (loops.length === 0 || isLoading) return [];
    const held = section ? turnedItem('support', [section], setting, parts, isOpen && setting.job.support?.kind === 'steady rest') : [];
    return [...turnedItem('work', loops, setting, parts, isOpen), ...held];
  }, [moment, stock, setting, parts, isOpen, isLoading, section]);
  const events = ran?.events ?? NO_EVENTS;
  // What is wrong at the moment: it goes on to the end of its line.
  const now = useMemo(
    () =>
      events.filter((e) => {
        const own = running.find((r) => r.move.channel === e.channel)?.move;
        return isFault(e) && own && e.line === own.line && time >= e.time - 1e-6 && time <= Math.max(own.to, e.time) + 1e-6;
      }),
    [events, running, time],
  );
  const stands = useMemo(() => machineItems(running, trial, setting, now, isWhole), [running, trial, setting, now, isWhole]);
  const items = useMemo(() => [...stands, ...work], [stands, work]);
  const wrong = useMemo(() => new Set(events.filter((e) => isFault(e) && e.channel === channel).map((e) => e.line)), [events, channel]);
  const atWork = useMemo(() => new Map(ran ? events.map((e) => [e, assemblyAt(e, ran.recording, setUp)]) : []), [events, ran, setUp]);
  const toLine = (line: number) => {
    const found = ran?.recording.moves.find((m) => m.channel === channel && m.line >= line);
    if (found) setTime(found.from);
  };
  const showEvent = (e: TrialEvent) => {
    setTime(e.time);
    setChannel(e.channel);
  };
  return (
    <WorkLayout
      id="trial"
      stripSize="40%"
      stage={
        <Stage items={items} view={trial.spindle === 'counter' ? FROM_COUNTER : VIEW} fitKey={`${trial.id} ${isLoading} ${trial.spindle} ${ran !== undefined}`}>
          <div className="stage-switch trial-switch">
            <SegmentedControl
              size="xs"
              aria-label="The work"
              data={[
                { value: 'open', label: 'sliced open' },
                { value: 'whole', label: 'whole' },
              ]}
              value={isOpen ? 'open' : 'whole'}
              onChange={(v) => setOpen(v === 'open')}
            />
            <SegmentedControl
              size="xs"
              aria-label="Of the carrier"
              data={[
                { value: 'tool', label: 'tool' },
                { value: 'all', label: 'all of the carrier' },
              ]}
              value={isWhole ? 'all' : 'tool'}
              onChange={(v) => setWhole(v === 'all')}
            />
          </div>
          {(isLoading || isRunning) && (
            <p className="stage-note" role="status">
              {isLoading ? 'Loading models…' : 'Running the program…'}
            </p>
          )}
        </Stage>
      }
      strip={
        <div className="trial-strip">
          {ran && (
            <SegmentedControl
              size="xs"
              className="strip-switch"
              aria-label="Below the stage"
              data={[
                { value: 'section', label: 'half section' },
                { value: 'time', label: 'cutting over time' },
              ]}
              value={strip}
              onChange={(v) => setStrip(v === 'time' ? 'time' : 'section')}
            />
          )}
          {ran && strip === 'time' ? (
            <Suspense fallback={<div className="strip" />}>
              <OverTime {...{ cuts, time, unit }} tools={ran.recording.tools} total={ran.time} onTime={setTime} />
            </Suspense>
          ) : (
            <SectionView
              {...{ moment, running, setting, stock }}
              contour={trial.contour}
              support={section}
              jawsAt={setting.jawsAt}
              events={events}
              reach={tab === 'reach' ? reach?.edges[edge] : undefined}
              off={tab === 'events' && ran && time >= ran.time ? ran.along : undefined}
              tolerance={trial.tolerance}
              place={tab === 'events' ? place : undefined}
              ways={tab === 'cuts' && cut && !cut.faults ? cut.ways : undefined}
            />
          )}
          {ran && <Timeline time={time} total={ran.time} moves={ran.recording.moves} events={events} onTime={setTime} />}
        </div>
      }
      side={
        <div className="ledger" role="region" aria-label="Trial">
          <Outcome answer={answer} isRunning={isLoading || isRunning} hasProgram={hasText(trial)} unit={unit} />
          {ran && ran.removedVolume > 0 && (
            <Button size="compact-xs" variant="default" mt={6} onClick={() => void navigate(`/trial/${furtherTrial(trial, wholePieces(ran.part), machine)}`)}>
              Turn it further, other end in front
            </Button>
          )}
          <SegmentedControl
            size="xs"
            fullWidth
            mt={10}
            aria-label="Shown below"
            data={[
              { value: 'events', label: `events ${events.length > 0 ? events.length : ''}` },
              { value: 'program', label: 'program' },
              { value: 'cuts', label: 'cuts' },
              { value: 'reach', label: 'reach' },
              { value: 'job', label: 'tried' },
            ]}
            value={tab}
            onChange={(v) => {
              const next = TABS.find((t) => t === v) ?? 'events';
              setTab(next);
              const [first] = setting.edges;
              if (next === 'cuts' && !op && first) setOp(newCut(first.edge.atWork.side === 0 ? 'drill' : 'turn', first, trial));
            }}
          />
          {tab === 'events' && (
            <EventList {...{ events, setUp, unit }} isKnown={ran !== undefined} programs={trial.programs} onShow={showEvent} atWork={atWork} />
          )}
          {tab === 'events' && ran?.along && ran.removedVolume > 0 && (
            <Suspense fallback={<div className="chart-wait" />}>
              <OffChart along={ran.along} tolerance={trial.tolerance} unit={unit} onPlace={(p) => setPlace(p.at)} />
            </Suspense>
          )}
          {tab === 'program' && <ProgramPanel {...{ trial, machine, setting, channel, wrong }} line={run?.line} onLine={toLine} onChannel={setChannel} />}
          {tab === 'cuts' && <CutPanel {...{ trial, unit, op, cut }} edges={setting.edges} onOp={setOp} isReady={isCutReady} />}
          {tab === 'reach' && (
            <ReachPanel {...{ reach, isLooking, unit, edge, trial, parts }} edges={setting.edges} hasContour={trial.contour !== null} onEdge={setEdge} />
          )}
          {tab === 'job' && <JobPanel {...{ trial, machine, unit }} />}
        </div>
      }
    />
  );
}

const NO_EVENTS: readonly TrialEvent[] = [];

// The assembly that works at an event.
function assemblyAt({ channel, line, time }: TrialEvent, { moves, tools }: Recording, { places }: SetUpRecord): string | undefined {
  const move = moves.find((m) => m.channel === channel && m.line === line && m.to >= time - 1e-6);
  return move && places.find((p) => p.id === tools[move.tool].placeId)?.assemblyId;
}
