// Plan outlines of all tools of the reading corpus that stand still: npm run bench:plans [TOLERANCE] [NAME...]. Nothing may cut in, nothing may exceed it.
import { IDENTITY_FRAME } from '#core/math';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PLAN_CHORDS, provenPlan } from '#core/making';
import { loadFlatBooleans, loadKernel, readModelFile, sampleModelFile } from '#core/kernel';
import { proposeReading } from '#core/reading';

const [first, ...names] = process.argv.slice(2);
const tolerance = Number(first ?? 0.05);
const folder = join(import.meta.dirname, '../demo/corpus/models');
const kernel = await loadKernel();
const flat = await loadFlatBooleans(kernel);
let [made, wrong, pieces, ms] = [0, 0, 0, 0];
for (const file of readdirSync(folder).filter((f) =>
  names.length > 0 ? names.some((n) => f.startsWith(n)) : /^(turning|grooving|threading|boring|block)/.test(f),
)) {
  const bytes = new Uint8Array(readFileSync(join(folder, file)));
  const read = await readModelFile(kernel, bytes, file);
  if (!read.ok) throw new Error(`${file}: ${read.issues[0].code}`);
  const { roles, mount } = proposeReading(read.value.model);
  const frame = mount?.frame ?? IDENTITY_FRAME;
  for (const what of ['cutting', 'holder']) {
    const ids = roles.filter((r) => (r.role === 'cutting') === (what === 'cutting')).map((r) => r.body);
    if (ids.length === 0) continue;
    const sampled = await sampleModelFile(kernel, bytes, file, { chordTolerance: PLAN_CHORDS * tolerance, ids });
    if (!sampled.ok) throw new Error(`${file}: ${sampled.issues[0].code}`);
    const start = performance.now();
    const plan = provenPlan(sampled.value, frame, { tolerance, flat });
    ms += performance.now() - start;
    made++;
    const { min, max } = plan.ok ? plan.value.growth : { min: -Infinity, max: Infinity };
    const faults = [!plan.ok && 'REFUSED', min < -1e-6 && 'CUTS IN', max > tolerance && 'OVER'].filter(Boolean);
    if (faults.length > 0) wrong++;
    const count = plan.ok ? plan.value.loops.reduce((n, l) => n + l.pieces.length, 0) : 0;
    pieces += count;
    if (faults.length > 0 || names.length > 0)
      console.log(`${file}, ${what}: ${count} pieces, growth ${min.toFixed(6)} to ${max.toFixed(4)} ${faults.join(', ')}`);
  }
}
console.log(`within ${tolerance} mm: ${made} outlines of ${pieces} pieces in ${Math.round(ms / 1000)} s, ${wrong} wrong`);
if (wrong > 0) process.exitCode = 1;
