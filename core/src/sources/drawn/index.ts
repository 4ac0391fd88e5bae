export { componentOfOutline, followOutline, isUpToDate, type NewMake, remake, sourceOfOutline, sourceOfShape } from './follow-outline.ts';
export { type Contradiction, contradictionsOf, cuttingStretch, extentOf, type OutlineFact, outlineFacts, shankOf } from './outline-facts.ts';
export { isDrawnMark, outlineMarks, type OutlineMarks } from './outline-marks.ts';
export { shapeOfOutline } from './outline-shape.ts';
export {
  type DrawingFormat,
  drawingFormatOf,
  outlinePartOf,
  readForSheet,
  readOutlineFile,
  type ReadPart,
  type SheetReading,
  withReading,
} from './read-outline.ts';
export { type DrawingGhost, type FlatMap, invertFlat, mapFlat } from './sheet.ts';
export { OUTLINE_FILES, type OutlineFileKind, writeOutlineFile, writeShapeFile } from './write-outline.ts';
export { followPieces, type WholeChange } from './follow-pieces.ts';
export { type CutterWish, cutterFor } from './cutter-for.ts';
export { axisFrameOf, faceDrawing, halfSectionDrawing, outlineDrawing, planeSectionDrawing } from './part-section.ts';
