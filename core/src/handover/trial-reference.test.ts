import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { carriedWith } from '#core/carrier';
import { say } from '#core/issues';
import { loadKernel } from '#core/kernel';
import { move, type Vec3 } from '#core/math';
import { readSteps, runToEnd, stockOf, type TrialSetting, trialSetting } from '#core/trial';
import { cookTrial } from './index.ts';
import { place, plain, settingOf } from './trial-for-tests.ts';
import { Random } from '../../../demo/corpus/random.ts';

// A slow way that shares nothing with the trial but what the tool is: the work as cells, the tool as points, time in small steps.

// As many as a run of all tests has time for; more by hand: PROGRAMS=200.
const PROGRAMS = Number(process.env.PROGRAMS ?? 6);
const demo = join(import.meta.dirname, '../../../demo');
const CELL = 0.1;
const STEP = 0.1;
const [Z0, Z1, R1] = [-82, 6, 36];
const COLUMNS = Math.round((Z1 - Z0) / CELL);
const ROWS = Math.round(R1 / CELL);

/** Cells of the half section, true where there is material. */
class Cells {
  readonly cells = new Uint8Array(COLUMNS * ROWS);
  constructor(inner: number, outer: number, from: number, to: number) {
    for (let c = 0; c < COLUMNS; c++)
      for (let r = 0; r < ROWS; r++) {
        const [z, radius] = [Z0 + (c + 0.5) * CELL, (r + 0.5) * CELL];
        if (z > from && z < to && radius > inner && radius < outer) this.cells[c * ROWS + r] = 1;
      }
  }
  at(z: number, radius: number): boolean {
    const [c, r] = [Math.floor((z - Z0) / CELL), Math.floor(radius / CELL)];
    return c >= 0 && c < COLUMNS && r >= 0 && r < ROWS && this.cells[c * ROWS + r] === 1;
  }
  /** Whether all around a place within `by` is material, and whether any of it is. */
  around(z: number, radius: number, by: number): { all: boolean; any: boolean } {
    let [all, any] = [true, false];
    for (const dz of [-by, 0, by])
      for (const dr of [-by, 0, by]) {
        if (this.at(z + dz, radius + dr)) any = true;
        else all = false;
      }
    return { all, any };
  }
}

/** Triangles about the reference, in [x, y, z] of the machine: for the main spindle, from above, that is the turning plane. */
interface Body {
  readonly cuts: boolean;
  readonly triangles: readonly (readonly [Vec3, Vec3, Vec3])[];
}

function pointsOf({ triangles }: Body, apart: number): Float64Array {
  const out: number[] = [];
  for (const [a, b, c] of triangles) {
    const longest = Math.max(
      ...[
        [a, b],
        [b, c],
        [c, a],
      ].map(([p, q]) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])),
    );
    const n = Math.min(160, Math.max(1, Math.ceil(longest / apart)));
    for (let i = 0; i <= n; i++)
      for (let k = 0; i + k <= n; k++) for (let d = 0; d < 3; d++) out.push(a[d] + ((b[d] - a[d]) * i) / n + ((c[d] - a[d]) * k) / n);
  }
  return Float64Array.from(out);
}

/** A tool as the slow way has it. */
interface SlowTool {
  readonly setting: TrialSetting;
  /** Its programmed point about the reference. */
  readonly X: number;
  readonly Z: number;
  /** What cuts, column by column from `left` on: how far its points and edges reach, seen from above. */
  readonly left: number;
  readonly ranges: readonly (readonly [number, number])[];
  /** Points of what does not cut, that may come near at all. */
  readonly holder: readonly Float64Array[];
}

function slowTool(setting: TrialSetting): SlowTool {
  const [row] = setting.table.stations;
  const bodies = carriedWith(row, setting.table, setting.parts)
    .filter((c) => c.station === 1)
    .map(({ mesh, motion, cuts }): Body => {
      const at = (i: number) => move(motion, [mesh.positions[3 * i], mesh.positions[3 * i + 1], mesh.positions[3 * i + 2]]);
      return {
        cuts,
        triangles: Array.from(
          { length: mesh.triangles.length / 3 },
          (_, t) => [at(mesh.triangles[3 * t]), at(mesh.triangles[3 * t + 1]), at(mesh.triangles[3 * t + 2])] as const,
        ),
      };
    });
  const { X, Z } = row.edges[0].atWork;
  const insert = bodies.filter((b) => b.cuts).flatMap((b) => b.triangles);
  const zs = insert.flat().map((p) => p[2]);
  const left = Math.min(...zs);
  const ranges = Array.from({ length: Math.ceil((Math.max(...zs) - left) / CELL) }, (_, j): [number, number] => {
    const z = left + (j + 0.5) * CELL;
    let range: [number, number] = [Infinity, -Infinity];
    for (const t of insert)
      for (const [p, q] of [
        [t[0], t[1]],
        [t[1], t[2]],
        [t[2], t[0]],
      ]) {
        if (p[2] > z === q[2] > z) continue;
        const x = p[0] + ((q[0] - p[0]) * (z - p[2])) / (q[2] - p[2]);
        range = [Math.min(range[0], x), Math.max(range[1], x)];
      }
    return range;
  });
  const holder = bodies
    .filter((b) => !b.cuts)
    .map((b) => pointsOf(b, 0.35))
    // The work is no larger, and no way goes deeper.
    .map((p) =>
      p.filter((_, i) => {
        const k = 3 * Math.floor(i / 3);
        return p[k] - X < 19 && p[k + 2] - Z < 9;
      }),
    );
  return { setting, X, Z, left, ranges, holder };
}

