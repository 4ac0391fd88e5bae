import { joinMeshes, type TriMesh } from '#core/mesh';
import { fillPolygon, withHoles } from '#core/outline';
import type { Blank, CarrierOf, Chuck, MeasuredDisc } from '#core/records';

// Chucks, jaws, work and discs as their sizes tell, to be drawn and measured against. Chucks and work about Z from the nose face, as the main spindle has them.

// Corners of what is round: of 165 mm diameter a chord lies 0.04 mm inside.
const ROUND = 144;

/** A closed solid between polygons about Z: `outer` and `inner` radii at the corners, `inner` 0 where it has no bore. */
function prism(outer: number, inner: number, from: number, to: number, sides = ROUND, firstRad = 0): TriMesh {
  const at = (radius: number, z: number) =>
    Array.from({ length: sides }, (_, i) => {
      const angle = firstRad + (2 * Math.PI * i) / sides;
      return [radius * Math.cos(angle), radius * Math.sin(angle), z];
    });
  const hasBore = inner > 0;
  const rings = [at(outer, from), at(outer, to), ...(hasBore ? [at(inner, from), at(inner, to)] : [[[0, 0, from]], [[0, 0, to]]])];
  const start = rings.map((_, k) => rings.slice(0, k).reduce((n, r) => n + r.length, 0));
  const triangles: number[] = [];
  for (let i = 0; i < sides; i++) {
    const j = (i + 1) % sides;
    const [a, b, c, d] = start;
    triangles.push(a + i, a + j, b + j, a + i, b + j, b + i);
    if (hasBore) {
      triangles.push(c + i, d + j, c + j, c + i, d + i, d + j);
      triangles.push(a + i, c + i, c + j, a + i, c + j, a + j, b + i, d + j, d + i, b + i, b + j, d + j);
    } else triangles.push(a + i, c, a + j, b + i, b + j, d);
  }
  return { positions: Float64Array.from(rings.flat(2)), triangles: Uint32Array.from(triangles) };
}

/** A block along X from one radius to another, turned about Z. */
function jaw(inner: number, outer: number, width: number, from: number, to: number, angleRad: number): TriMesh {
  const [c, s] = [Math.cos(angleRad), Math.sin(angleRad)];
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => {
    const [x, y, z] = [i & 1 ? outer : inner, ((i & 2 ? 1 : -1) * width) / 2, i & 4 ? to : from];
    return [c * x - s * y, s * x + c * y, z];
  });
  const triangles = [0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5];
  return { positions: Float64Array.from(corners.flat()), triangles: Uint32Array.from(triangles) };
}

/** One named shape. */
export interface MachineShape {
  readonly name: string;
  readonly mesh: TriMesh;
}

/** A cylinder of a chuck or of what its jaws sweep, along Z from the nose face. */
export interface ChuckStep {
  readonly what: 'chuck' | 'jaws';
  readonly radius: number;
  readonly from: number;
  readonly to: number;
}

/** What a chuck sweeps as it turns: by its measured shape, else by its sizes. */
export function chuckSteps({ diameter, length, jawHeight, measured }: Chuck): ChuckStep[] {
  const step = (what: ChuckStep['what'], radius: number, from: number, to: number): ChuckStep[] => (to > from ? [{ what, radius, from, to }] : []);
  if (measured)
    return measured.steps.flatMap(({ radius, from, to }) => [
      ...step('chuck', radius, from, Math.min(to, length)),
      ...step('jaws', radius, Math.max(from, length), to),
    ]);
  return [{ what: 'chuck', radius: diameter / 2, from: 0, to: length }, ...step('jaws', diameter / 2, length, length + jawHeight)];
}

