import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { compose, IDENTITY_FRAME, move, radFromDeg, rotationAbout, scale, turn, type Vec3, yOf } from '#core/math';
import { readRecord, sampleComponent, type Tip } from '#core/records';
import {
  controlAngle,
  edgeAtWork,
  headAngle,
  indexError,
  lieAgainst,
  machineFromGauge,
  type OwnEdge,
  reliefFor,
  seatAtWork,
  SHIPPED_MACHINES,
  slideGeometry,
  stationMotion,
  swivelWindow,
  turningFrame,
  USUAL_POSES,
  workMotion,
} from './index.ts';

const [twin, slides, millTurn] = SHIPPED_MACHINES;
const upper = twin.carriers[0];
const head = millTurn.carriers[0];
const lower = millTurn.carriers[1];

const deg = (a: number): Vec3 => [Math.cos(radFromDeg(a)), 0, Math.sin(radFromDeg(a))];
const unit = (v: Vec3): Vec3 => scale(v, 1 / Math.hypot(...v));

/**
 * A turning tool in its gauge frame: it stands along Z, its corner looks towards +X (the feed) and +Z (the depth), so that its edges lie `kapr` from the feed and
 * 180 - kapr - epsr from the way back. A right-hand one has its rake face at +Y (domain).
 */
function turningTool(hand: 'right' | 'left', { kapr = 95, epsr = 80, radius = 0.8, at = [20, 0, 100] as Vec3 } = {}): OwnEdge {
  const lead = deg(-kapr);
  const follow = deg(-(kapr + epsr));
  return {
    piece: 'p',
    tip: 't',
    name: 'edge',
    component: sampleComponent('c', {}),
    noseRadius: radius,
    noseCentre: at,
    programmed: 'virtual tip',
    point: at,
    corner: { x: 1, z: 1 },
    towards: unit([-(lead[0] + follow[0]), 0, -(lead[2] + follow[2])]),
    rake: [0, hand === 'right' ? 1 : -1, 0],
    legs: [lead, follow],
    mount: IDENTITY_FRAME,
    hand,
    sense: null,
    spins: false,
    isInside: false,
  };
}
/** A boring bar along Z; its corner looks towards +X and +Z, it is fed along +Z. */
const boringBar = (hand: 'right' | 'left'): OwnEdge => ({
  ...turningTool(hand),
  legs: [deg(90 + 95), deg(90 + 95 + 80)].map((d): Vec3 => [d[0], 0, d[2]]) as unknown as [Vec3, Vec3],
  isInside: true,
});
const drill: OwnEdge = {
  ...turningTool('right'),
  corner: { x: 0, z: 1 },
  towards: [0, 0, 1],
  rake: undefined,
  legs: undefined,
  noseCentre: [0, 0, 90],
  noseRadius: 0,
  sense: 'M3',
  hand: null,
};

const stands = (edge: OwnEdge, carrier: typeof upper, spindle: 'main' | 'counter', turnDeg: number, angleDeg?: number) =>
  edgeAtWork(edge, machineFromGauge(carrier, { turnDeg, angleDeg }, undefined), turningFrame(spindle, carrier.side, spindle === 'main' ? 0 : 500));

