import { describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import {
  type FlatShape,
  faultsOfShape,
  isShapeFile,
  loopThrough,
  readSolidShape,
  type RevolvedShape,
  shapeBodies,
  shapeFileName,
  writeSolidShape,
} from './index.ts';

const RING = loopThrough([
  [0, 4],
  [10, 4],
  [10, 9],
  [0, 9],
]);
const turned: RevolvedShape = {
  format: 'ruota-shape',
  version: 1,
  form: 'revolved',
  bodies: [
    { name: 'Ring', role: 'tool body', profile: [RING] },
    {
      name: 'Edge',
      role: 'cutting',
      profile: [RING, RING.map((p) => ({ ...p, from: [p.from[0] + 20, p.from[1]], to: [p.to[0] + 20, p.to[1]] }))],
    },
  ],
};
const plate: FlatShape = {
  format: 'ruota-shape',
  version: 1,
  form: 'flat',
  name: 'Plate',
  loop: loopThrough([
    [0, 0],
    [10, 0],
    [10, 6],
    [0, 6],
  ]),
  thickness: 3,
  reliefDeg: 7,
  hole: { at: [5, 3], diameter: 2 },
};
const refusal = (value: unknown) => {
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  const r = readSolidShape(new TextEncoder().encode(text), 'x.shape.json');
  return r.ok ? '' : r.issues.map(say).join(' ');
};

describe('the file of a shape', () => {
  it('is read as it was written, and equal shapes are equal bytes whatever the order of their fields', () => {
    for (const shape of [turned, plate]) expect(readSolidShape(writeSolidShape(shape), 'x.shape.json')).toEqual({ ok: true, value: shape });
    const shuffled = Object.fromEntries(Object.entries(plate).reverse()) as unknown as FlatShape;
    expect(writeSolidShape(shuffled)).toEqual(writeSolidShape(plate));
  });
  it('is told by its name', () => {
    expect(isShapeFile(shapeFileName('Cutter 12'))).toBe(true);
    expect(['x.json', 'x.step', 'shape.json.stl'].some(isShapeFile)).toBe(false);
  });
  it('names its bodies in the order in which they are numbered, those of several loops apart', () => {
    expect(shapeBodies(turned)).toEqual([
      { name: 'Ring', role: 'tool body' },
      { name: 'Edge 1', role: 'cutting' },
      { name: 'Edge 2', role: 'cutting' },
    ]);
    expect(shapeBodies(plate)).toEqual([{ name: 'Plate', role: 'cutting' }]);
  });
  it('is refused with the place of what is wrong: text, fields, numbers', () => {
    expect(refusal('{"format":')).toMatch(/x\.shape\.json/);
    expect(refusal({ ...plate, thickness: 0 })).toMatch(/thickness/);
    expect(refusal({ ...plate, reliefDeg: 60 })).toMatch(/reliefDeg/);
    expect(refusal({ ...turned, bodies: [] })).toMatch(/bodies/);
    expect(refusal({ ...plate, form: 'round' })).toMatch(/form/);
    expect(refusal({ ...plate, version: 2 })).toMatch(/version/);
    expect(refusal(JSON.stringify(plate).replace('"thickness":3', '"thickness":1e999'))).toMatch(/thickness/);
  });
  it('is refused where no solid can be made of it: gaps, crossings, the wrong side, holes beyond the edge', () => {
    const open = RING.map((p, i) => (i === 1 ? { ...p, to: [10, 8] as const } : p));
    expect(faultsOfShape({ ...turned, bodies: [{ ...turned.bodies[0], profile: [open] }] })[0]).toMatch(/Ring: a gap at z 10\.000, r 8\.000/);
    const below = RING.map((p) => ({ ...p, from: [p.from[0], p.from[1] - 6] as const, to: [p.to[0], p.to[1] - 6] as const }));
    expect(faultsOfShape({ ...turned, bodies: [{ ...turned.bodies[0], profile: [below] }] })[0]).toMatch(/wrong side of the axis/);
    const bow = loopThrough([
      [0, 0],
      [10, 6],
      [10, 0],
      [0, 9],
    ]);
    expect(faultsOfShape({ ...plate, loop: bow })[0]).toMatch(/crosses itself|wrong side/);
    expect(faultsOfShape({ ...plate, hole: { at: [9.5, 3], diameter: 2 } })).toEqual(['the hole reaches beyond the outline']);
    expect(faultsOfShape({ ...plate, hole: { at: [15, 3], diameter: 2 } })).toEqual(['the hole reaches beyond the outline']);
    expect(faultsOfShape(plate)).toEqual([]);
  });
});
