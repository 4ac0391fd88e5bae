// Cutters with several inserts: equal plates about the axis, on more than one side of it.
import { angleBetweenRad, dot, type Frame, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { apexOf, type Corner } from './corner.ts';
import { cornersOf } from './corners.ts';
import { across, reachAlong } from './face-table.ts';
import { isAlike, plateOf, roundness } from './roles.ts';
import { type FoundCorner, rakeSide } from './tips.ts';
import type { Line } from './turned-faces.ts';

/** The inserts of a milling cutter or an indexable drill, the outermost first; `work` is the way along the axis that they are at. */
export interface InsertsAbout {
  readonly inserts: readonly BodyGeometry[];
  readonly work: Vec3;
  readonly confidence: number;
  readonly evidence: string;
}

// Radians. Inserts of one turning tool (both hands of a double one) lie on one side.
const OTHER_SIDE = 1;
// Sine: a plate of such a cutter stands along the axis and the radius, leaning by its rake.
const STANDS = 0.6;

/** Equal plates on more than one side of a line, standing along it; undefined where there are none. */
export function findInsertsAbout(model: Model, main: BodyGeometry, { origin, direction }: Line): InsertsAbout | undefined {
  const others = model.bodies.filter((b) => b !== main && b.volume < 0.2 * main.volume);
  const aside = (b: BodyGeometry) => across(subtract(b.centroid, origin), direction);
  const groups: BodyGeometry[][] = [];
  for (const body of others) {
    const group = groups.find(([first]) => isAlike(body, first));
    if (group) group.push(body);
    else groups.push([body]);
  }
  const rings = groups.filter((group) => {
    if (group.length < 2 || !group.every((b) => isStandingPlate(b, direction, aside(b)))) return false;
    const ways = group.map(aside).filter((v) => length(v) > 0.5);
    return ways.some((v) => angleBetweenRad(v, ways[0]) > OTHER_SIDE);
  });
  const ring = rings.sort((a, b) => b.length * b[0].volume - a.length * a[0].volume)[0];
  if (!ring) return undefined;
  const inserts = [...ring].sort((a, b) => length(aside(b)) - length(aside(a)));
  const [low, high] = reachAlong(main, direction);
  const at = inserts.reduce((s, b) => s + dot(b.centroid, direction) / inserts.length, 0);
  return {
    inserts,
    work: scale(direction, at > (low + high) / 2 ? 1 : -1),
    confidence: 0.92,
    evidence: `one of ${inserts.length} equal plates about the axis`,
  };
}

// A plate, no screw, whose flat sides look around the axis.
function isStandingPlate(body: BodyGeometry, axis: Vec3, aside: Vec3): boolean {
  if (roundness(body) > 0.75) return false;
  const plate = plateOf(body);
  if (!plate || Math.abs(dot(plate.normal, axis)) > STANDS) return false;
  return length(aside) < 0.5 * plate.thickness || Math.abs(dot(plate.normal, normalize(aside))) < STANDS + 0.25;
}

// mm. Corners that reach as far in front as this are told by how far out they are.
const AS_FAR = 0.35;

/** The corner in front and furthest from the axis of the outermost insert. `mount`: Z towards the work. */
export function cornerOfRing(model: Model, { inserts, confidence, evidence }: InsertsAbout, mount: Frame): FoundCorner | undefined {
  const [insert] = inserts;
  const plate = plateOf(insert);
  if (!plate) return undefined;
  const { top } = rakeSide(
    insert,
    plate.normal,
    model.bodies.filter((b) => b !== insert),
  );
  const out = (c: Corner) => length(across(subtract(apexOf(c), mount.origin), mount.z));
  const front = (c: Corner) => dot(subtract(apexOf(c), mount.origin), mount.z);
  const corners = cornersOf(insert).filter((c) => dot(c.rake, top) > 0.8 && c.includedDeg > 20);
  if (corners.length === 0) return undefined;
  const most = Math.max(...corners.map(front));
  const [best] = corners.filter((c) => front(c) > most - AS_FAR).sort((a, b) => out(b) - out(a));
  return {
    corner: { ...best, out: 0 },
    kind: 'nose',
    isFused: false,
    sure: 0.95 * confidence,
    evidence: `rounded edge ${best.edges[0] + 1} of ${insert.id}, in front and outermost; ${evidence}`,
  };
}
