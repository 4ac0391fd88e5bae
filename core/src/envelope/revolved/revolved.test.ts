import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { say } from '#core/issues';
import { type Kernel, loadKernel, readSolids, type SampledBody, sampledMesh, sampleSolids, writeRevolvedStep } from '#core/kernel';
import { addScaled, fromZAndX, normalize, type Vec3 } from '#core/math';
import { isClosedMesh, meshVolume, validateMesh } from '#core/mesh';
import {
  type HalfProfile,
  listPieces,
  loopThrough,
  type PathPiece,
  profileDepthFinder,
  profileVolume,
  type ProfilePoint,
  validateProfile,
} from '#core/outline';
import {
  type BoreOptions,
  computeExactGeometry,
  computeRevolvedEnvelope,
  fewestPieces,
  growthOfProfile,
  type OpenOptions,
  proveEnclosure,
  revolveToMesh,
  windingNumber,
} from '../index.ts';
import { Coverage } from './coverage.ts';
import { outlinesOfEnvelope } from './outlines.ts';
import { distanceToTrianglePlane } from '../sag.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const frame = fromZAndX([12, -30, 5], normalize([0.4, 0.2, 0.89]), [1, 0, 0]);
const axis = { origin: frame.origin, direction: frame.z };

/** A profile turned by the kernel, written as STEP and sampled from there. */
function turned(profile: HalfProfile, chordTolerance = 0.02): SampledBody[] {
  expect(validateProfile(profile)).toEqual([]);
  const r = sampleSolids(kernel, writeRevolvedStep(kernel, profile, frame, 'turned'), 'turned.step', { chordTolerance });
  if (!r.ok) throw new Error(r.issues.map(say).join());
  return r.value;
}

const envelopeOf = (bodies: SampledBody[], tolerance: number, bores?: OpenOptions) => {
  const r = computeRevolvedEnvelope(bodies, axis, tolerance, bores);
  if (!r.ok) throw new Error(r.issues.map(say).join());
  expect(validateProfile(r.value.profile)).toEqual([]);
  expect(r.value.growth.min).toBeGreaterThanOrEqual(-1e-6);
  return r.value;
};

const line = (from: ProfilePoint, to: ProfilePoint): PathPiece => ({ kind: 'line', from, to });
const arc = (from: ProfilePoint, to: ProfilePoint, centre: ProfilePoint, ccw: boolean): PathPiece => ({ kind: 'arc', from, to, centre, ccw });

// A holder: shank of 40, shoulder of 63 with a fillet of 3 before it and a rounded rim of 2, a cone, a through bore of 16 that is 24 wide from the work on.
const holder: HalfProfile = [
  [
    line([0, 8], [60, 8]),
    line([60, 8], [60, 12]),
    line([60, 12], [90, 12]),
    line([90, 12], [90, 18]),
    line([90, 18], [70, 31.5]),
    line([70, 31.5], [47, 31.5]),
    arc([47, 31.5], [45, 29.5], [47, 29.5], true),
    line([45, 29.5], [45, 23]),
    arc([45, 23], [42, 20], [42, 23], false),
    line([42, 20], [1, 20]),
    line([1, 20], [0, 19]),
    line([0, 19], [0, 8]),
  ],
];
const round = (p: PathPiece) => [p.kind, ...[...p.from, ...p.to, ...(p.kind === 'arc' ? p.centre : [])].map((v) => Math.round(v * 1e4) / 1e4 + 0)].join(' ');

