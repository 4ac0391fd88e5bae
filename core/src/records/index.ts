export * from './component.ts';
export * from './hash.ts';
export * from './migrate.ts';
export * from './schemas.ts';
export * from './package-file.ts';
export { sampleComponent } from './sample-component.ts';
export { isSameWork, withCuts, withModel, withMoves, withUnitScale } from './rework.ts';
