// The command line, from its bundle.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundle } from './bundle.mjs';

// They find their WebAssembly beside themselves.
const KERNELS = ['replicad-opencascadejs', 'manifold-3d'];
const out = await bundle('cli', { main: 'cli/main.ts', worker: 'cli/worker.ts', hand: 'cli/hand.ts' }, ['core/src', 'cli'], KERNELS);
process.argv[1] = join(out, 'main.js');
await import(pathToFileURL(process.argv[1]).href);
