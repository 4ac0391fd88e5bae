export { namesIn, sayConstraint, type Sketch, type SketchConstraint, sketchConstraintSchema, sketchSchema } from './sketch-schema.ts';
export { moveSketch } from './move-sketch.ts';
export type { SketchDrag } from './sketch-primitives.ts';
export { type SolvedSketch, SketchSolver } from './solve-sketch.ts';
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
export { meetPieces, mirrorAbout, offsetPieces, surfaceNames } from './edit-pieces.ts';
export { combineShape, drawOver, nearestPlace, sayWhatIs } from './draw-over.ts';
export { flipOutline, moveOutline, namesInBox, scaleOutline, turnOutline } from './whole-sketch.ts';
export { snapPlace, type SnapKind, type Snapped, type SnapRules } from './snap.ts';
