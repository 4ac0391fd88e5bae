// Coordinate systems by name, as ISO/TS 13399-80 has them in STEP files: read from the text, and written into it.
import { type Frame, moveFrame, type Vec3 } from '#core/math';
import type { NamedPlacement } from '#core/mesh';
import { argumentsOf, bodyTextOf, type Part21File, referencesIn, stringOf, type TextEdit } from './part21.ts';
import { type EntitiesByType, fileUnit, placementFrame, scaleOfItem, type StepParts } from './step-parts.ts';

// PCS primary, MCS mounting (machine side), CSW workpiece side with a number, CRP cutting reference point, CIP in process.
const NAME = /^(PCS|MCS|CSW|CRP|CIP)[ _.-]?(\d*)\b/i;

// Of the many placements of a file only those whose name begins so are looked at closer.
const BEGINS = /^\s*\(?\s*'\s*[PMC]/i;

/** The placements of a STEP file that have such a name, by their entity. */
export function namedPlacements(file: Part21File, byType: EntitiesByType): Map<number, string> {
  const out = new Map<number, string>();
  for (const id of byType.get('AXIS2_PLACEMENT_3D') ?? []) {
    const entity = file.entities.get(id);
    if (!entity || !BEGINS.test(file.text.slice(entity.start, entity.start + 8))) continue;
    const name = NAME.exec((stringOf(argumentsOf(file, entity)[0] ?? '') ?? '').trim());
    if (name) out.set(id, `${name[1].toUpperCase()}${name[2]}`);
  }
  return out;
}

/**
 * Placements by name in the file's coordinates, mm. In an assembly its own count; where it has no MCS or PCS, those of the one part that has, which is placed once,
 * with the cutting points of all others that are.
 */
export function readPlacements(file: Part21File, named: ReadonlyMap<number, string>, parts: StepParts): NamedPlacement[] {
  const found = [...named].flatMap(([id, name]): (NamedPlacement & { readonly part?: number })[] => {
    const representation = parts.representationOfItem.get(id);
    const uses = representation === undefined ? undefined : parts.uses.get(representation);
    const frame = placementFrame(file, id, scaleOfItem(parts, id) ?? fileUnit(file, parts).unitScale);
    if (!frame || (uses && uses.length !== 1)) return [];
    return [uses ? { name, frame: moveFrame(uses[0], frame), part: representation } : { name, frame }];
  });
  const ofFile = found.filter((p) => p.part === undefined);
  const isMachineSide = (p: NamedPlacement) => /^[MP]CS/.test(p.name);
  const holders = ofFile.some(isMachineSide) ? [] : [...new Set(found.filter(isMachineSide).map((p) => p.part))];
  // An insert's model has a mounting system as well, but nothing that it holds.
  const holding = holders.filter((part) => found.some((p) => p.part === part && p.name.startsWith('CSW')));
  const [main] = holding.length === 1 ? holding : holders.length === 1 ? holders : [];
  return found.flatMap(({ name, frame, part }) =>
    part === undefined || part === main || (main !== undefined && name.startsWith('CRP')) ? [{ name, frame }] : [],
  );
}

/**
 * What to change in a STEP file whose shape representations have placements by name, or further ones beside solids, among their items, so that they are not there:
 * the kernel would move a body by the last of them.
 */
export function placementItemEdits(file: Part21File, byType: EntitiesByType, named: ReadonlyMap<number, string>): TextEdit[] {
  const isPlacement = (id: number) => file.entities.get(id)?.type === 'AXIS2_PLACEMENT_3D';
  // What places a part of an assembly has to stay.
  const places = new Set((byType.get('ITEM_DEFINED_TRANSFORMATION') ?? []).flatMap((id) => referencesIn(bodyTextOf(file, id))));
  const cuts: TextEdit[] = [];
  for (const id of [...byType].flatMap(([type, ids]) => (type.endsWith('SHAPE_REPRESENTATION') ? ids : []))) {
    const entity = file.entities.get(id);
    if (!entity) continue;
    const body = bodyTextOf(file, id);
    const list = /\(([^()]*)\)/.exec(body);
    if (!list) continue;
    const all = referencesIn(list[1]);
    // Beside solids only the first one without a name is the representation's own.
    const first = all.find((id) => isPlacement(id) && !named.has(id));
    const kept = all.filter((id) => places.has(id) || (!named.has(id) && (entity.type === 'SHAPE_REPRESENTATION' || id === first || !isPlacement(id))));
    // A representation has to have items.
    if (kept.length === 0 || kept.length === all.length) continue;
    const from = entity.start + list.index;
    cuts.push({ from, to: from + list[0].length, text: `(${kept.map((id) => `#${id}`).join(',')})` });
  }
  return cuts;
}

/**
 * The text of a STEP file in mm with placements by name added, as supplemental geometry beside its first shape representation: among the items of that they would
 * move the bodies for some readers.
 */
export function withNamedPlacements(step: string, placements: readonly NamedPlacement[]): string {
  const representation = /#(\d+)\s*=\s*(?:ADVANCED_BREP_|MANIFOLD_SURFACE_)?SHAPE_REPRESENTATION\s*\(\s*'(?:[^']|'')*'\s*,\s*\([^)]*\)\s*,\s*(#\d+)\s*\)/.exec(
    step,
  );
  if (placements.length === 0 || !representation) return step;
  let next = 0;
  for (const [, id] of step.matchAll(/^#(\d+)\s*=/gm)) next = Math.max(next, Number(id));
  const lines: string[] = [];
  const add = (entity: string): number => {
    next++;
    lines.push(`#${next} = ${entity};`);
    return next;
  };
  const triple = (v: Vec3) => `(${v.map(real).join(',')})`;
  const ids = placements.map(({ name, frame: { origin, z, x } }) => {
    const at = add(`CARTESIAN_POINT('',${triple(origin)})`);
    const axis = add(`DIRECTION('',${triple(z)})`);
    const ref = add(`DIRECTION('',${triple(x)})`);
    return add(`AXIS2_PLACEMENT_3D('${name}',#${at},#${axis},#${ref})`);
  });
  const own = add(`CONSTRUCTIVE_GEOMETRY_REPRESENTATION('supplemental geometry',(${ids.map((id) => `#${id}`).join(',')}),${representation[2]})`);
  add(`CONSTRUCTIVE_GEOMETRY_REPRESENTATION_RELATIONSHIP('supplemental geometry','',#${representation[1]},#${own})`);
  const end = step.lastIndexOf('ENDSEC;');
  return `${step.slice(0, end)}${lines.join('\n')}\n${step.slice(end)}`;
}

const real = (v: number): string => {
  const tidy = Math.abs(v) < 1e-12 ? 0 : v;
  const text = String(Number(tidy.toPrecision(15)));
  return /e/i.test(text) ? tidy.toExponential(12).toUpperCase() : text.includes('.') ? text : `${text}.`;
};

/** The frames of a mount and of what is on its workpiece side as placements: MCS with PCS the same, CSW1, CSW2 ..., CRP at the tips. */
export function placementsOf(mount: Frame, seats: readonly Frame[], tips: readonly Vec3[]): NamedPlacement[] {
  const numbered = (name: string, i: number, many: number) => (many > 1 ? `${name}${i + 1}` : name);
  return [
    { name: 'PCS', frame: mount },
    { name: 'MCS', frame: mount },
    ...seats.map((frame, i) => ({ name: `CSW${i + 1}`, frame })),
    ...tips.map((origin, i) => ({ name: numbered('CRP', i, tips.length), frame: { origin, z: mount.z, x: mount.x } })),
  ];
}
