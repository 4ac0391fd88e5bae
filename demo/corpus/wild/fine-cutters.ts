// Cutters with a thin or toothed front: thread mills, saws on a shank, countersinks, dovetail cutters.
import type { Random } from '../random.ts';
import { ofOneSolid } from './solid-cutters.ts';
import { type Flat, helicalGroove, lathe, plateXZ } from './solids.ts';
import type { WildModel, WildTip } from './wild-model.ts';

/** One of them, of one solid. */
export function fineCutter(r: Random): WildModel {
  const what = r.pick(['thread mill', 'thread mill', 'saw', 'saw', 'countersink', 'dovetail'] as const);
  const sd = r.pick([6, 8, 10, 12]);
  const hold = r.pick([36, 40, 45]);
  const start: Flat[] = [
    [0, 0],
    [sd / 2 - 0.4, 0],
    [sd / 2, 0.4],
    [sd / 2, hold],
  ];
  // What stands in front of the shank, from its end to the axis, and where the edges begin.
  let front: Flat[];
  let cuts: number;
  let within = 1;
  let teeth: { count: number; inner: number; wide: number; far: number } | undefined;
  let note: string;
  let tips: WildTip[] = [];
  if (what === 'thread mill') {
    const pitch = r.pick([0.8, 1, 1.25, 1.5]);
    const d = sd - r.pick([0, 1, 2]);
    const rings = r.pick([1, 3, 9, 13]);
    cuts = hold + r.pick([6, 14, 20]);
    const neck = d / 2 - 0.62 * pitch - 0.2;
    front = [
      [neck, hold],
      [neck, cuts],
    ];
    for (let k = 0; k < rings; k++) {
      const z = cuts + k * pitch;
      front.push([d / 2, z + pitch * 0.42], [d / 2, z + pitch * 0.58]);
      if (k < rings - 1) front.push([neck + 0.2, z + pitch * 0.95], [neck + 0.2, z + pitch * 1.05]);
    }
    front.push([neck, cuts + rings * pitch], [0, cuts + rings * pitch]);
    within = pitch;
    teeth = { count: r.pick([3, 4, 5]), inner: neck * 0.72, wide: d * 0.16, far: cuts + rings * pitch };
    note = `thread mill ${d}, pitch ${pitch}, ${rings} rings`;
  } else if (what === 'saw') {
    const d = r.pick([20, 25, 32, 40]);
    const thick = r.pick([0.6, 1, 1.6, 2.5]);
    cuts = hold + r.pick([8, 15]);
    front = [
      [sd * 0.4, hold],
      [sd * 0.4, cuts],
      [d / 2, cuts],
      [d / 2, cuts + thick],
      [0, cuts + thick],
    ];
    within = 0.3;
    teeth = { count: r.pick([12, 18, 24]), inner: d / 2 - 2, wide: 1.1, far: cuts + thick };
    note = `saw ${d} x ${thick}`;
  } else if (what === 'countersink') {
    const d = r.pick([12.4, 16.5, 20.5]);
    cuts = hold + 6;
    const flat = d * 0.12;
    const high = d / 2 - flat;
    front = [
      [d / 2, cuts],
      [d / 2, cuts + 2],
      [flat, cuts + 2 + high],
      [0, cuts + 2 + high],
    ];
    tips = [{ noseRadius: 0, noseCentre: [0, 0, cuts + 2 + high] }];
    if (d > sd) front.unshift([sd / 2, cuts]);
    within = 4;
    note = `countersink ${d}, 90`;
  } else {
    const d = r.pick([16, 20, 25]);
    const high = r.pick([4, 6.3]);
    cuts = hold + 8;
    const narrow = d / 2 - high * Math.tan((45 * Math.PI) / 180);
    front = [
      [Math.min(sd * 0.4, narrow - 0.3), hold],
      [Math.min(sd * 0.4, narrow - 0.3), cuts],
      [narrow, cuts],
      [d / 2, cuts + high],
      [0, cuts + high],
    ];
    teeth = { count: 6, inner: narrow * 0.9, wide: 1.4, far: cuts + high };
    note = `dovetail ${d}, 45`;
  }
  let body = lathe([...start, ...front]);
  const d = Math.max(...front.map(([x]) => x)) * 2;
  if (teeth) {
    const { count, inner, wide, far } = teeth;
    for (let k = 0; k < count; k++)
      body = body.cut(
        plateXZ(
          [
            [inner, cuts - 0.2],
            [d, cuts - 0.2],
            [d, far + 2],
            [inner, far + 2],
          ],
          wide / 2,
          wide,
        ).rotate((360 * k) / count + 8, [0, 0, 0], [0, 0, 1]),
      );
  } else for (let k = 0; k < 3; k++) body = body.cut(helicalGroove(d * 0.3, d * 0.5, 14 * d, cuts + 1, cuts + d, 120 * k + 10));
  return ofOneSolid('fine cutter', body, sd, { tips, cutsFrom: { at: cuts, within }, note });
}
