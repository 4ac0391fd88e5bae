import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type FlatPoint, loopThrough, type PathPiece, profileVolume } from '#core/outline';
import type { Drawing, Drawn } from './drawing.ts';
import { closedLoop, readDrawing, type ReadDrawingOptions, readDxf, type ReadOutline } from './index.ts';

const files = join(import.meta.dirname, '../../../demo/drawings/files');

// A shaft of 20 with a step to 12 and a point of 90 degrees: 6 long, 10, 30.
const HALF: readonly FlatPoint[] = [
  [0, 0],
  [6, 6],
  [16, 6],
  [16, 10],
  [46, 10],
  [46, 0],
];
const VOLUME = Math.PI * ((6 * 36) / 3 + 36 * 10 + 100 * 30);
const FULL: readonly FlatPoint[] = [
  ...HALF,
  ...HALF.slice(1, -1)
    .reverse()
    .map(([x, y]): FlatPoint => [x, -y]),
];

const drawn = (pieces: readonly PathPiece[], extra: Partial<Drawn> = {}): Drawn[] =>
  pieces.map((piece, entity) => ({ piece, layer: 0, entity, isCurve: false, isCentreLine: false, ...extra }));
const drawing = (all: readonly Drawn[], extra: Partial<Drawing> = {}): Drawing => ({
  format: 'dxf',
  unit: 'mm',
  unitScale: 1,
  origin: [0, 0],
  isUpsideDown: false,
  layers: [{ name: '0', entities: all.length, isHidden: false, notes: 0 }],
  drawn: all,
  leftOut: {},
  warnings: [],
  ...extra,
});
const open = (points: readonly FlatPoint[]): PathPiece[] => points.slice(1).map((to, i) => ({ kind: 'line', from: points[i], to }));
function read(d: Drawing, options?: ReadDrawingOptions): ReadOutline {
  const r = readDrawing(d, 'x.dxf', options);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
}
const refusal = (d: Drawing, options?: ReadDrawingOptions) => {
  const r = readDrawing(d, 'x.dxf', options);
  return r.ok ? undefined : r.issues[0].code;
};
const cornersOf = (o: ReadOutline) => o.profile[0].map((p) => p.to.map((v) => Math.round(v * 1e6) / 1e6 + 0));
const TRUE_CORNERS = HALF.slice(1).map((p) => [...p]);
const turned = (points: readonly FlatPoint[], deg: number, by: FlatPoint, mirror = 1): FlatPoint[] => {
  const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  return points.map(([x, y]) => [by[0] + c * x - s * mirror * y, by[1] + s * x + c * mirror * y]);
};

