import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { carriedWith, indexAxisOf, stationMotion, turnedBodies } from '#core/carrier';
import { compose, move, type Vec3 } from '#core/math';
import type { CarrierOf } from '#core/records';
import { isFault, type TrialEvent, type TrialSetting } from '#core/trial';
import { OUTSIDE, place, run, settingOf, turret, twin } from './trial-for-tests.ts';

// Holders of 25 by 25 in the rim of a turret, at stations 1, 2, 3 and 7; the one at 2 reaches farthest out.
const setUp = {
  ...OUTSIDE.setUp,
  assemblies: [
    { key: 'short', words: 'dclnr 2525 m12' },
    { key: 'long', words: 'dclnr 2525 p12' },
  ],
  places: [place('short', 1), place('long', 2), place('short', 3), place('short', 7)],
};
const setting = settingOf({ ...OUTSIDE, setUp, clearance: 0.2 });

/** A program that goes from the tool of one station to that of another with the reference at X, Z of the part; on radius. */
const program = ({ edges }: TrialSetting, from: number, to: number, x: number, z: number) => {
  const of = (n: number) => edges.find((e) => e.edge.tool === n)?.edge.atWork ?? { X: 0, Z: 0 };
  const at = (v: number) => v.toFixed(4);
  const [a, b] = [of(from), of(to)];
  const two = (n: number) => String(n).padStart(2, '0');
  return [
    'G18 G21 G90',
    `T${two(from)}${two(from)}`,
    `G0 X${at(2 * (x + a.X))} Z${at(z + a.Z)}`,
    `T${two(to)}${two(to)}`,
    `G0 X${at(2 * (x + b.X + 300))} Z${at(z + b.Z)}`,
    'M30',
  ].join('\n');
};
// The bodies of the turret about the index axis, and how far each gets from it.
function reachOf(s: TrialSetting, name: (c: { station: number }) => boolean): number {
  const own = s.parts.machine.carriers[0] as CarrierOf<'turret'>;
  const axis = indexAxisOf(own);
  let most = 0;
  for (const { mesh, motion, station } of carriedWith(s.edges[0].row, s.table, s.parts)) {
    if (!name({ station })) continue;
    for (let i = 0; i < mesh.positions.length; i += 3) {
      const [x, y] = move(motion, [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]]);
      most = Math.max(most, Math.hypot(x - axis[0], y - axis[1]));
    }
  }
  return most;
}
const whileIndexed = (events: readonly TrialEvent[]) => events.filter((e) => e.message.startsWith('While '));

describe('a turret that is indexed where it stands', () => {
  it('sweeps the tool between two stations into the work, as deep as it reaches out farther', async () => {
    const s = await setting;
    const [reach, others] = [reachOf(s, (c) => c.station === 2), reachOf(s, (c) => c.station !== 2)];
    expect(reach - others).toBeGreaterThan(15);
    // The bar has a radius of 30 and its face is 2 before the zero: 1 mm into it, in its middle; the short ones pass by.
    const x = reach + 30 - 1 - 150;
    const { events } = run(s, program(s, 1, 3, x, -20));
    const touches = whileIndexed(events).filter(isFault);
    expect(new Set(touches.map((e) => e.body?.placeId))).toEqual(new Set(['place-2']));
    const touch = touches.reduce((worst, e) => (e.depth > worst.depth ? e : worst));
    expect(touch.between[1]).toBe('work');
    expect(touch.depth).toBeCloseTo(1, 2);
    expect(touch.message).toMatch(/^While upper turret is indexed from station 1 to 3, .* goes (0.99|1.00)\d mm into the work\.$/);
    expect(touch.line).toBe(4);
    expect(touch.at[1]).toBeCloseTo(29, 1);
    // Farther out by 1.1 it only gets near, by 1.3 it is free.
    const nearby = whileIndexed(run(s, program(s, 1, 3, x + 1.1, -20)).events);
    expect(nearby.map((e) => e.kind)).not.toContain('touch');
    expect(Math.min(...nearby.map((e) => e.depth))).toBeCloseTo(0.1, 2);
    expect(whileIndexed(run(s, program(s, 1, 3, x + 1.3, -20)).events)).toEqual([]);
  });
  it('goes the shorter way, and both where they are as long; what does not come by does not touch', async () => {
    const s = await setting;
    const x = reachOf(s, (c) => c.station === 2) + 30 - 1 - 150;
    const touches = (from: number, to: number) => whileIndexed(run(s, program(s, from, to, x, -20)).events).filter(isFault).length > 0;
    expect(touches(3, 1)).toBe(true);
    // From 7 to 1 half a turn is either way, and one of them goes over 2; from 7 to 3 none does.
    expect(touches(7, 1)).toBe(true);
    expect(touches(7, 3)).toBe(false);
    // The same tool again, or another edge of it, does not index anything.
    expect(whileIndexed(run(s, program(s, 1, 1, x, -20)).events)).toEqual([]);
  });
  it('tells what a dense look at the turning bodies finds, wherever it stands', async () => {
    const s = await setting;
    const own = s.parts.machine.carriers[0] as CarrierOf<'turret'>;
    const bar = { from: -80, to: 2, radius: 30 };
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 184, max: 208 }),
        fc.integer({ min: -60, max: 30 }),
        fc.constantFrom([1, 2], [3, 2], [7, 3], [3, 7]),
        async (x, z, [from, to]) => {
          await Promise.resolve();
          // Only what happens on the way: nothing touches or cuts where it starts.
          const told = whileIndexed(run(s, program(s, from, to, x, z)).events).filter((e) => e.between[1] === 'work');
          const dense = densest(s, own, from, to, s.placeInMachine(own, [z, x]), bar);
          const deepest = Math.max(0, ...told.filter(isFault).map((e) => e.depth));
          // Corners of meshes turned by a degree miss what lies between them: never more is told there than here.
          expect(deepest).toBeGreaterThan(dense - 0.01);
          if (dense < -3) expect(deepest).toBe(0);
          if (dense > 0) expect(deepest).toBeLessThan(dense + 3);
        },
      ),
      { numRuns: 12 },
    );
  }, 60_000);
  it('may have retreated from the chuck, which is looked at as well', async () => {
    const s = await setting;
    const chuck = turnedBodies(s.parts.machine, s.parts.setUp).find((b) => b.what === 'chuck')?.radius ?? 0;
    const reach = reachOf(s, (c) => c.station === 2);
    // Over the chuck, where the swing leaves 0.5.
    const near = (room: number) =>
      whileIndexed(run(s, program(s, 1, 3, reach + chuck + room - 150, -140)).events).filter((e) => e.between[1].startsWith('chuck'));
    const deepest = near(-0.5).reduce((most, e) => Math.max(most, e.depth), 0);
    expect(deepest).toBeCloseTo(0.5, 2);
    expect(near(0.5)).toEqual([]);
  });
});

