// What holds, of the wild corpus: chucks, holders, adapters, collets and sleeves.
import type { MarkedPlace } from '../corpus-model.ts';
import type { Random } from '../random.ts';
import { machineSide } from './machine-sides.ts';
import { at, cylindrical } from './places.ts';
import { ARC, barXY, box, type Flat, lathe, rod, setScrew } from './solids.ts';
import type { WildBody, WildModel } from './wild-model.ts';

// ISO 15488: large diameter of the cone.
const ER: Readonly<Record<number, number>> = { 16: 17, 20: 21, 25: 26, 32: 33, 40: 41 };

/** Chucks, holders with set screws, shrunk ones and arbors. */
export function holder(r: Random): WildModel {
  if (r.chance(0.2)) return straightHolder(r);
  const side = machineSide(r, r.pick(['PSC', 'HSK-A', 'SK', 'BT'] as const), [40, 50, 63, 100]);
  const f = side.flange;
  const what = r.pick(['collet', 'set screws', 'shrunk', 'arbor'] as const);
  const bodies: WildBody[] = [];
  let body = side.shape;
  let seats: MarkedPlace[];
  if (what === 'collet') {
    const size = r.pick([16, 20, 25, 32].filter((s) => ER[s] * 1.7 < side.diameter + 12));
    const d = ER[size];
    const nose = f + r.pick([40, 55, 70]);
    body = body.fuse(
      lathe([
        [0, f - 0.01],
        [d * 0.75, f - 0.01],
        [d * 0.75, nose - 14],
        [d * 0.62, nose - 12],
        [d * 0.62, nose],
        [0, nose],
      ]),
    );
    body = body.cut(
      lathe([
        [0, nose + 1],
        [d / 2 + Math.tan(8 * ARC), nose + 1],
        [d / 2 - Math.tan(8 * ARC) * d * 0.9, nose - d * 0.9],
        [d * 0.24, nose - d * 0.9 - 3],
        [d * 0.24, f + 4],
        [0, f + 4],
      ]),
    );
    const nut = barXY(
      Array.from({ length: 6 }, (_, k): Flat => [d * 0.98 * Math.cos(k * 60 * ARC), d * 0.98 * Math.sin(k * 60 * ARC)]),
      nose - 11,
      nose + 5,
    ).cut(
      lathe([
        [0, nose - 12],
        [d * 0.62, nose - 12],
        [d * 0.62, nose + 0.2],
        [d * 0.4, nose + 3],
        [d * 0.4, nose + 6],
        [0, nose + 6],
      ]),
    );
    bodies.push({ shape: nut, role: 'tool body' });
    seats = [at(nose, { standard: 'ER', size })];
  } else if (what === 'arbor') {
    const spigot = r.pick([16, 22, 27]);
    const length = { 16: 17, 22: 19, 27: 21 }[spigot] ?? 19;
    const face = f + r.pick([18, 30, 45]);
    body = body.fuse(
      lathe([
        [0, f - 0.01],
        [spigot * 0.85, f - 0.01],
        [spigot * 0.85, face],
        [spigot / 2, face],
        [spigot / 2, face + length - 1],
        [spigot / 2 - 1, face + length],
        [0, face + length],
      ]),
    );
    body = body.cut(rod(spigot * 0.5, [0, 0, face + length + 1], [0, 0, -1], 26));
    for (const s of [1, -1])
      bodies.push({ shape: box(s > 0 ? [spigot * 0.52, spigot * 0.84] : [-spigot * 0.84, -spigot * 0.52], [-4, 4], [face - 4, face + 4.5]), role: 'hardware' });
    body = body.cut(box([spigot * 0.52, spigot], [-4, 4], [face - 4, face + 1])).cut(box([-spigot, -spigot * 0.52], [-4, 4], [face - 4, face + 1]));
    seats = [at(face, { standard: 'bolted face', size: spigot })];
  } else {
    const bore = r.pick([8, 10, 12, 16, 20].filter((b) => b * 2.2 < side.diameter));
    const nose = f + r.pick([30, 45, 60]);
    const wide = what === 'shrunk' ? bore * 0.8 + 3 : bore + 6;
    const root = what === 'shrunk' ? wide + 4 : wide;
    body = body.fuse(
      lathe([
        [0, f - 0.01],
        [root, f - 0.01],
        [wide, nose],
        [0, nose],
      ]),
    );
    body = body.cut(
      lathe([
        [0, nose + 1],
        [bore / 2 + 1, nose + 1],
        [bore / 2 + 1, nose],
        [bore / 2, nose - 1],
        [bore / 2, nose - bore * 2.2],
        [bore * 0.3, nose - bore * 2.2],
        [bore * 0.3, f],
        [0, f],
      ]),
    );
    if (what === 'set screws') {
      const z = nose - bore * 0.9;
      body = body.cut(rod(bore * 0.5, [0, 0, z], [1, 0, 0], 60));
      bodies.push({ shape: setScrew(bore * 0.5, wide - bore * 0.45, [bore * 0.45, 0, z], [1, 0, 0]), role: 'hardware' });
    }
    seats = [at(nose, cylindrical(bore))];
  }
  return {
    kind: 'holder',
    // A bore of 16 or more in a taper is a holder's and an adapter's.
    readAs: Number(seats[0].connection.size) >= 16 && seats[0].connection.standard === 'cylindrical' ? 'rotating, adapter' : 'rotating',
    bodies: [{ shape: body, role: 'tool body' }, ...bodies],
    mount: at(0, side.connection),
    seats,
    tips: [],
    note: `${side.said}, ${what}`,
  };
}

