export * from './pack.ts';
export * from './verify/verify.ts';
export * from './recipe.ts';
export { type CookedSetUp, cookSetUp, type SetUpFile, setUpFileSchema, setUpOf } from './set-up-file.ts';
export { type CookedTrial, cookTrial, type KnownTrials } from './trial-file.ts';
