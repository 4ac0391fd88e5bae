// Booleans on triangle meshes, by the Manifold library; single precision inside: corners move by up to 8e-6 mm on a tool of 200 mm.
import type { Manifold } from 'manifold-3d';
import { addScaled, boundsCentre, cross, normalize, subtract, type Vec3, yOf } from '#core/math';
import { bodyFromFaces, type BodyGeometry, faceOfTriangle, type Surface, type TriMesh, weldWith } from '#core/mesh';
import { isNoSolid, loadManifold, positionsAbout, positionsOf } from './manifold.ts';
import type { Cut } from './model-work.ts';

/**
 * The two sides of a closed body from a mesh that is cut along a prism. Its faces stay what they are, fitted surfaces and all, and the cut
 * adds flat ones; a side is undefined where nothing is left of it. Undefined as a whole for a body that is not a solid.
 */
export async function cutMeshBody(
  body: BodyGeometry,
  cut: Cut,
  named: { inside: Named; outside: Named },
  wasmUrl: string | undefined,
): Promise<{ inside?: BodyGeometry; outside?: BodyGeometry } | undefined> {
  const { Manifold: M, Mesh } = await loadManifold(wasmUrl);
  const { mesh, kept } = weldWith(body.mesh, 1e-7);
  // About its middle, where single precision is finest.
  const centre = boundsCentre(body.bbox);
  const owned: Manifold[] = [];
  const own = (m: Manifold) => {
    owned.push(m);
    return m;
  };
  try {
    const faceID = Uint32Array.from({ length: mesh.triangles.length / 3 }, (_, t) => faceOfTriangle(body, kept[t]));
    const vertProperties = positionsAbout(mesh.positions, centre);
    const whole = own(
      new M(
        new Mesh({
          numProp: 3,
          vertProperties,
          triVerts: mesh.triangles,
          faceID,
          runIndex: Uint32Array.of(0, mesh.triangles.length),
          runOriginalID: Uint32Array.of(M.reserveIDs(1)),
        }),
      ),
    );
    const { frame, outline, from, to } = cut;
    const [x, y, z] = [frame.x, yOf(frame), frame.z];
    const upright = own(M.extrude([outline.map(([u, v]): [number, number] => [u, v])], to - from));
    const at = subtract(addScaled(frame.origin, z, from), centre);
    const prism = own(upright.transform([...x, 0, ...y, 0, ...z, 0, ...at, 1]));
    const side = (solid: Manifold, { id, name }: Named) => bodyOf(own(solid), body, centre, id, name);
    return { inside: side(whole.intersect(prism), named.inside), outside: side(whole.subtract(prism), named.outside) };
  } catch (error) {
    if (isNoSolid(error)) return undefined;
    throw error;
  } finally {
    for (const m of owned) m.delete();
  }
}

interface Named {
  readonly id: string;
  readonly name: string;
}

function bodyOf(solid: Manifold, source: BodyGeometry, centre: Vec3, id: string, name: string): BodyGeometry | undefined {
  const cut = solid.getMesh();
  const { triVerts, faceID, runIndex, runOriginalID } = cut;
  if (triVerts.length === 0) return undefined;
  const mesh: TriMesh = { positions: positionsOf(cut, centre), triangles: Uint32Array.from(triVerts) };
  // Triangles come in runs, one for each solid that took part; those of the prism are the cut's own faces, told apart by their planes.
  const faces: { surface: Surface; fit?: number }[] = [...source.faces];
  const ofPrism = new Map<number, number>();
  const own = Math.min(...runOriginalID);
  const faceOf = new Int32Array(triVerts.length / 3);
  for (let run = 0; run < runOriginalID.length; run++)
    for (let t = runIndex[run] / 3; t < runIndex[run + 1] / 3; t++) {
      if (runOriginalID[run] === own) {
        faceOf[t] = faceID[t];
        continue;
      }
      let face = ofPrism.get(faceID[t]);
      if (face === undefined) {
        face = faces.length;
        ofPrism.set(faceID[t], face);
        faces.push({ surface: planeOf(mesh, t), fit: 0 });
      }
      faceOf[t] = face;
    }
  return bodyFromFaces(mesh, faceOf, faces, { id, name });
}

function planeOf({ positions: p, triangles }: TriMesh, t: number): Surface {
  const [a, b, c] = [0, 1, 2].map((k): Vec3 => {
    const v = 3 * triangles[3 * t + k];
    return [p[v], p[v + 1], p[v + 2]];
  });
  return { kind: 'plane', origin: a, normal: normalize(cross(subtract(b, a), subtract(c, a))) };
}
