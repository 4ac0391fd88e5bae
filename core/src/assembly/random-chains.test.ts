import { beforeAll, describe, expect, it } from '@jest/globals';
import { makeComponent, readWords } from '#core/components';
import { type Kernel, loadKernel, OverlapSolver, readModelFile } from '#core/kernel';
import type { Model } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { componentOfSpec } from '#core/sources';
import { checkAssembly, checkFits, findFits, placePieces } from './index.ts';
import { chain } from './sample-shop.ts';

/**
 * Chains of sleeves, each with its joints as they should be or with one of the faults that a shop makes. What is known of them is simple arithmetic on their sizes:
 * a sleeve is said to be 60 long behind a flange that is 5 thick and 8 wider than its shank, and its bore goes through.
 */
const FLANGE = 5;
const SHANK = 60;
const STEPS = [63, 50, 40, 32, 25, 20, 16, 12, 10, 8];
const FAULTS = ['none', 'too thick', 'too thin', 'sunk', 'standing off', 'held too little', 'floating'] as const;
type Fault = (typeof FAULTS)[number];
interface Link {
  readonly shank: number;
  readonly bore: number;
  readonly stickOut: number;
  readonly roll: number;
  readonly fault: Fault;
}

// A generator of its own, so that a chain that fails is the same in the next run.
const randomFrom = (seed: number) => {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
};

function randomChain(seed: number): Link[] {
  const random = randomFrom(seed * 7919 + 13);
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)];
  const links: Link[] = [];
  let at = Math.floor(random() * 3);
  const long = 2 + Math.floor(random() * 5);
  for (let i = 0; i < long && at + 1 < STEPS.length; i++) {
    const seat = links.at(-1)?.bore;
    const bore = STEPS[at + 1 + Math.floor(random() * Math.min(2, STEPS.length - at - 1))];
    // Half of the joints are right.
    const fault: Fault = seat === undefined || random() < 0.5 ? 'none' : pick(FAULTS.slice(1));
    const nominal = seat ?? STEPS[at];
    const shank = fault === 'too thick' ? nominal + 1 : fault === 'too thin' ? nominal - 1 : nominal;
    const by = Math.round(random() * 30 + 2) / 10;
    const stickOut =
      fault === 'sunk'
        ? -by
        : fault === 'standing off'
          ? by
          : fault === 'held too little'
            ? SHANK - nominal * (0.5 + random())
            : fault === 'floating'
              ? SHANK + by
              : 0;
    links.push({ shank, bore, stickOut: Math.max(stickOut, fault === 'held too little' ? by : -Infinity), roll: Math.round(random() * 360), fault });
    at = STEPS.indexOf(bore);
  }
  return links;
}

let kernel: Kernel;
let solver: OverlapSolver;
const made = new Map<string, { component: ComponentRecord; model: Model }>();
async function sleeve(shank: number, bore: number, chordTolerance: number) {
  const key = `sleeve ${shank} to ${bore}`;
  const known = made.get(`${key} ${chordTolerance}`);
  if (known) return known;
  const { spec } = readWords(`${key} ls ${SHANK}`);
  const part = spec && makeComponent(spec);
  if (!spec || !part?.ok) throw new Error(key);
  const component = componentOfSpec(spec, part.part, { id: key, name: key, now: '' });
  const read = await readModelFile(kernel, writeSolidShape(part.part.shape), shapeFileName('x'), { exactProperties: true, chordTolerance });
  if (!read.ok) throw new Error(key);
  const found = { component, model: read.value.model };
  made.set(`${key} ${chordTolerance}`, found);
  return found;
}

interface Built {
  readonly links: readonly Link[];
  readonly assembly: AssemblyRecord;
  readonly components: Record<string, ComponentRecord>;
  readonly models: Record<string, Model>;
}
async function build(links: readonly Link[], chord = 0.1): Promise<Built> {
  const pieces: Piece[] = [];
  const components: Record<string, ComponentRecord> = {};
  const models: Record<string, Model> = {};
  for (const [i, l] of links.entries()) {
    const { component, model } = await sleeve(l.shank, l.bore, chord);
    components[component.id] = component;
    models[component.id] = model;
    const parent = i === 0 ? null : { pieceId: `p${i - 1}`, seatId: 'data-seat-0' };
    pieces.push({ id: `p${i}`, componentId: component.id, parent, stickOut: l.stickOut, rollDeg: l.roll });
  }
  return { links, assembly: chain(...pieces), components, models };
}

beforeAll(async () => {
  kernel = await loadKernel();
  solver = await OverlapSolver.load();
});

const SEEDS = Array.from({ length: 200 }, (_, i) => i + 1);
const joints = ({ links }: Built) =>
  links.flatMap((link, i) => (i === 0 ? [] : [{ link, holder: links[i - 1], seat: links[i - 1].bore, id: `p${i}`, on: `p${i - 1}` }]));

// The half section of a sleeve, its seat at z: corners of r over z.
function section({ shank, bore }: Pick<Link, 'shank' | 'bore'>, z: number): [number, number][] {
  const [out, flange, inside] = [shank / 2, shank / 2 + 4, bore / 2];
  return [
    [z - SHANK, inside],
    [z - SHANK, out],
    [z, out],
    [z, flange],
    [z + FLANGE, flange],
    [z + FLANGE, inside],
  ];
}
const toBorder = (corners: readonly [number, number][], [z, r]: readonly [number, number]): number =>
  Math.min(
    ...corners.map(([z0, r0], i) => {
      const [z1, r1] = corners[(i + 1) % corners.length];
      const long = (z1 - z0) ** 2 + (r1 - r0) ** 2;
      const t = Math.max(0, Math.min(1, ((z - z0) * (z1 - z0) + (r - r0) * (r1 - r0)) / long));
      return Math.hypot(z - z0 - t * (z1 - z0), r - r0 - t * (r1 - r0));
    }),
  );
