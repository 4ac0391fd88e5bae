export { namesIn, sayConstraint, type Sketch, type SketchConstraint, sketchConstraintSchema, sketchSchema } from './sketch-schema.ts';
export { type SketchDrag, type SolvedSketch, SketchSolver } from './solve-sketch.ts';
export {
  bendPiece,
  chamferCorner,
  deleteCorner,
  filletCorner,
  freshName,
  nameCorners,
  placeOfName,
  type Sketched,
  splitPiece,
  withConstraint,
  withoutConstraint,
} from './edit-sketch.ts';
