import { z } from 'zod';

const id = z.string().min(1).max(40);
const length = z.number().min(0).max(1e5);

/**
 * What is said of an outline's corners and pieces. Each corner has a name, and the piece that begins there has the same one. Lengths in mm, angles in degrees.
 */
export const sketchConstraintSchema = z.discriminatedUnion('kind', [
  z.object({ id, kind: z.literal('horizontal'), piece: id }),
  z.object({ id, kind: z.literal('vertical'), piece: id }),
  z.object({ id, kind: z.literal('fixed'), corner: id, at: z.tuple([z.number(), z.number()]).readonly() }),
  z.object({ id, kind: z.literal('tangent'), first: id, second: id }),
  z.object({ id, kind: z.literal('parallel'), first: id, second: id }),
  z.object({ id, kind: z.literal('perpendicular'), first: id, second: id }),
  z.object({ id, kind: z.literal('equal'), first: id, second: id }),
  /** About a piece, or about the sheet's own middle line, y = 0. */
  z.object({ id, kind: z.literal('symmetric'), from: id, to: id, about: id.nullable() }),
  z.object({ id, kind: z.literal('length'), piece: id, value: length }),
  z.object({ id, kind: z.literal('along'), from: id, to: id, value: length }),
  z.object({ id, kind: z.literal('across'), from: id, to: id, value: length }),
  z.object({ id, kind: z.literal('diameter'), corner: id, value: length }),
  z.object({ id, kind: z.literal('radius'), piece: id, value: length }),
  z.object({ id, kind: z.literal('angle'), piece: id, value: z.number().min(-360).max(360) }),
]);
export type SketchConstraint = z.infer<typeof sketchConstraintSchema>;

export const sketchSchema = z.object({
  /** Names of each loop's corners, in the order of its pieces. */
  names: z.array(z.array(id).readonly()).readonly(),
  constraints: z.array(sketchConstraintSchema).max(1000).readonly(),
});
export type Sketch = z.infer<typeof sketchSchema>;

/** What a constraint is about: corners and pieces by their names. */
export function namesIn(c: SketchConstraint): string[] {
  switch (c.kind) {
    case 'horizontal':
    case 'vertical':
    case 'length':
    case 'radius':
    case 'angle':
      return [c.piece];
    case 'fixed':
    case 'diameter':
      return [c.corner];
    case 'along':
    case 'across':
      return [c.from, c.to];
    case 'symmetric':
      return c.about === null ? [c.from, c.to] : [c.from, c.to, c.about];
    case 'tangent':
    case 'parallel':
    case 'perpendicular':
    case 'equal':
      return [c.first, c.second];
  }
}

const mm = (v: number): string => String(Math.round(v * 1000) / 1000);

/** A constraint in words. */
export function sayConstraint(c: SketchConstraint): string {
  switch (c.kind) {
    case 'horizontal':
      return 'along the axis';
    case 'vertical':
      return 'across the axis';
    case 'fixed':
      return `stays at ${c.at.map(mm).join(', ')}`;
    case 'tangent':
    case 'parallel':
    case 'perpendicular':
    case 'equal':
      return c.kind;
    case 'symmetric':
      return c.about === null ? 'symmetric about the middle line' : 'symmetric';
    case 'length':
      return `${mm(c.value)} long`;
    case 'along':
      return `${mm(c.value)} apart along the axis`;
    case 'across':
      return `${mm(c.value)} apart across it`;
    case 'diameter':
      return `diameter ${mm(c.value)}`;
    case 'radius':
      return `radius ${mm(c.value)}`;
    case 'angle':
      return `${mm(c.value)} degrees to the axis`;
  }
}
