// Station blocks of the corpus. Mount frame: Z out of the turret, X towards the teeth of the shank or along the foot's key.
import { makeBaseBox, makePlane, type Shape3D } from 'replicad';
import { engrave, hole, type P2, prismXZ, screw, turned } from '../shapes.ts';
import type { CorpusModel, MarkedPlace } from './corpus-model.ts';
import type { Random } from './random.ts';
import { COLOURS, nameOf } from './turning.ts';

// DIN 69880: shank, flange, length.
const VDI: Record<number, [number, number]> = { 20: [50, 40], 25: [58, 48], 30: [68, 55], 40: [83, 63], 50: [98, 78] };

/** A static block: a serrated shank or a flat foot, with a bore along or across, or a slot for square shanks. */
export function stationBlock(r: Random): CorpusModel {
  const flatFoot = r.chance(0.25);
  const size = r.pick([20, 25, 30, 40, 50]);
  const [flange, long] = VDI[size];
  const [w, d, h] = [flange + r.whole(8, 24), flange + r.whole(0, 14), r.pick([45, 55, 70])];
  const [aside, back] = [r.pick([0, 6, 10]), r.pick([0, -4])];
  const [x0, x1, yEdge] = [aside - w / 2, aside + w / 2, back - d / 2];
  let body: Shape3D = makeBaseBox(w, d, h).translate([aside, back, 0]);
  if (r.chance(0.6)) body = body.chamfer(r.pick([2, 4]), (e) => e.inDirection('Z'));
  if (r.chance(0.4)) body = body.fillet(1.5, (e) => e.inPlane('XY', h));
  let mount: MarkedPlace;
  if (flatFoot) {
    // A centring collar and a key under the foot.
    const collar = r.pick([30, 40]);
    body = body.fuse(
      turned([
        [0, -4],
        [collar / 2 - 0.5, -4],
        [collar / 2, -3.5],
        [collar / 2, 0.5],
        [0, 0.5],
      ]),
    );
    for (const [x, y] of [
      [flange * 0.36, flange * 0.36],
      [-flange * 0.36, flange * 0.36],
      [flange * 0.36, -flange * 0.36],
      [-flange * 0.36, -flange * 0.36],
    ])
      body = body.cut(hole(3.3, h + 2, [x, y, -1], [0, 0, 1])).cut(hole(5.5, 8, [x, y, h - 7], [0, 0, 1]));
    mount = { connection: { standard: 'bolted face', size: '' }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } };
  } else {
    const R = size / 2;
    body = body.fuse(
      turned([
        [0, -long],
        [R - 1.5, -long],
        [R, -long + 1.5],
        [R, -2],
        [R - 0.5, -1.6],
        [R - 0.5, 0.5],
        [0, 0.5],
      ]),
    );
    const pitch = size <= 25 ? 2.5 : 3.175;
    const foot = R * 0.76;
    const teeth: P2[] = [[foot - 0.6, -long + 5]];
    for (let z = -long + 6; z < -12; z += pitch) teeth.push([foot, z], [foot + pitch / 2, z + pitch / 2]);
    teeth.push([foot - 0.6, -10], [R + 10, -10], [R + 10, -long + 5]);
    body = body.cut(prismXZ(teeth, R + 2, size + 4));
    mount = { connection: { standard: 'VDI', size }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } };
  }
  const seats: MarkedPlace[] = [];
  const bodies: CorpusModel['bodies'][number][] = [];
  const type = r.pick(['along', 'across', 'slot'] as const);
  if (type === 'along') {
    const bore = r.pick([16, 20, 25, 32].filter((b) => b < flange * 0.55));
    body = body.cut(hole(bore / 2, h - 8, [0, 0, 8], [0, 0, 1]));
    seats.push({ connection: { standard: 'cylindrical', size: bore }, frame: { origin: [0, 0, h], z: [0, 0, 1], x: [1, 0, 0] } });
    for (const z of [h * 0.45, h * 0.75]) {
      body = body.cut(hole(3.5, d, [0, 0, z], [0, -1, 0]));
      bodies.push({
        shape: screw(7, 6, 14, [0, 0, 0])
          .rotate(180, [0, 0, 0], [0, 0, 1])
          .translate([0, yEdge + 1, z]),
        name: nameOf(r),
        colour: r.pick(COLOURS),
        role: 'hardware',
      });
    }
  } else if (type === 'across') {
    const bore = r.pick([12, 16, 20, 25].filter((b) => b < h * 0.45));
    const z = Math.max(h * 0.55, bore / 2 + 8);
    body = body.cut(hole(bore / 2, 2 * w + 60, [-w, 0, z], [1, 0, 0]));
    seats.push({ connection: { standard: 'cylindrical', size: bore }, frame: { origin: [x1, 0, z], z: [1, 0, 0], x: [0, 0, 1] } });
    seats.push({ connection: { standard: 'cylindrical', size: bore }, frame: { origin: [x0, 0, z], z: [-1, 0, 0], x: [0, 0, 1] } });
  } else {
    const s = r.pick([16, 20, 25].filter((v) => v < h * 0.5));
    const z0 = h - s - r.pick([6, 8]);
    // A channel through the block along X, open on one side (+Y), with clamping screws from above.
    const y0 = r.pick([-2, 4]);
    body = body.cut(
      prismXZ(
        [
          [-w, z0],
          [w + 20, z0],
          [w + 20, z0 + s],
          [-w, z0 + s],
        ],
        d,
        d - y0,
      ),
    );
    seats.push({ connection: { standard: 'square', size: `${s}x${s}` }, frame: { origin: [x1, y0, z0], z: [1, 0, 0], x: [0, 0, 1] } });
    seats.push({ connection: { standard: 'square', size: `${s}x${s}` }, frame: { origin: [x0, y0, z0], z: [-1, 0, 0], x: [0, 0, 1] } });
    for (const x of [x0 + w * 0.3, x0 + w * 0.7]) {
      body = body.cut(hole(4, h, [x, y0 + 8, h + 1], [0, 0, -1]).intersect(makeBaseBox(400, 400, h - z0 - s + 2).translate([0, 0, z0 + s - 1])));
      bodies.push({
        shape: screw(8, 7, h - z0 - s, [0, 0, 0])
          .rotate(90, [0, 0, 0], [1, 0, 0])
          .translate([x, y0 + 8, h + 1]),
        name: nameOf(r),
        colour: r.pick(COLOURS),
        role: 'hardware',
      });
    }
  }
  if (r.chance(0.4)) body = body.cut(hole(2.5, d, [w * 0.3, 0, 14], [0, -1, 0]));
  if (r.chance(0.4)) {
    body = engrave(body, r.pick(['H-20', 'HF-1']), makePlane('XZ', [aside - w * 0.3, yEdge, 10]), 6, 0.4);
  }
  bodies.unshift({ shape: body, name: nameOf(r), colour: r.pick(COLOURS), role: 'tool body' });
  return { kind: 'block', bodies, mount, seats, tips: [], note: `${mount.connection.standard} ${mount.connection.size} ${type}` };
}
