import { Button, Group, Paper, Progress, Stack, Text } from '@mantine/core';
import { useSyncExternalStore } from 'react';
import type { Issue } from '#core/issues';
import { type JobOptions, type JobResult, geometryClient } from '../workers/geometry-client.ts';
import { showDone, showIssues } from './notify.tsx';

interface RunningJob {
  readonly id: number;
  readonly title: string;
  readonly share: number;
  readonly text: string;
  readonly startedAt: number;
  readonly cancel: () => void;
}

let jobs: readonly RunningJob[] = [];
let nextId = 1;
const listeners = new Set<() => void>();
const set = (next: readonly RunningJob[]) => {
  jobs = next;
  for (const listener of listeners) listener();
};
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Runs a job of the geometry worker with its progress shown and a button to stop it; says failures itself. */
export async function runShown<T>(
  title: string,
  options: Pick<JobOptions, 'job' | 'limitSeconds'> & {
    /** What is there all the same when it is stopped, in words; without it nothing is. */
    readonly whenStopped?: () => string | undefined;
  },
  call: Parameters<typeof geometryClient.run>[1],
): Promise<T | undefined> {
  const abort = new AbortController();
  const id = nextId++;
  set([...jobs, { id, title, share: 0, text: 'Waiting', startedAt: Date.now(), cancel: () => abort.abort() }]);
  const onProgress = (share: number, text: string) => set(jobs.map((j) => (j.id === id ? { ...j, share, text } : j)));
  let result: JobResult<T>;
  try {
    result = await geometryClient.run<T>({ ...options, onProgress, signal: abort.signal }, call);
  } finally {
    set(jobs.filter((j) => j.id !== id));
  }
  if (result.state === 'done') return result.value;
  if (result.state === 'cancelled') showDone(`Stopped: ${title}. ${options.whenStopped?.() ?? 'Nothing was changed.'}`);
  else showIssues(title, result.issues satisfies readonly Issue[]);
  return undefined;
}

/** The jobs that run, above everything, at the lower left. */
export function JobPanel() {
  const running = useSyncExternalStore(subscribe, () => jobs);
  if (running.length === 0) return null;
  return (
    <Stack component="aside" className="job-panel" gap="xs" aria-label="Running jobs" aria-live="polite">
      {running.map((job) => (
        <Paper key={job.id} withBorder shadow="md" p="sm" w={320}>
          <Group justify="space-between" wrap="nowrap" gap="sm">
            <div style={{ minWidth: 0 }}>
              <Text fw={600} size="sm" truncate>
                {job.title}
              </Text>
              <Text size="xs" c="dimmed" truncate>
                {job.text}
              </Text>
            </div>
            <Button size="compact-sm" variant="default" onClick={job.cancel} style={{ flexShrink: 0 }}>
              Stop
            </Button>
          </Group>
          <Progress value={Math.max(3, job.share * 100)} mt="xs" size="sm" aria-label={`${job.title}: ${Math.round(job.share * 100)} %`} />
        </Paper>
      ))}
    </Stack>
  );
}
