import { beforeAll, describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type AssemblyEdge, type AssemblyRecord } from '#core/records';
import { branchOf, exchangePiece, graftChain, insertBefore, movePiece, partOfChain, takeOutPiece } from './index.ts';
import { chain, code, components, type Key, lengthOf, openShop, piece, reachOf, value, WORDS } from './sample-shop.ts';

beforeAll(openShop);

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
    const pressed = { ...a, pieces: a.pieces.map((p) => (p.id === 'p2' || p.id === 'p1' ? { ...p, pressed: true } : p)) };
    const moved = value(movePiece(pressed, all, 'p2', { pieceId: 'p3', seatId: 'data-seat-0' }));
    expect(moved.pieces.map((p) => p.id)).toEqual(['p0', 'p1', 'p3', 'p2']);
    // That it is pressed in was said of the seat that it left.
    expect(moved.pieces.map((p) => p.pressed)).toEqual([undefined, true, undefined, undefined]);
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
