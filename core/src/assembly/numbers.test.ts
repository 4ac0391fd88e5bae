import { beforeAll, describe, expect, it } from '@jest/globals';
import { OverlapSolver } from '#core/kernel';
import { IDENTITY } from '#core/math';
import { computeMinimumBore } from '#core/reading';
import { type AssemblyEdge, type AssemblyRecord, mountFrameOf, virtualTipOf } from '#core/records';
import {
  boreAgainstDepth,
  checkAssembly,
  checkFits,
  deflectionOf,
  exchangePiece,
  findFits,
  massOf,
  numbersOf,
  placeBodies,
  placeTips,
  sectionMoments,
} from './index.ts';
import { chain, components, type Key, models, openShop, piece, reachOf, value } from './sample-shop.ts';

beforeAll(openShop);

describe('what is programmed of an edge', () => {
  const tipId = () => components.bar16.tips[0].id;
  const withPoint = (point: AssemblyEdge['point']): AssemblyRecord => ({
    ...chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', -90)),
    edges: [{ pieceId: 'p2', tipId: tipId(), name: '', point }],
  });
  const tip = (point: AssemblyEdge['point']) => placeTips(withPoint(point), components)[0];
  it('is what the tool says, unless the edge says the nose centre: both are the nose radius apart', () => {
    const r = components.bar16.tips[0].noseRadius;
    expect(r).toBeGreaterThan(0);
    expect(tip(undefined).programmedPoint).toBe('virtual tip');
    // Its insert leans by some degrees: its nose reaches less far, by their cosine.
    for (const apart of [tip(undefined).L - tip('nose centre').L, Math.abs(tip('nose centre').Q - tip(undefined).Q)]) {
      expect(apart).toBeLessThan(r + 1e-9);
      expect(apart).toBeGreaterThan(r * Math.cos((7 * Math.PI) / 180));
    }
    expect(tip('virtual tip').L).toBe(tip(undefined).L);
  });
  it('or a picked point of its piece, which goes with it; the gauge length is told by it', () => {
    const at = [1, 2, 30] as const;
    const picked = tip({ name: 'corner', at });
    expect(picked.programmedPoint).toBe('picked point');
    // The mount's frame at the rear end of the bar; the seat 5 in front of the gauge line; stick-out -90.
    expect(picked.point[2]).toBeCloseTo(30 + 5 - 90, 6);
    expect(numbersOf(withPoint({ name: 'corner', at }), components, models).gaugeLength).toBeCloseTo(picked.L, 9);
  });
  it('leaves alone what is the edge’s own: how far it gives way, and its height over the turning plane', () => {
    const far = withPoint({ name: 'corner', at: [1, 2, 30] });
    const plain = withPoint(undefined);
    expect(numbersOf(far, components, models).deflection?.value).toBe(numbersOf(plain, components, models).deflection?.value);
    expect(numbersOf(plain, components, models).deflection?.value).toBeGreaterThan(0);
    const heights = (a: AssemblyRecord) => checkAssembly(a, components).filter((c) => c.code === 'centre-height');
    expect(heights(far)).toEqual(heights(plain));
  });
  it('is not carried over to another component, whose file has other coordinates: that is said', () => {
    const other = (point: AssemblyEdge['point']) => value(exchangePiece(withPoint(point), components, 'p2', components.bar16l, reachOf));
    expect(other('nose centre').edges[0].point).toBe('nose centre');
    const picked = other({ name: 'corner', at: [1, 2, 30] });
    expect([picked.edges[0].point, picked.notes]).toEqual([undefined, [expect.stringMatching(/^The picked point of .* is programmed again\.$/)]]);
  });
  it('and its sense is held against the tool', () => {
    const said = (sense: 'M3' | 'M4') =>
      checkAssembly({ ...withPoint(undefined), edges: [{ pieceId: 'p2', tipId: tipId(), name: 'finish', sense }] }, components).filter(
        (c) => c.code === 'edges',
      );
    // A right-hand bar, towards the chuck.
    expect([said('M3'), said('M4').map((c) => c.message)]).toEqual([[], ['finish: said to cut with M4, but the tool cuts with M3 as its hand tells.']]);
  });
});

