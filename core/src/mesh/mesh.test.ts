import { describe, expect, it } from '@jest/globals';
import { strFromU8, unzipSync } from 'fflate';
import validator from 'gltf-validator';
import { rotationAbout } from '#core/math';
import {
  decodeModel,
  distanceOutside,
  outsideFinder,
  encodeModel,
  isClosedMesh,
  joinMeshes,
  meshArea,
  meshVolume,
  type Model,
  moveMesh,
  readGlb,
  readStl,
  type TriMesh,
  validateMesh,
  weld,
  writeGlb,
  writeStl,
  writeThreeMf,
} from './index.ts';

/** A box from the origin with doubled corners, as files have them. */
export function boxMesh(x: number, y: number, z: number): TriMesh {
  const quads = [
    [
      [0, 0, 0],
      [0, y, 0],
      [x, y, 0],
      [x, 0, 0],
    ],
    [
      [0, 0, z],
      [x, 0, z],
      [x, y, z],
      [0, y, z],
    ],
    [
      [0, 0, 0],
      [x, 0, 0],
      [x, 0, z],
      [0, 0, z],
    ],
    [
      [0, y, 0],
      [0, y, z],
      [x, y, z],
      [x, y, 0],
    ],
    [
      [0, 0, 0],
      [0, 0, z],
      [0, y, z],
      [0, y, 0],
    ],
    [
      [x, 0, 0],
      [x, y, 0],
      [x, y, z],
      [x, 0, z],
    ],
  ];
  return {
    positions: Float64Array.from(quads.flat(2)),
    triangles: Uint32Array.from(quads.flatMap((_, q) => [0, 1, 2, 0, 2, 3].map((k) => 4 * q + k))),
  };
}

const box = boxMesh(10, 20, 30);
const clean = { openEdges: 0, badEdges: 0, degenerate: 0, nonFinite: 0, insideOut: false };

describe('a box mesh', () => {
  it('has the volume and area of a box, also turned', () => {
    const turned = moveMesh(rotationAbout([1, 2, 3], [1, 1, 0], 0.8), box);
    for (const mesh of [box, turned]) {
      expect(meshVolume(mesh)).toBeCloseTo(6000, 8);
      expect(meshArea(mesh)).toBeCloseTo(2200, 8);
    }
  });
  it('is open as it comes and closed once welded', () => {
    expect(isClosedMesh(validateMesh(box))).toBe(false);
    const welded = weld(box);
    expect(welded.positions).toHaveLength(24);
    expect(validateMesh(welded)).toEqual(clean);
  });
});

describe('weld', () => {
  it('joins corners over the border of its cells and keeps near ones apart', () => {
    const p = (...xs: number[]) => ({ positions: Float64Array.from(xs.flatMap((x) => [x, 0, 0])), triangles: new Uint32Array(0) });
    expect(weld(p(0.99999, 1.000005), 1e-5).positions).toHaveLength(6);
    expect(weld(p(3.999999e-5, 4.000001e-5), 1e-5).positions).toHaveLength(3);
  });
});

describe('validateMesh', () => {
  const welded = weld(box);
  const without = (n: number): TriMesh => ({ ...welded, triangles: welded.triangles.slice(3 * n) });
  it('finds a missing triangle, a turned one, one too many, and what is inside out', () => {
    expect(validateMesh(without(1)).openEdges).toBe(3);
    const turned = welded.triangles.slice();
    [turned[0], turned[1]] = [turned[1], turned[0]];
    expect(validateMesh({ ...welded, triangles: turned }).badEdges).toBe(3);
    expect(validateMesh({ ...welded, triangles: Uint32Array.from([...welded.triangles, ...welded.triangles.slice(0, 3)]) }).badEdges).toBeGreaterThan(0);
    expect(validateMesh({ ...welded, triangles: welded.triangles.slice().reverse() }).insideOut).toBe(true);
  });
  it('finds numbers that are none, and triangles without area', () => {
    const positions = welded.positions.slice();
    positions[4] = Number.NaN;
    expect(validateMesh({ ...welded, positions }).nonFinite).toBe(1);
    expect(validateMesh({ ...welded, triangles: Uint32Array.from([...welded.triangles, 0, 0, 1]) }).degenerate).toBe(1);
  });
});