describe('a turned holder, from its STEP file', () => {
  let bodies: SampledBody[];
  beforeAll(() => {
    bodies = turned(holder);
  });
  it('comes back piece by piece with its own diameters, fillets and bores', () => {
    const { profile, growth } = envelopeOf(bodies, 0.02, { keep: 'open', closeBelow: 0 });
    const [loop] = profile;
    expect(loop.map(round).sort()).toEqual(holder[0].map(round).sort());
    expect(growth.max).toBeLessThan(2e-4);
    expect(profileVolume(profile)).toBeCloseTo(profileVolume(holder), 2);
  });
  it('keeps the bores that are asked for', () => {
    const bores = (options: BoreOptions) =>
      listPieces(envelopeOf(bodies, 0.02, options).profile)
        .filter((p) => p.to[0] > p.from[0] + 1e-6)
        .map(round);
    expect(bores({ keep: 'closed', closeBelow: 0 })).toEqual([]);
    // Narrower than 20 is closed; what is left opens to the work.
    expect(bores({ keep: 'open', closeBelow: 20 })).toEqual(['line 60 12 90 12']);
    // Up to the narrowest place, the middle of the Ø16.
    expect(bores({ keep: 'work', closeBelow: 0 })).toEqual(['line 30 8 60 8', 'line 60 12 90 12']);
    expect(bores({ keep: 'machine', closeBelow: 0 })).toEqual(['line 0 8 30 8']);
    expect(bores({ keep: 'machine', closeBelow: 20 })).toEqual([]);
  });
  it('needs fewer pieces where the tolerance is wider than its rounding', () => {
    const wide = listPieces(envelopeOf(bodies, 1.5).profile);
    const fine = listPieces(envelopeOf(bodies, 0.01).profile);
    expect(wide.length).toBeLessThan(fine.length);
    // Shank, fillet, wall, rim, cylinder, cone and two ends with a chamfer.
    expect(fine).toHaveLength(9);
  });
  it('as a mesh it is closed and encloses the holder, bores too', () => {
    const coarse = turned(holder, 0.2);
    const { profile } = envelopeOf(coarse, 0.02, { keep: 'open', closeBelow: 0 });
    const mesh = revolveToMesh(profile, axis, 64, 0.01);
    expect(isClosedMesh(validateMesh(mesh))).toBe(true);
    expect(meshVolume(mesh)).toBeGreaterThan(profileVolume(holder));
    const proof = proveEnclosure({ bodies: coarse, spin: { axis } }, mesh);
    expect(proof).toMatchObject({ closed: true, crossings: 0 });
    expect(proof.least).toBeGreaterThanOrEqual(-1e-6);
    // A bore drawn wider by two hundredths is found.
    const bored = profile.map((loop) => loop.map((p) => ({ ...p, from: wider(p.from), to: wider(p.to) })));
    expect(proveEnclosure({ bodies: coarse, spin: { axis } }, revolveToMesh(bored, axis, 150, 0.01)).least).toBeLessThan(-0.015);
    // One drawn narrower by a tenth too: growth within a bore is measured there, and at the flats' corners no more than there.
    expect(proof.greatest).toBeLessThan(0.06);
    const narrow = profile.map((loop) => loop.map((p) => ({ ...p, from: wider(p.from, -0.1), to: wider(p.to, -0.1) })));
    const { greatest } = proveEnclosure({ bodies: coarse, spin: { axis } }, revolveToMesh(narrow, axis, 300, 0.01));
    expect(greatest).toBeGreaterThan(0.0999);
    // Chords of the bore may be counted too.
    expect(greatest).toBeLessThan(0.115);
  });
  it('is written as true cylinders, cones and tori', () => {
    const kinds = bodies[0].surfaces.map((s) => s.kind).sort();
    expect(new Set(kinds)).toEqual(new Set(['cone', 'cylinder', 'plane', 'torus']));
    const exact = readSolids(kernel, writeRevolvedStep(kernel, holder, frame, 'turned'), 'turned.step', { exactProperties: true });
    expect(exact.ok && exact.value.model.bodies[0].volume).toBeCloseTo(profileVolume(holder), 3);
    // What is sampled has it from its triangles and the places over them.
    expect(bodies[0].volume / profileVolume(holder)).toBeCloseTo(1, 6);
  });
});

const wider = ([z, r]: ProfilePoint, by = 0.02): ProfilePoint => [z, Math.abs(r - 8) < 1e-3 ? r + by : r];

