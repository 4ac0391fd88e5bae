import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { makeComponent, readWords } from '#core/components';
import { type Kernel, loadKernel, OverlapSolver, readModelFile } from '#core/kernel';
import { IDENTITY, IDENTITY_FRAME } from '#core/math';
import type { Model } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import {
  ASSEMBLY_VERSION,
  type AssemblyEdge,
  type AssemblyRecord,
  type ComponentRecord,
  mountFrameOf,
  ON_MASTER,
  type Piece,
  virtualTipOf,
} from '#core/records';
import { computeMinimumBore } from '#core/reading';
import { componentOfSpec } from '#core/sources';
import { checkFit } from '#core/standards';
import {
  boreAgainstDepth,
  branchOf,
  checkAssembly,
  checkFits,
  deflectionOf,
  exchangePiece,
  feelStops,
  findFits,
  findWays,
  gaugeLengthOf,
  graftChain,
  insertBefore,
  massOf,
  movePiece,
  numbersOf,
  partOfChain,
  placeBodies,
  placeTips,
  reachAlongMount,
  sectionMoments,
  stickOutLimits,
  stickOutOf,
  takeOutPiece,
} from './index.ts';

// Pieces of a small shop, from data: what is known of them is in their names.
const WORDS = {
  s40: 'sleeve 40 to 25',
  s32: 'sleeve 32 to 16',
  s25: 'sleeve 25 to 16',
  s16: 'sleeve 16 to 8',
  bar16: 'A16M-SCLCR 09',
  bar16l: 'A16R-SCLCL 09',
  bar8: 'A08H-SCLCR 06 wf 6',
  d8: 'drill 8',
  d10: 'drill 10',
  c10: 'collet er32 d10',
} as const;
type Key = keyof typeof WORDS;
const components = {} as Record<Key, ComponentRecord>;
const models = {} as Record<Key, Model>;
let kernel: Kernel;

beforeAll(async () => {
  kernel = await loadKernel();
  for (const [key, words] of Object.entries(WORDS) as [Key, string][]) {
    const { spec } = readWords(words);
    const made = spec && makeComponent(spec);
    if (!spec || !made?.ok) throw new Error(`${words}: ${JSON.stringify(made)}`);
    components[key] = componentOfSpec(spec, made.part, { id: key, name: words, now: '' });
    const read = await readModelFile(kernel, writeSolidShape(made.part.shape), shapeFileName('x'), { exactProperties: true, chordTolerance: 0.005 });
    if (!read.ok) throw new Error(words);
    models[key] = read.value.model;
  }
});

const piece = (id: string, key: Key, on?: string, stickOut = 0, rollDeg = 0): Piece => ({
  id,
  componentId: key,
  parent: on === undefined ? null : { pieceId: on, seatId: 'data-seat-0' },
  stickOut,
  rollDeg,
});
const chain = (...pieces: Piece[]): AssemblyRecord => ({
  kind: 'assembly',
  version: ASSEMBLY_VERSION,
  id: 'a',
  name: 'a',
  pieces,
  edges: [],
  shelf: ON_MASTER,
  createdAt: '',
  changedAt: '',
});
const reachOf = (c: ComponentRecord) => reachAlongMount(c, models[c.id as Key]);
const value = <T>(r: { ok: true; value: T } | { ok: false; issues: readonly { code: string }[] }): T => {
  if (!r.ok) throw new Error(r.issues.map((i) => i.code).join());
  return r.value;
};
const code = (r: { ok: boolean; issues?: readonly { code: string }[] }): string => (r.ok ? 'ok' : (r.issues?.[0].code ?? ''));
const lengthOf = (a: Pick<AssemblyRecord, 'pieces'>) => gaugeLengthOf(a, placeTips(a, components));

