export { type Kernel, isKernelLost, kernelErrorText, loadKernel } from './kernel.ts';
export { liveHandleCount } from './scope.ts';
export { checkStepText, LARGEST_STEP_FILE, readStep, type ReadModel, type ReadStepOptions } from './step-read.ts';
export { type SampledBody, sampleStep } from './sample-faces.ts';
export { part21String, type StepPart, writeRevolvedStep, writeStepPart } from './step-write.ts';
export { type PlainSolid, writePlainStep } from './plain-solids.ts';
export { hasBrep, readModelFile, sampleModelFile } from './model-file.ts';
export { type FlatBooleans, loadFlatBooleans } from './flat-booleans.ts';
export { type Cut, type ModelWork, NO_WORK } from './model-work.ts';
