export type { Drawing, DrawingLayer, Drawn } from './drawing.ts';
export type { Step } from './find-outline.ts';
export { closedLoop, readDrawing, type ReadDrawingOptions, type ReadOutline } from './read-drawing.ts';
export { readDxf } from './read-dxf.ts';
export { readSvg } from './read-svg.ts';
