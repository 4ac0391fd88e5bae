import wasmUrl from '@salusoft89/planegcs/dist/planegcs_dist/planegcs.wasm?url';
import { SketchSolver } from '#core/sketch';

let solver: Promise<SketchSolver> | undefined;

/** The solver of outlines with constraints, loaded once: it answers in milliseconds, so that it works where the outline is drawn. */
export const sketchSolver = (): Promise<SketchSolver> => (solver ??= SketchSolver.load(wasmUrl));

/** One that broke is not given again. */
export function dropSketchSolver(): void {
  solver = undefined;
}
