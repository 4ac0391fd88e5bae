// Rotating holders, cutters, drills and adapters of the corpus. Mount frame: Z towards the work, origin on the reference plane.
import {
  assembleWire,
  drawCircle,
  drawPolysides,
  loft,
  makeBSplineApproximation,
  makeCylinder,
  makePlane,
  type Shape3D,
  type Sketch,
  type Solid,
  type Wire,
} from 'replicad';
import { engrave, hole, prismXZ, screw, turned } from '../shapes.ts';
import type { CorpusModel, MarkedPlace } from './corpus-model.ts';
import { polar, rad } from './insert-shapes.ts';
import type { Random } from './random.ts';
import { COLOURS, nameOf } from './turning.ts';

type Body = CorpusModel['bodies'][number];
type Standard = MarkedPlace['connection'];
const at = (z: number, connection: Standard): MarkedPlace => ({ connection, frame: { origin: [0, 0, z], z: [0, 0, 1], x: [1, 0, 0] } });

// ISO 12164, 7388-1, 7388-2, 26623: taper's large diameter, its length, flange diameter.
const HSK: Record<number, [number, number]> = { 32: [24, 16], 40: [30, 20], 50: [38, 25], 63: [48, 32], 80: [60, 40], 100: [75, 50] };
const STEEP: Record<number, number> = { 30: 31.75, 40: 44.45, 50: 69.85 };
const SK: Record<number, [number, number]> = { 30: [50, 47.8], 40: [63.55, 68.4], 50: [97.5, 101.75] };
const BT: Record<number, [number, number]> = { 30: [46, 48.4], 40: [63, 65.4], 50: [100, 101.8] };
const PSC: Record<number, [number, number, number]> = { 32: [22, 19, 0.9], 40: [28, 24, 1.1], 50: [35, 30, 1.4], 63: [44, 38, 1.7], 80: [55, 48, 2.1] };

/** The shank below the reference plane z = 0 and its flange up to `flange`, where the holder's own shape goes on. */
interface MachineSide {
  readonly connection: Standard;
  readonly shape: Shape3D;
  readonly flange: number;
  readonly diameter: number;
}

const gripper = (d: number, from: number): Solid =>
  turned([
    [d / 2 - 4, from + 3],
    [d / 2 + 1, from + 1],
    [d / 2 + 1, from + 8],
    [d / 2 - 4, from + 6],
  ]);

// A three-lobed profile of constant width by its support function R - e cos 3a (the profile of polygon tapers); the taper is 1:20 on the diameter.
function pscShape(size: number): { shape: Shape3D; flange: number } {
  const [d, long, e] = PSC[size];
  // Three arcs of splines, one for each lobe, as a kernel of another maker would write it.
  const ring = (z: number): Wire => {
    const shrink = -z / 20;
    const at = (deg: number): [number, number, number] => {
      const t = rad(deg);
      const [h, slope] = [(d - shrink) / 2 - e * Math.cos(3 * t), 3 * e * Math.sin(3 * t)];
      return [h * Math.cos(t) - slope * Math.sin(t), h * Math.sin(t) + slope * Math.cos(t), z];
    };
    return assembleWire(
      [0, 120, 240].map((from) =>
        makeBSplineApproximation(
          Array.from({ length: 41 }, (_, i) => at(from + 3 * i)),
          { tolerance: 1e-4, degMax: 5 },
        ),
      ),
    );
  };
  const taper = loft([ring(0), ring(-long)], { ruled: true });
  const flange = makeCylinder(size / 2, 22, [0, 0, 0], [0, 0, 1]);
  const bore = makeCylinder(d * 0.28, long + 12, [0, 0, -long - 1], [0, 0, 1]);
  return { shape: taper.fuse(flange).cut(bore), flange: 22 };
}

