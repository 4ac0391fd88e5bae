// The faces of a STEP file's solids, and what bounds them, from its text.
import type { Vec3 } from '#core/math';
import { argumentOf, argumentsOf, bodyTextOf, type Part21Entity, type Part21File, referencesIn } from './part21.ts';
import { vectorOf } from './step-parts.ts';

/** The faces of a solid or of a surface model, shell by shell, in the order of the file. */
export function shellsOf(file: Part21File, solid: number): number[][] {
  const shells = argumentsOf(file, file.entities.get(solid) as Part21Entity)
    .slice(1)
    .flatMap(referencesIn);
  return shells.map((shell) => {
    const type = file.entities.get(shell)?.type;
    const of = type === 'ORIENTED_CLOSED_SHELL' ? referencesIn(bodyTextOf(file, shell))[0] : shell;
    return argumentOf(file, of, 1, referencesIn) ?? [];
  });
}

/** The places of the corners of faces, in the unit of their representation, each once. */
export function cornersOf(file: Part21File, faces: readonly number[]): Vec3[] {
  const points = new Map<number, Vec3>();
  walkBounds(file, faces, (id, type) => {
    const at = type === 'VERTEX_POINT' ? vectorOf(file, argumentOf(file, id, 1, referencesIn)?.[0]) : undefined;
    if (at) points.set(id, at);
  });
  return [...points.values()];
}

/** The edges that a face borders on with one side. */
export function edgesOf(file: Part21File, face: number): Set<number> {
  const edges = new Set<number>();
  walkBounds(file, [face], (id, type) => {
    if (type !== 'ORIENTED_EDGE') return;
    const edge = argumentOf(file, id, 3, referencesIn)?.[0];
    if (edge !== undefined && !edges.delete(edge)) edges.add(edge);
  });
  return edges;
}

// Goes over what bounds faces, each entity once.
function walkBounds(file: Part21File, faces: readonly number[], visit: (id: number, type: string) => void): void {
  const seen = new Set<number>();
  const walk = (id: number) => {
    if (seen.has(id)) return;
    seen.add(id);
    const type = file.entities.get(id)?.type;
    if (type === undefined) return;
    visit(id, type);
    if (BOUNDING.has(type)) for (const next of referencesIn(bodyTextOf(file, id))) walk(next);
  };
  for (const face of faces) walk(face);
}

const BOUNDING = new Set(['ADVANCED_FACE', 'FACE_SURFACE', 'FACE_BOUND', 'FACE_OUTER_BOUND', 'EDGE_LOOP', 'ORIENTED_EDGE', 'EDGE_CURVE', 'VERTEX_LOOP']);
