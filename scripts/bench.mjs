// A measurement, from its bundle, as the application and the command line run: node scripts/bench.mjs run|reading|enclosure|plans|drawings [arguments]
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundle } from './bundle.mjs';

const [program, ...rest] = process.argv.slice(2);
const entries = { run: 'bench/run.ts', 'memory-child': 'bench/memory-child.ts', 'heavy-child': 'bench/heavy-child.ts', hand: 'cli/hand.ts' };
for (const name of ['reading', 'enclosure', 'plans', 'drawings']) entries[name] = `bench/${name}.bench.ts`;
const out = await bundle('bench', entries, ['core/src', 'cli', 'bench', 'demo']);
process.argv.splice(1, process.argv.length - 1, join(out, `${program}.js`), ...rest);
await import(pathToFileURL(process.argv[1]).href);
