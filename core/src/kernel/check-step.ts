import { done, failed, type Result } from '#core/issues';
import { type Part21File, scanPart21 } from './part21.ts';
import { readStepFacts, type StepFacts } from './step-facts.ts';

/** Bytes. Larger STEP files are whole machines; they would fill the browser's memory. */
export const LARGEST_STEP_FILE = 120e6;

/** Looks at the bytes of a STEP file before the kernel does: size, kind, text, references, unit and names. */
export function checkStepText(bytes: Uint8Array, file: string): Result<StepFacts> {
  const scanned = scanStep(bytes, file);
  return scanned.ok ? done(readStepFacts(scanned.value)) : scanned;
}

/** The entities of a STEP file; what is none, or damaged, is told with what it is. */
export function scanStep(bytes: Uint8Array, file: string): Result<Part21File> {
  if (bytes.length === 0) return failed('file.empty', { file });
  if (bytes.length > LARGEST_STEP_FILE) return failed('file.too-large', { file, megabytes: Math.round(bytes.length / 1e6), limit: LARGEST_STEP_FILE / 1e6 });
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 400));
  if (!/ISO-10303-21/.test(head)) {
    const found = otherFormat(bytes, head);
    return found ? failed('file.other-format', { file, found }) : failed('file.unknown-format', { file, start: JSON.stringify(head.slice(0, 12)) });
  }
  return scanPart21(decodeText(bytes), file);
}

// Part 21 is ASCII with escapes; files with raw UTF-8 or Latin-1 names exist all the same.
function decodeText(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}

function otherFormat(bytes: Uint8Array, head: string): string | undefined {
  if (head.startsWith('PK')) return 'a zip archive';
  if (head.startsWith('glTF')) return 'a GLB model';
  if (/^\s*solid\b/.test(head)) return 'an STL mesh';
  if (bytes.length >= 84 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true) * 50 + 84 === bytes.length) return 'an STL mesh';
  if (/^\s*<\?xml|^\s*<!?\w/.test(head)) return 'an XML or web page';
  if (/^.{72}S\s*\d+/m.test(head)) return 'an IGES model';
  if (head.startsWith('%PDF')) return 'a PDF';
  return undefined;
}
