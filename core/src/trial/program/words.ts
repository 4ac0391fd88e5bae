import { failed, done, type Result } from '#core/issues';

/** A word of a block: an address and its number. */
export interface Word {
  readonly letter: string;
  readonly value: number;
  /** The number as it is written: T0101 is more than 101. */
  readonly text: string;
}

/** A block of a program (ISO 6983): a line with at least one word. */
export interface Block {
  /** Of the file, from 1. */
  readonly line: number;
  readonly words: readonly Word[];
  /** It begins with a stroke: the control may be told to leave it out. */
  readonly isOptional: boolean;
}

// What only macros of controls have: refused by name, with the line.
const MACRO = /#|\[|\b(?:IF|GOTO|WHILE|END|DO)\b/i;
const WORD = /\s*([A-Za-z])\s*([+-]?(?:\d+\.?\d*|\.\d+))/y;

/** The words of one line, without comments (in brackets, or behind a semicolon); undefined where nothing is left. */
export function readBlock(text: string, line: number, file: string): Result<Block | undefined> {
  const plain = text
    .replace(/\([^)]*\)/g, ' ')
    .replace(/;.*$/, '')
    .trim();
  if (plain.includes('(')) return failed('program.syntax', { file, line, text: 'a comment that is not closed' });
  if (plain === '' || plain === '%') return done(undefined);
  if (MACRO.test(plain)) return failed('program.macro', { file, line, text: plain.slice(0, 60) });
  const isOptional = plain.startsWith('/');
  const body = isOptional ? plain.replace(/^\/\d?/, '') : plain;
  const words: Word[] = [];
  WORD.lastIndex = 0;
  let end = 0;
  for (let found = WORD.exec(body); found; found = WORD.exec(body)) {
    words.push({ letter: found[1].toUpperCase(), value: Number(found[2]), text: found[2] });
    end = WORD.lastIndex;
  }
  const rest = body.slice(end).trim();
  if (rest !== '') return failed('program.syntax', { file, line, text: rest.slice(0, 40) });
  return done({ line, words, isOptional });
}

/** A program with its subprograms: blocks by the number behind O; those before the first one are the main program's (0). */
export interface ProgramText {
  readonly file: string;
  readonly main: number;
  readonly blocks: ReadonlyMap<number, readonly Block[]>;
}

/** Characters. More is no program for a lathe. */
const LONGEST = 64_000_000;

/** Reads the blocks of a file. */
export function readProgramText(text: string, file: string): Result<ProgramText> {
  if (text.length > LONGEST) return failed('program.too-long', { file, megabytes: Math.round(text.length / 1e6), limit: LONGEST / 1e6 });
  const programs = new Map<number, Block[]>();
  let current: Block[] = [];
  let main: number | undefined;
  let line = 0;
  let start = 0;
  while (start <= text.length) {
    let end = text.indexOf('\n', start);
    if (end < 0) end = text.length;
    line++;
    const read = readBlock(text.slice(start, end), line, file);
    if (!read.ok) return read;
    start = end + 1;
    const block = read.value;
    if (!block) continue;
    const number = block.words[0]?.letter === 'O' ? block.words[0].value : undefined;
    if (number !== undefined) {
      if (programs.has(number)) return failed('program.syntax', { file, line, text: `program O${number}, which is there already` });
      current = [];
      programs.set(number, current);
      main ??= number;
      const rest = block.words.slice(1);
      if (rest.length > 0) current.push({ ...block, words: rest });
      continue;
    }
    if (main === undefined) {
      main = 0;
      programs.set(0, current);
    }
    current.push(block);
  }
  if (main === undefined) return failed('program.empty', { file });
  return done({ file, main, blocks: programs });
}
