import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import { allowedAngles, headRoom, LEAST_ROOM, type SetUpParts, SHIPPED_MACHINES, setUpTable } from '#core/carrier';
import { loadKernel } from '#core/kernel';
import type { TriMesh } from '#core/mesh';
import type { CarrierOf } from '#core/records';
import { cookSetUp } from './index.ts';

const demo = join(import.meta.dirname, '../../../demo');
const millTurn = SHIPPED_MACHINES[2];
const head = { ...millTurn.carriers[0], connection: { standard: 'square', size: '25x25' } } as CarrierOf<'swivel head'>;

const bulky: typeof head = { ...head, head: { noseDiameter: 130, noseLength: 10, diameter: 900, length: 400 } };

async function withHead(words: string, carrier = head, long = 80): Promise<SetUpParts> {
  const file = {
    machine: { ...millTurn, carriers: [carrier] },
    assemblies: [{ key: 'a', words }],
    places: [{ carrier: head.id, station: 1, assembly: 'a' }],
    blanks: { main: { diameter: 90, bore: 0, length: long }, counter: null },
  };
  const read = await cookSetUp(await loadKernel(), JSON.stringify(file), 'head.json', (name) => readFileSync(join(demo, name)), { now: '' });
  if (!read.ok) throw new Error(JSON.stringify(read.issues));
  return read.value;
}

/** Points of a mesh, no farther apart than `step` along its edges and over its triangles. */
function spread({ positions: p, triangles: t }: TriMesh, step: number): number[][] {
  const points: number[][] = [];
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * t[i + k] + j]));
    const long = Math.max(
      ...[
        [a, b],
        [b, c],
        [c, a],
      ].map(([u, v]) => Math.hypot(u[0] - v[0], u[1] - v[1], u[2] - v[2])),
    );
    const n = Math.max(1, Math.ceil(long / step));
    for (let u = 0; u <= n; u++) for (let v = 0; u + v <= n; v++) points.push([0, 1, 2].map((j) => (a[j] * u + b[j] * v + c[j] * (n - u - v)) / n));
  }
  return points;
}

/** Points of cylinders about Z behind the origin, one behind the other. */
function round(steps: readonly { radius: number; from: number; to: number }[]): number[][] {
  return steps.flatMap(({ radius, from, to }) =>
    Array.from({ length: 480 }, (_, k) => (k * Math.PI) / 240).flatMap((a) =>
      Array.from({ length: from === to ? 1 : 11 }, (_, i) => [radius * Math.cos(a), radius * Math.sin(a), from + ((to - from) * i) / 10]),
    ),
  );
}

describe('the room of a tool in a swivel head', () => {
  it.each([
    ['its holder leaves', head, 80],
    ['its holder and a wide head leave', bulky, 400],
  ])('is what corners of %s to chuck, jaws and work, found in another way', async (_, carrier, long) => {
    const parts = await withHead('DVJNR 2525 M16', carrier, long);
    const [row] = setUpTable(parts).stations;
    const [edge] = row.edges;
    const { own } = edge;
    const room = headRoom(parts, row.place, carrier, edge);
    const { chuck } = millTurn.spindles.main;
    const front = chuck.length + chuck.jawHeight;
    // By hand: the tool's own Z turns from -X towards -Z, its own X from -Z towards +X; the seat is 190 out of the swivel centre.
    const { model, component } = { model: parts.models['a/component'], component: parts.components['a/component'] };
    const holder = model?.bodies.filter((b) => component?.bodies.find((e) => e.id === b.id)?.role !== 'cutting') ?? [];
    expect(holder.length).toBeGreaterThan(0);
    const { noseDiameter, noseLength, diameter, length } = carrier.head ?? { noseDiameter: 0, noseLength: 0, diameter: 0, length: 0 };
    const housing = round([
      { radius: noseDiameter / 2, from: -noseLength, to: 0 },
      { radius: diameter / 2, from: -length, to: -noseLength },
      // The face of the housing.
      ...Array.from({ length: 60 }, (_, k) => ({ radius: (diameter / 2) * (k / 60), from: -noseLength, to: -noseLength })),
    ]);
    const points = [...holder.flatMap(({ mesh }) => spread(mesh, 3)), ...housing];
    const leastAt = (deg: number): number => {
      const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
      const place = (x: number, z: number) => [-c * (z + 190) + s * x, -s * (z + 190) - c * x];
      const [nx, nz] = place(own.noseCentre[0], own.noseCentre[2]);
      const r = own.noseRadius;
      let least = Infinity;
      for (const p of points) {
        const [x, z] = place(p[0], p[2]);
        const across = Math.hypot(x - nx + 45 + r, p[1]);
        // Chuck and jaws, with the edge 2 before the jaws; then the work, with the edge anywhere along it.
        const atJaws = z - nz + front + 2 + r;
        least = Math.min(least, Math.hypot(Math.max(0, across - chuck.diameter / 2), Math.max(0, atJaws - front)));
        const [low, high] = [z - nz + front + r, z - nz + front + long + r];
        const along = Math.max(0, front - chuck.jawStep - high, low - (front + long));
        least = Math.min(least, Math.hypot(Math.max(0, across - 45), along));
      }
      return least;
    };
    const isNearEnd = (b: number) => room.clear.some(([from, to]) => Math.abs(b - from) < 0.6 || Math.abs(b - to) < 0.6);
    expect(room.clear.length).toBeGreaterThan(0);
    for (let b = -120; b <= 120; b += 1) {
      const isIn = room.clear.some(([from, to]) => b >= from && b <= to);
      if (!isNearEnd(b)) expect([b, leastAt(b) >= LEAST_ROOM]).toEqual([b, isIn]);
    }
    // Points alone are never nearer than the whole, and hardly farther.
    for (const { angle, distance } of room.angles) {
      expect(distance).toBeLessThanOrEqual(leastAt(angle) + 1.1e-3);
      if (distance > 1) expect(leastAt(angle) - distance).toBeLessThan(0.3);
    }
    // The wide head is in the way where the slim one is not.
    const slim = headRoom({ ...parts, machine: { ...parts.machine, carriers: [head] } }, row.place, head, edge);
    const width = (r: typeof room) => r.clear.reduce((sum, [from, to]) => sum + to - from, 0);
    if (carrier === bulky) expect(width(room)).toBeLessThan(width(slim) - 5);
    const { ranges, best } = allowedAngles(row.edges[0].swivel?.window, room);
    for (const { from, to } of ranges) expect(from).toBeLessThanOrEqual(to);
    if (best !== undefined) expect(ranges.some((r) => best >= r.from && best <= r.to)).toBe(true);
  });
  it('is none where the shank lies along wide work, and without a window no angle is allowed', async () => {
    const parts = await withHead('DVJNR 2525 M16');
    const wide = { ...parts, setUp: { ...parts.setUp, blanks: { main: { diameter: 800, bore: 0, length: 600 }, counter: null } } };
    const [row] = setUpTable(wide).stations;
    const room = headRoom(wide, row.place, head, row.edges[0]);
    // Upright it stands on the work from outside; at 90 it points at the chuck, its shank nearer to the axis than its corner.
    expect(room.angles.find((a) => a.angle === 0)?.distance).toBeGreaterThan(LEAST_ROOM);
    expect(room.angles.find((a) => a.angle === 90)).toMatchObject({ distance: 0, against: 'work of the main spindle' });
    expect(room.clear.some(([from, to]) => from <= 90 && to >= 90)).toBe(false);
    expect(allowedAngles(undefined, room)).toEqual({ ranges: [], best: undefined });
  });
});
