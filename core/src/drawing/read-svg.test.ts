import { describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { flatDistance, lengthOfPiece } from '#core/outline';
import { type Drawing, readSvg } from './index.ts';

const svg = (inner: string, head = 'width="100mm" height="100mm" viewBox="0 0 100 100"') =>
  new TextEncoder().encode(`<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${head}>${inner}</svg>`);
function read(bytes: Uint8Array): Drawing {
  const r = readSvg(bytes, 'x.svg');
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
}
const lengthOf = (d: Drawing) => d.drawn.reduce((s, { piece }) => s + lengthOfPiece(piece), 0);

describe('the shapes of an SVG file', () => {
  it('paths in all their letters, y upwards, in the unit of the page', () => {
    const d = read(svg('<path d="M0 0h10v5H0zm20 0l3 4"/>', 'width="200mm" height="200mm" viewBox="0 0 100 100"'));
    expect(d).toMatchObject({ unit: 'mm', unitScale: 2 });
    expect(lengthOf(d)).toBeCloseTo(2 * (30 + 5), 9);
    expect(Math.min(...d.drawn.map((x) => x.piece.to[1]))).toBeCloseTo(-10, 9);
  });
  it('arcs of circles stay arcs, on the side that their flags say', () => {
    const quarter = read(svg('<path d="M10 0 A10 10 0 0 1 20 10"/>')).drawn[0].piece;
    expect(quarter).toMatchObject({ kind: 'arc' });
    expect(lengthOfPiece(quarter)).toBeCloseTo(5 * Math.PI, 6);
    const large = read(svg('<path d="M10 0 A10 10 0 1 1 20 10"/>'));
    expect(lengthOf(large)).toBeCloseTo(15 * Math.PI, 6);
    // Too small a radius grows until it reaches.
    expect(lengthOf(read(svg('<path d="M0 0 A1 1 0 0 1 10 0"/>')))).toBeCloseTo(5 * Math.PI, 6);
  });
  it('circles, rectangles with round corners, polygons and ellipses', () => {
    expect(lengthOf(read(svg('<circle cx="5" cy="5" r="3"/>')))).toBeCloseTo(6 * Math.PI, 9);
    expect(lengthOf(read(svg('<rect width="10" height="6" rx="2"/>')))).toBeCloseTo(12 + 4 + 4 * Math.PI, 6);
    expect(lengthOf(read(svg('<polygon points="0,0 3,0 3,4"/>')))).toBeCloseTo(12, 9);
    const tilted = read(svg('<ellipse rx="8" ry="5" transform="rotate(30) translate(4 5)"/>'));
    expect(lengthOf(tilted)).toBeCloseTo(41.386, 1);
  });
  it('transforms in their order, and what is used is drawn where it is used', () => {
    const d = read(svg('<defs><line id="l" x2="10"/></defs><g transform="translate(5 5) rotate(90) scale(2)"><use xlink:href="#l" x="1"/></g>'));
    expect(d.drawn).toHaveLength(1);
    const { from, to } = d.drawn[0].piece;
    expect(flatDistance(from, [5, -7]) + flatDistance(to, [5, -27])).toBeLessThan(1e-9);
  });
  it('what is hidden is left out, groups are layers, dashes make a centre line', () => {
    const d = read(
      svg('<g id="tool"><path d="M0 0h9"/></g><g style="display:none"><path d="M0 0h5"/></g><line x2="9" stroke-dasharray="8 2 1 2"/><text>x</text>'),
    );
    expect(d.layers.map((l) => l.name)).toEqual(['tool', 'drawing']);
    expect(d.drawn.map((x) => x.isCentreLine)).toEqual([false, true]);
    expect(d.leftOut).toEqual({ hidden: 1, texts: 1 });
  });
});

describe('an SVG file that cannot be read, or should not', () => {
  const code = (bytes: Uint8Array) => {
    const r = readSvg(bytes, 'x.svg');
    return r.ok ? r.value.warnings.map((w) => w.code).join() : r.issues[0].code;
  };
  it.each([
    ['empty', new Uint8Array(0), 'file.empty'],
    ['no markup', new TextEncoder().encode('0\nSECTION\n'), 'drawing.not-svg'],
    ['cut off', svg('<path d="M0 0h1"/>').slice(0, -8), 'drawing.not-svg'],
    ['another kind', new TextEncoder().encode('<html><body/></html>'), 'drawing.not-svg'],
    ['with entities of its own', new TextEncoder().encode('<!DOCTYPE svg [<!ENTITY a "b">]><svg><path d="M0 0h1"/></svg>'), 'drawing.not-svg'],
    ['with scripts only', svg('<script>alert(1)</script>'), 'drawing.nothing-drawn'],
    ['using itself', svg('<g id="a"><path d="M0 0h1"/><use href="#a"/></g>'), 'drawing.block-in-itself'],
    ['using what is elsewhere', svg('<path d="M0 0h1"/><use href="http://example.com/x.svg#a"/>'), 'drawing.missing-block'],
    ['with a broken path', svg('<path d="M0 0 h1 Lx"/>'), 'drawing.bad-entity'],
  ])('%s: said by its code', (_, bytes, expected) => {
    expect(code(bytes)).toBe(expected);
  });
  it('a tree of uses that would be a billion ends in a moment', () => {
    const groups = Array.from({ length: 12 }, (_, i) => `<g id="g${i + 1}">${`<use href="#g${i}"/>`.repeat(10)}</g>`).join('');
    const from = performance.now();
    expect(code(svg(`<path id="g0" d="M0 0h1"/>${groups}`))).toBe('drawing.too-many');
    expect(performance.now() - from).toBeLessThan(60_000);
  });
});
