import { useMemo } from 'react';
import { say } from '#core/issues';
import { firstPiece } from '#core/assembly';
import { fittingFoot } from '#core/carrier';
import type { AssemblyRecord, Carrier, SetRecord } from '#core/records';
import { compareNames } from '#core/shelf';
import { checkFit } from '#core/standards';
import { selectComponentsById, useAppSelector } from '../../../app/store.ts';

export interface Choice {
  readonly assembly: AssemblyRecord;
  /** Why it does not go into this carrier. */
  readonly why: string | undefined;
}

/** What there is to load, what fits first; the rest with its reason. */
export function useChoices(carrier: Carrier): Choice[] {
  const records = useAppSelector((s) => s.library.records);
  const components = useAppSelector(selectComponentsById);
  return useMemo(() => {
    const all = Object.values(records).filter((r): r is AssemblyRecord => r.kind === 'assembly');
    const choices = all.map((assembly): Choice => {
      const first = firstPiece(assembly, components);
      const mount = first?.mount;
      if (!mount) return { assembly, why: 'its first piece has no mount' };
      if (fittingFoot(first, carrier.connection)) return { assembly, why: undefined };
      const fit = checkFit(mount.connection, carrier.connection);
      return { assembly, why: fit.ok ? undefined : fit.issues.map(say).join(' ') };
    });
    return choices.sort((a, b) => Number(a.why !== undefined) - Number(b.why !== undefined) || compareNames(a.assembly.name, b.assembly.name));
  }, [records, components, carrier.connection]);
}

/** The sets of the Shelf that hold something for this carrier, what stands in machines first. */
export function useSets(choices: readonly Choice[]): { readonly set: SetRecord; readonly assemblies: readonly AssemblyRecord[] }[] {
  const records = useAppSelector((s) => s.library.records);
  return useMemo(() => {
    const sets = Object.values(records).filter((r): r is SetRecord => r.kind === 'set');
    const of = sets.map((set) => ({ set, assemblies: choices.filter((c) => c.why === undefined && c.assembly.shelf.set === set.id).map((c) => c.assembly) }));
    return of.filter((s) => s.assemblies.length > 0).sort((a, b) => Number(b.set.purpose === 'machine') - Number(a.set.purpose === 'machine'));
  }, [records, choices]);
}
