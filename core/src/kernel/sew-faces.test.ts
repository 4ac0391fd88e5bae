import { beforeAll, describe, expect, it } from '@jest/globals';
import { IDENTITY, translation } from '#core/math';
import { type Kernel, liveHandleCount, loadKernel, type PlainSolid, readSolids, writePlainStep } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const stepOf = (...solids: { solid: PlainSolid; at?: [number, number, number] }[]): string =>
  new TextDecoder().decode(
    writePlainStep(
      kernel,
      solids.map(({ solid, at }, i) => ({ solid, name: `part ${i + 1}`, fileFromSolid: at ? translation(at) : IDENTITY })),
    ),
  );
// The same faces, but no solid over them; `drop` takes faces of the first shell away by their order.
const loosened = (step: string, drop: readonly number[] = []): string => {
  let first = true;
  return step
    .replace(/MANIFOLD_SOLID_BREP\('([^']*)',#(\d+)\)/g, "SHELL_BASED_SURFACE_MODEL('$1',(#$2))")
    .replace(/CLOSED_SHELL\('',\(([^)]*)\)\)/g, (_, faces: string) => {
      const kept = faces.split(',').filter((_f, i) => !first || !drop.includes(i));
      first = false;
      return `OPEN_SHELL('',(${kept.join(',')}))`;
    })
    .replaceAll('ADVANCED_BREP_SHAPE_REPRESENTATION', 'MANIFOLD_SURFACE_SHAPE_REPRESENTATION');
};
const read = (step: string) => {
  const r = readSolids(kernel, new TextEncoder().encode(step), 'loose.step', { exactProperties: true });
  if (!r.ok) return { codes: r.issues.map((i) => i.code), bodies: [] };
  return { codes: r.value.warnings.map((w) => w.code), bodies: r.value.model.bodies };
};
const BOX = { solid: { kind: 'box', size: [10, 20, 30] } } as const;
const PIN = { solid: { kind: 'cylinder', radius: 5, height: 40 } } as const;

describe('faces without a solid', () => {
  it('become the body that they enclose', () => {
    const { bodies, codes } = read(loosened(stepOf(BOX)));
    expect(codes).toEqual(['step.sewn']);
    expect(bodies.map((b) => [b.name, b.closed, b.faces.length])).toEqual([['part 1', true, 6]]);
    expect(bodies[0].volume).toBeCloseTo(6000, 6);
  });
  it.each([0, 3, 5])('a plane face that is missing (%i) is put in again, and that is said', (face) => {
    const { bodies, codes } = read(loosened(stepOf(BOX), [face]));
    expect(codes).toEqual(['step.sewn', 'step.hole-closed']);
    expect(bodies[0].volume).toBeCloseTo(6000, 4);
    expect(bodies[0].closed).toBe(true);
  });
  it('both ends of a pin that are missing are closed; without its side nothing is left to close', () => {
    const whole = stepOf(PIN);
    const counts = [0, 1, 2].map((side) => read(loosened(whole, [side])));
    const closed = counts.filter((c) => c.bodies[0]?.closed);
    expect(closed).toHaveLength(2);
    for (const { bodies } of closed) expect(bodies[0].volume).toBeCloseTo(Math.PI * 25 * 40, 3);
    expect(counts.find((c) => c.bodies.length === 0)?.codes).toEqual(['step.no-solid']);
  });
  it('bodies that touch stay apart', () => {
    const { bodies, codes } = read(loosened(stepOf(BOX, { ...BOX, at: [10, 0, 0] })));
    expect(codes).toEqual(['step.sewn']);
    expect(bodies.map((b) => Math.round(b.volume))).toEqual([6000, 6000]);
  });
  it('beside a solid a single surface is left out, and said; the solid stays what it is', () => {
    const both = stepOf(BOX, { ...PIN, at: [50, 0, 0] });
    // Of the second part one face only.
    const parts = both.split('MANIFOLD_SOLID_BREP');
    const second = `${parts.slice(0, 2).join('MANIFOLD_SOLID_BREP')}MANIFOLD_SOLID_BREP${parts[2]}`;
    const id = /MANIFOLD_SOLID_BREP\('[^']*',#(\d+)\)(?![\s\S]*MANIFOLD_SOLID_BREP)/.exec(second)?.[1];
    const step = second
      .replace(new RegExp(`MANIFOLD_SOLID_BREP\\('([^']*)',#${id}\\)`), `SHELL_BASED_SURFACE_MODEL('$1',(#${id}))`)
      .replace(new RegExp(`#${id}\\s*=\\s*CLOSED_SHELL\\('',\\((#\\d+)[^)]*\\)\\)`), `#${id} = OPEN_SHELL('',($1))`);
    const { bodies, codes } = read(step);
    expect(codes).toEqual(['step.surfaces-left']);
    expect(bodies.map((b) => Math.round(b.volume))).toEqual([6000]);
  });
  it('frees what it took from the kernel', () => {
    const before = liveHandleCount();
    read(loosened(stepOf(BOX), [1]));
    expect(liveHandleCount()).toBe(before);
  });
});
