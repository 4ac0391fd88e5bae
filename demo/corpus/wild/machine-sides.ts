// The machine's side of holders, heads and adapters: lobed, hollow and steep tapers with their flanges, written in several ways.
import { assembleWire, makeThreePointArc, type Shape3D } from 'replicad';
import type { Random } from '../random.ts';
import type { MarkedPlace } from '../corpus-model.ts';
import { ARC, box, type Flat, lathe, type Point, rod, splineRing, through } from './solids.ts';

export interface MachineSide {
  readonly connection: MarkedPlace['connection'];
  /** Below z = 0 what goes into the machine, up to `flange` what stands before it. */
  readonly shape: Shape3D;
  readonly flange: number;
  readonly diameter: number;
  readonly said: string;
}

// ISO 26623: polygon's mean diameter, length; DIN 32711 profile P3G with this eccentricity.
const LOBED: Readonly<Record<number, readonly [number, number, number]>> = {
  32: [22, 19, 0.7],
  40: [28, 24, 0.9],
  50: [35, 30, 1.1],
  63: [44, 38, 1.4],
  80: [55, 48, 1.75],
};
// ISO 12164: large end, length.
const HOLLOW: Readonly<Record<number, readonly [number, number]>> = { 32: [24, 16], 40: [30, 20], 50: [38, 25], 63: [48, 32], 80: [60, 40], 100: [75, 50] };
// ISO 7388: gauge diameter, and by kind flange and length.
const STEEP: Readonly<Record<number, number>> = { 30: 31.75, 40: 44.45, 50: 69.85 };
const FLANGES = { SK: { 30: [50, 47.8], 40: [63.55, 68.4], 50: [97.5, 101.75] }, BT: { 30: [46, 48.4], 40: [63, 65.4], 50: [100, 101.8] } } as const;

export function machineSide(r: Random, standard: 'PSC' | 'HSK-A' | 'SK' | 'BT', sizes: readonly number[]): MachineSide {
  const size = r.pick(sizes.filter((s) => (standard === 'PSC' ? LOBED : standard === 'HSK-A' ? HOLLOW : STEEP)[s] !== undefined));
  return standard === 'PSC' ? lobed(r, size) : standard === 'HSK-A' ? hollow(r, size) : steep(r, standard, size as 30 | 40 | 50);
}

function grip(d: number, from: number): Shape3D {
  return lathe([
    [d / 2 - 3.6, from + 2.2],
    [d / 2 + 2, from],
    [d / 2 + 2, from + 7.5],
    [d / 2 - 3.6, from + 5.3],
  ]);
}

function lobed(r: Random, size: number): MachineSide {
  const [d, long, e] = LOBED[size];
  const style = r.pick(['three splines', 'six splines', 'one spline', 'lofted', 'arcs'] as const);
  const start = r.pick([0, 30, 60]);
  const at =
    (z: number) =>
    (deg: number): Point => {
      const h = (d + z / 20) / 2;
      const t = deg * ARC;
      const [c, s, c3, s3] = [Math.cos(t), Math.sin(t), Math.cos(3 * t), Math.sin(3 * t)];
      return [(h - e * c3) * c - 3 * e * s3 * s, (h - e * c3) * s + 3 * e * s3 * c, z];
    };
  // Six arcs through the same places.
  const arcs = (z: number) => assembleWire([0, 60, 120, 180, 240, 300].map((a) => makeThreePointArc(at(z)(a - 30), at(z)(a), at(z)(a + 30))));
  let shank: Shape3D;
  if (style === 'arcs') shank = through([arcs(0), arcs(-long)]);
  else {
    const parts = style === 'six splines' ? 6 : style === 'one spline' ? 1 : 3;
    const wire = (z: number) => splineRing(at(z), parts, start);
    shank = style === 'lofted' ? through([wire(0), wire(-long / 2), wire(-long)], false) : through([wire(0), wire(-long)]);
  }
  const flange = r.pick([15, 20, 24]);
  let shape = shank.fuse(
    lathe(
      [
        [0, 0],
        [size / 2, 0],
        [size / 2, flange],
        [0, flange],
      ],
      [0, 0, r.chance(0.5) ? 1 : 0, 0],
    ),
  );
  if (r.chance(0.8))
    shape = shape.cut(
      lathe([
        [0, -long - 1],
        [d * 0.3, -long - 1],
        [d * 0.3, -long * 0.5],
        [d * 0.34, -long * 0.5],
        [d * 0.34, -long * 0.2],
        [0, -long * 0.2],
      ]),
    );
  if (r.chance(0.7)) shape = shape.cut(grip(size, 4));
  // The middle of a lobe: where P3G reaches furthest, at 60 degrees.
  return { connection: { standard: 'PSC', size }, shape, flange, diameter: size, said: `PSC ${size} ${style}` };
}

function hollow(r: Random, size: number): MachineSide {
  const [d, long] = HOLLOW[size];
  const lean = 1 / 19.96;
  const inner = d * 0.37;
  const flange = r.pick([20, 26, 29]);
  let shape = lathe([
    [inner, -long],
    [d / 2 - long * lean - 0.7, -long],
    [d / 2 - (long - 1) * lean, -long + 1],
    [d / 2 - 1.5 * lean, -1.5],
    [d / 2 - 0.8, -1],
    [d / 2 - 0.8, 0],
    [size / 2, 0],
    [size / 2, flange],
    [0, flange],
    [0, -5],
    [inner - 1.5, -5],
    [inner, -9],
  ]);
  const w = size * 0.15;
  shape = shape.cut(box([0, d], [-w / 2, w / 2], [-long - 1, -long + size * 0.17])).cut(box([-d, 0], [-w / 2, w / 2], [-long - 1, -long + size * 0.13]));
  if (r.chance(0.7)) shape = shape.cut(grip(size, 6));
  if (r.chance(0.5)) shape = shape.cut(rod(size * 0.2, [0, -size, flange / 2], [0, 1, 0], size * 0.6));
  return { connection: { standard: 'HSK-A', size }, shape, flange, diameter: size, said: `HSK ${size}` };
}

function steep(r: Random, standard: 'SK' | 'BT', size: 30 | 40 | 50): MachineSide {
  const g = STEEP[size] / 2;
  const [f, long] = FLANGES[standard][size];
  const gap = standard === 'SK' ? 3.2 : 2;
  const thick = standard === 'SK' ? 15.9 : 22;
  const outline: Flat[] = [
    [0, -long],
    [g - (long * 7) / 48, -long],
    [g, 0],
    [g, gap],
    [f / 2, gap],
    [f / 2, gap + thick],
    [0, gap + thick],
  ];
  let shape = lathe(outline).cut(grip(f, gap + 3));
  const w = size === 50 ? 25.7 : 16.1;
  for (const s of [1, -1]) shape = shape.cut(box(s > 0 ? [g + 1.5, f] : [-f, -g - 1.5], [-w / 2, w / 2], [gap - 1, gap + thick + 1]));
  shape = shape.cut(rod(g * 0.45, [0, 0, -long - 1], [0, 0, 1], long * 0.6));
  // A pull stud with a thread's neck.
  if (r.chance(0.5))
    shape = shape.fuse(
      lathe([
        [0, -long - 22],
        [g * 0.33, -long - 22],
        [g * 0.33, -long - 17],
        [g * 0.22, -long - 13],
        [g * 0.38, -long - 6],
        [g * 0.38, -long + 0.01],
        [0, -long + 0.01],
      ]),
    );
  return { connection: { standard, size }, shape, flange: gap + thick, diameter: f, said: `${standard} ${size}` };
}
