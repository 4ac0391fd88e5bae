import { type Camera, DoubleSide, Ray, Vector3 } from 'three';
import { invert, type Motion, move, turn, type Vec3 } from '#core/math';
import { type BodyGeometry, cornerOf, edgePolyline, faceOfTriangle } from '#core/mesh';
import { gpuBodyOf } from './gpu-geometry.ts';
import type { Candidate, StageItem } from './picks.ts';

/** Pixels within which an edge or a corner wins over the face that it borders. */
const EDGE_REACH = 7;
const CORNER_REACH = 9;

export interface Viewport {
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
}

/**
 * Everything under the pointer, nearest first: for each face that the ray meets, its corners and edges that are close to the
 * pointer, then the face itself. Past the silhouette four rays around the pointer find the edge that was just missed.
 */
export function pickAt(items: readonly StageItem[], view: Viewport, x: number, y: number): Candidate[] {
  const direct = castRay(items, view, x, y);
  if (direct.length > 0) return withEdges(direct, view, x, y, true);
  const r = EDGE_REACH - 1;
  const around = [
    [r, 0],
    [-r, 0],
    [0, r],
    [0, -r],
  ].flatMap(([dx, dy]) => castRay(items, view, x + dx, y + dy).slice(0, 1));
  return withEdges(around, view, x, y, false);
}

interface Hit {
  readonly item: StageItem;
  readonly body: BodyGeometry;
  readonly face: number;
  readonly point: Vec3;
  readonly depth: number;
}

function castRay(items: readonly StageItem[], { camera, width, height }: Viewport, x: number, y: number): Hit[] {
  const ndc = [(x / width) * 2 - 1, 1 - (y / height) * 2] as const;
  const near = new Vector3(ndc[0], ndc[1], -1).unproject(camera);
  const far = new Vector3(ndc[0], ndc[1], 1).unproject(camera);
  const origin: Vec3 = [near.x, near.y, near.z];
  const d = far.sub(near).normalize();
  const direction: Vec3 = [d.x, d.y, d.z];
  const hits: Hit[] = [];
  const ray = new Ray();
  for (const item of items) {
    const modelFromStage = invert(item.stageFromModel);
    ray.origin.set(...move(modelFromStage, origin));
    ray.direction.set(...turn(modelFromStage, direction));
    for (const body of item.model.bodies) {
      if (item.hidden.has(body.id)) continue;
      for (const hit of gpuBodyOf(body).bvh().raycast(ray, DoubleSide)) {
        if (hit.faceIndex === undefined || hit.faceIndex === null) continue;
        const p: Vec3 = [hit.point.x, hit.point.y, hit.point.z];
        hits.push({ item, body, face: faceOfTriangle(body, hit.faceIndex), point: move(item.stageFromModel, p), depth: hit.distance });
      }
    }
  }
  return hits.sort((a, b) => a.depth - b.depth);
}

function withEdges(hits: readonly Hit[], view: Viewport, x: number, y: number, keepFaces: boolean): Candidate[] {
  const out: Candidate[] = [];
  const seen = new Set<string>();
  const push = (c: Candidate) => {
    const key = `${c.item} ${c.body} ${c.kind} ${c.index}`;
    if (seen.has(key)) return;
    seen.add(key);
    out.push(c);
  };
  for (const { item, body, face, point } of hits) {
    const project = projector(item.stageFromModel, view);
    for (const near of nearCorners(body, face, project, x, y)) push({ item: item.key, body: body.id, kind: 'corner', ...near });
    for (const near of nearEdges(body, face, project, x, y)) push({ item: item.key, body: body.id, kind: 'edge', ...near });
    if (keepFaces) push({ item: item.key, body: body.id, kind: 'face', index: face, point });
  }
  return out;
}

// Stage point and pixel of a model point, packed coordinates at i.
function projector(motion: Motion, { camera, width, height }: Viewport) {
  const v = new Vector3();
  return (p: Vec3): { stage: Vec3; x: number; y: number } => {
    const stage = move(motion, p);
    v.set(...stage).project(camera);
    return { stage, x: ((v.x + 1) / 2) * width, y: ((1 - v.y) / 2) * height };
  };
}
type Project = ReturnType<typeof projector>;

function nearEdges(body: BodyGeometry, face: number, project: Project, x: number, y: number): { index: number; point: Vec3 }[] {
  const found: { index: number; point: Vec3; away: number }[] = [];
  for (const index of body.faces[face].edges) {
    if (body.edges[index].faces.length < 2) continue; // a seam
    const line = edgePolyline(body, index);
    let best = EDGE_REACH;
    let point: Vec3 | undefined;
    let last: ReturnType<Project> | undefined;
    for (let i = 0; i < line.length; i += 3) {
      const next = project([line[i], line[i + 1], line[i + 2]]);
      if (last) {
        const [dx, dy] = [next.x - last.x, next.y - last.y];
        const l = dx * dx + dy * dy;
        const t = l > 0 ? Math.min(1, Math.max(0, ((x - last.x) * dx + (y - last.y) * dy) / l)) : 0;
        const away = Math.hypot(x - last.x - t * dx, y - last.y - t * dy);
        if (away < best) {
          best = away;
          point = [0, 1, 2].map(
            (k) => (last as NonNullable<typeof last>).stage[k] + t * (next.stage[k] - (last as NonNullable<typeof last>).stage[k]),
          ) as unknown as Vec3;
        }
      }
      last = next;
    }
    if (point) found.push({ index, point, away: best });
  }
  return found.sort((a, b) => a.away - b.away).map(({ index, point }) => ({ index, point }));
}

function nearCorners(body: BodyGeometry, face: number, project: Project, x: number, y: number): { index: number; point: Vec3 }[] {
  const found: { index: number; point: Vec3; away: number }[] = [];
  for (const edge of body.faces[face].edges) {
    const { start, end, faces } = body.edges[edge];
    if (faces.length < 2) continue;
    for (const p of [start, end]) {
      const at = project(p);
      const away = Math.hypot(at.x - x, at.y - y);
      if (away > CORNER_REACH) continue;
      const index = cornerIndex(body, p);
      if (index >= 0 && !found.some((f) => f.index === index)) found.push({ index, point: at.stage, away });
    }
  }
  return found.sort((a, b) => a.away - b.away).map(({ index, point }) => ({ index, point }));
}

function cornerIndex(body: BodyGeometry, p: Vec3): number {
  for (let i = 0; 3 * i < body.corners.length; i++) {
    const c = cornerOf(body, i);
    if (Math.abs(c[0] - p[0]) + Math.abs(c[1] - p[1]) + Math.abs(c[2] - p[2]) < 3e-5) return i;
  }
  return -1;
}
