import { useMemo } from 'react';
import { type SetUpParts, type SetUpTable, setUpTable } from '#core/carrier';
import type { AssemblyRecord, ComponentRecord, MachineRecord, SetUpRecord } from '#core/records';
import { selectComponentsById, useAppSelector } from '../../app/store.ts';
import { useComponentModels } from '../../store/models.ts';

export interface OpenSetUp {
  readonly parts: SetUpParts;
  readonly table: SetUpTable;
  /** Whether models are still on their way. */
  readonly isLoading: boolean;
}

/** A set-up with its machine, assemblies, components and models as far as they are there, and what follows from them. */
export function useSetUp(setUp: SetUpRecord, machine: MachineRecord): OpenSetUp {
  const records = useAppSelector((s) => s.library.records);
  const byId = useAppSelector(selectComponentsById);
  const assemblies = useMemo(() => {
    const used = setUp.places.map((p) => records[p.assemblyId]);
    return Object.fromEntries(used.flatMap((r): [string, AssemblyRecord][] => (r?.kind === 'assembly' ? [[r.id, r]] : [])));
  }, [setUp.places, records]);
  const components = useMemo(() => {
    const ids = new Set(Object.values(assemblies).flatMap((a) => a.pieces.map((p) => p.componentId)));
    return Object.fromEntries([...ids].flatMap((id): [string, ComponentRecord][] => (byId[id] ? [[id, byId[id]]] : [])));
  }, [assemblies, byId]);
  const { models, isLoading } = useComponentModels(useMemo(() => Object.values(components), [components]));
  const parts = useMemo((): SetUpParts => ({ machine, setUp, assemblies, components, models }), [machine, setUp, assemblies, components, models]);
  const table = useMemo(() => setUpTable(parts), [parts]);
  return { parts, table, isLoading };
}
