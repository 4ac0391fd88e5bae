// What tests of trials begin with: a lathe with plain sockets, and a spigot to be turned.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { SHIPPED_MACHINES } from '#core/carrier';
import { say } from '#core/issues';
import { type Kernel, loadKernel } from '#core/kernel';
import type { FlatPoint } from '#core/outline';
import { readSteps, runToEnd, stockOf, type TrialResult, type TrialSetting, trialSetting } from '#core/trial';
import { cookTrial } from './index.ts';

/** The demo's folder. */
export const demo = join(import.meta.dirname, '../../../demo');
/** The twin-spindle lathe and its turret, as they ship. */
export const [twin] = SHIPPED_MACHINES;
export const [turret] = twin.carriers;
/** The twin-spindle lathe with plain sockets. */
export const plain = (mounting: 'rim' | 'face', connection: object) => ({ ...twin, carriers: [{ ...turret, mounting, connection }] });
/** What stands at a station of its turret. */
export const place = (assembly: string, station: number, rest: object = {}) => ({ carrier: 'upper-turret', station, assembly, ...rest });
export const bar = { diameter: 60, bore: 0, length: 70 };

const memory = new Map<string, Uint8Array>();
let kernel: Promise<Kernel> | undefined;
/** A trial's file, what it names taken from the demo's folder. */
export const cook = async (file: object) =>
  cookTrial({ ...(await (kernel ??= loadKernel())), memory }, JSON.stringify(file), 'trial.json', (name) => readFileSync(join(demo, name)), '');
export async function settingOf(file: object): Promise<TrialSetting> {
  const cooked = await cook(file);
  if (!cooked.ok) throw new Error(cooked.issues.map(say).join());
  return trialSetting(cooked.value.parts, cooked.value.job);
}
/** Runs a program to its end. */
export function run(setting: TrialSetting, program: string): TrialResult {
  const steps = readSteps(program, 'p.nc', setting);
  const stock = stockOf(setting);
  if (!steps.ok) throw new Error(steps.issues.map(say).join());
  if (!stock) throw new Error('no stock');
  return runToEnd(setting, steps.value.steps, stock);
}
/** Outside: the part is a spigot of 50 by 40 on a bar of 60; the zero is 68 before the jaws, the bar stands 2 over it. */
export const OUTSIDE = {
  setUp: {
    machine: plain('rim', { standard: 'square', size: '25x25' }),
    assemblies: [{ key: 'turning', words: 'dclnr 2525 m12' }],
    places: [place('turning', 1), place('turning', 2, { turn: 180, spindle: 'counter' })],
    blanks: { main: bar, counter: bar },
  },
  zero: 68,
  contour: {
    points: [
      [0, 0],
      [0, 25],
      [-40, 25],
      [-40, 0],
    ] as FlatPoint[],
  },
};