/** A chuck with its jaws on the diameter that is gripped, and the work in it. */
export function chuckShapes(chuck: Chuck, blank: Blank | null): MachineShape[] {
  const { diameter, length, jaws, jawHeight, jawStep, gripped, bore } = chuck;
  const out: MachineShape[] = [];
  const [outer, held] = [diameter / 2, (blank?.diameter || gripped) / 2];
  for (const { what, radius, from, to } of chuckSteps(chuck).filter((s) => chuck.measured && s.radius > 0)) {
    const inner = what === 'jaws' ? held : bore / 2;
    if (inner < radius) out.push({ name: what, mesh: prism(radius, inner, from, to) });
  }
  if (!chuck.measured && outer > 0 && length > 0) out.push({ name: 'chuck', mesh: prism(outer, Math.min(bore / 2, outer * 0.95), 0, length) });
  const front = length + jawHeight;
  if (!chuck.measured && jawHeight > 0 && held < outer) {
    const width = Math.min(outer * 0.42, Math.max(held, 0.2 * outer));
    for (let k = 0; k < jaws; k++)
      out.push({ name: `jaw ${k + 1}`, mesh: jaw(held, outer * 0.98, width, length, front, Math.PI / 2 + (2 * Math.PI * k) / jaws) });
  }
  if (blank && blank.diameter > 0 && blank.length + jawStep > 0)
    out.push({ name: 'work', mesh: prism(held, Math.min(blank.bore / 2, held * 0.98), front - jawStep, front + blank.length) });
  return out;
}

/** A turret's disc about its index axis (Z), the seats' plane at 0: flats under stations on the rim, round where they stand on its face. Around the true one, never inside. */
export function discMesh({ disc, mounting, faces, stations, side }: CarrierOf<'turret'>): TriMesh {
  if (disc.measured) return slabMesh(disc.measured, faces === 'main' ? -1 : 1, side === 'above' ? -1 : 1);
  // Seats on the rim stand in the middle of its width, those on the face in its front.
  const [from, to] = mounting === 'rim' ? [-disc.width / 2, disc.width / 2] : faces === 'main' ? [0, disc.width] : [-disc.width, 0];
  const hasFlats = mounting === 'rim' && stations > 4;
  const sides = hasFlats ? stations : ROUND;
  // A flat's middle looks at the spindle axis.
  const first = (side === 'above' ? Math.PI : 0) + Math.PI / sides;
  return prism(disc.diameter / 2 / Math.cos(Math.PI / sides), 0, from, to, sides, first);
}

/** A swivel head in its seat's frame, behind the seat along Z: around the true one, never inside; undefined where nothing is said of it. */
export function headMesh({ head }: CarrierOf<'swivel head'>): TriMesh | undefined {
  if (!head) return undefined;
  if (head.measured) return slabMesh(head.measured, 1, 1);
  const around = 2 * Math.cos(Math.PI / ROUND);
  const nose = Math.min(head.noseLength, head.length);
  const steps = [
    { radius: head.noseDiameter / around, from: -nose, to: 0 },
    { radius: head.diameter / around, from: -head.length, to: -nose },
  ].filter((s) => s.radius > 0 && s.to > s.from);
  return steps.length > 0 ? joinMeshes(steps.map((s) => prism(s.radius, 0, s.from, s.to))) : undefined;
}

// Prisms in the machine: their Z looks along `z`, their X along `x`, each with or against the machine's own.
function slabMesh({ slabs }: MeasuredDisc, z: 1 | -1, x: 1 | -1): TriMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const { from, to, outline } of slabs)
    for (const polygon of withHoles(outline)) {
      const { corners, triangles: filled } = fillPolygon(polygon);
      const low = positions.length / 3;
      const high = low + corners.length;
      for (const height of [from, to]) for (const [u, v] of corners) positions.push(x * u, x * z * v, z * height);
      for (let i = 0; i < filled.length; i += 3) {
        const [a, b, c] = [filled[i], filled[i + 1], filled[i + 2]];
        triangles.push(low + a, low + c, low + b, high + a, high + b, high + c);
      }
      let first = 0;
      for (const ring of [polygon.outer, ...polygon.holes]) {
        for (let i = 0; i < ring.length; i++) {
          const [a, b] = [first + i, first + ((i + 1) % ring.length)];
          triangles.push(low + a, low + b, high + b, low + a, high + b, high + a);
        }
        first += ring.length;
      }
    }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}
