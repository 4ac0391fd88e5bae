import { expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readModelFile, writePlainStep } from '#core/kernel';
import { type Motion, move, translation, turn, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import {
  type AssemblyRecord,
  type Carrier,
  type ComponentRecord,
  type Connection,
  readRecord,
  sampleComponent,
  type SetUpRecord,
  withUnitScale,
} from '#core/records';
import { feetOf, fittingFoot, setUpTable, SHIPPED_MACHINES } from './index.ts';

const [twin] = SHIPPED_MACHINES;
const bolted = { standard: 'bolted face' as const, size: '' };

// A cube of 60 in its file's corner: it stands on its face at Z = 0, or on that at X = 0; its bore opens at Y = 60 in the middle.
const foot = (id: string, name: string, origin: Vec3, z: Vec3, x: Vec3): Connection => ({
  id,
  name,
  frame: { origin, z, x },
  connection: bolted,
  origin: { from: 'typed', evidence: '' },
});
const below = foot('mount', 'Mount', [30, 30, 0], [0, 0, 1], [0, 1, 0]);
const beside = foot('side', 'Foot 2', [0, 30, 30], [1, 0, 0], [0, 1, 0]);
const sample = sampleComponent('block');
const block: ComponentRecord = {
  ...sample,
  componentKind: 'station block',
  bodies: [{ ...sample.bodies[0], id: 'b1', role: 'tool body' }],
  mount: below,
  feet: [beside],
  seats: [
    {
      id: 's',
      name: 'Bore',
      frame: { origin: [30, 60, 30], z: [0, 1, 0], x: [1, 0, 0] },
      connection: { standard: 'cylindrical', size: 20 },
      origin: below.origin,
    },
  ],
};
const assembly = { id: 'a', name: 'block', pieces: [{ id: 'p1', componentId: 'block', parent: null, stickOut: 0, rollDeg: 0 }], edges: [] };
const upper: Carrier = { ...twin.carriers[0], connection: bolted };

let kernel: Kernel;
async function cube(): Promise<Model> {
  kernel ??= await loadKernel();
  const bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [60, 60, 60] }, name: 'cube', fileFromSolid: translation([0, 0, 0]) }]);
  const read = await readModelFile(kernel, bytes, 'cube.step');
  if (!read.ok) throw new Error('no cube');
  return read.value.model;
}
async function standing(component: ComponentRecord, more: Partial<SetUpRecord['places'][number]>) {
  const place = { id: 'w', carrierId: upper.id, station: 1, assemblyId: 'a', turnDeg: 0, spindle: 'main' as const, edges: [], ...more };
  const setUp = { places: [place], blanks: { main: null, counter: null } } as unknown as SetUpRecord;
  const [row] = setUpTable({
    machine: { ...twin, carriers: [upper] },
    setUp,
    assemblies: { a: assembly as unknown as AssemblyRecord },
    components: { block: component },
    models: { block: await cube() },
  }).stations;
  return row;
}

it('a block stands on its mount, or on another of its feet; what is in it stands elsewhere then', async () => {
  const onMount = await standing(block, {});
  const onSide = await standing(block, { foot: 'side' });
  // The gauge frame is that of the mount: the bore is 30 in front of either foot's middle, and 30 beyond it.
  const bore: Vec3 = [30, 0, 30];
  // Rim of a turret above the axis: the station's Z looks inwards (-X of the machine), its X towards the main chuck (-Z).
  const inwards = ([x, , z]: Vec3): Vec3 => [-z, expect.closeTo(0, 9) as unknown as number, -x];
  expect(move(onMount.motion as Motion, bore)).toEqual(inwards([30, 0, 30]).map((v) => (typeof v === 'number' ? expect.closeTo(v, 9) : v)));
  expect(move(onSide.motion as Motion, bore)).toEqual(inwards([30, 0, 30]).map((v) => (typeof v === 'number' ? expect.closeTo(v, 9) : v)));
  // The middle of the mount's own face lies on the other foot 30 in and 30 across: the station’s Y is -Y of the machine.
  expect(move(onSide.motion as Motion, [0, 0, 0]).map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([-30, 30, 0]);
  // Its Z looks along what the side foot has across: across, the file’s own Z.
  expect(turn(onSide.motion as Motion, [0, 0, 1]).map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([0, -1, 0]);
  for (const row of [onMount, onSide]) expect(row.checks.filter((c) => c.state === 'fail')).toEqual([]);
});

it('which foot it floats on is told, and one that is gone', async () => {
  const floats = { ...block, feet: [{ ...beside, frame: { ...beside.frame, origin: [-2, 30, 30] as Vec3 } }] };
  expect((await standing(floats, {})).checks.filter((c) => c.state === 'fail')).toEqual([]);
  const [wrong] = (await standing(floats, { foot: 'side' })).checks.filter((c) => c.code === 'foot');
  expect([wrong.state, wrong.message]).toEqual(['fail', expect.stringMatching(/floats at the carrier, or is sunk into it: .*2/)]);
  const gone = (await standing({ ...block, feet: [] }, { foot: 'side' })).checks.filter((c) => c.code === 'foot');
  expect(gone.map((c) => c.state)).toEqual(['warn', 'pass']);
});

it('the foot that fits is taken; feet are kept with their record and grow with its unit', () => {
  const vdi = { ...beside, connection: { standard: 'VDI' as const, size: 30 } };
  const both = { ...block, feet: [vdi] };
  expect(feetOf(both).map((f) => f.name)).toEqual(['Mount', 'Foot 2']);
  expect(fittingFoot(both, bolted)).toEqual({});
  expect(fittingFoot(both, { standard: 'VDI', size: 30 })).toEqual({ foot: 'side' });
  expect(fittingFoot(both, { standard: 'VDI', size: 40 })).toBeUndefined();
  // What stands on a foot that fits stays on it.
  expect(fittingFoot(block, bolted, { foot: 'side' })).toEqual({ foot: 'side' });
  expect(fittingFoot(both, bolted, { foot: 'side' })).toEqual({});
  const read = readRecord(JSON.parse(JSON.stringify(both)), 'block.json');
  expect(read.ok && (read.value as ComponentRecord).feet).toEqual([vdi]);
  const inches = withUnitScale({ ...block, source: { ...block.source, unitScale: 1 } }, 25.4);
  expect(inches.feet?.[0].frame.origin).toEqual([0, 30 * 25.4, 30 * 25.4]);
});
