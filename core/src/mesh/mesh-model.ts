// A model from triangles: bodies by shells, faces by fitted surfaces, edges by their borders. What the kernel tells of a B-rep.
import { done, failed, issue, type Issue, type Result } from '#core/issues';
import { addScaled, boundsDiagonal, dot, LARGEST_LENGTH, scale, type Vec3 } from '#core/math';
import { bodyNames } from './body-names.ts';
import { labelShells, nextHalf, pairHalfEdges } from './half-edges.ts';
import type { BodyGeometry, FaceFacts, Model, ModelFormat, Surface } from './model.ts';
import { findRegionEdges } from './region-edges.ts';
import { findRegions, type Region } from './regions.ts';
import { repairMesh } from './repair.ts';
import { isClosedMesh, joinMeshes, meshArea, meshBounds, meshCentroid, meshVolume, type TriMesh, validateMesh, weld } from './tri-mesh.ts';

/** Triangles. A file with more is a scan or a whole machine. */
export const MOST_TRIANGLES = 4_000_000;

/** One object of a mesh file, in the file's unit. */
export interface MeshObject {
  readonly name: string;
  readonly colour?: string;
  readonly mesh: TriMesh;
}

export interface MeshFile {
  readonly format: Exclude<ModelFormat, 'outline'>;
  readonly unit: string;
  /** mm per unit of the file. */
  readonly unitScale: number;
  readonly objects: readonly MeshObject[];
}

/** Builds the bodies of a mesh file; coordinates come out in mm. */
export function modelFromMeshes(
  { format, unit, unitScale, objects }: MeshFile,
  file: string,
  onProgress: (share: number, text: string) => void = () => undefined,
): Result<{ model: Model; warnings: readonly Issue[] }> {
  const total = objects.reduce((n, o) => n + o.mesh.triangles.length / 3, 0);
  if (total === 0) return failed('mesh.no-triangles', { file });
  if (total > MOST_TRIANGLES) return failed('mesh.too-many', { file, triangles: total, limit: MOST_TRIANGLES });
  const warnings: Issue[] = [];
  let loose = 0;
  const shells: (Shell & { name: string; colour?: string })[] = [];
  onProgress(0.2, 'Joining corners');
  for (const { name, colour, mesh } of objects) {
    const scaled = unitScale === 1 ? mesh : { ...mesh, positions: mesh.positions.map((v) => v * unitScale) };
    const bounds = meshBounds(scaled);
    if (!bounds) continue;
    const extent = boundsDiagonal(bounds);
    if (!Number.isFinite(extent)) return failed('mesh.broken', { file, text: 'it has corners that are not numbers' });
    // Single precision at the far end of the box, and a little.
    const within = Math.max(1e-5, extent * 3e-7);
    const clean = withoutDoubles(weld(scaled, within));
    const repaired = repairMesh(clean.mesh, within);
    if (repaired.joined > 0) warnings.push(issue('mesh.joined', { file, count: repaired.joined }));
    if (repaired.turned > 0) warnings.push(issue('mesh.turned', { file, count: repaired.turned }));
    if (repaired.filled > 0) warnings.push(issue('mesh.filled', { file, count: repaired.filled }));
    const parts = splitShells(repaired.mesh, repaired.partner);
    if (clean.dropped + parts.doubled > 0) warnings.push(issue('mesh.doubled', { file, count: clean.dropped + parts.doubled }));
    loose += parts.strayTriangles;
    if (parts.stray > 0) warnings.push(issue('mesh.stray', { file, count: parts.stray }));
    for (const shell of parts.shells) shells.push({ ...shell, name, colour });
  }
  const whole = shells.reduce((n, s) => n + s.mesh.triangles.length, 0);
  if (loose > whole / 3) return failed('mesh.only-loose', { file, loose, triangles: total });
  let seen = 0;
  const names = bodyNames(shells.map((s) => s.name));
  const bodies = shells.map(({ colour, mesh, partner }, i) => {
    const name = names[i];
    const text = `Finding faces of body ${i + 1} of ${shells.length}`;
    const before = 0.3 + (0.65 * seen) / whole;
    const share = (0.65 * mesh.triangles.length) / whole;
    seen += mesh.triangles.length;
    onProgress(before, text);
    const faults = validateMesh(mesh);
    let upright = mesh;
    if (faults.insideOut && isClosedMesh(faults)) {
      upright = turnedOver(mesh);
      warnings.push(issue('mesh.inside-out', { file, body: name }));
    }
    if (!isClosedMesh(faults)) warnings.push(issue('mesh.open', { file, body: name, open: faults.openEdges, bad: faults.badEdges, at: placeOfFault(mesh) }));
    const paired = upright === mesh && partner ? partner : pairHalfEdges(upright);
    const named = { id: `b${i + 1}`, name, closed: isClosedMesh(faults) };
    const body = bodyFromMesh(upright, paired, named, (s) => onProgress(before + share * s, text));
    const extent = boundsDiagonal(body.bbox);
    if (extent > LARGEST_LENGTH || extent < 0.1) warnings.push(issue('step.absurd-size', { file, body: name, extent: Number(extent.toPrecision(3)) }));
    return colour ? { ...body, colour } : body;
  });
  return done({ model: { format, unit, unitScale, chordTolerance: 0, bodies }, warnings });
}

