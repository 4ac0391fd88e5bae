import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, type PlainSolid, readSolids, writePlainStep } from '#core/kernel';
import { addScaled, anyAcross, compose, dot, IDENTITY, type Motion, normalize, rotationAbout, scale, subtract, translation } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { joinedPlanes, lookAtFaces, planesOf, reachAlong } from './face-table.ts';
import { extentOfPlane, groupRound, isAboutLine, onAxis } from './round-groups.ts';
import { isAlike, plateOf, roundness } from './roles.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const bodiesOf = (...solids: [PlainSolid, Motion][]): readonly BodyGeometry[] => {
  const r = readSolids(
    kernel,
    writePlainStep(
      kernel,
      solids.map(([solid, fileFromSolid], i) => ({ solid, name: `s${i}`, fileFromSolid })),
    ),
    'x.step',
  );
  if (!r.ok) throw new Error('not read');
  return r.value.model.bodies;
};
const pose = compose(translation([40, 3, -9]), rotationAbout([1, 0, 2], normalize([1, 1, -2]), 2.1));

describe('lookAtFaces', () => {
  it('gives areas, centres and outward normals of a box in any pose', () => {
    for (const motion of [IDENTITY, pose]) {
      const [box] = bodiesOf([{ kind: 'box', size: [10, 20, 30] }, motion]);
      const planes = planesOf(lookAtFaces(box));
      expect(planes.map((f) => Math.round(f.area)).sort((a, b) => a - b)).toEqual([200, 200, 300, 300, 600, 600]);
      // Each looks away from the middle, by half of the box.
      for (const f of planes) expect(f.offset - dot(box.centroid, f.outward)).toBeGreaterThan(4.99);
      expect(reachAlong(box, planes[0].outward)[1]).toBeCloseTo(planes[0].offset, 4);
    }
  });
  it('is made once for a body', () => {
    const [box] = bodiesOf([{ kind: 'box', size: [1, 2, 3] }, IDENTITY]);
    expect(lookAtFaces(box)).toBe(lookAtFaces(box));
  });
});

describe('groupRound', () => {
  it('puts faces of one axis together, and keeps parallel axes apart', () => {
    const bodies = bodiesOf(
      [{ kind: 'cylinder', radius: 8, height: 40 }, pose],
      [{ kind: 'cylinder', radius: 5, height: 20 }, compose(pose, translation([0, 0, 40]))],
      [{ kind: 'cylinder', radius: 3, height: 20 }, compose(pose, translation([30, 0, 0]))],
    );
    const groups = groupRound(bodies.flatMap(lookAtFaces));
    expect(groups.map((g) => g.cylinders.map((c) => Math.round(c.radius * 1000) / 1000))).toEqual([[8, 5], [3]]);
    const [large] = groups[0].cylinders;
    expect(large.to - large.from).toBeCloseTo(40, 3);
    expect(large.cover).toBeGreaterThan(0.99);
    expect(large.concave).toBe(false);
  });
});

describe('runs of one diameter', () => {
  const rods = (gap: number) =>
    groupRound(
      bodiesOf(
        [{ kind: 'cylinder', radius: 5, height: 20 }, pose],
        [{ kind: 'cylinder', radius: 5, height: 30 }, compose(pose, translation([0, 0, 20 + gap]))],
      ).flatMap(lookAtFaces),
    )[0].cylinders.map((c) => Math.round((c.to - c.from) * 1e3) / 1e3);
  it('that a groove parts are one; further apart they are two', () => {
    expect(rods(8)).toEqual([58]);
    expect(rods(40)).toEqual([30, 20]);
  });
  it('a group lies on its own line in either sense, and on no other', () => {
    const [group] = groupRound(bodiesOf([{ kind: 'cylinder', radius: 5, height: 20 }, pose]).flatMap(lookAtFaces));
    expect(isAboutLine(group, group)).toBe(true);
    expect(isAboutLine(group, { origin: onAxis(group, 400), direction: scale(group.direction, -1) })).toBe(true);
    expect(isAboutLine(group, { origin: addScaled(group.origin, anyAcross(group.direction), 0.1), direction: group.direction })).toBe(false);
    expect(isAboutLine(group, { origin: group.origin, direction: normalize(addScaled(group.direction, anyAcross(group.direction), 0.01)) })).toBe(false);
  });
});

