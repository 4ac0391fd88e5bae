// Cutters of one solid: drills, reamers, taps, mills and form cutters.
import type { Shape3D } from 'replicad';
import type { Random } from '../random.ts';
import { at, cylindrical } from './places.ts';
import { ARC, box, type Flat, helicalGroove, lathe, plateXZ, rod } from './solids.ts';
import type { WildModel, WildTip } from './wild-model.ts';

// A plain or flattened shank from the mount up.
function shank(r: Random, d: number, long: number): Shape3D {
  let s = lathe([
    [0, 0],
    [d / 2 - 0.5, 0],
    [d / 2, 0.5],
    [d / 2, long],
    [0, long],
  ]);
  if (d >= 10 && r.chance(0.3)) s = s.cut(box([d * 0.42, d], [-d, d], [long * 0.35, long * 0.35 + d * 0.7]));
  return s;
}

/** Drills, reamers, taps, mills and form cutters of one solid. */
export function solidCutter(r: Random): WildModel {
  const what = r.pick(['twist drill', 'step drill', 'end mill', 'ball end', 'reamer', 'tap', 'form cutter', 'T slot', 'drawn plain', 'centre drill'] as const);
  const d = r.pick([6, 8, 10, 12, 16]);
  const sd = what === 'tap' || what === 'T slot' || what === 'form cutter' ? r.pick([8, 10, 12]) : r.pick([d, d, d < 16 ? d + 2 : d]);
  const hold = r.pick([36, 40, 45, 48]);
  let cuts = hold;
  let end = 0;
  let body: Shape3D;
  let tips: WildTip[] = [];
  let within = 1.5;
  const flutes = (n: number, deep: number, round: number, lead: number, from: number, to: number) => {
    for (let k = 0; k < n; k++) body = body.cut(helicalGroove(round, deep, lead, from, to, (360 * k) / n + 15));
  };
  if (what === 'twist drill' || what === 'step drill') {
    const point = r.pick([118, 130, 140]);
    cuts = hold + r.pick([2, 6]);
    const long = 5 * d + 8;
    end = cuts + long;
    const high = d / 2 / Math.tan((point / 2) * ARC);
    const step = what === 'step drill' ? d * 1.35 : 0;
    body = shank(r, sd, hold).fuse(
      step > 0
        ? lathe([
            [0, hold - 0.01],
            [sd / 2, hold - 0.01],
            [sd / 2, hold],
            [step / 2, cuts],
            [step / 2, cuts + long * 0.5],
            [d / 2, cuts + long * 0.5 + (step - d) / 2],
            [d / 2, end - high],
            [0, end],
          ])
        : lathe([
            [0, hold - 0.01],
            [sd / 2, hold - 0.01],
            [sd / 2, hold],
            [d / 2, cuts],
            [d / 2, end - high],
            [0, end],
          ]),
    );
    const w = step || d;
    flutes(2, w * 0.5, w * 0.34, 5 * w, cuts + w * 0.4, end + 3);
    within = w;
    tips = [{ noseRadius: 0, noseCentre: [0, 0, end] }];
  } else if (what === 'end mill' || what === 'ball end') {
    cuts = hold + r.pick([0, 4]);
    end = cuts + 2.5 * d;
    const rc = what === 'ball end' ? d / 2 - 0.001 : r.pick([0, 0.5]);
    body = shank(r, sd, hold).fuse(
      lathe(
        [
          [0, hold - 0.01],
          [sd / 2, hold - 0.01],
          [sd / 2, hold],
          [d / 2, cuts],
          [d / 2, end],
          [0, end],
        ],
        [0, 0, 0, 0, rc, 0],
      ),
    );
    flutes(r.pick([2, 3, 4]), d * 0.52, d * 0.24, 4 * d, cuts + d * 0.3, end + 3);
    within = d;
    tips = [];
  } else if (what === 'reamer') {
    const neck = hold + 20;
    cuts = neck;
    end = neck + 30;
    body = shank(r, sd, hold).fuse(
      lathe([
        [0, hold - 0.01],
        [d * 0.4, hold - 0.01],
        [d * 0.4, neck],
        [d / 2, neck],
        [d / 2, end - 1],
        [d / 2 - 1, end],
        [0, end],
      ]),
    );
    for (let k = 0; k < 6; k++) body = body.cut(box([d * 0.3, d], [-d * 0.07, d * 0.09], [neck - 0.5, end + 1]).rotate(60 * k + 7, [0, 0, 0], [0, 0, 1]));
    within = 1;
  } else if (what === 'tap') {
    const p = 1.25;
    cuts = hold + 10;
    end = cuts + 22;
    const rr = d / 2;
    const teeth: Flat[] = [];
    for (let z = cuts; z < end - p; z += p) teeth.push([rr, z + p * 0.1], [rr - 0.6, z + p * 0.55]);
    body = shank(r, sd, hold).fuse(lathe([[0, hold - 0.01], [d * 0.36, hold - 0.01], [d * 0.36, cuts], ...teeth, [rr * 0.75, end], [0, end]]));
    for (let k = 0; k < 3; k++) body = body.cut(rod(d * 0.42, [Math.cos(k * 120 * ARC) * d * 0.5, Math.sin(k * 120 * ARC) * d * 0.5, cuts - 4], [0, 0, 1], 40));
    within = 5;
  } else if (what === 'form cutter' || what === 'T slot') {
    const w = what === 'T slot' ? r.pick([16, 21, 25]) : r.pick([14, 18]);
    const t = what === 'T slot' ? w * 0.35 : 9;
    cuts = hold + 8;
    end = cuts + t;
    body = shank(r, sd, hold).fuse(
      what === 'T slot'
        ? lathe([
            [0, hold - 0.01],
            [sd * 0.38, hold - 0.01],
            [sd * 0.38, cuts],
            [w / 2, cuts],
            [w / 2, end],
            [0, end],
          ])
        : lathe([
            [0, hold - 0.01],
            [sd * 0.38, hold - 0.01],
            [sd * 0.38, cuts],
            [w * 0.32, cuts],
            [w / 2, cuts + 3],
            [w / 2, cuts + 6],
            [w * 0.36, end],
            [0, end],
          ]),
    );
    const n = 6;
    for (let k = 0; k < n; k++)
      body = body.cut(
        plateXZ(
          [
            [w * 0.36, cuts - 2],
            [w, cuts - 2],
            [w, end + 2],
            [w * 0.36, end + 2],
          ],
          1.2,
          2.4,
        ).rotate((360 * k) / n + 11, [0, 0, 0], [0, 0, 1]),
      );
    within = 1;
  } else if (what === 'centre drill') {
    end = hold + 16;
    cuts = hold + 2;
    body = shank(r, sd, hold).fuse(
      lathe([
        [0, hold - 0.01],
        [sd / 2, hold - 0.01],
        [sd / 2, cuts],
        [sd * 0.16, cuts + sd * 0.34 * 1.732],
        [sd * 0.16, end - 1],
        [0, end],
      ]),
    );
    flutes(2, sd * 0.5, sd * 0.42, 60, cuts + 1, end + 3);
    within = 4;
    tips = [{ noseRadius: 0, noseCentre: [0, 0, end] }];
  } else {
    // Drawn without flutes: a wider cylinder in front of the shank.
    cuts = hold + 14;
    end = cuts + 26;
    const w = sd + r.pick([2, 4]);
    body = shank(r, sd, hold).fuse(
      lathe([
        [0, hold - 0.01],
        [sd * 0.45, hold - 0.01],
        [sd * 0.45, cuts],
        [w / 2, cuts],
        [w / 2, end],
        [0, end],
      ]),
    );
    within = 0.1;
  }
  return ofOneSolid('solid cutter', body, sd, { tips, cutsFrom: { at: cuts, within }, note: `${what} ${d}` });
}

/** A cutter of one solid on a plain shank that ends at its mount. */
export const ofOneSolid = (
  kind: WildModel['kind'],
  shape: Shape3D,
  shankDiameter: number,
  { note, ...rest }: Pick<WildModel, 'tips' | 'cutsFrom' | 'note'>,
): WildModel => ({
  kind,
  readAs: 'cutter',
  bodies: [{ shape, role: 'tool body' }],
  mount: at(0, cylindrical(shankDiameter)),
  seats: [],
  ...rest,
  note: `${note}, shank ${shankDiameter}`,
});