describe('what is off the axis', () => {
  it('a square bar with a square hole: the circle around its corners, and the one within its flats', () => {
    // A tube of square section: its own four edges outside, the middles of its flats inside.
    const ring = (half: number) =>
      [
        [half, half],
        [-half, half],
        [-half, -half],
        [half, -half],
      ] as const;
    const positions: number[] = [];
    const triangles: number[] = [];
    const put = (x: number, y: number, z: number) => positions.push(x, y, z) / 3 - 1;
    const [o0, o1, i0, i1] = [ring(10), ring(10), ring(5), ring(5)].map((r, k) => r.map(([x, y]) => put(x, y, k % 2 === 0 ? 0 : 30)));
    const quad = (a: number, b: number, c: number, d: number) => triangles.push(a, b, c, a, c, d);
    for (let k = 0; k < 4; k++) {
      const n = (k + 1) % 4;
      quad(o0[k], o0[n], o1[n], o1[k]);
      quad(i0[n], i0[k], i1[k], i1[n]);
      quad(o1[k], o1[n], i1[n], i1[k]);
      quad(o0[n], o0[k], i0[k], i0[n]);
    }
    const mesh = { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
    expect(meshVolume(mesh)).toBeCloseTo(300 * 30, 6);
    const r = computeRevolvedEnvelope([sampledMesh(mesh)], { origin: [0, 0, 0], direction: [0, 0, 1] }, 0.01, { keep: 'open', closeBelow: 0 });
    if (!r.ok) throw new Error('no envelope');
    expect(r.value.profile[0].map(round)).toEqual(['line 0 5 30 5', `line 30 5 30 ${corner}`, `line 30 ${corner} 0 ${corner}`, `line 0 ${corner} 0 5`]);
  });
});
const corner = Math.round(Math.SQRT2 * 10 * 1e4) / 1e4;

describe('fewest pieces', () => {
  const known: readonly [string, ProfilePoint[], number][] = [
    [
      'a small chamfer is passed over on the line of the cylinder',
      [
        [0, 25],
        [99.98, 25],
        [100, 24.98],
      ],
      1,
    ],
    [
      'a groove shallower than the tolerance is not seen',
      [
        [0, 25],
        [40, 25],
        [40, 24.99],
        [41, 24.99],
        [41, 25],
        [80, 25],
      ],
      1,
    ],
    [
      'a groove deeper than it stays',
      [
        [0, 25],
        [40, 25],
        [40, 24.9],
        [41, 24.9],
        [41, 25],
        [80, 25],
      ],
      5,
    ],
    [
      'a slender cone is one piece',
      [
        [0, 10],
        [100, 20],
      ],
      1,
    ],
    ['steps of a thread become one cylinder', Array.from({ length: 60 }, (_, i): ProfilePoint => [i * 0.1, 8 + 0.02 * (i % 2)]), 1],
  ];
  it.each(known)('%s', (_, outline, count) => {
    expect(fewestPieces(outline, { tolerance: 0.03 })).toHaveLength(count);
  });
  it('a half circle of many corners becomes few arcs or lines, never below it', () => {
    const half = Array.from({ length: 181 }, (_, i): ProfilePoint => [-10 * Math.cos((i * Math.PI) / 180), 30 + 10 * Math.sin((i * Math.PI) / 180)]);
    const pieces = fewestPieces(half, { tolerance: 0.03 });
    expect(pieces.some((p) => p.kind === 'arc')).toBe(true);
    expect(pieces.length).toBeLessThan(8);
    expect(fewestPieces(half, { tolerance: 0.03, arcs: false }).length).toBeGreaterThan(pieces.length);
  });
  it('stays in the band over random outlines, with fewer pieces for a wider band (seed 3)', () => {
    const step = fc.tuple(fc.double({ min: 0.05, max: 4, noNaN: true }), fc.double({ min: -1.5, max: 1.5, noNaN: true }), fc.boolean());
    fc.assert(
      fc.property(fc.array(step, { minLength: 2, maxLength: 40 }), (steps) => {
        const outline: ProfilePoint[] = [[0, 20]];
        for (const [dz, dr, isWall] of steps) {
          const [z, r] = outline[outline.length - 1];
          if (isWall && Math.abs(dr) > 0.2) outline.push([z, r + dr]);
          outline.push([z + dz, outline[outline.length - 1][1] + (isWall ? 0 : dr)]);
        }
        const counts = [0.02, 0.1, 0.4].map((tolerance) => {
          const pieces = fewestPieces(outline, { tolerance });
          const [first, last] = [outline[0], outline[outline.length - 1]];
          const close = (from: ProfilePoint, to: ProfilePoint): PathPiece[] => [line(from, [from[0], 0]), line([from[0], 0], [to[0], 0]), line([to[0], 0], to)];
          const ends = [pieces[pieces.length - 1].to, pieces[0].from] as const;
          const backwards = (path: readonly PathPiece[]) =>
            [...path].reverse().map((p): PathPiece => (p.kind === 'line' ? line(p.to, p.from) : arc(p.to, p.from, p.centre, !p.ccw)));
          const solid = profileDepthFinder([[...close(ends[1], ends[0]), ...backwards(pieces)]]);
          const truth = profileDepthFinder([loopThrough([[first[0], 0], [last[0], 0], ...[...outline].reverse()])]);
          for (const [i, [z, r]] of outline.entries()) {
            expect(solid(z, r)).toBeGreaterThan(-1e-7);
            const next = outline[i + 1];
            if (next) expect(solid((z + next[0]) / 2, (r + next[1]) / 2)).toBeGreaterThan(-1e-7);
          }
          for (const p of pieces) for (const [z, r] of [p.from, p.to]) expect(-truth(z, r)).toBeLessThan(tolerance + 1e-7);
          return pieces.length;
        });
        expect(counts[1]).toBeLessThanOrEqual(counts[0]);
        expect(counts[2]).toBeLessThanOrEqual(counts[1]);
      }),
      { seed: 3, numRuns: 120 },
    );
  });
});

describe('gaps of an outside', () => {
  // A shank of 50, a fillet up to a shoulder of 63 whose face has a recess down to a bore, a groove of 4 before a nut of 48.
  const chuck: HalfProfile = [
    [
      line([0, 9], [26, 9]),
      line([26, 9], [80, 9]),
      line([80, 9], [80, 24]),
      line([80, 24], [64, 24]),
      line([64, 24], [64, 20]),
      line([64, 20], [60, 20]),
      line([60, 20], [60, 25]),
      line([60, 25], [27.5, 25]),
      arc([27.5, 25], [26, 26.5], [27.5, 26.5], false),
      line([26, 26.5], [26, 31.5]),
      line([26, 31.5], [0, 31.5]),
      line([0, 31.5], [0, 9]),
    ],
  ];
  it('are no cracks where faces meet, whatever the last digits of the axis', () => {
    const bodies = turned(chuck);
    for (const off of [0, 1e-13, -3e-12, 2e-11, 1e-9]) {
      const direction: Vec3 = [axis.direction[0] + off, axis.direction[1] - 0.7 * off, axis.direction[2] + 0.4 * off];
      const made = computeRevolvedEnvelope(bodies, { origin: axis.origin, direction }, 0.02, { keep: off > 0 ? 'open' : 'closed', closeBelow: 0 });
      if (!made.ok) throw new Error('not made');
      expect(made.value.growth.min).toBeGreaterThanOrEqual(-1e-6);
      for (const { from, to } of listPieces(made.value.profile)) expect(Math.hypot(to[0] - from[0], to[1] - from[1])).toBeGreaterThan(1e-3);
    }
  });
  it('are bridged up to a width, and growth counts from the bridged shape', () => {
    const bodies = turned(chuck);
    const volumes = [0, 3.9, 4].map((bridge) => {
      const { profile, growth } = envelopeOf(bodies, 0.02, { keep: 'closed', closeBelow: 0, bridge });
      expect(growth.max).toBeLessThanOrEqual(0.02);
      return profileVolume(profile);
    });
    expect(volumes[1]).toBeCloseTo(volumes[0], 6);
    // Up to the lower of its rims.
    expect(volumes[2] - volumes[0]).toBeCloseTo(Math.PI * (24 ** 2 - 20 ** 2) * 4, 1);
    // The proof measures from what it fills itself, as far as it is told to.
    const { profile } = envelopeOf(bodies, 0.02, { keep: 'closed', closeBelow: 0, bridge: 4 });
    const mesh = revolveToMesh(profile, axis, 300, 0.01);
    expect(proveEnclosure({ bodies, spin: { axis, bridge: 4 } }, mesh).greatest).toBeLessThan(0.03);
    expect(proveEnclosure({ bodies, spin: { axis } }, mesh).greatest).toBeGreaterThan(1.5);
  });
});

describe('helpers', () => {
  it('an outline keeps its corners where many small bends add up: a shallow curve of 4000 pieces', () => {
    // A curve that rises by two micrometres over 10 mm: no bend is more than a hair, and the line between its ends would cut it.
    const height = (z: number) => 20 + 2e-3 * (1 - ((z - 5) / 5) ** 2);
    const pieces = Float64Array.from({ length: 4 * 4000 }, (_, i) => {
      const z = (10 * (Math.floor(i / 4) + (i % 4 < 2 ? 0 : 1))) / 4000;
      return i % 2 === 0 ? z : height(z);
    });
    const [outline] = outlinesOfEnvelope(pieces, new Float64Array(0));
    expect(outline.length).toBeLessThan(400);
    for (let i = 0; i + 1 < outline.length; i++) {
      const [[z0, r0], [z1, r1]] = [outline[i], outline[i + 1]];
      for (let k = 0; k <= 10; k++) expect(height(z0 + ((z1 - z0) * k) / 10) - (r0 + ((r1 - r0) * k) / 10)).toBeLessThan(2e-7);
    }
  });
  it('coverage tells what is surely reached, against a slow reference (seed 21)', () => {
    const stretch = fc.tuple(
      fc.double({ min: 0, max: 90, noNaN: true }),
      fc.double({ min: 0.01, max: 60, noNaN: true }),
      fc.double({ min: 0, max: 10, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(stretch, { minLength: 1, maxLength: 30 }), stretch, (list, [z, width, height]) => {
        const covered = new Coverage(0, 150, 8);
        for (const [from, span, value] of list) covered.add(from, from + span, () => value);
        covered.finish();
        if (!covered.hides(z, z + width, () => height)) return;
        for (let k = 0; k <= 20; k++) {
          const at = z + (width * k) / 20;
          expect(Math.max(...list.filter(([from, span]) => from - 1e-6 <= at && at <= from + span + 1e-6).map(([, , value]) => value))).toBeGreaterThan(height);
        }
      }),
      { seed: 21, numRuns: 300 },
    );
  });
  it('the winding number is 1 inside and 0 outside, also beside edges', () => {
    const box = revolveToMesh(
      [
        loopThrough([
          [0, 0],
          [10, 0],
          [10, 4],
          [0, 4],
        ]),
      ],
      { origin: [0, 0, 0], direction: [0, 0, 1] },
      12,
    );
    for (const [p, n] of [
      [[0, 0, 5], 1],
      [[3.9, 0, 9.9], 1],
      [[0, 0, 10.1], 0],
      [[0, 0, -3], 0],
      [[30, 2, 5], 0],
    ] as [Vec3, number][])
      expect(windingNumber(box, ...p)).toBeCloseTo(n, 9);
  });
});

describe('an axis that is nearly that of the faces', () => {
  it('by the last digits of a file: nothing cuts in, and nothing grows by more than these', () => {
    const bodies = turned(holder);
    // At the far end of a holder of 90 it has drifted by 2 nanometres, by 3 micrometres, and by 9.
    for (const [offset, lean] of [
      [1e-9, 1e-11],
      [1e-6, 2e-8],
      [5e-6, 4e-8],
    ]) {
      const near = { origin: addScaled(axis.origin, frame.x, offset), direction: normalize(addScaled(axis.direction, frame.x, lean)) };
      const r = computeRevolvedEnvelope(bodies, near, 0.02);
      if (!r.ok) throw new Error(r.issues.map(say).join());
      expect(r.value.growth.min).toBeGreaterThan(-1e-6);
      const level = listPieces(r.value.profile).filter(({ from, to }) => Math.abs(from[1] - to[1]) < 1e-4 && Math.abs(from[0] - to[0]) > 10);
      const largest = Math.max(...level.map((piece) => piece.from[1]));
      const drift = offset + 100 * lean;
      expect(largest).toBeGreaterThan(31.5 - 1e-9);
      expect(largest).toBeLessThan(31.5 + 2 * drift + 1e-6);
      // Its fillet and its rounded rim are arcs still.
      expect(listPieces(r.value.profile).filter((piece) => piece.kind === 'arc').length).toBe(2);
    }
  });
});

describe('the tip of a cone', () => {
  it('is looked up where its triangles are: no triangle of it seems far from the face', () => {
    // A drill's point of 118 degrees on a shank of 12.
    const point: HalfProfile = [
      [
        line([0, 0], [40, 0]),
        line([40, 0], [40 - 6 / Math.tan((59 * Math.PI) / 180), 6]),
        line([40 - 6 / Math.tan((59 * Math.PI) / 180), 6], [0, 6]),
        line([0, 6], [0, 0]),
      ],
    ];
    const [body] = turned(point, 0.02);
    let most = 0;
    body.pointTriangle.forEach((t, i) => {
      const d = distanceToTrianglePlane(body.mesh.positions, body.mesh.triangles, t, body.points[3 * i], body.points[3 * i + 1], body.points[3 * i + 2]);
      most = Math.max(most, Math.abs(d));
    });
    expect(most).toBeGreaterThan(0.001);
    expect(most).toBeLessThan(0.03);
    const exact = computeExactGeometry(body);
    expect(exact.growth.min).toBeGreaterThan(-1e-6);
    expect(exact.growth.max).toBeLessThan(0.06);
  });
});

describe('a profile that was drawn', () => {
  it('far around a bar has the distance as its least growth; one that cuts in has less than none', () => {
    const bar = turned([
      loopThrough([
        [0, 0],
        [40, 0],
        [40, 10],
        [0, 10],
      ]),
    ]);
    const envelope = envelopeOf(bar, 0.02);
    const around = (by: number) =>
      growthOfProfile(
        bar,
        axis,
        [
          loopThrough([
            [-by, 0],
            [40 + by, 0],
            [40 + by, 10 + by],
            [-by, 10 + by],
          ]),
        ],
        envelope,
      );
    for (const by of [0.2, 1, 3]) expect(around(by).min).toBeCloseTo(by, 6);
    expect(around(5e-4).min).toBeCloseTo(5e-4, 7);
    // The bar's rim is furthest out: from it to the corner of the profile.
    expect(around(-0.01).min).toBeCloseTo(-0.01 * Math.SQRT2, 6);
  });
});
