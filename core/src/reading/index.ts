export { apexOf, type Corner, cornersOf } from './corners.ts';
export { type FaceRef } from './face-table.ts';
export { proposeReading, type Reading, READING_KINDS, type ReadingKind, type ReadingWarning, type ReadKind } from './propose.ts';
export { type RoleProposal } from './roles.ts';
export { type FoundConnection } from './shanks.ts';
export { type FoundTip, tipOrientation } from './tips.ts';
export { compareWithDesignation, computeFacts, cornerOfTip, type Difference, type Fact, findMistakes, type Mistake, type ToolFacts } from './facts.ts';
export { type BoreAtDepth, computeMinimumBore, largestSwing } from './minimum-bore.ts';
export { compareTiltedEdge, type EdgeDeviation } from './tilted-edge.ts';
