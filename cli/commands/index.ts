import { basename } from 'node:path';
import { IssueError } from '#core/issues';
import type { Kernel } from '#core/kernel';
import type { CommandOutput, CommandRequest, Outcome, Say } from '../request.ts';

/** Runs a command, whatever comes of it. Each is loaded with what it needs when it is asked for. */
export async function answer(request: CommandRequest, progress: Say): Promise<Outcome> {
  try {
    return { kind: 'done', output: await runCommand(request, progress) };
  } catch (error) {
    if (error instanceof IssueError) return { kind: 'failed', issues: error.issues };
    return { kind: 'crashed', text: error instanceof Error ? `${error.name}: ${error.message}` : String(error) };
  }
}

let kernel: Promise<Kernel> | undefined;
const getKernel = (): Promise<Kernel> => (kernel ??= loadWithMemory());

async function loadWithMemory(): Promise<Kernel> {
  const [{ loadKernel }, { modelMemory }] = await Promise.all([import('#core/kernel'), import('../model-memory.ts')]);
  return { ...(await loadKernel()), memory: modelMemory() };
}

// Throws an IssueError where its input cannot be used.
async function runCommand(request: CommandRequest, progress: Say): Promise<CommandOutput> {
  if (request.command === 'designation') return (await import('./designation.ts')).designation(request.codes);
  if (request.command === 'component') return (await import('./component.ts')).component(getKernel, request);
  if (request.command === 'batch') return (await import('./batch.ts')).batch(request, progress);
  const { readInput, readModelInput } = await import('./io.ts');
  if (request.command === 'inspect' || request.command === 'propose' || request.command === 'envelope') {
    const { bytes, file } = await readModelInput(request.file);
    const loaded = await getKernel();
    if (request.command === 'inspect') return (await import('./inspect.ts')).inspect(loaded, bytes, basename(file), progress);
    if (request.command === 'propose') return (await import('./propose.ts')).propose(loaded, bytes, { ...request, file }, progress);
    return (await import('./envelope.ts')).envelope(loaded, bytes, { ...request, file }, progress);
  }
  const bytes = await readInput(request.file);
  if (request.command === 'import') return (await import('./import-table.ts')).importTable(bytes, request);
  if (request.command === 'shelf') return (await import('./shelf.ts')).shelf(bytes, request);
  // Only what is written as STEP needs the kernel.
  if (request.command === 'outline') return (await import('./outline.ts')).outline(getKernel, bytes, request);
  const loaded = await getKernel();
  switch (request.command) {
    case 'assemble':
      return (await import('./assemble.ts')).assemble(loaded, bytes, request, progress);
    case 'batch-file': {
      const { makeBatchFile } = await import('./batch-file.ts');
      const json = await makeBatchFile(loaded, bytes, request.file, request.recipe, request.recipeHash, request.out);
      return { json, text: '', warnings: [], checkFailed: json.checkFailed };
    }
    case 'setup':
      return (await import('./setup.ts')).setup(loaded, bytes, request, progress);
    case 'reach':
      return (await import('./reach.ts')).reach(loaded, bytes, request);
    case 'trial':
      return (await import('./trial.ts')).trial(loaded, bytes, request, progress);
    case 'verify':
      // A proof goes by what it reads itself.
      return (await import('./verify.ts')).verify({ ...loaded, memory: undefined }, bytes, basename(request.file), progress);
  }
}
