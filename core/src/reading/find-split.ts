import { dot, type Frame, roundTo } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { type FaceLook, lookAtFaces, reachAlong, sayFace } from './face-table.ts';
import { extentOfFace } from './round-groups.ts';
import { isTurnedAbout, radiusAbout } from './turned-faces.ts';

/** A stretch along the mount's Z of a body that is one solid, which has a role of its own. mm from the mount. */
export interface FoundSplit {
  readonly body: string;
  readonly from: number;
  readonly to: number;
  readonly role: 'cutting';
  readonly confidence: number;
  readonly evidence: string;
}

// Of the side of a stretch: less that is not turned is a flat, or an engraving.
const LEAST_FLUTES = 0.12;
// mm. As far as a body goes on in front of the last of its flutes.
const AT_THE_END = 0.12;

/**
 * Where a round cutter of one solid begins to cut: at its flutes, or where it becomes as wide as its end is. `mount`: its Z points to the work. Undefined where
 * neither shows.
 */
export function findSplit(body: BodyGeometry, mount: Frame): FoundSplit | undefined {
  const [low, high] = reachAlong(body, mount.z).map((v) => v - dot(mount.origin, mount.z));
  const faces = lookAtFaces(body);
  const line = { origin: mount.origin, direction: mount.z };
  const width = 2 * radiusAbout(body, line);
  const at = (f: FaceLook): [number, number] => extentOfFace(f, mount.origin, mount.z);
  const odd = faces.filter((f) => !isTurnedAbout(f, line) && !isAcross(f, mount));
  // Flutes run out at the working end; what ends before it is a flat of the shank, a screw's seat, an engraving.
  const flutes = withTouching(
    body,
    odd,
    odd.filter((f) => at(f)[1] > high - Math.max(AT_THE_END * (high - low), 0.5 * width)),
  );
  const area = flutes.reduce((a, f) => a + f.area, 0);
  const to = roundTo(high, 4);
  if (flutes.length > 0) {
    const from = Math.min(...flutes.map((f) => at(f)[0]));
    const side = Math.PI * width * (high - from);
    if (area > LEAST_FLUTES * side && from > low + 0.1 * (high - low))
      return {
        body: body.id,
        from: roundTo(from, 4),
        to,
        role: 'cutting',
        confidence: 0.85,
        evidence: `flutes begin there: ${flutes.length} faces that are not turned, up to the end`,
      };
  }
  return byWidth(body, mount, faces, [low, high]);
}

// Faces among others, and those that hang together with them: a flute may be drawn in patches.
function withTouching(body: BodyGeometry, all: readonly FaceLook[], from: readonly FaceLook[]): FaceLook[] {
  const left = new Map(all.map((f) => [f.index, f]));
  const out = [...from];
  for (const f of out) left.delete(f.index);
  for (let i = 0; i < out.length; i++)
    for (const e of body.faces[out[i].index].edges)
      for (const other of body.edges[e].faces) {
        const next = left.get(other);
        if (!next) continue;
        left.delete(other);
        out.push(next);
      }
  return out;
}

// Without flutes: the last wide stretch, where it is another one than the shank.
function byWidth(body: BodyGeometry, mount: Frame, faces: readonly FaceLook[], [low, high]: readonly [number, number]): FoundSplit | undefined {
  const runs = faces
    .flatMap((f) =>
      f.surface.kind === 'cylinder' && !f.surface.concave && isTurnedAbout(f, { origin: mount.origin, direction: mount.z })
        ? [{ f, r: f.surface.radius, span: extentOfFace(f, mount.origin, mount.z) }]
        : [],
    )
    .sort((a, b) => b.span[1] - a.span[1]);
  const [last] = runs;
  const shank = runs.find((c) => c.span[0] < low + 0.2 * (high - low));
  if (!last || !shank || last.f === shank.f || last.span[0] <= shank.span[1] - 1e-3 || last.span[1] - last.span[0] < 0.2 * last.r) return undefined;
  return {
    body: body.id,
    from: roundTo(last.span[0], 4),
    to: roundTo(high, 4),
    role: 'cutting',
    confidence: 0.6,
    evidence: `${sayFace(last.f)}: diameter ${(2 * last.r).toFixed(3)} from there to the end, no flutes are drawn`,
  };
}

const isAcross = ({ surface: s }: FaceLook, mount: Frame): boolean => s.kind === 'plane' && Math.abs(dot(s.normal, mount.z)) > 0.999;
