export { componentOfOutline, followOutline, isUpToDate, sourceOfOutline } from './follow-outline.ts';
export { type Contradiction, contradictionsOf, cuttingStretch, extentOf, type OutlineFact, outlineFacts, shankOf } from './outline-facts.ts';
export { isDrawnMark, outlineMarks, type OutlineMarks } from './outline-marks.ts';
export { shapeOfOutline } from './outline-shape.ts';
export { type DrawingFormat, drawingFormatOf, outlinePartOf, readOutlineFile, type ReadPart } from './read-outline.ts';
