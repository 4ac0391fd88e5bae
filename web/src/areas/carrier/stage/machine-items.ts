import { placePieces } from '#core/assembly';
import { chuckShapes, type MachineShape, noseAt, ownBodyOf, parkedAt, type SetUpParts, stationMotion, type StationRow, turningFrame } from '#core/carrier';
import { compose, type Motion, translation, type Vec3, worldFromFrame } from '#core/math';
import { type Model, modelFromMeshes } from '#core/mesh';
import { type Carrier, SPINDLES, type SpindleSide } from '#core/records';
import { assemblyItems } from '../../../scene/assembly-items.ts';
import type { StageItem } from '../../../scene/picks.ts';

const NOTHING_HIDDEN: ReadonlySet<string> = new Set();
// What the machine is drawn with: paler than tools, so that they stand out.
const MACHINE_COLOURS: Readonly<Record<string, string>> = { chuck: '#a9a596', work: '#e4d6b4', disc: '#8d9296', head: '#8d9296' };
const JAW_COLOUR = '#8f8a7c';

// Machines change seldom; the same shapes are the same model, which keeps what is drawn of them.
const drawn = new Map<string, Model | undefined>();
const MOST_KEPT = 24;

function modelOf(key: string, shapes: () => readonly MachineShape[]): Model | undefined {
  if (!drawn.has(key)) {
    const made = modelFromMeshes({ format: 'stl', unit: 'mm', unitScale: 1, objects: shapes() }, 'machine');
    drawn.set(key, made.ok ? made.value.model : undefined);
    const oldest = drawn.keys().next().value;
    if (drawn.size > MOST_KEPT && oldest !== undefined) drawn.delete(oldest);
  }
  return drawn.get(key);
}

function item(key: string, model: Model | undefined, stageFromModel: Motion): StageItem[] {
  if (!model) return [];
  const colours = Object.fromEntries(model.bodies.map((b) => [b.id, MACHINE_COLOURS[b.name.replace(/ \d+$/, '')] ?? JAW_COLOUR]));
  return [{ key, model, stageFromModel, roles: Object.fromEntries(model.bodies.map((b) => [b.id, 'hardware' as const])), hidden: NOTHING_HIDDEN, colours }];
}

/** What stands at the spindles, in the machine's frame; the one that is not used stands aside. */
export function spindleItems({ machine, setUp }: Pick<SetUpParts, 'machine' | 'setUp'>, used: SpindleSide): StageItem[] {
  return SPINDLES.flatMap((side) => {
    const spindle = machine.spindles[side];
    const at = noseAt(machine, side, setUp);
    if (!spindle || at === undefined) return [];
    const blank = setUp.blanks[side];
    const key = JSON.stringify([spindle.chuck, blank]);
    const items = item(
      `spindle ${side}`,
      modelOf(key, () => chuckShapes(spindle.chuck, blank)),
      worldFromFrame(turningFrame(side, 'above', at)),
    );
    return side === used ? items : items.map((i) => ({ ...i, aside: true }));
  });
}

// What a station holds, as it stands at work with the reference in the machine's origin: kept while its row is the same, for it is drawn anew with every step of a jog.
const held = new WeakMap<StationRow, { readonly models: SetUpParts['models']; readonly items: readonly StageItem[] }>();

function itemsAtWork(row: StationRow, { components, models }: SetUpParts): readonly StageItem[] {
  const { motion, assembly, place } = row;
  if (!motion || !assembly) return [];
  const known = held.get(row);
  if (known?.models === models) return known.items;
  const placed = new Map([...placePieces(assembly, components)].map(([id, m]) => [id, compose(motion, m)]));
  const items = assemblyItems(assembly, components, models, placed).map((i) => ({ ...i, key: `${place.id} ${i.key}` }));
  held.set(row, { models, items });
  return items;
}

/**
 * A carrier with all that it holds while a station is at work, its reference at a place of the machine. Between two numbers it is being indexed from one to the
 * other. Of a head the use that is shown, else the first.
 */
export function carrierItems(carrier: Carrier, rows: readonly StationRow[], atWork: number, reference: Vec3, parts: SetUpParts, use?: string): StageItem[] {
  const moved = translation(reference);
  // A head holds one tool, however many uses it has.
  const uses = rows.filter((r) => r.place.station === atWork && r.place.carrierId === carrier.id);
  const seen = carrier.kind === 'swivel head' ? [uses.find((r) => r.place.id === use) ?? uses[0]].filter((r) => r !== undefined) : rows;
  const stations = seen.flatMap((row): StageItem[] => {
    const there = row.place.carrierId === carrier.id ? stationMotion(carrier, row.place.station, atWork) : undefined;
    if (!there) return [];
    const stand = compose(moved, there);
    return itemsAtWork(row, parts).map((i) => ({ ...i, stageFromModel: compose(stand, i.stageFromModel) }));
  });
  const own = ownBodyOf(carrier, seen[0]?.place.angleDeg);
  if (!own) return stations;
  const model = modelOf(shapeKey(carrier), () => [{ name: own.name, mesh: own.mesh }]);
  // A disc looks the same at every station; it is seen to turn on the way from one to the next.
  const turned = stationMotion(carrier, Math.round(atWork), atWork) ?? translation([0, 0, 0]);
  const items = item(`${own.name} ${carrier.id}`, model, compose(moved, compose(turned, own.motion)));
  // A head is far larger than its tool: the view is not fitted to it.
  return [...(carrier.kind === 'turret' ? items : items.map((i) => ({ ...i, aside: true }))), ...stations];
}

// What the shape of a carrier itself follows from.
function shapeKey(carrier: Carrier): string {
  if (carrier.kind === 'slide') return '';
  const size = carrier.kind === 'turret' ? carrier.disc : carrier.head;
  const { kind, stations, side } = carrier;
  return JSON.stringify([kind, size?.measured?.inputs ?? size, side, ...(kind === 'turret' ? [carrier.mounting, carrier.faces, stations] : [])]);
}

/** The carriers that stand still while one works, with what they hold; the view is not fitted to them. */
export function parkedItems(working: Carrier, rows: readonly StationRow[], parts: SetUpParts): StageItem[] {
  return parts.machine.carriers.flatMap((carrier): StageItem[] => {
    const first = rows.find((r) => r.place.carrierId === carrier.id);
    if (carrier.id === working.id || !first) return [];
    return carrierItems(carrier, rows, first.place.station, parkedAt(carrier), parts).map((i) => ({ ...i, aside: true }));
  });
}
