// Grooving, parting and threading tools of the corpus.
import { type Shape3D } from 'replicad';
import type { Vec3 } from '#core/math';
import { hole, type P2, prismXZ, screw } from '../shapes.ts';
import type { CorpusModel, TrueTip } from './corpus-model.ts';
import { closedDrawing, rad } from './insert-shapes.ts';
import type { Random } from './random.ts';
import { COLOURS, hull, nameOf } from './turning.ts';

const flipY = ([x, y, z]: Vec3): Vec3 => [x, -y, z];

/** An outside grooving or parting tool: a stick insert with two corners or a full radius at its end. */
export function groovingTool(r: Random, fused: boolean): CorpusModel {
  const h = r.pick([16, 20, 25]);
  const long = r.pick([125, 150]);
  const wide = r.pick([2, 3, 4, 5]);
  const full = r.chance(0.3);
  const noseRadius = full ? wide / 2 : r.pick([0.2, 0.4]);
  const left = r.chance(0.4);
  const at = h - wide + r.pick([0, 0.5, 1]);
  const deep = r.pick([10, 14, 18]);
  const stick = r.pick([14, 18]);
  const taper = Math.tan(rad(2));
  // Outline from the cutting end backwards: slimmer behind the edge.
  const points: P2[] = [
    [at, long],
    [at + wide, long],
    [at + wide - 4 * taper, long - 4],
    [at + wide - 4 * taper, long - stick],
    [at + 4 * taper, long - stick],
    [at + 4 * taper, long - 4],
  ];
  // A whole half circle would leave no straight end: 0.02 mm of it stays.
  const nose = full ? wide / 2 - 0.01 : noseRadius;
  const outline = closedDrawing(points).fillet(nose, (f) => f.inList([points[0], points[1]]));
  const thick = r.pick([4, 5]);
  let insert = (outline.sketchOnPlane('XZ') as { extrude(d: number): Shape3D }).extrude(thick);
  if (r.chance(0.5))
    insert = insert.cut(
      prismXZ(
        [
          [at + 1, long - 1.2],
          [at + wide - 1, long - 1.2],
          [at + wide - 1, long - 3],
          [at + 1, long - 3],
        ],
        0.01,
        0.2,
      ),
    );
  const neck = long - deep - 8;
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
  if (r.chance(0.5)) body = body.chamfer(0.6, (e) => e.inDirection('Z'));
  body = body.fuse(
    prismXZ(
      [
        [0, neck - 1],
        [h, neck - 1],
        [h, neck + 6],
        [0, neck + 6],
      ],
      0,
      h,
    ),
  );
  // The blade that carries the insert, a little narrower than the groove.
  body = body.fuse(
    prismXZ(
      [
        [at + 0.25, neck],
        [at + wide - 0.25, neck],
        [at + wide - 0.25, long - 1.5],
        [at + 0.25, long - 1.5],
      ],
      5,
      5 + h * 0.8,
    ),
  );
  body = body.cut(
    prismXZ(hull(points.map(([x, z]): P2 => [x, z + 0.0])), 0, thick).fuse(
      prismXZ(
        [
          [at - 1, long - 8],
          [at + wide + 1, long - 8],
          [at + wide + 1, long + 2],
          [at - 1, long + 2],
        ],
        7,
        7,
      ),
    ),
  );
  if (r.chance(0.6)) body = body.cut(hole(2.1, 14, [h * 0.35, 0.5, neck - 4], [0, -1, 0]));
  let bodies: CorpusModel['bodies'][number][] = fused
    ? [{ shape: body.fuse(insert), name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' }]
    : [
        { shape: body, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' },
        { shape: insert, name: nameOf(r), colour: r.pick(COLOURS), role: 'cutting' },
        { shape: screw(6, 4, 12, [h * 0.35, 2.5, neck - 4]), name: nameOf(r), colour: r.pick(COLOURS), role: 'hardware' },
      ];
  // The corner has 88 degrees, as the sides fall back by 2.
  const inset = noseRadius / Math.tan(rad(44));
  const centres: Vec3[] = full
    ? [[at + wide / 2, 0, long - wide / 2]]
    : [
        [at + wide - inset, 0, long - noseRadius],
        [at + inset, 0, long - noseRadius],
      ];
  const hand = left ? 'left' : 'right';
  const tips: TrueTip[] = centres.map((c) => ({ noseRadius, noseCentre: left ? flipY(c) : c, hand }));
  if (left) bodies = bodies.map((b) => ({ ...b, shape: b.shape.mirror('XZ') }));
  return {
    kind: 'grooving',
    bodies: r.chance(0.5) ? bodies : [...bodies].reverse(),
    mount: { connection: { standard: 'square', size: `${h}x${h}` }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips,
    note: full ? `full radius ${wide / 2}` : `groove ${wide} wide`,
  };
}

/** An outside threading tool: a laydown triangle whose corner is a 60 degree thread profile. */
export function threadingTool(r: Random, fused: boolean): CorpusModel {
  const h = r.pick([16, 20, 25]);
  const long = r.pick([100, 125, 150]);
  const left = r.chance(0.4);
  const noseRadius = r.pick([0.1, 0.15, 0.2]);
  const ic = r.pick([9.525, 12.7]);
  const wf = h + r.pick([2, 4]);
  const along: P2 = [wf - ic * 0.6, long];
  // A triangle standing on its corner: edges 30 degrees to each side of Z.
  const sharp: P2 = [along[0], long - noseRadius + noseRadius / Math.sin(rad(30))];
  const side = ic * Math.sqrt(3);
  const corner = (deg: number): P2 => [sharp[0] + side * Math.cos(rad(deg)), sharp[1] + side * Math.sin(rad(deg))];
  const corners: P2[] = [sharp, corner(-120), corner(-60)];
  const middle: P2 = [sharp[0], sharp[1] - ic];
  const thick = 3.5;
  let insert = (closedDrawing(corners).fillet(noseRadius).sketchOnPlane('XZ') as { extrude(d: number): Shape3D }).extrude(thick);
  insert = insert.cut(hole(2, 10, [middle[0], 1, middle[1]], [0, -1, 0]));
  const inner = corners.map(([x, z]): P2 => [middle[0] + (x - middle[0]) * 0.8, middle[1] + (z - middle[1]) * 0.8]);
  const neck = Math.min(...inner.map((p) => p[1])) - 4;
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
  if (r.chance(0.5)) body = body.chamfer(0.8, (e) => e.inDirection('Z'));
  body = body.fuse(prismXZ(hull([[0, neck - 14], [h, neck - 14], [0, neck + 3], ...inner]), 0, h));
  const ahead = corners.map(([x, z]): P2 => [x, z > middle[1] ? z + 12 : z]);
  body = body.cut(prismXZ(hull([...corners, ...ahead]), 6, 6 + thick));
  if (!fused) body = body.cut(hole(1.6, 12, [middle[0], 0, middle[1]], [0, -1, 0]));
  let bodies: CorpusModel['bodies'][number][] = fused
    ? [{ shape: body.fuse(insert), name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' }]
    : [
        { shape: body, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' },
        { shape: insert, name: nameOf(r), colour: r.pick(COLOURS), role: 'cutting' },
        { shape: screw(5, 3.2, 9, [middle[0], 0.1, middle[1]]), name: nameOf(r), colour: r.pick(COLOURS), role: 'hardware' },
      ];
  const centre: Vec3 = [along[0], 0, long - noseRadius];
  if (left) bodies = bodies.map((b) => ({ ...b, shape: b.shape.mirror('XZ') }));
  return {
    kind: 'threading',
    bodies: r.chance(0.5) ? bodies : [...bodies].reverse(),
    mount: { connection: { standard: 'square', size: `${h}x${h}` }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [{ noseRadius, noseCentre: left ? flipY(centre) : centre, includedAngle: 60, hand: left ? 'left' : 'right' }],
    note: `60 degree profile, IC ${ic}`,
  };
}
