import { type SetUpParts, tellSetUp, type ToldSetUp } from '#core/carrier';
import { done, failed, type Result } from '#core/issues';
import type { Kernel } from '#core/kernel';
import {
  type AssemblyManifest,
  type AssemblyRecord,
  type Check,
  type MachineRecord,
  PACKAGE_VERSION,
  safeFileName,
  type SetUpManifest,
  type SetUpRecord,
  type TrialRecord,
  writePackage,
} from '#core/records';
import { OpenSources } from '#core/sources';
import { type PackInput, Packing } from './pack.ts';

/** What packing a set-up needs beside the components of all its assemblies. */
export interface PackSetUpInput extends Omit<PackInput, 'assembly'> {
  readonly setUp: SetUpRecord;
  readonly machine: MachineRecord;
  readonly assemblies: Readonly<Record<string, AssemblyRecord | undefined>>;
  /** The trials of it that go along. */
  readonly trials: readonly TrialRecord[];
  /** What is told of it, where somebody has asked already. */
  readonly told?: ToldSetUp;
}

export interface PackedSetUp {
  readonly bytes: Uint8Array;
  readonly manifest: Omit<SetUpManifest, 'files'>;
  /** Of all its assemblies and of the set-up itself. */
  readonly checks: readonly Check[];
}

/**
 * Makes the package of a set-up: all its assemblies as in packages of their own, each in its gauge frame, the machine, what stands where, what is told of
 * every edge, and the programs that are tried. Documented in docs/package.md.
 */
export async function packSetUp(kernel: Kernel, input: PackSetUpInput): Promise<Result<PackedSetUp>> {
  const open = input.open ?? new OpenSources(kernel);
  try {
    return await pack(input, new Packing(kernel, input, open));
  } finally {
    if (!input.open) open.close();
  }
}

async function pack(
  { setUp, machine, assemblies, components, trials, told, onProgress = () => undefined }: PackSetUpInput,
  packing: Packing,
): Promise<Result<PackedSetUp>> {
  const ids = [...new Set(setUp.places.map((p) => p.assemblyId))];
  if (ids.length === 0) return failed('package.empty-set-up', { name: setUp.name });
  const packed: AssemblyManifest[] = [];
  for (const [i, id] of ids.entries()) {
    const assembly = assemblies[id];
    const lost = setUp.places.find((p) => p.assemblyId === id);
    if (!assembly) return failed('package.lost-assembly', { name: setUp.name, station: lost?.station ?? 0 });
    const added = await packing.add(assembly, `assemblies/${i + 1}-${safeFileName(assembly.name)}/`, (share, text) =>
      onProgress((i + share) / (ids.length + 1), `${assembly.name}: ${text}`),
    );
    if (!added.ok) return added;
    packed.push(added.value);
  }
  onProgress(ids.length / (ids.length + 1), 'Looking at the stations');
  const { json, checks } = told ?? toldOf({ machine, setUp, assemblies, components, models: packing.models });
  const manifest: Omit<SetUpManifest, 'files'> = {
    format: 'ruota-set-up',
    version: PACKAGE_VERSION,
    name: setUp.name,
    machine,
    setUp,
    trials: [...trials],
    told: { ...json },
    programs: packPrograms(trials, packing.files),
    assemblies: packed,
    ...packing.rest(),
  };
  const own = packed.flatMap((a) => a.checks.map((c) => ({ ...c, message: `${a.name}: ${c.message}` })));
  return done({ bytes: writePackage(manifest, packing.files), manifest, checks: [...own, ...checks] });
}

/** What `ruota setup` tells of a set-up. */
export function toldOf(parts: SetUpParts): ToldSetUp {
  const telling = tellSetUp(parts);
  for (;;) {
    const step = telling.next();
    if (step.done) return step.value;
  }
}

// Programs as text, for whoever runs them elsewhere; two of the same name stand beside each other.
function packPrograms(trials: readonly TrialRecord[], files: Record<string, Uint8Array>): Record<string, string[]> {
  return Object.fromEntries(
    trials.map(({ id, name, programs }, i) => {
      const paths = programs.map((program, k) => {
        const plain = `programs/${i + 1}-${safeFileName(name)}/${safeFileName(program.name || `program-${k + 1}.nc`)}`;
        const path = files[plain] ? plain.replace(/(\.[^./]*)?$/, `-${k + 1}$1`) : plain;
        files[path] = new TextEncoder().encode(program.text);
        return path;
      });
      return [id, paths];
    }),
  );
}
