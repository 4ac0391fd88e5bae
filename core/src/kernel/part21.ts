import { failed, type Issue, issue, type Result, done } from '#core/issues';

/** One entity instance of the data section: its name, and where its text stands. */
export interface Part21Entity {
  readonly type: string;
  /** Offsets of the text between the outer brackets; for complex instances of all of it. */
  readonly start: number;
  readonly end: number;
}

/** A scanned STEP file (ISO 10303-21): entities by number, and its text. */
export interface Part21File {
  readonly text: string;
  readonly schema: string;
  readonly entities: ReadonlyMap<number, Part21Entity>;
}

const APOSTROPHE = 39;
const HASH = 35;
const SLASH = 47;
const STAR = 42;
const SEMICOLON = 59;
const OPEN = 40;
const CLOSE = 41;
const EQUALS = 61;
const isDigit = (c: number) => c >= 48 && c <= 57;
const isSpace = (c: number) => c <= 32;

/** The line (from 1) of an offset; only for messages. */
export function lineOf(text: string, offset: number): number {
  let line = 1;
  for (let i = text.indexOf('\n'); i >= 0 && i < offset; i = text.indexOf('\n', i + 1)) line++;
  return line;
}

/**
 * Scans the data section in one pass: every instance with type and extent, every reference, every number.
 * Refuses what makes the kernel hang or build wrong geometry without a word: a missing end, numbers out of
 * range, references to instances that are not there.
 */
