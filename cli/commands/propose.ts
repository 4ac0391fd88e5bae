import { basename } from 'node:path';
import { say, unwrap } from '#core/issues';
import { type Kernel, readModelFile } from '#core/kernel';
import { type FoundConnection, proposeReading } from '#core/reading';
import { sayConnection } from '#core/standards';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { table } from '../table.ts';
import { number, vector } from './io.ts';

export async function propose(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'propose' }, progress: Say): Promise<CommandOutput> {
  const file = basename(request.file);
  const { model, warnings } = unwrap(await readModelFile(kernel, bytes, file, { onProgress: (_, text) => progress(text) }));
  const reading = proposeReading(model, request.kind);
  const flat = ({ frame, faces: _, tellsX: __, ...rest }: FoundConnection) => ({ ...frame, ...rest });
  const { kind, roles, axis, mount, seats, splits } = reading;
  const systems = model.placements ?? [];
  const tips = reading.tips.map(({ body: _, towards: __, rake: ___, faces: ____, ...tip }) => tip);
  const rows = [
    ...roles.map((r) => [r.body, r.role, r.confidence.toFixed(2), r.evidence]),
    ...(mount ? [['mount', sayConnection(mount.connection), mount.confidence.toFixed(2), `at ${vector(mount.frame.origin)}; ${mount.evidence}`]] : []),
    ...seats.map((s) => ['seat', sayConnection(s.connection), s.confidence.toFixed(2), `at ${vector(s.frame.origin)}; ${s.evidence}`]),
    ...(splits ?? []).map((s) => ['cuts', `${s.body} from ${number(s.from)} to ${number(s.to)}`, s.confidence.toFixed(2), s.evidence]),
    ...tips.map((t) => [
      'tip',
      `RE ${number(t.noseRadius)}, KAPR ${t.enteringAngle}, ${t.hand}`,
      t.confidence.toFixed(2),
      `at ${vector(t.virtualTip)}; ${t.evidence}`,
    ]),
    ...systems.map((s) => ['system', s.name, '', `at ${vector(s.frame.origin)}, Z ${vector(s.frame.z)}: by its name in the file`]),
  ];
  return {
    json: {
      kind,
      roles,
      ...(axis ? { axis } : {}),
      ...(mount ? { mount: flat(mount) } : {}),
      seats: seats.map(flat),
      tips,
      ...(systems.length > 0 ? { systems } : {}),
      ...(splits ? { splits } : {}),
      warnings: reading.warnings,
    },
    text: `${file}: ${kind}\n${table(['what', 'proposed', 'sure', 'evidence'], rows)}`,
    warnings: [...warnings.map(say), ...reading.warnings.map((w) => w.message)],
    checkFailed: false,
  };
}
