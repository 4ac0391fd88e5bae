import { add, addScaled, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Surface } from '#core/mesh';

/** What reading asks of one face: its surface, its size, and where it looks. */
export interface FaceLook {
  readonly body: BodyGeometry;
  readonly index: number;
  readonly surface: Surface;
  /** mm2, from the mesh. */
  readonly area: number;
  readonly centre: Vec3;
  /** Mean outward normal by area; not of unit length where the face is curved, zero for a whole cylinder. */
  readonly normal: Vec3;
}

// Reading asks for the same body many times; its table goes with it.
const tables = new WeakMap<BodyGeometry, FaceLook[]>();

/** The faces of a body with their areas, centres and mean outward normals, from the mesh. */
export function lookAtFaces(body: BodyGeometry): FaceLook[] {
  const known = tables.get(body);
  if (known) return known;
  const table = makeTable(body);
  tables.set(body, table);
  return table;
}

function makeTable(body: BodyGeometry): FaceLook[] {
  const { positions: p, triangles: t } = body.mesh;
  const at = (i: number): Vec3 => [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
  return body.faces.map(({ surface }, index) => {
    let area = 0;
    let normal: Vec3 = [0, 0, 0];
    let centre: Vec3 = [0, 0, 0];
    for (let i = 3 * body.faceStart[index]; i < 3 * body.faceStart[index + 1]; i += 3) {
      const [a, b, c] = [at(t[i]), at(t[i + 1]), at(t[i + 2])];
      const n = cross(subtract(b, a), subtract(c, a));
      const s = length(n) / 2;
      area += s;
      normal = add(normal, scale(n, 0.5));
      centre = add(centre, scale(add(add(a, b), c), s / 3));
    }
    return { body, index, surface, area, centre: area > 0 ? scale(centre, 1 / area) : centre, normal: area > 0 ? scale(normal, 1 / area) : normal };
  });
}

/** The plane faces among faces, with unit outward normals as the mesh has them. */
export interface PlaneLook extends FaceLook {
  readonly outward: Vec3;
  /** Position of the plane along its outward normal. */
  readonly offset: number;
}

export function planesOf(faces: readonly FaceLook[]): PlaneLook[] {
  return faces
    .filter((f) => f.surface.kind === 'plane' && length(f.normal) > 0.5)
    .map((f) => {
      const outward = normalize(f.normal);
      return { ...f, outward, offset: dot(f.centre, outward) };
    });
}

const planeTables = new WeakMap<BodyGeometry, PlaneLook[]>();

/** The planes of one body; made once. */
export function planesOfBody(body: BodyGeometry): readonly PlaneLook[] {
  const known = planeTables.get(body);
  if (known) return known;
  const planes = planesOf(lookAtFaces(body));
  planeTables.set(body, planes);
  return planes;
}

/** A plane of a body that may be drawn in several patches, which meet at edges: the largest of them, with the area of all. */
export interface JoinedPlane extends PlaneLook {
  readonly parts: readonly PlaneLook[];
}

// Sine and mm: patches of one plane.
const SAME_PLANE = 1e-5;
const SAME_OFFSET = 2e-3;

/** The planes of one body, patches that continue each other joined; `apart`: also those that a hole or a slot parts. */
export function joinedPlanes(body: BodyGeometry, apart = false): JoinedPlane[] {
  const planes = planesOfBody(body);
  const byFace = new Map(planes.map((p) => [p.index, p]));
  const byOffset = apart ? [...planes].sort((a, b) => a.offset - b.offset) : [];
  const level = (offset: number): number[] => {
    let [low, high] = [0, byOffset.length];
    while (low < high) {
      const mid = (low + high) >> 1;
      if (byOffset[mid].offset < offset - SAME_OFFSET) low = mid + 1;
      else high = mid;
    }
    const out: number[] = [];
    for (let i = low; i < byOffset.length && byOffset[i].offset <= offset + SAME_OFFSET; i++) out.push(byOffset[i].index);
    return out;
  };
  const seen = new Set<number>();
  return planes.flatMap((first): JoinedPlane[] => {
    if (seen.has(first.index)) return [];
    seen.add(first.index);
    const parts = [first];
    for (let i = 0; i < parts.length; i++)
      for (const near of apart ? (i === 0 ? [level(first.offset)] : []) : body.faces[parts[i].index].edges.map((e) => body.edges[e].faces))
        for (const f of near) {
          const other = byFace.get(f);
          if (!other || seen.has(f) || length(cross(other.outward, first.outward)) > SAME_PLANE || dot(other.outward, first.outward) < 0) continue;
          if (Math.abs(other.offset - first.offset) > SAME_OFFSET) continue;
          seen.add(f);
          parts.push(other);
        }
    const largest = parts.reduce((a, b) => (b.area > a.area ? b : a));
    const area = parts.reduce((a, b) => a + b.area, 0);
    const centre = parts.reduce<Vec3>((c, b) => add(c, scale(b.centre, b.area / area)), [0, 0, 0]);
    return [{ ...largest, area, centre, parts }];
  });
}

/** Least and greatest position of a body's mesh along a direction, mm. */
export function reachAlong(body: BodyGeometry, direction: Vec3): [low: number, high: number] {
  const { positions: p } = body.mesh;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < p.length; i += 3) {
    const v = p[i] * direction[0] + p[i + 1] * direction[1] + p[i + 2] * direction[2];
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return [low, high];
}

/** Words for evidence: "cylinder 12 of b1". */
export const sayFace = (f: Pick<FaceLook, 'body' | 'index' | 'surface'>): string => `${f.surface.kind} ${f.index + 1} of ${f.body.id}`;

/** Distance of a face's furthest corner from an axis, mm. */
export function faceRadius(face: FaceLook, { origin, direction }: { readonly origin: Vec3; readonly direction: Vec3 }): number {
  const { positions: p, triangles: t } = face.body.mesh;
  let most = 0;
  for (let i = 3 * face.body.faceStart[face.index]; i < 3 * face.body.faceStart[face.index + 1]; i++) {
    const k = 3 * t[i];
    const d = subtract([p[k], p[k + 1], p[k + 2]], origin);
    most = Math.max(most, length(addScaled(d, direction, -dot(d, direction))));
  }
  return most;
}

/** A face that a proposal rests on. */
export interface FaceRef {
  readonly body: string;
  readonly face: number;
}
export const refOf = (f: Pick<FaceLook, 'body' | 'index'>): FaceRef => ({ body: f.body.id, face: f.index });

/** The part of a vector square to a unit direction. */
export const across = (v: Vec3, direction: Vec3): Vec3 => addScaled(v, direction, -dot(v, direction));