describe('a drawing read by itself', () => {
  it('gives the half section with its numbers, whether it is drawn whole, half, or half and open', () => {
    for (const pieces of [loopThrough(FULL), loopThrough(HALF), open(HALF)]) {
      const o = read(drawing(drawn(pieces)));
      expect(o.form).toBe('revolved');
      expect(cornersOf(o)).toEqual(TRUE_CORNERS);
      expect(o).toMatchObject({ largestDiameter: 20, length: 46, shank: { diameter: 20, length: 30 }, cutting: { from: 0, to: 16 } });
      expect(o.volume).toBeCloseTo(VOLUME, 6);
      expect(profileVolume(o.profile.map(closedLoop))).toBeCloseTo(VOLUME, 6);
    }
  });
  it('gives the same turned, mirrored and moved, and says where its tip is in the drawing', () => {
    for (const [deg, by, mirror] of [
      [0, [0, 0], 1],
      [90, [100, -50], 1],
      [-137.3, [12.5, 800], -1],
      [180, [-1, -1], 1],
    ] as const) {
      const o = read(drawing(drawn(loopThrough(turned(FULL, deg, by, mirror)))));
      expect(cornersOf(o)).toEqual(TRUE_CORNERS);
      expect(Math.hypot((o.tip?.[0] ?? NaN) - by[0], (o.tip?.[1] ?? NaN) - by[1])).toBeLessThan(1e-6);
    }
  });
  it('drops doubles and inner lines, bridges gaps, leaves out frames and hidden layers, and says each', () => {
    const frame = loopThrough([
      [-60, -60],
      [120, -60],
      [120, 60],
      [-60, 60],
    ]);
    const inner = [
      open([HALF[2], [16, -6]]),
      open([HALF[4], [46, -10]]),
      open([
        [8, -2],
        [12, 3],
      ]),
    ].flat();
    const lines = loopThrough(FULL).map((p, i): PathPiece => (i === 3 ? { ...p, to: [p.to[0] - 0.08, p.to[1]] } : p));
    const all = [
      ...drawn(lines),
      ...drawn(inner),
      ...drawn(open([HALF[3], [30, 10]])),
      ...drawn(frame),
      ...drawn(
        open([
          [0, 0],
          [300, 300],
        ]),
        { layer: 1 },
      ),
    ];
    const o = read(
      drawing(all, {
        layers: [
          { name: '0', entities: 20, isHidden: false, notes: 0 },
          { name: 'OLD', entities: 1, isHidden: true, notes: 0 },
        ],
      }),
    );
    expect(cornersOf(o)).toEqual(TRUE_CORNERS);
    expect(o.steps.map((s) => s.code)).toEqual(expect.arrayContaining(['hidden layers', 'doubles', 'bridged', 'frames', 'inner', 'axis', 'half', 'tip']));
    expect(o.steps.find((s) => s.code === 'bridged')?.message).toMatch(/1 gap up to 0\.080 mm/);
    expect(o.layers.map((l) => l.used)).toEqual([true, false]);
  });
  it('lines that go on beyond their corners are cut there', () => {
    const long = loopThrough(FULL).map((p): PathPiece => {
      const l = Math.hypot(p.to[0] - p.from[0], p.to[1] - p.from[1]);
      const by = (k: 0 | 1) => (0.7 * (p.to[k] - p.from[k])) / l;
      return { kind: 'line', from: [p.from[0] - by(0), p.from[1] - by(1)], to: [p.to[0] + by(0), p.to[1] + by(1)] };
    });
    expect(cornersOf(read(drawing(drawn(long))))).toEqual(TRUE_CORNERS);
  });
  it('the widest place of an arc counts, wherever on it that is', () => {
    // A bulge from r 4 over its crest to r 7: radius 5 about (8, 4).
    const end: FlatPoint = [12, 7];
    const pieces: PathPiece[] = [
      ...open([
        [0, 0],
        [3, 4],
      ]),
      { kind: 'arc', from: [3, 4], to: end, centre: [8, 4], ccw: false },
      ...open([end, [40, 7], [40, 0], [0, 0]]),
    ];
    const o = read(
      drawing([
        ...drawn(pieces),
        ...drawn(
          open([
            [-4, 0],
            [44, 0],
          ]),
          { isCentreLine: true },
        ),
      ]),
    );
    expect(o.largestDiameter).toBeCloseTo(18, 9);
    expect(o.length).toBeCloseTo(40, 9);
    // The half section's area by its parts: trapezoids, and the segment over the chord of 5, 143.13 degrees.
    const sweep = Math.PI - Math.atan2(3, 4);
    const segment = (25 * (sweep - Math.sin(sweep))) / 2;
    expect(o.area).toBeCloseTo(6 + ((4 + 7) / 2) * 9 + segment + 28 * 7, 9);
  });
  it('is turned end for end, and bridges wider gaps, where that is asked for', () => {
    const there = read(drawing(drawn(loopThrough(FULL))));
    const back = read(drawing(drawn(loopThrough(FULL))), { flip: true });
    expect(back.volume).toBeCloseTo(VOLUME, 6);
    expect(back.profile[0][0].to).toEqual([0, 10]);
    expect(back.tip).toEqual([46, expect.closeTo(0, 9)]);
    expect(there.tip).toEqual([expect.closeTo(0, 9), expect.closeTo(0, 9)]);
    const gap = loopThrough(HALF).map((p, i): PathPiece => (i === 3 ? { ...p, to: [p.to[0] - 1.5, p.to[1]] } : p));
    expect(refusal(drawing(drawn(gap)), { form: 'revolved' })).toBe('outline.open');
    expect(refusal(drawing(drawn(gap)))).toBe('outline.open');
    expect(cornersOf(read(drawing(drawn(gap)), { bridge: 2 }))).toEqual(TRUE_CORNERS);
  });
  it('a section beside its centre line keeps its bore', () => {
    const tube = loopThrough([
      [0, 4],
      [50, 4],
      [50, 10],
      [0, 10],
    ]);
    const o = read(
      drawing([
        ...drawn(tube),
        ...drawn(
          open([
            [-5, 0],
            [55, 0],
          ]),
          { isCentreLine: true },
        ),
      ]),
    );
    expect(o.volume).toBeCloseTo(Math.PI * (100 - 16) * 50, 6);
  });
  it('knows inches by the shank where the file says nothing, and says where a file says what cannot be', () => {
    const inches = FULL.map(([x, y]): FlatPoint => [(x * 1.27) / 25.4, (y * 1.27) / 25.4]);
    const o = read(drawing(drawn(loopThrough(inches)), { unit: 'unknown' }));
    expect(o).toMatchObject({ unit: 'inch', unitScale: 25.4 });
    expect(o.shank?.diameter).toBeCloseTo(25.4, 9);
    expect(read(drawing(drawn(loopThrough(inches)))).warnings.map((w) => w.code)).toEqual(['outline.unsure-unit']);
    expect(read(drawing(drawn(loopThrough(inches))), { isUnitKnown: true }).unitScale).toBe(1);
  });
  it('fits arcs that came as chords, within the tolerance', () => {
    const n = 200;
    const chords = Array.from({ length: n + 1 }, (_, i): FlatPoint => [6 - 6 * Math.cos((i * Math.PI) / 2 / n), 6 * Math.sin((i * Math.PI) / 2 / n)]);
    const rest = open([...HALF.slice(1)]);
    const all = [...drawn(open(chords), { isCurve: true }).map((d) => ({ ...d, entity: 99 })), ...drawn(rest)];
    const o = read(drawing(all));
    expect(o.profile[0]).toHaveLength(5);
    expect(o.profile[0][0]).toMatchObject({ kind: 'arc' });
    expect(o.volume).toBeCloseTo(Math.PI * ((2 / 3) * 216 + 360 + 3000), 0);
  });
  it('a closed shape that nothing turns is flat, and counter-clockwise', () => {
    const l: readonly FlatPoint[] = [
      [0, 0],
      [12, 0],
      [12, 3],
      [4, 5],
      [3, 9],
      [0, 9],
    ];
    for (const points of [l, [...l].reverse()]) {
      const o = read(drawing(drawn(loopThrough(points))));
      expect(o.form).toBe('flat');
      // By the shoelace formula.
      expect(o.area).toBeCloseTo(66, 9);
    }
  });
});

