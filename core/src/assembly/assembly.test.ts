import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { compose, distance, fromZAndX, type Frame, isRigid, move, moveFrame, normalize, rotationAbout, translation, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import { ASSEMBLY_VERSION, type AssemblyRecord, type ComponentRecord, type Connection, sampleComponent, type Tip, ON_MASTER } from '#core/records';
import type { ConnectionSize } from '#core/standards';
import { checkAssembly, checkJoin, gaugeLengthOf, parentFromChild, placePieces, placeTips, reachAlongMount, removePiece } from './index.ts';

const marked = (id: string, connection: ConnectionSize, frame: Frame): Connection => ({
  id,
  name: id,
  connection,
  frame,
  origin: { from: 'typed', evidence: '' },
});
const tip = (noseCentre: Vec3, noseRadius: number, corner: Tip['corner'] = { x: 1, z: 1 }): Tip => ({
  id: 't1',
  name: 'Tip',
  noseRadius,
  noseCentre,
  corner,
  programmedPoint: 'virtual tip',
  origin: { from: 'picked', evidence: '' },
});
const component = sampleComponent;
const Z: Frame = fromZAndX([0, 0, 0], [0, 0, 1], [1, 0, 0]);

// A sleeve: mount at its flange, seat 18 in front; and a bar, 150 long, filed askew.
const sleeve = component('sleeve', {
  mount: marked('mount', { standard: 'cylindrical', size: 32 }, Z),
  seats: [marked('s1', { standard: 'cylindrical', size: 16 }, { ...Z, origin: [0, 0, 18] })],
});
const askew = compose(translation([40, -7, 3]), rotationAbout([0, 0, 0], normalize([1, 2, 3]), 0.7));
const bar = component('bar', {
  mount: marked('mount', { standard: 'cylindrical', size: 16 }, moveFrame(askew, Z)),
  tips: [tip(move(askew, [10.6, 0, 149.6]), 0.4)],
});
const assembly = (stickOut: number, rollDeg = 0): AssemblyRecord => ({
  kind: 'assembly',
  version: ASSEMBLY_VERSION,
  edges: [],
  shelf: ON_MASTER,
  id: 'a',
  name: 'a',
  pieces: [
    { id: 'p1', componentId: 'sleeve', parent: null, stickOut: 0, rollDeg: 0 },
    { id: 'p2', componentId: 'bar', parent: { pieceId: 'p1', seatId: 's1' }, stickOut, rollDeg },
  ],
  createdAt: '',
  changedAt: '',
});
const components = { sleeve, bar };
// A bar-shaped box in the bar's own file, 150 long.
const barModel = {
  bodies: [
    {
      id: 'b1',
      name: 'b',
      closed: true,
      mesh: { positions: Float64Array.from([...move(askew, [-8, -8, 0]), ...move(askew, [8, 8, 150])]), triangles: new Uint32Array(0) },
    },
  ],
} as unknown as Model;

describe('joining', () => {
  it('gives the gauge length by hand: 18 + 150 - 80 clamped', () => {
    const tips = placeTips(assembly(-80), components);
    expect(tips).toHaveLength(1);
    expect(tips[0].L).toBeCloseTo(88, 9);
    expect(tips[0].Q).toBeCloseTo(11, 9);
    expect(tips[0].Y).toBeCloseTo(0, 9);
    expect(gaugeLengthOf(assembly(-80), tips)).toBeCloseTo(88, 9);
  });
  it('rolls about the seat: a quarter turn brings the tip out of the turning plane', () => {
    const [t] = placeTips(assembly(-80, 90), components);
    expect([t.L, t.Q, t.Y].map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([88, 0, 11]);
  });
  it('programs the nose centre where that is asked for', () => {
    const centred = { ...bar, tips: [{ ...bar.tips[0], programmedPoint: 'nose centre' as const }] };
    const [t] = placeTips(assembly(-80), { sleeve, bar: centred });
    expect(t.L).toBeCloseTo(87.6, 9);
    expect(t.Q).toBeCloseTo(10.6, 9);
  });
  it('is a rigid motion that lays mount on seat, for any frames', () => {
    const number = fc.double({ min: -300, max: 300, noNaN: true });
    const point = fc.tuple(number, number, number);
    const frame = fc
      .tuple(
        point,
        point.filter((p) => Math.hypot(...p) > 0.1),
        point,
      )
      .map(([o, z, x]) => fromZAndX(o, z, x));
    fc.assert(
      fc.property(frame, frame, fc.double({ min: -100, max: 100, noNaN: true }), fc.double({ min: -180, max: 180, noNaN: true }), (seat, mount, out, roll) => {
        const m = parentFromChild(seat, mount, out, roll);
        const at = moveFrame(m, mount);
        const where: Vec3 = [seat.origin[0] + out * seat.z[0], seat.origin[1] + out * seat.z[1], seat.origin[2] + out * seat.z[2]];
        return isRigid(m) && distance(at.origin, where) < 1e-6 && distance(at.z, seat.z) < 1e-7;
      }),
    );
  });
  it('leaves a piece without a way to the machine unplaced, also in a circle', () => {
    const broken = { ...assembly(0), pieces: assembly(0).pieces.map((p) => (p.id === 'p1' ? { ...p, parent: { pieceId: 'p2', seatId: 's1' } } : p)) };
    expect(placePieces(broken, components).size).toBe(0);
    expect(checkAssembly(broken, components).some((c) => c.state === 'fail')).toBe(true);
  });
  it('takes a branch out with what sits on it', () => {
    expect(removePiece(assembly(0).pieces, 'p1')).toEqual([]);
    expect(removePiece(assembly(0).pieces, 'p2').map((p) => p.id)).toEqual(['p1']);
  });
});

describe('what fits', () => {
  const refusal = (child: ComponentRecord, parent: ComponentRecord, seat: string) => {
    const r = checkJoin(child, parent, seat);
    return r.ok ? 'fits' : r.issues[0].code;
  };
  it('is refused for another size, another standard, no mount, no seat', () => {
    const thick = component('thick', { mount: marked('mount', { standard: 'cylindrical', size: 20 }, Z) });
    const square = component('square', { mount: marked('mount', { standard: 'square', size: '16x16' }, Z) });
    expect(refusal(bar, sleeve, 's1')).toBe('fits');
    expect(refusal(thick, sleeve, 's1')).toBe('join.size');
    expect(refusal(square, sleeve, 's1')).toBe('join.standard');
    expect(refusal(component('none', {}), sleeve, 's1')).toBe('join.no-mount');
    expect(refusal(bar, sleeve, 's9')).toBe('join.no-seat');
  });
});

describe('checks of an assembly', () => {
  const find = (a: AssemblyRecord, code: string, with_ = components) => checkAssembly(a, with_, { bar: barModel }).filter((c) => c.code === code);
  it('measure the clamping length, and see a floating piece', () => {
    expect(reachAlongMount(bar, barModel).map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([0, 150]);
    expect(find(assembly(-80), 'clamping-length')).toMatchObject([{ state: 'pass', value: 80, limit: 32 }]);
    expect(find(assembly(-20), 'clamping-length')).toMatchObject([{ state: 'warn', value: 20 }]);
    expect(find(assembly(5), 'clamping-length')).toMatchObject([{ state: 'fail', value: -5 }]);
  });
  it('see a tip off the turning plane, by how much', () => {
    const high = { ...bar, tips: [tip(move(askew, [10.6, 0.3, 149.6]), 0.4)] };
    expect(find(assembly(-80), 'centre-height', { sleeve, bar: high })).toMatchObject([{ state: 'warn', value: 0.3, limit: 0.05 }]);
    expect(find(assembly(-80), 'centre-height')).toMatchObject([{ state: 'pass' }]);
  });
  it('see a face mount that stands off its seat', () => {
    const block = component('block', { mount: marked('mount', { standard: 'VDI', size: 40 }, Z), seats: [marked('s1', { standard: 'PSC', size: 63 }, Z)] });
    const unit = component('unit', { mount: marked('mount', { standard: 'PSC', size: 63 }, Z) });
    const both = { ...assembly(0.2), pieces: assembly(0.2).pieces.map((p) => ({ ...p, componentId: p.id === 'p1' ? 'block' : 'unit' })) };
    expect(checkAssembly(both, { block, unit }).filter((c) => c.code === 'face-contact')).toMatchObject([{ state: 'fail', value: 0.2 }]);
  });
  it('see one offset number said of two edges, and an edge whose tip is gone', () => {
    const two = { ...bar, tips: [bar.tips[0], { ...bar.tips[0], id: 't2', name: 'Other' }] };
    const edges = ['t1', 't2', 't9'].map((tipId, i) => ({ pieceId: 'p2', tipId, name: `edge ${i}`, number: i < 2 ? 7 : 8 }));
    const found = find({ ...assembly(-80), edges }, 'edges', { sleeve, bar: two });
    expect(found.map((c) => [c.state, c.value])).toEqual([
      ['warn', undefined],
      ['fail', 7],
    ]);
    expect(find({ ...assembly(-80), edges: edges.slice(0, 1) }, 'edges')).toEqual([]);
  });
  it('see missing components, doubled pieces and numbers that are not finite', () => {
    const codes = (a: AssemblyRecord, c = components) =>
      checkAssembly(a, c)
        .filter((x) => x.state === 'fail')
        .map((x) => x.code);
    expect(codes({ ...assembly(-80), pieces: [] })).toEqual(['pieces']);
    expect(codes(assembly(-80), { sleeve } as never)).toContain('component-there');
    const pieces = assembly(-80).pieces;
    expect(codes({ ...assembly(-80), pieces: [...pieces, pieces[1]] })).toContain('names-unique');
    expect(codes(assembly(Number.NaN))).toContain('numbers-finite');
  });
});
