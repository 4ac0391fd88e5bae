// Wraps of a turret block and a dense mesh of it, beside a simplifier that does not mind cutting in.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { MeshoptSimplifier } from 'meshoptimizer';
import { computeWrap, proveEnclosure } from '#core/envelope';
import { loadKernel, type SampledBody, sampleSolids } from '#core/kernel';
import { type TriMesh, weld, weldWith } from '#core/mesh';
import { type BenchRow, medianMs } from './measure.ts';

export async function benchWrap(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  await MeshoptSimplifier.ready;
  const file = 'station-block-40.step';
  const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../demo/models', file)));
  const rows: BenchRow[] = [];
  // As a B-rep it is tessellated for the tolerance; a dense mesh of it stands for what comes as an STL file.
  for (const [chordTolerance, isMesh] of [
    [0.03, false],
    [0.0001, true],
  ] as const) {
    const sampled = sampleSolids(kernel, bytes, file, { chordTolerance, ids: ['b1'] });
    if (!sampled.ok) throw new Error(sampled.issues[0].code);
    const body = isMesh ? asMesh(sampled.value[0]) : sampled.value[0];
    const triangles = body.mesh.triangles.length / 3;
    const wrapped = () => {
      const r = computeWrap(body, { tolerance: 0.1, closeBelow: 14 });
      if (!r.ok) throw new Error(r.issues[0].code);
      return r.value;
    };
    const rounds = triangles > 20_000 ? 1 : 3;
    const time = await medianMs(wrapped, { rounds, warm: rounds > 1 ? 1 : 0 });
    const wrap = wrapped();
    const proof = proveEnclosure({ bodies: [body], closedMesh: wrap.around }, wrap.mesh);
    const count = wrap.mesh.triangles.length / 3;
    const what = `wrap of a block${isMesh ? ' from a mesh' : ''} of ${triangles} triangles within 0.1 mm`;
    rows.push({ what, value: time, unit: 'ms', ...(triangles > 20_000 ? { limit: 4000 } : {}) });
    rows.push({ what: `${what}: triangles left`, value: count, unit: '', ...(triangles > 20_000 ? { limit: 1500 } : {}) });
    rows.push({ what: `${what}: least growth`, value: proof.least * 1000, unit: 'um' });
    const plain = simplified(wrap.around, count);
    const cut = proveEnclosure({ bodies: [body], closedMesh: wrap.around }, plain.mesh);
    rows.push({ what: `meshoptimizer to as many (${plain.mesh.triangles.length / 3})`, value: plain.ms, unit: 'ms' });
    rows.push({ what: 'meshoptimizer: least growth (it cuts in)', value: cut.least * 1000, unit: 'um' });
  }
  return rows;
}

// The triangles as they are, without a true surface behind them.
function asMesh(body: SampledBody): SampledBody {
  const { mesh, kept } = weldWith(body.mesh);
  const faceStart = new Uint32Array(body.faceStart.length);
  for (let f = 0, i = 0; f < faceStart.length; f++) {
    while (i < kept.length && kept[i] < body.faceStart[f]) i++;
    faceStart[f] = i;
  }
  return { ...body, mesh, faceStart, points: new Float64Array(0), pointTriangle: new Uint32Array(0), skin: mesh.positions, skinEdges: mesh.positions.length };
}

function simplified(mesh: TriMesh, triangles: number): { mesh: TriMesh; ms: number } {
  const welded = weld(mesh, 1e-6);
  const start = performance.now();
  const [indices] = MeshoptSimplifier.simplify(welded.triangles, Float32Array.from(welded.positions), 3, 3 * triangles, 1, []);
  return { mesh: { positions: welded.positions, triangles: Uint32Array.from(indices) }, ms: performance.now() - start };
}
