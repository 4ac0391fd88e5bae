export { type Axis, isSameLine, zrOf } from './axis.ts';
export { computeExactGeometry, type ExactGeometry } from './exact/exact.ts';
export { type CheckCost, checkCost } from './proof/check-cost.ts';
export { type BoreOptions, windingNumber } from './revolved/bores.ts';
export { fewestPieces, type Ring } from './revolved/fewest-pieces.ts';
export {
  computeRevolvedEnvelope,
  computeRevolvedEnvelopes,
  type Growth,
  growthOfProfile,
  isUsableTolerance,
  type OpenOptions,
  type RevolvedEnvelope,
} from './revolved/revolved.ts';
export { leastTriangles } from './revolved/least-triangles.ts';
export { flatsAround, flatsGrowth, revolveToMesh } from './revolved/revolve-mesh.ts';
export { SEGMENT_SIZE } from './revolved/segment-list.ts';
export { sweptSegments } from './revolved/swept-segments.ts';
export { chordsOfSegments, dropHidden, type Pieces, upperEnvelope } from './revolved/upper-envelope.ts';
export { closeOpenings } from './wrap/close-openings.ts';
export { leastOfWrap } from './wrap/least-of-wrap.ts';
export { progressiveHull } from './wrap/progressive-hull.ts';
export {
  type GrowthField,
  growthOfSpin,
  growthOverMesh,
  type InsideProof,
  joinProofs,
  type OutsideProof,
  type Proof,
  type ProofInput,
  proveAround,
  proveEnclosure,
  proveInside,
  proveOutside,
} from './proof/proof.ts';
export { computeWrap, lightenWrap, type Wrap } from './wrap/wrap.ts';
export { computePlanOutline, type PlanLoop, type PlanOptions, type PlanOutline } from './plan/plan.ts';
export { silhouetteOf } from './plan/silhouette.ts';
