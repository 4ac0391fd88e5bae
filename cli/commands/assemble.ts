import { readFileSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { placeTips } from '#core/assembly';
import { cookRecipe, packAssembly, readRecipe } from '#core/handover';
import { IssueError, issue, say, unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { safeFileName } from '#core/records';
import { OpenSources } from '#core/sources';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { threadCrew } from '../thread-crew.ts';
import { table } from '../table.ts';
import { checkTable, giveWay, number, writeOutput } from './io.ts';

export async function assemble(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'assemble' }, progress: Say): Promise<CommandOutput> {
  const whole = unwrap(readRecipe(new TextDecoder().decode(bytes), basename(request.file)));
  // A recipe may describe more components than this assembly has pieces of.
  const recipe = { ...whole, components: whole.components.filter((c) => whole.pieces.some((p) => p.component === c.key)) };
  const folder = dirname(resolve(request.file));
  const now = new Date().toISOString();
  const open = new OpenSources(kernel, recipe.components.length);
  const crew = threadCrew();
  const cooked = unwrap(
    await cookRecipe(
      kernel,
      recipe,
      (name) => {
        try {
          return readFileSync(resolve(folder, name));
        } catch {
          throw new IssueError([issue('recipe.missing', { file: basename(request.file), field: 'file', text: name })]);
        }
      },
      { now, open, crew, giveWay, onProgress: (_, text) => progress(text) },
    ),
  );
  const packed = unwrap(await packAssembly(kernel, { ...cooked, now, open, crew, onProgress: (_, text) => progress(text) }));
  open.close();
  const { manifest } = packed;
  const path = join(request.out, `${safeFileName(recipe.name)}.zip`);
  await writeOutput(path, packed.bytes);
  const tips = placeTips(cooked.assembly, cooked.components);
  const pieces = manifest.pieces.map((p) => ({
    piece: p.piece,
    name: p.name,
    component: p.componentId,
    mountInGauge: p.mountInGauge,
    parts: p.parts.map(({ profile: _, ...rest }) => rest),
  }));
  return {
    json: { gaugeLength: manifest.gaugeLength, tips, pieces, checks: manifest.checks, package: path },
    text: `${tipTable(tips)}\n${checkTable(manifest.checks)}\nwrote ${path}`,
    warnings: cooked.warnings.map(say),
    checkFailed: manifest.checks.some((c) => c.state === 'fail'),
  };
}

const tipTable = (tips: ReturnType<typeof placeTips>) =>
  table(
    ['piece', 'tip', 'L', 'Q', 'Y', 'nose radius'],
    tips.map((t) => [t.piece, t.name, number(t.L), number(t.Q), number(t.Y), number(t.noseRadius)]),
  );
