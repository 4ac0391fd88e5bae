// Turns the demo recipe into records and blobs for the application: npm run build calls it. Derived, so not committed.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { cookRecipe, readRecipe } from '#core/handover';
import { unwrap } from '#core/issues';
import { loadKernel } from '#core/kernel';

const here = import.meta.dirname;
const out = join(here, '..', 'dist', 'demo');
const recipe = unwrap(readRecipe(readFileSync(join(here, 'hub-station.json'), 'utf8'), 'hub-station.json'));
const cooked = unwrap(await cookRecipe(await loadKernel(), recipe, (name) => readFileSync(join(here, name)), { now: '2026-03-02T08:00:00.000Z' }));
rmSync(out, { recursive: true, force: true });
mkdirSync(join(out, 'blobs'), { recursive: true });
const blobs: Record<string, Uint8Array> = { ...cooked.blobs };
for (const [id, bytes] of Object.entries(cooked.sources)) blobs[cooked.components[id].source.blob] = bytes;
for (const [hash, bytes] of Object.entries(blobs)) writeFileSync(join(out, 'blobs', hash), bytes);
const assembly = { ...cooked.assembly, id: 'demo-hub-station' };
writeFileSync(join(out, 'records.json'), JSON.stringify([...Object.values(cooked.components), assembly]));
console.log(`demo data: ${Object.keys(cooked.components).length} components, ${Object.keys(blobs).length} blobs`);
