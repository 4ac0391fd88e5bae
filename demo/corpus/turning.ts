// Turning tools and boring bars of the corpus. Drawn in the mount frame: Z along the shank towards the work, X radial, rake face up (+Y).
import { makeCylinder, makePlane, type Shape3D } from 'replicad';
import { compose, IDENTITY, type Motion, move, rotationAbout, turn, type Vec3 } from '#core/math';
import { engrave, hole, type P2, prismXZ, screw, turned } from '../shapes.ts';
import type { CorpusModel } from './corpus-model.ts';
import { closedDrawing, type InsertPlan, type InsertShape, layOutInsert, makeInsert, plus, polar, rad, SHAPE_ANGLES } from './insert-shapes.ts';
import type { Random } from './random.ts';

export const COLOURS = ['#8a8f96', '#6d747b', '#c9a227', '#b0b4b8', '#4f5358', '#3a6ea5', '#222222'];
const NAMES = ['Body', 'Import1', 'SOLID', 'Part_1', 'Boss-Extrude1', 'Revolve2', 'NONE', '7034421', 'COMPONENT'];
export const nameOf = (r: Random) => `${r.pick(NAMES)}${r.chance(0.5) ? r.whole(1, 40) : ''}`;

// IC with the thickness, hole and usual nose radii that go with it.
const SIZES: Record<number, { thickness: number; hole: number; noses: number[] }> = {
  6.35: { thickness: 2.38, hole: 2.8, noses: [0.2, 0.4] },
  9.525: { thickness: 3.97, hole: 4.4, noses: [0.4, 0.8] },
  12.7: { thickness: 4.76, hole: 5.16, noses: [0.4, 0.8, 1.2] },
  15.875: { thickness: 6.35, hole: 6.35, noses: [0.8, 1.2, 1.6] },
};

// Holder styles (ISO 5608): shape and entering angle that go together.
const STYLES: readonly [InsertShape, number][] = [
  ['C', 95],
  ['C', 75],
  ['D', 93],
  ['D', 107.5],
  ['V', 93],
  ['V', 107.5],
  ['T', 91],
  ['T', 60],
  ['S', 75],
  ['S', 45],
  ['W', 95],
];
const USUAL_WF: Record<number, number> = { 12: 16, 16: 20, 20: 25, 25: 32, 32: 40 };

interface Head {
  readonly plan: InsertPlan;
  readonly tilt: Motion;
  readonly turns: readonly [aboutX: number, aboutZ: number];
  readonly tilted: boolean;
  readonly insert: Shape3D;
}

// Turns by the two angles of a pocket about the furthest point of the nose, which stays at the centre height.
function tiltAbout(at: P2, aboutX: number, aboutZ: number): Motion {
  const point: Vec3 = [at[0], 0, at[1]];
  return compose(rotationAbout(point, [0, 0, 1], rad(aboutZ)), rotationAbout(point, [1, 0, 0], rad(aboutX)));
}
const tiltShape = (shape: Shape3D, at: P2, aboutX: number, aboutZ: number): Shape3D =>
  shape.rotate(aboutX, [at[0], 0, at[1]], [1, 0, 0]).rotate(aboutZ, [at[0], 0, at[1]], [0, 0, 1]);

/** Where the nose centre must be for the virtual tip (x, z) to be at `at`. */
const noseFor = (at: P2, mainDeg: number, sideDeg: number, r: number): P2 => {
  // The nose reaches furthest along an axis where neither edge goes beyond it that way.
  const reaches = (axis: P2) => Math.max(dot2(polar(mainDeg), axis), dot2(polar(sideDeg), axis)) <= 1e-9;
  return [at[0] - (reaches([1, 0]) ? r : 0), at[1] - (reaches([0, 1]) ? r : 0)];
};
const dot2 = (a: P2, b: P2) => a[0] * b[0] + a[1] * b[1];

