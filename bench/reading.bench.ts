// How much of the reading corpus is read right: npm run bench:reading [all|held-back] [NAME...]. Without a word it leaves the held-back third alone.
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { angleBetweenRad, degFromRad, distance, dot, subtract, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import { proposeReading, type Reading } from '#core/reading';
import { sayConnection } from '#core/standards';
import type { CorpusTruth } from '../demo/corpus/corpus-model.ts';

const folder = join(import.meta.dirname, '../demo/corpus');

/** One thing that was asked of a model: what it was, how sure the reading was of it, and whether it was right. */
interface Answer {
  readonly file: string;
  readonly group: 'B-rep' | 'mesh';
  readonly kind: string;
  readonly what: string;
  readonly right: boolean;
  readonly confidence: number;
  readonly text: string;
}

const offDeg = (a: Vec3, b: Vec3) => degFromRad(angleBetweenRad(a, b));
const lineOffDeg = (a: Vec3, b: Vec3) => Math.min(offDeg(a, b), 180 - offDeg(a, b));

// What is asked of a model, with the tolerances that the product promises.
function judge(truth: CorpusTruth, model: Model, reading: Reading): Answer[] {
  const isMesh = truth.format !== 'step';
  const base = { file: truth.file, group: isMesh ? ('mesh' as const) : ('B-rep' as const), kind: truth.kind };
  const out: Answer[] = [];
  const add = (what: string, right: boolean, confidence: number, text: string) => out.push({ ...base, what, right, confidence, text });
  for (const t of truth.bodies) {
    const body = [...model.bodies].sort((a, b) => score(a, t) - score(b, t))[0];
    const role = reading.roles.find((r) => r.body === body.id);
    add('role', role?.role === t.role, role?.confidence ?? 0, `${body.id} is ${t.role}, read ${role?.role}`);
  }
  const { mount } = reading;
  const sure = mount?.confidence ?? 0;
  add(
    'axis',
    !!mount && lineOffDeg(mount.frame.z, truth.mount.frame.z) < 0.01,
    sure,
    mount ? `${lineOffDeg(mount.frame.z, truth.mount.frame.z).toFixed(4)} deg off` : 'none',
  );
  const [want, got] = [sayConnection(truth.mount.connection), mount ? sayConnection(mount.connection) : 'none'];
  // The table cannot tell SK from BT where a model lacks the flange's details; an undecided 7/24 of the size counts.
  const undecided =
    mount?.connection.standard === '7/24' && ['SK', 'BT'].includes(truth.mount.connection.standard) && mount.connection.size === truth.mount.connection.size;
  add('mount', got === want || undecided, sure, `is ${want}, read ${got}`);
  const plane = mount ? Math.abs(dot(subtract(mount.frame.origin, truth.mount.frame.origin), truth.mount.frame.z)) : Infinity;
  const sense = !!mount && dot(mount.frame.z, truth.mount.frame.z) > 0;
  add('reference plane', plane < 0.01 && sense, sure, `${plane.toFixed(3)} off${sense ? '' : ', Z turned round'}`);
  add('kind', reading.kind === (KINDS[truth.kind] ?? truth.kind), sure, `is ${truth.kind}, read ${reading.kind}`);
  truth.seats.forEach((s) => {
    const found = reading.seats.find((r) => offDeg(r.frame.z, s.frame.z) < 0.1 && isAtSeat(r.frame.origin, s));
    const right = !!found && sayConnection(found.connection) === sayConnection(s.connection);
    const read = reading.seats.map((r) => `${sayConnection(r.connection)} ${distance(r.frame.origin, s.frame.origin).toFixed(2)} off`).join(', ');
    add('seat', right, found?.confidence ?? reading.seats[0]?.confidence ?? 0, `is ${sayConnection(s.connection)}, read ${read || 'none'}`);
  });
  truth.tips.forEach((t) => {
    const tip = [...reading.tips].sort((a, b) => distance(a.noseCentre, t.noseCentre) - distance(b.noseCentre, t.noseCentre))[0];
    const c = tip?.confidence ?? 0;
    const limit = isMesh ? 0.03 : 0.01;
    add('nose radius', !!tip && Math.abs(tip.noseRadius - t.noseRadius) < limit, c, `is ${t.noseRadius}, read ${tip?.noseRadius.toFixed(4) ?? 'none'}`);
    add('nose centre', !!tip && distance(tip.noseCentre, t.noseCentre) < limit, c, tip ? `${distance(tip.noseCentre, t.noseCentre).toFixed(4)} off` : 'none');
    if (t.enteringAngle !== undefined)
      add('entering angle', !!tip && Math.abs(tip.enteringAngle - t.enteringAngle) < 0.1, c, `is ${t.enteringAngle.toFixed(2)}, read ${tip?.enteringAngle}`);
    if (t.includedAngle !== undefined)
      add(
        'included angle',
        !!tip && Math.abs(tip.includedAngleInPlane - t.includedAngle) < 0.1,
        c,
        `is ${t.includedAngle.toFixed(2)}, read ${tip?.includedAngleInPlane}`,
      );
    if (t.hand) add('hand', tip?.hand === t.hand, c, `is ${t.hand}, read ${tip?.hand}`);
  });
  if (truth.tips.length === 0) add('no tip', reading.tips.length === 0, 1, `read ${reading.tips.length}`);
  return out;
}

// A channel's corner depends on which hand is put in: any of its corners on the opening plane is right.
const isAtSeat = (p: Vec3, s: CorpusTruth['seats'][number]): boolean => {
  if (s.connection.standard !== 'square') return distance(p, s.frame.origin) < 0.05;
  const d = subtract(p, s.frame.origin);
  return Math.abs(dot(d, s.frame.z)) < 0.05 && distance(p, s.frame.origin) < 1.5 * Number.parseFloat(String(s.connection.size));
};

// Names of the corpus for kinds that reading calls otherwise.
const KINDS: Record<string, string> = { holder: 'rotating' };

const score = (b: Model['bodies'][number], t: CorpusTruth['bodies'][number]) =>
  distance(b.centroid, t.centroid) + 20 * Math.abs(Math.log(Math.max(1e-6, Math.abs(b.volume)) / Math.max(1e-6, Math.abs(t.volume))));

const share = (list: readonly Answer[]) =>
  list.length === 0 ? '' : `${Math.round((100 * list.filter((a) => a.right).length) / list.length)} % (${list.length})`;

async function main() {
  const words = process.argv.slice(2);
  const which = words.find((w) => w === 'all' || w === 'held-back');
  const names = words.filter((w) => w !== which);
  const truths = (JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')) as CorpusTruth[]).filter(
    (t) => (which === 'all' || t.heldBack === (which === 'held-back')) && (names.length === 0 || names.some((n) => t.file.startsWith(n))),
  );
  const kernel: Kernel = await loadKernel();
  const answers: Answer[] = [];
  let [opening, reading, slowest] = [0, 0, 0];
  for (const truth of truths) {
    const path = join(folder, 'models', truth.file);
    if (!existsSync(path)) throw new Error(`${path} is missing: npm run corpus`);
    const from = performance.now();
    const opened = await readModelFile(kernel, new Uint8Array(readFileSync(path)), truth.file);
    if (!opened.ok) throw new Error(`${truth.file}: ${opened.issues.map((i) => i.code).join()}`);
    const middle = performance.now();
    const read = proposeReading(opened.value.model);
    const end = performance.now();
    opening += middle - from;
    reading += end - middle;
    slowest = Math.max(slowest, (end - middle) / (middle - from));
    const own = judge(truth, opened.value.model, read);
    answers.push(...own);
    const wrong = own.filter((a) => !a.right);
    if (wrong.length > 0)
      console.log(
        `${truth.file} (${truth.note}${truth.fused ? ', fused' : ''}):${wrong.map((w) => `\n    ${w.what}: ${w.text} [${w.confidence.toFixed(2)}]`).join('')}`,
      );
  }
  const whats = [...new Set(answers.map((a) => a.what))];
  const kinds = [...new Set(answers.map((a) => a.kind))];
  for (const group of ['B-rep', 'mesh'] as const) {
    console.log(`\n${group}`.padEnd(19) + [...kinds, 'all'].map((k) => k.padStart(12)).join(''));
    for (const what of whats) {
      const row = kinds.map((k) => share(answers.filter((a) => a.group === group && a.kind === k && a.what === what)));
      console.log(what.padEnd(18) + [...row, share(answers.filter((a) => a.group === group && a.what === what))].map((c) => c.padStart(12)).join(''));
    }
    console.log(
      'all'.padEnd(18) +
        [...kinds.map((k) => share(answers.filter((a) => a.group === group && a.kind === k))), share(answers.filter((a) => a.group === group))]
          .map((c) => c.padStart(12))
          .join(''),
    );
  }
  console.log('\nconfidence        right');
  for (const [low, high] of [
    [0.9, 1.01],
    [0.7, 0.9],
    [0.5, 0.7],
    [0, 0.5],
  ])
    console.log(`${low.toFixed(1)} to ${Math.min(1, high).toFixed(1)}`.padEnd(18) + share(answers.filter((a) => a.confidence >= low && a.confidence < high)));
  console.log(`\n${truths.length} models; reading took ${(reading / opening).toFixed(2)} of the opening, ${slowest.toFixed(2)} at most`);
}

await main();
