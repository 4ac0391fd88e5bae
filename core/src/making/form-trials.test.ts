import { describe, expect, it } from '@jest/globals';
import { done } from '#core/issues';
import type { OpenModel, SampledBody, SampleOptions } from '#core/kernel';
import { sampledMesh } from '#core/kernel';
import type { TriMesh } from '#core/mesh';
import { FormTrials } from './form-trials.ts';
import type { GeometryRequest, PartMode } from './index.ts';

// A cube of 10.
const cube: TriMesh = {
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 10 : 0, i & 2 ? 10 : 0, i & 4 ? 10 : 0])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
};

/** A mesh moved along x, y and z. */
const moved = ({ positions, triangles }: TriMesh, by: readonly [number, number, number]): TriMesh => ({
  positions: positions.map((v, i) => v + by[i % 3]),
  triangles,
});

/** Meshes as one. */
function together(...meshes: TriMesh[]): TriMesh {
  const before = meshes.map((_, i) => meshes.slice(0, i).reduce((n, m) => n + m.positions.length / 3, 0));
  return {
    positions: Float64Array.from(meshes.flatMap((m) => [...m.positions])),
    triangles: Uint32Array.from(meshes.flatMap((m, i) => [...m.triangles].map((v) => v + before[i]))),
  };
}

/** Cubes in a row, of which `pairs` have another one stuck into a corner. */
const crossing = (pairs: number): TriMesh =>
  together(...[0, 1, 2, 3].flatMap((i) => (i < pairs ? [moved(cube, [40 * i, 0, 0]), moved(cube, [40 * i + 6, 6, 6])] : [moved(cube, [40 * i, 0, 0])])));

/** A body with a place of its true faces 0.5 mm outside of its triangles, whatever the chord. */
const outside = (mesh: TriMesh, chordTolerance: number): SampledBody => ({
  ...sampledMesh(mesh, 'b1'),
  chordTolerance,
  skin: Float64Array.of(10.5, 5, 5),
  skinEdges: 3,
});

/** The chords that were tried, as parts of the first, and what was made of them. */
async function tried(mode: PartMode, body: (chord: number) => SampledBody, isSpare = false) {
  const chords: number[] = [];
  const source = {
    sample: ({ chordTolerance }: SampleOptions) => {
      chords.push(chordTolerance);
      return done([body(chordTolerance)]);
    },
    samplesOf: () => [],
  } as unknown as OpenModel;
  const frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as const;
  const request: GeometryRequest = { bytes: new Uint8Array(0), file: 'x', bodies: ['b1'], mode, tolerance: 0.1, frame };
  const part = await new FormTrials(source, request).part(['b1'], mode, [], () => undefined, isSpare);
  if (!part.ok) throw new Error(JSON.stringify(part.issues));
  return { parts: chords.map((chord) => chords[0] / chord), part: part.value };
}

describe('a part that does not enclose its body', () => {
  const triedExact = async (mesh: TriMesh) => {
    const { parts, part } = await tried('exact', (chord) => outside(mesh, chord));
    // It is told, not hidden.
    expect(part.growth.min).toBeLessThan(-0.4);
    return parts;
  };
  it('is tried with finer chords, three times', async () => {
    expect(await triedExact(cube)).toEqual([1, 2, 4, 8]);
  });
  it('of a body with a hole is tried once more only, where that brings nothing', async () => {
    expect(await triedExact({ ...cube, triangles: cube.triangles.slice(6) })).toHaveLength(2);
  });
});

describe('a wrap that goes through itself', () => {
  /** A wrap of a body that crosses itself at so many places, with each of its chords. */
  const triedWrap = async (pairs: readonly number[], isSpare = false) => {
    let next = 0;
    const { parts, part } = await tried('wrap', (chord) => ({ ...sampledMesh(crossing(pairs[next++]), 'b1'), chordTolerance: chord }), isSpare);
    return { parts, crossings: part.proof.crossings };
  };
  it('is tried once more only, where it crosses itself as often with finer chords', async () => {
    const { parts, crossings } = await triedWrap([3, 3]);
    expect(parts).toEqual([1, 2]);
    expect(crossings).toBeGreaterThan(0);
  });
  it('is tried on, where it crosses itself less and less', async () => {
    const { parts, crossings } = await triedWrap([4, 2, 1, 0]);
    expect(parts).toEqual([1, 2, 4, 8]);
    expect(crossings).toBe(0);
  });
  it('is tried once more only, where there is a good part of another form', async () => {
    expect((await triedWrap([4, 2, 1, 0], true)).parts).toEqual([1, 2]);
    expect(await triedWrap([4, 0], true)).toEqual({ parts: [1, 2], crossings: 0 });
  });
});