function machineSide(r: Random, standard: Standard['standard']): MachineSide {
  if (standard === 'HSK-A') {
    const size = r.pick([40, 50, 63, 80, 100]);
    const [d, long] = HSK[size];
    const slope = 1 / (2 * 9.98);
    let shape: Shape3D = turned([
      [d * 0.36, -long],
      [d / 2 - long * slope - 0.6, -long],
      [d / 2 - (long - 0.8) * slope, -long + 0.8],
      [d / 2 - 2 * slope, -2],
      [d / 2 - 0.9, -1.2],
      [d / 2 - 0.9, 0],
      [size / 2, 0],
      [size / 2, 26],
      [0, 26],
      [0, -4],
      [d * 0.36, -4],
    ]);
    shape = shape.cut(gripper(size, 8));
    for (const s of [1, -1]) {
      const w = size * 0.16;
      shape = shape.cut(
        prismXZ(
          [
            [-w / 2, -long - 1],
            [w / 2, -long - 1],
            [w / 2, -long + (s > 0 ? 9 : 7)],
            [-w / 2, -long + (s > 0 ? 9 : 7)],
          ],
          s > 0 ? d : -d * 0.2,
          d * 0.8,
        ),
      );
    }
    return { connection: { standard, size }, shape, flange: 26, diameter: size };
  }
  if (standard === 'SK' || standard === 'BT') {
    const size = r.pick([30, 40, 50]);
    const gauge = STEEP[size];
    const [flange, long] = (standard === 'SK' ? SK : BT)[size];
    const gap = standard === 'SK' ? 3.2 : 2;
    const small = gauge / 2 - (long * 7) / 48;
    const thick = standard === 'SK' ? 19.1 : 25;
    let shape: Shape3D = turned([
      [0, -long],
      [small, -long],
      [gauge / 2, 0],
      [gauge / 2, gap],
      [flange / 2, gap],
      [flange / 2, gap + thick],
      [0, gap + thick],
    ]);
    shape = shape.cut(gripper(flange, gap + 4));
    for (const s of [1, -1]) {
      const w = size === 50 ? 25.7 : 16.1;
      const depth = gauge / 2 + 2;
      shape = shape.cut(
        prismXZ(
          [
            [s * depth, gap - 0.5],
            [s * (flange / 2 + 2), gap - 0.5],
            [s * (flange / 2 + 2), gap + thick + 0.1],
            [s * depth, gap + thick + 0.1],
          ],
          w / 2,
          w,
        ),
      );
    }
    shape = shape.cut(makeCylinder(small * 0.5, long * 0.5, [0, 0, -long - 1], [0, 0, 1]));
    return { connection: { standard, size }, shape, flange: gap + thick, diameter: flange };
  }
  if (standard === 'PSC') {
    const size = r.pick([32, 40, 50, 63]);
    const made = pscShape(size);
    return { connection: { standard, size }, shape: made.shape.cut(gripper(size, 6)), flange: made.flange, diameter: size };
  }
  const d = r.pick([16, 20, 25, 32]);
  const long = r.pick([50, 60, 70]);
  // The mount of a plain shank with a collar is where the collar lies on.
  const shape = turned([
    [0, -long],
    [d / 2 - 0.8, -long],
    [d / 2, -long + 0.8],
    [d / 2, 0],
    [d / 2 + 6, 0],
    [d / 2 + 6, 8],
    [0, 8],
  ]);
  return { connection: { standard: 'cylindrical', size: d }, shape, flange: 8, diameter: d + 12 };
}

const ER: Record<number, [large: number, long: number, nut: number]> = {
  16: [17, 27.5, 32],
  20: [21, 31.5, 35],
  25: [26, 34, 42],
  32: [33, 40, 50],
  40: [41, 46, 63],
};

