import { flatsAround, revolveToMesh } from '#core/envelope';
import { done, failed, type Result } from '#core/issues';
import { type Kernel, OpenModel, readModelFile } from '#core/kernel';
import { IDENTITY, IDENTITY_FRAME } from '#core/math';
import { joinMeshes, type TriMesh, writeGlb, writeStl, writeThreeMf } from '#core/mesh';
import { type RevolvedShape, shapeBodies, shapeFileName, type SolidShape, writeDxf, writeSolidShape, writeSvg } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import { shapeOfOutline } from './outline-shape.ts';

/** What an outline can be written as. */
export const OUTLINE_FILES = ['step', 'stl', 'glb', '3mf', 'dxf', 'svg', 'json'] as const;
export type OutlineFileKind = (typeof OUTLINE_FILES)[number];

// mm. How far flats and chords of a mesh are from the true faces at most.
const MESH_TOLERANCE = 0.01;
const COLOURS = { cutting: '#b4173f', 'tool body': '#59626b' } as const;

/** An outline as a file: solids as STEP, or as meshes (of what is turned: that enclose it), the profile as DXF or SVG at true size, or the record itself. */
export async function writeOutlineFile(kernel: () => Promise<Kernel>, outline: OutlineRecord, kind: OutlineFileKind): Promise<Result<Uint8Array>> {
  const text = (t: string) => done(new TextEncoder().encode(t));
  if (kind === 'json') return text(`${JSON.stringify(outline, null, 1)}\n`);
  const shape = shapeOfOutline(outline);
  if (!shape.ok) return shape;
  const layers = [{ name: 'OUTLINE', colour: '#1f5f8b', loops: outline.profile }];
  if (kind === 'dxf') return text(writeDxf(layers));
  if (kind === 'svg') return text(writeSvg(layers, outline.name));
  return writeShapeFile(kernel, shape.value, outline.name, kind);
}

/** A shape as a file: STEP with true faces, or a mesh that is never inside of what is turned. */
export async function writeShapeFile(
  kernel: () => Promise<Kernel>,
  shape: SolidShape,
  name: string,
  kind: 'step' | 'stl' | 'glb' | '3mf',
): Promise<Result<Uint8Array>> {
  if (kind === 'step') return writeStep(await kernel(), shape, name);
  const named = shape.form === 'revolved' ? turnedMeshes(shape) : await plateMesh(await kernel(), shape);
  if (!Array.isArray(named)) return named;
  if (kind === 'stl') return done(writeStl(joinMeshes(named.map((n) => n.mesh))));
  return done(kind === '3mf' ? writeThreeMf(named) : await writeGlb(named));
}

interface NamedMesh {
  readonly name: string;
  readonly colour: string;
  readonly mesh: TriMesh;
}

// Around the true faces, and never inside of them.
const turnedMeshes = ({ bodies }: RevolvedShape): NamedMesh[] =>
  bodies.map(({ name, role, profile }) => ({
    name,
    colour: COLOURS[role],
    mesh: revolveToMesh(profile, { origin: IDENTITY_FRAME.origin, direction: IDENTITY_FRAME.z }, (r) => flatsAround(r, MESH_TOLERANCE), MESH_TOLERANCE),
  }));

async function plateMesh(kernel: Kernel, shape: Exclude<SolidShape, RevolvedShape>): Promise<NamedMesh[] | Result<never>> {
  const read = await readModelFile(kernel, writeSolidShape(shape), shapeFileName('plate'), { chordTolerance: MESH_TOLERANCE });
  const roles = shapeBodies(shape).map((b) => b.role);
  return read.ok ? read.value.model.bodies.map(({ mesh, name }, i) => ({ name, mesh, colour: COLOURS[roles[i]] })) : read;
}

async function writeStep(kernel: Kernel, shape: SolidShape, name: string): Promise<Result<Uint8Array>> {
  const opened = await OpenModel.open(kernel, writeSolidShape(shape), shapeFileName(name));
  if (!opened.ok) return opened;
  try {
    const bodies = shapeBodies(shape).map((b, i) => ({ id: `b${i + 1}`, name: `${name}, ${b.name}` }));
    return opened.value.writeStep({ bodies, targetFromFile: IDENTITY }) ?? failed('outline.no-solid', { kind: 'step' });
  } finally {
    opened.value.close();
  }
}
