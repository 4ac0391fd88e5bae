import { describe, expect, it } from '@jest/globals';
import { type SampledBody, sampledMesh } from '#core/kernel';
import { computeRevolvedEnvelope } from './revolved.ts';

const RADIUS = 10;
const LOW = 20;
// How far the end of the shaft, cut by a slanting plane, reaches up over its middle.
const SLANT = 0.5;
const Z = { origin: [0, 0, 0], direction: [0, 0, 1] } as const;

/** A shaft as it comes from a file in which the face of its slanting end is missing: its mantle in `count` strips and its foot. The top of its border is the middle of a chord. */
function openShaft(count: number, chordTolerance: number): SampledBody {
  const topAt = (a: number) => LOW + SLANT * Math.cos(a);
  const place = (a: number, z: number) => [RADIUS * Math.cos(a), RADIUS * Math.sin(a), z];
  const angle = (i: number) => (2 * Math.PI * (i + 0.5)) / count;
  const positions: number[] = [];
  const mantle: number[] = [];
  const foot: number[] = [];
  const points: number[] = [];
  const pointTriangle: number[] = [];
  for (let i = 0; i < count; i++) positions.push(...place(angle(i), 0), ...place(angle(i), topAt(angle(i))));
  positions.push(0, 0, 0);
  for (let i = 0; i < count; i++) {
    const [a, b] = [2 * i, 2 * ((i + 1) % count)];
    mantle.push(a, b, b + 1, a, b + 1, a + 1);
    foot.push(2 * count, b, a);
    for (const [t, z] of [
      [2 * i, 3],
      [2 * i + 1, 9],
    ]) {
      points.push(...place(angle(i + 0.5), z));
      pointTriangle.push(t);
    }
  }
  const skin = [...points];
  const edges: number[] = [];
  for (let i = 0; i < 8 * count; i++) {
    const a = (2 * Math.PI * i) / (8 * count);
    edges.push(...place(a, topAt(a)), ...place(a, 0));
  }
  const mesh = { positions: Float64Array.from(positions), triangles: Uint32Array.from([...mantle, ...foot]) };
  return {
    ...sampledMesh(mesh, 'b1'),
    chordTolerance,
    mesh,
    faceStart: Uint32Array.of(0, 2 * count, 3 * count),
    surfaces: [
      { kind: 'cylinder', origin: [0, 0, 0], axis: [0, 0, 1], radius: RADIUS, length: LOW + SLANT, concave: false },
      { kind: 'plane', origin: [0, 0, 0], normal: [0, 0, -1] },
    ],
    volume: Math.PI * RADIUS ** 2 * LOW,
    points: Float64Array.from(points),
    pointTriangle: Uint32Array.from(pointTriangle),
    skin: Float64Array.from([...skin, ...edges]),
    skinEdges: skin.length,
  };
}

describe('a border whose next face is missing', () => {
  it.each([24, 60])('reaches out between the corners of %i chords, and is enclosed as far as it does', (count) => {
    const body = openShaft(count, 0.05);
    // Its corners end below its top.
    const short = SLANT * (1 - Math.cos(Math.PI / count));
    expect(short).toBeGreaterThan(5e-4);
    const made = computeRevolvedEnvelope([body], Z, 0.05);
    if (!made.ok) throw new Error(JSON.stringify(made.issues));
    const { growth, profile } = made.value;
    expect(growth.min).toBeGreaterThanOrEqual(-1e-6);
    const ends = profile.flat().flatMap((p) => [p.from, p.to]);
    const top = Math.max(...ends.map(([z]) => z));
    expect(top).toBeGreaterThanOrEqual(LOW + SLANT - 1e-6);
    // By little more than what was missing.
    expect(top).toBeLessThan(LOW + SLANT + short);
    expect(growth.max).toBeLessThan(0.05);
  });
  it('that reaches out further than chords explain is not taken for one', () => {
    const body = openShaft(24, 1e-4);
    const made = computeRevolvedEnvelope([body], Z, 0.05);
    expect(made.ok && made.value.growth.min).toBeCloseTo(-SLANT * (1 - Math.cos(Math.PI / 24)), 3);
  });
  it('that lies before an end by a hair is enclosed with it', () => {
    const body = openShaft(24, 0.05);
    const before = { ...body, skin: Float64Array.from([...body.skin, 3, 4, -2e-6]) };
    const made = computeRevolvedEnvelope([before], Z, 0.05);
    if (!made.ok) throw new Error(JSON.stringify(made.issues));
    expect(made.value.growth.min).toBeGreaterThanOrEqual(-1e-6);
    expect(made.value.profile).toHaveLength(1);
  });
});
