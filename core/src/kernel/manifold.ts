import init, { type ManifoldToplevel, type Mesh } from 'manifold-3d';
import type { Vec3 } from '#core/math';

let loading: Promise<ManifoldToplevel> | undefined;

/** The Manifold library, loaded when it is first needed; `wasmUrl` where its WebAssembly is not beside its script. */
export function loadManifold(wasmUrl: string | undefined): Promise<ManifoldToplevel> {
  loading ??= init(wasmUrl ? { locateFile: () => wasmUrl } : undefined).then((m) => {
    m.setup();
    return m;
  });
  return loading;
}

/** Whether an error is the library's word for a mesh that is not closed. */
export const isNoSolid = (error: unknown): boolean => error instanceof Error && /manifold/i.test(`${error.name} ${error.message}`);

/** Positions about a point, in single precision as the library keeps them. */
export const positionsAbout = (positions: Float64Array, centre: Vec3): Float32Array => Float32Array.from(positions, (v, k) => v - centre[k % 3]);

/** Positions of a mesh of the library that is kept about a point. */
export function positionsOf({ numProp, vertProperties }: Mesh, centre: Vec3): Float64Array {
  const positions = new Float64Array((3 * vertProperties.length) / numProp);
  for (let i = 0; 3 * i < positions.length; i++) for (let k = 0; k < 3; k++) positions[3 * i + k] = vertProperties[numProp * i + k] + centre[k];
  return positions;
}
