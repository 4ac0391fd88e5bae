import { describe, expect, it } from '@jest/globals';
import { goAhead } from './go-ahead.ts';

// A model, jobs and a kernel that are counted; work of many steps that says how many it took.
function bench() {
  const seen = { jobs: 3, isClosed: false, broken: 0, steps: 0 };
  const run = (given: { open?: () => Promise<{ isClosed: boolean } | undefined>; during?: (step: number) => void } = {}) =>
    goAhead({
      jobs: () => seen.jobs,
      open: given.open ?? (() => Promise.resolve(seen)),
      work: async (isOver) => {
        while (seen.steps < 5 && !(await isOver())) {
          seen.steps++;
          given.during?.(seen.steps);
        }
      },
      onBroken: () => seen.broken++,
    });
  return { seen, run };
}

describe('what is done ahead', () => {
  it('is done to its end where nothing comes', async () => {
    const { seen, run } = bench();
    await run();
    expect(seen).toMatchObject({ steps: 5, broken: 0 });
  });
  it('is over at its next step once a job comes', async () => {
    const { seen, run } = bench();
    await run({ during: (step) => step === 2 && seen.jobs++ });
    expect(seen).toMatchObject({ steps: 2, broken: 0 });
  });
  it('does not begin where a job came while its file was opened', async () => {
    const { seen, run } = bench();
    await run({
      open: () => {
        seen.jobs++;
        return Promise.resolve(seen);
      },
    });
    expect(seen).toMatchObject({ steps: 0, broken: 0 });
  });
  it('does nothing with a file that cannot be opened', async () => {
    const { seen, run } = bench();
    await run({ open: () => Promise.resolve(undefined) });
    expect(seen).toMatchObject({ steps: 0, broken: 0 });
  });
  it('is over where its model was closed, and what fails for that is no fault of the kernel', async () => {
    const { seen, run } = bench();
    await run({ during: () => (seen.isClosed = true) });
    expect(seen).toMatchObject({ steps: 1, broken: 0 });
    const closed = bench();
    await closed.run({
      during: () => {
        closed.seen.isClosed = true;
        throw new Error('closed');
      },
    });
    expect(closed.seen).toMatchObject({ steps: 1, broken: 0 });
  });
  it.each(['opened', 'worked on'])('says that the kernel is broken where that shows while a file is %s', async (when) => {
    const { seen, run } = bench();
    const fail = () => {
      throw new Error('out of bounds');
    };
    await run(when === 'opened' ? { open: () => Promise.reject(new Error('out of bounds')) } : { during: fail });
    expect(seen.broken).toBe(1);
  });
});
