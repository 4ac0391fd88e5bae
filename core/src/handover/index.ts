export { type Packed, packAssembly, type PackInput } from './pack.ts';
export * from './open-package.ts';
export { type PackedSetUp, packSetUp, type PackSetUpInput } from './pack-set-up.ts';
export * from './verify/verify.ts';
export * from './recipe.ts';
export { type CookedSetUp, cookSetUp, readSetUp, type SetUpFile, setUpFileSchema, setUpOf } from './set-up-file.ts';
export { type CookedTrial, cookTrial, type KnownTrials, trialOfPackage } from './trial-file.ts';
