import { addScaled, boundsDiagonal, cross, dot, type Frame, length, normalize, roundTo, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import type { Corner } from './corner.ts';
import { cornersOf } from './corners.ts';
import { across, reachAlong } from './face-table.ts';
import type { FoundConnection } from './found.ts';

/** A grooving or parting insert that stands alone: a stick that cuts with its end, over its whole width. */
export interface StickInsert {
  readonly mount: FoundConnection;
  /** Its corners, those of the end that the mount looks at first: two, or one that is a full radius. */
  readonly corners: readonly Corner[];
  readonly confidence: number;
  readonly evidence: string;
}

// mm. Widths of cut, lengths and heights of what is sold.
const WIDEST = 13;
const LONGEST = 50;
const HIGHEST = 12;
const LEAST_HIGH = 1.2;
// Times its width that it is long at least.
const SLIM = 1.5;
// mm. The edge is as wide as the stick anywhere: what goes in below it by its clearance is not the edge.
const AS_WIDE = 0.04;
const SQUARE = [65, 115] as const;
const FULL = 14;
const LARGEST_RADIUS = 2.5;
// mm. Between two corners at the ends of an edge.
const LEAST_EDGE = 0.05;
// Cosine of 8 degrees, and mm.
const NEARLY = 0.99;
const LONG_EDGE = 2;
const SAME_WAY = 1 - 1e-7;
const MOST_WAYS = 6;
// mm. Nothing reaches further than the foremost corner.
const FOREMOST = 0.05;

/** A body as a grooving insert; undefined where it is none. */
export function findStickInsert(body: BodyGeometry): StickInsert | undefined {
  if (boundsDiagonal(body.bbox) > Math.hypot(LONGEST, WIDEST, HIGHEST)) return undefined;
  const corners = cornersOf(body);
  const ends = [...squareEnds(body, corners), ...fullEnds(body, corners)].sort((a, b) => b.width - a.width);
  const [first] = ends;
  if (!first) return undefined;
  const { rake, forward, low, back, width, corners: own } = first;
  const alike = ends.filter((e) => Math.abs(e.width - width) < 0.02);
  // Without clearance nothing tells its top from what it lies on.
  const isEitherWay = alike.some((e) => dot(e.rake, rake) < -0.99);
  // The other end of one that is turned round when it is worn.
  const other = alike.find((e) => dot(e.forward, forward) < -0.99 && dot(e.rake, rake) > 0.99);
  const side = cross(rake, forward);
  const [left, right] = reachAlong(body, side);
  const origin = addScaled(addScaled(scale(side, (left + right) / 2), forward, back), rake, low);
  const frame: Frame = { origin, z: forward, x: side };
  const said = own.length === 1 ? `a full radius of ${roundTo(own[0].radius, 3)}` : `two corners of radius ${roundTo(own[0].radius, 3)}`;
  return {
    mount: {
      frame,
      connection: { standard: 'bolted face', size: '' },
      confidence: isEitherWay ? 0.45 : other ? 0.6 : 0.75,
      evidence: 'its rear end, and what it lies on',
      faces: [],
    },
    corners: [...own, ...(other?.corners ?? [])],
    confidence: isEitherWay ? 0.6 : 0.85,
    evidence: `a stick with ${said} at its end, ${roundTo(width, 3)} wide`,
  };
}

interface End {
  readonly rake: Vec3;
  readonly forward: Vec3;
  /** Along the rake's direction and along the way forward: what it lies on, and its rear end. */
  readonly low: number;
  readonly back: number;
  readonly width: number;
  readonly corners: readonly Corner[];
}

// Two corners of one radius at the ends of one edge.
function squareEnds(body: BodyGeometry, corners: readonly Corner[]): End[] {
  const square = corners.filter((c) => c.includedDeg > SQUARE[0] && c.includedDeg < SQUARE[1] && c.radius <= LARGEST_RADIUS);
  return square.flatMap((a, i) =>
    square.slice(i + 1).flatMap((b) => {
      if (dot(a.rake, b.rake) < 0.999 || Math.abs(a.radius - b.radius) > 0.02) return [];
      const between = across(subtract(b.centre, a.centre), a.rake);
      // One above the other they have no edge between them.
      if (length(between) < LEAST_EDGE) return [];
      const edge = normalize(between);
      // Each looks forward and to its own side.
      const isEnd = dot(a.towards, edge) < -0.4 && dot(b.towards, edge) > 0.4;
      // An edge may lead with one corner: its sides tell the way.
      const back = across(addScaled(sideOf(a, edge), sideOf(b, edge), 1), a.rake);
      if (!isEnd || Math.hypot(...back) < 1.5) return [];
      const forward = normalize(scale(back, -1));
      const square = cross(a.rake, edge);
      // In a mesh the sides are told from a few strips: mostly the edge stands square to them.
      const ways = [forward, scale(square, dot(square, forward) < 0 ? -1 : 1)].filter((way) => dot(way, forward) > NEARLY);
      return firstOf(ways, (way) => endOf(body, a.rake, way, Math.abs(dot(between, cross(a.rake, way))) + 2 * a.radius, [a, b]));
    }),
  );
}

// Of a corner's two edges the one that is not that in front.
const sideOf = ({ legs: [p, q] }: Corner, edge: Vec3): Vec3 => (Math.abs(dot(p, edge)) < Math.abs(dot(q, edge)) ? p : q);

// One corner that is half a circle.
const fullEnds = (body: BodyGeometry, corners: readonly Corner[]): End[] =>
  corners
    .filter((c) => c.includedDeg < FULL && c.radius >= 0.4)
    .flatMap((c) => {
      const forward = normalize(across(c.towards, c.rake));
      return firstOf([forward, ...edgesNearly(body, c.rake, forward)], (way) => endOf(body, c.rake, way, 2 * c.radius, [c]));
    });

// Ways that long straight edges of the body go, nearly forward: what an arc's ends tell of that may be some degrees off.
function edgesNearly(body: BodyGeometry, rake: Vec3, forward: Vec3): Vec3[] {
  const ways = body.edges.flatMap(({ curve, start, end }) => {
    const along = across(subtract(end, start), rake);
    return curve.kind === 'line' && length(along) > LONG_EDGE ? [normalize(scale(along, dot(along, forward) < 0 ? -1 : 1))] : [];
  });
  const near = ways.filter((way) => dot(way, forward) > NEARLY).sort((a, b) => dot(b, forward) - dot(a, forward));
  return near.filter((way, i) => i === 0 || dot(way, near[i - 1]) < SAME_WAY).slice(0, MOST_WAYS);
}

// What the first way that gives anything gives.
function firstOf(ways: readonly Vec3[], ends: (way: Vec3) => End[]): End[] {
  for (const way of ways) {
    const found = ends(way);
    if (found.length > 0) return found;
  }
  return [];
}

function endOf(body: BodyGeometry, rake: Vec3, forward: Vec3, width: number, corners: readonly Corner[]): End[] {
  const [low, high] = reachAlong(body, rake);
  const [back, front] = reachAlong(body, forward);
  const [left, right] = reachAlong(body, cross(rake, forward));
  const isStick = width <= WIDEST && front - back <= LONGEST && front - back >= SLIM * width && high - low <= HIGHEST && high - low >= LEAST_HIGH;
  // It cuts in front, over its whole width, and with its top: below that it goes back by its clearance.
  const behind = corners.map((c) => front - dot(c.centre, forward) - c.radius);
  const isFront = Math.min(...behind) < FOREMOST && behind.every((b) => b < 0.35 * width);
  return isStick && isFront && right - left - width < AS_WIDE ? [{ rake, forward, low, back, width, corners }] : [];
}
