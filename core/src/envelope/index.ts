export { type Axis, isSameLine, zrOf } from './axis.ts';
export { computeExactGeometry, type ExactGeometry } from './exact.ts';
export { profileOfEnvelope, simplifyProfile } from './outer-profile.ts';
export { computeRevolvedEnvelope, type Growth, isUsableTolerance, type RevolvedEnvelope } from './revolved.ts';
export { flatsAround, flatsGrowth, revolveToMesh } from './revolve-mesh.ts';
export { SEGMENT_SIZE, sweptSegments } from './swept-segments.ts';
export { chordsOfSegments, dropHidden, type Pieces, upperEnvelope } from './upper-envelope.ts';
