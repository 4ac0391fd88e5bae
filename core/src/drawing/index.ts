export type { Drawing, DrawingLayer, Drawn } from './drawing.ts';
export type { Step } from './find-outline.ts';
export { type Picture, readPicture } from './picture-file.ts';
export { closedLoop, readDrawing, type ReadDrawingOptions, type ReadOutline, readTraced } from './read-drawing.ts';
export { readDxf } from './read-dxf.ts';
export { readSvg } from './read-svg.ts';
export { fitCurve } from './tidy-path.ts';
export { traceEdge, type TracedEdge } from './trace-picture.ts';
