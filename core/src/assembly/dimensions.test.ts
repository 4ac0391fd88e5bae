import { beforeAll, describe, expect, it } from '@jest/globals';
import type { Frame } from '#core/math';
import { type AssemblyRecord, withComponentIds } from '#core/records';
import {
  checkAssembly,
  dimensionedTip,
  dimensionsTo,
  exchangePiece,
  gaugeLineAt,
  numbersOf,
  partOfChain,
  placePieces,
  placeTips,
  stickOutForDimension,
  stickOutOf,
} from './index.ts';
import { chain, code, components, lengthOf, models, openShop, piece, value } from './sample-shop.ts';

beforeAll(async () => {
  await openShop();
});

const tipOf = (a: AssemblyRecord, of = components) => placeTips(a, of)[0];
const dims = (a: AssemblyRecord, of = components) => dimensionsTo(a, of, tipOf(a, of));
const inLine = () => chain(piece('p1', 's40'), piece('p2', 's25', 'p1', 0), piece('p3', 'bar16', 'p2', -90));
// A holder whose seat looks along Q, 70 in front and 40 out.
const turned = (): Record<string, (typeof components)['s40']> => {
  const frame: Frame = { origin: [40, 0, 70], z: [1, 0, 0], x: [0, 0, -1] };
  const mount = components.s40.mount as NonNullable<(typeof components)['s40']['mount']>;
  const s40 = {
    ...components.s40,
    mount: { ...mount, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as Frame },
    seats: components.s40.seats.map((s) => ({ ...s, frame })),
  };
  return { ...components, s40 };
};

describe('dimensions of a chain', () => {
  it('in a line follow one another from the gauge line to the tip, and come to the gauge length', () => {
    const { parts, totals } = dims(inLine());
    const along = parts.filter((p) => p.axis === 'L');
    expect(along[0].from).toBe(0);
    expect(along.at(-1)?.to).toBeCloseTo(lengthOf(inLine()) ?? 0, 9);
    for (const [i, part] of along.entries()) if (i > 0) expect(part.from).toBeCloseTo(along[i - 1].to, 9);
    expect(totals[0]).toMatchObject({ axis: 'L', from: 0, slides: { piece: 'p3', by: 1 } });
    expect(totals[0].to).toBeCloseTo(lengthOf(inLine()) ?? 0, 9);
    // The first sleeve is what all stands on; the bar is 150 long and 90 of it are in.
    expect(parts[0]).toMatchObject({ piece: 'p1', slides: null });
    expect((along.at(-1)?.to ?? 0) - (along.at(-1)?.from ?? 0)).toBeCloseTo(60, 1);
  });
  it('are those of the chosen piece’s edge, of one in front of it, else of the edge that the gauge length is told by', () => {
    const a = chain(piece('p1', 's40'), piece('p2', 's25', 'p1'), piece('p4', 's16', 'p2'), piece('p5', 'd8', 'p4'), piece('p3', 'bar16', 'p2', -90));
    const of = (chosen: string | null) => dimensionedTip(a, placeTips(a, components), chosen)?.piece;
    expect([null, 'p3', 'p5', 'p4', 'p2', 'gone'].map((c) => of(c))).toEqual(['p3', 'p3', 'p5', 'p5', 'p3', 'p3']);
    expect(dimensionedTip(chain(piece('p1', 's40')), [], 'p1')).toBeUndefined();
  });
  it('of what is turned by a quarter lie across', () => {
    const of = turned();
    const a = chain(piece('p1', 's40'), piece('p2', 'bar16', 'p1', -90));
    const { parts, totals } = dims(a, of);
    expect(parts.map((p) => [p.axis, p.piece, p.slides === null])).toEqual([
      ['L', 'p1', true],
      ['Q', 'p1', true],
      ['L', 'p2', true],
      ['Q', 'p2', false],
    ]);
    expect(parts[0]).toMatchObject({ from: 0, to: 70 });
    expect(parts[1]).toMatchObject({ from: 0, to: 40 });
    expect(totals.map((t) => t.slides?.piece ?? null)).toEqual([null, 'p2']);
  });
  it.each([
    ['in a line', () => components as Record<string, unknown>],
    ['turned', () => turned() as Record<string, unknown>],
  ])('that are typed are what is measured then, %s', (_, made) => {
    const of = made() as typeof components;
    const a = of === components ? inLine() : chain(piece('p1', 's40'), piece('p2', 'bar16', 'p1', -90));
    const all = dims(a, of);
    let tried = 0;
    for (const [group, list] of Object.entries(all) as ['parts' | 'totals', typeof all.parts][])
      for (const [i, d] of list.entries()) {
        const wanted = Math.abs(d.to - d.from) + 3.21;
        const stickOut = stickOutForDimension(a, d, wanted);
        if (stickOut === undefined) {
          expect(d.slides).toBeNull();
          continue;
        }
        tried++;
        const after = dims({ ...a, pieces: a.pieces.map((p) => (p.id === d.slides?.piece ? { ...p, stickOut } : p)) }, of)[group][i];
        expect(Math.abs(after.to - after.from)).toBeCloseTo(wanted, 6);
      }
    expect(tried).toBeGreaterThan(1);
  });
});

