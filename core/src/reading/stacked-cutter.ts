import { dot, length, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { across, lookAtFaces, reachAlong, sayFace } from './face-table.ts';
import { extentOfFace } from './round-groups.ts';
import { isTurnedAbout, type Line, radiusAbout } from './turned-faces.ts';

/** A round cutter in two or more solids one behind the other: which of them cuts, and which way the work lies. */
export interface StackedCutter {
  readonly cutting: BodyGeometry;
  /** The one at the other end, with the shank. */
  readonly held: BodyGeometry;
  /** Largest radius of what cuts, mm. */
  readonly radius: number;
  /** Towards the work, unit. */
  readonly work: Vec3;
  /** 0 to 1. */
  readonly confidence: number;
  readonly evidence: string;
}

const ORIGIN: Vec3 = [0, 0, 0];
// mm. Solids that are drawn one behind the other may have a little between them, or overlap a little.
const SAME_PLACE = 0.3;

/**
 * Solids that stand one behind the other on the shank's line and are whole (a hollow one is a nut or a holder) are a cutter in parts. What is said in
 * names as in ISO/TS 13399-80 counts most; then what only a cutting end has: a point, a ball, a corner radius, faces that are not turned.
 */
export function findStackedCutter(model: Model, line: Line): StackedCutter | undefined {
  const { direction } = line;
  const spans = model.bodies.map((body) => ({ body, span: reachAlong(body, direction) })).sort((a, b) => a.span[0] - b.span[0]);
  if (spans.length < 2 || spans.length > 4) return undefined;
  if (!spans.every(({ body }) => isWholeAbout(body, line))) return undefined;
  for (const [i, { span }] of spans.entries()) {
    if (i === 0) continue;
    const before = spans[i - 1].span;
    const shorter = Math.min(span[1] - span[0], before[1] - before[0]);
    if (Math.abs(span[0] - before[1]) > SAME_PLACE + 0.05 * shorter) return undefined;
  }
  const ends = [
    { body: spans[0].body, work: scale(direction, -1) },
    { body: spans[spans.length - 1].body, work: direction },
  ].map((e) => ({ ...e, ...endSigns(e.body, line, e.work) }));
  const [best, other] = ends[0].sign >= ends[1].sign ? ends : [ends[1], ends[0]];
  if (best.sign - other.sign < 0.05) return undefined;
  return {
    cutting: best.body,
    held: other.body,
    radius: radiusAbout(best.body, line),
    work: best.work,
    confidence: Math.min(0.93, 0.55 + 0.45 * (best.sign - other.sign)),
    evidence: best.evidence,
  };
}

// Its volume is that of what turns about the line, but for flutes and a coolant hole: no nut, no sleeve.
function isWholeAbout(body: BodyGeometry, line: Line): boolean {
  const faces = lookAtFaces(body);
  const widest = radiusAbout(body, line);
  // An insert that stands beside the line is no part of it.
  if (length(across(subtract(body.centroid, line.origin), line.direction)) > 0.04 * widest) return false;
  return faces.every((f) => !(isTurnedAbout(f, line) && f.surface.kind === 'cylinder' && f.surface.concave && f.surface.radius > 0.35 * widest && f.area > 0));
}

// How much an end looks like one that cuts, 0 to 1, and by what.
function endSigns(body: BodyGeometry, line: Line, work: Vec3): { sign: number; evidence: string } {
  if (/no[ _-]?cut|shank|schaft/i.test(body.name)) return { sign: 0, evidence: `called ${body.name}` };
  if (/(?:^|[ _-])cut(?:ting)?(?:$|[ _-])|flute|schneide/i.test(body.name)) return { sign: 0.95, evidence: `called ${body.name}` };
  const faces = lookAtFaces(body);
  const [low, high] = reachAlong(body, work);
  const wide = 2 * radiusAbout(body, line);
  const signs: { sign: number; evidence: string }[] = [{ sign: 0, evidence: '' }];
  const whole = faces.reduce((a, f) => a + f.area, 0);
  const odd = faces
    .filter((f) => !isTurnedAbout(f, line) && !(f.surface.kind === 'plane' && Math.abs(dot(f.surface.normal, work)) > 0.999))
    .reduce((a, f) => a + f.area, 0);
  // Flats of a shank are a small share.
  if (odd > 0.3 * whole) signs.push({ sign: 0.85, evidence: `flutes or teeth on ${body.id}` });
  for (const f of faces.filter((of) => isTurnedAbout(of, line))) {
    const [, end] = extentOfFace(f, ORIGIN, work);
    if (end < high - 0.02) continue;
    const s = f.surface;
    const say = sayFace(f);
    // A point ends on the axis, a chamfer leaves a face.
    if (s.kind === 'cone' && !s.concave && radiusAbout(body, line, (p) => dot(p, work) > high - 0.02) < 0.12 * wide)
      signs.push({ sign: 0.85, evidence: `${say}: it ends in a point` });
    else if (s.kind === 'sphere') signs.push({ sign: 0.85, evidence: `${say}: it ends in a ball` });
    else if (s.kind === 'torus') signs.push({ sign: 0.6, evidence: `${say}: a corner radius at its end` });
    // A shank's chamfer is small.
    else if (s.kind === 'cone' && !s.concave && end - extentOfFace(f, ORIGIN, work)[0] > 0.08 * wide)
      signs.push({ sign: 0.4, evidence: `${say}: a cone at its end` });
  }
  // Wider than what it stands on, and shorter than wide: a disc.
  if (high - low < 0.8 * wide) signs.push({ sign: 0.35, evidence: `${body.id} is short and ${wide.toFixed(1)} wide` });
  return signs.reduce((a, b) => (b.sign > a.sign ? b : a));
}
