import { beforeAll, describe, expect, it } from '@jest/globals';
import { parseString } from 'dxf';
import validator from 'gltf-validator';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { isClosedMesh, meshVolume, readStl, validateMesh, weld } from '#core/mesh';
import { loopThrough, profileVolume, writeDrawingDxf } from '#core/outline';
import { newOutline, type OutlineRecord, readRecordFile } from '#core/records';
import { OUTLINE_FILES, type OutlineFileKind, writeOutlineFile } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const profile = [
  loopThrough([
    [0, 0],
    [50, 0],
    [50, 8],
    [40, 8],
    [40, 5],
    [0, 5],
  ]),
];
const outline: OutlineRecord = {
  ...newOutline({ id: 'o', name: 'Cutter', purpose: 'cutter', way: { kind: 'drawn' }, now: '2026-01-01' }),
  profile,
  cutting: { from: 0, to: 10 },
};
const write = async (kind: OutlineFileKind, of: OutlineRecord = outline): Promise<Uint8Array> => {
  const r = await writeOutlineFile(() => Promise.resolve(kernel), of, kind);
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value;
};

describe('an outline as a file', () => {
  it('STEP has its two bodies with true faces', async () => {
    const read = await readModelFile(kernel, await write('step'), 'x.step', { exactProperties: true });
    if (!read.ok) throw new Error('it is read');
    expect(read.value.model.bodies.map((b) => b.name)).toEqual(['Cutter, Shank', 'Cutter, Cutting part']);
    expect(read.value.model.bodies.reduce((v, b) => v + b.volume, 0)).toBeCloseTo(profileVolume(profile), 6);
  });
  it('STL is closed and encloses the solid within a hundredth', async () => {
    const stl = readStl(await write('stl'), 'x.stl');
    if (!stl.ok) throw new Error('it is read');
    const mesh = weld(stl.value);
    expect(isClosedMesh(validateMesh(mesh))).toBe(true);
    const ratio = meshVolume(mesh) / profileVolume(profile);
    expect(ratio).toBeGreaterThan(1);
    // A hundredth on a radius of 5.
    expect(ratio).toBeLessThan(1 + (2 * 0.011) / 5);
  });
  it('GLB passes its validator, 3MF is a zip, SVG has its true size', async () => {
    const glb = await validator.validateBytes(await write('glb'));
    expect(glb.issues.numErrors).toBe(0);
    expect([...(await write('3mf')).subarray(0, 2)]).toEqual([0x50, 0x4b]);
    // 50 by 8, and a margin of 2 all round.
    expect(new TextDecoder().decode(await write('svg'))).toMatch(/width="54mm" height="12mm"/);
  });
  it('DXF has the outline as one closed polyline; JSON is the record', async () => {
    const dxf = parseString(new TextDecoder().decode(await write('dxf')));
    expect(dxf.entities.map((e) => [e.type, e.closed])).toEqual([['LWPOLYLINE', true]]);
    const json = readRecordFile(await write('json'), 'x.json');
    expect(json).toEqual({ ok: true, value: outline });
  });
  it('of nothing drawn only the record is written; the rest says why', async () => {
    const empty = { ...outline, profile: [], fault: 'The outline is open.' };
    for (const kind of OUTLINE_FILES) {
      const r = await writeOutlineFile(() => Promise.resolve(kernel), empty, kind);
      expect([kind, r.ok]).toEqual([kind, kind === 'json']);
      if (!r.ok) expect(r.issues[0].values.text).toBe('The outline is open.');
    }
  });
});

describe('loose lines and arcs as DXF', () => {
  it('are LINE and ARC on their layers, arcs counter-clockwise by their angles, centre lines by their line type', () => {
    const text = writeDrawingDxf([
      {
        name: 'SECTION',
        pieces: [
          { kind: 'line', from: [1, 2], to: [3.25, 4] },
          { kind: 'arc', from: [10, 0], to: [0, 10], centre: [0, 0], ccw: true },
          { kind: 'arc', from: [10, 0], to: [0, 10], centre: [0, 0], ccw: false },
        ],
      },
      { name: 'AXIS', isCentreLine: true, pieces: [{ kind: 'line', from: [-5, 0], to: [5, 0] }] },
    ]);
    const { entities, tables } = parseString(text);
    expect(entities.map((e) => [e.type, e.layer])).toEqual([
      ['LINE', 'SECTION'],
      ['ARC', 'SECTION'],
      ['ARC', 'SECTION'],
      ['LINE', 'AXIS'],
    ]);
    const [, first, second] = entities;
    // The package gives radians.
    expect([first.r, first.startAngle, first.endAngle]).toEqual([10, expect.closeTo(0, 9), expect.closeTo(Math.PI / 2, 9)]);
    expect([second.startAngle, second.endAngle]).toEqual([expect.closeTo(Math.PI / 2, 9), expect.closeTo(0, 9)]);
    expect(tables.layers?.AXIS.lineTypeName).toBe('CENTER');
  });
});