describe('exchange', () => {
  const before = () => chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', -90, 10));
  it('of a bar for a longer one keeps how far it stands out, its roll, and the gauge length', () => {
    const after = value(exchangePiece(before(), components, 'p2', components.bar16l, reachOf));
    expect(after.pieces[1]).toMatchObject({ componentId: 'bar16l', rollDeg: 10, parent: { pieceId: 'p1' } });
    // 150 long and 200 long: both stand 60 out.
    expect(after.pieces[1].stickOut).toBeCloseTo(-140, 6);
    expect(lengthOf(after)).toBeCloseTo(lengthOf(before()) ?? 0, 2);
    expect([after.lost, after.notes]).toEqual([[], []]);
  });
  it('of what holds takes along what still fits, and says what does not, and what would', () => {
    const [a, b] = [before(), chain(piece('p0', 's40'), piece('p1', 's25', 'p0'), piece('p2', 'bar16', 'p1', -90))];
    expect(value(exchangePiece(a, components, 'p1', components.s25, reachOf)).pieces.map((p) => p.componentId)).toEqual(['s25', 'bar16']);
    const lost = value(exchangePiece(a, components, 'p1', components.s40, reachOf));
    expect(lost.pieces.map((p) => p.id)).toEqual(['p1']);
    expect(lost.lost).toEqual([{ pieceId: 'p2', name: WORDS.bar16, why: 'what would fit: a cylindrical 25 mount' }]);
    // In the middle of a chain it must fit on both sides.
    expect(code(exchangePiece(b, components, 'p1', components.s32, reachOf))).toBe('join.size');
    expect(code(exchangePiece(b, components, 'p9', components.s32, reachOf))).toBe('join.no-piece');
  });
  it('keeps what was said of edges, and says where there is no tip for one', () => {
    const edges: AssemblyEdge[] = [{ pieceId: 'p2', tipId: components.bar16.tips[0].id, name: 'finish', number: 7 }];
    const kept = value(exchangePiece({ ...before(), edges }, components, 'p2', components.bar16l, reachOf));
    expect(kept.edges).toEqual([{ ...edges[0], tipId: components.bar16l.tips[0].id }]);
    const bare = { ...components.bar16, id: 'bare', tips: [] };
    const gone = value(exchangePiece({ ...before(), edges }, { ...components, bare }, 'p2', bare, () => undefined));
    expect([gone.edges, gone.notes[0]]).toEqual([[], `${WORDS.bar16} has no tip for finish, offset 7.`]);
  });
  it('and exchange back changes nothing, whatever the chain', () => {
    const pairs: [Key, Key][] = [
      ['bar16', 'bar16l'],
      ['s32', 's25'],
    ];
    fc.assert(
      fc.property(fc.integer({ min: -95, max: -20 }), fc.integer({ min: -180, max: 180 }), fc.constantFrom(...pairs), (out, roll, [one, other]) => {
        const a = chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', out, roll));
        const id = one === 's32' ? 'p1' : 'p2';
        const there = value(exchangePiece(a, components, id, components[other], reachOf));
        const back = value(exchangePiece(there, components, id, components[one], reachOf));
        expect(back.pieces.map((p) => ({ ...p, stickOut: Math.round(p.stickOut * 1e6) / 1e6 }))).toEqual(a.pieces);
      }),
      { numRuns: 100 },
    );
  });
});

describe('a chain', () => {
  const whole = () => chain(piece('p0', 's40'), piece('p1', 's25', 'p0'), piece('p2', 'bar16', 'p1', -90));
  it('takes a piece in between and gives it up again', () => {
    const a = chain(piece('p0', 's32'), piece('p1', 'bar16', 'p0', -90));
    expect(code(insertBefore(a, components, 'p1', components.s40, { id: 'n', stickOut: 0 }))).toBe('join.size');
    const grown = value(insertBefore(chain(piece('p0', 's25'), piece('p1', 'bar16', 'p0', -90)), components, 'p0', components.s40, { id: 'n', stickOut: 0 }));
    expect(grown.pieces.map((p) => [p.id, p.parent?.pieceId])).toEqual([
      ['n', undefined],
      ['p0', 'n'],
      ['p1', 'p0'],
    ]);
    const back = value(takeOutPiece({ ...grown }, components, 'n'));
    expect(back.pieces).toEqual([piece('p0', 's25'), piece('p1', 'bar16', 'p0', -90)]);
  });
  it('says what is lost where a piece is taken out and what hung on it does not fit below', () => {
    const { pieces, lost } = value(takeOutPiece(whole(), components, 'p1'));
    expect([pieces.map((p) => p.id), lost.map((l) => l.pieceId)]).toEqual([['p0'], ['p2']]);
  });
  it('moves a branch to another seat, not onto itself, nor where something sits', () => {
    const two = { ...components.s40, seats: ['x', 'y'].map((id) => ({ ...components.s40.seats[0], id, name: id })) };
    const all = { ...components, s40: two };
    const a = chain(piece('p0', 's40'), { ...piece('p1', 's25', 'p0'), parent: { pieceId: 'p0', seatId: 'x' } }, piece('p2', 'bar16', 'p1', -90), {
      ...piece('p3', 's25', 'p0'),
      parent: { pieceId: 'p0', seatId: 'y' },
    });
    expect(code(movePiece(a, all, 'p1', { pieceId: 'p0', seatId: 'y' }))).toBe('join.taken');
    expect(code(movePiece(a, all, 'p1', { pieceId: 'p2', seatId: 'data-seat-0' }))).toBe('join.own-branch');
    const moved = value(movePiece(a, all, 'p2', { pieceId: 'p3', seatId: 'data-seat-0' }));
    expect(moved.pieces.map((p) => p.id)).toEqual(['p0', 'p1', 'p3', 'p2']);
  });
  it('is saved in parts: the cutting side begins anew, the holder side stays', () => {
    expect(partOfChain(whole(), 'p1', 'holder side').pieces.map((p) => p.id)).toEqual(['p0']);
    expect(partOfChain(whole(), 'p1', 'cutting side').pieces).toEqual([piece('p1', 's25'), piece('p2', 'bar16', 'p1', -90)]);
    expect([...branchOf(whole(), 'p1')].sort()).toEqual(['p1', 'p2']);
  });
});

