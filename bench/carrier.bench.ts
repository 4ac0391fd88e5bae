// A loaded turret of 24 stations: its table, and how near everything on it gets to what turns, against trying positions one by one.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { roomOf, type SetUpParts, setUpTable, SHIPPED_MACHINES, turnedBodies, workPositions } from '#core/carrier';
import { cookSetUp } from '#core/handover';
import { unwrap } from '#core/issues';
import { loadKernel } from '#core/kernel';
import { placePieces } from '#core/assembly';
import { compose, move } from '#core/math';
import { type BenchRow, medianMs } from './measure.ts';

const demo = join(import.meta.dirname, '../demo');
const STATIONS = 24;
// Steps along each of two axes that a reference without any cleverness tries.
const STEPS = 12;

export async function benchCarrier(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const text = readFileSync(join(demo, 'hub-set-up.json'), 'utf8');
  const cooked = unwrap(await cookSetUp(kernel, text, 'hub-set-up.json', (name) => readFileSync(join(demo, name)), { now: '' }));
  const [turret] = SHIPPED_MACHINES[0].carriers;
  const machine = { ...cooked.machine, carriers: [{ ...turret, stations: STATIONS, radius: 340, disc: { diameter: 678, width: 92 } } as typeof turret] };
  const [main, counter, both] = cooked.setUp.places;
  const places = Array.from({ length: STATIONS }, (_, i) => ({ ...[main, counter, both][i % 3], id: `p${i}`, station: i + 1, edges: [] }));
  const parts: SetUpParts = { ...cooked, machine, setUp: { ...cooked.setUp, places } };
  const triangles = places.reduce(
    (n, p) =>
      n +
      (parts.assemblies[p.assemblyId]?.pieces ?? []).reduce(
        (m, piece) => m + (parts.models[piece.componentId]?.bodies ?? []).reduce((k, b) => k + b.mesh.triangles.length / 3, 0),
        0,
      ),
    0,
  );
  const from = performance.now();
  const table = setUpTable(parts);
  roomOf(table, parts);
  const first = performance.now() - from;
  const again = await medianMs(() => void setUpTable(parts), { rounds: 5, warm: 1 });
  const room = await medianMs(() => void roomOf(table, parts), { rounds: 3, warm: 0 });
  // One neighbour of one station, at positions one by one and at its corners only: too far by what lies between.
  const [row, other] = table.stations;
  const [{ positions }] = workPositions(row, parts);
  const bodies = turnedBodies(machine, parts.setUp);
  const stand = other.assembly ? placePieces(other.assembly, parts.components) : new Map<string, never>();
  const points = (other.assembly?.pieces ?? []).flatMap((piece) => {
    const [model, motion] = [parts.models[piece.componentId], stand.get(piece.id)];
    const all = model && motion && other.motion ? compose(other.motion, motion) : undefined;
    return all && model
      ? model.bodies.flatMap((b) =>
          Array.from({ length: b.mesh.positions.length / 3 }, (_, i) =>
            move(all, [b.mesh.positions[3 * i], b.mesh.positions[3 * i + 1], b.mesh.positions[3 * i + 2]]),
          ),
        )
      : [];
  });
  let least = Infinity;
  const tried = await medianMs(
    () => {
      for (let i = 0; i <= STEPS; i++)
        for (let k = 0; k <= STEPS; k++) {
          const x = positions[0][0] + ((positions[0][1] - positions[0][0]) * i) / STEPS;
          const z = positions[2][0] + ((positions[2][1] - positions[2][0]) * k) / STEPS;
          for (const p of points)
            for (const b of bodies) {
              const across = Math.max(0, Math.hypot(p[0] + x, p[1]) - b.radius);
              const along = Math.max(0, b.from - p[2] - z, p[2] + z - b.to);
              const d = across * across + along * along;
              if (d < least) least = d;
            }
        }
    },
    { rounds: 1, warm: 0 },
  );
  const pairs = STATIONS * STATIONS;
  return [
    { what: `carrier: triangles on ${STATIONS} stations`, value: triangles, unit: '' },
    { what: 'carrier: table and room, the first time', value: first, unit: 'ms', limit: 6000 },
    { what: 'carrier: table of all edges', value: again, unit: 'ms', limit: 300 },
    { what: 'carrier: room of all pairs', value: room, unit: 'ms', limit: 3000 },
    { what: `carrier: one pair by ${(STEPS + 1) ** 2} positions of its corners, over ours`, value: tried / (room / pairs), unit: 'x' },
  ];
}
