import { program } from './program.ts';
import { runInWorker } from './run-in-worker.ts';

process.exitCode = await program(
  process.argv.slice(2),
  {
    out: (line) => console.log(line),
    err: (line) => console.error(line),
    progress: (text) => {
      if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${text}`);
    },
  },
  runInWorker,
);
