// What happens while an outline is drawn: solving, the preview, and the solid that the kernel makes.
import { flatsAround, revolveToMesh } from '#core/envelope';
import { loadKernel, readModelFile } from '#core/kernel';
import { loopThrough, type PathPiece, type RevolvedShape, shapeFileName, writeSolidShape } from '#core/outline';
import { nameCorners, type Sketch, type SketchConstraint, SketchSolver } from '#core/sketch';
import { type BenchRow, medianMs } from './measure.ts';

// A staircase of `steps` grooves: two corners each, all along or across the axis.
function stairs(steps: number): PathPiece[] {
  const outside = Array.from({ length: steps }, (_, i): [number, number][] => {
    const z = 2 * (steps - i);
    const r = 8 + (i % 5) + i / steps;
    return [
      [z, r],
      [z - 2, r],
    ];
  }).flat();
  return loopThrough([[0, 0], [2 * steps, 0], ...outside]);
}

/** ms of what is asked of a drag and of a keystroke. */
export async function benchOutline(): Promise<BenchRow[]> {
  const solver = await SketchSolver.load();
  const loop = stairs(149);
  const names = nameCorners([loop]).names;
  // 300 pieces: every third corner of what is along and across is said, 200 in all.
  const said = loop.flatMap((p, i): SketchConstraint[] =>
    i === 0 || i === loop.length - 1 || i % 3 === 0
      ? []
      : [{ id: `k${i}`, kind: Math.abs(p.from[1] - p.to[1]) < 1e-9 ? 'horizontal' : 'vertical', piece: names[0][i] }],
  );
  const sketch: Sketch = { names, constraints: said.slice(0, 200) };
  const corner = names[0][150];
  let profile: readonly (readonly PathPiece[])[] = [loop];
  const [z, r] = loop[150].from;
  let step = 0;
  const drag = await medianMs(
    () => {
      step++;
      const solved = solver.solve(profile, sketch, { corner, to: [z + 0.02 * step, r + 0.03 * step] });
      if (solved.ok) profile = solved.value.profile;
    },
    { rounds: 31, warm: 5 },
  );
  solver.close();
  const sixty = stairs(29);
  const preview = await medianMs(() => revolveToMesh([sixty], { origin: [0, 0, 0], direction: [0, 0, 1] }, (radius) => flatsAround(radius, 0.01), 0.01), {
    rounds: 15,
    warm: 3,
  });
  const kernel = await loadKernel();
  const shape: RevolvedShape = { format: 'ruota-shape', version: 1, form: 'revolved', bodies: [{ name: 'b', role: 'tool body', profile: [sixty] }] };
  const bytes = writeSolidShape(shape);
  const solid = await medianMs(() => readModelFile(kernel, bytes, shapeFileName('x')), { rounds: 7, warm: 2 });
  return [
    { what: `drag a corner of ${loop.length} pieces with ${sketch.constraints.length} constraints`, value: drag, unit: 'ms', limit: 8 },
    { what: `turn ${sixty.length} pieces into a mesh`, value: preview, unit: 'ms', limit: 16 },
    { what: `the kernel's solid of ${sixty.length} pieces with its model, warm`, value: solid, unit: 'ms', limit: 300 },
  ];
}
