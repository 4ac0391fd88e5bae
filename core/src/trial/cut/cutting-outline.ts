import type { EdgeRow, SetUpParts, StationRow } from '#core/carrier';
import { cross, dot, frameFromWorld, compose, length, type Motion, move, normalize, scale, subtract, turn, type Frame, type Vec3 } from '#core/math';
import type { Model, TriMesh } from '#core/mesh';
import { areaOfPolygon, type FlatPoint } from '#core/outline';
import { placePieces } from '#core/assembly';
import { areaOfUnits, type Polygons, together, toMillimetres, toUnits, UNITS } from '#core/clipping';
import { SAG } from '../region/region.ts';

/**
 * What cuts, as it stands in the turning plane about the reference of its carrier: a closed outline seen along Y, counter-clockwise in [z, x], with Y of each of its
 * places. A place cuts at the radius hypot(x, y) (domain, tilted edge).
 */
export interface CuttingOutline {
  readonly points: readonly FlatPoint[];
  /** Y of each point, mm. */
  readonly heights: Float64Array;
  /** The largest of them, without their sign. */
  readonly mostHeight: number;
  /** The straight sides beside the nose of an edge, of what does not turn about an axis of its own. */
  readonly sides?: readonly StraightSide[];
}

/** A side of an outline from where the nose goes over into it: the way along it and out of the material, [z, x], and how long it is, mm. */
export interface StraightSide {
  readonly along: FlatPoint;
  readonly out: FlatPoint;
  readonly length: number;
}

/**
 * The outline of what cuts at a station's edge; undefined where the edge's component has no body that cuts, or no
 * model, and of what is driven across the axis: that cuts nothing round. `plane`: of the edge's spindle.
 */
export function cuttingOutline(
  row: Pick<StationRow, 'assembly' | 'motion'>,
  edge: EdgeRow,
  { components, models }: SetUpParts,
  plane: Frame,
): CuttingOutline | undefined {
  const { own } = edge;
  const model = models[own.component.id];
  const placed = row.assembly && placePieces(row.assembly, components).get(own.piece);
  if (!model || !placed || !row.motion) return undefined;
  const planeFromGauge = compose(frameFromWorld({ ...plane, origin: [0, 0, 0] }), row.motion);
  const planeFromFile = compose(planeFromGauge, placed);
  const meshes = cuttingMeshes(own.component, model);
  if (meshes.length === 0) return undefined;
  if (isDrivenAcross(edge)) return undefined;
  if (isAboutAxis(edge)) return spunOutline(meshes, planeFromFile, move(planeFromGauge, own.mount.origin), turn(planeFromGauge, own.mount.z));
  const seen = together([...meshes.flatMap((m) => seenTriangles(m, planeFromFile)), ...exactCorners(own, planeFromGauge)]);
  const outline = largest(seen);
  if (!outline) return undefined;
  const heightAt = heightFinder(meshes, planeFromFile, move(planeFromGauge, own.noseCentre)[1]);
  const points = toMillimetres(outline);
  return { ...withHeights(points, points.map(heightAt)), sides: sidesOf(own, points, planeFromGauge) };
}

// mm. What lies farther beside a side is no part of it.
const BESIDE = 0.05;

function sidesOf({ legs, noseCentre, noseRadius }: EdgeRow['own'], points: readonly FlatPoint[], planeFromGauge: Motion): StraightSide[] {
  if (!legs) return [];
  const flat = ([x, , z]: Vec3): FlatPoint => [z, x];
  const centre = flat(move(planeFromGauge, noseCentre));
  const ways = legs.map((l) => {
    const [z, x] = flat(turn(planeFromGauge, l));
    const size = Math.hypot(z, x);
    return size > 1e-6 ? ([z / size, x / size] as const) : undefined;
  });
  return ways.flatMap((along, i): StraightSide[] => {
    const other = ways[1 - i];
    if (!along || !other) return [];
    // Away from the other side, square to this one.
    const left: FlatPoint = [-along[1], along[0]];
    const out: FlatPoint = left[0] * other[0] + left[1] * other[1] > 0 ? [-left[0], -left[1]] : left;
    const length = points.reduce((most, p) => {
      const [dz, dx] = [p[0] - centre[0] - noseRadius * out[0], p[1] - centre[1] - noseRadius * out[1]];
      const isOn = Math.abs(dz * out[0] + dx * out[1]) < BESIDE;
      return isOn ? Math.max(most, dz * along[0] + dx * along[1]) : most;
    }, 0);
    return length > 0 ? [{ along, out, length }] : [];
  });
}

/** Whether an edge turns itself about another axis than the work's. */
export const isDrivenAcross = ({ own, atWork }: Pick<EdgeRow, 'own' | 'atWork'>): boolean => own.spins && atWork.side !== 0;

/** Whether what cuts is seen as what turns about its own axis: it spins, or the work does about it. A face that is turned has an edge with two sides. */
export const isAboutAxis = ({ own, atWork }: Pick<EdgeRow, 'own' | 'atWork'>): boolean => own.spins || (atWork.side === 0 && !own.legs);

function withHeights(points: readonly FlatPoint[], heights: readonly number[]): CuttingOutline {
  return { points, heights: Float64Array.from(heights), mostHeight: heights.reduce((m, h) => Math.max(m, Math.abs(h)), 0) };
}

const cuttingMeshes = ({ bodies }: EdgeRow['own']['component'], model: Model): TriMesh[] =>
  model.bodies.filter((b) => bodies.find((e) => e.id === b.id)?.role === 'cutting').map((b) => b.mesh);

// Twice the area, square units, below which a triangle is seen edge on.
const EDGE_ON = 100;

