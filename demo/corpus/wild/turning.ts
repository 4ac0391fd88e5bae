// Turning tools of the wild corpus: shanks in mm and inches, bars, heads on tapers, grooving and threading.
import { loft } from 'replicad';
import type { Random } from '../random.ts';
import { around, fastened, flipped, type Form, INSERTS, pocket, seatInsert, under, wishFor } from './inserts.ts';
import { machineSide } from './machine-sides.ts';
import { ARC, box, type Flat, lathe, onXZ, plateXZ, ring, rod, setScrew } from './solids.ts';
import type { WildBody, WildModel, WildTip } from './wild-model.ts';

/** An outside tool on a square shank. */
export function turningTool(r: Random): WildModel {
  if (r.chance(0.12)) return roundTool(r);
  const inch = r.chance(0.35);
  const h = inch ? r.pick([12.7, 15.875, 19.05, 25.4]) : r.pick([12, 16, 20, 25, 32]);
  const [form, kapr] = r.pick([
    ['C', 95],
    ['C', 75],
    ['D', 93],
    ['V', 93],
    ['V', 72.5],
    ['T', 91],
    ['T', 60],
    ['S', 75],
    ['S', 45],
    ['W', 95],
    ['D', 107.5],
  ] as [Form, number][]);
  const size = h < 15 ? INSERTS[0] : h < 19 ? INSERTS[1] : r.pick([INSERTS[1], INSERTS[2]]);
  const negative = size.ic > 7 && r.chance(0.55);
  const left = r.chance(0.45);
  const long = inch ? r.pick([101.6, 127, 152.4]) : r.pick([80, 100, 125, 150]);
  // Some shanks are narrower than high.
  const b = !inch && h >= 20 && r.chance(0.25) ? ({ 20: 16, 25: 20, 32: 25 }[h] ?? h) : h;
  const wf = b * r.pick([1.25, 1.28, 1.1]);
  const fused = r.chance(0.2);
  const base = wishFor(r, form, size, inch, negative);
  const s = seatInsert({ ...base, mainDeg: -kapr, sense: -1, noseCentre: [wf - base.nose, long - base.nose], feed: [1, 0] }, left ? 'left' : 'right');
  const low = Math.min(...s.top.map((p) => p[1]));
  const neck = low - 5;
  let body = box([0, b], [-h, 0], [0, neck]);
  const head: Flat[] = around([[0, neck - 0.01], [b, neck - 0.01], ...under(s, 0.88)]);
  body = body.fuse(plateXZ(head, 0, h));
  if (r.chance(0.35)) body = body.fuse(plateXZ(around([[0, neck - 16], [b, neck - 16], ...head]), -h + 0.01, h * 0.3));
  const shim = negative && !fused && r.chance(0.75) ? 3.2 : 0;
  body = body.cut(pocket(s, s.thick + shim));
  if (r.chance(0.5)) body = body.cut(rod(5, [b / 2, -h / 2, -1], [0, 0, 1], neck));
  if (r.chance(0.4)) body = body.cut(rod(4, [-1, -h * 0.6, neck - 9], [1, 0, 0], h + 4));
  // A label's field milled into the side, as wide as some insert.
  if (r.chance(0.5)) body = body.cut(box([b - 0.4, b + 1], [-h * 0.8, -h * 0.2], [15, 55]));
  let bodies: WildBody[] = fused
    ? [{ shape: body.fuse(s.insert), role: 'tool body' }]
    : [{ shape: body, role: 'tool body' }, { shape: s.insert, role: 'cutting' }, ...fastened(r, s, shim)];
  if (left) bodies = flipped(bodies);
  return {
    kind: 'turning',
    readAs: 'turning',
    bodies,
    mount: { connection: { standard: 'square', size: `${h}x${b}` }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [s.tip],
    note: `${s.said}, KAPR ${kapr}, shank ${h}x${b}${fused ? ', one solid' : ''}`,
  };
}

/** A tool with a round insert. */
function roundTool(r: Random): WildModel {
  const h = r.pick([16, 20, 25]);
  const d = r.pick([8, 10, 12]);
  const long = r.pick([100, 125]);
  const left = r.chance(0.4);
  const thick = 3.97;
  const c: Flat = [h + 1 - d / 2 + 2, long - d / 2];
  const clearance = r.pick([7, 15]);
  // Its side as a cone by a turned outline.
  const low = d / 2 - thick * Math.tan(clearance * ARC);
  const insert = lathe([
    [0, 0],
    [d / 2, 0],
    [low, -thick],
    [0, -thick],
  ])
    .cut(rod(3, [0, 0, 1], [0, 0, -1], 9))
    .rotate(-90, [0, 0, 0], [1, 0, 0])
    .translate([c[0], 0, c[1]]);
  let body = box([0, h], [-h, 0], [0, long - d - 6]);
  body = body.fuse(
    plateXZ(
      around([
        [0, long - d - 6.01],
        [h, long - d - 6.01],
        [c[0] - d * 0.36, c[1] + d * 0.3],
        [c[0] + d * 0.36, c[1] + d * 0.1],
        [c[0] + d * 0.36, c[1] - d * 0.3],
      ]),
      0,
      h,
    ),
  );
  body = body
    .cut(rod(d + 0.1, [c[0], 9, c[1]], [0, -1, 0], 9 + thick))
    .cut(box([c[0] - d, c[0] + d], [-thick, 9], [c[1], c[1] + 30]))
    .cut(box([c[0], c[0] + d], [-thick, 9], [c[1] - d, c[1] + d]));
  let bodies: WildBody[] = [
    { shape: body, role: 'tool body' },
    { shape: insert, role: 'cutting' },
    { shape: rod(2.6, [c[0], -0.4, c[1]], [0, -1, 0], thick + 5), role: 'hardware' },
  ];
  if (left) bodies = flipped(bodies);
  return {
    kind: 'turning',
    readAs: 'turning',
    bodies,
    mount: { connection: { standard: 'square', size: `${h}x${h}` }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [{ noseRadius: d / 2, noseCentre: [c[0], 0, c[1]], hand: left ? 'left' : 'right' }],
    note: `round insert ${d}, shank ${h}`,
  };
}

/** A bar with a round shank and flats. */
export function boringBar(r: Random): WildModel {
  const inch = r.chance(0.3);
  const d = inch ? r.pick([9.525, 12.7, 15.875, 19.05, 25.4]) : r.pick([8, 10, 12, 16, 20, 25, 32, 40]);
  const [form, kapr] = r.pick([
    ['C', 95],
    ['D', 93],
    ['D', 107.5],
    ['T', 91],
    ['V', 107.5],
    ['W', 95],
    ['S', 75],
  ] as [Form, number][]);
  const size = d < 17 ? INSERTS[0] : INSERTS[1];
  const negative = d >= 24 && r.chance(0.5);
  const left = r.chance(0.45);
  const long = r.pick([90, 110, 150, 180]) + (r.chance(0.3) ? r.round(0, 5) : 0);
  const wf = d / 2 + r.pick([1, 1.5, 3, 5]);
  const base = wishFor(r, form, size, inch, negative);
  const tilts: Flat = negative ? [r.pick([10, 8]), r.pick([-6, -12])] : r.chance(0.3) ? [0, r.pick([-3, -5])] : [0, 0];
  const s = seatInsert({ ...base, tilts, mainDeg: 90 + kapr, sense: 1, noseCentre: [wf - base.nose, long - base.nose], feed: [0, 1] }, left ? 'left' : 'right');
  const R = d / 2;
  const neck = Math.min(...s.top.map((p) => p[1])) - 3;
  let body = lathe([
    [0, 0],
    [R - 0.4, 0],
    [R, 0.4],
    [R, neck],
    [0, neck],
  ]);
  const head = around([[-R * 0.85, neck], [R * 0.85, neck], ...under(s, 0.86)]);
  body = body.fuse(plateXZ(head, 0, R * 0.7));
  body = body.cut(pocket(s, s.thick));
  const flats = r.whole(0, 2);
  const t = R * 0.12;
  if (flats > 0) body = body.cut(box([-R - 1, R + 1], [R - t, R + 1], [-1, neck - 4]));
  if (flats > 1) body = body.cut(box([-R - 1, R + 1], [-R - 1, -R + t], [-1, neck - 4]));
  if (r.chance(0.6)) body = body.cut(rod(R * 0.4, [-R * 0.2, -R * 0.2, -1], [0, 0, 1], neck));
  const fused = r.chance(0.2);
  let bodies: WildBody[] = fused
    ? [{ shape: body.fuse(s.insert), role: 'tool body' }]
    : [{ shape: body, role: 'tool body' }, { shape: s.insert, role: 'cutting' }, ...fastened(r, s, 0).slice(0, 1)];
  if (left) bodies = flipped(bodies);
  return {
    kind: 'boring',
    readAs: 'boring',
    bodies,
    mount: { connection: { standard: 'cylindrical', size: d }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [s.tip],
    note: `${s.said}, KAPR ${kapr}, shank ${d}, ${flats} flats${fused ? ', one solid' : ''}`,
  };
}

/** A turning head on a polygon or hollow taper, its tip far beside the axis or near it. */
export function turningHead(r: Random): WildModel {
  const side = machineSide(r, r.pick(['PSC', 'PSC', 'HSK-A'] as const), [40, 50, 63]);
  const D = side.diameter;
  const [form, kapr] = r.pick([
    ['C', 95],
    ['D', 93],
    ['V', 93],
    ['S', 75],
    ['W', 95],
    ['T', 91],
  ] as [Form, number][]);
  const size = r.pick([INSERTS[1], INSERTS[2]]);
  const negative = r.chance(0.6);
  const left = r.chance(0.4);
  const base = wishFor(r, form, size, false, negative);
  const [wf, lf] = [D / 2 + r.pick([-4, 2, 8]), side.flange + r.pick([35, 45, 60])];
  const s = seatInsert({ ...base, mainDeg: -kapr, sense: -1, noseCentre: [wf - base.nose, lf - base.nose], feed: [1, 0] }, left ? 'left' : 'right');
  let body = side.shape.fuse(
    lathe(
      [
        [0, side.flange - 0.01],
        [D * 0.36, side.flange - 0.01],
        [D * 0.36, side.flange + 9],
        [0, side.flange + 9],
      ],
      [0, 0, 3, 0],
    ),
  );
  const head = around([[-D * 0.2, side.flange + 1], [D * 0.34, side.flange + 1], [-D * 0.12, lf - 15], ...under(s, 0.86)]);
  body = body.fuse(plateXZ(head, 0, D * 0.4));
  body = body.cut(pocket(s, s.thick + 3.2)).cut(rod(5, [-D * 0.05, -D * 0.12, side.flange - 5], [0, 0, 1], 200));
  let bodies: WildBody[] = [{ shape: body, role: 'tool body' }, { shape: s.insert, role: 'cutting' }, ...fastened(r, s, 3.2)];
  if (left) bodies = flipped(bodies);
  return {
    kind: 'head',
    readAs: 'turning',
    bodies,
    mount: { connection: side.connection, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [{ noseRadius: s.tip.noseRadius, noseCentre: s.tip.noseCentre, includedAngle: s.tip.includedAngle, ownAngle: s.tip.ownAngle }],
    note: `${s.said}, KAPR ${kapr}`,
  };
}

/** A grooving or threading holder with a slim insert, its blade under it. */
export function groovingTool(r: Random): WildModel {
  const h = r.pick([12, 16, 20, 25]);
  const long = r.pick([100, 120, 140]);
  const left = r.chance(0.4);
  const thread = r.chance(0.4);
  const wide = thread ? 4 : r.pick([1.5, 2, 2.5, 3, 4]);
  const nose = thread ? r.pick([0.1, 0.15, 0.2]) : r.pick([0.1, 0.2, 0.3]);
  const wf = h + 0.3;
  const outer = wf;
  // Along Z towards the work the insert's front; its width along X.
  const tall = 4.2;
  const top: Flat[] = thread
    ? [
        [outer - wide / 2, long],
        [outer - 3.6, long - 6],
        [outer - 3.6, long - 14],
        [outer + 0.2, long - 14],
        [outer + 0.2, long - 6],
      ]
    : [
        [outer - wide, long],
        [outer - wide + 0.08, long - 4],
        [outer - wide + 0.35, long - 4.1],
        [outer - wide + 0.35, long - 18],
        [outer - 0.35, long - 18],
        [outer - 0.35, long - 4.1],
        [outer - 0.08, long - 4],
        [outer, long],
      ];
  // A thread's flanks are 60 degrees.
  const flank = (deg: number, from: Flat, dz: number): Flat => [from[0] + dz * Math.tan(deg * ARC), from[1] - dz];
  const apex: Flat = [outer - 2, long + nose];
  const outlineTop: Flat[] = thread ? [apex, flank(-30, apex, 3.2), [outer - 3.9, long - 14], [outer - 0.1, long - 14], flank(30, apex, 3.2)] : top;
  const rounds = thread ? [nose, 0, 0, 0, 0] : [nose, 0, 0, 0, 0, 0, 0, nose];
  const lean = 7;
  const lowOutline = (f: number): Flat[] =>
    outlineTop.map(([x, z]) =>
      z > (thread ? long - 5 : long - 1)
        ? ([x + (x < outer - wide / 2 ? 1 : -1) * (thread ? 0 : 0.12) * f, z - tall * Math.tan(lean * ARC) * f] as Flat)
        : ([x, z] as Flat),
    );
  const topWire = ring(outlineTop, onXZ(0), rounds);
  let insert = loft([topWire, ring(lowOutline(1), onXZ(-tall), rounds)], { ruled: true });
  if (r.chance(0.5)) insert = insert.cut(rod(3, [outer - 10, 1.28, long - 3.2], [1, 0, 0], 20));
  const neck = long - 26;
  let body = box([0, h], [-h, 0], [0, neck]);
  body = body.fuse(
    plateXZ(
      around([
        [h * 0.4, neck - 0.01],
        [h, neck - 0.01],
        [outer - wide + 0.5, long - 1.5],
        [outer - 0.45, long - 1.5],
        [h * 0.5, neck + 4],
        [outer - 0.45, neck],
      ]),
      4,
      h + 3,
    ),
  );
  body = body.cut(
    plateXZ(
      [
        [outer - wide - 3, long - 19],
        [outer + 3, long - 19],
        [outer + 3, long + 9],
        [outer - wide - 3, long + 9],
      ],
      9,
      9 + tall,
    ),
  );
  body = body.cut(rod(4.2, [h / 2, 6, neck + 3], [0, -1, 0], h + 12));
  let bodies: WildBody[] = [
    { shape: body, role: 'tool body' },
    { shape: insert, role: 'cutting' },
    { shape: setScrew(4, 12, [h / 2, -9, neck + 3], [0, 1, 0]), role: 'hardware' },
  ];
  const hand = left ? 'left' : 'right';
  if (left) bodies = flipped(bodies);
  const corner = (x: number): WildTip => ({ noseRadius: nose, noseCentre: [x, 0, long - nose] });
  const half = 30 * ARC;
  return {
    kind: 'grooving',
    readAs: thread ? 'threading' : 'grooving',
    bodies,
    mount: { connection: { standard: 'square', size: `${h}x${h}` }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: thread
      ? [{ noseRadius: nose, noseCentre: [apex[0], 0, apex[1] - nose / Math.sin(half)], includedAngle: 60, ownAngle: 60, hand }]
      : [corner(outer - wide + nose), corner(outer - nose)],
    oneOf: true,
    note: thread ? `60 degrees, ${hand}` : `width ${wide}, ${hand}`,
  };
}
