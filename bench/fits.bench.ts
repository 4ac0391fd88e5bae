// What touches and what overlaps in an assembly: the demo's, and a pair of solids of 100,000 triangles against other ways of asking.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { BufferAttribute, BufferGeometry, Matrix4 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { findFits, findWays, numbersOf } from '#core/assembly';
import { makeComponent, readWords } from '#core/components';
import { overlapOf } from '#core/contact';
import { cookRecipe, readRecipe } from '#core/handover';
import { unwrap } from '#core/issues';
import { loadKernel, OverlapSolver, readModelFile } from '#core/kernel';
import { IDENTITY, move, rotationAbout, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { componentOfSpec } from '#core/sources';
import { type BenchRow, medianMs } from './measure.ts';

const demo = join(import.meta.dirname, '../demo');

export async function benchFits(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const solver = await OverlapSolver.load();
  const recipe = unwrap(readRecipe(readFileSync(join(demo, 'hub-station.json'), 'utf8'), 'hub-station.json'));
  const plain = { ...recipe, components: recipe.components.map((c) => ({ ...c, geometry: [] })) };
  const { assembly, components, models } = unwrap(await cookRecipe(kernel, plain, (name) => readFileSync(join(demo, name)), { now: '2026-01-01' }));
  const first = performance.now();
  findFits(solver, assembly, components, models);
  const once = performance.now() - first;
  // A bar that is pushed in a little more each time.
  let out = 0;
  const bar = assembly.pieces[assembly.pieces.length - 1];
  const again = await medianMs(() => {
    out -= 0.01;
    findFits(solver, { pieces: assembly.pieces.map((p) => (p === bar ? { ...p, stickOut: p.stickOut + out } : p)) }, components, models);
  });
  const numbers = await medianMs(() => void numbersOf(assembly, components, models));
  // Two crossed rods.
  const rod = async (chordTolerance: number): Promise<BodyGeometry> => {
    const profile = [
      { kind: 'line', from: [-60, 0], to: [60, 0] },
      { kind: 'line', from: [60, 0], to: [60, 9] },
      { kind: 'arc', from: [60, 9], to: [-60, 9], centre: [0, -400], ccw: true },
      { kind: 'line', from: [-60, 9], to: [-60, 0] },
    ] as const;
    const shape = { format: 'ruota-shape', version: 1, form: 'revolved', bodies: [{ name: 'rod', role: 'tool body', profile: [profile] }] } as const;
    return unwrap(await readModelFile(kernel, writeSolidShape(shape), shapeFileName('rod'), { chordTolerance })).model.bodies[0];
  };
  const dense = await rod(0.005);
  const triangles = (2 * dense.mesh.triangles.length) / 3;
  const turn = rotationAbout([0, 0, 0], [1, 0, 0], 1.2);
  const pair = () => overlapOf(solver, { body: dense, worldFromFile: IDENTITY }, { body: dense, worldFromFile: turn });
  const found = pair();
  if (!found) throw new Error('fits.bench: crossed rods overlap');
  const ours = await medianMs(() => void pair(), { rounds: 5, warm: 1 });
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(dense.mesh.positions), 3));
  geometry.setIndex(new BufferAttribute(dense.mesh.triangles, 1));
  const tree = new MeshBVH(geometry);
  // Of both, as it asks for.
  (geometry as { boundsTree?: MeshBVH }).boundsTree = tree;
  const { r, t } = turn;
  const matrix = new Matrix4().set(r[0], r[1], r[2], t[0], r[3], r[4], r[5], t[1], r[6], r[7], r[8], t[2], 0, 0, 0, 1);
  const asked = await medianMs(() => {
    if (!tree.intersectsGeometry(geometry, matrix)) throw new Error('fits.bench: three-mesh-bvh sees it too');
  });
  const coarse = await rod(0.05);
  const brute = await medianMs(() => void bruteForce(coarse, (p) => move(turn, p)), { rounds: 3, warm: 1 });
  const coarseOurs = await medianMs(() => void overlapOf(solver, { body: coarse, worldFromFile: IDENTITY }, { body: coarse, worldFromFile: turn }), {
    rounds: 3,
    warm: 1,
  });
  solver.close();
  const sleeves = [
    [40, 32],
    [40, 25],
    [32, 25],
    [32, 16],
    [25, 16],
    [25, 12],
    [16, 8],
    [12, 8],
  ].flatMap(([outer, bore]) => Array.from({ length: 2500 }, (_, i) => ({ ...componentOf(`sleeve ${outer} to ${bore}`), id: `${outer} ${bore} ${i}` })));
  const drill = componentOf('drill 8');
  const ways = await medianMs(() => {
    if (findWays({ standard: 'cylindrical', size: 40 }, drill, sleeves).ways.length === 0) throw new Error('fits.bench: there is a way');
  });
  const name = `${Math.round(triangles / 1000)},000 triangles`;
  return [
    { what: 'joints and overlaps of the demo assembly, the first time', value: once, unit: 'ms' },
    { what: 'the same after a stick-out changed', value: again, unit: 'ms', limit: 300 },
    { what: 'its numbers: mass, overhang, what gives way', value: numbers, unit: 'ms' },
    { what: 'ways from a bore of 40 to a drill of 8 among 20,000 sleeves', value: ways, unit: 'ms' },
    { what: `depth, place and volume of an overlap of ${name}`, value: ours, unit: 'ms' },
    { what: 'the same against three-mesh-bvh, which says only that they meet', value: ours / asked, unit: 'x' },
    { what: `an overlap of ${(2 * coarse.mesh.triangles.length) / 3} triangles against trying every pair of triangles`, value: coarseOurs / brute, unit: 'x' },
  ];
}

function componentOf(words: string) {
  const { spec } = readWords(words);
  const made = spec && makeComponent(spec);
  if (!spec || !made?.ok) throw new Error(`fits.bench: ${words}`);
  return componentOfSpec(spec, made.part, { id: words, name: words, now: '' });
}

// Every triangle against every other, by their boxes alone: less than a full test would take.
function bruteForce({ mesh: { positions: p, triangles: t } }: BodyGeometry, moved: (p: Vec3) => Vec3): number {
  const boxes = (at: (i: number) => Vec3): Float64Array => {
    const out = new Float64Array(2 * t.length);
    for (let i = 0; i < t.length; i += 3) {
      const c = [at(t[i]), at(t[i + 1]), at(t[i + 2])];
      for (let k = 0; k < 3; k++) {
        out[2 * i + k] = Math.min(c[0][k], c[1][k], c[2][k]);
        out[2 * i + 3 + k] = Math.max(c[0][k], c[1][k], c[2][k]);
      }
    }
    return out;
  };
  const plain = (i: number): Vec3 => [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
  const [a, b] = [boxes(plain), boxes((i) => moved(plain(i)))];
  let met = 0;
  for (let i = 0; i < a.length; i += 6)
    for (let j = 0; j < b.length; j += 6)
      if (a[i] <= b[j + 3] && b[j] <= a[i + 3] && a[i + 1] <= b[j + 4] && b[j + 1] <= a[i + 4] && a[i + 2] <= b[j + 5] && b[j + 2] <= a[i + 5]) met++;
  return met;
}
