import { program } from './program.ts';
import { answer } from './commands/index.ts';

/** The program in this process, where the kernel is loaded once for all tests of a file. */
export async function ruota(...args: string[]) {
  const [out, err]: string[][] = [[], []];
  const status = await program(args, { out: (line) => out.push(line), err: (line) => err.push(line), progress: () => undefined }, answer);
  const stdout = out.join('\n');
  return { status, stdout, stderr: err.join('\n'), json: () => JSON.parse(stdout) as Record<string, never> };
}
