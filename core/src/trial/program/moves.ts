import type { PathPiece } from '#core/outline';
import { OTHER_ZEROS, type OtherZero } from '#core/records';

/** What the spindle does. */
export interface SpindleState {
  readonly sense: 'M3' | 'M4' | null;
  /** `surface`: m/min on the diameter of the programmed point (G96); else 1/min (G97). */
  readonly mode: 'speed' | 'surface';
  readonly value: number;
  /** 1/min; no limit without. */
  readonly limit: number | undefined;
}

export interface Feed {
  readonly value: number;
  /** mm a turn (G95) or a minute (G94). */
  readonly per: 'turn' | 'minute';
}

/** The side of the contour that the tool is on, seen along its way. */
export type Side = 'left' | 'right';

/** A step of a program: a move of the programmed point, or what stands between moves. */
export type Step =
  | {
      readonly kind: 'move';
      readonly line: number;
      readonly isRapid: boolean;
      /** In [z, x] of the part, mm, x on radius. */
      readonly path: PathPiece;
      readonly tool: number;
      readonly offset: number | undefined;
      readonly feed: Feed | undefined;
      readonly spindle: SpindleState;
      /** Nose radius compensation that holds for it (G41, G42). */
      readonly side: Side | undefined;
      /** Of a thread (G33): mm along Z a turn. */
      readonly pitch?: number;
    }
  /** A tool comes to work: the carrier is indexed where it stands. */
  | { readonly kind: 'tool'; readonly line: number; readonly tool: number; readonly offset: number | undefined }
  | { readonly kind: 'dwell'; readonly line: number; readonly seconds: number }
  | { readonly kind: 'stop'; readonly line: number; readonly code: 'M0' | 'M1' }
  /** Waits for the other channels at a mark. */
  | { readonly kind: 'wait'; readonly line: number; readonly mark: number; readonly spindle: SpindleState };

export type Move = Extract<Step, { kind: 'move' }>;

/** Of a loaded tool what its program moves. Places are [z, x] of the part. */
export interface LoadedTool {
  readonly carrier: string;
  /** Where its carrier stands at the start and goes to by G28: the carrier's reference. */
  readonly home: readonly [number, number];
  /** The programmed point about that reference. */
  readonly point: readonly [number, number];
  /** All carriers that have a tool of its number. */
  readonly standsOn: readonly string[];
}

/** What a program is read against. Lengths in mm; X on radius. */
export interface ProgramSetting {
  readonly diameters: boolean;
  readonly unit: 'mm' | 'inch';
  readonly toolDigits: number;
  readonly offsetDigits: number;
  /** A tool as it is loaded; undefined for one that is not. */
  readonly toolOf: (tool: number, offset: number | undefined) => LoadedTool | undefined;
  /** Where the zero of a work coordinate system lies, along Z of the part; G54 is the part's own. */
  readonly zeros: Readonly<Partial<Record<OtherZero, number>>>;
  /** M codes at which channels wait for each other, the first and the last. */
  readonly waits: readonly [number, number];
}

export const WORK_ZEROS = ['G54', ...OTHER_ZEROS] as const;
export type WorkZero = (typeof WORK_ZEROS)[number];