describe('an assembly on a seat', () => {
  const station = () => chain(piece('p0', 's40'));
  const tool = (): AssemblyRecord => ({
    ...chain(piece('p0', 's25'), piece('p1', 'bar16', 'p0', -90, 15)),
    edges: [{ pieceId: 'p1', tipId: components.bar16.tips[0].id, name: 'finish', number: 7 }],
  });
  const on = { pieceId: 'p0', seatId: 'data-seat-0' };
  const ids = () => {
    let n = 0;
    return () => `n${++n}`;
  };
  const graft = (a: AssemblyRecord, b = tool(), where = on) => graftChain(a, components, where, b, ids(), reachOf);
  it('comes with all its pieces under ids of their own, as they sat, and with what is said of its edges', () => {
    const found = value(graft(station()));
    expect(found.pieces).toEqual([piece('p0', 's40'), piece('n1', 's25', 'p0'), piece('n2', 'bar16', 'n1', -90, 15)]);
    expect(found.edges).toEqual([{ pieceId: 'n2', tipId: components.bar16.tips[0].id, name: 'finish', number: 7 }]);
    // As long as both together, by hand: the sleeve's flange is 5, of its own gauge line.
    expect(lengthOf(found)).toBeCloseTo((lengthOf(tool()) ?? 0) + 5, 6);
    expect(partOfChain({ ...station(), ...found }, 'n1', 'cutting side').pieces.map((p) => p.componentId)).toEqual(['s25', 'bar16']);
  });
  it('gives up an offset number that is taken, and says so', () => {
    const a: AssemblyRecord = { ...station(), edges: [{ pieceId: 'p0', tipId: 't', name: '', number: 7 }] };
    const found = value(graft(a));
    expect([found.edges[1].number, found.notes]).toEqual([undefined, ['Offset 7 is taken here: finish has none yet.']]);
  });
  it('is refused where something sits, where its first piece does not fit, and of nothing', () => {
    expect(code(graft(chain(piece('p0', 's40'), piece('p1', 's25', 'p0'))))).toBe('join.taken');
    expect(code(graft(chain(piece('p0', 's32'))))).toBe('join.size');
    expect(code(graft(station(), chain()))).toBe('join.no-piece');
    expect(code(graft(station(), tool(), { ...on, pieceId: 'p9' }))).toBe('join.no-piece');
  });
});

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
    expect(tip('nose centre').L).toBeCloseTo(tip(undefined).L - r, 9);
    expect(Math.abs(tip('nose centre').Q - tip(undefined).Q)).toBeCloseTo(r, 9);
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

