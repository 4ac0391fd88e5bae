import type { MarkedPlace } from '../corpus-model.ts';
import type { Point } from './solids.ts';

/** A place on the axis, looking along a way. */
export const at = (z: number, connection: MarkedPlace['connection'], way: Point = [0, 0, 1]): MarkedPlace => ({
  connection,
  frame: { origin: [0, 0, z], z: way, x: Math.abs(way[0]) > 0.5 ? [0, 0, 1] : [1, 0, 0] },
});
export const cylindrical = (size: number) => ({ standard: 'cylindrical' as const, size });