export function scanPart21(text: string, file: string): Result<Part21File> {
  const at = (offset: number) => ({ file, line: lineOf(text, offset) });
  const dataAt = findData(text);
  if (dataAt < 0) return failed('step.no-data', { file });
  const entities = new Map<number, Part21Entity>();
  // References are checked after the scan, in file order: [from, to, offset, ...].
  const references: number[] = [];
  const n = text.length;
  let i = dataAt;
  let ended = false;
  while (i < n) {
    i = skipBlank(text, i);
    if (i >= n) break;
    const c = text.charCodeAt(i);
    if (c !== HASH) {
      if (text.startsWith('ENDSEC', i)) {
        ended = true;
        const next = text.indexOf('DATA;', i);
        if (next < 0) break;
        i = next + 5;
        ended = false;
        continue;
      }
      if (n - i < 80 && !text.includes(';', i)) break;
      return failed('step.syntax', { ...at(i), text: excerpt(text, i) });
    }
    let id = 0;
    let p = i + 1;
    while (p < n && isDigit(text.charCodeAt(p))) id = id * 10 + text.charCodeAt(p++) - 48;
    p = skipBlank(text, p);
    if (p >= n) break;
    if (text.charCodeAt(p) !== EQUALS || p === i + 1) return failed('step.syntax', { ...at(i), text: excerpt(text, i) });
    p = skipBlank(text, p + 1);
    const typeStart = p;
    while (p < n && isWord(text.charCodeAt(p))) p++;
    const type = text.slice(typeStart, p);
    const bodyStart = skipBlank(text, p);
    const stop = scanBody(text, bodyStart, id, references);
    if (stop.bad) return failed('step.bad-number', { ...at(stop.at), text: excerpt(text, stop.at) });
    if (stop.at >= n) break;
    if (stop.depth !== 0 || entities.has(id)) return failed('step.syntax', { ...at(i), text: excerpt(text, i) });
    entities.set(id, { type, start: bodyStart, end: stop.at });
    i = stop.at + 1;
  }
  if (!ended) return failed('step.truncated', { file, line: lineOf(text, n) });
  const dangling: Issue[] = [];
  for (let k = 0; k < references.length && dangling.length < 3; k += 3) {
    if (entities.has(references[k + 1])) continue;
    dangling.push(issue('step.dangling', { ...at(references[k + 2]), from: references[k], to: references[k + 1] }));
  }
  if (dangling.length > 0) return { ok: false, issues: dangling };
  return done({ text, schema: /FILE_SCHEMA\s*\(\s*\(\s*'([^']*)'/.exec(text.slice(0, dataAt))?.[1] ?? '', entities });
}

function findData(text: string): number {
  const match = /(?:^|[;\s/])DATA\s*(?:\([^;]*\))?\s*;/.exec(text);
  return match ? match.index + match[0].length : -1;
}

const isWord = (c: number) => (c >= 65 && c <= 90) || c === 95 || isDigit(c) || (c >= 97 && c <= 122);
const excerpt = (text: string, from: number) =>
  text
    .slice(from, from + 24)
    .split(/[\n;]/)[0]
    .trim();

function skipBlank(text: string, from: number): number {
  let i = from;
  for (;;) {
    while (i < text.length && isSpace(text.charCodeAt(i))) i++;
    if (text.charCodeAt(i) !== SLASH || text.charCodeAt(i + 1) !== STAR) return i;
    const close = text.indexOf('*/', i + 2);
    if (close < 0) return text.length;
    i = close + 2;
  }
}

// From a bracket to the semicolon behind it; collects references, and looks at each number.
function scanBody(text: string, start: number, id: number, references: number[]) {
  let depth = 0;
  let i = start;
  const n = text.length;
  while (i < n) {
    const c = text.charCodeAt(i);
    if (c === APOSTROPHE) {
      const close = text.indexOf("'", i + 1);
      if (close < 0) return { at: n, depth, bad: false };
      i = close + 1; // a doubled apostrophe simply opens the next string
    } else if (c === SEMICOLON) {
      return { at: i, depth, bad: false };
    } else if (c === OPEN) {
      depth++;
      i++;
    } else if (c === CLOSE) {
      if (--depth < 0) return { at: i, depth, bad: false };
      i++;
    } else if (c === HASH) {
      const from = i++;
      let to = 0;
      while (i < n && isDigit(text.charCodeAt(i))) to = to * 10 + text.charCodeAt(i++) - 48;
      references.push(id, to, from);
    } else if (isDigit(c)) {
      const from = i;
      let digits = 0;
      let exponent = false;
      for (; i < n; i++) {
        const d = text.charCodeAt(i);
        if (isDigit(d)) digits += exponent ? 0 : 1;
        else if (d === 69 || d === 101) exponent = true;
        else if (d !== 46 && d !== 43 && d !== 45) break;
      }
      // Only a long or an exponent number can be out of range; the others are not worth converting.
      if (exponent || digits > 15) {
        const value = Number(text.slice(from, i));
        if (!(value < 1e15)) return { at: from, depth, bad: true };
      }
    } else if (c === SLASH && text.charCodeAt(i + 1) === STAR) {
      const close = text.indexOf('*/', i + 2);
      i = close < 0 ? n : close + 2;
    } else if (c === 0 || c === 0xfffd || c > 0xff) {
      return { at: i, depth: -1, bad: false };
    } else i++;
  }
  return { at: n, depth, bad: false };
}

/** Numbers of the entities of each type, in the order of the file; complex instances have the type ''. */
export function entitiesByType(file: Part21File): Map<string, number[]> {
  const groups = new Map<string, number[]>();
  for (const [id, { type }] of file.entities) {
    const group = groups.get(type);
    if (group) group.push(id);
    else groups.set(type, [id]);
  }
  return groups;
}

/** A piece of the text, and where it stands. */
export interface TextSpan {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

/** The arguments of an instance, split at its outer commas; strings keep their apostrophes. */
export function argumentsOf(file: Part21File, entity: Part21Entity): string[] {
  return spansOf(file.text, entity.start, entity.end).map((span) => span.text);
}

/** The same with where they stand; none for an instance that is not there. */
export function argumentSpans(file: Part21File, id: number): TextSpan[] {
  const entity = file.entities.get(id);
  return entity ? spansOf(file.text, entity.start, entity.end) : [];
}

/** The arguments of a part of a complex instance by its name; undefined where it has no such part. */
export function argumentsOfPart(file: Part21File, id: number, name: string): string[] | undefined {
  const entity = file.entities.get(id);
  const found = new RegExp(`(?<![A-Z_])${name}\\s*\\(`).exec(bodyTextOf(file, id));
  return entity && found ? spansOf(file.text, entity.start + found.index + found[0].length - 1, entity.end).map((span) => span.text) : undefined;
}

// From an opening bracket to the one that closes it.
function spansOf(text: string, open: number, end: number): TextSpan[] {
  const parts: TextSpan[] = [];
  const push = (start: number, stop: number) => {
    const piece = text.slice(start, stop);
    const from = start + piece.length - piece.trimStart().length;
    parts.push({ from, to: from + piece.trim().length, text: piece.trim() });
  };
  let depth = 0;
  let from = open + 1;
  for (let i = open; i < end; i++) {
    const c = text.charCodeAt(i);
    if (c === APOSTROPHE) i = text.indexOf("'", i + 1);
    else if (c === OPEN) depth++;
    else if (c === CLOSE && --depth === 0) {
      push(from, i);
      break;
    } else if (c === 44 && depth === 1) {
      push(from, i);
      from = i + 1;
    }
  }
  return parts;
}

/** A piece of the text to be replaced. */
export type TextEdit = TextSpan;

/** A text with pieces replaced that do not overlap. */
export function editText(text: string, edits: readonly TextEdit[]): string {
  const pieces: string[] = [];
  let at = 0;
  for (const edit of [...edits].sort((a, b) => a.from - b.from)) {
    pieces.push(text.slice(at, edit.from), edit.text);
    at = edit.to;
  }
  return pieces.join('') + text.slice(at);
}

/** All references (#12) inside a piece of Part 21 text, in order. */
export function referencesIn(text: string): number[] {
  return [...text.matchAll(/#(\d+)/g)].map((m) => Number(m[1]));
}

/** All numbers inside a piece of Part 21 text that has no references. */
export const numbersIn = (text: string): number[] => (text.match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:E[-+]?\d+)?/gi) ?? []).map(Number);

/** A Part 21 string as text: doubled apostrophes, \X\, \X2\ and \X4\ resolved; empty for anything else. */
export function stringOf(argument: string | undefined): string {
  if (!argument?.startsWith("'")) return '';
  return argument
    .slice(1, -1)
    .replaceAll("''", "'")
    .replace(/\\X2\\((?:[0-9A-F]{4})*)\\X0\\/g, (_, hex: string) => (hex.match(/.{4}/g) ?? []).map((h) => String.fromCharCode(parseInt(h, 16))).join(''))
    .replace(/\\X4\\((?:[0-9A-F]{8})*)\\X0\\/g, (_, hex: string) => (hex.match(/.{8}/g) ?? []).map((h) => safeCodePoint(parseInt(h, 16))).join(''))
    .replace(/\\X\\([0-9A-F]{2})/g, (_, h: string) => String.fromCharCode(parseInt(h, 16)))
    .replace(/\\S\\(.)/g, (_, c: string) => String.fromCharCode(c.charCodeAt(0) + 128))
    .replaceAll('\\\\', '\\');
}

const safeCodePoint = (c: number) => (c <= 0x10ffff ? String.fromCodePoint(c) : '\ufffd');

/** The text inside an entity's parentheses, or all of a complex one; empty where there is none of this number. */
export function bodyTextOf(file: Part21File, id: number): string {
  const entity = file.entities.get(id);
  return entity ? file.text.slice(entity.start, entity.end) : '';
}

/** What `read` makes of one argument of an entity; undefined where the file has none. */
export function argumentOf<T>(file: Part21File, id: number, index: number, read: (text: string) => T): T | undefined {
  const entity = file.entities.get(id);
  const value = entity && argumentsOf(file, entity)[index];
  return value === undefined ? undefined : read(value);
}
