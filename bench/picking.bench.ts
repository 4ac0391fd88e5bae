import { OrthographicCamera } from 'three';
import { IDENTITY } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { pickAt } from '../web/src/scene/picking.ts';
import type { StageItem } from '../web/src/scene/picks.ts';
import type { BenchRow } from './measure.ts';

// A ball of 300,000 triangles in 400 faces, each with its four edges.
function ball(): BodyGeometry {
  const [rows, columns, perFace] = [388, 388, 20];
  const positions = new Float64Array(3 * (rows + 1) * (columns + 1));
  for (let i = 0; i <= rows; i++)
    for (let j = 0; j <= columns; j++) {
      const [a, b] = [(Math.PI * i) / rows, (2 * Math.PI * j) / columns];
      positions.set([50 * Math.sin(a) * Math.cos(b), 50 * Math.sin(a) * Math.sin(b), 50 * Math.cos(a)], 3 * (i * (columns + 1) + j));
    }
  const triangles: number[] = [];
  const faceStart: number[] = [];
  const faces: { surface: { kind: 'free' }; edges: number[] }[] = [];
  const edges: { curve: { kind: 'free'; length: number }; start: [number, number, number]; end: [number, number, number]; faces: number[] }[] = [];
  const edgePoints: number[] = [];
  const edgeStart = [0];
  const at = (i: number, j: number): [number, number, number] => {
    const k = 3 * (i * (columns + 1) + j);
    return [positions[k], positions[k + 1], positions[k + 2]];
  };
  for (let i = 0; i < rows; i += perFace)
    for (let j = 0; j < columns; j += perFace) {
      faceStart.push(triangles.length / 3);
      const [iEnd, jEnd] = [Math.min(rows, i + perFace), Math.min(columns, j + perFace)];
      for (let u = i; u < iEnd; u++)
        for (let v = j; v < jEnd; v++) {
          const [a, b, c, d] = [u * (columns + 1) + v, (u + 1) * (columns + 1) + v, (u + 1) * (columns + 1) + v + 1, u * (columns + 1) + v + 1];
          triangles.push(a, b, c, a, c, d);
        }
      const own: number[] = [];
      const line = (points: [number, number, number][]) => {
        own.push(edges.length);
        edges.push({ curve: { kind: 'free', length: 1 }, start: points[0], end: points[points.length - 1], faces: [faces.length, faces.length] });
        for (const p of points) edgePoints.push(...p);
        edgeStart.push(edgePoints.length / 3);
      };
      line(Array.from({ length: jEnd - j + 1 }, (_, k) => at(i, j + k)));
      line(Array.from({ length: iEnd - i + 1 }, (_, k) => at(i + k, j)));
      faces.push({ surface: { kind: 'free' }, edges: own });
    }
  faceStart.push(triangles.length / 3);
  return {
    id: 'b1',
    name: 'ball',
    volume: 1,
    area: 1,
    bbox: { min: [-50, -50, -50], max: [50, 50, 50] },
    centroid: [0, 0, 0],
    closed: true,
    valid: true,
    faces,
    edges,
    corners: Float64Array.from(edges.flatMap((e) => e.start)),
    mesh: { positions, triangles: Uint32Array.from(triangles) },
    faceStart: Uint32Array.from(faceStart),
    edgePoints: Float64Array.from(edgePoints),
    edgeStart: Uint32Array.from(edgeStart),
  };
}

/** Looking up what is under the pointer, on 300,000 triangles, at 400 places. */
export function benchPicking(): Promise<BenchRow[]> {
  const body = ball();
  const camera = new OrthographicCamera(-60, 60, 40, -40, -500, 500);
  camera.position.set(60, 70, 80);
  camera.lookAt(0, 0, 0);
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  const items: StageItem[] = [
    {
      key: 'k',
      model: { format: 'step', unit: 'mm', unitScale: 1, chordTolerance: 1, bodies: [body] },
      stageFromModel: IDENTITY,
      roles: {},
      hidden: new Set(),
    },
  ];
  const view = { camera, width: 900, height: 600 };
  const from = performance.now();
  pickAt(items, view, 450, 300);
  const first = performance.now() - from;
  // The first hundred moves of a pointer, while the engine still compiles.
  for (let i = 0; i < 100; i++) pickAt(items, view, 120 + 6 * i, 90 + 4 * i);
  const times: number[] = [];
  let found = 0;
  for (let i = 0; i < 400; i++) {
    const [x, y] = [100 + (i % 20) * 35, 60 + Math.floor(i / 20) * 24];
    const start = performance.now();
    found += pickAt(items, view, x, y).length;
    times.push(performance.now() - start);
  }
  if (found === 0) throw new Error('the bench points past the model');
  times.sort((a, b) => a - b);
  return Promise.resolve([
    { what: 'hover pick: triangles', value: body.mesh.triangles.length / 3, unit: '' },
    { what: 'hover pick, first (builds the tree)', value: first, unit: 'ms' },
    { what: 'hover pick, median', value: times[200], unit: 'ms', limit: 4 },
    { what: 'hover pick, 99 of 100', value: times[396], unit: 'ms', limit: 4 },
  ]);
}