describe('an edge where it stands', () => {
  // By hand, from the domain: a right-hand tool whose corner looks at the chuck it works at is 3 and cuts with M3; turned round it is 4 and cuts with M4.
  const cases = (['above', 'below'] as const).flatMap((side) =>
    (['main', 'counter'] as const).flatMap((spindle) =>
      (['right', 'left'] as const).flatMap((hand) =>
        [0, 180].map((turnDeg) => {
          const looksAtChuck = (turnDeg === 0) === (spindle === 'main');
          const clockwise = (hand === 'right') === looksAtChuck;
          return { side, spindle, hand, turnDeg, orientation: looksAtChuck ? 3 : 4, clockwise, feed: looksAtChuck ? 'towards the chuck' : 'away from it' };
        }),
      ),
    ),
  );
  it.each(cases)('$hand hand, $spindle spindle, $side the axis, turned by $turnDeg', ({ side, spindle, hand, turnDeg, orientation, clockwise, feed }) => {
    const at = stands(turningTool(hand), side === 'above' ? upper : lower, spindle, turnDeg);
    expect(at).toMatchObject({ tipOrientation: orientation, clockwise, side: 1, inside: false });
    // Its nose centre stands 100 inwards of the seat, the virtual tip by the radius further; 20 towards where its corner looks.
    expect(at.X).toBeCloseTo(-100.8, 9);
    expect(at.Z).toBeCloseTo(orientation === 3 ? -20.8 : 20.8, 9);
    expect(at.Y).toBeCloseTo(0, 9);
    // Along the axis the way it looks, and facing inwards; both edges 5 degrees from what they leave.
    expect(at.feeds).toEqual([
      { feed, enteringAngle: 95, endCuttingAngle: 5 },
      { feed: 'to the axis', enteringAngle: 95, endCuttingAngle: 5 },
    ]);
    expect(at.relief).toEqual({ face: 5, side: 5 });
  });
  it('a boring bar in a face station bores with 2, a drill on the axis is 7', () => {
    const face = { ...upper, mounting: 'face' } as typeof upper;
    const bar = stands(boringBar('right'), face, 'main', 0);
    expect(bar).toMatchObject({ tipOrientation: 2, clockwise: true, inside: true, side: 1 });
    expect(bar.feeds?.[0]).toEqual({ feed: 'towards the chuck', enteringAngle: 95, endCuttingAngle: 5 });
    expect([bar.X, bar.Z]).toEqual([20.8, -100.8].map((v) => expect.closeTo(v, 9)));
    // Turned by half a turn it bores beyond the axis, with the same sense (domain).
    expect(stands(boringBar('right'), face, 'main', 180)).toMatchObject({ tipOrientation: 3, clockwise: true, inside: true, side: -1 });
    expect(stands(boringBar('left'), face, 'main', 0)).toMatchObject({ tipOrientation: 2, clockwise: false });
    const at = stands(drill, face, 'main', 0);
    expect(at).toMatchObject({ tipOrientation: 7, side: 0, clockwise: true, feeds: undefined });
    expect([at.X, at.Z]).toEqual([0, -90].map((v) => expect.closeTo(v, 9)));
    // At the counter spindle, from a face that looks there: the same in that spindle's own plane.
    const other = { ...upper, mounting: 'face', faces: 'counter' } as typeof upper;
    expect(stands(boringBar('right'), other, 'counter', 0)).toMatchObject({ tipOrientation: 2, clockwise: true });
    expect(stands(boringBar('right'), other, 'main', 0)).toMatchObject({ tipOrientation: 1, clockwise: false });
  });
  it('the counter spindle’s plane is the main one turned by 180 degrees about X, below the axis X and Y look the other way', () => {
    const half = rotationAbout([0, 0, 0], [1, 0, 0], Math.PI);
    for (const side of ['above', 'below'] as const) {
      const [main, counter] = [turningFrame('main', side, 0), turningFrame('counter', side, 0)];
      if (side === 'above') for (const d of ['x', 'z'] as const) expect(counter[d]).toEqual(turn(half, main[d]).map((v) => expect.closeTo(v, 12)));
      expect(turningFrame('main', 'below', 0).x).toEqual([-1, 0, 0]);
      expect(yOf(turningFrame('main', 'below', 0))[1]).toBe(-1);
    }
  });
  it('a tool over the turning plane cuts as the square says, and the work goes against its rake face', () => {
    const tilted = { ...turningTool('right'), noseCentre: [20, 0.3, 100] as Vec3 };
    const at = stands(tilted, upper, 'main', 0);
    expect(at.Y).toBeCloseTo(-0.3, 9);
    // sqrt(R^2 + h^2) - R by long multiplication: 10.0044989...; about h^2 / D (domain).
    expect(indexError(0.3, 20)).toBeCloseTo(0.0044989, 6);
    expect(Math.abs(indexError(0.3, 20) - 0.09 / 20)).toBeLessThan(2e-6);
    expect(indexError(-0.3, 20)).toBe(indexError(0.3, 20));
    const plane = turningFrame('main', 'above', 0);
    expect(workMotion(1, true, plane)).toEqual([0, 1, 0].map((v) => expect.closeTo(v, 12)));
    expect(workMotion(-1, true, plane)[1]).toBeCloseTo(-1, 12);
  });
  it('whatever a machine’s carrier, mirrored in the spindle’s plane it gives mirrored answers', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 20, max: 170, noNaN: true }),
        fc.double({ min: 20, max: 100, noNaN: true }),
        fc.integer({ min: -80, max: 80 }),
        (kapr, epsr, angle) => {
          fc.pre(kapr + epsr < 179);
          const [right, left] = (['right', 'left'] as const).map((hand) => turningTool(hand, { kapr, epsr }));
          const [a, b] = [stands(right, head, 'main', 0, angle), stands(left, head, 'main', 0, angle)];
          // The other rake face: all the same but the sense.
          expect(b).toEqual({ ...a, clockwise: a.clockwise === null ? null : !a.clockwise });
          // Turned round and swung the other way at the counter spindle it stands as at the main one.
          const c = stands(right, head, 'counter', 180, -angle);
          expect({ ...c, X: 0, Y: 0, Z: 0 }).toEqual({ ...a, X: 0, Y: 0, Z: 0 });
          expect([c.X, c.Y, c.Z]).toEqual([a.X, a.Y, a.Z].map((v) => expect.closeTo(v, 9)));
        },
      ),
    );
  });
});

