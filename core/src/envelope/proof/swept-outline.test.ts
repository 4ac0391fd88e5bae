import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type SampledBody, sampledMesh } from '#core/kernel';
import { addScaled, fromZAndX, normalize, type Vec3 } from '#core/math';
import { joinMeshes } from '#core/mesh';
import { loopThrough, type ProfilePoint } from '#core/outline';
import { revolveToMesh } from '../index.ts';
import { SweptOutline } from './swept-outline.ts';

const frame = fromZAndX([8, -4, 15], normalize([0.3, -0.5, 0.8]));
const axis = { origin: frame.origin, direction: frame.z };
const y: Vec3 = [
  frame.z[1] * frame.x[2] - frame.z[2] * frame.x[1],
  frame.z[2] * frame.x[0] - frame.z[0] * frame.x[2],
  frame.z[0] * frame.x[1] - frame.z[1] * frame.x[0],
];

const turned = (corners: ProfilePoint[], flats = 90): SampledBody => sampledMesh(revolveToMesh([loopThrough(corners)], axis, flats));

/** A prism along the axis between two heights, over a polygon given by [angle, radius], with a round or polygonal rim outside. */
function polygonBore(sides: number, acrossFlats: number, outside: number, length: number): SampledBody {
  const n = 12 * sides;
  const positions: number[] = [];
  for (const z of [0, length])
    for (let i = 0; i < n; i++) {
      const angle = (2 * Math.PI * i) / n;
      // The distance of a flat along an angle.
      const turn = (((angle % ((2 * Math.PI) / sides)) + (2 * Math.PI) / sides) % ((2 * Math.PI) / sides)) - Math.PI / sides;
      for (const r of [acrossFlats / 2 / Math.cos(turn), outside]) {
        const at = addScaled(addScaled(addScaled(axis.origin, axis.direction, z), frame.x, r * Math.cos(angle)), y, r * Math.sin(angle));
        positions.push(...at);
      }
    }
  const at = (end: 0 | 1, i: number, rim: 0 | 1) => 2 * (end * n + (i % n)) + rim;
  const triangles: number[] = [];
  const quad = (a: number, b: number, c: number, d: number) => triangles.push(a, b, c, a, c, d);
  for (let i = 0; i < n; i++) {
    quad(at(0, i, 1), at(0, i + 1, 1), at(1, i + 1, 1), at(1, i, 1));
    quad(at(0, i + 1, 0), at(0, i, 0), at(1, i, 0), at(1, i + 1, 0));
    quad(at(0, i + 1, 1), at(0, i, 1), at(0, i, 0), at(0, i + 1, 0));
    quad(at(1, i, 1), at(1, i + 1, 1), at(1, i + 1, 0), at(1, i, 0));
  }
  return sampledMesh({ positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) });
}