// One welded shell as a body with faces and edges.
function bodyFromMesh(
  mesh: TriMesh,
  partner: Int32Array,
  named: { id: string; name: string; closed: boolean },
  onProgress: (share: number) => void,
): BodyGeometry {
  const regions = findRegions(mesh, partner, { tolerance: fitTolerance(mesh), onProgress });
  const patches = regions.map((r): Patch => ({ triangles: r.triangles, ...stretched(surfaceOf(r), mesh, r.triangles) }));
  return bodyFromPatches(mesh, partner, patches, named);
}

// What an exporter's rounding leaves: half a micrometre, and single precision at the far end.
const fitTolerance = (mesh: TriMesh): number => 5e-4 + 1e-6 * boundsDiagonal(meshBounds(mesh) as NonNullable<ReturnType<typeof meshBounds>>);

/** A face of a body that is being made: its triangles, and what it is. */
export interface Patch {
  readonly triangles: Uint32Array;
  readonly surface: Surface;
  readonly fit?: number;
}

/** A welded, closed shell whose faces are known already, by the number of each triangle's face; a face without triangles is left out. */
export function bodyFromFaces(
  mesh: TriMesh,
  faceOf: ArrayLike<number>,
  faces: readonly Pick<Patch, 'surface' | 'fit'>[],
  named: { id: string; name: string },
): BodyGeometry {
  const lists: number[][] = faces.map(() => []);
  for (let t = 0; t < faceOf.length; t++) lists[faceOf[t]].push(t);
  const patches = faces.flatMap((f, i): Patch[] => {
    const triangles = Uint32Array.from(lists[i]);
    return triangles.length > 0 ? [{ triangles, ...stretched(f, mesh, triangles) }] : [];
  });
  return bodyFromPatches(mesh, pairHalfEdges(mesh), patches, { ...named, closed: true });
}

function bodyFromPatches(mesh: TriMesh, partner: Int32Array, patches: readonly Patch[], named: { id: string; name: string; closed: boolean }): BodyGeometry {
  const faceOf = new Int32Array(mesh.triangles.length / 3);
  patches.forEach((r, f) => {
    for (const t of r.triangles) faceOf[t] = f;
  });
  const { edges, lines, corners } = findRegionEdges(mesh, partner, faceOf, fitTolerance(mesh));
  const edgesOf: number[][] = patches.map(() => []);
  edges.forEach((e, i) => {
    for (const f of new Set(e.faces)) edgesOf[f].push(i);
  });
  const faces = patches.map(({ surface, fit }, f): FaceFacts => ({ surface, ...(fit === undefined ? {} : { fit }), edges: edgesOf[f] }));
  const edgeStart = new Uint32Array(lines.length + 1);
  lines.forEach((l, i) => {
    edgeStart[i + 1] = edgeStart[i] + l.length / 3;
  });
  const edgePoints = new Float64Array(3 * edgeStart[lines.length]);
  lines.forEach((l, i) => edgePoints.set(l, 3 * edgeStart[i]));
  return {
    ...named,
    volume: meshVolume(mesh),
    area: meshArea(mesh),
    centroid: meshCentroid(mesh),
    bbox: meshBounds(mesh) as NonNullable<ReturnType<typeof meshBounds>>,
    valid: true,
    faces,
    edges,
    corners: Float64Array.from(corners.flat()),
    ...faceByFace(mesh, patches),
    edgePoints,
    edgeStart,
  };
}

// Triangles in the order of the faces, corners doubled along their borders.
function faceByFace({ positions: p, triangles: t }: TriMesh, regions: readonly Pick<Region, 'triangles'>[]): { mesh: TriMesh; faceStart: Uint32Array } {
  const triangles = new Uint32Array(t.length);
  const faceStart = new Uint32Array(regions.length + 1);
  // The corner of each place in the face that was last there.
  const mine = new Int32Array(p.length / 3).fill(-1);
  const owner = new Int32Array(p.length / 3).fill(-1);
  const source: number[] = [];
  let at = 0;
  regions.forEach((r, f) => {
    for (const i of r.triangles)
      for (let k = 0; k < 3; k++) {
        const v = t[3 * i + k];
        if (owner[v] !== f) {
          owner[v] = f;
          mine[v] = source.length;
          source.push(v);
        }
        triangles[at++] = mine[v];
      }
    faceStart[f + 1] = at / 3;
  });
  const positions = new Float64Array(3 * source.length);
  source.forEach((v, i) => {
    positions[3 * i] = p[3 * v];
    positions[3 * i + 1] = p[3 * v + 1];
    positions[3 * i + 2] = p[3 * v + 2];
  });
  return { mesh: { positions, triangles }, faceStart };
}

