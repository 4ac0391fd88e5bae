import { existsSync, statSync } from 'node:fs';
import { setFlagsFromString } from 'node:v8';
import { program } from './program.ts';
import { answer } from './commands/index.ts';
import { runInThread } from './model-thread.ts';
import type { CommandRequest, Outcome, Say } from './request.ts';

// The kernel's code is made faster by one thread beside what it does: with as many as there are they take the processors from it (a first file opened in
// 0.9 s instead of 2.0 s with two processors).
setFlagsFromString('--wasm-num-compilation-tasks=1');

// One file of a usual size is done before better code would have paid for being made: inspecting it takes five sixths of the time, assembling four pieces too (measured
// on files up to 1.4 MB).
const LARGE_BYTES = 2e6;
// A path into an archive is no file.
const isLarge = (file: string): boolean => existsSync(file) && statSync(file).size > LARGE_BYTES;

function run(request: CommandRequest, progress: Say): Promise<Outcome> {
  // What needs no kernel cannot hang either; a batch has threads of its own.
  if (request.command === 'designation' || request.command === 'batch') return answer(request, progress);
  if (!('file' in request && request.file && isLarge(request.file))) setFlagsFromString('--liftoff-only');
  return runInThread(request, progress);
}

process.exitCode = await program(
  process.argv.slice(2),
  {
    out: (line) => console.log(line),
    err: (line) => console.error(line),
    progress: (text) => {
      if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${text}`);
    },
  },
  run,
);
