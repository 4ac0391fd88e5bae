// Bodies of a STEP file that has triangles instead of true faces (ISO 10303-42, tessellated shape models; AP242).
import { done, failed, type Result } from '#core/issues';
import { IDENTITY, type Motion } from '#core/math';
import { type MeshFile, type MeshObject, moveMesh, type NamedPlacement, type TriMesh } from '#core/mesh';
import { scanStep } from './check-step.ts';
import { argumentOf, argumentsOf, bodyTextOf, entitiesByType, lineOf, numbersIn, type Part21File, referencesIn, stringOf } from './part21.ts';
import { namedPlacements, readPlacements } from './named-placements.ts';
import { commonColour, readColours } from './step-colours.ts';
import { readLayers, readProductNames, withLayer } from './step-names.ts';
import { fileUnit, readParts, scaleOfItem } from './step-parts.ts';

const SOLID = 'TESSELLATED_SOLID';
const SHELL = 'TESSELLATED_SHELL';
const BREP = /\b(?:MANIFOLD_SOLID_BREP|BREP_WITH_VOIDS|FACETED_BREP|SHELL_BASED_SURFACE_MODEL|FACE_BASED_SURFACE_MODEL)\b/;

const known = new WeakMap<Uint8Array, boolean>();

/** Whether the bodies of a STEP file are of triangles only; where true faces are there as well, those count. */
export function isTessellatedStep(bytes: Uint8Array): boolean {
  const before = known.get(bytes);
  if (before !== undefined) return before;
  const decoder = new TextDecoder('latin1');
  const isLater = /\bAP242/.test(decoder.decode(bytes.subarray(0, 4000)));
  const text = isLater ? decoder.decode(bytes) : '';
  const answer = /\bTESSELLATED_S(?:OLID|HELL)\b/.test(text) && !BREP.test(text);
  known.set(bytes, answer);
  return answer;
}

/** The bodies of such a file, where an assembly has them, in the file's unit, and its named coordinate systems in mm. */
export function readStepTriangles(bytes: Uint8Array, file: string): Result<MeshFile & { readonly placements: readonly NamedPlacement[] }> {
  const scanned = scanStep(bytes, file);
  if (!scanned.ok) return scanned;
  const step = scanned.value;
  const byType = entitiesByType(step);
  // What stands elsewhere than its coordinates say would be a body in a wrong place.
  const elsewhere = byType.get('MAPPED_ITEM')?.[0] ?? byType.get('')?.find((id) => bodyTextOf(step, id).includes('REPOSITIONED_TESSELLATED_ITEM'));
  if (elsewhere !== undefined) return failed('step.moved-triangles', { file, ...placeOf(step, elsewhere) });
  const parts = readParts(step, byType);
  const { unit, unitScale } = fileUnit(step, parts);
  const names = readProductNames(step, byType, (type) => type === SOLID || type === SHELL);
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
    const type = step.entities.get(face)?.type ?? '';
    const isPlain = type === 'TRIANGULATED_FACE';
    // Edges and points of a body carry no triangles.
    if (/^TESSELLATED_(?:EDGE|CONNECTING_EDGE|VERTEX|WIRE)$/.test(type)) continue;
    if (!isPlain && type !== 'COMPLEX_TRIANGULATED_FACE')
      return failed('step.unknown-triangles', { file, ...placeOf(step, face), type: type || 'several types in one' });
    const args = argumentsOf(step, step.entities.get(face) as NonNullable<ReturnType<Part21File['entities']['get']>>);
    const list = referencesIn(args[1] ?? '')[0];
    let at = starts.get(list);
    if (!at) {
      const numbers = argumentOf(step, list, 2, numbersIn) ?? [];
      at = { start: positions.length / 3, count: numbers.length / 3 };
      starts.set(list, at);
      for (const v of numbers) positions.push(v);
    }
    const own = numbersIn(args[5] ?? '');
    const corners = isPlain ? numbersIn(args[6] ?? '') : [...stripCorners(listsIn(args[6] ?? '')), ...fanCorners(listsIn(args[7] ?? ''))];
    for (const corner of corners) {
      const index = own.length > 0 ? own[corner - 1] : corner;
      if (!(index >= 1 && index <= at.count) || corners.length % 3 !== 0 || !Number.isInteger(at.count))
        return failed('step.bad-triangles', { file, ...placeOf(step, face), index: String(corner), count: own.length > 0 ? own.length : at.count });
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