function makeHead(r: Random, shape: InsertShape, ic: number, mainDeg: number, sideDeg: number, tip: P2): Head {
  const size = SIZES[ic];
  const negative = r.chance(0.5) && ic > 7;
  const noseRadius = r.pick(size.noses);
  const noseCentre = noseFor(tip, mainDeg, sideDeg, noseRadius);
  const plan: InsertPlan = {
    shape,
    inscribedCircle: ic,
    thickness: size.thickness,
    noseRadius,
    clearanceDeg: negative ? 0 : r.pick([7, 11, 5]),
    holeDiameter: size.hole,
    mainDeg,
    sideDeg,
    noseCentre,
  };
  const { towards } = layOutInsert(plan);
  const at = plus(noseCentre, towards, noseRadius);
  const tilted = negative;
  // Up towards the back on both sides: so the flanks of an insert without clearance are free.
  const [ax, az] = tilted ? [r.pick([6, 5]), r.pick([-6, -5])] : [0, 0];
  const insert = makeInsert(plan, { groove: r.chance(0.6), hole: r.chance(0.85) });
  return { plan, tilt: tilted ? tiltAbout(at, ax, az) : IDENTITY, turns: [ax, az], tilted, insert: tilted ? tiltShape(insert, at, ax, az) : insert };
}

const seen = (m: Motion, deg: number): number => {
  const d = turn(m, [polar(deg)[0], 0, polar(deg)[1]]);
  return (Math.atan2(d[2], d[0]) * 180) / Math.PI;
};

function trueTip(head: Head, hand: 'right' | 'left' | 'neutral') {
  const { plan, tilt } = head;
  const [x, z] = plan.noseCentre;
  // A tilted edge is seen a little turned, in degrees.
  const turned = seen(tilt, plan.mainDeg) - seen(IDENTITY, plan.mainDeg);
  return { noseRadius: plan.noseRadius, noseCentre: move(tilt, [x, 0, z]), turned, hand };
}

// The pocket: room for the insert and what lies under it, with everything above free.
function pocket(head: Head, depth: number): Shape3D {
  const { plan } = head;
  const { corners, middle, towards } = layOutInsert(plan);
  const out = corners.map((p): P2 => {
    const v: P2 = [p[0] - middle[0], p[1] - middle[1]];
    const ahead = dot2(v, towards);
    return ahead > 0 ? plus(p, towards, plan.inscribedCircle * 0.6) : p;
  });
  const room = (closedDrawing(hull([...corners, ...out])).sketchOnPlane('XZ', [0, 8, 0]) as { extrude(d: number): Shape3D }).extrude(8 + depth);
  const at = plus(plan.noseCentre, towards, plan.noseRadius);
  return head.tilted ? tiltShape(room, at, ...head.turns) : room;
}
/** The convex hull of points in the plane, counter-clockwise. */
export function hull(points: readonly P2[]): P2[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly P2[]) => {
    const out: P2[] = [];
    for (const p of list) {
      while (out.length >= 2) {
        const [a, b] = [out[out.length - 2], out[out.length - 1]];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 1e-9) break;
        out.pop();
      }
      out.push(p);
    }
    return out.slice(0, -1);
  };
  return [...half(sorted), ...half([...sorted].reverse())];
}

const shrunk = (head: Head, by: number): P2[] => {
  const { corners, middle } = layOutInsert(head.plan);
  return corners.map(([x, z]): P2 => [middle[0] + (x - middle[0]) * by, middle[1] + (z - middle[1]) * by]);
};

type Body = CorpusModel['bodies'][number];

// Shim, screw or clamp: what holds the insert.
function hardware(r: Random, head: Head, shim: number): Body[] {
  const { plan } = head;
  const { middle, towards, corners } = layOutInsert(plan);
  const at = plus(plan.noseCentre, towards, plan.noseRadius);
  const tilt = (s: Shape3D) => (head.tilted ? tiltShape(s, at, ...head.turns) : s);
  const out: Body[] = [];
  const colour = () => r.pick(COLOURS);
  if (shim > 0) {
    const outline = closedDrawing(corners.map(([x, z]): P2 => [middle[0] + (x - middle[0]) * 0.98, middle[1] + (z - middle[1]) * 0.98]));
    const plate = (outline.fillet(plan.noseRadius).sketchOnPlane('XZ', [0, -plan.thickness, 0]) as { extrude(d: number): Shape3D }).extrude(shim);
    out.push({
      shape: tilt(plate.cut(makeCylinder(plan.holeDiameter * 0.4, 20, [middle[0], 0, middle[1]], [0, -1, 0]))),
      name: nameOf(r),
      colour: colour(),
      role: 'hardware',
    });
  }
  if (r.chance(0.75)) {
    const d = plan.holeDiameter;
    out.push({
      shape: tilt(screw(d * 0.95, d * 0.7, plan.thickness + shim + d, [middle[0], 0.15, middle[1]])),
      name: nameOf(r),
      colour: colour(),
      role: 'hardware',
    });
  } else {
    const back = plus(middle, towards, -plan.inscribedCircle * 1.1);
    const side: P2 = [-towards[1], towards[0]];
    const finger: P2[] = [plus(plus(middle, towards, 0.5), side, 1.6), plus(plus(middle, towards, 0.5), side, -1.6), plus(back, side, -4), plus(back, side, 4)];
    out.push({
      shape: tilt(prismXZ(finger, 4.2, 4.1).cut(hole(1.8, 8, [back[0] + towards[0] * 3, 6, back[1] + towards[1] * 3], [0, -1, 0]))),
      name: nameOf(r),
      colour: colour(),
      role: 'hardware',
    });
  }
  return out;
}