describe('what is swept, by brute force', () => {
  const shaft: ProfilePoint[] = [
    [0, 0],
    [60, 0],
    [60, 10],
    [40, 10],
    [40, 16],
    [10, 20],
    [0, 20],
  ];
  it('is as far from a place as the profile that was turned', () => {
    // Its flats are as much too wide at their corners.
    const swept = new SweptOutline([turned(shaft, 180)], axis, 'outer');
    const near = (z: number, r: number, distance: number) => expect(Math.abs(swept.distance({ z, r }) - distance)).toBeLessThan(0.01);
    near(50, 13, 3);
    near(50, 9, 0);
    near(63, 14, 5);
    near(-2, 3, 2);
    near(44, 13, 3);
    // Square to the cone, whose slope is 4 in 30.
    const lean = Math.hypot(30, 4);
    near(25 + (4 / lean) * 2, 18 + (30 / lean) * 2, 2);
  });
  it('reaches to its walls, not to the middles of its bins (seed 23)', () => {
    fc.assert(
      fc.property(fc.double({ min: 5, max: 95, noNaN: true }), fc.boolean(), (wall, isRising) => {
        const [left, right] = isRising ? [10, 16] : [16, 10];
        const swept = new SweptOutline(
          [
            turned([
              [0, 0],
              [100, 0],
              // By the last digits of a file what is round gets thinner towards the wall.
              [100, right],
              [wall, right - 1e-9],
              [wall, left - 1e-9],
              [0, left],
            ]),
          ],
          axis,
          'outer',
        );
        const outwards = isRising ? -1 : 1;
        // From within a wall's bin it may be less, by the bin's width; never more.
        for (const away of [0, 0.002, 0.05]) {
          const distance = swept.distance({ z: wall + outwards * away, r: 15.999 });
          expect(distance).toBeLessThan(away + 1e-9);
          expect(distance).toBeGreaterThanOrEqual(away - 100 / 8000 - 1e-9);
        }
      }),
      { seed: 23, numRuns: 30 },
    );
  });
  it('of a hexagonal bore is its flats, of a body beside the axis nothing but its own ring', () => {
    const socket = polygonBore(6, 8, 9, 12);
    expect(new SweptOutline([socket], axis, 'inner').distance({ z: 6, r: 3 })).toBeCloseTo(1, 3);
    expect(new SweptOutline([socket], axis, 'inner').distance({ z: 6, r: 4.01 })).toBe(0);
    expect(new SweptOutline([socket], axis, 'outer').distance({ z: 6, r: 9.5 })).toBeCloseTo(0.5, 3);
    const both = sampledMesh(joinMeshes([socket.mesh, turned(shaft).mesh]));
    // The shaft fills the socket.
    expect(new SweptOutline([both], axis, 'inner').distance({ z: 6, r: 3 })).toBeGreaterThan(0.9);
  });
  it('of a flat end around the axis reaches the axis, of a ring the ring', () => {
    const inner = new SweptOutline(
      [
        turned([
          [0, 4],
          [30, 4],
          [30, 0],
          [50, 0],
          [50, 12],
          [0, 12],
        ]),
      ],
      axis,
      'inner',
    );
    expect(inner.distance({ z: 30, r: 1 })).toBeLessThan(1e-6);
    expect(inner.distance({ z: 10, r: 3.2 })).toBeCloseTo(0.8, 2);
    expect(inner.distance({ z: 0, r: 2 })).toBeCloseTo(2, 2);
  });
  it('has gaps filled up to a width: as the closing by a window says, over a fine grid (seed 21)', () => {
    const STEP = 0.05;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 2, max: 12 }), fc.integer({ min: 4, max: 20 })), { minLength: 3, maxLength: 9 }),
        fc.integer({ min: 1, max: 5 }),
        (steps, width) => {
          const outside: ProfilePoint[] = [];
          let z = 0;
          for (const [long, r] of steps) {
            outside.push([z, r], [z + long, r]);
            z += long;
          }
          // Not of a width of its own: that is a matter of rounding.
          const bridge = width + 0.4;
          const swept = new SweptOutline([turned([[0, 0], [z, 0], ...[...outside].reverse()], 24)], axis, 'outer', bridge);
          const heightAt = (at: number) => Math.max(...steps.map(([, r], i) => (at >= outside[2 * i][0] - 1e-9 && at <= outside[2 * i + 1][0] + 1e-9 ? r : 0)));
          for (let at = STEP / 2; at < z; at += 17 * STEP) {
            // Filled up to a height where both a place at most a bridge away to the left and one to the right are as high, closer than that together.
            let filled = heightAt(at);
            for (let left = 0; left <= bridge; left += STEP)
              for (let right = 0; left + right <= bridge; right += STEP) filled = Math.max(filled, Math.min(heightAt(at - left), heightAt(at + right)));
            expect(swept.distance({ z: at, r: filled * Math.cos(Math.PI / 24) - 0.01 })).toBe(0);
            expect(swept.distance({ z: at, r: filled + 0.3 })).toBeGreaterThan(0);
          }
        },
      ),
      { seed: 21, numRuns: 25 },
    );
  });
});
