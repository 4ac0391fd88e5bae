import { flatsAround } from '#core/envelope';
import { meshBounds, type Model } from '#core/mesh';
import { type FlatPoint, flattenPath, listPieces, type PathPiece, type RevolvedShape } from '#core/outline';

// mm. How far flats and chords are from the true faces at most.
const SAG = 0.01;
const MOST_AROUND = 180;

/** What is turned, as a model to be looked at: made at once, without the kernel. A face for each piece of the outline, a circle for each corner. */
export function previewModel(shape: RevolvedShape): Model {
  let next = 0;
  const bodies = shape.bodies.flatMap(({ name, profile }) => profile.map((loop) => turned(loop, `b${++next}`, name)));
  return { format: 'outline', unit: 'mm', unitScale: 1, chordTolerance: SAG, bodies };
}

function turned(loop: readonly PathPiece[], id: string, name: string): Model['bodies'][number] {
  const pieces = listPieces([loop]);
  const widest = Math.max(...pieces.map((p) => Math.max(p.from[1], p.to[1])));
  const n = Math.min(MOST_AROUND, flatsAround(widest, SAG));
  const around = Array.from({ length: n + 1 }, (_, i): FlatPoint => [Math.cos((2 * Math.PI * i) / n), Math.sin((2 * Math.PI * i) / n)]);
  const positions: number[] = [];
  const triangles: number[] = [];
  const faceStart = [0];
  for (const piece of pieces) {
    // Corners of a face are its own, so that it is smooth and its borders are sharp.
    const along = piece.kind === 'line' ? [piece.from, piece.to] : [...flattenPath([piece], SAG, false), piece.to];
    const first = positions.length / 3;
    for (const [z, r] of along) for (const [c, s] of around) positions.push(r * c, r * s, z);
    for (let k = 0; k + 1 < along.length; k++)
      for (let i = 0; i < n; i++) {
        const [a, b] = [first + k * (n + 1) + i, first + (k + 1) * (n + 1) + i];
        if (along[k][1] > 0) triangles.push(a, b, a + 1);
        if (along[k + 1][1] > 0) triangles.push(a + 1, b, b + 1);
      }
    faceStart.push(triangles.length / 3);
  }
  const circles = pieces.map((p) => p.from).filter(([, r]) => r > 1e-6);
  const edgePoints = Float64Array.from(circles.flatMap(([z, r]) => around.flatMap(([c, s]) => [r * c, r * s, z])));
  const mesh = { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
  return {
    id,
    name,
    volume: 0,
    area: 0,
    bbox: meshBounds(mesh) ?? { min: [0, 0, 0], max: [0, 0, 0] },
    centroid: [0, 0, 0],
    closed: true,
    valid: true,
    faces: pieces.map(() => ({ surface: { kind: 'free' as const }, edges: [] })),
    edges: circles.map(([z, r]) => ({
      curve: { kind: 'circle', centre: [0, 0, z], axis: [0, 0, 1], radius: r, sweepRad: 2 * Math.PI, middle: [-r, 0, z] },
      start: [r, 0, z],
      end: [r, 0, z],
      faces: [0, 0],
    })),
    corners: new Float64Array(0),
    mesh,
    faceStart: Uint32Array.from(faceStart),
    edgePoints,
    edgeStart: Uint32Array.from({ length: circles.length + 1 }, (_, i) => i * (n + 1)),
  };
}
