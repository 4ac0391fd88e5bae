import { add, addScaled, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Surface } from '#core/mesh';
import type { FaceLook } from './face-table.ts';

/** A stretch of one cylinder: faces of the same axis, diameter and side, together. */
export interface CylinderRun {
  readonly radius: number;
  readonly concave: boolean;
  readonly from: number;
  readonly to: number;
  /** Share of the whole turn that its faces cover over its length. */
  readonly cover: number;
  readonly faces: readonly FaceLook[];
}

/** Round faces about one line: their common axis, and the cylinders and cones on it. Positions are along `direction` from `origin`. */
export interface RoundGroup {
  readonly origin: Vec3;
  readonly direction: Vec3;
  readonly faces: readonly FaceLook[];
  readonly cylinders: readonly CylinderRun[];
  readonly cones: readonly FaceLook[];
  readonly area: number;
}

// mm and radians: the same line, for faces of one vendor's solid.
const SAME_LINE = 2e-3;
const SAME_WAY = 2e-4;

type Axial = Extract<Surface, { axis: Vec3 }>;
const isAxial = (s: Surface): s is Axial => s.kind === 'cylinder' || s.kind === 'cone' || s.kind === 'torus';
const pointOf = (s: Axial): Vec3 => (s.kind === 'torus' ? s.centre : s.origin);

/** The round faces of bodies by their axis, the largest group first. */
export function groupRound(faces: readonly FaceLook[]): RoundGroup[] {
  const groups: { origin: Vec3; direction: Vec3; faces: FaceLook[] }[] = [];
  const round = faces.filter((f) => isAxial(f.surface) && f.area > 0).sort((a, b) => b.area - a.area);
  for (const face of round) {
    const s = face.surface as Axial;
    const own = groups.find((g) => {
      if (length(cross(g.direction, s.axis)) > SAME_WAY) return false;
      const d = subtract(pointOf(s), g.origin);
      return length(addScaled(d, g.direction, -dot(d, g.direction))) <= SAME_LINE;
    });
    if (own) own.faces.push(face);
    else groups.push({ origin: pointOf(s), direction: normalize(s.axis), faces: [face] });
  }
  return groups
    .map((g) => ({ ...g, cylinders: cylinderRuns(g), cones: g.faces.filter((f) => f.surface.kind === 'cone'), area: g.faces.reduce((a, f) => a + f.area, 0) }))
    .sort((a, b) => b.area - a.area);
}

function cylinderRuns(group: { origin: Vec3; direction: Vec3; faces: readonly FaceLook[] }): CylinderRun[] {
  const runs: { radius: number; concave: boolean; parts: { from: number; to: number; face: FaceLook }[] }[] = [];
  for (const face of group.faces) {
    const s = face.surface;
    if (s.kind !== 'cylinder') continue;
    const [from, to] = extentOfFace(face, group.origin, group.direction);
    const same = runs.find((r) => Math.abs(r.radius - s.radius) < 5e-3 && r.concave === s.concave);
    if (same) same.parts.push({ from, to, face });
    else runs.push({ radius: s.radius, concave: s.concave, parts: [{ from, to, face }] });
  }
  return runs
    .flatMap(({ radius, concave, parts }) => stretches(parts, Math.max(LONGEST_GAP, 3 * radius)).map((list) => ({ radius, concave, parts: list })))
    .map(({ radius, concave, parts }): CylinderRun => {
      const from = Math.min(...parts.map((p) => p.from));
      const to = Math.max(...parts.map((p) => p.to));
      const area = parts.reduce((a, p) => a + p.face.area, 0);
      return { radius, concave, from, to, cover: Math.min(1, area / (2 * Math.PI * radius * Math.max(1e-6, to - from))), faces: parts.map((p) => p.face) };
    })
    .sort((a, b) => b.radius * (b.to - b.from) - a.radius * (a.to - a.from));
}

// mm. Bores of one diameter that are further apart are two.
const LONGEST_GAP = 15;

/** Parts along a line, in groups with no gap between them that is larger than `gap`. */
export function stretches<T extends { readonly from: number; readonly to: number }>(parts: readonly T[], gap: number): T[][] {
  const out: T[][] = [];
  let end = -Infinity;
  for (const part of [...parts].sort((a, b) => a.from - b.from)) {
    if (part.from > end + gap) out.push([part]);
    else out[out.length - 1].push(part);
    end = Math.max(end, part.to);
  }
  return out;
}

/** Least and greatest position of a face along a line, from its mesh. */
export function extentOfFace({ body, index }: { body: BodyGeometry; index: number }, origin: Vec3, direction: Vec3): [number, number] {
  const { positions: p, triangles: t } = body.mesh;
  const shift = dot(origin, direction);
  let [low, high] = [Infinity, -Infinity];
  for (let i = 3 * body.faceStart[index]; i < 3 * body.faceStart[index + 1]; i++) {
    const k = 3 * t[i];
    const v = p[k] * direction[0] + p[k + 1] * direction[1] + p[k + 2] * direction[2] - shift;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return [low, high];
}

/** The same of a plane in several patches. */
export function extentOfPlane(
  { parts }: { readonly parts: readonly { body: BodyGeometry; index: number }[] },
  origin: Vec3,
  direction: Vec3,
): [number, number] {
  const spans = parts.map((p) => extentOfFace(p, origin, direction));
  return [Math.min(...spans.map((s) => s[0])), Math.max(...spans.map((s) => s[1]))];
}

/** Whether a group turns about a line. */
export const isAboutLine = (g: Pick<RoundGroup, 'origin' | 'direction'>, line: { readonly origin: Vec3; readonly direction: Vec3 }): boolean =>
  length(cross(g.direction, line.direction)) < 1e-3 && length(cross(subtract(g.origin, line.origin), line.direction)) < 0.05;

/** The point of a group's axis at a position. */
export const onAxis = (g: Pick<RoundGroup, 'origin' | 'direction'>, position: number): Vec3 => add(g.origin, scale(g.direction, position));
