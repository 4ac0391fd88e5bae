// Station blocks of the wild corpus: pockets closed by a wedge, feet with bolts and keys, driven blocks.
import type { Shape3D } from 'replicad';
import type { MarkedPlace } from '../corpus-model.ts';
import type { Random } from '../random.ts';
import { ARC, box, capScrew, type Flat, lathe, type Point, plateXZ, rod, setScrew } from './solids.ts';
import type { WildBody, WildModel } from './wild-model.ts';

const VDI: Readonly<Record<number, readonly [number, number]>> = { 20: [50, 40], 25: [58, 48], 30: [68, 55], 40: [83, 63], 50: [98, 78] };
const place = (connection: MarkedPlace['connection'], origin: Point, z: Point, x: Point): MarkedPlace => ({ connection, frame: { origin, z, x } });

interface Foot {
  readonly shape: (block: Shape3D) => Shape3D;
  readonly bodies: readonly WildBody[];
  readonly mount: MarkedPlace;
  readonly wide: number;
  readonly said: string;
}

function serrated(r: Random): Foot {
  const size = r.pick([20, 25, 30, 40, 50]);
  const [flange, long] = VDI[size];
  const R = size / 2;
  let shank = lathe([
    [0, -long],
    [R - 1.2, -long],
    [R, -long + 1.2],
    [R, -2.4],
    [R - 0.6, -2],
    [R - 0.6, 0.5],
    [0, 0.5],
  ]);
  const pitch = size <= 25 ? 2.4 : 3.175;
  const foot = R * 0.74;
  const teeth: Flat[] = [[foot - 0.7, -long + 6]];
  for (let z = -long + 7; z < -11; z += pitch) teeth.push([foot, z], [foot + pitch / 2, z + pitch / 2]);
  teeth.push([foot - 0.7, -9], [R + 9, -9], [R + 9, -long + 6]);
  shank = shank.cut(plateXZ(teeth, R + 1, size + 2));
  if (r.chance(0.5)) shank = shank.cut(rod(6, [0, 0, -long - 1], [0, 0, 1], long + 14));
  return {
    shape: (b) => b.fuse(shank),
    bodies: [],
    mount: place({ standard: 'VDI', size }, [0, 0, 0], [0, 0, 1], [1, 0, 0]),
    wide: flange,
    said: `VDI ${size}`,
  };
}

// A flat foot held by four bolts that stand out below it, a key in a slot across, a coolant hole with a ring.
function bolted(r: Random, w: number, d: number, h: number, middle: Flat): Foot {
  const [bx, by] = [w * 0.37, d * 0.37];
  const bolt = r.pick([6, 8, 10]);
  const out = r.chance(0.6);
  const key = r.chance(0.6);
  const boss = r.chance(0.35);
  const bodies: WildBody[] = [];
  const corners: Flat[] = [
    [bx, by],
    [-bx, by],
    [bx, -by],
    [-bx, -by],
  ];
  const deep = r.pick([h * 0.35, h * 0.55]);
  if (out) for (const [x, y] of corners) bodies.push({ shape: capScrew(bolt, deep + 14, [middle[0] + x, middle[1] + y, deep], [0, 0, 1]), role: 'hardware' });
  const slot = 10;
  if (key) bodies.push({ shape: box([middle[0] - w * 0.2, middle[0] + w * 0.2], [middle[1] - slot / 2, middle[1] + slot / 2], [-4, 3.5]), role: 'hardware' });
  return {
    shape: (b) => {
      let s = b;
      for (const [x, y] of corners) {
        const at: Point = [middle[0] + x, middle[1] + y, -1];
        s = s.cut(rod(bolt + 0.6, at, [0, 0, 1], h + 2)).cut(rod(bolt * 1.6, [at[0], at[1], deep], [0, 0, 1], h + 2));
      }
      if (key) s = s.cut(box([middle[0] - w, middle[0] + w], [middle[1] - slot / 2, middle[1] + slot / 2], [-1, 3.6]));
      if (boss)
        s = s.fuse(
          lathe([
            [0, -5],
            [14.5, -5],
            [15, -4.5],
            [15, 1],
            [0, 1],
          ]),
        );
      s = s
        .cut(rod(5, [middle[0] + w * 0.2, middle[1] + d * 0.25, -1], [0, 0, 1], 12))
        .cut(rod(11, [middle[0] + w * 0.2, middle[1] + d * 0.25, -1], [0, 0, 1], 2.2));
      return s;
    },
    bodies,
    mount: place({ standard: 'bolted face', size: '' }, [middle[0], middle[1], 0], [0, 0, 1], [1, 0, 0]),
    wide: Math.max(w, d),
    said: `foot${out ? ', bolts stand out' : ''}${key ? ', key' : ''}${boss ? ', boss' : ''}`,
  };
}

