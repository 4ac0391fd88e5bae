import { describe, expect, it } from '@jest/globals';
import { loopThrough, type PathPiece, writeDxf, writeSvg } from './index.ts';

const nose: PathPiece[] = [
  { kind: 'line', from: [0, 0], to: [10, 0] },
  { kind: 'arc', from: [10, 0], to: [12, 2], centre: [10, 2], ccw: true },
  { kind: 'line', from: [12, 2], to: [0, 6] },
  { kind: 'line', from: [0, 6], to: [0, 0] },
];
const layers = [
  { name: 'cutting', colour: '#b4173f', loops: [nose] },
  {
    name: 'holder',
    colour: '#1c766c',
    loops: [
      loopThrough([
        [-20, 0],
        [0, 0],
        [0, 8],
        [-20, 8],
      ]),
    ],
  },
];

// Group codes and values of a DXF file, two lines each.
const groupsOf = (dxf: string) => {
  const lines = dxf.split(/\r?\n/);
  return Array.from({ length: Math.floor(lines.length / 2) }, (_, i) => [Number(lines[2 * i]), lines[2 * i + 1].trim()] as const);
};

describe('drawings', () => {
  it('DXF: closed polylines in mm on their layers, a quarter circle as the bulge tan(22.5 deg)', () => {
    const groups = groupsOf(writeDxf(layers));
    const at = groups.findIndex(([c, v]) => c === 9 && v === '$INSUNITS');
    expect(groups[at + 1]).toEqual([70, '4']);
    const starts = groups.flatMap(([c, v], i) => (c === 0 && v === 'LWPOLYLINE' ? [i] : []));
    expect(starts).toHaveLength(2);
    const entity = (k: number) => groups.slice(starts[k], starts[k] + 40).filter((_, i, all) => i === 0 || all.slice(1, i + 1).every(([c]) => c !== 0));
    const first = entity(0);
    expect(first.find(([c]) => c === 8)?.[1]).toBe('cutting');
    expect(first.filter(([c]) => c === 70).map(([, v]) => v)).toEqual(['1']);
    expect(first.filter(([c]) => c === 10).map(([, v]) => Number(v))).toEqual([0, 10, 12, 0]);
    expect(first.filter(([c]) => c === 20).map(([, v]) => Number(v))).toEqual([0, 0, 2, 6]);
    expect(first.filter(([c, v]) => c === 42 && Number(v) !== 0).map(([, v]) => Number(v))).toEqual([expect.closeTo(Math.tan(Math.PI / 8), 9)]);
    expect(entity(1).find(([c]) => c === 8)?.[1]).toBe('holder');
  });
  it('SVG: true size in mm, y turned round, arcs as arcs, names as text', () => {
    const svg = writeSvg(layers, 'Tool <A & B>');
    expect(svg).toContain('width="36mm" height="12mm"');
    expect(svg).toContain('<title>Tool &lt;A &amp; B></title>');
    expect(svg).toContain('A2 2 0 0 0 34 8');
    expect(svg.match(/<g id=/g)).toHaveLength(2);
  });
});
