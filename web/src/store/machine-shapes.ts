import { boltsThrough, footHoles } from '#core/carrier';
import type { Carrier, CarrierOf, Chuck, ComponentRecord, SpindleSide } from '#core/records';
import { runShown } from '../app/jobs.tsx';
import { showProblem } from '../app/notify.tsx';
import { store } from '../app/store.ts';
import { modelsFor, type Remote } from '../workers/geometry-client.ts';
import type { JobAnswer } from '../workers/job-answer.ts';
import { loadModel } from './models.ts';
import { changeCarrier, changeMachine, changeSpindle, machineOf } from './set-up-actions.ts';

type Disc = CarrierOf<'turret'>['disc'];
type Head = NonNullable<CarrierOf<'swivel head'>['head']>;

// Measures a component in the worker, as something that is shown and can be stopped.
const measured = <T>(component: ComponentRecord, measure: (remote: Remote, sent: Awaited<ReturnType<typeof modelsFor>>) => Promise<JobAnswer<T>>) =>
  runShown<T>(`Measuring ${component.name}`, { job: `measuring ${component.name}`, limitSeconds: 120 }, async (remote) =>
    measure(remote, await modelsFor(remote, [component], { [component.id]: await loadModel(component.model.blob) })),
  );

const bySizes = <T extends { readonly measured?: unknown }>({ measured: _, ...sizes }: T) => sizes;

/** Gives a chuck the shape of a component, or again that of its sizes, as one step. */
export async function shapeChuck(machineId: string, side: SpindleSide, component: ComponentRecord | undefined): Promise<void> {
  const chuckNow = () => machineOf(store.getState().library.records, machineId)?.spindles[side]?.chuck;
  const before = chuckNow();
  if (!before) return;
  if (!component) return changeSpindle(machineId, side, 'Chuck by its sizes', { chuck: bySizes(before) });
  const chuck = await measured<Chuck>(component, (remote, sent) => remote.chuckLike(before, component, sent));
  // What was typed meanwhile stays.
  const now = chuckNow();
  if (chuck && now) changeSpindle(machineId, side, `Chuck as ${component.name}`, { chuck: { ...now, ...pick(chuck) } });
}

const pick = ({ diameter, length, jawHeight, measured: shape }: Chuck) => ({ diameter, length, jawHeight, measured: shape });

/** Gives a turret's disc the shape of a component, or again that of its sizes, as one step. */
export async function shapeDisc(machineId: string, carrier: CarrierOf<'turret'>, component: ComponentRecord | undefined): Promise<void> {
  if (!component) return changeCarrier(machineId, carrier, 'Disc by its sizes', { disc: bySizes(carrier.disc) });
  const disc = await measured<Disc>(component, (remote, sent) => remote.discLike(component, sent));
  const now = carrierNow(machineId, carrier);
  if (disc && now?.kind === 'turret') changeCarrier(machineId, now, `Disc as ${component.name}`, { disc });
}

/** A head of which nothing is said. */
export const NO_HEAD: Head = { noseDiameter: 0, noseLength: 0, diameter: 0, length: 0 };

/** Gives a swivel head the shape of a component, or again that of its sizes, as one step. */
export async function shapeHead(machineId: string, carrier: CarrierOf<'swivel head'>, component: ComponentRecord | undefined): Promise<void> {
  if (!component) return changeCarrier(machineId, carrier, 'Head by its sizes', { head: bySizes(carrier.head ?? NO_HEAD) });
  const head = await measured<Head>(component, (remote, sent) => remote.headLike(component, sent));
  const now = carrierNow(machineId, carrier);
  if (head && now?.kind === 'swivel head') changeCarrier(machineId, now, `Head as ${component.name}`, { head });
}

const carrierNow = (machineId: string, { id }: Carrier): Carrier | undefined =>
  machineOf(store.getState().library.records, machineId)?.carriers.find((c) => c.id === id);

/** Says the bolts of a carrier's seats; undefined: nothing is known of them. */
export function changeBolts(machineId: string, carrier: Carrier, bolts: Carrier['bolts']): void {
  changeMachine(machineId, `Bolts of the ${carrier.name}`, (m) => ({
    ...m,
    carriers: m.carriers.map((c) => {
      if (c.id !== carrier.id) return c;
      const { bolts: _, ...rest } = c;
      return bolts ? { ...rest, bolts } : rest;
    }),
  }));
}

/** Gives the seats of a carrier the bolts that the holes in the foot of a block are for. */
export async function boltsLike(machineId: string, carrier: Carrier, block: ComponentRecord): Promise<void> {
  const model = await loadModel(block.model.blob);
  const bolts = model ? boltsThrough(footHoles(block, model)) : [];
  if (bolts.length === 0) showProblem(`The foot of ${block.name} has no round holes${model ? '' : ': its model is not there any more'}.`);
  else changeBolts(machineId, carrier, bolts);
}
