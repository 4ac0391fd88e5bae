import type { SketchPrimitive } from '@salusoft89/planegcs';
import { type FlatPoint, flatDistance, type HalfProfile, type PathPiece } from '#core/outline';
import type { Sketch, SketchConstraint } from './sketch-schema.ts';

/** Where a corner is drawn to, by its name. */
export interface SketchDrag {
  readonly corner: string;
  readonly to: FlatPoint;
}

// mm. Corners of a half section on the axis stay there.
const ON_AXIS = 1e-7;

/** Of each corner the one at the other end of the piece that begins there. */
export const nextNames = ({ names }: Sketch): ReadonlyMap<string, string> =>
  new Map(names.flatMap((loop) => loop.map((name, i) => [name, loop[(i + 1) % loop.length]] as const)));

/** Corners that stay where they are. */
export const fixedOf = ({ constraints }: Sketch): ReadonlyMap<string, FlatPoint> =>
  new Map(constraints.flatMap((c) => (c.kind === 'fixed' ? [[c.corner, c.at] as const] : [])));

// What the solver calls things: a corner by its name, what belongs to a piece or a constraint by its name and a mark.
// The sheet's own middle line, y = 0: what is seen from above may be the same on both sides of it.
const MIDDLE = '|middle';
export const pieceId = (name: string): string => `${name}|piece`;
export const centreId = (name: string): string => `${name}|centre`;
export const ownerOf = (id: string): string => id.split('|')[0];

/** Corners and pieces as the solver knows them. */
export function geometryOf(profile: HalfProfile, { names, constraints }: Sketch, isTurned: boolean): SketchPrimitive[] {
  const fixed = fixedOf({ names, constraints });
  const points: SketchPrimitive[] = [];
  const curves: SketchPrimitive[] = [];
  const rules: SketchPrimitive[] = [];
  profile.forEach((loop, l) =>
    loop.forEach((piece, i) => {
      const [name, next] = [names[l][i], names[l][(i + 1) % loop.length]];
      const stays = fixed.get(name);
      const [x, y] = stays ?? piece.from;
      points.push({ id: name, type: 'point', x, y, fixed: stays !== undefined });
      if (!stays && isTurned && Math.abs(piece.from[1]) < ON_AXIS) rules.push({ id: `${name}|axis`, type: 'coordinate_y', p_id: name, y: 0 });
      if (piece.kind === 'line') {
        curves.push({ id: pieceId(name), type: 'line', p1_id: name, p2_id: next });
        return;
      }
      // A circle with two places on it: fewer unknowns than an arc with its angles.
      points.push({ id: centreId(name), type: 'point', x: piece.centre[0], y: piece.centre[1], fixed: false });
      curves.push({ id: pieceId(name), type: 'circle', c_id: centreId(name), radius: flatDistance(piece.from, piece.centre) });
      for (const end of [name, next]) rules.push({ id: `${name}|on ${end}`, type: 'point_on_circle', p_id: end, c_id: pieceId(name) });
    }),
  );
  if (constraints.some((c) => c.kind === 'symmetric' && c.about === null)) {
    points.push({ id: `${MIDDLE} a`, type: 'point', x: 0, y: 0, fixed: true }, { id: `${MIDDLE} b`, type: 'point', x: 1, y: 0, fixed: true });
    curves.push({ id: MIDDLE, type: 'line', p1_id: `${MIDDLE} a`, p2_id: `${MIDDLE} b` });
  }
  return [...points, ...curves, ...rules];
}

