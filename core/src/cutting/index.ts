export * from './use-schema.ts';
export { feedRate, spindleSpeed, surfaceSpeedOf } from './speeds.ts';
export { type CuttingTool, type Operation, type Usual, usualUse, type UsualUse } from './usual-use.ts';