// A collet chuck on a round shank.
function straightHolder(r: Random): WildModel {
  const sd = r.pick([16, 20, 25]);
  const size = r.pick([16, 20]);
  const d = ER[size];
  const long = r.pick([60, 80, 120]);
  const nose = r.pick([26, 34]);
  const base = 0;
  let body = lathe([
    [0, -long],
    [sd / 2 - 0.8, -long],
    [sd / 2, -long + 0.8],
    [sd / 2, 0.01],
    [0, 0.01],
  ]);
  body = body.fuse(
    lathe([
      [0, base],
      [d * 0.78, base],
      [d * 0.78, base + nose - 12],
      [d * 0.62, base + nose - 10],
      [d * 0.62, base + nose],
      [0, base + nose],
    ]),
  );
  const z = base + nose;
  body = body.cut(
    lathe([
      [0, z + 1],
      [d / 2 + Math.tan(8 * ARC), z + 1],
      [d / 2 - Math.tan(8 * ARC) * d * 0.9, z - d * 0.9],
      [d * 0.2, z - d * 0.9 - 3],
      [d * 0.2, base - 20],
      [0, base - 20],
    ]),
  );
  return {
    kind: 'holder',
    readAs: 'rotating',
    bodies: [{ shape: body, role: 'tool body' }],
    // Against its head where that is a flange, else at its end.
    mount: at(d * 0.78 > sd * 0.55 ? base : -long, cylindrical(sd)),
    seats: [at(z, { standard: 'ER', size })],
    tips: [],
    note: `straight ${sd}, collet ${size}`,
  };
}

