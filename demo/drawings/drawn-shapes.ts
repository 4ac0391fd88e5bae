// Shapes of the drawing corpus with their truth: what a tool is, before anybody draws it. Shares no code with what reads drawings.
import type { Random } from '../corpus/random.ts';

export type Place = readonly [number, number];

/** A side of a shape from the place before to `to`: straight, or an arc about a centre. */
export interface Side {
  readonly to: Place;
  readonly centre?: Place;
  readonly ccw?: boolean;
}

/** A way of sides: of what is turned from the tip on the axis to the end of the shank on the axis, in [z, r]; else around, in [x, y]. */
export interface Shape {
  readonly kind: string;
  readonly form: 'revolved' | 'flat';
  readonly start: Place;
  readonly sides: readonly Side[];
  readonly shank?: { readonly diameter: number; readonly length: number };
}

const round = (v: number, digits = 3) => Number(v.toFixed(digits));

// The end of a shank with its chamfer, from where the shank begins.
function shankSides(z: number, d: number, length: number, r: Random): Side[] {
  const chamfer = r.pick([0, 0.5, 1]);
  const end = round(z + length);
  const sides: Side[] = chamfer > 0 ? [{ to: [round(end - chamfer), d / 2] }, { to: [end, d / 2 - chamfer] }] : [{ to: [end, d / 2] }];
  return [...sides, { to: [end, 0] }];
}

const METRIC = [6, 8, 10, 12, 16, 20, 25];
const INCH = [6.35, 9.525, 12.7, 19.05, 25.4];

export function drill(r: Random, inch: boolean): Shape {
  const shank = r.pick(inch ? INCH : METRIC);
  const d = round(r.round(0.35, 0.95) * shank);
  const half = (r.pick([118, 130, 140]) * Math.PI) / 360;
  const point = round(d / 2 / Math.tan(half), 6);
  const flutes = round(r.round(3, 6) * d + point);
  const long = round(r.round(30, 50));
  return {
    kind: 'drill',
    form: 'revolved',
    start: [0, 0],
    sides: [{ to: [point, d / 2] }, { to: [flutes, d / 2] }, { to: [flutes, shank / 2] }, ...shankSides(flutes, shank, long, r)],
    shank: { diameter: shank, length: long },
  };
}

export function ballNose(r: Random, inch: boolean): Shape {
  const shank = r.pick(inch ? INCH : METRIC);
  const d = round(r.round(0.4, 0.9) * shank);
  const cut = round(r.round(1.5, 3) * d);
  const neck = round(cut + (shank - d) / 2 / Math.tan((15 * Math.PI) / 180), 6);
  const long = round(r.round(28, 45));
  return {
    kind: 'ball nose',
    form: 'revolved',
    start: [0, 0],
    sides: [{ to: [d / 2, d / 2], centre: [d / 2, 0], ccw: false }, { to: [cut, d / 2] }, { to: [neck, shank / 2] }, ...shankSides(neck, shank, long, r)],
    shank: { diameter: shank, length: long },
  };
}

// A shaped cutter: steps, cones, concave and convex radii, a groove.
export function formCutter(r: Random, inch: boolean): Shape {
  const shank = r.pick(inch ? INCH : METRIC);
  const sides: Side[] = [];
  let [z, radius] = [0, round(shank * r.round(0.15, 0.4))];
  sides.push({ to: [0, radius] });
  const go = (to: Place, arc?: { centre: Place; ccw: boolean }) => {
    sides.push({ to, ...arc });
    [z, radius] = to;
  };
  for (let i = 0; i < r.whole(3, 7); i++) {
    const kind = r.pick(['cylinder', 'cone', 'convex', 'concave', 'groove', 'step']);
    const long = round(r.round(1.5, 5));
    if (kind === 'cylinder') go([round(z + long), radius]);
    else if (kind === 'cone') go([round(z + long), round(radius + r.round(0.3, 2))]);
    else if (kind === 'step') go([z, round(radius + r.round(0.3, 1.5))]);
    else if (kind === 'convex') {
      const rr = round(r.round(0.5, 2));
      go([round(z + rr), round(radius + rr)], { centre: [round(z + rr), radius], ccw: false });
    } else if (kind === 'concave') {
      const rr = round(r.round(0.5, 2));
      go([round(z + rr), round(radius + rr)], { centre: [z, round(radius + rr)], ccw: true });
    } else {
      const depth = round(Math.min(0.3 * radius, r.round(0.3, 1)));
      go([round(z + 1), radius]);
      go([z, round(radius - depth)]);
      go([round(z + long), radius]);
      go([z, round(radius + depth)]);
    }
  }
  go([round(z + 2), radius]);
  const long = round(r.round(30, 55));
  if (Math.abs(radius - shank / 2) > 0.01) go([z, shank / 2]);
  return {
    kind: 'form cutter',
    form: 'revolved',
    start: [0, 0],
    sides: [...sides, ...shankSides(z, shank, long, r)],
    shank: { diameter: shank, length: long },
  };
}

export function countersink(r: Random, inch: boolean): Shape {
  const shank = r.pick(inch ? INCH : METRIC.slice(0, 4));
  const d = round(shank * r.round(1.2, 2.5));
  const flat = round(r.round(0.3, 1.2));
  const half = (r.pick([60, 90, 120]) * Math.PI) / 360;
  const point = round((d / 2 - flat) / Math.tan(half), 6);
  const body = round(point + r.round(2, 6));
  const long = round(r.round(30, 45));
  return {
    kind: 'countersink',
    form: 'revolved',
    start: [0, 0],
    sides: [{ to: [0, flat] }, { to: [point, d / 2] }, { to: [body, d / 2] }, { to: [body, shank / 2] }, ...shankSides(body, shank, long, r)],
    shank: { diameter: shank, length: long },
  };
}

/** A sleeve with a flange and a bore all through: what is turned does not touch its axis. The way is closed, with z. */
export function sleeve(r: Random): Shape {
  const d = r.pick([16, 20, 25, 32]);
  const bore = round(d * r.pick([0.4, 0.5, 0.6]));
  const flange = round(d / 2 + r.round(3, 8));
  const wide = round(r.round(4, 8));
  const end = round(wide + r.round(40, 70));
  return {
    kind: 'sleeve',
    form: 'revolved',
    start: [0, bore / 2],
    sides: [{ to: [0, flange] }, { to: [wide, flange] }, { to: [wide, d / 2] }, { to: [end, d / 2] }, { to: [end, bore / 2] }, { to: [0, bore / 2] }],
    shank: { diameter: d, length: round(end - wide) },
  };
}

/** A profile insert: a polygon with rounded corners and a radius ground into one side. */
export function flatInsert(r: Random): Shape {
  const [w, h] = [round(r.round(8, 14)), round(r.round(6, 18))];
  const re = round(r.pick([0.2, 0.4, 0.8]));
  const hollow = round(r.round(1, 1.8));
  const at = round(w * r.round(0.35, 0.6));
  // Counter-clockwise: along the bottom, up, back along the top with a hollow, down.
  return {
    kind: 'insert',
    form: 'flat',
    start: [re, 0],
    sides: [
      { to: [w - re, 0] },
      { to: [w, re], centre: [w - re, re], ccw: true },
      { to: [w, round(h - 1)] },
      { to: [round(w - 1), h] },
      { to: [round(at + hollow), h] },
      { to: [round(at - hollow), h], centre: [at, h], ccw: false },
      { to: [re, h] },
      { to: [0, round(h - re)], centre: [re, round(h - re)], ccw: true },
      { to: [0, re] },
      { to: [re, 0], centre: [re, re], ccw: true },
    ],
  };
}
