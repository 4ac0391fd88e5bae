import { done, failed, type Result } from '#core/issues';

const BINARY = 'AutoCAD Binary DXF';
// Lines, of pairs of a code and a value: ten million small entities.
const MOST_LINES = 1.5e8;

/** The text of a DXF file where it is one, whole, and every number in it is a number; else what is wrong with it, and in which line. */
export function checkDxf(bytes: Uint8Array, file: string): Result<string> {
  if (bytes.length === 0) return failed('file.empty', { file });
  const head = decode(bytes.subarray(0, 22));
  if (head.startsWith(BINARY)) return failed('drawing.binary', { file });
  const text = decode(bytes);
  const lines = lineFinder(text);
  let line = 0;
  let sections = 0;
  let isEnded = false;
  while (lines.next()) {
    line += 2;
    if (line > MOST_LINES) return failed('drawing.too-many', { file, count: 'too many lines' });
    const code = lines.text.trim();
    if (!lines.next()) {
      if (code === '') break;
      return failed('drawing.truncated', { file, line: line - 1 });
    }
    if (!/^-?\d{1,4}$/.test(code)) {
      // Blank lines at the very end are no fault.
      if (code === '' && isEnded) break;
      return sections === 0 ? failed('drawing.not-dxf', { file }) : failed('drawing.syntax', { file, line: line - 1, text: code.slice(0, 40) });
    }
    const value = lines.text.trim();
    const number = Number(code);
    if (number === 0 && value === 'SECTION') sections++;
    if (number === 0 && value === 'EOF') {
      isEnded = true;
      break;
    }
    const isNumber = (number >= 10 && number < 60) || (number >= 210 && number < 240);
    if (isNumber && !(value !== '' && Number.isFinite(Number(value))))
      return failed('drawing.bad-number', { file, line, text: value.slice(0, 40) || 'nothing' });
  }
  if (sections === 0) return failed('drawing.not-dxf', { file });
  return isEnded ? done(text) : failed('drawing.truncated', { file, line });
}

// Text lines one after the other, without a copy of all of them.
function lineFinder(all: string): { text: string; next(): boolean } {
  let at = 0;
  return {
    text: '',
    next() {
      if (at >= all.length) return false;
      let end = at;
      while (end < all.length && all.charCodeAt(end) !== 10 && all.charCodeAt(end) !== 13) end++;
      this.text = all.slice(at, end);
      at = all.charCodeAt(end) === 13 && all.charCodeAt(end + 1) === 10 ? end + 2 : end + 1;
      return true;
    },
  };
}

// Files of before 2007 are in a code page.
function decode(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