// A fitted surface in the terms of a model's faces; its stretch along the axis comes from the triangles.
function surfaceOf({ surface: s, concave }: Region): { surface: Surface; fit?: number } {
  if (s.kind === 'free') return { surface: { kind: 'free' } };
  if (s.kind === 'plane') return { surface: { kind: 'plane', origin: s.origin, normal: s.normal }, fit: s.residual };
  if (s.kind === 'sphere') return { surface: { kind: 'sphere', centre: s.origin, radius: s.radius, concave }, fit: s.residual };
  if (s.kind === 'torus')
    return { surface: { kind: 'torus', centre: s.origin, axis: s.axis, majorRadius: s.majorRadius, minorRadius: s.radius, concave }, fit: s.residual };
  if (s.kind === 'cylinder') return { surface: { kind: 'cylinder', origin: s.origin, axis: s.axis, radius: s.radius, length: 0, concave }, fit: s.residual };
  // A cone narrows along its axis.
  const axis: Vec3 = s.slope > 0 ? scale(s.axis, -1) : s.axis;
  const halfAngleRad = Math.abs(Math.atan(s.slope));
  return { surface: { kind: 'cone', origin: s.origin, axis, halfAngleRad, radiusLarge: s.radius, radiusSmall: s.radius, length: 0, concave }, fit: s.residual };
}

// A cylinder or cone, from where its triangles begin along the axis to where they end.
function stretched<T extends { surface: Surface }>(face: T, mesh: TriMesh, triangles: Uint32Array): T {
  const { surface: s } = face;
  if (s.kind !== 'cylinder' && s.kind !== 'cone') return face;
  let [low, high] = [Infinity, -Infinity];
  for (const i of triangles)
    for (let k = 0; k < 3; k++) {
      const c = 3 * mesh.triangles[3 * i + k];
      const along = dot([mesh.positions[c] - s.origin[0], mesh.positions[c + 1] - s.origin[1], mesh.positions[c + 2] - s.origin[2]], s.axis);
      low = Math.min(low, along);
      high = Math.max(high, along);
    }
  const surface = { ...s, origin: addScaled(s.origin, s.axis, low), length: high - low };
  if (surface.kind === 'cylinder') return { ...face, surface };
  const radiusAt = (along: number) => Math.max(0, surface.radiusLarge - Math.tan(surface.halfAngleRad) * along);
  return { ...face, surface: { ...surface, radiusLarge: radiusAt(low), radiusSmall: radiusAt(high) } };
}

// The same triangle twice, the same way round, is a rest of a bad export; two bodies that touch have it once each way.
function withoutDoubles(mesh: TriMesh): { mesh: TriMesh; dropped: number } {
  const { triangles: t } = mesh;
  const count = mesh.positions.length / 3;
  // Chains of kept triangles by their lowest corner: head by corner, next by triangle; -1 ends one.
  const head = new Int32Array(count).fill(-1);
  const next = new Int32Array(t.length / 3).fill(-1);
  const kept = new Uint32Array(t.length);
  let at = 0;
  for (let i = 0; i < t.length; i += 3) {
    let [a, b, c] = [t[i], t[i + 1], t[i + 2]];
    while (a > b || a > c) [a, b, c] = [b, c, a];
    let same = false;
    for (let k = head[a]; k >= 0 && !same; k = next[k]) same = kept[3 * k + 1] === b && kept[3 * k + 2] === c;
    if (same) continue;
    kept[at] = a;
    kept[at + 1] = b;
    kept[at + 2] = c;
    next[at / 3] = head[a];
    head[a] = at / 3;
    at += 3;
  }
  const dropped = (t.length - at) / 3;
  return dropped > 0 ? { mesh: { ...mesh, triangles: kept.slice(0, at) }, dropped } : { mesh, dropped: 0 };
}

/** A shell, and its half-edges' partners where they are known already. */
interface Shell {
  readonly mesh: TriMesh;
  readonly partner?: Int32Array;
}

