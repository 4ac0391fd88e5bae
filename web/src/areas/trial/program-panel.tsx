import { Button, FileButton, Group, Textarea } from '@mantine/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { TrialRecord } from '#core/records';
import { changeTrial, openProgram, saveProgram } from '../../store/trial-actions.ts';

interface Props {
  readonly trial: TrialRecord;
  /** The line that runs at the moment. */
  readonly line: number | undefined;
  readonly wrong: ReadonlySet<number>;
  readonly onLine: (line: number) => void;
}

function takeDraft({ id, program }: TrialRecord, text: string | null): void {
  if (text !== null && text !== program.text) changeTrial(id, 'Program', { program: { ...program, text } });
}

// Lines drawn above and below the one that runs: a program may have a hundred thousand.
const AROUND = 150;

/** The program as it runs, to be changed, opened and saved. */
export function ProgramPanel({ trial, line, wrong, onLine }: Props) {
  const { program } = trial;
  const [draft, setDraft] = useState<string | null>(null);
  const lines = useMemo(() => program.text.replace(/\r\n?/g, '\n').split('\n'), [program.text]);
  const current = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    current.current?.scrollIntoView({ block: 'nearest' });
  }, [line]);
  const keep = () => {
    takeDraft(trial, draft);
    setDraft(null);
  };
  // Who looks elsewhere has not given up what was typed: it is taken, as a step that can be undone.
  const left = useRef({ trial, draft });
  left.current = { trial, draft };
  useEffect(() => () => takeDraft(left.current.trial, left.current.draft), []);
  const from = Math.max(0, Math.min((line ?? 1) - AROUND, lines.length - 2 * AROUND));
  return (
    <section className="program-panel" aria-label="Program">
      <Group gap={6}>
        <FileButton onChange={(file) => file && void openProgram(trial.id, file)} inputProps={{ 'aria-label': 'Program to open' }}>
          {(props) => (
            <Button size="compact-xs" variant="default" {...props}>
              Open
            </Button>
          )}
        </FileButton>
        <Button size="compact-xs" variant="default" disabled={program.text === ''} onClick={() => saveProgram(trial)}>
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
    </section>
  );
}
