import { beforeAll, describe, expect, it } from '@jest/globals';
import { readModelFile, type Kernel } from '#core/kernel';
import { IDENTITY_FRAME } from '#core/math';
import { type Model } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { type AssemblyRecord } from '#core/records';
import { checkAssembly, feelStops, stickOutLimits, stickOutOf } from './index.ts';
import { chain, code, components, type Key, lengthOf, models, openShop, piece, reachOf, value } from './sample-shop.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await openShop();
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