it('a turret that is indexed sweeps what the other carrier holds', async () => {
  // Below, at its home 60 away from the axis, a holder reaches over the axis and stands there.
  const connection = { standard: 'square', size: '25x25' };
  const upper = { ...turret, mounting: 'rim', connection };
  const lower = { ...upper, id: 'lower-turret', name: 'lower turret', side: 'below', travel: { ...turret.travel, x: [-15, 60], z: [0, 400] } };
  const s = await settingOf({
    ...OUTSIDE,
    contour: undefined,
    clearance: 0.2,
    setUp: {
      ...setUp,
      machine: { ...twin, carriers: [upper, lower] },
      places: [...setUp.places, { ...place('short', 5), carrier: 'lower-turret' }],
    },
  });
  // How far up the lower one's tool gets, and where that turret swings along Z: both hold the same kinds of holders, so that their tips stand at one Z.
  const there = s.table.stations.find((r) => r.place.carrierId === 'lower-turret');
  if (!there) throw new Error('nothing below');
  let top = -Infinity;
  for (const { mesh, motion, placeId } of carriedWith(there, s.table, s.parts))
    if (placeId === there.place.id)
      for (let i = 0; i < mesh.positions.length; i += 3)
        top = Math.max(top, move(motion, [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]])[0] - 60);
  expect(top).toBeGreaterThan(80);
  const reach = reachOf(s, (c) => c.station === 2);
  const events = (gap: number) =>
    run(s, program(s, 1, 3, top + gap + reach - 150, s.partZ(400))).events.filter(
      (e) => e.message.includes('(lower turret; which stands at its home)') && e.message.startsWith('While'),
    );
  expect(events(0.5)).toEqual([]);
  const [touch] = events(-1.5).filter(isFault);
  expect(touch).toMatchObject({ line: 4, kind: 'touch', body: { placeId: 'place-2' }, other: { placeId: 'place-5' } });
  expect(touch.depth).toBeGreaterThan(0.2);
  expect(touch.depth).toBeLessThan(1.6);
  expect(touch.message).toMatch(/^While upper turret is indexed from station 1 to 3, DCLNR2525P12, \w+ goes \d\.\d+ mm into DCLNR2525M12, \w+ \(lower turret/);
});

// How deep corners of what turns get into a bar about the spindle axis, by small turns.
function densest(
  s: TrialSetting,
  turret: CarrierOf<'turret'>,
  from: number,
  to: number,
  reference: Vec3,
  bar: { from: number; to: number; radius: number },
): number {
  const row = s.edges.find((e) => e.edge.tool === from)?.row;
  if (!row) throw new Error('no row');
  let deepest = -Infinity;
  const bodies = carriedWith(row, s.table, s.parts);
  const steps = 30 * Math.abs(to - from);
  const ways = 2 * Math.abs(to - from) === turret.stations ? [to - from, from - to] : [to - from];
  for (const way of ways)
    for (let k = 0; k <= steps; k++) {
      // Where what stands at the first station is once the turret is part of the way on.
      const turned = stationMotion(turret, from, from + (way * k) / steps);
      if (!turned) continue;
      for (const { mesh, motion } of bodies) {
        const whole = compose(turned, motion);
        for (let i = 0; i < mesh.positions.length; i += 3) {
          const p = move(whole, [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]]);
          const z = s.partZ(p[2] + reference[2]);
          if (z < bar.from || z > bar.to) continue;
          deepest = Math.max(deepest, bar.radius - Math.hypot(p[0] + reference[0], p[1] + reference[1]));
        }
      }
    }
  return deepest;
}