/** From a taper to a round bore with set screws, a coolant bore and something written on it. */
export function adapter(r: Random): WildModel {
  const side = machineSide(r, r.pick(['PSC', 'PSC', 'HSK-A', 'SK'] as const), [40, 50, 63]);
  const f = side.flange;
  const bore = r.pick([16, 20, 25, 32].filter((b) => b < side.diameter * 0.62));
  const end = f + r.pick([18, 26, 36]);
  const wide = Math.min(side.diameter / 2, bore / 2 + 9);
  let body = side.shape.fuse(
    lathe(
      [
        [0, f - 0.01],
        [wide, f - 0.01],
        [wide, end],
        [0, end],
      ],
      [0, 0, 1.5, 0],
    ),
  );
  body = body.cut(rod(bore, [0, 0, end + 1], [0, 0, -1], end - 2)).cut(rod(6, [0, 0, -80], [0, 0, 1], 90));
  const bodies: WildBody[] = [];
  for (const z of [end - 7, end - 15]) {
    if (z < f + 3) continue;
    body = body.cut(rod(6, [0, 0, z], [0, 1, 0], 60));
    bodies.push({ shape: setScrew(6, wide - bore * 0.48, [0, bore * 0.48, z], [0, 1, 0]), role: 'hardware' });
  }
  // Letters as shallow slots in the flange.
  if (r.chance(0.6))
    for (let k = 0; k < 5; k++) body = body.cut(box([-8 + 4 * k, -6.8 + 4 * k], [-side.diameter, -side.diameter / 2 + 1.2], [f - 6 + (k % 2), f - 2]));
  return {
    kind: 'adapter',
    readAs: 'adapter, rotating',
    bodies: [{ shape: body, role: 'tool body' }, ...bodies],
    mount: at(0, side.connection),
    seats: [at(end, cylindrical(bore))],
    tips: [],
    note: side.said,
  };
}

/** Collets and sleeves. */
export function colletOrSleeve(r: Random): WildModel {
  if (r.chance(0.5)) {
    const size = r.pick([16, 20, 25, 32, 40]);
    const d = ER[size];
    const bore = r.pick([4, 6, 8, 10].filter((b) => b < d * 0.5));
    const long = d * 1.25;
    const t = Math.tan(8 * ARC);
    // The large diameter lies at z = 0; a front cone for the nut before it.
    let body = lathe([
      [0, -long],
      [d / 2 - long * t, -long],
      [d / 2 + 0.3 * t, 0.3],
      [d / 2 - 1, 0.6],
      [d / 2 - 1, 3],
      [d / 2 + 0.2, 3.4],
      [d / 2 - 1.4, 6.2],
      [0, 6.2],
    ]);
    body = body.cut(rod(bore, [0, 0, -long - 1], [0, 0, 1], long + 9));
    const slots = r.pick([6, 8]);
    for (let k = 0; k < slots; k++)
      body = body.cut(
        (k % 2 === 0 ? box([bore * 0.3, d], [-0.3, 0.3], [-long + 5, 10]) : box([bore * 0.3, d], [-0.3, 0.3], [-long - 1, 2])).rotate(
          (360 * k) / slots,
          [0, 0, 0],
          [0, 0, 1],
        ),
      );
    return {
      kind: 'collet',
      readAs: 'rotating',
      bodies: [{ shape: body, role: 'tool body' }],
      mount: at(0, { standard: 'ER', size }),
      seats: [at(6.2, cylindrical(bore))],
      tips: [],
      note: `collet ${size} bore ${bore}`,
    };
  }
  const d = r.pick([25, 32, 40]);
  const bore = r.pick([10, 12, 16, 20].filter((b) => b < d * 0.7));
  const long = r.pick([60, 75, 90]);
  const collar = 8;
  let body = lathe(
    [
      [0, -long],
      [d / 2 - 0.6, -long],
      [d / 2, -long + 0.6],
      [d / 2, 0],
      [d / 2 + 5, 0],
      [d / 2 + 5, collar],
      [0, collar],
    ],
    [0, 0, 0, 0, 0, 1, 0],
  );
  body = body.cut(rod(bore, [0, 0, -long - 1], [0, 0, 1], long + 20));
  const how = r.pick(['flat', 'slit', 'holes'] as const);
  if (how === 'flat') body = body.cut(box([-d, d], [d / 2 - 1.8, d], [-long - 1, -4]));
  if (how === 'slit') body = body.cut(box([0, d], [-0.75, 0.75], [-long + 10, 20]));
  for (const z of how === 'holes' ? [-15, -32, -48] : []) body = body.cut(rod(6, [0, 0, z], [0, 1, 0], d));
  return {
    kind: 'collet',
    readAs: 'adapter',
    bodies: [{ shape: body, role: 'tool body' }],
    mount: at(0, cylindrical(d)),
    seats: [at(collar, cylindrical(bore))],
    tips: [],
    note: `sleeve ${d} to ${bore}, ${how}`,
  };
}
