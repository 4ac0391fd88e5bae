import { closeOpenings, type GrowthField, growthOfSpin, growthOverMesh } from '#core/envelope';
import { done, type Result } from '#core/issues';
import { type Kernel, type OpenModel, type SampledBody, sampleModelFile } from '#core/kernel';
import { decodeModel, faceOfTriangle, meshArea, type Model, Solids, type TriMesh, weldWith } from '#core/mesh';
import { type ComponentRecord, type MadeGeometry, mountFrameOf } from '#core/records';
import { workOf } from '#core/sources';

/** Made geometry as fine triangles with the growth at each corner, for a picture of it: corners packed [x, y, z] in the file's coordinates, mm. */
export interface GrowthMap {
  readonly positions: Float32Array;
  readonly triangles: Uint32Array;
  /** mm, by corner. */
  readonly growth: Float32Array;
  readonly greatest: number;
}

// Share of the tolerance that the picture may show too much: the original's own chords lie inside of it.
const SAG = 0.1;
// Corners of a map: enough that a spot of growth on a turret block is seen.
const CORNERS = 60_000;

/** Measures made geometry again, spot by spot. `bytes` is the vendor's file, `blob` the geometry's model. */
export async function mapGrowth(
  kernel: Kernel,
  record: ComponentRecord,
  geometry: MadeGeometry,
  bytes: Uint8Array,
  blob: Uint8Array,
  { opened, onProgress = () => undefined }: { readonly opened?: OpenModel; readonly onProgress?: (share: number, text: string) => void } = {},
): Promise<Result<GrowthMap>> {
  const decoded = decodeModel(blob);
  if (!decoded.ok) return decoded;
  const { origin, z } = mountFrameOf(record);
  const pieces: { mesh: TriMesh; field: Pick<GrowthField, 'at'> }[] = [];
  for (const [i, part] of geometry.parts.entries()) {
    onProgress(i / geometry.parts.length, 'Sampling the original');
    const options = { chordTolerance: SAG * geometry.tolerance, ids: part.bodies };
    const sampled = opened ? opened.sample(options) : await sampleModelFile(kernel, bytes, record.source.fileName, { ...options, work: workOf(record) });
    if (!sampled.ok) return sampled;
    const field =
      part.mode === 'revolved'
        ? growthOfSpin(sampled.value, { axis: { origin, direction: z }, bridge: geometry.bridge }, decoded.value.bodies[i].mesh)
        : growthOverMesh(sampled.value, part.mode === 'wrap' ? closedBody(sampled.value[0], geometry.closeBelow) : undefined);
    pieces.push({ mesh: decoded.value.bodies[i].mesh, field: part.mode === 'wrap' ? butIn(othersOf(decoded.value, i), field) : field });
  }
  const area = pieces.reduce((a, p) => a + meshArea(p.mesh), 0);
  const spacing = Math.sqrt((2 * area) / CORNERS);
  const positions: number[] = [];
  const triangles: number[] = [];
  const growth: number[] = [];
  let greatest = 0;
  for (const [i, { mesh, field }] of pieces.entries()) {
    onProgress(0.5 + i / pieces.length / 2, 'Measuring');
    eachGrid(mesh, spacing, (p, n) => {
      const base = growth.length;
      for (let k = 0; k < p.length; k += 3) {
        const g = Math.max(0, field.at(p[k], p[k + 1], p[k + 2]).growth);
        growth.push(g);
        greatest = Math.max(greatest, g);
        positions.push(p[k], p[k + 1], p[k + 2]);
      }
      for (const v of gridTriangles(n)) triangles.push(base + v);
    });
  }
  return done({ positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles), growth: Float32Array.from(growth), greatest });
}

// What stands with a part and is closed; a wrap may be anywhere in it.
function othersOf({ bodies }: Model, part: number): Solids {
  return new Solids(bodies.filter((b, i) => i !== part && b.closed).map((b) => weldWith(b.mesh, 1e-7).mesh));
}

const butIn = (others: Solids, field: GrowthField): Pick<GrowthField, 'at'> => ({
  at: (x, y, z) => (others.isDeeper(x, y, z, 0) ? { growth: 0, slack: 0 } : field.at(x, y, z)),
});

// The body as it was sampled, with its openings closed as in its wrap.
function closedBody(body: SampledBody, closeBelow: number): TriMesh {
  const { mesh, kept } = weldWith(body.mesh);
  return closeOpenings(
    mesh,
    kept.map((t) => faceOfTriangle(body, t)),
    body,
    closeBelow,
  ).mesh;
}

// Each triangle as a grid of places with n steps along its sides.
function eachGrid({ positions: p, triangles: t }: TriMesh, spacing: number, visit: (places: number[], n: number) => void): void {
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const side = Math.max(
      ...[
        [a, b],
        [b, c],
        [c, a],
      ].map(([v, w]) => Math.hypot(p[v] - p[w], p[v + 1] - p[w + 1], p[v + 2] - p[w + 2])),
    );
    const n = Math.max(1, Math.min(60, Math.ceil(side / (3 * spacing))));
    const places: number[] = [];
    for (let r = 0; r <= n; r++)
      for (let s = 0; r + s <= n; s++) for (let k = 0; k < 3; k++) places.push(p[a + k] + (r * (p[b + k] - p[a + k]) + s * (p[c + k] - p[a + k])) / n);
    visit(places, n);
  }
}

function gridTriangles(n: number): number[] {
  const row = (r: number) => r * (n + 1) - (r * (r - 1)) / 2;
  const out: number[] = [];
  for (let r = 0; r < n; r++)
    for (let s = 0; r + s < n; s++) {
      const [a, b, c] = [row(r) + s, row(r + 1) + s, row(r) + s + 1];
      out.push(a, b, c);
      if (r + s + 1 < n) out.push(b, row(r + 1) + s + 1, c);
    }
  return out;
}
