// The command line, from its bundle.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundle } from './bundle.mjs';

const out = await bundle('cli', { main: 'cli/main.ts', worker: 'cli/worker.ts', hand: 'cli/hand.ts' }, ['core/src', 'cli']);
process.argv[1] = join(out, 'main.js');
await import(pathToFileURL(process.argv[1]).href);
