export { type FoundConnection } from './connections.ts';
export { proposeReading, type Reading, READING_KINDS, type ReadingKind, type ReadingWarning } from './propose.ts';
export { type RoleProposal } from './roles.ts';
export { type FoundTip } from './tips.ts';
