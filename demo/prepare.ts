// Turns the demo recipe into records and blobs for the application: npm run build calls it. Derived, so not committed.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { cookRecipe, readRecipe } from '#core/handover';
import { unwrap } from '#core/issues';
import { loadKernel, readModelFile } from '#core/kernel';
import { encodeModel } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { type AnyRecord, hashBytes, newOutline, NO_CHOICE, type OutlineRecord, summarizeModel } from '#core/records';
import { componentOfOutline, outlinePartOf, readOutlineFile, shapeOfOutline } from '#core/sources';
import { type Stack, stackProfile } from '#core/stack';

const here = import.meta.dirname;
const out = join(here, '..', 'dist', 'demo');
const recipe = unwrap(readRecipe(readFileSync(join(here, 'hub-station.json'), 'utf8'), 'hub-station.json'));
const cooked = unwrap(await cookRecipe(await loadKernel(), recipe, (name) => readFileSync(join(here, name)), { now: '2026-03-02T08:00:00.000Z' }));
rmSync(out, { recursive: true, force: true });
mkdirSync(join(out, 'blobs'), { recursive: true });
const blobs: Record<string, Uint8Array> = { ...cooked.blobs };
for (const [id, bytes] of Object.entries(cooked.sources)) blobs[cooked.components[id].source.blob] = bytes;
for (const [hash, bytes] of Object.entries(blobs)) writeFileSync(join(out, 'blobs', hash), bytes);
const now = '2026-03-02T08:00:00.000Z';
const drawn = await drawnRecords();
for (const [hash, bytes] of Object.entries(drawn.blobs)) writeFileSync(join(out, 'blobs', hash), bytes);
const assembly = { ...cooked.assembly, id: 'demo-hub-station' };
writeFileSync(join(out, 'records.json'), JSON.stringify([...Object.values(cooked.components), ...drawn.records, assembly]));
console.log(`demo data: ${Object.keys(cooked.components).length} components, ${drawn.records.length} drawn, ${Object.keys(blobs).length} blobs`);

// A form cutter from its drawing with the component that it makes, and a holder by its numbers.
async function drawnRecords(): Promise<{ records: AnyRecord[]; blobs: Record<string, Uint8Array> }> {
  const fileName = 'seal-groove-cutter.dxf';
  const bytes = new Uint8Array(readFileSync(join(here, 'models', fileName)));
  const { read, ...part } = outlinePartOf(unwrap(readOutlineFile(bytes, fileName, NO_CHOICE)));
  const way = { kind: 'drawing' as const, blob: hashBytes(bytes), fileName, format: 'dxf' as const, choice: NO_CHOICE, read };
  const cutter: OutlineRecord = { ...newOutline({ id: 'demo-seal-groove-outline', name: 'Seal groove cutter 17', purpose: 'cutter', way, now }), ...part };
  const shape = unwrap(shapeOfOutline(cutter));
  const { model } = unwrap(await readModelFile(await loadKernel(), writeSolidShape(shape), shapeFileName(cutter.name)));
  const encoded = encodeModel(model);
  const component = componentOfOutline(cutter, shape, { id: 'demo-seal-groove-cutter', now, modelBlob: hashBytes(encoded) }, summarizeModel(model));
  const stack: Stack = {
    connection: { standard: 'HSK-A', size: 63, length: 0 },
    segments: [
      { id: 's1', kind: 'cylinder', length: 22, from: 46, to: 46, radius: 0, shared: false },
      { id: 's2', kind: 'concave', length: 8, from: 46, to: 32, radius: 10, shared: true },
      { id: 's3', kind: 'cone', length: 46, from: 32, to: 22, radius: 0, shared: true },
      { id: 's4', kind: 'chamfer', length: 1, from: 22, to: 20, radius: 0, shared: true },
    ],
    bore: { standard: 'cylindrical', size: 10, depth: 38 },
  };
  const made = unwrap(stackProfile(stack));
  const holder: OutlineRecord = {
    ...newOutline({ id: 'demo-slim-holder-outline', name: 'Slim holder 63 / 10', purpose: 'holder', way: { kind: 'stack', stack }, now }),
    profile: made.profile,
    mount: made.mount,
    seat: made.seat && { ...made.seat.connection, z: made.seat.z },
  };
  return { records: [cutter, component, holder], blobs: { [way.blob]: bytes, [component.model.blob]: encoded } };
}