describe('planes in patches', () => {
  const box = (x: number, at: number): [PlainSolid, Motion] => [{ kind: 'box', size: [x, 20, 30] }, compose(pose, translation([at, 0, 0]))];
  it('are what they are where there is one patch of each', () => {
    const [body] = bodiesOf(box(10, 0));
    for (const apart of [false, true]) expect(joinedPlanes(body, apart).map((p) => p.parts.length)).toEqual([1, 1, 1, 1, 1, 1]);
  });
  it('patches of one plane that a slot parts are joined where that is asked for', () => {
    // Two boxes in line as one body: four of their planes go on, two at the ends and two at the slot do not.
    const [a, b] = bodiesOf(box(10, 0), box(15, 25));
    const shifted = (n: number) => b.faces.map((f) => ({ ...f, edges: f.edges.map((e) => e + n) }));
    const both: BodyGeometry = {
      ...a,
      faces: [...a.faces, ...shifted(a.edges.length)],
      edges: [...a.edges, ...b.edges.map((e) => ({ ...e, faces: e.faces.map((f) => f + a.faces.length) }))],
      mesh: {
        positions: Float64Array.from([...a.mesh.positions, ...b.mesh.positions]),
        triangles: Uint32Array.from([...a.mesh.triangles, ...[...b.mesh.triangles].map((v) => v + a.mesh.positions.length / 3)]),
      },
      faceStart: Uint32Array.from([...a.faceStart, ...[...b.faceStart].slice(1).map((v) => v + a.faceStart[a.faces.length])]),
    };
    expect(joinedPlanes(both)).toHaveLength(12);
    const joined = joinedPlanes(both, true);
    expect(joined.map((p) => p.parts.length).sort()).toEqual([1, 1, 1, 1, 2, 2, 2, 2]);
    const along = subtract(b.centroid, a.centroid);
    for (const p of joined.filter((q) => q.parts.length === 2)) {
      const [low, high] = extentOfPlane(p, a.centroid, normalize(along));
      // 5 before the middle of the first, 40 in all.
      expect([Math.round(low * 1e3), Math.round(high * 1e3)]).toEqual([-5000, 35_000]);
      expect(p.area).toBeCloseTo(
        p.parts.reduce((sum, q) => sum + q.area, 0),
        6,
      );
    }
  });
});

describe('shapes of bodies', () => {
  it('are alike by their sizes, wherever they stand', () => {
    const [a, b, c] = bodiesOf(
      [{ kind: 'box', size: [10, 20, 30] }, IDENTITY],
      [{ kind: 'box', size: [30, 10, 20] }, pose],
      [{ kind: 'box', size: [10, 20, 30.2] }, IDENTITY],
    );
    expect(isAlike(a, b)).toBe(true);
    expect(isAlike(a, c)).toBe(false);
  });
  it('a thin box is a plate with its thickness, a cube and a long bar are none', () => {
    const [plate, cube, bar] = bodiesOf(
      [{ kind: 'box', size: [12, 12, 4] }, pose],
      [{ kind: 'box', size: [9, 9, 9] }, IDENTITY],
      [{ kind: 'box', size: [5, 5, 60] }, pose],
    );
    expect(plateOf(plate)?.thickness).toBeCloseTo(4, 4);
    expect(plateOf(cube)).toBeUndefined();
    expect(plateOf(bar)).toBeUndefined();
  });
  it('a pin is round, a box is not', () => {
    const [pin, box] = bodiesOf([{ kind: 'cylinder', radius: 2, height: 12 }, pose], [{ kind: 'box', size: [4, 5, 6] }, IDENTITY]);
    expect(roundness(pin)).toBeCloseTo(1, 6);
    expect(roundness(box)).toBe(0);
  });
});
