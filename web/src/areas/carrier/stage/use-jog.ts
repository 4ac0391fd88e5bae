import { useMemo, useState } from 'react';
import { type Jog, jogOf, type SaidPlace, type SetUpParts, type StationRow } from '#core/carrier';
import type { Carrier } from '#core/records';

/** Where the tool of a station stands, as it was typed for it. */
export function useJog(row: StationRow | undefined, carrier: Carrier, parts: SetUpParts): Jog & { readonly to: (said: SaidPlace) => void } {
  const [typed, setTyped] = useState<{ readonly of: string; readonly said: SaidPlace }>({ of: '', said: {} });
  const { machine, setUp } = parts;
  const key = row ? `${row.place.id} ${row.place.spindle}` : '';
  return useMemo(() => {
    const said = typed.of === key ? typed.said : {};
    return { ...jogOf(row, carrier, { machine, setUp }, said), to: (more: SaidPlace) => setTyped({ of: key, said: { ...said, ...more } }) };
  }, [row, carrier, machine, setUp, typed, key]);
}
