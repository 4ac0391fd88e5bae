import type { Shape3D } from 'replicad';
import type { BodyRole } from '#core/records';
import type { CorpusTruth, MarkedPlace, TrueTip } from '../corpus-model.ts';

export const WILD_KINDS = [
  'turning',
  'boring',
  'grooving',
  'head',
  'indexable',
  'solid cutter',
  'fine cutter',
  'holder',
  'adapter',
  'collet',
  'block',
  'insert',
] as const;
export type WildKind = (typeof WILD_KINDS)[number];

export interface WildTip extends TrueTip {
  /** EPSR, the insert's own, degrees. */
  readonly ownAngle?: number;
}

export interface WildBody {
  readonly shape: Shape3D;
  readonly role: BodyRole;
  readonly name?: string;
  /** The same shape as all others that say so, turned about Z by these degrees. */
  readonly like?: { readonly of: string; readonly turned: number };
}

/** A model of the wild corpus in its mount's frame, Z towards the work, with what is true of it. */
export interface WildModel {
  readonly kind: WildKind;
  /** What reading should call it. */
  readonly readAs: string;
  readonly bodies: readonly WildBody[];
  readonly mount: MarkedPlace;
  /** Others that are as right. */
  readonly otherMounts?: readonly MarkedPlace[];
  readonly seats: readonly MarkedPlace[];
  /** All alike, of which one is enough, where `oneOf` is said; undefined where none is asked for. */
  readonly tips: readonly WildTip[];
  readonly oneOf?: boolean;
  /** Where the cutting stretch of a solid cutter begins along Z, and how far beside it is still right, mm. */
  readonly cutsFrom?: { readonly at: number; readonly within: number };
  readonly note: string;
}

export interface WildTruth extends Omit<CorpusTruth, 'kind' | 'tips' | 'fused'> {
  readonly kind: WildKind;
  readonly readAs: string;
  readonly tips: readonly WildTip[];
  readonly oneOf?: boolean;
  readonly otherMounts?: readonly MarkedPlace[];
  readonly cutsFrom?: { readonly at: number; readonly within: number };
  /** How the file was written: splines, patches, inches and so on. */
  readonly written: string;
}