/** A block: which foot, and what it holds. */
export function block(r: Random): WildModel {
  const isFoot = r.chance(0.5);
  const what = r.pick(['wedge', 'wedge', 'opposed collets', 'bore', 'driven'] as const);
  const h = r.pick([60, 72, 85]);
  const vdi = isFoot ? undefined : serrated(r);
  const w = vdi ? vdi.wide + r.pick([14, 24]) : r.pick([80, 95, 110]);
  const d = vdi ? vdi.wide + r.pick([0, 10]) : r.pick([70, 85]);
  const middle: Flat = vdi ? [r.pick([0, 6]), 0] : [0, 0];
  const foot = vdi ?? bolted(r, w, d, h, middle);
  const [x0, x1, y0, y1] = [middle[0] - w / 2, middle[0] + w / 2, middle[1] - d / 2, middle[1] + d / 2];
  let body = foot.shape(box([x0, x1], [y0, y1], [0, h]));
  const bodies: WildBody[] = [];
  const seats: MarkedPlace[] = [];
  if (what === 'wedge') {
    // A pocket along X: floor and back wall in the block, the roof in the block, the fourth side a wedge with screws.
    const s = r.pick([16, 20, 25]);
    const z0 = h - s - 13;
    const floor = y0 + r.pick([10, 14]);
    const room = s + 14;
    body = body.cut(box([x0 - 1, x1 + 1], [floor, floor + room], [z0, h - r.pick([0, 6])]));
    // The pocket is open above; the wedge lies beside the shank, against the far wall.
    const wedge = box([x0 + 5, x1 - 5], [floor + s + 0.01, floor + room], [z0 + 0.5, h - 7]).cut(box([x0, x1], [floor + s - 1, floor + s + 3], [h - 10, h]));
    bodies.push({
      shape: wedge.cut(rod(7, [middle[0] - 14, floor + s + 7, h], [0, 0, -1], 90)).cut(rod(7, [middle[0] + 14, floor + s + 7, h], [0, 0, -1], 90)),
      role: 'hardware',
    });
    for (const x of [-14, 14]) {
      body = body.cut(rod(6.5, [middle[0] + x, floor + s + 7, z0 - 14], [0, 0, 1], 16));
      bodies.push({ shape: capScrew(6.5, h - 12 - z0 + 10, [middle[0] + x, floor + s + 7, h - 12], [0, 0, 1]), role: 'hardware' });
    }
    // Bolt holes beside it, as blocks have them.
    for (const x of [x0 + 9, x1 - 9]) body = body.cut(rod(12, [x, y1 - 8, -0.5], [0, 0, 1], 30));
    seats.push(place({ standard: 'square', size: `${s}x${s}` }, [x1, floor, z0], [1, 0, 0], [0, 0, 1]));
    seats.push(place({ standard: 'square', size: `${s}x${s}` }, [x0, floor, z0], [-1, 0, 0], [0, 0, 1]));
  } else if (what === 'opposed collets') {
    const d2: Readonly<Record<number, number>> = { 16: 17, 20: 21, 25: 26, 32: 33 };
    const size = r.pick([16, 20, 25]);
    const z = h * 0.55;
    const t = Math.tan(8 * ARC);
    const R = d2[size] / 2;
    const cup = lathe([
      [0, 1],
      [R + t, 1],
      [R - t * d2[size] * 0.9, -d2[size] * 0.9],
      [R * 0.5, -d2[size] * 0.9 - 3],
      [R * 0.5, -w * 0.6],
      [0, -w * 0.6],
    ]);
    body = body.cut(cup.clone().rotate(90, [0, 0, 0], [0, 1, 0]).translate([x1, middle[1], z]));
    body = body.cut(cup.rotate(-90, [0, 0, 0], [0, 1, 0]).translate([x0, middle[1], z]));
    seats.push(place({ standard: 'ER', size }, [x1, middle[1], z], [1, 0, 0], [0, 0, 1]));
    seats.push(place({ standard: 'ER', size }, [x0, middle[1], z], [-1, 0, 0], [0, 0, 1]));
  } else if (what === 'bore') {
    const bore = r.pick([16, 20, 25, 32]);
    const across = r.chance(0.5);
    if (across) {
      const z = h * 0.5;
      body = body.cut(rod(bore, [x0 - 1, middle[1], z], [1, 0, 0], w + 2));
      seats.push(place({ standard: 'cylindrical', size: bore }, [x1, middle[1], z], [1, 0, 0], [0, 0, 1]));
      seats.push(place({ standard: 'cylindrical', size: bore }, [x0, middle[1], z], [-1, 0, 0], [0, 0, 1]));
      for (const x of [-w * 0.25, w * 0.25]) {
        body = body.cut(rod(8, [middle[0] + x, middle[1], z], [0, 0, 1], h));
        bodies.push({ shape: setScrew(8, h - z - bore / 2 - 1, [middle[0] + x, middle[1], z + bore / 2], [0, 0, 1]), role: 'hardware' });
      }
    } else {
      body = body.cut(rod(bore, [middle[0], middle[1], h + 1], [0, 0, -1], h - 7));
      seats.push(place({ standard: 'cylindrical', size: bore }, [middle[0], middle[1], h], [0, 0, 1], [1, 0, 0]));
      for (const z of [h * 0.5, h * 0.75]) {
        body = body.cut(rod(8, [middle[0], middle[1], z], [0, 1, 0], d));
        bodies.push({ shape: setScrew(8, d / 2 - bore / 2 - 1, [middle[0], middle[1] + bore / 2, z], [0, 1, 0]), role: 'hardware' });
      }
    }
  } else {
    // Driven: a spindle of its own with a collet seat in front, a shaft with a tang below.
    const R = 13;
    const t = Math.tan(8 * ARC);
    const z = h + 18;
    body = body
      .fuse(
        lathe([
          [0, h - 0.01],
          [R * 2, h - 0.01],
          [R * 2, h + 6],
          [0, h + 6],
        ]),
      )
      .cut(rod(R * 2.6, [0, 0, 8], [0, 0, 1], 400));
    let spindle = lathe([
      [0, 9],
      [R * 1.1, 9],
      [R * 1.1, h + 4],
      [R * 1.5, h + 4],
      [R * 1.5, z],
      [0, z],
    ]);
    spindle = spindle.cut(
      lathe([
        [0, z + 1],
        [R + t, z + 1],
        [R - t * 23, z - 23],
        [7, z - 26],
        [7, z - 40],
        [0, z - 40],
      ]),
    );
    bodies.push({ shape: spindle, role: 'tool body' });
    if (vdi) {
      const long = VDI[Number(vdi.mount.connection.size)][1];
      body = body.cut(rod(11, [0, 0, -long - 1], [0, 0, 1], long + 20));
      bodies.push({
        shape: rod(9, [0, 0, -long - 12], [0, 0, 1], long + 20)
          .cut(box([-9, 9], [1.5, 9], [-long - 13, -long - 5]))
          .cut(box([-9, 9], [-9, -1.5], [-long - 13, -long - 5])),
        role: 'tool body',
      });
    }
    seats.push(place({ standard: 'ER', size: 25 }, [0, 0, z], [0, 0, 1], [1, 0, 0]));
  }
  return {
    kind: 'block',
    readAs: 'block',
    bodies: [{ shape: body, role: 'tool body' }, ...bodies, ...foot.bodies],
    mount: foot.mount,
    seats,
    tips: [],
    note: `${foot.said}, ${what}`,
  };
}