describe('ways', () => {
  const all = () => Object.values(components);
  it('go through what fits on both sides, the shortest first', () => {
    const { ways } = findWays({ standard: 'cylindrical', size: 40 }, components.bar16, all());
    expect(ways.map((w) => w.through.map((t) => t.component.id))).toEqual([['s40', 's25']]);
    expect(findWays({ standard: 'cylindrical', size: 16 }, components.bar16, all()).ways[0]).toMatchObject({ through: [], last: null, long: 0 });
  });
  it('where there is none say which piece would make one, from data where data makes it', () => {
    const { ways, missing } = findWays({ standard: 'cylindrical', size: 32 }, components.d10, all());
    expect(ways).toEqual([]);
    expect(missing[0]).toMatchObject({ through: [], needs: 'a sleeve 32 to 10', spec: { kind: 'sleeve', values: { DCON: 32, DCONWS: 10 } } });
    expect(findWays({ standard: 'PSC', size: 63 }, components.bar16, all()).missing).toEqual([
      { through: [], needs: 'a piece with a PSC 63 mount and a cylindrical 16 seat' },
    ]);
  });
  it('of thousands of pieces that fit each other end, the shortest first all the same', () => {
    const ladder = [components.s40, components.s32, components.s25, components.s16];
    const many = ladder.flatMap((c) => Array.from({ length: 1500 }, (_, i) => ({ ...c, id: `${c.id} ${i}` })));
    const { ways } = findWays({ standard: 'cylindrical', size: 40 }, components.bar16, many);
    expect([ways.length, new Set(ways.map((w) => w.through.length))]).toEqual([40, new Set([2])]);
    expect(findWays({ standard: 'cylindrical', size: 40 }, components.d10, many).missing[0]).toMatchObject({ through: [], needs: 'a sleeve 40 to 10' });
  });
  it('are the same as those of trying everything, and each of them joins', () => {
    const between = all().filter((c) => c.seats.length > 0);
    for (const size of [16, 25, 32, 40])
      for (const to of [components.bar16, components.d8, components.d10]) {
        const tried: string[] = [];
        const fits = (c: ComponentRecord, seat: { standard: 'cylindrical'; size: number } | ComponentRecord['seats'][number]['connection']) =>
          c.mount !== null && checkFit(c.mount.connection, seat).ok;
        const grow = (chainSoFar: ComponentRecord[]) => {
          const seat = chainSoFar.length === 0 ? { standard: 'cylindrical' as const, size } : chainSoFar[chainSoFar.length - 1].seats[0].connection;
          if (fits(to, seat)) tried.push(chainSoFar.map((c) => c.id).join());
          if (chainSoFar.length < 3) for (const c of between) if (!chainSoFar.includes(c) && fits(c, seat)) grow([...chainSoFar, c]);
        };
        grow([]);
        const found = findWays({ standard: 'cylindrical', size }, to, all()).ways.map((w) => w.through.map((t) => t.component.id).join());
        expect([size, to.id, [...found].sort()]).toEqual([size, to.id, [...tried].sort()]);
      }
  });
});

