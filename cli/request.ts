import type { SpecKind } from '#core/components';
import type { Issue } from '#core/issues';
import type { GeometryMode } from '#core/making';
import type { BoreChoice } from '#core/outline';
import type { ReadingKind } from '#core/reading';
import type { BatchRecipe } from './commands/batch-recipe.ts';

/** What one command is asked to do; plain data, it crosses to the worker. */
export type CommandRequest =
  | { command: 'inspect'; file: string }
  | { command: 'propose'; file: string; kind: ReadingKind }
  | {
      command: 'envelope';
      file: string;
      mode: GeometryMode | 'plan';
      tolerance: number;
      axis?: number[];
      bodies?: string[];
      triangles?: number;
      closeBelow?: number;
      bores?: BoreChoice;
      bridge?: number;
      out: string;
    }
  | {
      command: 'outline';
      file: string;
      layers?: string[];
      form?: 'revolved' | 'flat';
      unit?: 'mm' | 'inch';
      tolerance?: number;
      bridge?: number;
      flip?: boolean;
      scale?: number[];
      thickness?: number;
      relief?: number;
      out?: string;
    }
  | { command: 'assemble'; file: string; swaps: { piece: string; component: string }[]; find?: { from: string; to: string }; force?: number; out: string }
  | { command: 'designation'; codes: string[] }
  /** From a file, or from lines of words. */
  | { command: 'component'; file?: string; texts: string[]; factsOnly: boolean; out?: string }
  | { command: 'import'; file: string; map?: string; kind?: SpecKind; out?: string }
  | { command: 'shelf'; file: string; where?: string; merge?: string; out?: string }
  | { command: 'setup'; file: string; out?: string }
  | { command: 'trial'; file: string; program?: string; out?: string; trial?: string }
  | { command: 'reach'; file: string; trial?: string }
  | { command: 'verify'; file: string }
  | { command: 'batch'; file: string; recipe: string; out: string; jobs?: number }
  /** One model of a batch. */
  | { command: 'batch-file'; file: string; recipe: BatchRecipe; recipeHash: string; out: string };

export interface CommandOutput {
  readonly json: unknown;
  readonly text: string;
  readonly warnings: readonly string[];
  /** True where a check failed: exit code 4. */
  readonly checkFailed: boolean;
}

/** How a command ended. */
export type Outcome = { kind: 'done'; output: CommandOutput } | { kind: 'failed'; issues: readonly Issue[] } | { kind: 'crashed'; text: string };

/** Told what is going on. */
export type Say = (text: string) => void;

/** What a thread that runs a command says. */
export type WorkerMessage = { kind: 'progress'; text: string } | Outcome;