describe('a drawing that gives no outline', () => {
  it('says what is missing, and where', () => {
    const broken = open(FULL);
    expect(refusal(drawing(drawn(broken.slice(0, 3))), { form: 'flat' })).toBe('outline.open');
    expect(
      refusal(
        drawing(
          drawn(
            open([
              [0, 0],
              [5, 5],
            ]),
          ),
        ),
      ),
    ).toBe('outline.none');
    const star: readonly FlatPoint[] = [
      [0, 0],
      [4, 1],
      [9, 0.5],
      [7, 4],
      [8, 9],
      [4, 7],
      [0, 8],
      [1, 4],
    ];
    expect(refusal(drawing(drawn(loopThrough(star))), { form: 'revolved' })).toBe('outline.no-axis');
    expect(refusal(drawing(drawn(loopThrough(FULL))), { layers: ['nowhere'] })).toBe('drawing.unknown-layer');
    expect(refusal(drawing(drawn(loopThrough(FULL), { isCentreLine: true })))).toBe('drawing.nothing-on-layers');
  });
  it('warns where notes stand among the lines', () => {
    const d = drawing(drawn(loopThrough(FULL)), { layers: [{ name: 'all', entities: 10, isHidden: false, notes: 3 }] });
    expect(read(d).warnings.map((w) => w.code)).toEqual(['outline.notes-among']);
  });
});

describe('drawings of the corpus', () => {
  interface Truth {
    readonly file: string;
    readonly form: string;
    readonly kind: string;
    readonly sides: { readonly to: FlatPoint }[];
    readonly unitScale: number;
    readonly unit: string;
    readonly heldBack: boolean;
  }
  const truths = JSON.parse(readFileSync(join(files, '../truth.json'), 'utf8')) as Truth[];
  it('are read with the right diameter, length and unit, all but a few', () => {
    const asked = truths.filter((t) => t.file.endsWith('.dxf') && t.form === 'revolved');
    const wrong = asked.filter((t) => {
      const d = readDxf(new Uint8Array(readFileSync(join(files, t.file))), t.file);
      const o = d.ok ? readDrawing(d.value, t.file) : d;
      if (!o.ok) return true;
      const wide = 2 * Math.max(...t.sides.map((s) => s.to[1]));
      const long = Math.max(...t.sides.map((s) => s.to[0]));
      return Math.abs(o.value.largestDiameter - wide) > 0.01 || Math.abs(o.value.length - long) > 0.01 || Math.abs(o.value.unitScale - t.unitScale) > 1e-9;
    });
    expect(asked.length).toBeGreaterThan(60);
    expect(wrong.length / asked.length).toBeLessThan(0.05);
  });
});