function seenTriangles({ positions: p, triangles: t }: TriMesh, motion: Motion): Polygons {
  const out: Polygons = [];
  const at = (i: number) => {
    const [x, , z] = move(motion, [p[3 * i], p[3 * i + 1], p[3 * i + 2]]);
    return { x: Math.round(z * UNITS), y: Math.round(x * UNITS) };
  };
  for (let k = 0; k < t.length; k += 3) {
    const [a, b, c] = [at(t[k]), at(t[k + 1]), at(t[k + 2])];
    const twice = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    if (Math.abs(twice) > EDGE_ON) out.push(twice > 0 ? [a, b, c] : [a, c, b]);
  }
  return out;
}

// The nose of an edge as a circle in the plane of its edges: what triangles have of it are chords.
function exactCorners({ legs, noseCentre, noseRadius }: EdgeRow['own'], planeFromGauge: Motion): Polygons {
  if (!legs || noseRadius <= 0) return [];
  const [a, b] = legs.map((l) => normalize(turn(planeFromGauge, l)));
  const up = cross(a, b);
  if (length(up) < 1e-6) return [];
  const n = normalize(up);
  // Away from the other edge, square to each.
  const out = (leg: Vec3, other: Vec3) => {
    const side = normalize(cross(n, leg));
    return dot(side, other) > 0 ? scale(side, -1) : side;
  };
  const [u, v] = [out(a, b), out(b, a)];
  const centre = move(planeFromGauge, noseCentre);
  const whole = Math.acos(Math.max(-1, Math.min(1, dot(u, v))));
  if (!(whole > 1e-3 && whole < Math.PI - 1e-3)) return [];
  const steps = Math.max(2, Math.ceil(whole / (2 * Math.acos(1 - Math.min(0.5, SAG / noseRadius)))));
  const flat = ([x, , z]: Vec3): FlatPoint => [z, x];
  const arc = Array.from({ length: steps + 1 }, (_, i): FlatPoint => {
    const t = (whole * i) / steps;
    // On the great circle from u to v.
    const [p, q] = [Math.sin(whole - t) / Math.sin(whole), Math.sin(t) / Math.sin(whole)];
    return flat([0, 1, 2].map((k) => centre[k] + noseRadius * (p * u[k] + q * v[k])) as unknown as Vec3);
  });
  const sector = [flat(centre), ...arc];
  return [toUnits(areaOfPolygon(sector) > 0 ? sector : sector.reverse())];
}

function largest(all: Polygons): Polygons[number] | undefined {
  let best: Polygons[number] | undefined;
  let most = 0;
  for (const p of all) {
    const area = areaOfUnits(p);
    if (area > most) [best, most] = [p, area];
  }
  return best;
}

// Y of a place of the outline: that of the corner of a triangle that is seen there, else of the one that is seen nearest.
function heightFinder(meshes: readonly TriMesh[], motion: Motion, usual: number): (p: FlatPoint) => number {
  const seen: Vec3[] = [];
  for (const { positions: p } of meshes) for (let i = 0; i < p.length; i += 3) seen.push(move(motion, [p[i], p[i + 1], p[i + 2]]));
  // An edge that lies in one plane square to Y is that high everywhere.
  return ([z, x]) => {
    let best = Infinity;
    let height = usual;
    for (const [sx, sy, sz] of seen) {
      const d = (sx - x) ** 2 + (sz - z) ** 2;
      // Of places seen on top of each other the one that is nearest to the axis' plane cuts first.
      if (d < best - 1e-8 || (d < best + 1e-8 && Math.abs(sy) < Math.abs(height))) [best, height] = [Math.min(best, d), sy];
    }
    return height;
  };
}

// What turns about its own axis, or has the work turn about it: its section, both halves. `origin` and `along`: its axis.
function spunOutline(meshes: readonly TriMesh[], motion: Motion, origin: Vec3, along: Vec3): CuttingOutline | undefined {
  const quads: Polygons = [];
  for (const { positions: p, triangles: t } of meshes) {
    const n = p.length / 3;
    const zr = new Float64Array(2 * n);
    for (let i = 0; i < n; i++) {
      const d = subtract(move(motion, [p[3 * i], p[3 * i + 1], p[3 * i + 2]]), origin);
      const z = dot(d, along);
      zr[2 * i] = z;
      zr[2 * i + 1] = Math.sqrt(Math.max(0, dot(d, d) - z * z));
    }
    const done = new Set<number>();
    for (let k = 0; k < t.length; k++) {
      const [i, j] = [t[k], t[k % 3 === 2 ? k - 2 : k + 1]];
      const key = Math.min(i, j) * n + Math.max(i, j);
      if (done.has(key)) continue;
      done.add(key);
      const [a, b] = zr[2 * i] < zr[2 * j] ? [i, j] : [j, i];
      if ((zr[2 * b] - zr[2 * a]) * UNITS < 1) continue;
      quads.push(
        toUnits([
          [zr[2 * a], -zr[2 * a + 1]],
          [zr[2 * b], -zr[2 * b + 1]],
          [zr[2 * b], zr[2 * b + 1]],
          [zr[2 * a], zr[2 * a + 1]],
        ]),
      );
    }
  }
  const outline = largest(together(quads));
  if (!outline) return undefined;
  // Along its axis and across it, in the turning plane.
  const [dz, dx] = [along[2], along[0]];
  const l = Math.hypot(dz, dx) || 1;
  const points = toMillimetres(outline).map(([s, r]): FlatPoint => [origin[2] + s * along[2] - (r * dx) / l, origin[0] + s * along[0] + (r * dz) / l]);
  return withHeights(
    areaOfPolygon(points) > 0 ? points : points.reverse(),
    points.map(() => origin[1]),
  );
}