// Beside the demo's holder tools of data: a slim one, one that goes both ways.
const WORDS = ['dvjnr 2525 m16', 'svvcn 2525 m16'];

describe('touches and cuts against a slow way of finding them', () => {
  let tools: SlowTool[];
  beforeAll(async () => {
    const text = readFileSync(join(demo, 'hub-trial.json'), 'utf8');
    const cooked = await cookTrial(await loadKernel(), text, 'hub-trial.json', (name) => readFileSync(join(demo, name)), '');
    if (!cooked.ok) throw new Error(cooked.issues.map(say).join());
    const own = trialSetting(cooked.value.parts, { ...cooked.value.job, contour: undefined, clearance: 0 });
    const { stock } = JSON.parse(text) as { stock: object };
    const others = WORDS.map((words) =>
      settingOf({
        setUp: { machine: plain('rim', { standard: 'square', size: '25x25' }), assemblies: [{ key: 'tool', words }], places: [place('tool', 1)] },
        zero: own.job.zero,
        stock,
        clearance: 0,
      }),
    );
    tools = [own, ...(await Promise.all(others))].map(slowTool);
  });
  it('turning tools on random ways: the same work is left, and they touch on the same line or do not', () => {
    const chance = new Random(23);
    const random = () => chance.next();
    let touched = 0;
    let free = 0;
    for (let n = 0; n < PROGRAMS; n++) {
      const { setting, X, Z, left, ranges, holder } = tools[n % tools.length];
      const way: [number, number, boolean][] = [[4, 34, true]];
      for (let k = 0; k < 5; k++) {
        const last = way[way.length - 1];
        // Mostly cuts of a few millimetres; some deeper than the edge is long.
        const r = random() < 0.2 ? 17.5 - 4 * random() : 31 - 4 * random();
        const z = Math.min(4, last[0] - 2 - 9 * random());
        way.push([4, r, true], [z, r, false], [z + 1, Math.min(34, r + 4 * random()), false], [4, 34, true]);
      }
      const program = ['T0101 M3 G97 S900', ...way.map(([z, r, rapid]) => `${rapid ? 'G0' : 'G1 F0.2'} X${(2 * r).toFixed(3)} Z${z.toFixed(3)}`)].join('\n');
      const steps = readSteps(program, 'p.nc', setting);
      const stock = stockOf(setting);
      if (!steps.ok || !stock) throw new Error('not readable');
      const run = runToEnd(setting, steps.value.steps, stock);
      const found = run.events.filter((e) => e.kind === 'touch' && e.between[1] === 'work').map((e) => e.line);
      // The slow way.
      const work = new Cells(12, 30, -79, 0.5);
      let sure: number | undefined;
      let perhaps: number | undefined;
      for (let k = 1; k < way.length; k++) {
        const [a, b] = [way[k - 1], way[k]];
        const parts2 = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / STEP));
        for (let i = 0; i <= parts2; i++) {
          const [z, x] = [a[0] + ((b[0] - a[0]) * i) / parts2 - Z, a[1] + ((b[1] - a[1]) * i) / parts2 - X];
          for (const [j, [low, high]] of ranges.entries()) {
            const c = Math.floor((left + z + (j + 0.5) * CELL - Z0) / CELL);
            if (c < 0 || c >= COLUMNS) continue;
            for (let r = Math.max(0, Math.round((low + x) / CELL)); r < Math.min(ROWS, Math.round((high + x) / CELL)); r++) work.cells[c * ROWS + r] = 0;
          }
          if (i % 2 === 1 && i !== parts2) continue;
          const line = k + 2;
          if (sure !== undefined) continue;
          for (const points of holder)
            for (let p = 0; p < points.length; p += 3) {
              const [pz, radius] = [points[p + 2] + z, Math.hypot(points[p] + x, points[p + 1])];
              if (pz > 2 || radius > 31) continue;
              const { all, any } = work.around(pz, radius, 0.25);
              if (any) perhaps ??= line;
              if (all) {
                sure = line;
                break;
              }
            }
        }
      }
      // What is surely in the work is found, on that line or before; what is found is at least near by the slow way.
      const [first] = [...found].sort((p, q) => p - q);
      if (sure !== undefined) {
        touched++;
        expect(first).toBeDefined();
        expect(first).toBeLessThanOrEqual(sure);
      }
      if (first !== undefined) {
        expect(perhaps).toBeDefined();
        expect(perhaps).toBeLessThanOrEqual(first);
      } else free++;
      // The work that is left, cell by cell: where they differ is at its surface.
      let differ = 0;
      for (let c = 0; c < COLUMNS; c++)
        for (let r = 1; r < ROWS - 1; r++) {
          const [z, radius] = [Z0 + (c + 0.5) * CELL, (r + 0.5) * CELL];
          const { all, any } = work.around(z, radius, 0.2);
          if (all && !run.stock.contains(z, radius)) differ++;
          if (!any && run.stock.contains(z, radius)) differ++;
        }
      expect(differ).toBe(0);
    }
    // Both are tried.
    expect(touched).toBeGreaterThan(1);
    expect(free).toBeGreaterThan(1);
  });
});
