// A component of ten heavy bodies opened and made in a process of its own; prints triangles, ms and the greatest memory of the process in MB. Argument: a STEP file.
import { readFileSync } from 'node:fs';
import { setFlagsFromString } from 'node:v8';
import { loadKernel, OpenModel } from '#core/kernel';
import { makeGeometry } from '#core/making';
import { threadCrew } from '../cli/thread-crew.ts';

// As the command line does.
setFlagsFromString('--wasm-num-compilation-tasks=1');
const path = process.argv[2];
const bytes = new Uint8Array(readFileSync(path));
const kernel = await loadKernel();
const from = performance.now();
const opened = await OpenModel.open(kernel, bytes, path);
if (!opened.ok) throw new Error(opened.issues[0].code);
const made = await makeGeometry(kernel, {
  bytes,
  file: path,
  opened: opened.value,
  bodies: opened.value.bodyIds,
  mode: 'auto',
  tolerance: 0.05,
  frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] },
  crew: threadCrew(),
});
if (!made.ok) throw new Error(made.issues[0].code);
console.log(JSON.stringify({ triangles: made.value.trianglesIn, milliseconds: performance.now() - from, megabytes: process.resourceUsage().maxRSS / 1000 }));
process.exit(0);
