import { type EdgeRow, type Feed, FLATTEST_LEAD, lieAgainst } from '#core/carrier';
import { degFromRad, radFromDeg } from '#core/math';
import type { PathPiece } from '#core/outline';
import { isAboutAxis } from './cut/cutting-outline.ts';
import { sayMm } from './events.ts';

// mm. What cuts along its axis is fed no farther across it.
const SIDEWAYS = 0.01;
// mm that an edge cuts deeper than its nose: what is less is cut by the nose, whichever way it goes.
const BEYOND_NOSE = 0.1;
// Of the way along an axis: how far beside it.
const ALONG = 0.02;

/** Why an edge cannot take a move that cuts, on the average `depth` mm across its way; `text` goes on after "is fed". Undefined where nothing says that it cannot. */
export function wrongFeed(edge: EdgeRow, path: PathPiece, depth: number): { readonly text: string; readonly depth: number } | undefined {
  if (isAboutAxis(edge)) return Math.abs(path.to[1] - path.from[1]) > SIDEWAYS ? { text: 'across its axis; it cuts along it.', depth: 0 } : undefined;
  if (depth <= edge.own.noseRadius + BEYOND_NOSE || path.kind !== 'line' || edge.own.component.tips.length !== 1) return undefined;
  const feed = untakenFeed(edge, path);
  if (feed) return { text: `${feed === 'away from it' ? 'away from the chuck' : feed}, ${sayMm(depth)} deep: ${IDLE}`, depth };
  const slope = untakenSlope(edge, path);
  return slope && { text: `at ${slope.angle.toFixed(1)}° to the axis, ${sayMm(depth)} deep: ${slope.why}`, depth };
}

const IDLE = 'the edge that leads there does not cut.';

// The way of a straight move along an axis, where the one corner of a tool has no edge that leads there. Of a tool with several corners another one may.
function untakenFeed({ atWork: { feeds, side } }: EdgeRow, { from, to }: PathPiece): Feed | undefined {
  const [dz, dx] = [to[0] - from[0], to[1] - from[1]];
  if (!feeds || isSlope(dz, dx)) return undefined;
  const across = (side || 1) * dx > 0 ? 'from the axis' : 'to the axis';
  const along = dz < 0 ? 'towards the chuck' : 'away from it';
  const feed: Feed = Math.abs(dz) > Math.abs(dx) ? along : across;
  return feeds.some((f) => f.feed === feed) ? undefined : feed;
}

const isSlope = (dz: number, dx: number): boolean => Math.min(Math.abs(dz), Math.abs(dx)) > ALONG * Math.max(Math.abs(dz), Math.abs(dx));

// Degrees. A corner that goes nearly the way that it points is plunged: nothing says which edge leads.
const PLUNGED = 15;
// Degrees. What is less is the tilt of an edge, not how it was meant.
const LEAST_IN = 0.5;

// The same on a slope: the work lies on the side of the way that the corner looks to. What follows may not lie in what is left, and what leads has to cut.
function untakenSlope({ atWork: { legs, corner } }: EdgeRow, { from, to }: PathPiece): { readonly angle: number; readonly why: string } | undefined {
  const [dz, dx] = [to[0] - from[0], to[1] - from[1]];
  if (!legs || corner.x === 0 || corner.z === 0 || !isSlope(dz, dx)) return undefined;
  const length = Math.hypot(dz, dx);
  const [x, z] = [dx / length, dz / length];
  const across = (-z * corner.x + x * corner.z) / Math.SQRT2;
  if (Math.abs(across) < Math.sin(radFromDeg(PLUNGED))) return undefined;
  const work: readonly [number, number] = across > 0 ? [-z, x] : [z, -x];
  const { near, far } = lieAgainst(legs, [-x, -z], work);
  const angle = degFromRad(Math.atan2(Math.abs(dx), Math.abs(dz)));
  if (near < -LEAST_IN) return { angle, why: `the edge that follows lies ${(-near).toFixed(1)}° in what it leaves.` };
  return far < FLATTEST_LEAD ? { angle, why: IDLE } : undefined;
}
