import { checkAssembly, placePieces } from '#core/assembly';
import { done, type Result } from '#core/issues';
import { type Kernel, OpenModel } from '#core/kernel';
import { ALONE, type Crew } from '#core/making';
import type { Model } from '#core/mesh';
import type { Check } from '#core/records';
import { workOf } from '#core/sources';
import { openPackage } from '../pack.ts';
import { verifyNumbers } from './numbers.ts';
import { verifyPart } from './verify-part.ts';

/** Who proves, and who is told how far it is. */
export interface VerifyMeans {
  readonly crew?: Crew;
  /** Lets others have their turn, such as the crew with what it has done. */
  readonly giveWay?: () => Promise<unknown>;
  readonly onProgress?: (share: number, text: string) => void;
}

/**
 * The checks of a package, recomputed from its own files: hashes and schema (or it does not open), numbers and places against the records, every mesh closed
 * and the same in every format, turned meshes and STEP files against their profiles or the vendor's bodies, the full proof against the vendor's true faces,
 * and the checks of the assembly.
 */
export async function verifyPackage(
  kernel: Kernel,
  bytes: Uint8Array,
  file: string,
  { crew = ALONE, giveWay = () => Promise.resolve(), onProgress }: VerifyMeans = {},
): Promise<Result<{ name: string; checks: Check[] }>> {
  const opened = openPackage(bytes, file);
  if (!opened.ok) return opened;
  const { manifest, assembly, components, sources } = opened.value;
  const placed = placePieces(assembly, components);
  const checks: Check[] = [{ code: 'files', state: 'pass', message: `${manifest.files.length} files, each as it was packed` }];
  checks.push(...verifyNumbers(opened.value, placed));
  const models: Record<string, Model | undefined> = {};
  const parts: Promise<Check[]>[] = [];
  const all = Object.keys(components);
  for (const [i, id] of all.entries()) {
    const record = components[id];
    onProgress?.((0.9 * i) / all.length, record.name);
    const source = await OpenModel.open(kernel, sources[id], record.source.fileName, workOf(record));
    if (!source.ok) return source;
    try {
      const read = source.value.read();
      if (!read.ok) return read;
      models[id] = read.value.model;
      for (const piece of manifest.pieces.filter((p) => p.componentId === id)) {
        const gaugeFromFile = placed.get(piece.piece);
        for (const part of piece.parts) {
          const what = `${piece.name}, ${part.target}`;
          if (!gaugeFromFile) parts.push(Promise.resolve([{ code: 'enclosure', state: 'fail', message: `${what}: its piece has no place.` }]));
          else {
            // What needs the kernel is done in turn, what the crew proves goes on meanwhile.
            const { files, prove } = await verifyPart({
              kernel,
              opened: opened.value,
              source: source.value,
              model: read.value.model,
              record,
              what,
              part,
              gaugeFromFile,
              crew,
            });
            parts.push(prove().then((proofs) => [...files, ...proofs]));
            await giveWay();
          }
        }
      }
    } finally {
      source.value.close();
    }
  }
  onProgress?.(0.9, 'Proving');
  checks.push(...(await Promise.all(parts)).flat());
  return done({ name: manifest.name, checks: [...checks, ...checkAssembly(assembly, components, models)] });
}