describe('a gauge line that stands elsewhere', () => {
  const atSeat = (): AssemblyRecord => ({ ...inLine(), gaugeLine: { pieceId: 'p1', seatId: 'data-seat-0' } });
  const depth = () => placePieces(inLine(), components);
  it('at a seat shortens L by how far that is out, and changes nothing else', () => {
    const [was, is] = [tipOf(inLine()), tipOf(atSeat())];
    const at = gaugeLineAt(atSeat(), components);
    expect(at?.name).toContain('sleeve 40 to 25');
    const motion = depth().get('p1');
    const seat = components.s40.seats[0].frame.origin;
    const bySelf = (motion?.r[6] ?? 0) * seat[0] + (motion?.r[7] ?? 0) * seat[1] + (motion?.r[8] ?? 0) * seat[2] + (motion?.t[2] ?? 0);
    expect(bySelf).toBeGreaterThan(0.5);
    expect(at?.at).toBeCloseTo(bySelf, 9);
    expect(is.L).toBeCloseTo(was.L - bySelf, 9);
    expect([is.Q, is.Y]).toEqual([was.Q, was.Y]);
    const [before, after] = [inLine(), atSeat()].map((a) => numbersOf(a, components, models));
    expect(after.mass?.mass).toBeCloseTo(before.mass?.mass ?? 0, 9);
    expect(after.mass?.centreOfMass[2]).toBeCloseTo((before.mass?.centreOfMass[2] ?? 0) - bySelf, 6);
    // It is clamped where it was.
    expect(after.deflection?.value).toBeCloseTo(before.deflection?.value ?? 0, 9);
  });
  it('is what a gauge length is hit from, and where dimensions begin', () => {
    const a = atSeat();
    const stickOut = value(stickOutOf({ by: 'gauge length', value: 77 }, a, components, 'p3', models.bar16));
    const hit = { ...a, pieces: a.pieces.map((p) => (p.id === 'p3' ? { ...p, stickOut } : p)) };
    expect(tipOf(hit).L).toBeCloseTo(77, 9);
    const along = dims(hit).parts.filter((p) => p.axis === 'L');
    expect(along[0].from).toBe(0);
    expect(along.every((p) => p.to > p.from)).toBe(true);
    expect(along.reduce((s, p) => s + p.to - p.from, 0)).toBeCloseTo(77, 9);
  });
  it('at a picked point goes with its piece; where that point is another component’s, it is told from the mount and said', () => {
    const a: AssemblyRecord = { ...inLine(), gaugeLine: { pieceId: 'p2', componentId: 's25', name: 'picked point', at: [3, 4, 5] } };
    const moved = { ...a, pieces: a.pieces.map((p) => (p.id === 'p2' ? { ...p, stickOut: 8 } : p)) };
    expect((gaugeLineAt(moved, components)?.at ?? 0) - (gaugeLineAt(a, components)?.at ?? 0)).toBeCloseTo(8, 9);
    expect(tipOf(moved).L).toBeCloseTo(tipOf(a).L, 9);
    const change = value(exchangePiece(a, components, 'p2', { ...components.s25, id: 's25b' }, () => undefined));
    const after = { ...a, ...change };
    const of = { ...components, s25b: { ...components.s25, id: 's25b' } };
    expect(placeTips(after, of)[0].L).toBeCloseTo(tipOf(inLine()).L, 9);
    expect(checkAssembly(after, of, models).find((c) => c.code === 'gauge-line')?.state).toBe('warn');
    expect(checkAssembly(a, components, models).find((c) => c.code === 'gauge-line')).toBeUndefined();
  });
  it('is not changed by what it stands at: such a length is not typed, such a gauge length not hit', () => {
    const a: AssemblyRecord = { ...inLine(), gaugeLine: { pieceId: 'p2', componentId: 's25', name: 'picked point', at: [3, 4, 2] } };
    const { parts, totals } = dims(a);
    // What is left of the sleeve's flange in front of the point goes along with it.
    expect(parts[0]).toMatchObject({ piece: 'p2', from: 0, to: 3, slides: null });
    expect(totals[0].slides?.piece).toBe('p3');
    expect(code(stickOutOf({ by: 'gauge length', value: 77 }, a, components, 'p2', models.s25))).toBe('stick-out.no-effect');
    expect(stickOutOf({ by: 'gauge length', value: 77 }, a, components, 'p3', models.bar16).ok).toBe(true);
    // Nor by a piece that the measured edge does not hang on.
    const beside = chain(piece('p1', 's40'), piece('p2', 's25', 'p1'), piece('p4', 's16', 'p2'), piece('p3', 'bar16', 'p2', -90));
    expect(code(stickOutOf({ by: 'gauge length', value: 77 }, beside, components, 'p4', models.s16))).toBe('stick-out.no-effect');
  });
  it('stays at its point when its components get other ids', () => {
    const a: AssemblyRecord = { ...inLine(), gaugeLine: { pieceId: 'p2', componentId: 's25', name: 'picked point', at: [3, 4, 2] } };
    const other = Object.fromEntries(Object.entries(components).map(([id, c]) => [`${id}!`, { ...c, id: `${id}!` }]));
    const there = withComponentIds(a, (id) => `${id}!`);
    expect(placeTips(there, other)[0].L).toBeCloseTo(tipOf(a).L, 9);
    expect(gaugeLineAt(there, other)?.name).toBe('picked point');
  });
  it('goes with the part of a chain that it stands at', () => {
    expect(partOfChain(atSeat(), 'p3', 'holder side').gaugeLine).toEqual(atSeat().gaugeLine);
    expect(partOfChain(atSeat(), 'p3', 'cutting side').gaugeLine).toBeUndefined();
  });
});