/** A constraint as the solver knows it. */
export function primitiveOf(c: SketchConstraint, profile: HalfProfile, sketch: Sketch): SketchPrimitive[] {
  const pieceOf = (name: string): PathPiece => pieceNamed(profile, sketch, name);
  const placeOf = (name: string): FlatPoint => pieceOf(name).from;
  const next = nextNames(sketch);
  const nextOf = (name: string): string => next.get(name) ?? name;
  switch (c.kind) {
    case 'horizontal':
      return [{ id: c.id, type: 'horizontal_pp', p1_id: c.piece, p2_id: nextOf(c.piece) }];
    case 'vertical':
      return [{ id: c.id, type: 'vertical_pp', p1_id: c.piece, p2_id: nextOf(c.piece) }];
    case 'fixed':
      // Its corner is no unknown: see `geometryOf`.
      return [];
    case 'length':
      return [{ id: c.id, type: 'p2p_distance', p1_id: c.piece, p2_id: nextOf(c.piece), distance: c.value }];
    case 'along':
    case 'across': {
      const k = c.kind === 'along' ? 0 : 1;
      const prop = k === 0 ? 'x' : 'y';
      // In the order in which they lie now.
      const [low, high] = placeOf(c.from)[k] <= placeOf(c.to)[k] ? [c.from, c.to] : [c.to, c.from];
      return [{ id: c.id, type: 'difference', param1: { o_id: low, prop }, param2: { o_id: high, prop }, difference: c.value }];
    }
    case 'diameter':
      return [{ id: c.id, type: 'coordinate_y', p_id: c.corner, y: c.value / 2 }];
    case 'radius':
      return [{ id: c.id, type: 'circle_radius', c_id: pieceId(c.piece), radius: c.value }];
    case 'angle': {
      const { from, to } = pieceOf(c.piece);
      // Of the two senses of a line the one that is nearer to what is drawn.
      const now = Math.atan2(to[1] - from[1], to[0] - from[0]);
      const wished = (c.value * Math.PI) / 180;
      const turns = Math.round((now - wished) / Math.PI);
      return [{ id: c.id, type: 'p2p_angle', p1_id: c.piece, p2_id: nextOf(c.piece), angle: wished + turns * Math.PI }];
    }
    case 'parallel':
      return [{ id: c.id, type: 'parallel', l1_id: pieceId(c.first), l2_id: pieceId(c.second) }];
    case 'perpendicular':
      return [{ id: c.id, type: 'perpendicular_ll', l1_id: pieceId(c.first), l2_id: pieceId(c.second) }];
    case 'symmetric':
      return [{ id: c.id, type: 'p2p_symmetric_ppl', p1_id: c.from, p2_id: c.to, l_id: c.about === null ? MIDDLE : pieceId(c.about) }];
    case 'equal':
      return pieceOf(c.first).kind === 'line'
        ? [{ id: c.id, type: 'equal_length', l1_id: pieceId(c.first), l2_id: pieceId(c.second) }]
        : [{ id: c.id, type: 'equal_radius_cc', c1_id: pieceId(c.first), c2_id: pieceId(c.second) }];
    case 'tangent': {
      // At a corner that both have, by their angle there: it is exact, where distances only touch.
      const shared = nextOf(c.first) === c.second ? c.second : nextOf(c.second) === c.first ? c.first : undefined;
      if (shared !== undefined)
        return [
          {
            id: c.id,
            type: 'angle_via_point',
            crv1_id: pieceId(c.first),
            crv2_id: pieceId(c.second),
            p_id: shared,
            angle: angleAt(pieceOf(c.first), pieceOf(c.second), placeOf(shared)),
          },
        ];
      const [a, b] = [pieceOf(c.first).kind, pieceOf(c.second).kind];
      if (a === 'arc' && b === 'arc') return [{ id: c.id, type: 'tangent_cc', c1_id: pieceId(c.first), c2_id: pieceId(c.second) }];
      const [line, arc] = a === 'line' ? [c.first, c.second] : [c.second, c.first];
      return [{ id: c.id, type: 'tangent_lc', l_id: pieceId(line), c_id: pieceId(arc) }];
    }
  }
}

// Whether the solver's curves run the same way at a place or against each other: arcs run counter-clockwise for it.
function angleAt(first: PathPiece, second: PathPiece, at: FlatPoint): number {
  const way = (p: PathPiece): FlatPoint => (p.kind === 'line' ? [p.to[0] - p.from[0], p.to[1] - p.from[1]] : [-(at[1] - p.centre[1]), at[0] - p.centre[0]]);
  const [u, v] = [way(first), way(second)];
  return u[0] * v[0] + u[1] * v[1] >= 0 ? 0 : Math.PI;
}

/** The piece that begins at a corner. */
export function pieceNamed(profile: HalfProfile, { names }: Sketch, name: string): PathPiece {
  for (const [l, loop] of names.entries()) {
    const i = loop.indexOf(name);
    if (i >= 0) return profile[l][i];
  }
  throw new Error(`solve-sketch.pieceNamed: a piece of the outline; got ${name}`);
}
