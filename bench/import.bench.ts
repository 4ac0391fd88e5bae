import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Kernel, loadKernel, readSolids } from '#core/kernel';
import { DISPLAY_ANGLE_RAD, DISPLAY_CHORD } from '#core/math';
import { type BenchRow, medianMs } from './measure.ts';

const file = new Uint8Array(readFileSync(join(import.meta.dirname, '../demo/models/collet-chuck-63-32.step')));

/** The bare kernel calls that no import can do without: read, transfer, mesh. */
export function bareImport({ oc }: Kernel, bytes: Uint8Array): void {
  const reader = new oc.STEPControl_Reader();
  oc.FS.writeFile('/bare.step', bytes);
  reader.ReadFile('/bare.step');
  const progress = new oc.Message_ProgressRange();
  reader.TransferRoots(progress);
  const shape = reader.OneShape();
  const mesher = new oc.BRepMesh_IncrementalMesh(shape, DISPLAY_CHORD, false, DISPLAY_ANGLE_RAD, false);
  oc.BRepTools.Clean(shape, true);
  const session = reader.WS();
  for (const mode of [1, 5, 6, 7]) session.ClearData(mode);
  for (const handle of [session, mesher, shape, progress, reader]) handle.delete();
  oc.FS.unlink('/bare.step');
}

/** Import of the collet chuck, warm: everything (read, mesh, topology, names, checks) against the bare kernel calls; and its memory. */
export async function benchImport(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const read = () => {
    const r = readSolids(kernel, file, 'collet-chuck.step');
    if (!r.ok) throw new Error('the collet chuck did not open');
  };
  // In turns, so that both see the same machine.
  await medianMs(
    () => {
      read();
      bareImport(kernel, file);
    },
    { rounds: 1, warm: 2 },
  );
  const bare: number[] = [];
  const whole: number[] = [];
  for (let i = 0; i < 9; i++) {
    let from = performance.now();
    bareImport(kernel, file);
    bare.push(performance.now() - from);
    from = performance.now();
    read();
    whole.push(performance.now() - from);
  }
  const median = (v: number[]) => v.sort((a, b) => a - b)[4];
  const before = kernel.oc.wasmMemory.buffer.byteLength;
  for (let i = 0; i < 50; i++) read();
  const after = kernel.oc.wasmMemory.buffer.byteLength;
  return [
    { what: 'import, collet chuck: bare kernel calls', value: median(bare), unit: 'ms' },
    { what: 'import, collet chuck: whole', value: median(whole), unit: 'ms' },
    { what: 'import, collet chuck: whole against bare', value: median(whole) / median(bare), unit: 'x', limit: 1.3 },
    { what: 'kernel memory grown by 50 imports', value: (after - before) / 1e6, unit: 'MB', limit: 0 },
  ];
}
