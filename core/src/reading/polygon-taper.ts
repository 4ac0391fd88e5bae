import { Matrix, solve } from 'ml-matrix';
import { addScaled, anyAcross, cross, dot, length, scale, subtract } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { nearestSize, PSC_TAPERS } from '#core/standards';
import { faceRadius, lookAtFaces, type PlaneLook, planesOf, refOf, sayFace } from './face-table.ts';
import type { RoundGroup } from './round-groups.ts';
import type { Shank } from './found.ts';

// mm. The lobes of ISO 26623 stand out by 0.7 mm at size 32 and more above; a round or hexagonal end has none.
const LEAST_LOBE = 0.3;
const MOST_MISFIT = 0.35;
// Corners of a body that are looked at.
const MOST_CORNERS = 6000;

/**
 * Three-lobed tapers (ISO 26623): behind a flange plane the outside is R(a) = R0 + e cos 3(a - a0) and slims by 1:20. Kernels write such
 * walls as free-form faces, so they are told by the corners of their mesh, by least squares.
 */
export function findPolygonTapers(bodies: readonly BodyGeometry[], groups: readonly RoundGroup[]): Shank[] {
  const found: Shank[] = [];
  for (const group of groups.slice(0, 4)) {
    const planes = bodies
      .flatMap((b) => planesOf(lookAtFaces(b)))
      .filter((f) => Math.abs(dot(f.outward, group.direction)) > 0.99999 && f.area > 30)
      .sort((a, b) => b.area - a.area);
    for (const plane of planes.slice(0, 8)) {
      const taper = fitLobes(bodies, group, plane);
      if (taper) found.push(taper);
    }
  }
  return found.sort((a, b) => b.confidence - a.confidence).slice(0, 1);
}

function fitLobes(bodies: readonly BodyGeometry[], group: RoundGroup, plane: PlaneLook): Shank | undefined {
  const { origin, direction } = group;
  const machine = plane.outward;
  const u = anyAcross(direction);
  const v = cross(direction, u);
  let points: { turn: number; r: number; back: number }[] = [];
  for (const { mesh } of bodies) {
    const stride = 3 * Math.max(1, Math.floor(mesh.positions.length / (3 * MOST_CORNERS)));
    for (let i = 0; i < mesh.positions.length; i += stride) {
      const d = subtract([mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]], origin);
      const back = dot(d, machine) - (plane.offset - dot(origin, machine));
      if (back < 0.05 || back > 70) continue;
      const flat = addScaled(d, direction, -dot(d, direction));
      points.push({ turn: Math.atan2(dot(flat, v), dot(flat, u)), r: length(flat) + back / 40, back });
    }
  }
  if (points.length < 30) return undefined;
  const widest = points.reduce((m, p) => Math.max(m, p.r), 0);
  points = points.filter((p) => p.r > 0.75 * widest);
  let fit = fitHarmonics(points);
  for (let round = 0; round < 2 && fit; round++) {
    const f = fit;
    const close = points.filter((p) => Math.abs(p.r - f.at(p.turn)) < Math.max(MOST_MISFIT, 0.6 * f.worst));
    if (close.length < 24) return undefined;
    fit = fitHarmonics(close);
    points = close;
  }
  if (!fit || fit.worst > MOST_MISFIT || fit.lobe < LEAST_LOBE || fit.other > 0.5 * fit.lobe) return undefined;
  const long = Math.max(...points.map((p) => p.back));
  const turns = new Set(points.map((p) => Math.round((p.turn * 12) / Math.PI)));
  if (turns.size < 16 || long < 0.3 * fit.mean) return undefined;
  const [size, diameter] = nearestSize(PSC_TAPERS, 2 * fit.mean);
  const flange = 2 * faceRadius(plane, group);
  const agrees = Math.abs(flange - size) < 0.6;
  if (Math.abs(diameter - 2 * fit.mean) > 2.5) return undefined;
  const z0 = plane.offset - dot(origin, machine);
  const sense = dot(machine, direction);
  const [from, to] = [z0 * sense, (z0 + long) * sense].sort((a, b) => a - b);
  const crest = addScaled(scale(u, Math.cos(fit.crest)), v, Math.sin(fit.crest));
  return {
    connection: { standard: 'PSC', size },
    origin,
    direction,
    from,
    to,
    work: scale(machine, -1),
    plane: z0 * sense,
    index: crest,
    confidence: agrees ? 0.97 : 0.8,
    evidence: `three lobes of ${fit.lobe.toFixed(2)} on diameter ${(2 * fit.mean).toFixed(2)}, taper 1:20, ${long.toFixed(1)} long; flange ${sayFace(plane)}, diameter ${flange.toFixed(2)}`,
    faces: [refOf(plane)],
  };
}

interface Lobes {
  readonly mean: number;
  /** Height of the three lobes, and of what does not belong to three lobes. */
  readonly lobe: number;
  readonly other: number;
  readonly crest: number;
  readonly worst: number;
  readonly at: (turn: number) => number;
}

// R(a) as a mean, an eccentric part, three lobes and their second harmonic.
function fitHarmonics(points: readonly { turn: number; r: number }[]): Lobes | undefined {
  const row = (t: number) => [1, Math.cos(t), Math.sin(t), Math.cos(3 * t), Math.sin(3 * t), Math.cos(6 * t), Math.sin(6 * t)];
  const n = 7;
  const a = Matrix.zeros(n, n);
  const b = Matrix.zeros(n, 1);
  for (const { turn, r } of points) {
    const q = row(turn);
    for (let i = 0; i < n; i++) {
      b.set(i, 0, b.get(i, 0) + q[i] * r);
      for (let j = 0; j < n; j++) a.set(i, j, a.get(i, j) + q[i] * q[j]);
    }
  }
  for (let i = 0; i < n; i++) a.set(i, i, a.get(i, i) + 1e-9);
  const c = solve(a, b).to1DArray();
  const at = (t: number) => row(t).reduce((s, q, i) => s + q * c[i], 0);
  const worst = points.reduce((m, p) => Math.max(m, Math.abs(p.r - at(p.turn))), 0);
  return { mean: c[0], lobe: Math.hypot(c[3], c[4]), other: Math.hypot(c[1], c[2]), crest: Math.atan2(c[4], c[3]) / 3, worst, at };
}
