import type { OpenModel } from '#core/kernel';
import { nextTurn } from '../common/next-turn.ts';

interface Ahead {
  /** Jobs that have come so far. */
  readonly jobs: () => number;
  /** The model that it is about; undefined where it cannot be opened. */
  readonly open: () => Promise<Pick<OpenModel, 'isClosed'> | undefined>;
  /** Asks between two steps whether it is over. */
  readonly work: (isOver: () => Promise<boolean>) => Promise<unknown>;
  /** The kernel cannot be used any more. */
  readonly onBroken: () => void;
}

/** Does what nobody has asked for. It is over, at its next step, once a job has come since it began or its model was closed; nobody hears of what goes wrong in it. */
export async function goAhead({ jobs, open, work, onBroken }: Ahead): Promise<void> {
  const before = jobs();
  let opened: Pick<OpenModel, 'isClosed'> | undefined;
  try {
    opened = await open();
    if (opened) await work(() => nextTurn().then(() => jobs() > before || opened?.isClosed === true));
  } catch {
    // Closed between two steps: nobody waits for it.
    if (!opened?.isClosed) onBroken();
  }
}
