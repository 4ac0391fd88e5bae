// What happens while an outline is drawn: solving, the preview, and the solid that the kernel makes.
import { flatsAround, revolveToMesh } from '#core/envelope';
import { loadKernel, readModelFile } from '#core/kernel';
import { loopThrough, type PathPiece, type RevolvedShape, shapeFileName, writeSolidShape } from '#core/outline';
import { filletCorner, moveSketch, nameCorners, type SketchConstraint, type Sketched, SketchSolver } from '#core/sketch';
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

// A rod of rounded peaks, each with what is said of a rounding.
function peaks(count: number): Sketched {
  const outside = Array.from({ length: count }, (_, i): [number, number] => [4 * (count - i), i % 2 ? 14 + (i % 5) : 8 + (i % 3)]);
  const profile = [loopThrough([[0, 0], [4 * count, 0], ...outside, [0, 8]])];
  let made: Sketched = { profile, sketch: nameCorners(profile) };
  for (const name of made.sketch.names[0].slice(3, -1)) {
    const rounded = filletCorner(made, name, 0.3);
    if (rounded.ok) made = rounded.value;
  }
  return made;
}

// ms a step of a corner in the middle that is drawn further and further.
function dragged({ profile: start, sketch }: Sketched): Promise<number> {
  let profile = start;
  let step = 0;
  const middle = start[0].length >> 1;
  const [z, r] = start[0][middle].from;
  return medianMs(
    () => {
      step++;
      const to = moveSketch(profile, sketch, [{ corner: sketch.names[0][middle], to: [z + 0.01 * step, r + 0.01 * step] }], true);
      if (!to) throw new Error('outline.bench: a corner that follows');
      profile = to;
    },
    { rounds: 31, warm: 5 },
  );
}

/** ms of what is asked of a drag and of a keystroke. */
export async function benchOutline(): Promise<BenchRow[]> {
  const loop = stairs(149);
  const names = nameCorners([loop]).names;
  // 300 pieces: every third corner of what is along and across is said, 200 in all.
  const said = loop.flatMap((p, i): SketchConstraint[] =>
    i === 0 || i === loop.length - 1 || i % 3 === 0
      ? []
      : [{ id: `k${i}`, kind: Math.abs(p.from[1] - p.to[1]) < 1e-9 ? 'horizontal' : 'vertical', piece: names[0][i] }],
  );
  const apart: Sketched = { profile: [loop], sketch: { names, constraints: said.slice(0, 200) } };
  // And where each piece is tangent to the next one: all of it hangs together.
  const together = peaks(150);
  const solver = await SketchSolver.load();
  const judged = await medianMs(() => solver.solve(apart.profile, apart.sketch), { rounds: 5, warm: 1 });
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
    { what: `drag a corner of ${loop.length} pieces with ${apart.sketch.constraints.length} constraints`, value: await dragged(apart), unit: 'ms', limit: 8 },
    { what: `the same, all ${together.sketch.constraints.length} of them hanging together`, value: await dragged(together), unit: 'ms', limit: 16 },
    { what: 'solving it again when the corner is dropped', value: judged, unit: 'ms' },
    { what: `turn ${sixty.length} pieces into a mesh`, value: preview, unit: 'ms', limit: 16 },
    { what: `the kernel's solid of ${sixty.length} pieces with its model, warm`, value: solid, unit: 'ms', limit: 300 },
  ];
}
