export * from './make-geometry.ts';
export * from './pack.ts';
export * from './verify.ts';
export * from './recipe.ts';
export { type GrowthMap, mapGrowth } from './growth-map.ts';
export { makeRecordPlan, makeRecordPlanSolid, PLAN_CHORDS, provenPlan } from './make-plan.ts';
export { makeRecordGeometry, makeRecordGeometryWithin, type RecordGeometry } from './record-geometry.ts';
export { componentFromFile, workOf } from './source-file.ts';
