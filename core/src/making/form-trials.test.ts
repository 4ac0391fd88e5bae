import { describe, expect, it } from '@jest/globals';
import { done } from '#core/issues';
import type { OpenModel, SampledBody, SampleOptions } from '#core/kernel';
import { sampledMesh } from '#core/kernel';
import type { TriMesh } from '#core/mesh';
import { FormTrials } from './form-trials.ts';
import type { GeometryRequest } from './index.ts';

// A cube of 10.
const cube: TriMesh = {
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 10 : 0, i & 2 ? 10 : 0, i & 4 ? 10 : 0])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
};

/** A body with a place of its true faces 0.5 mm outside of its triangles, whatever the chord. */
function body(mesh: TriMesh, chordTolerance: number): SampledBody {
  return { ...sampledMesh(mesh, 'b1'), chordTolerance, skin: Float64Array.of(10.5, 5, 5), skinEdges: 3 };
}

/** The chords that were tried until exact geometry of a mesh was given up. */
async function chordsTried(mesh: TriMesh): Promise<number[]> {
  const tried: number[] = [];
  const source = {
    sample: ({ chordTolerance }: SampleOptions) => {
      tried.push(chordTolerance);
      return done([body(mesh, chordTolerance)]);
    },
  } as unknown as OpenModel;
  const frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as const;
  const request: GeometryRequest = { bytes: new Uint8Array(0), file: 'x', bodies: ['b1'], mode: 'exact', tolerance: 0.1, frame };
  const part = await new FormTrials(source, request).part(['b1'], 'exact', [], () => undefined);
  if (!part.ok) throw new Error(JSON.stringify(part.issues));
  // It is told, not hidden.
  expect(part.value.growth.min).toBeLessThan(-0.4);
  return tried;
}

describe('a part that does not enclose its body', () => {
  it('is tried with finer chords, three times', async () => {
    const [first, ...others] = await chordsTried(cube);
    expect(others.map((chord) => first / chord)).toEqual([2, 4, 8]);
  });
  it('of a body with a hole is tried once more only, where that brings nothing', async () => {
    const open = { ...cube, triangles: cube.triangles.slice(6) };
    expect(await chordsTried(open)).toHaveLength(2);
  });
});
