// Light geometry of a folder of models on all processors; what is there already and still fits is left.
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { basename, join } from 'node:path';
import { IssueError, issue, say, unwrap } from '#core/issues';
import { hashBytes, hashPlain } from '#core/records';
import { ModelThread } from '../model-thread.ts';
import type { CommandOutput, CommandRequest, Outcome, Say } from '../request.ts';
import { table } from '../table.ts';
import { type BatchEntry, entryName } from './batch-file.ts';
import { readBatchRecipe } from './batch-recipe.ts';
import { readInput, writeOutput } from './io.ts';

const MODEL_FILE = /\.(step|stp|stl|obj|3mf|glb)$/i;

type FileOutcome =
  | { readonly file: string; readonly state: 'made' | 'kept'; readonly entry: BatchEntry }
  | { readonly file: string; readonly state: 'refused'; readonly message: string };

export async function batch(request: CommandRequest & { command: 'batch' }, progress: Say): Promise<CommandOutput> {
  const started = performance.now();
  const recipe = unwrap(readBatchRecipe(new TextDecoder().decode(await readInput(request.recipe)), basename(request.recipe)));
  const recipeHash = hashPlain(recipe);
  const files = listModels(request.file);
  const { out } = request;
  const todo = [...files];
  const outcomes: FileOutcome[] = [];
  const work = async () => {
    const thread = new ModelThread();
    try {
      for (let file = todo.shift(); file !== undefined; file = todo.shift()) {
        const path = join(request.file, file);
        const kept = keptEntry(path, recipeHash, out);
        if (kept) outcomes.push({ file, state: 'kept', entry: kept });
        else {
          const answer = await thread.run({ command: 'batch-file', file: path, recipe, recipeHash, out });
          outcomes.push(await outcomeOf(file, answer, join(out, `${entryName(path)}.json`)));
        }
        progress(`${outcomes.length} of ${files.length}: ${file}`);
      }
    } finally {
      thread.close();
    }
  };
  const jobs = Math.min(request.jobs ?? availableParallelism(), Math.max(1, files.length));
  await Promise.all(Array.from({ length: jobs }, work));
  outcomes.sort((a, b) => a.file.localeCompare(b.file, 'en'));
  const seconds = (performance.now() - started) / 1000;
  const count = (state: FileOutcome['state']) => outcomes.filter((o) => o.state === state).length;
  const failed = outcomes.filter((o) => o.state !== 'refused' && o.entry.checkFailed).length;
  const summary = {
    files: files.length,
    made: count('made'),
    kept: count('kept'),
    refused: count('refused'),
    checkFailed: failed,
    seconds: Math.round(seconds * 10) / 10,
    perMinute: Math.round((count('made') / seconds) * 600) / 10,
    jobs,
  };
  await writeOutput(join(out, 'summary.json'), new TextEncoder().encode(`${JSON.stringify({ ...summary, outcomes }, null, 1)}\n`));
  const line = `${summary.files} files: ${summary.made} made, ${summary.kept} there already, ${summary.refused} refused, ${failed} with a failed check; ${summary.seconds} s, ${summary.perMinute} a minute`;
  return {
    json: { ...summary, outcomes },
    text: `${table(['file', '', 'geometry'], outcomes.map(row))}\n${line}`,
    warnings: [],
    checkFailed: summary.refused + failed > 0,
  };
}

function listModels(folder: string): string[] {
  try {
    return readdirSync(folder)
      .filter((name) => MODEL_FILE.test(name) && statSync(join(folder, name)).isFile())
      .sort();
  } catch (error) {
    throw new IssueError([
      issue('mesh.broken', {
        file: folder,
        text: (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'it does not exist' : 'it is not a folder that can be read',
      }),
    ]);
  }
}

// What was made before of the same file by the same recipe, where all of it is still there.
function keptEntry(path: string, recipeHash: string, out: string): BatchEntry | undefined {
  try {
    const entry = JSON.parse(readFileSync(join(out, `${entryName(path)}.json`), 'utf8')) as BatchEntry;
    const fits = entry.recipe === recipeHash && entry.geometry.every((g) => g.files.every((f) => existsSync(join(out, f))));
    return fits && entry.source === hashBytes(readFileSync(path)) ? entry : undefined;
  } catch {
    return undefined;
  }
}

async function outcomeOf(file: string, answer: Outcome, entryPath: string): Promise<FileOutcome> {
  if (answer.kind === 'failed') return { file, state: 'refused', message: answer.issues.map(say).join(' ') };
  if (answer.kind === 'crashed') return { file, state: 'refused', message: say(issue('kernel.crashed', { job: file, text: answer.text })) };
  const entry = answer.output.json as BatchEntry;
  await writeOutput(entryPath, new TextEncoder().encode(`${JSON.stringify(entry, null, 1)}\n`));
  return { file, state: 'made', entry };
}

function row(outcome: FileOutcome): string[] {
  if (outcome.state === 'refused') return [outcome.file, 'REFUSED', outcome.message];
  const { entry } = outcome;
  const made = entry.geometry.map(
    (g) => `${g.name}: ${g.trianglesIn} to ${g.trianglesOut} as ${g.modes.join(', ')}, growth ${g.growth.min.toFixed(4)} to ${g.growth.max.toFixed(4)}`,
  );
  return [outcome.file, entry.checkFailed ? 'FAIL' : outcome.state, made.join('; ') || 'nothing to make'];
}
