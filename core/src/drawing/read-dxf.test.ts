import { describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { flatDistance, lengthOfPiece, sweepOfArc } from '#core/outline';
import { type Drawing, readDxf } from './index.ts';

const bytesOf = (pairs: readonly (readonly [number, string | number])[]) => new TextEncoder().encode(pairs.map(([c, v]) => `${c}\n${v}\n`).join(''));
type Pairs = readonly (readonly [number, string | number])[];
const file = (entities: Pairs, { blocks = [], header = [], tables = [] }: { blocks?: Pairs; header?: Pairs; tables?: Pairs } = {}) =>
  bytesOf([
    [0, 'SECTION'],
    [2, 'HEADER'],
    ...header,
    [0, 'ENDSEC'],
    [0, 'SECTION'],
    [2, 'TABLES'],
    ...tables,
    [0, 'ENDSEC'],
    [0, 'SECTION'],
    [2, 'BLOCKS'],
    ...blocks,
    [0, 'ENDSEC'],
    [0, 'SECTION'],
    [2, 'ENTITIES'],
    ...entities,
    [0, 'ENDSEC'],
    [0, 'EOF'],
  ]);
const line = (x0: number, y0: number, x1: number, y1: number, layer = '0'): Pairs => [
  [0, 'LINE'],
  [8, layer],
  [10, x0],
  [20, y0],
  [11, x1],
  [21, y1],
];
function read(bytes: Uint8Array): Drawing {
  const r = readDxf(bytes, 'x.dxf');
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
}
const lengthOf = (d: Drawing) => d.drawn.reduce((s, { piece }) => s + lengthOfPiece(piece), 0);
const refusal = (bytes: Uint8Array) => {
  const r = readDxf(bytes, 'x.dxf');
  return r.ok ? undefined : { code: r.issues[0].code, text: say(r.issues[0]) };
};

describe('the entities of a DXF file', () => {
  it('lines and whole circles, in the unit that it says', () => {
    const d = read(
      file([...line(0, 0, 3, 4), [0, 'CIRCLE'], [8, 'A'], [10, 1], [20, 1], [40, 2]], {
        header: [
          [9, '$INSUNITS'],
          [70, 1],
        ],
      }),
    );
    expect(d).toMatchObject({ unit: 'inch', unitScale: 25.4 });
    expect(d.layers.map((l) => [l.name, l.entities])).toEqual([
      ['0', 1],
      ['A', 1],
    ]);
    expect(lengthOf(d)).toBeCloseTo(25.4 * (5 + 4 * Math.PI), 9);
  });
  it('arcs run counter-clockwise from their start, over 0 too, and mirrored where they are seen from behind', () => {
    const arc = (extra: Pairs): Pairs => [[0, 'ARC'], [8, '0'], [10, 10], [20, 0], [40, 5], [50, 270], [51, 90], ...extra];
    const [{ piece }] = read(file(arc([]))).drawn;
    expect(piece).toMatchObject({ kind: 'arc', ccw: true, centre: [10, 0] });
    expect(piece.from[1]).toBeCloseTo(-5, 9);
    expect(lengthOfPiece(piece)).toBeCloseTo(5 * Math.PI, 9);
    const [behind] = read(file(arc([[230, -1]]))).drawn;
    // x runs the other way: centre at -10, and its half circle opens to the other side.
    expect(behind.piece).toMatchObject({ centre: [-10, 0], ccw: false });
    expect(behind.piece.from[0]).toBeCloseTo(-10, 9);
  });
  it('bulges are tangents of a quarter of the sweep', () => {
    const poly: Pairs = [
      [0, 'LWPOLYLINE'],
      [8, '0'],
      [90, 2],
      [70, 1],
      [10, 0],
      [20, 0],
      [42, 1],
      [10, 10],
      [20, 0],
      [42, -Math.tan(Math.PI / 8)],
    ];
    const [half, quarter] = read(file(poly)).drawn.map((d) => d.piece);
    if (half.kind !== 'arc' || quarter.kind !== 'arc') throw new Error('two arcs');
    expect(sweepOfArc(half)).toBeCloseTo(Math.PI, 9);
    expect(sweepOfArc(quarter)).toBeCloseTo(-Math.PI / 2, 9);
    expect(flatDistance(half.centre, [5, 0])).toBeLessThan(1e-9);
  });
  it('a rational spline of a quarter circle has its length; an ellipse that of its series', () => {
    const w = Math.SQRT1_2;
    const spline: Pairs = [
      [0, 'SPLINE'],
      [8, '0'],
      [70, 12],
      [71, 2],
      [72, 6],
      [73, 3],
      ...[0, 0, 0, 1, 1, 1].map((k) => [40, k] as const),
      ...[1, w, 1].map((k) => [41, k] as const),
      [10, 5],
      [20, 0],
      [10, 5],
      [20, 5],
      [10, 0],
      [20, 5],
    ];
    const d = read(file(spline));
    expect(d.drawn.every((x) => x.isCurve)).toBe(true);
    expect(lengthOf(d)).toBeCloseTo(2.5 * Math.PI, 2);
    for (const { piece } of d.drawn) expect(Math.hypot(...piece.to)).toBeCloseTo(5, 9);
    // Ramanujan's second formula, exact to 1e-9 here.
    const [a, b] = [8, 5];
    const h = ((a - b) / (a + b)) ** 2;
    const round = Math.PI * (a + b) * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h)));
    expect(
      lengthOf(
        read(
          file([
            [0, 'ELLIPSE'],
            [8, '0'],
            [10, 0],
            [20, 0],
            [11, 0],
            [21, 8],
            [40, 5 / 8],
            [41, 0],
            [42, 2 * Math.PI],
          ]),
        ),
      ),
    ).toBeCloseTo(round, 1);
  });
  it('blocks stand turned, scaled, mirrored, in rows, in each other, and what is on layer 0 in them is on the layer of the insert', () => {
    const blocks: Pairs = [
      [0, 'BLOCK'],
      [8, '0'],
      [2, 'B'],
      [70, 0],
      [10, 1],
      [20, 0],
      ...line(1, 0, 3, 0),
      [0, 'ENDBLK'],
      [0, 'BLOCK'],
      [8, '0'],
      [2, 'C'],
      [10, 0],
      [20, 0],
      [0, 'INSERT'],
      [8, '0'],
      [2, 'b'],
      [10, 0],
      [20, 0],
      [41, 2],
      [0, 'ENDBLK'],
    ];
    const insert: Pairs = [
      [0, 'INSERT'],
      [8, 'TOOL'],
      [2, 'C'],
      [10, 10],
      [20, 5],
      [41, 1],
      [42, -1],
      [50, 90],
      [70, 2],
      [44, 7],
    ];
    const d = read(file(insert, { blocks }));
    expect(d.drawn).toHaveLength(2);
    const [first, second] = d.drawn.map((x) => x.piece);
    expect(flatDistance(first.from, [10, 5]) + flatDistance(first.to, [10, 9])).toBeLessThan(1e-9);
    // The row runs along the turned x.
    expect(flatDistance(second.from, [10, 12])).toBeLessThan(1e-9);
    expect(d.layers[d.drawn[0].layer].name).toBe('TOOL');
  });
  it('what is no geometry is counted, and hidden layers and centre lines are told', () => {
    const tables: Pairs = [
      [0, 'TABLE'],
      [2, 'LAYER'],
      [70, 2],
      [0, 'LAYER'],
      [2, 'OFF'],
      [70, 0],
      [62, -3],
      [6, 'CONTINUOUS'],
      [0, 'LAYER'],
      [2, 'MID'],
      [70, 0],
      [62, 3],
      [6, 'CENTER'],
      [0, 'ENDTAB'],
    ];
    const d = read(
      file([...line(0, 0, 1, 0, 'OFF'), ...line(0, 0, 1, 0, 'MID'), [0, 'TEXT'], [8, 'T'], [10, 0], [20, 0], [40, 3], [1, 'hello'], [0, 'HATCH'], [8, 'T']], {
        tables,
      }),
    );
    expect(d.leftOut).toEqual({ texts: 1, hatches: 1 });
    expect(d.layers.find((l) => l.name === 'OFF')?.isHidden).toBe(true);
    expect(d.drawn.map((x) => x.isCentreLine)).toEqual([false, true]);
  });
  it('keeps its digits far from the origin', () => {
    const d = read(file([...line(1e7, 1e7, 1e7 + 0.125, 1e7), ...line(1e7 + 0.125, 1e7, 1e7, 1e7 + 1)]));
    expect(d.origin).toEqual([1e7, 1e7]);
    expect(d.drawn[0].piece.to).toEqual([0.125, 0]);
  });
});

