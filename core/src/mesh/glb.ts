import { Document, type Node, WebIO } from '@gltf-transform/core';
import { failed, type Result, done } from '#core/issues';
import type { TriMesh } from './tri-mesh.ts';

/** A mesh of a GLB file, with its name and colour. */
export interface NamedMesh {
  readonly name: string;
  /** '#rrggbb'. */
  readonly colour: string;
  readonly mesh: TriMesh;
}

const MM_TO_M = 0.001;
const linear = (channel: number) => (channel <= 0.04045 ? channel / 12.92 : ((channel + 0.055) / 1.055) ** 2.4);

/**
 * Meshes as a binary glTF file. glTF counts in metres, so a root node scales by 0.001; axes stay as they are
 * (Z towards the work), and `extras` says so. Normals are flat per triangle, so that edges stay sharp.
 */
export async function writeGlb(meshes: readonly NamedMesh[], extras: Record<string, unknown> = {}): Promise<Uint8Array<ArrayBuffer>> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Ruota';
  const buffer = document.createBuffer();
  const root = document
    .createNode('ruota')
    .setScale([MM_TO_M, MM_TO_M, MM_TO_M])
    .setExtras({ ...extras, fileUnit: 'mm under a node scaled to metres' });
  for (const { name, colour, mesh } of meshes) {
    if (mesh.triangles.length === 0) continue;
    const [r, g, b] = [1, 3, 5].map((i) => linear(parseInt(colour.slice(i, i + 2), 16) / 255));
    const material = document.createMaterial(name).setBaseColorFactor([r, g, b, 1]).setMetallicFactor(0.3).setRoughnessFactor(0.6);
    const primitive = document
      .createPrimitive()
      .setMaterial(material)
      .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(Float32Array.from(mesh.positions)).setBuffer(buffer))
      .setIndices(document.createAccessor().setType('SCALAR').setArray(Uint32Array.from(mesh.triangles)).setBuffer(buffer));
    root.addChild(document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)));
  }
  document.createScene('tool').addChild(root);
  return new Uint8Array(await new WebIO().writeBinary(document));
}

/** Reads the meshes of a GLB file, back in mm. */
export async function readGlb(bytes: Uint8Array, file: string): Promise<Result<NamedMesh[]>> {
  try {
    const document = await new WebIO().readBinary(new Uint8Array(bytes));
    const meshes: NamedMesh[] = [];
    for (const node of document.getRoot().listNodes()) {
      for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
        // The library's array type names DOM types that the core does not know.
        const p = primitive.getAttribute('POSITION')?.getArray() as unknown as ArrayLike<number> | null | undefined;
        if (!p) continue;
        const indices = primitive.getIndices()?.getArray() as unknown as ArrayLike<number> | null | undefined;
        const [r, g, b] = primitive.getMaterial()?.getBaseColorFactor() ?? [0.5, 0.5, 0.5];
        meshes.push({
          name: node.getName(),
          colour: `#${[r, g, b]
            .map((v) =>
              Math.round(255 * (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055))
                .toString(16)
                .padStart(2, '0'),
            )
            .join('')}`,
          mesh: { positions: inMillimetres(node, p), triangles: indices ? Uint32Array.from(indices) : Uint32Array.from({ length: p.length / 3 }, (_, i) => i) },
        });
      }
    }
    return done(meshes);
  } catch (error) {
    return failed('mesh.broken', { file, text: `it is not a GLB model (${error instanceof Error ? error.message : String(error)})` });
  }
}

function inMillimetres(node: Node, p: ArrayLike<number>): Float64Array {
  const m = node.getWorldMatrix();
  const out = new Float64Array(p.length);
  for (let i = 0; i < p.length; i += 3)
    for (let k = 0; k < 3; k++) out[i + k] = (m[k] * p[i] + m[4 + k] * p[i + 1] + m[8 + k] * p[i + 2] + m[12 + k]) / MM_TO_M;
  return out;
}
