import { flatDistance, type FlatPoint } from '#core/outline';
import { common, type Polygons, straighter, sweptAlong, together, toUnits, UNITS } from '#core/clipping';
import type { CutView } from './cut-views.ts';
import { type FreeSpace, polygonsFrom } from './free-space.ts';

// mm. Places along the floor at which it is asked whether the tool can stand there.
const APART = 0.5;
// mm. Corners of the floor that small are no corners.
const SIMPLE = 3e-4;

/**
 * What an edge covers of the half section that goes everywhere where it is free: along the floor of its free space with all of its outline, above it with its tip. `stands`: whether the rest of the tool
 * lets it stand at a place of the floor; above those where it does not, nothing is covered.
 */
export function coveredFrom({ view, outline, box, tip }: CutView, free: FreeSpace, stands: (p: FlatPoint) => boolean): Polygons {
  const floor = free.floor.flatMap((p, i): FlatPoint[] => {
    const next = free.floor[i + 1];
    if (!next) return [p];
    const steps = Math.max(1, Math.ceil(flatDistance(p, next) / APART));
    return Array.from({ length: steps }, (_, k): FlatPoint => [p[0] + ((next[0] - p[0]) * k) / steps, p[1] + ((next[1] - p[1]) * k) / steps]);
  });
  const pieces: FlatPoint[][] = [];
  let isOn = false;
  let all = true;
  for (const p of floor) {
    const can = stands(p);
    if (can && isOn) pieces.at(-1)?.push(p);
    else if (can) pieces.push([p]);
    else all = false;
    isOn = can;
  }
  if (pieces.length === 0) return [];
  const edge = toUnits(outline);
  // What it passes over at the floor, and all that its tip gets to above that.
  const passed = pieces.flatMap((piece) => sweptAlong(edge, toUnits(straighter(piece, SIMPLE)), false));
  const over = (piece: readonly FlatPoint[]): FlatPoint[] => [...piece, [piece[piece.length - 1][0], box.b[1]], [piece[0][0], box.b[1]]];
  const space = all ? free.polygons : common(free.polygons, together(pieces.map((piece) => toUnits(over(piece)))));
  const [tipA, tipB] = [Math.round(tip[0] * UNITS), Math.round(tip[1] * UNITS)];
  const covered = polygonsFrom(view, together([...passed, ...space.map((p) => p.map((q) => ({ x: q.x + tipA, y: q.y + tipB })))]));
  // What is beyond the axis cuts on the other side too.
  return [...covered, ...covered.filter((p) => p.some((q) => q.y < -UNITS / 1000)).map((p) => p.map((q) => ({ ...q, y: -q.y })).reverse())];
}
