import {
  computeExactGeometry,
  joinProofs,
  lightenWrap,
  type Proof,
  type ProofInput,
  proveAround,
  proveEnclosure,
  proveInside,
  proveOutside,
} from '#core/envelope';
import type { Result } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { Solids, type TriMesh } from '#core/mesh';
import { makeWrap } from './part-builders.ts';
import type { Answer, Crew, Hand, Made, Task, WrapTask } from './tasks.ts';

/** Does a task, wherever it is. */
export function doTask<T extends Task>(task: T, onProgress: (share: number) => void = () => undefined): Answer<T> {
  return doAny(task, onProgress) as Answer<T>;
}

function doAny(task: Task, onProgress: (share: number) => void): Answer<Task> {
  switch (task.kind) {
    case 'wrap':
      return doWrap(task, onProgress);
    case 'lighten':
      return lightenWrap(task.mesh, task.more, new Solids(task.others));
    case 'prove':
      return proveEnclosure(task.input, task.mesh);
    case 'prove inside':
      return proveInside(task.input, task.mesh);
    case 'prove outside':
      return proveOutside(task.input, task.mesh);
    case 'prove around':
      return proveAround(task.proof, task, task.mesh);
  }
}

const doWrap = ({ body, exact = computeExactGeometry(body), others, choice }: WrapTask, onProgress: (share: number) => void): Result<Made> =>
  makeWrap(body, exact, choice, new Solids(others), onProgress);

/** Whoever asks does it. */
export const ALONE: Crew = {
  do: (task, onProgress) => Promise.resolve(doTask(task, onProgress)),
  hands: 1,
};

const NO_POINTS = new Float64Array(0);
const NO_INDICES = new Uint32Array(0);

/** A body without its samples, which are most of it: for who needs only its mesh and its faces, in another thread. */
export const bare = (body: SampledBody): SampledBody => ({ ...body, points: NO_POINTS, pointTriangle: NO_INDICES, skin: NO_POINTS, skinEdges: 0 });

/** Proves a result; its two halves are done at once where there are several hands. */
export async function proveWith(crew: Crew, input: ProofInput, mesh: TriMesh): Promise<Proof> {
  if (crew.hands === 1) return crew.do({ kind: 'prove', input, mesh });
  // From a closed mesh growth is measured without the bodies' samples.
  const over = input.closedMesh ? { ...input, bodies: input.bodies.map(bare), inside: [] } : input;
  const halves = await Promise.all([crew.do({ kind: 'prove inside', input, mesh }), crew.do({ kind: 'prove outside', input: over, mesh })]);
  return joinProofs(...halves);
}

/** A crew of hands that are called up when there is work for them, at most so many. */
export class ManyHands implements Crew {
  readonly hands: number;
  private readonly callUp: () => Hand;
  private readonly idle: Hand[] = [];
  private called = 0;
  private readonly waiting: { readonly task: Task; readonly begin: (hand: Hand) => void }[] = [];

  constructor(most: number, callUp: () => Hand) {
    this.hands = most;
    this.callUp = callUp;
  }

  do<T extends Task>(task: T, onProgress: (share: number) => void = () => undefined): Promise<Answer<T>> {
    return new Promise((resolve, reject) => {
      const begin = (hand: Hand) => {
        hand
          .do(task, onProgress)
          .then((answer) => resolve(answer as Answer<T>), reject)
          .finally(() => {
            const next = this.waiting.shift();
            if (next) next.begin(hand);
            else this.idle.push(hand);
          });
      };
      const hand = this.idle.pop() ?? (this.called < this.hands ? this.another() : undefined);
      if (hand) begin(hand);
      else this.waiting.push({ task, begin });
    });
  }

  private another(): Hand {
    this.called++;
    return this.callUp();
  }
}
