import { issue, type Issue } from '#core/issues';
import type { Step } from '../program/moves.ts';

/** A program of a channel, as its steps. */
export interface ReadProgram {
  readonly name: string;
  readonly steps: readonly Step[];
}

/** What is wrong with the wait marks of channels: all have to come to the same ones, in the same order; nothing where they do. */
export function checkWaits(programs: readonly ReadProgram[]): Issue | undefined {
  const marks = programs.map(({ steps }) => steps.flatMap((s) => (s.kind === 'wait' ? [s] : [])));
  const [first, ...others] = marks;
  for (const [i, own] of others.entries()) {
    const names = { file: programs[i + 1].name, other: programs[0].name };
    for (let k = 0; k < Math.max(first.length, own.length); k++) {
      const [a, b] = [first.at(k), own.at(k)];
      if (a && b && a.mark === b.mark) continue;
      if (a && b) return issue('program.waits-differ', { ...names, line: b.line, text: `M${b.mark}`, otherLine: a.line, otherText: `M${a.mark}` });
      const [alone, name, lacking] = b ? [b, names.file, names.other] : [a as NonNullable<typeof a>, names.other, names.file];
      return issue('program.waits-alone', { file: name, line: alone.line, text: `M${alone.mark}`, other: lacking });
    }
  }
  return undefined;
}
