import type { Shape3D } from 'replicad';
import type { Frame, Vec3 } from '#core/math';
import type { BodyRole } from '#core/records';
import type { ConnectionSize } from '#core/standards';

export const CORPUS_KINDS = ['turning', 'boring', 'grooving', 'threading', 'holder', 'cutter', 'block', 'adapter'] as const;
export type CorpusKind = (typeof CORPUS_KINDS)[number];

export interface MarkedPlace {
  readonly connection: ConnectionSize;
  readonly frame: Frame;
}

/** The truth about a cutting corner; angles in degrees as seen along the turning plane's normal, absent where a corner has none. */
export interface TrueTip {
  readonly noseRadius: number;
  readonly noseCentre: Vec3;
  readonly enteringAngle?: number;
  readonly includedAngle?: number;
  readonly hand?: 'right' | 'left' | 'neutral';
}

/** A model of the corpus in its own mount frame (Z towards the work, X radial), with what is true about it. */
export interface CorpusModel {
  readonly kind: CorpusKind;
  readonly bodies: readonly { shape: Shape3D; name: string; colour: string; role: BodyRole }[];
  readonly mount: MarkedPlace;
  readonly seats: readonly MarkedPlace[];
  readonly tips: readonly TrueTip[];
  /** A drill's point angle or the like: what else the model knows of itself. */
  readonly note: string;
}

/** The truth beside a file, in the file's coordinates turned to mm. */
export interface CorpusTruth {
  readonly file: string;
  readonly seed: number;
  readonly kind: CorpusKind;
  readonly format: 'step' | 'stl';
  readonly unit: 'mm' | 'inch';
  readonly fused: boolean;
  /** Not to be looked at while reading is worked on. */
  readonly heldBack: boolean;
  readonly bodies: readonly { role: BodyRole; volume: number; centroid: Vec3 }[];
  readonly mount: MarkedPlace;
  readonly seats: readonly MarkedPlace[];
  readonly tips: readonly TrueTip[];
  readonly note: string;
}