// Shells as meshes of their own; hollows (shells that are inside out and inside another) stay with the shell around them.
function splitShells(mesh: TriMesh, paired: Int32Array): { shells: Shell[]; stray: number; strayTriangles: number; doubled: number } {
  const { triangles: t } = mesh;
  const { label, count } = labelShells(t.length / 3, paired);
  // Triangles shell by shell, and the place that each half-edge gets in its own.
  const start = new Uint32Array(count + 1);
  for (const l of label) start[l + 1] += 3;
  for (let l = 0; l < count; l++) start[l + 1] += start[l];
  const fill = start.slice();
  const place = new Uint32Array(t.length);
  const triangles = new Uint32Array(t.length);
  for (let i = 0; i < label.length; i++)
    for (let k = 0; k < 3; k++) {
      const at = fill[label[i]]++;
      place[3 * i + k] = at;
      triangles[at] = t[3 * i + k];
    }
  const partners = new Int32Array(t.length);
  for (let h = 0; h < t.length; h++) partners[place[h]] = paired[h] < 0 ? -1 : place[paired[h]] - start[label[(h - (h % 3)) / 3]];
  const scratch = new Int32Array(mesh.positions.length / 3).fill(-1);
  const all = Array.from({ length: count }, (_, l): Required<Shell> => {
    const own = triangles.subarray(start[l], start[l + 1]);
    return { mesh: compact(mesh, own, scratch), partner: partners.slice(start[l], start[l + 1]) };
  });
  const kept = all.filter((shell) => shell.mesh.triangles.length >= 12);
  const info = kept.map((shell) => ({
    ...shell,
    volume: meshVolume(shell.mesh),
    bounds: meshBounds(shell.mesh) as NonNullable<ReturnType<typeof meshBounds>>,
    hollows: [] as TriMesh[],
  }));
  const isIn = (a: (typeof info)[number], b: (typeof info)[number]) =>
    [0, 1, 2].every((k) => a.bounds.min[k] > b.bounds.min[k] && a.bounds.max[k] < b.bounds.max[k]);
  let doubled = 0;
  const outer = info.filter((a) => {
    if (a.volume >= 0) return true;
    // The same shell once more, inside out: a rest of a bad export as well.
    if (info.some((b) => b.volume > 0 && isSameShell(a.mesh, b.mesh))) {
      doubled += a.mesh.triangles.length / 3;
      return false;
    }
    const around = info.filter((b) => b !== a && b.volume > -a.volume && isIn(a, b)).sort((b, c) => b.volume - c.volume)[0];
    around?.hollows.push(a.mesh);
    return !around;
  });
  const shells = outer.map(({ mesh: m, partner, hollows }): Shell => (hollows.length === 0 ? { mesh: m, partner } : { mesh: joinMeshes([m, ...hollows]) }));
  const strayTriangles = all.reduce((n, a) => n + (kept.includes(a) ? 0 : a.mesh.triangles.length / 3), 0);
  return { shells, stray: all.length - kept.length, strayTriangles, doubled };
}

// Whether two shells have the same corners, and as many triangles.
function isSameShell(a: TriMesh, b: TriMesh): boolean {
  if (a.triangles.length !== b.triangles.length || a.positions.length !== b.positions.length) return false;
  const corners = ({ positions: p }: TriMesh) => Array.from({ length: p.length / 3 }, (_, i) => `${p[3 * i]} ${p[3 * i + 1]} ${p[3 * i + 2]}`).sort();
  const [one, other] = [corners(a), corners(b)];
  return one.every((c, i) => c === other[i]);
}

// Only the corners that the triangles use; `target` is scratch of the size of all corners, all -1 before and after.
function compact({ positions: p }: TriMesh, triangles: Uint32Array, target: Int32Array): TriMesh {
  const used: number[] = [];
  const out = triangles.map((v) => {
    if (target[v] < 0) {
      target[v] = used.length;
      used.push(v);
    }
    return target[v];
  });
  const positions = new Float64Array(3 * used.length);
  used.forEach((v, i) => {
    positions[3 * i] = p[3 * v];
    positions[3 * i + 1] = p[3 * v + 1];
    positions[3 * i + 2] = p[3 * v + 2];
    target[v] = -1;
  });
  return { positions, triangles: out };
}

function turnedOver(mesh: TriMesh): TriMesh {
  const triangles = mesh.triangles.slice();
  for (let i = 0; i < triangles.length; i += 3) [triangles[i + 1], triangles[i + 2]] = [triangles[i + 2], triangles[i + 1]];
  return { ...mesh, triangles };
}

/** Where the first open or bad edge of a welded mesh lies, in words. */
export function placeOfFault(mesh: TriMesh): string {
  const partner = pairHalfEdges(mesh);
  const h = partner.indexOf(-1);
  if (h < 0) return 'an edge with more than two triangles';
  const [a, b] = [mesh.triangles[h], mesh.triangles[nextHalf(h)]];
  return [0, 1, 2].map((k) => ((mesh.positions[3 * a + k] + mesh.positions[3 * b + k]) / 2).toFixed(2)).join(', ');
}