describe('limits of a stick-out', () => {
  const limits = (a: AssemblyRecord, id: string, of = components, known: Record<string, Model | undefined> = models) => stickOutLimits(a, of, id, known);
  it('of a bar through a sleeve: out until nothing holds it, and nothing stops it on the way in but its head', () => {
    const found = limits(chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', -90)), 'p2');
    // 150 long, its mount at the rear end; the sleeve is open behind.
    expect(found?.most).toBeCloseTo(0, 6);
    expect(found?.stops.find((s) => s.what.startsWith('held'))?.at).toBeCloseTo(-32, 6);
    expect(found?.stops.some((s) => s.what.includes('end of the bore'))).toBe(false);
  });
  it('where a seat says what it wants to hold, that is its stop and its check', () => {
    const wants = { ...components.s32, seats: components.s32.seats.map((s) => ({ ...s, leastIn: 50 })) };
    const of = { ...components, s32: wants };
    const a = (out: number) => chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', out));
    const stop = limits(a(-90), 'p2', of)?.stops.find((s) => s.what.startsWith('held'));
    expect(stop?.at).toBeCloseTo(-50, 6);
    const state = (out: number) => checkAssembly(a(out), of, models).find((c) => c.code === 'clamping-length')?.state;
    expect([state(-50), state(-49.9)]).toEqual(['pass', 'warn']);
  });
  it.each([20, 45])('of a bore that ends %d mm in: the rear end of the shank stands on it', async (deep) => {
    // A block with a blind bore: its half profile, material on the left.
    const corners: [number, number][] = [
      [-80, 0],
      [-deep, 0],
      [-deep, 8],
      [0, 8],
      [0, 30],
      [-80, 30],
    ];
    const profile = corners.map((from, i) => ({ kind: 'line' as const, from, to: corners[(i + 1) % corners.length] }));
    const shape = { format: 'ruota-shape', version: 1, form: 'revolved', bodies: [{ name: 'b', role: 'tool body', profile: [profile] }] } as const;
    const block = value(await readModelFile(kernel, writeSolidShape(shape), shapeFileName('x'), { exactProperties: true, chordTolerance: 0.01 })).model;
    const seat = { ...components.s32.seats[0], frame: IDENTITY_FRAME };
    const of = { ...components, block: { ...components.s32, id: 'block', seats: [seat] } };
    const a = { ...chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', -10, 25)) };
    const on = { ...a, pieces: a.pieces.map((p) => (p.id === 'p1' ? { ...p, componentId: 'block' } : p)) };
    const found = stickOutLimits(on, of, 'p2', { ...models, block });
    expect(found?.least).toBeCloseTo(-deep, 4);
    expect(found?.stops[0].what).toContain('end of the bore');
  });
  it('are felt: held at a stop that is near, never beyond an end, else in steps', () => {
    const known = {
      least: -80,
      most: 0,
      stops: [
        { at: -80, what: 'shoulder' },
        { at: -32.04, what: 'held' },
      ],
    };
    const felt = (asked: number) => feelStops(known, asked, 0.5, 0.1);
    expect(felt(-31.8)).toEqual({ at: -32.04, felt: 'held' });
    expect(felt(-31.34).at).toBeCloseTo(-31.3, 9);
    expect(felt(-31.34).felt).toBeNull();
    // Read 1.998 further on: what is read is round.
    expect(feelStops(known, -20.03, 0.5, 0.1, 1.998).at).toBeCloseTo(-18 - 1.998, 9);
    expect(felt(-500)).toEqual({ at: -80, felt: 'shoulder' });
    expect(felt(500)).toEqual({ at: 0, felt: 'nothing is held any more' });
  });
  it('are none of what seats on its face, of what has no model yet, and of what sits on nothing', () => {
    const a = chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', -90));
    expect(limits(a, 'p1')).toBeUndefined();
    expect(limits(a, 'p2', components, { bar16: models.bar16 })).toBeUndefined();
    expect(limits(a, 'p9')).toBeUndefined();
  });
});

describe('stick-out', () => {
  const a = () => chain(piece('p1', 's32'), piece('p2', 'bar16', 'p1', -90));
  const set = (way: Parameters<typeof stickOutOf>[0], on = a(), id = 'p2') => stickOutOf(way, on, components, id, models[on.pieces[1].componentId as Key]);
  it('is said by length, by clamping, or as a gauge length to hit', () => {
    const front = reachOf(components.bar16)[1];
    expect(value(set({ by: 'length', value: 50 }))).toBeCloseTo(50 - front, 9);
    expect(value(set({ by: 'clamping', value: 64 }))).toBeCloseTo(-64, 6);
    const hit = value(set({ by: 'gauge length', value: 77.7 }));
    expect(lengthOf({ pieces: [a().pieces[0], { ...a().pieces[1], stickOut: hit }] })).toBeCloseTo(77.7, 9);
  });
  it('is said to the shoulder or to where it cuts, or why not', () => {
    const drill = chain(piece('p1', 's16'), piece('p2', 'd8', 'p1', -30));
    // DIN: 117 long, 75 of it cut.
    expect(value(set({ by: 'flutes' }, drill))).toBeCloseTo(-42, 6);
    expect(code(set({ by: 'shoulder' }, drill))).toBe('stick-out.no-shoulder');
    // The sleeve itself has one: its flange, at its mount.
    expect(value(stickOutOf({ by: 'shoulder' }, chain(piece('p1', 's40'), piece('p2', 's25', 'p1')), components, 'p2', models.s25))).toBeCloseTo(0, 6);
    expect(code(stickOutOf({ by: 'length', value: 1 }, a(), components, 'p1', models.s32))).toBe('join.no-piece');
    // Corners of a square shank are no shoulder.
    const square = {
      ...components,
      s25: { ...components.s25, mount: components.s25.mount && { ...components.s25.mount, connection: { standard: 'square' as const, size: '25x25' } } },
    };
    expect(code(stickOutOf({ by: 'shoulder' }, chain(piece('p1', 's40'), piece('p2', 's25', 'p1')), square, 'p2', models.s25))).toBe('stick-out.no-shoulder');
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