// How deep a flange lies in the flange that it is sunk into: all sides of what they have in common, each in the section that it is not a side of, every hundredth of a mm.
function sunkDepth(holder: Link, { shank, bore, stickOut }: Link): number {
  const [held, holds] = [section({ shank, bore }, stickOut), section(holder, -FLANGE)];
  const [inner, outer] = [holder.bore / 2, Math.min(shank, holder.shank) / 2 + 4];
  let deepest = 0;
  for (let r = inner; r <= outer; r += 0.01) deepest = Math.max(deepest, toBorder(holds, [stickOut, r]), toBorder(held, [0, r]));
  for (let z = stickOut; z <= 0; z += 0.01) deepest = Math.max(deepest, toBorder(held, [z, inner]), toBorder(shank < holder.shank ? holds : held, [z, outer]));
  return deepest;
}
const told = (seed: number) => `${seed}: ${JSON.stringify(randomChain(seed))}`;

describe('200 chains whose fits are known', () => {
  it('hold all faults, often enough, in chains of two to six', () => {
    const all = SEEDS.map(randomChain);
    for (const fault of FAULTS) expect(all.flat().filter((l) => l.fault === fault).length).toBeGreaterThan(25);
    for (const long of [2, 3, 4, 5, 6]) expect(all.filter((c) => c.length === long).length).toBeGreaterThan(8);
  });
  it('stand where their lengths say, and have the checks that their joints deserve', async () => {
    for (const seed of SEEDS) {
      const built = await build(randomChain(seed));
      const { assembly, components, models } = built;
      const placed = placePieces(assembly, components);
      let front = 0;
      for (const [i, l] of built.links.entries()) {
        front += l.stickOut;
        expect([seed, placed.get(`p${i}`)?.t[2]]).toEqual([seed, expect.closeTo(front, 9)]);
        front += FLANGE;
      }
      const checks = checkAssembly(assembly, components, models);
      for (const { link, seat, id } of joints(built)) {
        const name = components[assembly.pieces.find((p) => p.id === id)?.componentId ?? ''].name;
        // Two of a chain may be the same sleeve: then both are looked for.
        const fitting = checks.filter((c) => c.code === 'fit' && c.message.startsWith(`${name} `)).map((c) => c.state);
        expect([told(seed), fitting]).toEqual([told(seed), expect.arrayContaining([link.shank === seat ? 'pass' : 'fail'])]);
        if (link.shank !== seat) continue;
        const held = SHANK - link.stickOut;
        const state = held <= 0 ? 'fail' : held < 2 * link.shank ? 'warn' : 'pass';
        const clamped = checks.filter((c) => c.code === 'clamping-length' && c.message.startsWith(`${name} `)).map((c) => c.state);
        expect([told(seed), clamped]).toEqual([told(seed), expect.arrayContaining([state])]);
      }
    }
  });
  it('touch and go through one another as their sizes say, and nowhere else', async () => {
    // Every other one: what is looked at on the solids takes its time.
    for (const seed of SEEDS.filter((s) => s % 2 === 0)) {
      const built = await build(randomChain(seed));
      const { assembly, components, models } = built;
      const fits = findFits(solver, assembly, components, models);
      const what = told(seed);
      const through = fits.overlaps.map((o) =>
        o.between
          .map((b) => b.piece)
          .sort()
          .join(' '),
      );
      const wanted = joints(built)
        .filter(({ link: l, seat }) => l.stickOut < SHANK && (l.shank > seat || l.stickOut < 0))
        .map(({ id, on }) => [id, on].sort().join(' '));
      expect([what, through.sort()]).toEqual([what, wanted.sort()]);
      for (const { link: l, seat, id, on } of joints(built)) {
        const contacts = fits.contacts.filter((c) => c.piece === id && c.on === on);
        const face = contacts.find((c) => c.kind === 'face');
        const shank = contacts.find((c) => c.kind === 'shank');
        // Of one that floats, its rear end is the nearest to the face.
        const off = l.stickOut < SHANK ? l.stickOut : l.stickOut - SHANK;
        if (face) expect([what, face.gap]).toEqual([what, expect.closeTo(off, 3)]);
        if (l.stickOut < SHANK) expect([what, shank?.gap]).toEqual([what, expect.closeTo((seat - l.shank) / 2, 3)]);
        if (l.stickOut < SHANK && shank?.over !== undefined) expect([what, shank.over]).toEqual([what, expect.closeTo(SHANK - Math.max(0, l.stickOut), 2)]);
      }
      const failing = checkFits(fits, assembly, components).filter((c) => c.state === 'fail').length > 0;
      expect([what, failing]).toEqual([what, wanted.length > 0]);
    }
  });
  it('go as deep into one another as their sections say', async () => {
    const sunk = SEEDS.flatMap((seed) => randomChain(seed).flatMap((l, i, all) => (l.fault === 'sunk' ? [[all[i - 1], l]] : [])));
    // The two by themselves, on finer meshes.
    for (const [holder, l] of sunk.slice(0, 20)) {
      const { assembly, components, models } = await build([{ ...holder, stickOut: 0 }, l], 0.02);
      const [{ depth }] = findFits(solver, assembly, components, models).overlaps;
      expect([holder, l, depth]).toEqual([holder, l, expect.closeTo(sunkDepth(holder, l), 2)]);
    }
  });
});
