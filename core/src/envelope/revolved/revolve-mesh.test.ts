import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { normalize } from '#core/math';
import { findSelfCrossings, meshVolume, SignedDistance, TriangleTree, validateMesh, weld } from '#core/mesh';
import { loopThrough, profileVolume, type ProfilePoint } from '#core/outline';
import { flatsAround, revolveToMesh } from './revolve-mesh.ts';

const axis = { origin: [3, 4, 5] as const, direction: normalize([1, 0, 1]) };
const flats = (r: number) => flatsAround(r, 0.02);

type Kind = 'cylinder' | 'low step' | 'cone';
/** A stretch of 5 mm that ends at a radius; a low step is a hundredth above what was before. */
const stretch = fc.record({ radius: fc.double({ min: 1.5, max: 40, noNaN: true }), kind: fc.constantFrom<Kind>('cylinder', 'low step', 'cone') });

function outsideOf(stretches: readonly { radius: number; kind: Kind }[]): ProfilePoint[] {
  const out: ProfilePoint[] = [[0, stretches[0].radius]];
  for (const { radius, kind } of stretches) {
    const [z, before] = out[out.length - 1];
    const from = kind === 'cone' ? before : kind === 'cylinder' ? radius : before + 0.01;
    if (from !== before) out.push([z, from]);
    out.push([z + 5, kind === 'cone' ? radius : from]);
  }
  return out;
}

describe('a profile turned with as many flats as each radius needs', () => {
  it('is closed, crosses itself nowhere, encloses the solid, and has no more triangles than with one number for all (seed 5)', () => {
    let fewer = 0;
    fc.assert(
      fc.property(fc.array(stretch, { minLength: 1, maxLength: 7 }), fc.boolean(), (stretches, hasBore) => {
        const outside = outsideOf(stretches);
        const [length, last] = outside[outside.length - 1];
        const bore = Math.min(1, last / 2);
        const inside: ProfilePoint[] = hasBore
          ? [
              [0, 0],
              [length - 3, 0],
              [length - 3, bore],
              [length, bore],
            ]
          : [
              [0, 0],
              [length, 0],
            ];
        const profile = [loopThrough([...inside, ...[...outside].reverse()])];
        const own = revolveToMesh(profile, axis, flats);
        const same = revolveToMesh(profile, axis, flats(Math.max(...outside.map(([, r]) => r))));
        const mesh = weld(own, 1e-9);
        expect(validateMesh(mesh)).toMatchObject({ openEdges: 0, badEdges: 0, insideOut: false });
        expect(findSelfCrossings(new TriangleTree(mesh)).count).toBe(0);
        expect(own.triangles.length).toBeLessThanOrEqual(same.triangles.length);
        if (own.triangles.length < same.triangles.length) fewer++;
        expect(meshVolume(own)).toBeGreaterThan(profileVolume(profile));
        const signed = new SignedDistance(mesh);
        for (const [z, r] of outside)
          for (let k = 0; k < 40; k++) {
            // Two directions across the axis, and a place of the circle.
            const [u, v] = [
              [Math.SQRT1_2, 0, -Math.SQRT1_2],
              [0, 1, 0],
            ];
            const at = axis.origin.map((o, i) => o + z * axis.direction[i] + r * (Math.cos(k) * u[i] + Math.sin(k) * v[i]));
            expect(signed.at(at[0], at[1], at[2])).toBeLessThan(1e-9);
          }
      }),
      { seed: 5, numRuns: 80 },
    );
    expect(fewer).toBeGreaterThan(30);
  });
});
