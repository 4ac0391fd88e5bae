import { noseAt, type SetUpParts, turningFrame } from '#core/carrier';
import { compose, translation, worldFromFrame } from '#core/math';
import type { FlatPoint } from '#core/outline';
import type { TrialRecord } from '#core/records';
import { type AtWork, grippedRadius, type RunMove, type RunTool, type TrialEvent, type TrialSetting } from '#core/trial';
import { carrierItems, spindleItems } from '../carrier/stage/machine-items.ts';
import type { StageItem } from '../../scene/picks.ts';
import { turnedModel } from './turned-model.ts';

const NOTHING_HIDDEN: ReadonlySet<string> = new Set();
const WORK_COLOUR = '#d8c08a';
const SUPPORT_COLOUR = '#8f8a80';
// mm. Corners of the drawn work are farther apart.
const DRAWN = 0.01;

/** What is turned, or holds it, by the closed polygons of its half section, in the machine; sliced open on the viewer's side, or whole. */
export function turnedItem(
  key: 'work' | 'support',
  loops: readonly (readonly FlatPoint[])[],
  { job, jawsAt }: TrialSetting,
  { machine, setUp }: SetUpParts,
  isOpen: boolean,
): StageItem[] {
  const model = turnedModel(
    loops.map(fewer).filter((l) => l.length > 2),
    isOpen,
  );
  const spindle = machine.spindles[job.spindle] ?? machine.spindles.main;
  const front = spindle.chuck.length + spindle.chuck.jawHeight;
  const machineFromPart = compose(
    worldFromFrame(turningFrame(job.spindle, 'above', noseAt(machine, job.spindle, setUp) ?? 0)),
    translation([0, 0, front - jawsAt]),
  );
  return [
    {
      key,
      model,
      stageFromModel: machineFromPart,
      roles: Object.fromEntries(model.bodies.map((b) => [b.id, 'hardware' as const])),
      hidden: NOTHING_HIDDEN,
      colours: Object.fromEntries(model.bodies.map((b) => [b.id, key === 'work' ? WORK_COLOUR : SUPPORT_COLOUR])),
    },
  ];
}

const WRONG_COLOUR = '#c2392b';

// Bodies of an item that touch something at the moment.
const wrongOf = (key: string, wrong: readonly TrialEvent[]): Record<string, string> =>
  Object.fromEntries(wrong.flatMap(({ body, other }) => [body, other]).flatMap((b) => (b && key === `${b.placeId} ${b.piece}` ? [[b.id, WRONG_COLOUR]] : [])));

// Corners nearer together than can be seen are one.
function fewer(loop: readonly FlatPoint[]): FlatPoint[] {
  const out: FlatPoint[] = [];
  for (const p of loop) {
    const last = out.at(-1);
    if (!last || Math.hypot(p[0] - last[0], p[1] - last[1]) > DRAWN) out.push([p[0], Math.max(0, p[1])]);
  }
  return out;
}

/** A channel at a moment: where its carrier stands, and with which tool. */
export interface Running {
  readonly at: AtWork;
  readonly move: RunMove;
  readonly tool: RunTool;
}

/** Chuck and carriers as they stand at a moment. */
export function machineItems(
  running: readonly Running[],
  trial: TrialRecord,
  setting: TrialSetting,
  wrong: readonly TrialEvent[],
  isWhole: boolean,
): StageItem[] {
  const { parts, table } = setting;
  // The jaws stand on what is turned, which is drawn as it is at the moment: no blank stands out of them.
  const { jawStep } = (parts.machine.spindles[trial.spindle] ?? parts.machine.spindles.main).chuck;
  const held = { diameter: 2 * grippedRadius(setting), bore: 0, length: -jawStep };
  const setUp = { ...parts.setUp, blanks: { ...parts.setUp.blanks, [trial.spindle]: held } };
  const spindles = spindleItems({ machine: parts.machine, setUp }, trial.spindle);
  const carriers = running.flatMap(({ at, tool: { placeId } }): StageItem[] => {
    const row = table.stations.find((r) => r.place.id === placeId);
    if (!row?.carrier) return [];
    const reference = setting.placeInMachine(row.carrier, at.reference);
    const carried = carrierItems(row.carrier, table.stations, row.place.station, reference, parts, row.place.id);
    // The tool at work by itself, or all that the carrier holds; what touches is seen in any case.
    const shown = carried.filter((i) => isWhole || i.key.startsWith(`${row.place.id} `) || Object.keys(wrongOf(i.key, wrong)).length > 0);
    return shown.map((item): StageItem => ({ ...item, aside: true, colours: { ...item.colours, ...wrongOf(item.key, wrong) } }));
  });
  return [...spindles, ...carriers];
}