describe('a DXF file that cannot be read', () => {
  it.each([
    ['empty', new Uint8Array(0), 'file.empty'],
    ['binary', new TextEncoder().encode('AutoCAD Binary DXF\r\n\x1a\0'), 'drawing.binary'],
    ['something else', new TextEncoder().encode('solid x\nfacet normal 0 0 1\n'), 'drawing.not-dxf'],
    [
      'without a line',
      file([
        [0, 'TEXT'],
        [8, '0'],
        [1, 'x'],
      ]),
      'drawing.nothing-drawn',
    ],
    ['cut off', file(line(0, 0, 1, 1)).slice(0, -12), 'drawing.truncated'],
    ['with no number', file(line(0, 0, Number.NaN, 1)), 'drawing.bad-number'],
    [
      'with an endless number',
      bytesOf([
        [0, 'SECTION'],
        [2, 'ENTITIES'],
        [0, 'LINE'],
        [10, '1e999'],
        [0, 'ENDSEC'],
        [0, 'EOF'],
      ]),
      'drawing.bad-number',
    ],
    [
      'damaged',
      bytesOf([
        [0, 'SECTION'],
        [2, 'ENTITIES'],
        ['x' as unknown as number, 'LINE'],
        [0, 'EOF'],
      ]),
      'drawing.syntax',
    ],
  ])('is %s: said by its code', (_, bytes, code) => {
    expect(refusal(bytes)?.code).toBe(code);
  });
  it('names the line of a bad number', () => {
    expect(refusal(file(line(0, 0, Number.NaN, 1)))?.text).toMatch(/line \d+: NaN/);
  });
  it('a missing block, one that contains itself, and a bad spline are left out and said; the rest is there', () => {
    const blocks: Pairs = [
      [0, 'BLOCK'],
      [8, '0'],
      [2, 'LOOP'],
      [10, 0],
      [20, 0],
      ...line(0, 0, 1, 0),
      [0, 'INSERT'],
      [8, '0'],
      [2, 'LOOP'],
      [10, 0],
      [20, 0],
      [0, 'ENDBLK'],
    ];
    const spline: Pairs = [
      [0, 'SPLINE'],
      [8, '0'],
      [70, 8],
      [71, 3],
      [10, 0],
      [20, 0],
      [40, 0],
    ];
    const d = read(file([[0, 'INSERT'], [8, '0'], [2, 'GONE'], [0, 'INSERT'], [8, '0'], [2, 'LOOP'], [10, 0], [20, 0], ...spline], { blocks }));
    expect(d.warnings.map((w) => w.code)).toEqual(['drawing.missing-block', 'drawing.block-in-itself', 'drawing.bad-entity']);
    expect(d.drawn).toHaveLength(1);
  });
  it('rows of blocks beyond all measure are refused, not drawn', () => {
    const blocks: Pairs = [[0, 'BLOCK'], [8, '0'], [2, 'B'], [10, 0], [20, 0], ...line(0, 0, 1, 0), [0, 'ENDBLK']];
    const insert: Pairs = [
      [0, 'INSERT'],
      [8, '0'],
      [2, 'B'],
      [10, 0],
      [20, 0],
      [70, 30000],
      [71, 30000],
      [44, 1],
      [45, 1],
    ];
    expect(refusal(file(insert, { blocks }))?.code).toBe('drawing.too-many');
  });
});
