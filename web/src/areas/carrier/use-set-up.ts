import { useMemo } from 'react';
import { type SetUpParts, type SetUpTable, setUpTable } from '#core/carrier';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord, MachineRecord, SetUpRecord } from '#core/records';
import { selectComponentsById, useAppSelector } from '../../app/store.ts';
import { useModels } from '../../store/models.ts';

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
  const loaded = useModels(useMemo(() => [...new Set(Object.values(components).map((c) => c.model.blob))], [components]));
  const models = useMemo(
    () =>
      Object.fromEntries(
        Object.values(components).map((c): [string, Model | undefined] => {
          const model = loaded[c.model.blob];
          return [c.id, model?.state === 'ready' ? model.value : undefined];
        }),
      ),
    [components, loaded],
  );
  const parts = useMemo((): SetUpParts => ({ machine, setUp, assemblies, components, models }), [machine, setUp, assemblies, components, models]);
  const table = useMemo(() => setUpTable(parts), [parts]);
  const isLoading = Object.values(components).some((c) => (loaded[c.model.blob]?.state ?? 'loading') === 'loading');
  return { parts, table, isLoading };
}
