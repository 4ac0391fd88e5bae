export { ALONE, doTask, ManyHands, proveWith } from './crew.ts';
export { type GrowthMap, mapGrowth } from './growth-map.ts';
export { makeGeometry } from './make-geometry.ts';
export { chordFor } from './form-trials.ts';
export { makeRecordPlan, makeRecordPlanSolid, PLAN_CHORDS, provenPlan } from './make-plan.ts';
export { makeRecordGeometry, makeRecordGeometryWithin, type Means, partRecord, type RecordGeometry } from './record-geometry.ts';
export type { Answer, Crew, Hand, Task } from './tasks.ts';
export type { GeometryMode, GeometryPart, GeometryRequest, GeometryResult, PartMode } from './request.ts';