/** A holder that spins: machine side, neck, and a seat for a collet or a shank. */
export function rotatingHolder(r: Random): CorpusModel {
  const machine = machineSide(r, r.pick(['HSK-A', 'HSK-A', 'SK', 'BT', 'PSC', 'cylindrical'] as const));
  const end = machine.flange + r.pick([30, 45, 60, 80]);
  const bodies: Body[] = [];
  let seat: MarkedPlace;
  let shape = machine.shape;
  if (r.chance(0.55)) {
    const fits = Object.keys(ER)
      .map(Number)
      .filter((s) => ER[s][2] < machine.diameter + 14 && ER[s][1] < end - 4);
    const size = r.pick(fits.length > 0 ? fits : [16]);
    const [large, long, nut] = ER[size];
    const tip = large / 2 - long * 0.7 * Math.tan(rad(8));
    const neck = Math.max(nut / 2 - 3, large / 2 + 3);
    shape = shape.fuse(
      turned([
        [0, machine.flange - 1],
        [Math.min(machine.diameter / 2 - 2, neck + 6), machine.flange - 1],
        [neck, machine.flange + 12],
        [neck, end - 16],
        [neck - 1.5, end - 15],
        [neck - 1.5, end],
        [0, end],
      ]),
    );
    shape = shape.cut(
      turned([
        [0, end - long],
        [tip, end - long],
        [tip, end - long * 0.7],
        [large / 2, end],
        [large / 2, end + 1],
        [0, end + 1],
      ]),
    );
    // Rings where the nut's thread would be.
    if (r.chance(0.6))
      for (let z = end - 12; z < end - 2; z += 1.5)
        shape = shape.cut(
          turned([
            [neck - 2.2, z],
            [neck + 1, z - 0.6],
            [neck + 1, z + 0.6],
          ]),
        );
    seat = at(end, { standard: 'ER', size });
    if (r.chance(0.6)) {
      let ring: Shape3D = turned([
        [neck, end - 12],
        [nut / 2, end - 12],
        [nut / 2, end + 3],
        [nut / 2 - 2, end + 5],
        [large / 2 - 2, end + 5],
        [large / 2 - 2, end + 2],
        [neck, end - 1],
      ]);
      if (r.chance(0.5)) ring = ring.intersect((drawPolysides(nut / 2 + 0.2, 6).sketchOnPlane('XY', [0, 0, end - 13]) as Sketch).extrude(20));
      else for (let i = 0; i < 6; i++) ring = ring.cut(hole(2, 30, [nut / 2, 0, end - 13], [0, 0, 1]).rotate(60 * i, [0, 0, 0], [0, 0, 1]));
      bodies.push({ shape: ring, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' });
    }
  } else {
    const bore = r.pick([6, 8, 10, 12, 16, 20].filter((b) => b < machine.diameter * 0.5));
    const wall = bore / 2 + r.pick([6, 8, 10]);
    const deep = Math.min(end - machine.flange + 8, bore * 3 + 12);
    shape = shape.fuse(
      turned([
        [0, machine.flange - 1],
        [Math.min(machine.diameter / 2 - 1, wall + 4), machine.flange - 1],
        [wall, machine.flange + 8],
        [wall, end - 1],
        [wall - 1, end],
        [0, end],
      ]),
    );
    shape = shape.cut(
      turned([
        [0, end - deep],
        [bore / 2, end - deep],
        [bore / 2, end - 0.6],
        [bore / 2 + 0.6, end],
        [bore / 2 + 0.6, end + 1],
        [0, end + 1],
      ]),
    );
    if (r.chance(0.6)) {
      const z = end - bore - 4;
      shape = shape.cut(hole(bore * 0.3, wall + 2, [0, 0, z], [0, 1, 0]));
      bodies.push({ shape: screw(bore * 0.58, bore * 0.5, wall - bore / 2, [0, wall - 0.3, z]), name: nameOf(r), colour: r.pick(COLOURS), role: 'hardware' });
    }
    seat = at(end, { standard: 'cylindrical', size: bore });
  }
  if (r.chance(0.4)) shape = engrave(shape, r.pick(['H-63', 'HF-20']), makePlane('XZ', [-8, -machine.diameter / 2 + 0.6, machine.flange - 6]), 4, 0.4);
  bodies.unshift({ shape, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' });
  return {
    kind: 'holder',
    bodies: r.chance(0.6) ? bodies : [...bodies].reverse(),
    mount: at(0, machine.connection),
    seats: [seat],
    tips: [],
    note: `${machine.connection.standard} ${machine.connection.size} with ${seat.connection.standard} ${seat.connection.size}`,
  };
}

/** A drill or an end mill on a plain shank, one solid; its mount is the rear face of the shank. */
export function cutter(r: Random): CorpusModel {
  const shank = r.pick([6, 8, 10, 12, 16, 20]);
  const isDrill = r.chance(0.5);
  const d = isDrill ? Math.min(shank, r.round(shank * 0.6, shank)) : shank;
  const fluted = d * r.pick([2.5, 3, 5]);
  const grip = Math.max(36, shank * r.pick([2.5, 3]));
  const end = grip + 4 + fluted;
  const point = isDrill ? r.pick([118, 135, 140]) : 180;
  const tip = isDrill ? d / 2 / Math.tan(rad(point / 2)) : 0;
  let shape: Shape3D = turned([
    [0, 0],
    [shank / 2 - 0.5, 0],
    [shank / 2, 0.5],
    [shank / 2, grip],
    [d / 2, grip + Math.max(0.01, (shank - d) / 2)],
    [d / 2, end],
    [0, end + tip],
  ]);
  const flutes = isDrill ? 2 : r.pick([2, 3, 4]);
  const lead = fluted * 0.9;
  for (let i = 0; i < flutes; i++) {
    const centre = polar((360 / flutes) * i);
    const groove = drawCircle(d * (isDrill ? 0.24 : 0.2)).translate([centre[0] * d * 0.5, centre[1] * d * 0.5]);
    const cut = (groove.sketchOnPlane('XY', [0, 0, end + tip + 1]) as unknown as Sketch).extrude(-(lead + tip), {
      twistAngle: -lead * 3.2 * (10 / d),
      origin: [0, 0, end + tip + 1],
    });
    shape = shape.cut(cut);
  }
  const flat = !isDrill && r.chance(0.5);
  if (flat)
    shape = shape.cut(
      prismXZ(
        [
          [-4, grip * 0.35],
          [4, grip * 0.35],
          [4, grip * 0.65],
          [-4, grip * 0.65],
        ],
        shank / 2 + 1,
        1 + shank * 0.09,
      ),
    );
  return {
    kind: 'cutter',
    bodies: [{ shape, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' }],
    mount: at(0, { standard: 'cylindrical', size: shank }),
    seats: [],
    tips: isDrill ? [{ noseRadius: 0, noseCentre: [0, 0, end + tip], includedAngle: point }] : [],
    note: isDrill ? `drill ${d}, point ${point}` : `end mill ${d}, ${flutes} flutes`,
  };
}

/** An adapter: one machine side, a bore or a collet cone on the other, or a plain slotted sleeve. */
export function adapter(r: Random): CorpusModel {
  if (r.chance(0.6)) {
    const [outer, inner] = r.pick([
      [20, 10],
      [25, 12],
      [25, 16],
      [32, 16],
      [32, 20],
      [40, 25],
      [40, 32],
    ]);
    const long = r.pick([50, 60, 75]);
    const collar = r.pick([8, 14, 18]);
    let shape: Shape3D = turned([
      [inner / 2, -long],
      [outer / 2 - 0.8, -long],
      [outer / 2, -long + 0.8],
      [outer / 2, -0.5],
      [outer / 2 - 0.4, -0.3],
      [outer / 2 - 0.4, 0],
      [outer / 2 + 6, 0],
      [outer / 2 + 7, 1],
      [outer / 2 + 7, collar],
      [inner / 2 + 1, collar],
      [inner / 2, collar - 1],
    ]);
    const slot = r.chance(0.6);
    if (slot)
      shape = shape.cut(
        prismXZ(
          [
            [-0.8, -long - 1],
            [0.8, -long - 1],
            [0.8, -6],
            [-0.8, -6],
          ],
          outer,
          outer,
        ),
      );
    const bodies: Body[] = [];
    if (r.chance(0.6) && collar >= 14)
      for (const deg of r.pick([[0], [0, 90], [0, 120, 240]])) {
        shape = shape.cut(hole(2.5, outer, [0, 0, collar / 2], [0, 1, 0]).rotate(deg, [0, 0, 0], [0, 0, 1]));
        bodies.push({
          shape: screw(5, 4, (outer - inner) / 2 + 2, [0, outer / 2 + 6.6, collar / 2]).rotate(deg, [0, 0, 0], [0, 0, 1]),
          name: nameOf(r),
          colour: r.pick(COLOURS),
          role: 'hardware',
        });
      }
    bodies.unshift({ shape, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' });
    return {
      kind: 'adapter',
      bodies,
      mount: at(0, { standard: 'cylindrical', size: outer }),
      seats: [at(collar, { standard: 'cylindrical', size: inner })],
      tips: [],
      note: `sleeve ${outer} to ${inner}${slot ? ', slotted' : ''}`,
    };
  }
  const machine = machineSide(r, r.pick(['HSK-A', 'PSC', 'BT', 'SK'] as const));
  const bore = r.pick([16, 20, 25].filter((b) => b < machine.diameter * 0.55));
  const end = machine.flange + r.pick([15, 25]);
  let shape = machine.shape.fuse(
    turned([
      [0, machine.flange - 1],
      [bore / 2 + 8, machine.flange - 1],
      [bore / 2 + 8, end],
      [0, end],
    ]),
  );
  shape = shape.cut(
    turned([
      [0, end - bore * 1.6],
      [bore / 2, end - bore * 1.6],
      [bore / 2, end + 1],
      [0, end + 1],
    ]),
  );
  return {
    kind: 'adapter',
    bodies: [{ shape, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' }],
    mount: at(0, machine.connection),
    seats: [at(end, { standard: 'cylindrical', size: bore })],
    tips: [],
    note: `${machine.connection.standard} ${machine.connection.size} to bore ${bore}`,
  };
}
