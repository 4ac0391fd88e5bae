import type { TriMesh } from './tri-mesh.ts';

/** An octahedron of radius 1. */
export function octahedron(centre: readonly number[]): TriMesh {
  const positions = Float64Array.from([1, 0, 0, -1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1, 0, 0, -1].map((v, i) => v + centre[i % 3]));
  return { positions, triangles: Uint32Array.from([0, 2, 4, 2, 1, 4, 1, 3, 4, 3, 0, 4, 2, 0, 5, 1, 2, 5, 3, 1, 5, 0, 3, 5]) };
}

/** A welded box from the origin. */
export function boxMesh(x: number, y: number, z: number): TriMesh {
  const positions = Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0]));
  const triangles = Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]);
  return { positions, triangles };
}

/** A mesh somewhere else. */
export const moved = ({ positions, triangles }: TriMesh, by: readonly number[]): TriMesh => ({ positions: positions.map((v, i) => v + by[i % 3]), triangles });