const mirrored = (bodies: Body[]): Body[] => bodies.map((b) => ({ ...b, shape: b.shape.mirror('XZ') }));
const flipY = ([x, y, z]: Vec3): Vec3 => [x, -y, z];

/** Makes one solid of body and insert, as some vendors ship. */
const fuse = (body: Shape3D, insert: Shape3D): Shape3D => body.fuse(insert);

/** An outside turning tool. */
export function turningTool(r: Random, fused: boolean): CorpusModel {
  const h = r.pick([12, 16, 20, 25, 32]);
  const [shape, entering] = r.pick(STYLES);
  const ic = h <= 12 ? 6.35 : h <= 16 ? 9.525 : r.pick([9.525, 12.7, h >= 25 ? 15.875 : 12.7]);
  const long = r.pick([100, 125, 150]) + (r.chance(0.2) ? r.round(0, 9) : 0);
  const left = r.chance(0.4);
  const wf = USUAL_WF[h] + (r.chance(0.2) ? r.round(-1, 1) : 0);
  const head = makeHead(r, shape, ic, -entering, -(entering + SHAPE_ANGLES[shape]), [wf, long]);
  const { middle } = layOutInsert(head.plan);
  const neck = Math.min(long - 20, Math.min(...shrunk(head, 1).map((p) => p[1])) - 6);
  const outline = hull([[0, neck - 12], [h, neck - 12], [0, neck + 4], ...shrunk(head, 0.86)]);
  let body: Shape3D = prismXZ(
    [
      [0, 0],
      [h, 0],
      [h, neck],
      [0, neck],
    ],
    0,
    h,
  );
  if (r.chance(0.6)) body = body.chamfer(r.pick([0.5, 1]), (e) => e.inDirection('Z'));
  body = body.fuse(prismXZ(outline, 0, h));
  if (r.chance(0.4)) body = body.fuse(prismXZ(outline, -h + 0.5, h * 0.25 + 0.5));
  const shim = head.plan.clearanceDeg === 0 && !fused && r.chance(0.7) ? 3.18 : 0;
  body = body.cut(pocket(head, head.plan.thickness + shim));
  if (r.chance(0.4)) body = body.cut(hole(2.5, neck - 8, [h / 2, -h / 2, -1], [0, 0, 1]));
  if (r.chance(0.5)) body = body.cut(hole(2, h + 2, [h * 0.3, 1, neck - 14], [0, -1, 0]));
  if (r.chance(0.5)) body = engrave(body, r.pick(['H-25', 'HF-1', '2516']), makePlane('YZ', [h, -h / 2, 25]), Math.min(6, h / 3), 0.3);
  if (!fused) body = body.cut(hole(head.plan.holeDiameter * 0.38, head.plan.thickness + shim + 9, [middle[0], 0, middle[1]], [0, -1, 0]));
  const tip = trueTip(head, left ? 'left' : 'right');
  const colours = [r.pick(COLOURS), r.pick(COLOURS)];
  let bodies: Body[] = fused
    ? [{ shape: fuse(body, head.insert), name: nameOf(r), colour: colours[0], role: 'tool body' }]
    : [
        { shape: body, name: nameOf(r), colour: colours[0], role: 'tool body' },
        { shape: head.insert, name: nameOf(r), colour: colours[1], role: 'cutting' },
        ...hardware(r, head, shim),
      ];
  let noseCentre = tip.noseCentre;
  let origin: Vec3 = [0, 0, 0];
  if (left) {
    // Mirrored through the centre plane: the shank lies above it, and the rake face looks down.
    bodies = mirrored(bodies);
    noseCentre = flipY(noseCentre);
    origin = [0, 0, 0];
  }
  return {
    kind: 'turning',
    bodies: r.chance(0.5) ? bodies : [...bodies].reverse(),
    mount: { connection: { standard: 'square', size: `${h}x${h}` }, frame: { origin, z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [{ noseRadius: tip.noseRadius, noseCentre, enteringAngle: entering - tip.turned, includedAngle: includedSeen(head), hand: tip.hand }],
    note: `${shape} insert ${ic}, KAPR ${entering}${head.tilted ? ', tilted' : ''}`,
  };
}

const includedSeen = (head: Head): number => {
  const d = Math.abs(seen(head.tilt, head.plan.mainDeg) - seen(head.tilt, head.plan.sideDeg));
  return d > 180 ? 360 - d : d;
};

/** A boring bar with a round shank. */
export function boringBar(r: Random, fused: boolean): CorpusModel {
  const d = r.pick([10, 12, 16, 20, 25, 32]);
  const shape = r.pick(['C', 'D', 'T', 'W', 'V'] as const);
  const entering = { C: 95, D: r.pick([93, 107.5]), T: 91, W: 95, V: 107.5, S: 75 }[shape];
  const ic = d <= 16 ? 6.35 : r.pick([6.35, 9.525]);
  const long = r.pick([100, 125, 150, 200]);
  const left = r.chance(0.4);
  const wf = d / 2 + r.pick([1, 2, 3]) + (ic > 7 ? 2 : 0);
  const head = makeHead(r, shape, ic, 90 + entering, 90 + entering + SHAPE_ANGLES[shape], [wf, long]);
  const { middle } = layOutInsert(head.plan);
  const R = d / 2;
  const neck = Math.min(...shrunk(head, 1).map((p) => p[1])) - 4;
  let body: Shape3D = turned([
    [0, 0],
    [R - 0.6, 0],
    [R, 0.6],
    [R, long - 1],
    [R - 0.5, long - 0.6],
    [0, long - 0.6],
  ]);
  const outline = hull([[-R * 0.3, neck - 6], [R * 0.9, neck - 8], [-R * 0.3, long - 1.5], ...shrunk(head, 0.84)]);
  body = body.fuse(prismXZ(outline, 0, R * 0.75));
  body = body.cut(
    prismXZ(
      [
        [-R - 1, neck - r.between(0, 3)],
        [wf + 20, neck - 1],
        [wf + 20, long + 2],
        [-R - 1, long + 2],
      ],
      R + 2,
      R + 2,
    ),
  );
  body = body.cut(pocket(head, head.plan.thickness));
  const flats = r.whole(0, 3);
  const depth = R * r.pick([0.08, 0.1]);
  const flat = (angle: number) =>
    prismXZ(
      [
        [-R - 1, -1],
        [R + 1, -1],
        [R + 1, neck - 12],
        [-R - 1, neck - 12],
      ],
      R + 3,
      3 + depth,
    ).rotate(angle, [0, 0, 0], [0, 0, 1]);
  for (const angle of [0, 180, 90].slice(0, flats)) body = body.cut(flat(angle));
  if (r.chance(0.5)) body = body.cut(hole(R * 0.2, neck, [-R * 0.25, -R * 0.3, -1], [0, 0, 1]));
  if (r.chance(0.3) && flats > 0)
    body = engrave(
      body,
      r.pick(['H-16', '12-6']),
      makePlane('XY', [0, 0, 0])
        .pivot(-90, 'X')
        .translate([-R * 0.2, R - depth, 30]),
      R * 0.35,
      0.2,
    );
  if (!fused) body = body.cut(hole(head.plan.holeDiameter * 0.38, head.plan.thickness + 5, [middle[0], 0, middle[1]], [0, -1, 0]));
  const tip = trueTip(head, left ? 'left' : 'right');
  let bodies: Body[] = fused
    ? [{ shape: fuse(body, head.insert), name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' }]
    : [
        { shape: body, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' },
        { shape: head.insert, name: nameOf(r), colour: r.pick(COLOURS), role: 'cutting' },
        ...hardware(r, head, 0).slice(0, 1),
      ];
  let noseCentre = tip.noseCentre;
  if (left) {
    bodies = mirrored(bodies);
    noseCentre = flipY(noseCentre);
  }
  return {
    kind: 'boring',
    bodies: r.chance(0.5) ? bodies : [...bodies].reverse(),
    mount: { connection: { standard: 'cylindrical', size: d }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [{ noseRadius: tip.noseRadius, noseCentre, enteringAngle: entering + tip.turned, includedAngle: includedSeen(head), hand: tip.hand }],
    note: `${shape} insert ${ic}, KAPR ${entering}, ${flats} flats${head.tilted ? ', tilted' : ''}`,
  };
}
