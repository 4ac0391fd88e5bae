// Turns the demo recipe into records and blobs for the application: npm run build calls it. Derived, so not committed.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { SHIPPED_MACHINES } from '#core/carrier';
import { cookRecipe, cookTrial, type KnownTrials, readRecipe, setUpFileSchema, setUpOf } from '#core/handover';
import { unwrap } from '#core/issues';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { encodeModel } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import {
  type AnyRecord,
  type AssemblyRecord,
  type ComponentRecord,
  hashBytes,
  newOutline,
  NO_CHOICE,
  type OutlineRecord,
  type SetUpRecord,
  setUpWithIds,
  withComponentIds,
  summarizeModel,
  TRIAL_VERSION,
  type TrialRecord,
} from '#core/records';
import { componentOfOutline, outlinePartOf, readOutlineFile, shapeOfOutline } from '#core/sources';
import { type Stack, stackProfile } from '#core/stack';
import { stockOf, trialSetting, writeProgram } from '#core/trial';

const here = import.meta.dirname;
const out = join(here, '..', 'dist', 'demo');
// Recipes, set-ups and trials have the same vendor files: each is read once.
const kernel: Kernel = { ...(await loadKernel()), memory: new Map() };
const now = '2026-03-02T08:00:00.000Z';
const components: Record<string, ComponentRecord> = {};
const assemblies: Record<string, AssemblyRecord> = {};
const blobs: Record<string, Uint8Array> = {};
// The trials' set-ups, each read once.
const setUps: KnownTrials['setUps'] = new Map();
for (const key of ['hub-station', 'hub-turning', 'hub-boring']) {
  const recipe = unwrap(readRecipe(readFileSync(join(here, `${key}.json`), 'utf8'), `${key}.json`));
  // Geometry of what an earlier recipe has is made already.
  const fresh = { ...recipe, components: recipe.components.map((c) => (components[c.key] ? { ...c, geometry: [] } : c)) };
  const cooked = unwrap(await cookRecipe(kernel, fresh, (name) => readFileSync(join(here, name)), { now }));
  for (const [id, record] of Object.entries(cooked.components)) {
    if (components[id]) continue;
    components[id] = record;
    blobs[record.source.blob] = cooked.sources[id];
  }
  Object.assign(blobs, cooked.blobs);
  assemblies[key] = { ...cooked.assembly, id: `demo-${key}` };
}
rmSync(out, { recursive: true, force: true });
mkdirSync(join(out, 'blobs'), { recursive: true });
const drawn = await drawnRecords();
for (const [hash, bytes] of Object.entries({ ...blobs, ...drawn.blobs })) writeFileSync(join(out, 'blobs', hash), bytes);
const records: AnyRecord[] = [
  ...Object.values(components),
  ...drawn.records,
  ...Object.values(assemblies),
  setUpRecord(),
  trialRecord('demo-hub-trial', 'Hub shell, first side', await cookedTrial('hub-trial.json'), 'demo-hub-set-up'),
  trialRecord('demo-hub-trial-2', 'Hub shell, second side', await cookedTrial('hub-second-side.json'), 'demo-hub-set-up'),
  ...(await waistRecords()),
];
writeFileSync(join(out, 'records.json'), JSON.stringify(records));
console.log(
  `demo data: ${Object.keys(components).length} components, ${drawn.records.length} drawn, ${Object.keys(assemblies).length} assemblies, 2 set-ups, 3 trials`,
);

// What stands where in the twin-spindle lathe, as the command line reads it.
function setUpRecord(): SetUpRecord {
  const said = setUpFileSchema.parse(JSON.parse(readFileSync(join(here, 'hub-set-up.json'), 'utf8')));
  const machine = SHIPPED_MACHINES.find((m) => m.id === said.machine) ?? SHIPPED_MACHINES[0];
  const named = Object.fromEntries(Object.entries(assemblies).map(([key, a]) => [key.replace('hub-', ''), a]));
  const record = unwrap(setUpOf(said, machine, named, components, 'hub-set-up.json', now));
  return { ...setUpWithIds(record, (id) => (named[id] ? named[id].id : id)), id: 'demo-hub-set-up' };
}

// Its first side turned, with one mistake to find; and its second, in the counter spindle, of cuts that are written from the contour.
async function cookedTrial(file: string) {
  const text = readFileSync(join(here, file), 'utf8');
  const cooked = unwrap(await cookTrial(kernel, text, file, (n) => readFileSync(join(here, n)), now, { before: [], setUps }));
  const { parts, job, programs, operations } = cooked;
  const setting = trialSetting(parts, job);
  const written = () => {
    const { text: blocks, carrier } = unwrap(writeProgram(setting, operations, stockOf(setting) ?? []));
    return { name: file.replace('.json', '.nc'), text: blocks, carrier };
  };
  return { parts, job, programs: programs.length > 0 ? [...programs] : [written()] };
}

// The waist between the flanges, by a tool of data in a swivel head that stands at a wrong angle.
async function waistRecords(): Promise<AnyRecord[]> {
  const cooked = await cookedTrial('hub-waist.json');
  const { machine, setUp, assemblies: made, components: tools } = cooked.parts;
  const idOf = (id: string) => `demo-${id.replace('/', '-')}`;
  return [
    machine,
    ...Object.values(tools).flatMap((c) => (c ? [{ ...c, id: idOf(c.id) }] : [])),
    ...Object.values(made).flatMap((a) => (a ? [{ ...withComponentIds(a, idOf), id: idOf(a.id) }] : [])),
    { ...setUpWithIds(setUp, idOf), id: 'demo-hub-waist-set-up', machineId: machine.id },
    trialRecord('demo-hub-waist', 'Hub shell, waist', cooked, 'demo-hub-waist-set-up'),
  ];
}

function trialRecord(id: string, name: string, { job, programs }: Awaited<ReturnType<typeof cookedTrial>>, setUpId: string): TrialRecord {
  return {
    kind: 'trial',
    version: TRIAL_VERSION,
    id,
    name,
    setUpId,
    spindle: job.spindle,
    zero: job.zero,
    zeros: job.zeros,
    contour: job.contour ?? null,
    stock: job.stock ?? null,
    support: job.support ?? null,
    programs,
    clearance: job.clearance,
    tolerance: job.tolerance,
    createdAt: now,
    changedAt: now,
  };
}

// A form cutter from its drawing with the component that it makes, and a holder by its numbers.
async function drawnRecords(): Promise<{ records: AnyRecord[]; blobs: Record<string, Uint8Array> }> {
  const fileName = 'seal-groove-cutter.dxf';
  const bytes = new Uint8Array(readFileSync(join(here, 'models', fileName)));
  const { read, ...part } = outlinePartOf(unwrap(readOutlineFile(bytes, fileName, NO_CHOICE)));
  const way = { kind: 'drawing' as const, blob: hashBytes(bytes), fileName, format: 'dxf' as const, choice: NO_CHOICE, read };
  const cutter: OutlineRecord = { ...newOutline({ id: 'demo-seal-groove-outline', name: 'Seal groove cutter 17', purpose: 'cutter', way, now }), ...part };
  const shape = unwrap(shapeOfOutline(cutter));
  const { model } = unwrap(await readModelFile(kernel, writeSolidShape(shape), shapeFileName(cutter.name)));
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
