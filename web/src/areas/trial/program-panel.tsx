import { ActionIcon, Button, FileButton, Group, SegmentedControl, Select, Textarea } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { type MachineRecord, MOST_CHANNELS, type TrialRecord } from '#core/records';
import type { TrialSetting } from '#core/trial';
import { store } from '../../app/store.ts';
import { addProgram, changeProgram, openProgram, removeProgram, saveProgram, selectTrial } from '../../store/trial-actions.ts';

interface Props {
  readonly trial: TrialRecord;
  readonly machine: MachineRecord;
  readonly setting: TrialSetting;
  /** Which of its programs is shown. */
  readonly channel: number;
  readonly onChannel: (channel: number) => void;
  /** The line that runs at the moment. */
  readonly line: number | undefined;
  readonly wrong: ReadonlySet<number>;
  readonly onLine: (line: number) => void;
}

/** The programs of a trial: one, or several that run beside each other, each of a carrier. */
export function ProgramPanel(props: Props) {
  const { trial, machine, setting, channel, onChannel } = props;
  const { programs } = trial;
  const { carriers, control } = machine;
  const isOneOfMany = programs.length > 1;
  return (
    <section className="program-panel" aria-label="Program">
      {(isOneOfMany || carriers.length > 1) && (
        <Group gap={6} wrap="nowrap">
          {isOneOfMany && (
            <SegmentedControl
              size="xs"
              aria-label="Program shown"
              data={programs.map((p, i) => ({ value: String(i), label: `${i + 1} ${p.name}` }))}
              value={String(channel)}
              onChange={(v) => onChannel(Number(v))}
            />
          )}
          {programs.length < Math.min(MOST_CHANNELS, carriers.length) && (
            <Button
              size="compact-xs"
              variant="default"
              leftSection={<IconPlus size={14} />}
              title="A program that runs at the same time"
              onClick={() => onChannel(addProgram(trial, setting))}
            >
              Another carrier
            </Button>
          )}
        </Group>
      )}
      {carriers.length > 1 && (
        <Group gap={6} wrap="nowrap" align="end">
          <Select
            size="xs"
            label="it moves"
            allowDeselect={false}
            data={[{ value: '', label: 'what has its tools' }, ...carriers.map((c) => ({ value: c.id, label: c.name }))]}
            value={programs[channel].carrier ?? ''}
            onChange={(v) => changeProgram(trial.id, channel, 'Carrier of a program', { carrier: v ? v : null })}
          />
          {isOneOfMany && (
            <ActionIcon
              variant="default"
              size="md"
              aria-label={`Remove program ${programs[channel].name}`}
              onClick={() => {
                removeProgram(trial, channel);
                onChannel(0);
              }}
            >
              <IconX size={15} />
            </ActionIcon>
          )}
        </Group>
      )}
      {isOneOfMany && (
        <p className="soft">
          They wait for each other at M{control.waits[0]} to M{control.waits[1]}.
        </p>
      )}
      <ProgramText key={`${channel} of ${programs.length}`} {...props} />
    </section>
  );
}

// Only into the program that it was typed into: another one may stand in its place by now.
function takeDraft({ id, programs }: TrialRecord, channel: number, text: string | null): void {
  const program = programs.at(channel);
  const there = selectTrial(store.getState(), id)?.programs.at(channel);
  if (text === null || !program || text === program.text || there?.name !== program.name || there.text !== program.text) return;
  changeProgram(id, channel, 'Program', { text });
}

// Lines drawn above and below the one that runs: a program may have a hundred thousand.
const AROUND = 150;

/** A program as it runs, to be changed, opened and saved. */
function ProgramText({ trial, channel, line, wrong, onLine }: Props) {
  const program = trial.programs[channel];
  const [draft, setDraft] = useState<string | null>(null);
  const lines = useMemo(() => program.text.replace(/\r\n?/g, '\n').split('\n'), [program.text]);
  const current = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    current.current?.scrollIntoView({ block: 'nearest' });
  }, [line]);
  const keep = () => {
    takeDraft(trial, channel, draft);
    setDraft(null);
  };
  // Who looks elsewhere has not given up what was typed: it is taken, as a step that can be undone.
  const left = useRef({ trial, draft });
  left.current = { trial, draft };
  useEffect(() => () => takeDraft(left.current.trial, channel, left.current.draft), [channel]);
  const from = Math.max(0, Math.min((line ?? 1) - AROUND, lines.length - 2 * AROUND));
  return (
    <>
      <Group gap={6}>
        <FileButton onChange={(file) => file && void openProgram(trial.id, channel, file)} inputProps={{ 'aria-label': 'Program to open' }}>
          {(props) => (
            <Button size="compact-xs" variant="default" {...props}>
              Open
            </Button>
          )}
        </FileButton>
        <Button size="compact-xs" variant="default" disabled={program.text === ''} onClick={() => saveProgram(program)}>
          Save
        </Button>
        {draft === null ? (
          <Button size="compact-xs" variant="default" onClick={() => setDraft(program.text)}>
            Change it here
          </Button>
        ) : (
          <>
            <Button size="compact-xs" onClick={keep}>
              Take it
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => setDraft(null)}>
              Leave it
            </Button>
          </>
        )}
        <span className="soft">{program.name}</span>
      </Group>
      {draft !== null ? (
        <Textarea
          aria-label="Text of the program"
          autosize
          minRows={16}
          maxRows={30}
          value={draft}
          onChange={(e) => setDraft(e.currentTarget.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) keep();
          }}
          classNames={{ input: 'program-text' }}
        />
      ) : program.text.trim() === '' ? (
        <p className="soft">Open a program (ISO 6983), or write one here. Tools go by the numbers of the set-up.</p>
      ) : (
        <ol className="program-lines" start={from + 1}>
          {lines.slice(from, from + 2 * AROUND).map((text, i) => {
            const n = from + i + 1;
            return (
              <li key={n} value={n}>
                <button
                  type="button"
                  ref={n === line ? current : undefined}
                  data-now={n === line || undefined}
                  data-wrong={wrong.has(n) || undefined}
                  aria-current={n === line ? 'step' : undefined}
                  onClick={() => onLine(n)}
                >
                  {text || ' '}
                </button>
              </li>
            );
          })}
        </ol>
      )}
    </>
  );
}