describe('outsideFinder', () => {
  it('agrees with distanceOutside at random points (seed 5), inside and out', () => {
    const find = outsideFinder(box);
    let seed = 5;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
    let inside = 0;
    for (let i = 0; i < 500; i++) {
      const p = [0, 1, 2].map(() => random() * 60 - 20) as unknown as [number, number, number];
      expect(find(p)).toBe(distanceOutside(box, p));
      if (find(p) === 0) inside++;
    }
    expect(inside).toBeGreaterThan(10);
  });
});

describe('distanceOutside', () => {
  it('is 0 inside and the distance outside, also where two bodies overlap', () => {
    const two = joinMeshes([box, moveMesh({ r: [1, 0, 0, 0, 1, 0, 0, 0, 1], t: [5, 5, 5] }, box)]);
    expect(distanceOutside(two, [7, 8, 9])).toBe(0);
    expect(distanceOutside(two, [1, 1, 1])).toBe(0);
    expect(distanceOutside(two, [-3, 10, 10])).toBeCloseTo(3, 9);
    expect(distanceOutside(two, [-3, -4, 10])).toBeCloseTo(5, 9);
  });
});

describe('files', () => {
  it('STL: read back as written, in single precision', () => {
    const r = readStl(writeStl(box), 'box.stl');
    expect(r.ok && meshVolume(r.value)).toBeCloseTo(6000, 2);
    expect(r.ok && isClosedMesh(validateMesh(weld(r.value)))).toBe(true);
  });
  it('STL: cut off or not one at all is refused', () => {
    expect(readStl(writeStl(box).slice(0, 200), 'x').ok).toBe(false);
    expect(readStl(new Uint8Array(10), 'x').ok).toBe(false);
  });
  it('GLB: no errors from the glTF validator, and the same geometry, name and colour back', async () => {
    const bytes = await writeGlb([{ name: 'body <1>', colour: '#b4173f', mesh: box }], { note: 'x' });
    const report = await validator.validateBytes(bytes);
    expect(report.issues.numErrors).toBe(0);
    const back = await readGlb(bytes, 'x.glb');
    expect(back).toMatchObject({ ok: true, value: [{ name: 'body <1>', colour: '#b4173f' }] });
    expect(back.ok && meshVolume(back.value[0].mesh)).toBeCloseTo(6000, 2);
    // glTF counts in metres.
    const { info } = report;
    expect(info.totalTriangleCount).toBe(12);
  });
  it('GLB: garbage is refused', async () => {
    expect((await readGlb(new Uint8Array([1, 2, 3, 4]), 'x')).ok).toBe(false);
  });
  it('3MF: a zip with the model in mm, names escaped', () => {
    const files = unzipSync(writeThreeMf([{ name: '"<&', colour: '#000000', mesh: box }]));
    const xml = strFromU8(files['3D/3dmodel.model']);
    expect(xml).toContain('unit="millimeter"');
    expect(xml.match(/<triangle /g)).toHaveLength(12);
    expect(xml).not.toContain('"<&"');
  });
});

describe('stored models', () => {
  const model: Model = {
    format: 'step',
    unit: 'mm',
    unitScale: 1,
    chordTolerance: 0.02,
    bodies: [
      {
        id: 'b1',
        name: 'é',
        volume: 1,
        area: 2,
        bbox: { min: [0, 0, 0], max: [1, 1, 1] },
        centroid: [0, 0, 0],
        closed: true,
        valid: true,
        faces: [{ surface: { kind: 'free' }, edges: [] }],
        edges: [],
        corners: Float64Array.of(1, 2, 3),
        mesh: box,
        faceStart: Uint32Array.of(0, 12),
        edgePoints: new Float64Array(0),
        edgeStart: Uint32Array.of(0),
      },
    ],
  };
  it('come back as they were, also from an odd offset', () => {
    const bytes = encodeModel(model);
    const shifted = new Uint8Array(bytes.length + 3);
    shifted.set(bytes, 3);
    for (const b of [bytes, shifted.subarray(3)]) expect(decodeModel(b)).toEqual({ ok: true, value: model });
  });
  it('are refused when cut off, of another version, or something else', () => {
    const bytes = encodeModel(model);
    const newer = bytes.slice();
    newer[4] = 99;
    for (const b of [bytes.slice(0, bytes.length - 9), newer, new Uint8Array(40), new Uint8Array(3)])
      expect(decodeModel(b)).toMatchObject({ ok: false, issues: [{ code: 'mesh.broken' }] });
  });
});
