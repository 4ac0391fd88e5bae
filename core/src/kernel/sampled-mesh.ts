import { meshVolume, type TriMesh } from '#core/mesh';
import type { SampledBody } from './sample-faces.ts';

/** A closed mesh as a body of one face. Its triangles are its true surface: nothing is sampled between them, and its skin is its corners. */
export function sampledMesh(mesh: TriMesh, id = 'b1'): SampledBody {
  return {
    id,
    chordTolerance: 0,
    mesh,
    faceStart: Uint32Array.of(0, mesh.triangles.length / 3),
    surfaces: [{ kind: 'free' }],
    volume: meshVolume(mesh),
    points: new Float64Array(0),
    pointTriangle: new Uint32Array(0),
    skin: mesh.positions,
    skinEdges: mesh.positions.length,
  };
}
