// Speed and memory, measured: npm run bench [import] [envelope] [wrap] [making] [memory] [mesh] [picking] [web] [opening] [drawing] [outline] [data] [fits] [carrier] [trial]. Ratios compare two ways in the same run; prints a table and JSON.
import { writeFileSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { benchCarrier } from './carrier.bench.ts';
import { benchTrial } from './trial.bench.ts';
import { benchDrawing } from './drawing-speed.bench.ts';
import { benchEnvelope } from './envelope.bench.ts';
import { benchFits } from './fits.bench.ts';
import { benchImport } from './import.bench.ts';
import { benchMaking } from './making.bench.ts';
import type { BenchRow } from './measure.ts';
import { benchMemory } from './memory.bench.ts';
import { benchMesh } from './mesh.bench.ts';
import { benchOpening } from './opening.bench.ts';
import { benchData } from './data.bench.ts';
import { benchOutline } from './outline.bench.ts';
import { benchPicking } from './picking.bench.ts';
import { benchWrap } from './wrap.bench.ts';
import { benchWeb } from './web.bench.ts';

const wanted = process.argv.slice(2);
const all: Record<string, () => Promise<BenchRow[]> | BenchRow[]> = {
  import: benchImport,
  envelope: benchEnvelope,
  wrap: benchWrap,
  making: benchMaking,
  memory: benchMemory,
  mesh: benchMesh,
  picking: benchPicking,
  web: benchWeb,
  opening: benchOpening,
  drawing: benchDrawing,
  outline: benchOutline,
  data: benchData,
  fits: benchFits,
  carrier: benchCarrier,
  trial: benchTrial,
};
const rows: BenchRow[] = [];
for (const [name, bench] of Object.entries(all)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  console.error(`measuring ${name} ...`);
  rows.push(...(await bench()));
}
const width = Math.max(...rows.map((r) => r.what.length));
for (const r of rows) {
  const verdict = r.limit === undefined ? '' : r.value <= r.limit ? `within ${r.limit}` : `OVER ${r.limit}`;
  console.log(`${r.what.padEnd(width)}  ${r.value.toFixed(r.unit === 'x' ? 2 : 1).padStart(9)} ${r.unit.padEnd(5)} ${verdict}`);
}
const out = join(import.meta.dirname, '..', 'test-results', 'bench.json');
mkdirSync(join(out, '..'), { recursive: true });
writeFileSync(out, JSON.stringify(rows, null, 1));
console.log(JSON.stringify(rows));
if (rows.some((r) => r.limit !== undefined && r.value > r.limit)) process.exitCode = 1;