describe('stations', () => {
  it('stand about the index axis, and follow one another as they are numbered', () => {
    const seat = seatAtWork(upper);
    expect(seat).toEqual({ origin: [0, 0, 0], z: [-1, 0, 0], x: [0, 0, -1] });
    // A quarter of twelve stations: 3 further, the seat is at the height of the index axis, 150 to the side.
    const quarter = stationMotion(upper, 4, 1);
    if (!quarter) throw new Error('a turret has them');
    expect(move(quarter, [0, 0, 0])).toEqual([150, 150, 0].map((v) => expect.closeTo(v, 9)));
    expect(turn(quarter, seat.z)).toEqual([0, 1, 0].map((v) => expect.closeTo(v, 9)));
    const other = stationMotion({ ...upper, numbered: -1 } as typeof upper, 4, 1);
    expect(other && move(other, [0, 0, 0])[1]).toBeCloseTo(-150, 9);
    // From station to station and back is nothing, once round too.
    const there = stationMotion(upper, 7, 3);
    const back = stationMotion(upper, 3, 7);
    if (!there || !back) throw new Error('a turret has them');
    expect(move(compose(there, back), [3, 5, 7])).toEqual([3, 5, 7].map((v) => expect.closeTo(v, 9)));
    const row = stationMotion(slides.carriers[0], 3, 1);
    expect(row && move(row, [0, 0, 0])).toEqual([0, 44, 0]);
    // Below the axis a row along X counts away from it.
    const below = stationMotion(slides.carriers[1], 2, 1);
    expect(below && move(below, [0, 0, 0])).toEqual([-30, 0, 0]);
    expect(stationMotion(head, 2, 1)).toBeUndefined();
  });
});

