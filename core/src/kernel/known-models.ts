import { DISPLAY_CHORD } from '#core/math';
import { decodeModel, encodeModel } from '#core/mesh';
import { hashBytes, hashPlain } from '#core/records';
import { done, type Issue, type Result } from '#core/issues';
import type { Kernel } from './kernel.ts';
import { NO_WORK } from './model-work.ts';
import type { ReadModel, ReadSolidsOptions } from './read-solids.ts';

/** What was read of these bytes before, where the kernel has a memory that knows it; else reads them and lets it be known. Refused files are looked at anew. */
export async function readKnown(
  { memory }: Kernel,
  bytes: Uint8Array,
  file: string,
  options: ReadSolidsOptions,
  read: () => Result<ReadModel> | Promise<Result<ReadModel>>,
): Promise<Result<ReadModel>> {
  if (!memory) return read();
  const { chordTolerance = DISPLAY_CHORD, exactProperties = false, work = NO_WORK } = options;
  const key = hashPlain({ bytes: hashBytes(bytes), file, chordTolerance, exactProperties, work });
  const kept = memory.get(key);
  const known = kept && decode(kept);
  if (known) return done(known);
  const answer = await read();
  if (!answer.ok) return answer;
  const bytesOfIt = encode(answer.value);
  memory.set(key, bytesOfIt);
  // As it will be given again, down to the sign of a zero.
  return done(decode(bytesOfIt) ?? answer.value);
}

// Warnings as JSON, their length in front of them, and the model on a multiple of eight, where its arrays can be looked at in place.
const HEAD = 8;
const pad8 = (n: number): number => (n + 7) & ~7;

function encode({ model, warnings }: ReadModel): Uint8Array {
  const said = new TextEncoder().encode(JSON.stringify(warnings));
  const blob = encodeModel(model);
  const bytes = new Uint8Array(HEAD + pad8(said.length) + blob.length);
  new DataView(bytes.buffer).setUint32(0, said.length, true);
  bytes.set(said, HEAD);
  bytes.set(blob, HEAD + pad8(said.length));
  return bytes;
}

// Undefined where it is not what was written.
function decode(bytes: Uint8Array): ReadModel | undefined {
  if (bytes.length < HEAD) return undefined;
  const length = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(0, true);
  if (HEAD + length > bytes.length) return undefined;
  try {
    const model = decodeModel(bytes.subarray(HEAD + pad8(length)));
    const warnings = JSON.parse(new TextDecoder().decode(bytes.subarray(HEAD, HEAD + length))) as Issue[];
    return model.ok ? { model: model.value, warnings } : undefined;
  } catch (error) {
    if (error instanceof SyntaxError) return undefined;
    throw error;
  }
}