describe('the least bore against depth', () => {
  const of = (out: number) => boreAgainstDepth(chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', out)), components, models);
  it('is that of the bar in front of the sleeve, and none from where the sleeve stands out as far as the edge', () => {
    const [{ steps }] = of(-90);
    const edge = components.bar16.tips[0];
    expect(of(-90).length).toBe(1);
    const alone = computeMinimumBore(
      models.bar16.bodies.filter((b) => components.bar16.bodies.find((e) => e.id === b.id)?.role !== 'cutting'),
      mountFrameOf(components.bar16),
      virtualTipOf(edge, mountFrameOf(components.bar16)),
      { upTo: 50, depths: 50 },
    );
    const at = (list: readonly { depth: number; diameter: number }[], depth: number) => list.find((s) => s.depth >= depth - 1e-9)?.diameter ?? 0;
    // The bar's own, as long as it alone is in the bore.
    expect(at(steps, 40)).toBeCloseTo(at(alone, 40), 1);
    // The flange of the sleeve, 40 wide, stands 60 behind the edge: by the formula its nearest corner beyond the edge blocks.
    expect(at(steps, 57)).toBeLessThan(40);
    expect(at(steps, 61.5)).toBe(Infinity);
    // Further out, it goes in further.
    expect(at(of(-60)[0].steps, 85)).toBeLessThan(40);
  });
  it('is nothing of what does not bore, or has no model yet', () => {
    expect(boreAgainstDepth(chain(piece('p1', 's16'), piece('p2', 'd8', 'p1', -30)), components, models)).toEqual([]);
    expect(boreAgainstDepth(chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', -90)), components, { bar16: models.bar16 })).toEqual([]);
  });
});

describe('numbers', () => {
  const rod = (key: Key) => placeBodies(chain(piece('p1', key)), components, models);
  it('mass and its centre are those of the cylinders that it is made of', () => {
    // Sleeve: shank 32 x 60 and flange 40 x 5, bored 16 all through; steel.
    const [a, b] = [(Math.PI / 4) * (32 ** 2 - 16 ** 2) * 60, (Math.PI / 4) * (40 ** 2 - 16 ** 2) * 5];
    const m = massOf(rod('s32'));
    expect(m?.mass).toBeCloseTo(((a + b) * 7.85) / 1e6, 9);
    expect(m?.centreOfMass[2]).toBeCloseTo((a * -30 + b * 2.5) / (a + b), 6);
    expect([m?.unbalance, m?.largestDiameter]).toEqual([expect.closeTo(0, 3), expect.closeTo(40, 4)]);
  });
  it('unbalance is mass times how far its centre is off the axis', () => {
    const aside = rod('s32').map((b) => ({ ...b, gaugeFromFile: { r: b.gaugeFromFile.r, t: [3, 4, 0] as const } }));
    const m = massOf(aside);
    expect(m?.unbalance).toBeCloseTo((m?.mass ?? 0) * 1000 * 5, 3);
  });
  it('follows what bodies are made of: a drill is high-speed steel where somebody says so', () => {
    const hss = { ...components, d8: { ...components.d8, use: { groups: {}, cuttingMaterial: 'HSS' as const } } };
    const [carbide, steel] = [components, hss].map((c) => massOf(placeBodies(chain(piece('p1', 'd8')), c, models))?.mass ?? 0);
    expect(carbide / steel).toBeCloseTo(14.5 / 8.1, 6);
    const said = { ...components, d8: { ...components.d8, bodies: components.d8.bodies.map((b) => ({ ...b, material: 'aluminium' as const })) } };
    expect((massOf(placeBodies(chain(piece('p1', 'd8')), said, models))?.mass ?? 0) / carbide).toBeCloseTo(2.7 / 14.5, 6);
  });
  it('sections have the moments of a ring', () => {
    const { mesh } = models.s32.bodies[0];
    const [area, first, second] = sectionMoments(mesh, IDENTITY, Float64Array.of(-20));
    expect(area / ((Math.PI / 4) * (32 ** 2 - 16 ** 2))).toBeCloseTo(1, 2);
    expect(first).toBeCloseTo(0, 6);
    expect(second / ((Math.PI / 64) * (32 ** 4 - 16 ** 4))).toBeCloseTo(1, 2);
  });
  it('a rod gives way by F L³ / 3 E I, a stepped one by the sum of its parts', () => {
    // Drill 10: a plain cylinder of 10 but for its point, of carbide.
    const I = (Math.PI / 64) * 10 ** 4;
    const L = 100;
    expect((deflectionOf(rod('d10'), L, 200)?.value ?? 0) / ((200 * L ** 3) / (3 * 600_000 * I))).toBeCloseTo(1, 1);
    // Fixed at -60: first the sleeve's shank, then its flange.
    const moved = rod('s32').map((b) => ({ ...b, gaugeFromFile: { r: b.gaugeFromFile.r, t: [0, 0, 60] as const } }));
    const [i1, i2] = [(Math.PI / 64) * (32 ** 4 - 16 ** 4), (Math.PI / 64) * (40 ** 4 - 16 ** 4)];
    const byHand = (100 / 210_000) * ((65 ** 3 - 5 ** 3) / 3 / i1 + 5 ** 3 / 3 / i2);
    expect((deflectionOf(moved, 65, 100)?.value ?? 0) / byHand).toBeCloseTo(1, 2);
  });
  it('of a whole chain: gauge length by hand, overhang against its rule', () => {
    const a = chain(piece('p0', 's40'), piece('p1', 's25', 'p0'), piece('p2', 'bar16', 'p1', -90));
    const n = numbersOf(a, components, models);
    // Flanges of 5 each, a bar of 150 that is held over 90.
    expect(n.gaugeLength).toBeCloseTo(5 + 5 + 60, 2);
    expect(n.overhang).toMatchObject({ piece: 'p2', diameter: 16, ratio: expect.closeTo(60 / 16, 1), material: 'steel', limit: 4 });
    expect(n.deflection?.value).toBeGreaterThan(0);
  });
});

describe('fits', () => {
  it('of a chain of data touch where they should and go through nothing; a shank that is pushed too far is found', async () => {
    const solver = await OverlapSolver.load();
    const a = chain(piece('p0', 's40'), piece('p1', 's25', 'p0'), piece('p2', 'bar16', 'p1', -50));
    const good = checkFits(findFits(solver, a, components, models), a, components);
    expect(good.filter((c) => c.state === 'fail')).toEqual([]);
    expect(good.filter((c) => c.code === 'contact')).toHaveLength(3);
    // Pushed in by 20 only: that is less than twice the shank.
    const short = { ...a, pieces: a.pieces.map((p) => (p.id === 'p2' ? { ...p, stickOut: -20 } : p)) };
    expect(checkFits(findFits(solver, short, components, models), short, components).find((c) => c.code === 'held-length')).toMatchObject({
      state: 'warn',
      value: 20,
      limit: 32,
    });
    // The second sleeve's flange 0.3 into the first one's.
    const sunk = { ...a, pieces: a.pieces.map((p) => (p.id === 'p1' ? { ...p, stickOut: -0.3 } : p)) };
    const bad = findFits(solver, sunk, components, models);
    expect(bad.contacts.find((c) => c.kind === 'face' && c.piece === 'p1')?.gap).toBeCloseTo(-0.3, 6);
    expect(bad.overlaps[0]).toMatchObject({ between: [{ piece: 'p0' }, { piece: 'p1' }], depth: expect.closeTo(0.3, 4) });
    expect(
      checkFits(bad, sunk, components)
        .filter((c) => c.state === 'fail')
        .map((c) => c.code),
    ).toEqual(['contact', 'overlap']);
    // Said to be pressed in, that is meant; the same of another joint is not.
    const said = (id: string) => ({ ...sunk, pieces: sunk.pieces.map((p) => (p.id === id ? { ...p, pressed: true } : p)) });
    expect(checkFits(bad, said('p1'), components).filter((c) => c.state === 'fail')).toEqual([]);
    expect(checkFits(bad, said('p2'), components).filter((c) => c.state === 'fail')).toHaveLength(2);
    solver.close();
  });
});
