import type { CheckCost, Growth, Proof } from '#core/envelope';
import type { ModelWork, OpenModel } from '#core/kernel';
import type { Frame } from '#core/math';
import type { TriMesh } from '#core/mesh';
import type { BoreChoice, HalfProfile } from '#core/outline';
import type { PART_MODES } from '#core/records';
import type { Crew } from './tasks.ts';

/** How one part is made, and for a whole target: `auto` takes what gives the fewest triangles. */
export type PartMode = (typeof PART_MODES)[number];
export type GeometryMode = PartMode | 'auto';

export interface GeometryRequest {
  readonly bytes: Uint8Array;
  readonly file: string;
  readonly bodies: readonly string[];
  readonly work?: ModelWork;
  /** The same file with the same work, where it is kept open: it stays so. Without it the file is opened and closed again. */
  readonly opened?: OpenModel;
  readonly mode: GeometryMode;
  /** Bodies that are made another way than the rest. */
  readonly overrides?: Readonly<Record<string, PartMode>>;
  readonly tolerance: number;
  /** mm. Openings of flat faces up to this width are closed in a wrap; 0 closes none. */
  readonly closeBelow?: number;
  /** Which bores of a revolved envelope stay open; those narrower than `closeBelow` do not. */
  readonly bores?: BoreChoice;
  /** mm. Gaps of a revolved envelope's outside up to this width are filled. */
  readonly bridge?: number;
  /** A half profile of all revolved bodies that stands in place of the computed one; it is proven like any other. */
  readonly drawn?: HalfProfile | null;
  /** A wrap stops at this many triangles. */
  readonly triangles?: number;
  /** Axis of revolution and origin of the profile: its Z. In the file's coordinates. */
  readonly frame: Frame;
  /** Whether the bodies spin about that axis, so that `auto` may revolve them. */
  readonly spins?: boolean;
  readonly onProgress?: (share: number, text: string) => void;
  /** It is only looked at: chords that are there already serve, as far as the tolerance can be kept with them, and fewer places are proven: in earnest it may come out otherwise. */
  readonly isTry?: boolean;
  /** Given proven geometry of all bodies as it comes, each time better than before; what is made in the end is the answer. */
  readonly onResult?: (result: GeometryResult) => void;
  /** Who does the work that needs no kernel; whoever asks without it. */
  readonly crew?: Crew;
  /** Asked between steps, once others have had their turn: false ends the making with `envelope.stopped`. */
  readonly goesOn?: () => Promise<boolean>;
}

/** One mesh of the result: of one body, or of all that spin together. */
export interface GeometryPart {
  readonly bodies: readonly string[];
  /** Bodies that lie wholly in it, and need nothing of their own. */
  readonly inside: readonly string[];
  readonly mode: PartMode;
  readonly mesh: TriMesh;
  /** First triangle of each of the body's faces, and the count at the end; for an exact part. */
  readonly faceStart?: Uint32Array;
  readonly profile?: HalfProfile;
  readonly trianglesIn: number;
  readonly growth: Growth;
  readonly proof: Proof;
  /** In words: what it is and why it was taken. */
  readonly why: string;
  /** What it took, all tries of this form together. */
  readonly spent: Spent;
}

/** ms. */
export interface Spent {
  readonly sampling: number;
  readonly making: number;
  readonly proof: number;
}

/** Simulation geometry in the file's coordinates, with its report. */
export interface GeometryResult {
  readonly parts: readonly GeometryPart[];
  readonly mesh: TriMesh;
  /** Where one revolved envelope is the whole result. */
  readonly profile?: HalfProfile;
  readonly trianglesIn: number;
  readonly trianglesOut: number;
  readonly bytesIn: number;
  readonly bytesOut: number;
  readonly volumeIn: number;
  readonly volumeOut: number;
  readonly growth: Growth;
  readonly closed: boolean;
  /** Boxes and triangles that a collision check looks at, the parts' sums. */
  readonly checkCost: CheckCost;
  readonly milliseconds: number;
}

/** Told how far it is, 0 to 1, and with what. */
export type Report = (share: number, text: string) => void;
