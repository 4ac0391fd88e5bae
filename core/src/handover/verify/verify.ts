import { checkAssembly, placePieces } from '#core/assembly';
import { done, type Result } from '#core/issues';
import { type Kernel, OpenModel } from '#core/kernel';
import { ALONE, type Crew } from '#core/making';
import type { Model } from '#core/mesh';
import type { Check } from '#core/records';
import { workOf } from '#core/sources';
import { openAnyPackage, type OpenedPackage, type OpenedSetUp } from '../open-package.ts';
import { toldOf } from '../pack-set-up.ts';
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
 * The checks of a package of either kind, recomputed from its own files: hashes and schema (or it does not open), numbers and places against the records,
 * every mesh closed and the same in every format, turned meshes and STEP files against their profiles or the vendor's bodies, the full proof against the
 * vendor's true faces, and the checks of the assemblies; of a set-up what is told of it, and its programs.
 */
export async function verifyPackage(
  kernel: Kernel,
  bytes: Uint8Array,
  file: string,
  means: VerifyMeans = {},
): Promise<Result<{ name: string; checks: Check[] }>> {
  const read = openAnyPackage(bytes, file);
  if (!read.ok) return read;
  const opened = read.value;
  const { name, files } = opened.manifest;
  const assemblies = opened.kind === 'set-up' ? opened.assemblies : [opened];
  const checks: Check[] = [{ code: 'files', state: 'pass', message: `${files.length} files, each as it was packed` }];
  const verified = await verifyAssemblies(kernel, opened, assemblies, means);
  if (!verified.ok) return verified;
  const { models, said } = verified.value;
  const sayOf = (i: number, c: Check): Check => (assemblies.length > 1 ? { ...c, message: `${assemblies[i].manifest.name}: ${c.message}` } : c);
  checks.push(...said.flatMap((list, i) => list.map((c) => sayOf(i, c))));
  if (opened.kind === 'set-up') checks.push(...verifySetUp(opened, models));
  return done({ name, checks });
}

// Of each assembly; a vendor's file is opened once for all of them.
async function verifyAssemblies(
  kernel: Kernel,
  { components, sources }: Pick<OpenedPackage, 'components' | 'sources'>,
  assemblies: readonly OpenedPackage[],
  { crew = ALONE, giveWay = () => Promise.resolve(), onProgress }: VerifyMeans,
): Promise<Result<{ models: Record<string, Model | undefined>; said: Check[][] }>> {
  const placed = assemblies.map((a) => placePieces(a.assembly, a.components));
  const models: Record<string, Model | undefined> = {};
  const parts: Promise<Check[]>[][] = assemblies.map(() => []);
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
      for (const [k, opened] of assemblies.entries())
        for (const piece of opened.manifest.pieces.filter((p) => p.componentId === id)) {
          const gaugeFromFile = placed[k].get(piece.piece);
          for (const part of piece.parts) {
            const what = `${piece.name}, ${part.target}`;
            if (!gaugeFromFile) {
              parts[k].push(Promise.resolve([{ code: 'enclosure', state: 'fail', message: `${what}: its piece has no place.` }]));
              continue;
            }
            // What needs the kernel is done in turn, what the crew proves goes on meanwhile.
            const { files, prove } = await verifyPart({
              kernel,
              opened,
              source: source.value,
              model: read.value.model,
              record,
              what,
              part,
              gaugeFromFile,
              crew,
            });
            parts[k].push(prove().then((proofs) => [...files, ...proofs]));
            await giveWay();
          }
        }
    } finally {
      source.value.close();
    }
  }
  onProgress?.(0.9, 'Proving');
  const said: Check[][] = [];
  for (const [k, opened] of assemblies.entries())
    said.push([...verifyNumbers(opened, placed[k]), ...(await Promise.all(parts[k])).flat(), ...checkAssembly(opened.assembly, opened.components, models)]);
  return done({ models, said });
}

// What is told of the set-up follows from its records and models, and its programs are those of its trials; then its own checks.
function verifySetUp(opened: OpenedSetUp, models: Record<string, Model | undefined>): Check[] {
  const { manifest, machine, setUp, trials, components, files } = opened;
  const assemblies = Object.fromEntries(opened.assemblies.map(({ assembly }) => [assembly.id, assembly]));
  const told = toldOf({ machine, setUp, assemblies, components, models });
  const at = firstDifference(manifest.told, JSON.parse(JSON.stringify(told.json)), 'told');
  const wrong = trials.flatMap(({ id, name, programs }) =>
    programs.flatMap(({ text }, i): string[] => {
      const path = manifest.programs[id]?.[i];
      return path !== undefined && new TextDecoder().decode(files[path]) === text ? [] : [`${name}, program ${i + 1}`];
    }),
  );
  return [
    at === undefined
      ? { code: 'set-up', state: 'pass', message: 'What is told of the stations follows from the records' }
      : { code: 'set-up', state: 'fail', message: `What is told of the stations differs at ${at} from what follows from the records.` },
    ...(trials.length === 0
      ? []
      : [
          wrong.length === 0
            ? ({ code: 'programs', state: 'pass', message: `${trials.length} ${trials.length === 1 ? 'trial' : 'trials'}, each with its programs` } as const)
            : ({ code: 'programs', state: 'fail', message: `A program is not that of its trial: ${wrong.join('; ')}.` } as const),
        ]),
    ...told.checks,
  ];
}

// Numbers as far as they are told; mm and degrees.
const SAME_NUMBER = 1e-6;

/** The path at which two plain values differ first; undefined where they are the same. */
function firstDifference(a: unknown, b: unknown, path: string): string | undefined {
  if (typeof a === 'number' && typeof b === 'number') return Math.abs(a - b) <= SAME_NUMBER ? undefined : path;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b ? undefined : path;
  const [one, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  for (const key of new Set([...Object.keys(one), ...Object.keys(other)])) {
    const at = firstDifference(one[key], other[key], `${path}.${key}`);
    if (at !== undefined) return at;
  }
  return undefined;
}
