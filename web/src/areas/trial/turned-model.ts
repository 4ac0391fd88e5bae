import type { BodyGeometry, FaceFacts, Model } from '#core/mesh';
import { fillPolygon, type FlatPoint, withHoles } from '#core/outline';

// Flats around the whole turn, and the angle of a corner that is drawn as an edge.
const FLATS = 96;
const SHARP = Math.cos((18 * Math.PI) / 180);

/**
 * A half section turned about Z into a model to be drawn: closed polygons in [z, r], counter-clockwise around material, holes clockwise. `isOpen`: without the half that
 * looks along +Y, so that the section is seen in the plane of the tools.
 */
export function turnedModel(loops: readonly (readonly FlatPoint[])[], isOpen: boolean): Model {
  const [from, count] = isOpen ? [Math.PI, FLATS / 2] : [0, FLATS];
  const positions: number[] = [];
  const triangles: number[] = [];
  const faceStart: number[] = [];
  const edgePoints: number[] = [];
  const edgeStart: number[] = [0];
  const around = Array.from({ length: count + 1 }, (_, k) => {
    const angle = from + (2 * Math.PI * k) / FLATS;
    return [Math.cos(angle), Math.sin(angle)] as const;
  });
  const at = ([z, r]: FlatPoint, k: number): [number, number, number] => [r * around[k][0], r * around[k][1], z];
  for (const loop of loops) {
    const first = positions.length / 3;
    for (const p of loop) for (let k = 0; k <= count; k++) positions.push(...at(p, k));
    const corner = (i: number, k: number) => first + (i % loop.length) * (count + 1) + k;
    for (let i = 0; i < loop.length; i++) {
      if (i === 0 || isSharp(loop, i)) {
        faceStart.push(triangles.length / 3);
        for (let k = 0; k <= count; k++) edgePoints.push(...at(loop[i], k));
        edgeStart.push(edgePoints.length / 3);
      }
      // What lies on the axis has no surface.
      if (loop[i][1] < 1e-6 && loop[(i + 1) % loop.length][1] < 1e-6) continue;
      for (let k = 0; k < count; k++) {
        const [a, b, c, d] = [corner(i, k), corner(i + 1, k), corner(i + 1, k + 1), corner(i, k + 1)];
        triangles.push(a, b, c, a, c, d);
      }
    }
  }
  if (isOpen)
    for (const polygon of withHoles(loops)) {
      const { corners: flat, triangles: filled } = fillPolygon(polygon);
      const rings = [polygon.outer, ...polygon.holes];
      for (const k of [count, 0]) {
        faceStart.push(triangles.length / 3);
        const base = positions.length / 3;
        for (const p of flat) positions.push(...at(p, k));
        for (let i = 0; i < filled.length; i += 3) {
          const [a, b, c] = [filled[i] + base, filled[i + 1] + base, filled[i + 2] + base];
          if (k === count) triangles.push(a, b, c);
          else triangles.push(a, c, b);
        }
        for (const ring of rings) {
          for (const p of [...ring, ring[0]]) edgePoints.push(...at(p, k));
          edgeStart.push(edgePoints.length / 3);
        }
      }
    }
  faceStart.push(triangles.length / 3);
  const zs = loops.flat().map((p) => p[0]);
  const most = loops.flat().reduce((m, p) => Math.max(m, p[1]), 0);
  const body: BodyGeometry = {
    id: 'work',
    name: 'work',
    volume: 0,
    area: 0,
    bbox: { min: [-most, -most, Math.min(...zs)], max: [most, most, Math.max(...zs)] },
    centroid: [0, 0, 0],
    closed: true,
    valid: true,
    faces: faceStart.slice(1).map((): FaceFacts => ({ surface: { kind: 'free' }, edges: [] })),
    edges: edgeStart.slice(1).map(() => ({ curve: { kind: 'free', length: 0 }, start: [0, 0, 0], end: [0, 0, 0], faces: [] })),
    corners: new Float64Array(0),
    mesh: { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) },
    faceStart: Uint32Array.from(faceStart),
    edgePoints: Float64Array.from(edgePoints),
    edgeStart: Uint32Array.from(edgeStart),
  };
  return { format: 'outline', unit: 'mm', unitScale: 1, chordTolerance: 0.01, bodies: loops.length > 0 ? [body] : [] };
}

function isSharp(loop: readonly FlatPoint[], i: number): boolean {
  const n = loop.length;
  const [a, b, c] = [loop[(i + n - 1) % n], loop[i], loop[(i + 1) % n]];
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
  return ux * vx + uy * vy < SHARP * Math.hypot(ux, uy) * Math.hypot(vx, vy);
}
