import { setFlagsFromString } from 'node:v8';
import { program } from './program.ts';
import { answer } from './commands/index.ts';
import { runInThread } from './model-thread.ts';

// The kernel's code is made faster by one thread beside what it does: with as many as there are they take the processors from it (a first file opened in
// 0.9 s instead of 2.0 s with two processors).
setFlagsFromString('--wasm-num-compilation-tasks=1');

process.exitCode = await program(
  process.argv.slice(2),
  {
    out: (line) => console.log(line),
    err: (line) => console.error(line),
    progress: (text) => {
      if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${text}`);
    },
  },
  // What needs no kernel cannot hang either; a batch has threads of its own.
  (request, progress) => (request.command === 'designation' || request.command === 'batch' ? answer(request, progress) : runInThread(request, progress)),
);
