import { firstPiece } from '#core/assembly';
import { fittingFoot, newCarrier, SHIPPED_MACHINES } from '#core/carrier';
import { failed, type Result } from '#core/issues';
import {
  type AnyRecord,
  type AssemblyRecord,
  type Carrier,
  type MachineRecord,
  nameBeside,
  type Place,
  type PlacedEdge,
  readRecordFile,
  SET_UP_VERSION,
  type SetUpRecord,
  type SpindleSide,
} from '#core/records';
import { recordsChanged } from '../app/library-slice.ts';
import { showDone, showIssues } from '../app/notify.tsx';
import { type RootState, selectAssembly, selectComponentsById, store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import { saveFile } from '../common/save-file.ts';
import { freeName } from './free-name.ts';

const now = () => new Date().toISOString();
const records = () => store.getState().library.records;

/** A machine: one's own, or one that ships and nobody has changed. */
export function machineOf(all: Readonly<Record<string, AnyRecord | undefined>>, id: string): MachineRecord | undefined {
  const own = all[id];
  return own?.kind === 'machine' ? own : SHIPPED_MACHINES.find((m) => m.id === id);
}

/** All machines: those that ship, as they are now, and one's own. */
export function machinesOf(all: Readonly<Record<string, AnyRecord | undefined>>): MachineRecord[] {
  const own = Object.values(all).filter((r): r is MachineRecord => r?.kind === 'machine');
  return [...SHIPPED_MACHINES.map((m) => machineOf(all, m.id) ?? m), ...own.filter((m) => !SHIPPED_MACHINES.some((s) => s.id === m.id))];
}

export function selectSetUp(state: RootState, id: string | null | undefined): SetUpRecord | undefined {
  const record = id ? state.library.records[id] : undefined;
  return record?.kind === 'set-up' ? record : undefined;
}

/** Starts a set-up on a machine and gives its id. */
export function newSetUp(machineId: string): string {
  const id = newId();
  const name = freeName('Set-up', 'set-up');
  const record: SetUpRecord = {
    kind: 'set-up',
    version: SET_UP_VERSION,
    id,
    name,
    machineId,
    places: [],
    blanks: { main: null, counter: null },
    createdAt: now(),
    changedAt: now(),
  };
  store.dispatch(recordsChanged(`New set-up ${name}`, { [id]: record }));
  return id;
}

/** Changes a set-up as one step of the history. */
export function changeSetUp(id: string, label: string, change: (record: SetUpRecord) => Partial<SetUpRecord>): void {
  const record = selectSetUp(store.getState(), id);
  if (record) store.dispatch(recordsChanged(label, { [id]: { ...record, ...change(record), changedAt: now() } }));
}

export const renameSetUp = (id: string, name: string): void => changeSetUp(id, `Renamed to ${name.trim()}`, () => ({ name: name.trim().slice(0, 200) }));

export function deleteSetUp(record: SetUpRecord): void {
  store.dispatch(recordsChanged(`Deleted ${record.name}`, { [record.id]: null }));
}

// What an assembly stands on in a carrier: what it stood on before, or the first of its feet that fits.
function footIn({ machineId }: SetUpRecord, carrierId: string, assemblyId: string, before?: Pick<Place, 'foot'>): Pick<Place, 'foot'> {
  const first = firstPiece(selectAssembly(store.getState(), assemblyId), selectComponentsById(store.getState()));
  const carrier = machineOf(records(), machineId)?.carriers.find((c) => c.id === carrierId);
  return (first && carrier && fittingFoot(first, carrier.connection, before)) || {};
}

/** Puts an assembly into a station that is free. */
export function loadStation(setUpId: string, at: Pick<Place, 'carrierId' | 'station' | 'assemblyId' | 'spindle'>, name: string): void {
  changeSetUp(setUpId, `${name} into station ${at.station}`, (r) => ({
    places: [...r.places, { id: newId(), turnDeg: 0, edges: [], ...at, ...footIn(r, at.carrierId, at.assemblyId) }],
  }));
}

export function clearStation(setUpId: string, place: Place): void {
  changeSetUp(setUpId, `Cleared station ${place.station}`, (r) => ({ places: r.places.filter((p) => p.id !== place.id) }));
}

export function changePlace(setUpId: string, place: Place, label: string, change: Partial<Place>): void {
  changeSetUp(setUpId, `${label} of station ${place.station}`, (r) => ({ places: r.places.map((p) => (p.id === place.id ? { ...p, ...change } : p)) }));
}

/** Another assembly at a station, the same way round; what was said of edges that it has too is kept. Of a head's tool in all its uses. */
export function replaceStation(setUpId: string, { carrierId, station }: Place, to: AssemblyRecord): void {
  changeSetUp(setUpId, `${to.name} into station ${station}`, (r) => ({
    places: r.places.map((p) =>
      p.carrierId === carrierId && p.station === station
        ? {
            ...p,
            foot: undefined,
            ...footIn(r, carrierId, to.id, p),
            assemblyId: to.id,
            edges: p.edges.filter((e) => to.pieces.some((piece) => piece.id === e.pieceId)),
          }
        : p,
    ),
  }));
}

/** What stands at a station goes to another one; what stands there comes back in exchange. */
export function moveStation(setUpId: string, carrierId: string, from: number, to: number): void {
  changeSetUp(setUpId, `Station ${from} to station ${to}`, (r) => ({
    places: r.places.map((p) => (p.carrierId !== carrierId ? p : p.station === from ? { ...p, station: to } : p.station === to ? { ...p, station: from } : p)),
  }));
}

/** One more use of a head's tool, at another angle; gives its id. */
export function addUse(setUpId: string, place: Place, angleDeg: number): string {
  const id = newId();
  changeSetUp(setUpId, `Another angle of station ${place.station}`, (r) => {
    const at = r.places.findIndex((p) => p.id === place.id);
    // Numbers of its own are to be said: two uses are two tools to the control.
    return { places: [...r.places.slice(0, at + 1), { ...place, id, angleDeg, edges: [] }, ...r.places.slice(at + 1)] };
  });
  return id;
}

/** Puts assemblies into the free stations of a carrier, one after the other, as one step; gives how many found no station. */
export function loadMany(setUpId: string, carrier: Pick<Carrier, 'id' | 'stations'>, assemblies: readonly AssemblyRecord[], label: string): number {
  const held = new Set(
    selectSetUp(store.getState(), setUpId)
      ?.places.filter((p) => p.carrierId === carrier.id)
      .map((p) => p.station),
  );
  const free = Array.from({ length: carrier.stations }, (_, i) => i + 1).filter((n) => !held.has(n));
  const loaded = assemblies.slice(0, free.length);
  changeSetUp(setUpId, label, (r) => ({
    places: [
      ...r.places,
      ...loaded.map(
        (a, i): Place => ({
          id: newId(),
          carrierId: carrier.id,
          station: free[i],
          assemblyId: a.id,
          turnDeg: 0,
          spindle: 'main',
          edges: [],
          ...footIn(r, carrier.id, a.id),
        }),
      ),
    ],
  }));
  return assemblies.length - loaded.length;
}

/** Says more of an edge where it stands. */
export function sayOfPlacedEdge(setUpId: string, place: Place, of: Pick<PlacedEdge, 'pieceId' | 'tipId'>, label: string, said: Partial<PlacedEdge>): void {
  const isIt = (e: PlacedEdge) => e.pieceId === of.pieceId && e.tipId === of.tipId;
  const before = place.edges.find(isIt) ?? of;
  changePlace(setUpId, place, label, { edges: [...place.edges.filter((e) => !isIt(e)), { ...before, ...said }] });
}

/** Changes a machine as one step of the history; one that ships becomes one's own by it. */
export function changeMachine(id: string, label: string, change: (record: MachineRecord) => MachineRecord): void {
  const record = machineOf(records(), id);
  if (record) store.dispatch(recordsChanged(label, { [id]: { ...change(record), changedAt: now() } }));
}

/** Changes a part of a spindle; of one that is not there nothing. */
export const changeSpindle = (machineId: string, side: SpindleSide, label: string, more: Partial<NonNullable<MachineRecord['spindles']['counter']>>): void =>
  changeMachine(machineId, label, (m) => {
    const before = m.spindles[side];
    return before ? { ...m, spindles: { ...m.spindles, [side]: { ...before, ...more } } } : m;
  });

/** Changes a part of a carrier. */
export const changeCarrier = (machineId: string, carrier: Carrier, label: string, more: Partial<Carrier>): void =>
  changeMachine(machineId, `${label} of the ${carrier.name}`, (m) => ({
    ...m,
    carriers: m.carriers.map((c) => (c.id === carrier.id ? ({ ...c, ...more } as Carrier) : c)),
  }));

/** A machine of one's own, as another one is; gives its id. */
export function copyMachine(machine: MachineRecord): string {
  const id = newId();
  const name = freeName(`${machine.name}, copy`.slice(0, 200), 'machine');
  store.dispatch(recordsChanged(`Copied ${machine.name}`, { [id]: { ...machine, id, name, createdAt: now(), changedAt: now() } }));
  return id;
}

/** One more carrier on a machine. */
export const addCarrier = (machine: MachineRecord, kind: Carrier['kind']): void =>
  changeMachine(machine.id, `New ${kind}`, (m) => ({
    ...m,
    carriers: [
      ...m.carriers,
      newCarrier(
        kind,
        newId(),
        nameBeside(kind, (n) => m.carriers.some((c) => c.name === n)),
      ),
    ],
  }));

/** A machine again as it ships. */
export function resetMachine(machine: MachineRecord): void {
  store.dispatch(recordsChanged(`${machine.name} as it ships`, { [machine.id]: null }));
}

export const saveMachine = (machine: MachineRecord): void =>
  saveFile(`${machine.name}.json`, new TextEncoder().encode(JSON.stringify(machine, null, 2)), 'application/json');

/** Reads a machine from a file and gives its id; a fault is said. */
export async function openMachine(file: File): Promise<string | undefined> {
  const read = readMachine(new Uint8Array(await file.arrayBuffer()), file.name);
  if (!read.ok) {
    showIssues(`Opening ${file.name}`, read.issues);
    return undefined;
  }
  const isThere = machineOf(records(), read.value.id) !== undefined;
  const machine = isThere ? { ...read.value, id: newId(), name: freeName(read.value.name, 'machine') } : read.value;
  store.dispatch(recordsChanged(`Opened ${file.name}`, { [machine.id]: machine }));
  showDone(`${machine.name} is there.`);
  return machine.id;
}

function readMachine(bytes: Uint8Array, file: string): Result<MachineRecord> {
  const read = readRecordFile(bytes, file);
  if (!read.ok) return read;
  return read.value.kind === 'machine'
    ? { ok: true, value: read.value }
    : failed('record.bad', { file, field: 'kind', text: `it is a ${read.value.kind}, not a machine` });
}
