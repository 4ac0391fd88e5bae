// Writes ASCII DXF by hand, as drawing offices' programs leave it: layers, line types, blocks, polylines, splines. Shares no code with what reads drawings.
import type { Place } from './drawn-shapes.ts';

type Pair = readonly [number, string | number];
const text = (pairs: readonly Pair[]): string => pairs.map(([code, value]) => `${String(code).padStart(3)}\n${value}\n`).join('');

export interface On {
  readonly layer: string;
  readonly lineType?: string;
}

const head = (type: string, { layer, lineType }: On): Pair[] => [[0, type], [8, layer], ...(lineType ? ([[6, lineType]] as Pair[]) : [])];
const at = (code: number, [x, y]: Place): Pair[] => [
  [code, x],
  [code + 10, y],
  [code + 20, 0],
];
const deg = (rad: number) => (rad * 180) / Math.PI;

export const line = (a: Place, b: Place, on: On) => text([...head('LINE', on), ...at(10, a), ...at(11, b)]);

export const arc = (centre: Place, radius: number, start: number, end: number, on: On, isBehind = false) =>
  text([...head('ARC', on), ...at(10, centre), [40, radius], [50, deg(start)], [51, deg(end)], ...(isBehind ? ([[230, -1]] as Pair[]) : [])]);

export const circle = (centre: Place, radius: number, on: On) => text([...head('CIRCLE', on), ...at(10, centre), [40, radius]]);

export const lwPolyline = (points: readonly (readonly [number, number, number])[], closed: boolean, on: On) =>
  text([
    ...head('LWPOLYLINE', on),
    [90, points.length],
    [70, closed ? 1 : 0],
    ...points.flatMap(([x, y, bulge]): Pair[] => [
      [10, x],
      [20, y],
      [42, bulge],
    ]),
  ]);

export const polyline = (points: readonly (readonly [number, number, number])[], closed: boolean, on: On) =>
  text([...head('POLYLINE', on), [66, 1], [70, closed ? 1 : 0]]) +
  points.map(([x, y, bulge]) => text([...head('VERTEX', on), ...at(10, [x, y]), [42, bulge]])).join('') +
  text([
    [0, 'SEQEND'],
    [8, on.layer],
  ]);

/** A rational quadratic spline with clamped ends. */
export const spline = (points: readonly Place[], weights: readonly number[], on: On) =>
  text([
    ...head('SPLINE', on),
    [70, 12],
    [71, 2],
    [72, points.length + 3],
    [73, points.length],
    [74, 0],
    ...[0, 0, 0, 1, 1, 1].map((k): Pair => [40, k]),
    ...weights.map((w): Pair => [41, w]),
    ...points.flatMap((p) => at(10, p)),
  ]);

export const ellipse = (centre: Place, major: Place, ratio: number, start: number, end: number, on: On) =>
  text([...head('ELLIPSE', on), ...at(10, centre), ...at(11, major), [40, ratio], [41, start], [42, end]]);

export const note = (p: Place, height: number, words: string, on: On) => text([...head('TEXT', on), ...at(10, p), [40, height], [1, words]]);

export const hatch = (p: Place, on: On) => text([...head('HATCH', on), ...at(10, p), [2, 'ANSI31'], [70, 0], [71, 0], [91, 0], [75, 0], [76, 1]]);

export const dimension = (a: Place, b: Place, on: On) => text([...head('DIMENSION', on), [2, '*D1'], ...at(10, b), ...at(11, a), [70, 0], [1, '<>']]);

export interface Placing {
  readonly at: Place;
  readonly scale: readonly [number, number];
  readonly deg: number;
}
export const insert = (block: string, p: Placing, on: On) =>
  text([...head('INSERT', on), [2, block], ...at(10, p.at), [41, p.scale[0]], [42, p.scale[1]], [43, 1], [50, p.deg]]);

export interface Sheet {
  readonly units?: number;
  readonly layers: readonly { readonly name: string; readonly lineType?: string; readonly isOff?: boolean; readonly isFrozen?: boolean }[];
  readonly blocks: readonly { readonly name: string; readonly base: Place; readonly entities: string }[];
  readonly entities: string;
}

export function dxfFile({ units, layers, blocks, entities }: Sheet): string {
  const section = (name: string, inner: string) =>
    text([
      [0, 'SECTION'],
      [2, name],
    ]) +
    inner +
    text([[0, 'ENDSEC']]);
  const header = text([
    [9, '$ACADVER'],
    [1, units === undefined ? 'AC1009' : 'AC1027'],
    ...(units === undefined
      ? []
      : ([
          [9, '$INSUNITS'],
          [70, units],
        ] as Pair[])),
  ]);
  const lineTypes = [
    ['CONTINUOUS', []],
    ['CENTER', [31.75, -6.35, 6.35, -6.35]],
    ['HIDDEN', [6.35, -3.175]],
  ] as const;
  const tables =
    text([
      [0, 'TABLE'],
      [2, 'LTYPE'],
      [70, lineTypes.length],
    ]) +
    lineTypes
      .map(([name, pattern]) =>
        text([
          [0, 'LTYPE'],
          [2, name],
          [70, 0],
          [3, name],
          [72, 65],
          [73, pattern.length],
          [40, pattern.reduce((s, v) => s + Math.abs(v), 0)],
          ...pattern.map((v): Pair => [49, v]),
        ]),
      )
      .join('') +
    text([
      [0, 'ENDTAB'],
      [0, 'TABLE'],
      [2, 'LAYER'],
      [70, layers.length],
    ]) +
    layers
      .map((l) =>
        text([
          [0, 'LAYER'],
          [2, l.name],
          [70, l.isFrozen ? 1 : 0],
          [62, l.isOff ? -7 : 7],
          [6, l.lineType ?? 'CONTINUOUS'],
        ]),
      )
      .join('') +
    text([[0, 'ENDTAB']]);
  const inBlocks = blocks.map((b) => text([[0, 'BLOCK'], [8, '0'], [2, b.name], [70, 0], ...at(10, b.base)]) + b.entities + text([[0, 'ENDBLK']])).join('');
  return section('HEADER', header) + section('TABLES', tables) + section('BLOCKS', inBlocks) + section('ENTITIES', entities) + text([[0, 'EOF']]);
}
