// Bodies of a STEP file that has triangles instead of true faces (ISO 10303-42, tessellated shape models; AP242).
import { done, failed, type Result } from '#core/issues';
import { IDENTITY, type Motion } from '#core/math';
import { type MeshFile, type MeshObject, moveMesh, type NamedPlacement, type TriMesh } from '#core/mesh';
import { scanStep } from './check-step.ts';
import {
  argumentOf,
  argumentsOf,
  bodyTextOf,
  entitiesByType,
  lineOf,
  numbersIn,
  type Part21Entity,
  type Part21File,
  referencesIn,
  stringOf,
} from './part21.ts';
import { namedPlacements, readPlacements } from './named-placements.ts';
import { commonColour, readColours } from './step-colours.ts';
import { SHELL_TYPES, SOLID_TYPES } from './step-facts.ts';
import { readLayers, readProductNames, withLayer } from './step-names.ts';
import { type EntitiesByType, fileUnit, readParts, scaleOfItem } from './step-parts.ts';

const SOLID = 'TESSELLATED_SOLID';
const SHELL = 'TESSELLATED_SHELL';
// Bytes in which a file names its schema.
const HEADER = 20_000;
const TRUE_FACES = [...SOLID_TYPES, ...SHELL_TYPES];

const known = new WeakMap<Uint8Array, boolean>();

/** Whether the bodies of a STEP file are of triangles only; where true faces are there as well, those count. */
export function isTessellatedStep(bytes: Uint8Array): boolean {
  const before = known.get(bytes);
  if (before !== undefined) return before;
  const decoder = new TextDecoder('latin1');
  const has = (text: string, types: readonly string[]) => types.some((type) => text.includes(type));
  // Other schemas have none, and need not be looked through.
  const text = decoder.decode(bytes.subarray(0, HEADER)).includes('AP242') ? decoder.decode(bytes) : '';
  const answer = has(text, [SOLID, SHELL]) && !has(text, TRUE_FACES);
  known.set(bytes, answer);
  return answer;
}

/** The bodies of such a file, where an assembly has them, in the file's unit, and its named coordinate systems in mm. */
export function readStepTriangles(bytes: Uint8Array, file: string): Result<MeshFile & { readonly placements: readonly NamedPlacement[] }> {
  const scanned = scanStep(bytes, file);
  if (!scanned.ok) return scanned;
  const step = scanned.value;
  const byType = entitiesByType(step);
  const elsewhere = findMoved(step, byType);
  if (elsewhere !== undefined) return failed('step.moved-triangles', { file, ...placeOf(step, elsewhere) });
  const parts = readParts(step, byType);
  const { unit, unitScale } = fileUnit(step, parts);
  const names = readProductNames(step, byType, isBody);
  const colours = readColours(step, byType);
  const layers = readLayers(step, byType);
  const solids = byType.get(SOLID) ?? [];
  const shells = byType.get(SHELL) ?? [];
  const itemsOf = (id: number) => argumentOf(step, id, 1, referencesIn) ?? [];
  // A solid may list its shells.
  const within = new Set(solids.flatMap(itemsOf));
  const objects: MeshObject[] = [];
  for (const id of [...solids, ...shells.filter((shell) => !within.has(shell))]) {
    const faces = itemsOf(id).flatMap((item) => (step.entities.get(item)?.type === SHELL ? itemsOf(item) : [item]));
    const read = readFaces(step, file, faces);
    if (!read.ok) return read;
    const name = withLayer((argumentOf(step, id, 0, stringOf) || names.get(id) || '').trim(), layers.get(id));
    const colour = colours.get(id) ?? commonColour(faces, colours);
    const scale = (scaleOfItem(parts, id) ?? unitScale) / unitScale;
    const uses = parts.uses.get(parts.representationOfItem.get(id) ?? -1) ?? [IDENTITY];
    for (const motion of uses) objects.push({ name, ...(colour ? { colour } : {}), mesh: placed(read.value, scale, motion, unitScale) });
  }
  const placements = readPlacements(step, namedPlacements(step, byType), parts);
  return done({ format: 'step', unit, unitScale, objects, placements });
}

const isBody = (type: string): boolean => type === SOLID || type === SHELL;

