import { say, unwrap } from '#core/issues';
import { type Kernel, readModelFile } from '#core/kernel';
import type { CommandOutput, Say } from '../request.ts';
import { table } from '../table.ts';
import { tellBodies } from './bodies.ts';
import { number, vector } from './io.ts';

export async function inspect(kernel: Kernel, bytes: Uint8Array, file: string, progress: Say): Promise<CommandOutput> {
  const { model, warnings } = unwrap(await readModelFile(kernel, bytes, file, { exactProperties: true, onProgress: (_, text) => progress(text) }));
  const bodies = tellBodies(model);
  const rows = bodies.map((b) => [
    b.id,
    b.name,
    number(b.volume, 1),
    number(b.area, 1),
    String(b.faces),
    String(b.edges),
    String(b.triangles),
    b.closed ? 'yes' : 'NO',
    `${vector(b.bbox.min)} to ${vector(b.bbox.max)}`,
  ]);
  return {
    json: { format: model.format, unit: model.unit, unitScale: model.unitScale, bodies },
    text: `${file}: ${model.format}, ${model.unit} (1 = ${model.unitScale} mm)\n${table(['body', 'name', 'volume mm3', 'area mm2', 'faces', 'edges', 'triangles', 'closed', 'box mm'], rows)}`,
    warnings: warnings.map(say),
    checkFailed: false,
  };
}
