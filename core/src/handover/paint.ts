import type { NamedMesh, TriMesh } from '#core/mesh';
import type { ComponentRecord } from '#core/records';

/** A mesh of made geometry with the bodies that it stands for and, where it follows one body's faces, the first triangle of each. */
export interface PaintedPart {
  readonly bodies: readonly string[];
  readonly mesh: TriMesh;
  readonly mode: 'exact' | 'revolved' | 'wrap';
  readonly faceStart?: Uint32Array;
}

/** A part as meshes of one colour each: the person's colours of the body and its faces, else the colour of its role. */
export function paintPart(
  { bodies, mesh, mode, faceStart }: PaintedPart,
  record: Pick<ComponentRecord, 'bodies' | 'faceColours'>,
  role: string,
  name: string,
): NamedMesh[] {
  const [body] = bodies;
  const base = bodies.length === 1 ? (record.bodies.find((b) => b.id === body)?.ownColour ?? role) : role;
  const faces = mode === 'exact' && bodies.length === 1 ? record.faceColours.filter((c) => c.body === body) : [];
  if (faces.length === 0 || !faceStart) return [{ name, colour: base, mesh }];
  const colourOf = new Map(faces.flatMap((c) => c.faces.map((f): [number, string] => [f, c.colour])));
  const lists = new Map<string, number[]>();
  for (let f = 0; f + 1 < faceStart.length; f++) {
    const colour = colourOf.get(f) ?? base;
    const list = lists.get(colour) ?? [];
    lists.set(colour, list);
    for (let i = 3 * faceStart[f]; i < 3 * faceStart[f + 1]; i++) list.push(mesh.triangles[i]);
  }
  return [...lists]
    .filter(([, list]) => list.length > 0)
    .map(([colour, list]) => ({ name, colour, mesh: { positions: mesh.positions, triangles: Uint32Array.from(list) } }));
}