// A body that stands elsewhere than its coordinates say: a mapped item of what holds one, or one that is repositioned, the only kind that is written as several
// types in one.
function findMoved(step: Part21File, byType: EntitiesByType): number | undefined {
  const holdsBody = (representation: number) =>
    (argumentOf(step, representation, 1, referencesIn) ?? []).some((item) => isBody(step.entities.get(item)?.type ?? ''));
  const mapped = byType.get('MAPPED_ITEM')?.find((id) => {
    const map = argumentOf(step, id, 1, referencesIn)?.[0] ?? -1;
    return (argumentOf(step, map, 1, referencesIn) ?? []).some(holdsBody);
  });
  return mapped ?? byType.get('')?.find((id) => /\bTESSELLATED_S(?:OLID|HELL)\b/.test(bodyTextOf(step, id)));
}

const placeOf = (step: Part21File, id: number) => ({ entity: `#${id}`, line: lineOf(step.text, step.entities.get(id)?.start ?? 0) });

// From a part's own unit into the file's, and to where the assembly has it; motions are in mm.
const placed = (mesh: TriMesh, scale: number, { r, t }: Motion, unitScale: number): TriMesh =>
  moveMesh({ r, t: [t[0] / unitScale, t[1] / unitScale, t[2] / unitScale] }, { ...mesh, positions: mesh.positions.map((v) => v * scale) });

// All faces of a body as one mesh; each has its own list of coordinates, or shares one.
function readFaces(step: Part21File, file: string, faces: readonly number[]): Result<TriMesh> {
  const starts = new Map<number, { readonly start: number; readonly count: number }>();
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const face of faces) {
    const entity = step.entities.get(face) as Part21Entity;
    // Edges and points of a body carry no triangles.
    if (/^TESSELLATED_(?:EDGE|CONNECTING_EDGE|VERTEX|WIRE)$/.test(entity.type)) continue;
    const cornersOf = CORNERS[entity.type];
    if (!cornersOf) return failed('step.unknown-triangles', { file, ...placeOf(step, face), type: entity.type || 'several types in one' });
    const args = argumentsOf(step, entity);
    const list = referencesIn(args[1] ?? '')[0] ?? -1;
    let at = starts.get(list);
    if (!at) {
      const numbers = argumentOf(step, list, 2, numbersIn) ?? [];
      at = { start: positions.length / 3, count: Math.floor(numbers.length / 3) };
      starts.set(list, at);
      for (let i = 0; i < 3 * at.count; i++) positions.push(numbers[i]);
    }
    // The face may number its corners anew.
    const own = numbersIn(args[5] ?? '');
    const corners = cornersOf(args);
    for (const corner of corners) {
      const index = own.length > 0 ? own[corner - 1] : corner;
      if (!(index >= 1 && index <= at.count)) {
        const count = own.length > 0 ? own.length : at.count;
        return failed('step.bad-triangles', { file, ...placeOf(step, face), index: String(corner), count });
      }
      triangles.push(at.start + index - 1);
    }
  }
  return done({ positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) });
}

// ISO 10303-42: of a strip each corner from the third on makes a triangle with the two before it, every other one turned.
const stripCorners = (strips: readonly (readonly number[])[]): number[] =>
  strips.flatMap((s) => s.slice(2).flatMap((c, i) => (i % 2 === 0 ? [s[i], s[i + 1], c] : [s[i + 1], s[i], c])));

const fanCorners = (fans: readonly (readonly number[])[]): number[] => fans.flatMap((f) => f.slice(2).flatMap((c, i) => [f[0], f[i + 1], c]));

// The lists in a list.
const listsIn = (text: string): number[][] => [...text.matchAll(/\(([^()]*)\)/g)].map((m) => numbersIn(m[1]));

// By type of face, the corners of its triangles, three each. A triangle is a fan of one.
const CORNERS: Readonly<Record<string, ((args: readonly string[]) => number[]) | undefined>> = {
  TRIANGULATED_FACE: (args) => fanCorners(listsIn(args[6] ?? '')),
  COMPLEX_TRIANGULATED_FACE: (args) => stripCorners(listsIn(args[6] ?? '')).concat(fanCorners(listsIn(args[7] ?? ''))),
};