describe('a swivel head', () => {
  it('points at the axis upright, at the main chuck at 90, at the counter spindle at -90', () => {
    expect(seatAtWork(head, 0)).toEqual({ origin: [-190, 0, 0], z: [-1, 0, 0], x: [0, 0, -1] });
    const near = (v: Vec3) => v.map((x) => expect.closeTo(x, 9));
    expect(seatAtWork(head, 90)).toEqual({ origin: near([0, 0, -190]), z: near([0, 0, -1]), x: near([1, 0, 0]) });
    expect(seatAtWork(head, -90).z).toEqual(near([0, 0, 1]));
    const below = { ...head, side: 'below' } as typeof head;
    expect(seatAtWork(below, 90).z).toEqual(near([0, 0, -1]));
  });
  it('is called by the control as its convention says', () => {
    // The domain's own: 45 of the head reads -45 where zero is upright and the sense reversed, 45 where zero points at the chuck (upright reads 90).
    const reversed = { zero: 0, sense: -1, range: [-180, 180] } as const;
    const fromChuck = { zero: 90, sense: -1, range: [-180, 180] } as const;
    expect(USUAL_POSES.map((b) => controlAngle(reversed, b))).toEqual([90, 45, 0, -45, -90].map((v) => expect.closeTo(v, 12)));
    expect(USUAL_POSES.map((b) => controlAngle(fromChuck, b))).toEqual([180, 135, 90, 45, 0]);
    // Brought into the range by whole turns; without a place in it there is no name.
    expect(controlAngle({ zero: 0, sense: 1, range: [0, 360] }, -45)).toBe(315);
    expect(controlAngle({ zero: 0, sense: 1, range: [0, 100] }, -45)).toBeUndefined();
    expect(controlAngle({ zero: 0, sense: 1, range: [0, 100] }, 100)).toBe(100);
    fc.assert(
      fc.property(fc.integer({ min: -120, max: 120 }), fc.integer({ min: -180, max: 180 }), fc.constantFrom(1 as const, -1 as const), (b, zero, sense) => {
        const named = controlAngle({ zero, sense, range: [-180, 180] }, b);
        expect(named).toBeDefined();
        expect(headAngle({ zero, sense, range: [-180, 180] }, named as number, [-120, 120])).toBeCloseTo(b, 9);
      }),
    );
  });
  it('changes entering and end cutting angle by its own, with opposite sign', () => {
    const edge = turningTool('right', { kapr: 95, epsr: 35 });
    const upright = stands(edge, head, 'main', 0, 0).feeds?.find((f) => f.feed === 'towards the chuck');
    const swung = stands(edge, head, 'main', 0, 20).feeds?.find((f) => f.feed === 'towards the chuck');
    expect(upright).toEqual({ feed: 'towards the chuck', enteringAngle: 95, endCuttingAngle: 50 });
    expect([swung?.enteringAngle, swung?.endCuttingAngle].sort()).toEqual([115, 30].sort().map((v) => expect.closeTo(v, 3)));
  });
  it('clears shoulder and cylinder over a window, as dense sampling finds it', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 60, max: 110, noNaN: true }),
        fc.double({ min: 30, max: 85, noNaN: true }),
        fc.constantFrom('main' as const, 'counter' as const),
        fc.constantFrom(-1 as const, 1 as const),
        fc.double({ min: 0, max: 4, noNaN: true }),
        (kapr, epsr, spindle, z, least) => {
          fc.pre(kapr + epsr < 178);
          const edge = turningTool('right', { kapr, epsr });
          const corner: Tip['corner'] = { x: -1, z };
          const plane = turningFrame(spindle, head.side, 0);
          const reliefAt = (b: number) => reliefFor(edge, machineFromGauge(head, { turnDeg: 0, angleDeg: b }, undefined), plane, corner);
          const found = swivelWindow(reliefAt, [-120, 120], least);
          // Away from the ends, where a sample may stand on either side.
          const clears = (b: number) => {
            const r = reliefAt(b);
            return r !== undefined && Math.min(r.face, r.side) >= least;
          };
          for (let b = -120; b <= 120; b += 0.25) {
            const isIn = found !== undefined && b >= found.from && b <= found.to;
            const isNearEnd = found !== undefined && (Math.abs(b - found.from) < 0.1 || Math.abs(b - found.to) < 0.1);
            if (!isNearEnd) expect([b, clears(b)]).toEqual([b, isIn]);
          }
          if (found) expect(Math.min(found.relief.face, found.relief.side)).toBeGreaterThanOrEqual(least - 1e-6);
        },
      ),
      { numRuns: 25 },
    );
  });
  it('legs lie on a line as they are drawn', () => {
    // 80 degrees of insert between 5 and 85 from the line, the material below it.
    const legs = [deg(5), deg(85)].map((d) => [d[0], d[2]] as const);
    expect(lieAgainst(legs, [1, 0], [0, -1])).toEqual({ near: expect.closeTo(5, 9), far: expect.closeTo(95, 9) });
    expect(lieAgainst(legs, [1, 0], [0, 1]).near).toBeCloseTo(-85, 9);
  });
});

describe('a slide measured from its reference', () => {
  it('has the geometry with which the tip passes the centre', () => {
    // p from 200 to 370; passed by 0.4: g = 200.4; at 370 the tip stands on 169.6.
    const exact = slideGeometry([200, 370], -100.2, 0.4);
    expect(exact).toEqual({ wanted: 200.4, model: 200.4, difference: 0, overlap: 0.4, largestDiameter: 169.6 });
    expect(slideGeometry([200, 370], -99, 0.4)).toMatchObject({ overlap: -2, difference: -2.4 });
  });
});

describe('machines', () => {
  it('ship whole, and say what is wrong with one that is not', () => {
    for (const m of SHIPPED_MACHINES) expect(readRecord(JSON.parse(JSON.stringify(m)), 'm.json')).toEqual({ ok: true, value: m });
    const broken: [Record<string, unknown>, string][] = [
      [{ spindles: { counter: null } }, 'spindles.main'],
      [{ carriers: [] }, 'carriers'],
      [{ carriers: [{ ...upper, travel: { ...upper.travel, x: [230, -15] } }] }, 'carriers.0.travel.x'],
      [{ carriers: [{ ...upper, stations: 1000 }] }, 'carriers.0.stations'],
      [{ carriers: [{ ...upper, radius: Number.NaN }] }, 'carriers.0.radius'],
      [{ carriers: [upper, upper] }, 'carriers'],
      [{ control: { ...twin.control, tipNumbers: [1, 2, 3] } }, 'control.tipNumbers'],
    ];
    for (const [part, field] of broken) {
      const read = readRecord({ ...twin, ...part }, 'm.json');
      expect(read.ok ? 'taken' : read.issues.map((i) => `${i.code} ${String(i.values?.field)}`)).toContain(`record.bad ${field}`);
    }
    expect(readRecord({ ...twin, version: 99 }, 'm.json').ok).toBe(false);
  });
});
