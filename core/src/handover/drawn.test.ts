import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { say } from '#core/issues';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { encodeModel } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import {
  ASSEMBLY_VERSION,
  type AssemblyRecord,
  type ComponentRecord,
  hashBytes,
  newOutline,
  NO_CHOICE,
  type OutlineRecord,
  summarizeModel,
  ON_MASTER,
} from '#core/records';
import { componentOfOutline, outlinePartOf, readOutlineFile, shapeOfOutline } from '#core/sources';
import { simpleStack, type Stack, stackProfile } from '#core/stack';
import { openPackage, packAssembly, verifyPackage } from './index.ts';

const now = '2026-01-01T00:00:00.000Z';
let kernel: Kernel;
let drawing: Uint8Array;
beforeAll(async () => {
  kernel = await loadKernel();
  drawing = new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/drawings/files/form-cutter-3.dxf')));
});

async function component(outline: OutlineRecord): Promise<ComponentRecord> {
  const shape = shapeOfOutline(outline);
  if (!shape.ok) throw new Error(shape.issues.map(say).join());
  const read = await readModelFile(kernel, writeSolidShape(shape.value), shapeFileName('x'));
  if (!read.ok) throw new Error(read.issues.map(say).join());
  return componentOfOutline(
    outline,
    shape.value,
    { id: `c-${outline.id}`, now, modelBlob: hashBytes(encodeModel(read.value.model)) },
    summarizeModel(read.value.model),
  );
}

// A typed holder with a bore of 16 and a cutter from a drawing, whose shank is one.
async function drawnAssembly() {
  const stack: Stack = { ...simpleStack({ standard: 'HSK-A', size: 63, length: 0 }, 40, 60, 's1'), bore: { standard: 'cylindrical', size: 16, depth: 50 } };
  const made = stackProfile(stack);
  if (!made.ok) throw new Error('a stack');
  const { profile, mount, seat } = made.value;
  const holder: OutlineRecord = {
    ...newOutline({ id: 'o1', name: 'Holder', purpose: 'holder', way: { kind: 'stack', stack }, now }),
    profile,
    mount,
    seat: seat && { ...seat.connection, z: seat.z },
  };
  const file = 'form-cutter-3.dxf';
  const read = readOutlineFile(drawing, file, NO_CHOICE);
  if (!read.ok) throw new Error('a drawing');
  const { read: said, ...part } = outlinePartOf(read.value);
  const way = { kind: 'drawing' as const, blob: hashBytes(drawing), fileName: file, format: 'dxf' as const, choice: NO_CHOICE, read: said };
  const cutter: OutlineRecord = { ...newOutline({ id: 'o2', name: 'Cutter', purpose: 'cutter', way, now }), ...part };
  const [a, b] = [await component(holder), await component(cutter)];
  const assembly: AssemblyRecord = {
    kind: 'assembly',
    version: ASSEMBLY_VERSION,
    edges: [],
    shelf: ON_MASTER,
    id: 'a',
    name: 'Drawn',
    pieces: [
      { id: 'p1', componentId: a.id, parent: null, stickOut: 0, rollDeg: 0 },
      { id: 'p2', componentId: b.id, parent: { pieceId: 'p1', seatId: a.seats[0].id }, stickOut: -40, rollDeg: 0 },
    ],
    createdAt: now,
    changedAt: now,
  };
  const sources = Object.fromEntries([a, b].map((c) => [c.id, c.source.kind === 'outline' ? writeSolidShape(c.source.shape) : new Uint8Array(0)]));
  return { assembly, components: { [a.id]: a, [b.id]: b }, sources, outlines: [holder, cutter], drawings: { [way.blob]: drawing }, now };
}

describe('what was drawn and typed', () => {
  it('is handed over as vendor models are: proven, with its outlines and drawings, and opens again as the same', async () => {
    const input = await drawnAssembly();
    const packed = await packAssembly(kernel, input);
    if (!packed.ok) throw new Error(packed.issues.map(say).join());
    const { manifest, bytes } = packed.value;
    expect(manifest.pieces.map((p) => p.parts.map((q) => [q.target, q.closed, q.growth.min >= 0]))).toEqual([
      [['non-cutting', true, true]],
      [
        ['non-cutting', true, true],
        ['cutting', true, true],
      ],
    ]);
    const checked = await verifyPackage(kernel, bytes, 'drawn.zip');
    expect(checked.ok && checked.value.checks.filter((c) => c.state === 'fail')).toEqual([]);
    const opened = openPackage(bytes, 'drawn.zip');
    if (!opened.ok) throw new Error(opened.issues.map(say).join());
    expect(Object.values(opened.value.outlines)).toEqual(input.outlines);
    expect(opened.value.drawings).toEqual(input.drawings);
    expect(opened.value.components).toEqual(input.components);
  });
  it('is refused where a record says another shape than its file has', async () => {
    const packed = await packAssembly(kernel, await drawnAssembly());
    if (!packed.ok) throw new Error('it packs');
    const files = unzipSync(packed.value.bytes);
    const manifest = JSON.parse(new TextDecoder().decode(files['manifest.json'])) as { components: { source: { shape: { bodies: { name: string }[] } } }[] };
    manifest.components[0].source.shape.bodies[0].name = 'Another';
    const opened = openPackage(zipSync({ ...files, 'manifest.json': strToU8(JSON.stringify(manifest)) }), 'changed.zip');
    expect(!opened.ok && opened.issues[0].code).toBe('package.changed-file');
  });
  it('is refused where a shape or a drawing in the package was changed', async () => {
    const packed = await packAssembly(kernel, await drawnAssembly());
    if (!packed.ok) throw new Error('it packs');
    const files = unzipSync(packed.value.bytes);
    for (const folder of ['sources/', 'drawings/']) {
      const path = Object.keys(files).find((f) => f.startsWith(folder)) as string;
      const changed = { ...files, [path]: strToU8(new TextDecoder().decode(files[path]).replace('1', '2')) };
      const opened = openPackage(zipSync(changed), 'changed.zip');
      expect(!opened.ok && opened.issues[0].code).toBe('package.changed-file');
    }
  });
});
