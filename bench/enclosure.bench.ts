// Every model of the reading corpus made light: npm run bench:enclosure [TOLERANCE] [pose=SEED] [NAME...]. Nothing may cut in, nothing may exceed the
// tolerance. With a seed each model is first brought into a pose of its own.
import { IDENTITY_FRAME } from '#core/math';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { makeGeometry } from '#core/making';
import { loadKernel, readModelFile } from '#core/kernel';
import { proposeReading, spinsAsRead } from '#core/reading';
import { movedModel } from './moved-model.ts';

const [first, ...rest] = process.argv.slice(2);
const pose = Number(rest.find((r) => r.startsWith('pose='))?.slice(5) ?? 0);
const names = rest.filter((r) => !r.startsWith('pose='));
const tolerance = Number(first ?? 0.05);
const folder = join(import.meta.dirname, '../demo/corpus/models');
const kernel = await loadKernel();
let [made, refused, cuts, over, open, before, after] = [0, 0, 0, 0, 0, 0, 0];
for (const [i, name] of readdirSync(folder).entries()) {
  if (names.length > 0 && !names.some((n) => name.startsWith(n))) continue;
  let [bytes, file]: [Uint8Array, string] = [new Uint8Array(readFileSync(join(folder, name))), name];
  let read = await readModelFile(kernel, bytes, file);
  if (read.ok && pose > 0) {
    ({ bytes, file } = movedModel(kernel, bytes, file, read.value.model, 1000 * pose + i));
    read = await readModelFile(kernel, bytes, file);
  }
  if (!read.ok) throw new Error(`${file}: ${read.issues[0].code}`);
  const { model } = read.value;
  const reading = proposeReading(model);
  const frame = reading.mount?.frame ?? IDENTITY_FRAME;
  const spins = spinsAsRead(reading);
  const result = await makeGeometry(kernel, { bytes, file, bodies: model.bodies.map((b) => b.id), mode: 'auto', tolerance, frame, spins });
  if (!result.ok) {
    refused++;
    console.log(`${file}: refused, ${result.issues[0].code}`);
    continue;
  }
  made++;
  const { growth, closed, trianglesIn, trianglesOut, milliseconds, parts } = result.value;
  before += trianglesIn;
  after += trianglesOut;
  const faults = [
    growth.min < -1e-6 && 'CUTS IN',
    growth.max > tolerance && 'OVER',
    !closed && 'OPEN',
    parts.some((p) => p.proof.crossings > 0) && 'crosses itself',
  ].filter(Boolean);
  if (growth.min < -1e-6) cuts++;
  if (growth.max > tolerance) over++;
  if (!closed) open++;
  console.log(
    `${file}: ${trianglesIn} to ${trianglesOut} as ${[...new Set(parts.map((p) => p.mode))].join(', ')}, growth ${growth.min.toFixed(6)} to ${growth.max.toFixed(4)}, ${Math.round(milliseconds)} ms ${faults.join(', ')}`,
  );
}
console.log(
  `within ${tolerance} mm: ${made} made, ${refused} refused, ${cuts} cut in, ${over} over the tolerance, ${open} open; ${before} triangles became ${after}`,
);
if (refused + cuts + over + open > 0) process.exitCode = 1;
