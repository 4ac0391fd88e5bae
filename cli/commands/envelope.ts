import { basename, extname } from 'node:path';
import { IssueError, issue, unwrap } from '#core/issues';
import { type GeometryPart, makeGeometry } from '#core/making';
import { proposeReading } from '#core/reading';
import { hasBrep, type Kernel, NO_WORK, OpenModel, writeRevolvedStep, writeStepPart } from '#core/kernel';
import { ENCLOSURE_SLACK, fromZAndX, IDENTITY } from '#core/math';
import { triangleCount, writeGlb, writeStl, writeThreeMf } from '#core/mesh';
import { listPieces } from '#core/outline';
import { safeFileName } from '#core/records';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { table } from '../table.ts';
import { threadCrew } from '../thread-crew.ts';
import { number, writeOutput } from './io.ts';
import { planOutline } from './plan.ts';

export async function envelope(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'envelope' }, progress: Say): Promise<CommandOutput> {
  const file = basename(request.file);
  const started = performance.now();
  const opened = unwrap(await OpenModel.open(kernel, bytes, file, NO_WORK, (_, text) => progress(text)));
  const { model } = unwrap(opened.read());
  const openMilliseconds = Math.round(performance.now() - started);
  const ids = request.bodies ?? model.bodies.map((b) => b.id);
  const a = request.axis ?? [0, 0, 0, 0, 0, 1];
  const frame = fromZAndX([a[0], a[1], a[2]], [a[3], a[4], a[5]]);
  if (request.mode === 'plan')
    return planOutline(kernel, bytes, { ...request, bodies: ids }, request.axis ? frame : (proposeReading(model).mount?.frame ?? frame), progress);
  const made = unwrap(
    await makeGeometry(kernel, {
      bytes,
      file,
      opened,
      crew: threadCrew(),
      bodies: ids,
      mode: request.mode,
      tolerance: request.tolerance,
      ...(request.closeBelow === undefined ? {} : { closeBelow: request.closeBelow }),
      ...(request.triangles === undefined ? {} : { triangles: request.triangles }),
      ...(request.bores ? { bores: request.bores } : {}),
      ...(request.bridge === undefined ? {} : { bridge: request.bridge }),
      frame,
      // An axis that is given is one that the tool spins about.
      spins: request.axis !== undefined,
      onProgress: (_, text) => progress(text),
    }),
  );
  const name = safeFileName(basename(request.out, extname(request.out)));
  const kind = extname(request.out).toLowerCase();
  const named = [{ name, colour: '#59626b', mesh: made.mesh }];
  if (kind === '.stl') await writeOutput(request.out, writeStl(made.mesh));
  else if (kind === '.glb') await writeOutput(request.out, await writeGlb(named));
  else if (kind === '.3mf') await writeOutput(request.out, writeThreeMf(named));
  else if (made.profile) {
    await writeOutput(request.out, writeRevolvedStep(kernel, made.profile, frame, name));
  } else if (!hasBrep(bytes, file) || made.parts.some((p) => p.mode !== 'exact')) {
    throw new IssueError([issue('mesh.no-step', { file })]);
  } else {
    const parts = ids.map((id) => ({ id, name: model.bodies.find((b) => b.id === id)?.name ?? id }));
    await writeOutput(request.out, unwrap(writeStepPart(kernel, { bytes, file, bodies: parts, targetFromFile: IDENTITY })));
  }
  const profile = made.profile ? listPieces(made.profile) : undefined;
  const { trianglesIn, trianglesOut, volumeIn, volumeOut, growth, closed } = made;
  const rows = [
    ['triangles', String(trianglesIn), String(trianglesOut)],
    ['volume mm3', number(volumeIn, 1), number(volumeOut, 1)],
  ];
  return {
    json: {
      trianglesIn,
      trianglesOut,
      volumeIn,
      volumeOut,
      growth,
      closed,
      ...(profile ? { profile } : {}),
      ...(request.mode === 'auto' ? { parts: made.parts.map(sayPart) } : {}),
      milliseconds: Math.round(made.milliseconds),
      openMilliseconds,
    },
    text: `${table(['', 'before', 'after'], rows)}\ngrowth ${number(growth.min, 4)} to ${number(growth.max, 4)} mm, mean ${number(growth.mean, 4)}; ${closed ? 'closed' : 'NOT CLOSED'}${profile ? `; ${profile.length} pieces` : ''}\n${made.parts.map((p) => `${p.bodies.join(', ')}: ${p.why}${p.inside.length > 0 ? `; ${p.inside.join(', ')} in it` : ''}`).join('\n')}\nwrote ${request.out}`,
    warnings: [],
    checkFailed: growth.min < -ENCLOSURE_SLACK || !closed,
  };
}

const sayPart = ({ bodies, inside, mode, mesh, growth, why }: GeometryPart) => ({ bodies, inside, mode, triangles: triangleCount(mesh), growth, why });
