import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { flatsAround, revolveToMesh } from '#core/envelope';
import { IDENTITY, invert, type Motion, radFromDeg, rotationAbout, translation, compose, type Vec3 } from '#core/math';
import { moveMesh, precisionOf, type TriMesh } from '#core/mesh';
import { type HalfProfile, loopThrough, type PathPiece, validateProfile } from '#core/outline';
import { turnedFault } from './turned-mesh.ts';

const axis = { origin: [0, 0, 0], direction: [0, 0, 1] } as const;
const ALLOWANCE = 0.02;
const turned = (profile: HalfProfile, sag?: number): TriMesh => revolveToMesh(profile, axis, (r) => flatsAround(r, ALLOWANCE), sag);

/** As a package keeps it: brought somewhere, rounded to single precision, and back; and what that has done to its corners. */
function packed(mesh: TriMesh, place: Motion = IDENTITY): { mesh: TriMesh; near: number } {
  const there = moveMesh(place, mesh);
  return { mesh: moveMesh(invert(place), { ...there, positions: there.positions.map((v) => Math.fround(v)) }), near: precisionOf(there) };
}
const faultOf = ({ mesh, near }: { mesh: TriMesh; near: number }, profile: HalfProfile | undefined, sag = 0) => turnedFault(mesh, profile, sag, near);

// A stepped shaft from the axis to the axis: [length, radius] of each step.
const stepped = (steps: readonly (readonly [number, number])[]): HalfProfile => {
  const points: [number, number][] = [[0, 0]];
  const end = steps.reduce((z, [l]) => z + l, 0);
  points.push([end, 0]);
  let z = end;
  for (const [l, r] of [...steps].reverse()) {
    points.push([z, r], [z - l, r]);
    z -= l;
  }
  return [loopThrough(points.slice(0, -1).concat([[0, steps[0][1]]]))];
};
// A tube with a bore of radius 5, a taper on its outside.
const tube: HalfProfile = [
  loopThrough([
    [0, 5],
    [60, 5],
    [60, 12],
    [30, 20],
    [0, 20],
  ]),
];
// A shaft with a rounded end: a quarter circle of radius 6.
const arc: PathPiece = { kind: 'arc', from: [50, 4], to: [44, 10], centre: [44, 4], ccw: true };
const rounded: HalfProfile = [
  [
    { kind: 'line', from: [0, 0], to: [50, 0] },
    { kind: 'line', from: [50, 0], to: [50, 4] },
    arc,
    { kind: 'line', from: [44, 10], to: [0, 10] },
    { kind: 'line', from: [0, 10], to: [0, 0] },
  ],
];
const place = compose(translation([120, -40, 310]), rotationAbout([1, 2, 3], [0.6, 0, 0.8], radFromDeg(37)));

const withCorner = (mesh: TriMesh, corner: number, by: Vec3): TriMesh => {
  const positions = mesh.positions.slice();
  for (let k = 0; k < 3; k++) positions[3 * corner + k] += by[k];
  return { ...mesh, positions };
};

describe('a mesh that is its profile, turned', () => {
  it.each([
    ['a tube with a taper', tube, 0],
    ['a shaft with a rounded end', rounded, 0.01],
    [
      'a stepped shaft',
      stepped([
        [10, 4],
        [5, 9],
        [20, 6.5],
      ]),
      0,
    ],
  ] as const)('%s is found to be so, wherever it stands', (_, profile, sag) => {
    expect(validateProfile(profile)).toEqual([]);
    const mesh = turned(profile, sag || undefined);
    for (const at of [IDENTITY, place]) expect(faultOf(packed(mesh, at), profile, sag)).toBeUndefined();
  });
  it('so are stepped shafts of any steps: no fault is found where there is none (seed 81)', () => {
    const step = fc.tuple(fc.double({ min: 0.2, max: 60, noNaN: true }), fc.double({ min: 0.3, max: 45, noNaN: true }));
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 6 }), (steps) => {
        const profile = stepped(steps);
        fc.pre(validateProfile(profile).length === 0);
        expect(faultOf(packed(turned(profile), place), profile)).toBeUndefined();
      }),
      { seed: 81, numRuns: 60 },
    );
  });
});

describe('a mesh that is not quite its profile, turned', () => {
  const { mesh, near } = packed(turned(tube), place);
  it('with a corner moved by 0.01 mm, any of them in any direction, is found with its place (seed 82)', () => {
    const direction = fc.tuple(
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.nat(mesh.positions.length / 3 - 1), direction, (corner, d) => {
        const l = Math.hypot(...d);
        fc.pre(l > 0.1);
        const moved = withCorner(mesh, corner, [(0.01 * d[0]) / l, (0.01 * d[1]) / l, (0.01 * d[2]) / l]);
        const fault = faultOf({ mesh: moved, near }, tube);
        expect(fault).toBeDefined();
        const at = fault?.at as Vec3;
        expect(Math.hypot(...[0, 1, 2].map((k) => at[k] - moved.positions[3 * corner + k]))).toBeLessThan(0.02);
      }),
      { seed: 82, numRuns: 80 },
    );
  });
  it('with a whole ring moved off the profile is found', () => {
    const positions = mesh.positions.map((v, i) => (i % 3 === 2 && Math.abs(v - 30) < 1e-3 ? v + 0.01 : v));
    expect(faultOf({ mesh: { ...mesh, positions }, near }, tube)?.text).toMatch(/off the profile|out of it/);
  });
  it('that leaves out a step of the profile is found', () => {
    const lower: HalfProfile = [
      loopThrough([
        [0, 5],
        [60, 5],
        [60, 12],
        [0, 20],
      ]),
    ];
    expect(faultOf(packed(turned(lower), place), tube)?.text).toMatch(/the profile stands [\d.]+ mm out of it/);
  });
  it('is looked at by its rings alone where there is no profile to hold it against', () => {
    expect(faultOf({ mesh, near }, undefined)).toBeUndefined();
    expect(faultOf({ mesh: withCorner(mesh, 7, [0, 0, 0.01]), near }, undefined)).toBeDefined();
  });
});
