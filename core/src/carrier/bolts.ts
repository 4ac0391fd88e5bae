import { dot, frameFromWorld, move, radFromDeg, roundTo, turn } from '#core/math';
import type { Model } from '#core/mesh';
import { threadThrough } from '#core/standards';
import { type Carrier, check, type Check, type ComponentRecord } from '#core/records';

type Bolt = NonNullable<Carrier['bolts']>[number];

// mm. A chamfer or a counterbore for a sleeve may lie between the foot and the hole.
const NEAR_FOOT = 6;
const LEAST_DEEP = 3;
const PARALLEL = 1 - 1e-6;
// mm. Halves of one hole have the same axis.
const SAME_AXIS = 0.05;
// What is called a bolt hole: M4 to M36.
const USUAL = [4, 40] as const;

/** The round holes in the foot of what is bolted on: where they are in X and Y of its mount, and the diameter that goes through; mm. */
export function footHoles({ mount, bodies }: Pick<ComponentRecord, 'mount' | 'bodies'>, model: Model): Bolt[] {
  if (!mount) return [];
  const inMount = frameFromWorld(mount.frame);
  const found: Bolt[] = [];
  for (const body of model.bodies) {
    if (bodies.find((b) => b.id === body.id)?.role === 'left out') continue;
    for (const { surface: s } of body.faces) {
      if (s.kind !== 'cylinder' || !s.concave || Math.abs(dot(s.axis, mount.frame.z)) < PARALLEL) continue;
      const [x, y, z] = move(inMount, s.origin);
      const other = z + turn(inMount, s.axis)[2] * s.length;
      const [low, high] = [Math.min(z, other), Math.max(z, other)];
      if (low > NEAR_FOOT || low < -NEAR_FOOT || high - low < LEAST_DEEP || 2 * s.radius < USUAL[0] || 2 * s.radius > USUAL[1]) continue;
      const same = found.findIndex((h) => Math.hypot(h.x - x, h.y - y) < SAME_AXIS);
      const hole = { x: roundTo(x, 4) + 0, y: roundTo(y, 4) + 0, diameter: roundTo(2 * s.radius, 4) };
      if (same < 0) found.push(hole);
      else if (hole.diameter < found[same].diameter) found[same] = hole;
    }
  }
  return found;
}

/** The bolts that the holes in the foot of a block are for: of each the widest thread that goes through (ISO 273). */
export const boltsThrough = (holes: readonly Bolt[]): Bolt[] =>
  holes.flatMap((h): Bolt[] => {
    const diameter = threadThrough(h.diameter);
    return diameter === undefined ? [] : [{ ...h, diameter }];
  });

// Bolts that have to find their holes, where there are as many.
const ENOUGH = 3;

/** Ways round in which a block usually sits: degrees about Z of its mount. */
export const TURNS = [0, 90, 180, 270] as const;

// How far each bolt is from the middle of a hole that lets it through, with the block turned; undefined where none does.
function offsOf(bolts: readonly Bolt[], holes: readonly Bolt[], turnDeg: number): (number | undefined)[] {
  const [c, s] = [Math.cos(radFromDeg(turnDeg)), Math.sin(radFromDeg(turnDeg))];
  const turned = holes.map((h) => ({ x: c * h.x - s * h.y, y: s * h.x + c * h.y, diameter: h.diameter }));
  return bolts.map((b) => {
    const near = turned.map((h) => ({ off: Math.hypot(h.x - b.x, h.y - b.y), play: (h.diameter - b.diameter) / 2 })).sort((p, q) => p.off - q.off)[0];
    return near && near.play >= 0 && near.off <= near.play + 1e-6 ? near.off : undefined;
  });
}

/** Whether the bolts of a station find their holes in the foot of what sits there, turned by some degrees about Z of the seat. */
export function checkBolts(first: ComponentRecord, model: Model | undefined, { bolts, connection, name }: Carrier, turnDeg: number): Check[] {
  if (!bolts || bolts.length === 0 || connection.standard !== 'bolted face' || !model || !first.mount) return [];
  const holes = footHoles(first, model);
  const fits = offsOf(bolts, holes, turnDeg);
  const off = fits.filter((f) => f !== undefined);
  const wanted = Math.min(ENOUGH, bolts.length);
  if (off.length >= wanted)
    return [
      check('bolts', 'pass', `${off.length} of ${bolts.length} bolts of ${name} find a hole in ${first.name}, ${roundTo(Math.max(...off), 3)} mm off at most`),
    ];
  const others = TURNS.filter((way) => offsOf(bolts, holes, way).filter((f) => f !== undefined).length >= wanted);
  const say = (list: readonly Bolt[]) => list.map((b) => `${roundTo(b.diameter, 2)} at ${roundTo(b.x, 2)}, ${roundTo(b.y, 2)}`).join('; ');
  const lost = bolts.filter((_, i) => fits[i] === undefined);
  const otherwise = others.length > 0 ? ` Turned by ${others.map((w) => `${w}°`).join(' or ')} it sits on them.` : '';
  const had = holes.length === 0 ? 'it has none' : `it has ${holes.length}: ${say(holes.slice(0, 8))}${holes.length > 8 ? ' …' : ''}`;
  return [
    check(
      'bolts',
      'fail',
      `${lost.length} of ${bolts.length} bolts of ${name} find no hole in the foot of ${first.name} (${say(lost.slice(0, 8))}); ${had}.${otherwise}`,
      {
        value: off.length,
        limit: wanted,
      },
    ),
  ];
}
