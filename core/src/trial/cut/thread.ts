import type { PathPiece } from '#core/outline';
import type { Polygons } from '#core/clipping';
import type { CuttingOutline } from './cutting-outline.ts';
import { type At, standing } from './sweep.ts';

// Of a turn: what rounding is off.
const NEAR = 1e-9;

/**
 * What the edge of a thread covers in the half section: it comes past there once a turn, a pitch farther along each time. That is the section of its helix through the
 * axis; how the helix leans across the flanks is left out. `path`: of the reference; `from` and `to`: shares of it.
 */
export function turnsBetween(outline: CuttingOutline, path: PathPiece, pitch: number, from: number, to: number): Polygons {
  const [dz, dx] = [path.to[0] - path.from[0], path.to[1] - path.from[1]];
  const turns = Math.abs(dz) / pitch;
  const out: Polygons = [];
  for (let n = Math.ceil(from * turns - NEAR); n <= to * turns + NEAR; n++) {
    const at: At = [path.from[0] + (n / turns) * dz, path.from[1] + (n / turns) * dx];
    out.push(...standing(outline, at));
  }
  // It stands there when it is drawn back.
  if (to >= 1) out.push(...standing(outline, path.to));
  return out;
}
