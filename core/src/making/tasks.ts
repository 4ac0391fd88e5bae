import type { ExactGeometry, Growth, InsideProof, OutsideProof, Proof, ProofInput } from '#core/envelope';
import type { Result } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import type { TriMesh } from '#core/mesh';
import type { HalfProfile } from '#core/outline';

/** What a builder gives: a mesh, and what its proof and its report have to know of it. */
export interface Made {
  readonly mesh: TriMesh;
  readonly faceStart?: Uint32Array;
  readonly profile?: HalfProfile;
  /** Growth as the builder measured it on the true faces. */
  readonly built?: Growth;
  readonly closedMesh?: TriMesh;
  readonly pushed?: number;
  readonly say?: string;
}

/** What of a request a wrap depends on. */
export interface WrapChoice {
  readonly tolerance: number;
  readonly closeBelow?: number;
  readonly triangles?: number;
}

/** Wraps a body; `others` are the closed, welded meshes that stand with it. `exact` where it is made already. */
export interface WrapTask {
  readonly kind: 'wrap';
  readonly body: SampledBody;
  readonly exact?: ExactGeometry;
  readonly others: readonly TriMesh[];
  readonly choice: WrapChoice;
}

/** Makes a wrap lighter that was made within a finer tolerance: it may stand out by `more` mm more. */
export interface LightenTask {
  readonly kind: 'lighten';
  readonly mesh: TriMesh;
  readonly more: number;
  readonly others: readonly TriMesh[];
}

/** Proves a result, or one half of that. */
export interface ProofTask {
  readonly kind: 'prove';
  readonly input: ProofInput;
  readonly mesh: TriMesh;
}
export interface InsideTask extends Omit<ProofTask, 'kind'> {
  readonly kind: 'prove inside';
}
export interface OutsideTask extends Omit<ProofTask, 'kind'> {
  readonly kind: 'prove outside';
}
/** Proves a result, proven already, for bodies that lie in it too. */
export interface AroundTask {
  readonly kind: 'prove around';
  readonly proof: Proof;
  readonly bodies: readonly SampledBody[];
  readonly share: number;
  readonly mesh: TriMesh;
}

/** Work that needs no kernel, as plain data: it can be done in another thread. */
export type Task = WrapTask | LightenTask | ProofTask | InsideTask | OutsideTask | AroundTask;
export type Answer<T extends Task> = T extends WrapTask
  ? Result<Made>
  : T extends LightenTask
    ? TriMesh
    : T extends InsideTask
      ? InsideProof
      : T extends OutsideTask
        ? OutsideProof
        : Proof;

/** Who does such work: each task when its turn comes, several at once where there are several hands. */
export interface Crew {
  do<T extends Task>(task: T, onProgress?: (share: number) => void): Promise<Answer<T>>;
  /** How many tasks are done at once. */
  readonly hands: number;
}

/** One that does a task elsewhere, one at a time. */
export interface Hand {
  do(task: Task, onProgress: (share: number) => void): Promise<Answer<Task>>;
}
