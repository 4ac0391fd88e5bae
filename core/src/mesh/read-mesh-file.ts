import { done, failed, type Result } from '#core/issues';
import { readGlb } from './glb.ts';
import type { MeshFile } from './mesh-model.ts';
import { readObj } from './obj.ts';
import { isBinaryStl, readStl } from './stl.ts';
import { readThreeMf } from './three-mf.ts';

/** Bytes. */
export const LARGEST_MESH_FILE = 400e6;

/** Formats that hold nothing but meshes. */
export type MeshFormat = Exclude<MeshFile['format'], 'step'>;

/** What kind of mesh file these bytes are, by their content, and by the name where the content does not tell; undefined for none. */
export function meshFormatOf(bytes: Uint8Array, file: string): MeshFormat | undefined {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 300));
  if (head.startsWith('glTF')) return 'glb';
  if (head.startsWith('PK') && /\.3mf$/i.test(file)) return '3mf';
  if (isBinaryStl(bytes) || /^\s*solid\b/i.test(head) || /\.stl$/i.test(file)) return 'stl';
  if (/\.obj$/i.test(file)) return 'obj';
  return undefined;
}

/**
 * Reads the objects of a mesh file. STL and OBJ have no unit: they are taken as mm, and the reading says where that does not look right.
 */
export async function readMeshFile(bytes: Uint8Array, file: string, format: MeshFormat): Promise<Result<MeshFile>> {
  if (bytes.length === 0) return failed('file.empty', { file });
  if (bytes.length > LARGEST_MESH_FILE) return failed('file.too-large', { file, megabytes: Math.round(bytes.length / 1e6), limit: LARGEST_MESH_FILE / 1e6 });
  if (format === 'stl') {
    const mesh = readStl(bytes, file);
    return mesh.ok ? done({ format, unit: 'mm', unitScale: 1, objects: [{ name: '', mesh: mesh.value }] }) : mesh;
  }
  if (format === 'obj') {
    const objects = readObj(bytes, file);
    return objects.ok ? done({ format, unit: 'mm', unitScale: 1, objects: objects.value }) : objects;
  }
  if (format === '3mf') {
    const read = readThreeMf(bytes, file);
    return read.ok ? done({ format, ...read.value }) : read;
  }
  const read = await readGlb(bytes, file);
  if (!read.ok) return read;
  // The reader gives mm; the file counts in metres.
  const objects = read.value.map(({ name, colour, mesh }) => ({ name, colour, mesh: { ...mesh, positions: mesh.positions.map((v) => v / 1000) } }));
  return done({ format, unit: 'm', unitScale: 1000, objects });
}
