// A program of 5,000 blocks with the demo's tools: run with all that may touch, looked at at any time, and what its edges reach.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { cookTrial } from '#core/handover';
import { unwrap } from '#core/issues';
import { loadKernel } from '#core/kernel';
import { carriedWith } from '#core/carrier';
import { loopThrough } from '#core/outline';
import { cutsOverTime, reachOf, readSteps, Replay, runTrial, trialSetting } from '#core/trial';
import { type BenchRow, medianMs } from './measure.ts';

const demo = join(import.meta.dirname, '../demo');
const PASSES = 12;
const BLOCKS = 5000;

export async function benchTrial(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const cooked = unwrap(
    await cookTrial(kernel, readFileSync(join(demo, 'hub-trial.json'), 'utf8'), 'hub-trial.json', (name) => readFileSync(join(demo, name)), ''),
  );
  const setting = trialSetting(cooked.parts, { ...cooked.job, contour: undefined });
  const stock = [
    loopThrough([
      [0.5, 12],
      [0.5, 30],
      [-79, 30],
      [-79, 12],
    ]),
  ];
  const { steps } = unwrap(readSteps(program(), 'bench.nc', setting));
  const triangles = setting.table.stations.reduce(
    (n, row) =>
      n +
      carriedWith(row, setting.table, setting.parts)
        .filter((c) => c.station === row.place.station)
        .reduce((m, c) => m + c.mesh.triangles.length / 3, 0),
    0,
  );
  const before = process.memoryUsage().rss;
  const run = () => {
    const job = runTrial(setting, steps, stock);
    let step = job.next();
    while (!step.done) step = job.next();
    return step.value;
  };
  const result = run();
  const took = await medianMs(() => void run(), { rounds: 1, warm: 0 });
  // Any moment, one after the other in no order: the longest of them.
  const replay = new Replay(result.recording);
  let longest = 0;
  let next = 1;
  for (let i = 0; i < 40; i++) {
    next = (next * 16807) % 2147483647;
    const from = performance.now();
    replay.at((result.time * next) / 2147483647);
    longest = Math.max(longest, performance.now() - from);
  }
  // Going on as it is played, 60 pictures a second at 20 times its speed.
  const played = await medianMs(
    () => {
      for (let i = 0; i < 60; i++) replay.at(result.time / 3 + i / 3);
    },
    { rounds: 3, warm: 1 },
  );
  const overTime = await medianMs(() => void cutsOverTime(result.recording), { rounds: 1, warm: 0 });
  const whole = trialSetting(cooked.parts, cooked.job);
  const reach = await medianMs(() => void reachOf(whole), { rounds: 3, warm: 1 });
  return [
    { what: 'trial: blocks', value: steps.filter((s) => s.kind === 'move').length, unit: '' },
    { what: 'trial: triangles of the tools', value: triangles, unit: '' },
    { what: 'trial: run with all that may touch', value: took, unit: 'ms', limit: 6000 },
    { what: 'trial: any moment, the longest of 40', value: longest, unit: 'ms', limit: 50 },
    { what: 'trial: a picture while it plays', value: played / 60, unit: 'ms', limit: 16 },
    { what: 'trial: how hard the edges work, over the run', value: overTime, unit: 'ms', limit: 3000 },
    { what: 'trial: reach of an edge', value: reach / whole.edges.length, unit: 'ms', limit: 300 },
    { what: 'trial: memory over what was loaded', value: (process.memoryUsage().rss - before) / 1e6, unit: 'MB', limit: 800 },
  ];
}

// Passes along a wavy outside and a wavy bore, in short blocks.
function program(): string {
  const lines = ['G97 S1000 M3'];
  const each = Math.floor(BLOCKS / (2 * PASSES)) - 4;
  for (const [tool, sign] of [
    ['T0101', -1],
    ['T0404', 1],
  ] as const) {
    lines.push(tool);
    for (let pass = 0; pass < PASSES; pass++) {
      const base = sign === -1 ? 29.5 - 0.45 * pass : 12.6 + 0.4 * pass;
      lines.push(`G0 X${(2 * base).toFixed(3)} Z2.`);
      for (let i = 1; i <= each; i++) {
        const z = 2 - (38 * i) / each;
        const r = base + 0.15 * Math.sin(z / 3) * (z < 0 ? 1 : 0);
        lines.push(`G1 X${(2 * r).toFixed(4)} Z${z.toFixed(4)} F0.2`);
      }
      lines.push(`G1 X${(2 * (base - 0.6 * sign)).toFixed(3)}`, 'G0 Z2.');
    }
    lines.push('G28 U0 W0');
  }
  return lines.join('\n');
}
