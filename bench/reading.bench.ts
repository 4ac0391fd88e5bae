// How much of the reading corpora is read right: npm run bench:reading [own|wild|FOLDER] [all|held-back] [NAME...]. Without a word it looks at both and
// leaves the held-back thirds alone. The wild one is made by another generator, which shares no shape code with the first.
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { proposeReading } from '#core/reading';
import { ACCEPTED, type Answer, judge, NOTHING, type Truth } from '../demo/corpus/judge.ts';

const CORPORA: Readonly<Record<string, string>> = { own: join(import.meta.dirname, '../demo/corpus'), wild: join(import.meta.dirname, '../demo/corpus/wild') };
const folderOf = (corpus: string) => CORPORA[corpus] ?? corpus;

const share = (list: readonly Answer[]) =>
  list.length === 0 ? '' : `${Math.round((100 * list.filter((a) => a.right).length) / list.length)} % (${list.length})`;

async function main() {
  const words = process.argv.slice(2);
  const isCorpus = (w: string) => w in CORPORA || existsSync(join(w, 'truth.json'));
  const which = words.find((w) => w === 'all' || w === 'held-back');
  const names = words.filter((w) => w !== which && !isCorpus(w));
  const asked = words.filter(isCorpus);
  const kernel: Kernel = await loadKernel();
  for (const corpus of asked.length > 0 ? asked : ['own', 'wild']) {
    const truths = (JSON.parse(readFileSync(join(folderOf(corpus), 'truth.json'), 'utf8')) as Truth[]).filter(
      (t) => (which === 'all' || t.heldBack === (which === 'held-back')) && (names.length === 0 || names.some((n) => t.file.startsWith(n))),
    );
    if (truths.length === 0) continue;
    console.log(`\n${corpus} corpus${which ? `, ${which}` : ''}`);
    await judgeAll(kernel, corpus, truths);
  }
}

async function judgeAll(kernel: Kernel, corpus: string, truths: readonly Truth[]) {
  const answers: Answer[] = [];
  const ready: string[] = [];
  let [opening, reading, slowest] = [0, 0, 0];
  for (const truth of truths) {
    const path = join(folderOf(corpus), 'models', truth.file);
    if (!existsSync(path)) throw new Error(`${path} is missing: npm run corpus`);
    const from = performance.now();
    const opened = await readModelFile(kernel, new Uint8Array(readFileSync(path)), truth.file);
    if (!opened.ok) {
      // All that is asked of it is not known then.
      answers.push(...judge(truth, { format: 'step', unit: 'mm', unitScale: 1, chordTolerance: 0, bodies: [] }, NOTHING));
      console.log(`${truth.file} did not open: ${opened.issues.map((i) => i.code).join()} (${truth.written})`);
      continue;
    }
    const middle = performance.now();
    const read = proposeReading(opened.value.model);
    const end = performance.now();
    opening += middle - from;
    reading += end - middle;
    slowest = Math.max(slowest, (end - middle) / (middle - from));
    const own = judge(truth, opened.value.model, read);
    answers.push(...own);
    const wrong = own.filter((a) => !a.right);
    if (wrong.some((a) => ['axis', 'mount', 'reference plane'].includes(a.what)) && (read.mount?.confidence ?? 0) >= ACCEPTED) ready.push(truth.file);
    if (wrong.length > 0)
      console.log(
        `${truth.file} (${truth.note}${truth.fused ? ', fused' : ''}${truth.written ? ` [${truth.written}]` : ''}):${wrong.map((w) => `\n    ${w.what}: ${w.text} [${w.confidence.toFixed(2)}]`).join('')}`,
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
  console.log(`\nready with a wrong mount: ${ready.length === 0 ? 'none' : ready.join(', ')}`);
  console.log(`${truths.length} models; reading took ${(reading / opening).toFixed(2)} of the opening, ${slowest.toFixed(2)} at most`);
}

await main();
