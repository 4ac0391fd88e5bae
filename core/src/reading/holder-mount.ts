import { addScaled, dot, fromZAndX, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { type FaceLook, lookAtFaces, reachAlong } from './face-table.ts';
import { flangeOf } from './flange.ts';
import { tidyAcross } from './foot.ts';
import type { FoundConnection, Shank } from './found.ts';
import { extentOfFace, stretches } from './round-groups.ts';
import type { StackedCutter } from './stacked-cutter.ts';
import { isTurnedAbout, radiusAbout } from './turned-faces.ts';

interface Held {
  /** A cutter in several solids, which knows its cutting end. */
  readonly stacked?: StackedCutter | undefined;
  /** It holds nothing: a head that is wider than its shank is no flange. */
  readonly isCutter?: boolean;
}

/** The mount of holders, adapters, cutters and blocks: the taper, the flange, or where the cutting end is, tells which way the work lies. */
export function readHolder(shank: Shank, tool: readonly BodyGeometry[], { stacked, isCutter = false }: Held = {}): FoundConnection {
  const place = (z: Vec3, position: number, confidence: number, evidence: string, faces = shank.faces): FoundConnection => ({
    frame: fromZAndX(addScaled(shank.origin, z, position), z, shank.index ?? tidyAcross(z)),
    connection: shank.connection,
    confidence,
    evidence: `${shank.evidence}; ${evidence}`,
    faces,
    tellsX: shank.index !== undefined,
  });
  if (shank.work && shank.plane !== undefined) {
    const sense = dot(shank.work, shank.direction) > 0 ? 1 : -1;
    return place(shank.work, shank.plane * sense, shank.confidence, shank.connection.standard === 'PSC' ? 'at the flange' : 'at the gauge diameter');
  }
  const rearOf = (z: Vec3) => Math.min(...tool.map((b) => reachAlong(b, z)[0])) - dot(shank.origin, z);
  if (stacked) {
    const flange = flangeOf(tool, shank, stacked.work);
    // A head as wide as it cuts is no flange that it is pushed in to.
    const isSeatedOn = flange && Math.abs(flange.reach - stacked.radius) > 0.02 * stacked.radius;
    const sure = shank.confidence * stacked.confidence;
    if (isSeatedOn) return place(stacked.work, flange.position, sure, flange.evidence, [...shank.faces, ...flange.faces]);
    return place(stacked.work, rearOf(stacked.work), Math.max(sure, 0.97 * stacked.confidence), `rear end, away from what cuts: ${stacked.evidence}`);
  }
  const options = (shank.work ? [shank.work] : [shank.direction, scale(shank.direction, -1)]).map((z) => {
    const flange = flangeOf(tool, shank, z);
    return { z, flange: flange && isCutter && !isCollar(tool, shank, z, flange) ? undefined : flange };
  });
  options.sort((a, b) => (b.flange?.area ?? 0) - (a.flange?.area ?? 0));
  const [best, other] = options;
  if (best.flange) {
    const clear = !other?.flange || best.flange.area > 1.5 * other.flange.area;
    return place(best.z, best.flange.position, shank.confidence * (clear || shank.work ? 1 : 0.8), best.flange.evidence, [
      ...shank.faces,
      ...best.flange.faces,
    ]);
  }
  if (shank.work) return place(shank.work, rearOf(shank.work), shank.confidence, 'rear end, away from what cuts');
  // A plain round piece: the cutting end is where the faces are that are neither round about the axis nor flat across it.
  const ends = shapedSide(shank, tool);
  const z = scale(shank.direction, ends.sense);
  return place(
    z,
    rearOf(z),
    ends.sure ? Math.max(0.86, shank.confidence) : 0.6 * shank.confidence,
    ends.sure ? 'rear end, away from the flutes' : 'no flange found, rear end taken',
  );
}

// mm. A collar is narrower again behind this.
const WIDEST_COLLAR = 25;
// A flange that a cutter is pushed in to: in front of it the tool becomes narrower.
function isCollar(
  tool: readonly BodyGeometry[],
  { origin }: Shank,
  work: Vec3,
  { position, reach }: { readonly position: number; readonly reach: number },
): boolean {
  const beyond = position + Math.min(WIDEST_COLLAR, 1.2 * reach);
  const widest = Math.max(...tool.map((b) => radiusAbout(b, { origin, direction: work }, (p) => dot(subtract(p, origin), work) > beyond)));
  return widest > 0 && widest < 0.95 * reach;
}

// Which way along the shank the work lies: where the faces are that are not of revolution about its axis, flats of the shank apart; else away from the end that the
// shank is at.
function shapedSide(shank: Shank, tool: readonly BodyGeometry[]): { sense: 1 | -1; sure: boolean } {
  const spans = tool.map((b) => reachAlong(b, shank.direction));
  const [low, high] = [Math.min(...spans.map((s) => s[0])), Math.max(...spans.map((s) => s[1]))];
  const middle = (low + high) / 2;
  const start = dot(shank.origin, shank.direction);
  const held = heldStretch(shank, tool);
  const isFlat = (f: FaceLook) => {
    const [from, to] = extentOfFace(f, shank.origin, shank.direction);
    return f.surface.kind === 'plane' && from > held.from - 0.5 && to < held.to + 0.5;
  };
  let [moment, area] = [0, 0];
  for (const f of tool.flatMap(lookAtFaces)) {
    if (isTurnedAbout(f, shank) || (f.surface.kind === 'plane' && Math.abs(dot(f.surface.normal, shank.direction)) > 0.999) || isFlat(f)) continue;
    moment += f.area * (dot(f.centre, shank.direction) - middle);
    area += f.area;
  }
  const lean = area > 0 ? moment / area / (high - low) : 0;
  if (area > 20 && Math.abs(lean) > 0.08) return { sense: lean < 0 ? -1 : 1, sure: true };
  const beside = (middle - start - (held.from + held.to) / 2) / (high - low);
  return { sense: beside < 0 ? -1 : 1, sure: false };
}

// The longest stretch of a shank without a gap: lands of teeth as wide as it is may lie on the same cylinder.
function heldStretch({ faces, origin, direction, from, to }: Shank, tool: readonly BodyGeometry[]): { from: number; to: number } {
  const spans = faces.flatMap((f) => {
    const body = tool.find((b) => b.id === f.body);
    if (!body) return [];
    const [low, high] = extentOfFace({ body, index: f.face }, origin, direction);
    return [{ from: low, to: high }];
  });
  const longest = stretches(spans, SMALL_GAP)
    .map((parts) => ({ from: Math.min(...parts.map((p) => p.from)), to: Math.max(...parts.map((p) => p.to)) }))
    .sort((a, b) => b.to - b.from - (a.to - a.from));
  return longest[0] ?? { from, to };
}
// mm.
const SMALL_GAP = 0.5;
