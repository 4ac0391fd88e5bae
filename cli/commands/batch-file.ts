// One model of a batch: read, proposed, and made light as its recipe says.
import { basename, extname, join } from 'node:path';
import { IssueError, issue, unwrap } from '#core/issues';
import { hasBrep, type Kernel, NO_WORK, OpenModel, writeRevolvedStep, writeStepPart } from '#core/kernel';
import { type GeometryResult, makeGeometry } from '#core/making';
import { ENCLOSURE_SLACK, type Frame, IDENTITY, IDENTITY_FRAME } from '#core/math';
import { type Model, writeGlb, writeStl, writeThreeMf } from '#core/mesh';
import { proposeReading, type Reading, spinsAsRead } from '#core/reading';
import { hashBytes, safeFileName } from '#core/records';
import type { BatchRecipe } from './batch-recipe.ts';
import { writeOutput } from './io.ts';

type Wish = BatchRecipe['geometry'][number];

/** What is written beside the geometry of a file, and read again to see whether it still fits. */
export interface BatchEntry {
  readonly file: string;
  readonly source: string;
  readonly recipe: string;
  readonly kind: string;
  readonly mount?: string;
  readonly geometry: readonly {
    readonly name: string;
    readonly files: readonly string[];
    readonly trianglesIn: number;
    readonly trianglesOut: number;
    readonly growth: GeometryResult['growth'];
    readonly closed: boolean;
    readonly modes: readonly string[];
    readonly milliseconds: number;
  }[];
  readonly checkFailed: boolean;
}

/** The folder-free name of a file's results. */
export const entryName = (file: string): string => `${safeFileName(basename(file, extname(file)))}${extname(file).toLowerCase().replace('.', '-')}`;

export async function makeBatchFile(
  kernel: Kernel,
  bytes: Uint8Array,
  path: string,
  recipe: BatchRecipe,
  recipeHash: string,
  out: string,
): Promise<BatchEntry> {
  const file = basename(path);
  const opened = unwrap(await OpenModel.open(kernel, bytes, file, NO_WORK));
  try {
    const { model } = unwrap(opened.read());
    const reading = proposeReading(model, recipe.kind);
    const geometry: BatchEntry['geometry'][number][] = [];
    let checkFailed = false;
    for (const wish of recipe.geometry) {
      const bodies = bodiesOf(wish, model, reading);
      if (bodies.length === 0) continue;
      const frame = reading.mount?.frame ?? IDENTITY_FRAME;
      const spins = spinsAsRead(reading);
      const { mode, tolerance, closeBelow, bores, bridge } = wish;
      const made = unwrap(await makeGeometry(kernel, { bytes, file, opened, bodies, mode, tolerance, closeBelow, bores, bridge, frame, spins }));
      const files = await writeAll(kernel, { bytes, file, bodies, model }, made, wish, frame, join(out, entryName(path)));
      checkFailed ||= made.growth.min < -ENCLOSURE_SLACK || !made.closed;
      geometry.push({
        name: wish.name,
        files,
        trianglesIn: made.trianglesIn,
        trianglesOut: made.trianglesOut,
        growth: made.growth,
        closed: made.closed,
        modes: [...new Set(made.parts.map((p) => p.mode))],
        milliseconds: Math.round(made.milliseconds),
      });
    }
    const mount = reading.mount && `${reading.mount.connection.standard} ${reading.mount.connection.size}`;
    return { file, source: hashBytes(bytes), recipe: recipeHash, kind: reading.kind, ...(mount ? { mount } : {}), geometry, checkFailed };
  } finally {
    opened.close();
  }
}

function bodiesOf({ bodies }: Wish, model: Model, reading: Reading): string[] {
  const roleOf = (id: string) => reading.roles.find((r) => r.body === id)?.role ?? 'tool body';
  return model.bodies.map((b) => b.id).filter((id) => roleOf(id) !== 'left out' && (bodies === 'all' || (bodies === 'cutting') === (roleOf(id) === 'cutting')));
}

async function writeAll(
  kernel: Kernel,
  { bytes, file, bodies, model }: { bytes: Uint8Array; file: string; bodies: readonly string[]; model: Model },
  made: GeometryResult,
  wish: Wish,
  frame: Frame,
  base: string,
): Promise<string[]> {
  const named = [{ name: wish.name, colour: wish.bodies === 'cutting' ? '#b4173f' : '#59626b', mesh: made.mesh }];
  const files: string[] = [];
  for (const format of wish.formats) {
    const path = `${base}-${wish.name}.${format}`;
    if (format === 'stl') await writeOutput(path, writeStl(made.mesh));
    else if (format === 'glb') await writeOutput(path, await writeGlb(named));
    else if (format === '3mf') await writeOutput(path, writeThreeMf(named));
    else if (made.profile) await writeOutput(path, writeRevolvedStep(kernel, made.profile, frame, wish.name));
    else if (!hasBrep(bytes, file) || made.parts.some((p) => p.mode !== 'exact')) throw new IssueError([issue('mesh.no-step', { file })]);
    else {
      const parts = bodies.map((id) => ({ id, name: model.bodies.find((b) => b.id === id)?.name ?? id }));
      await writeOutput(path, unwrap(writeStepPart(kernel, { bytes, file, bodies: parts, targetFromFile: IDENTITY })));
    }
    files.push(basename(path));
  }
  return files;
}
