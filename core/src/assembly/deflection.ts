import type { Motion } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { materialOf, MATERIALS } from '#core/records';
import type { PlacedBody } from './mass.ts';

/** How far a tip gives way under a force across the chain, and how it was worked out. */
export interface Deflection {
  /** N, at the tip, along the gauge frame's Y (as the cutting force presses). */
  readonly force: number;
  /** mm */
  readonly value: number;
  readonly formula: string;
}

const FORMULA =
  'integral of F x² / (E I) dx from the tip to the mount: a beam of the true sections of all pieces, fixed at the mount of the first; what seats and clamps give way is left out';

// Sections along the beam, between which it is taken to change evenly.
const STATIONS = 240;

/**
 * Static deflection of a tip at height L (mm) under a force F (N) along Y: a stepped beam of the true sections at z, cut from the bodies' meshes. Bending
 * stiffness is the sum of E I about the common neutral axis. Fixed at a height `fixed`; undefined where the tip is not in front of it.
 */
export function deflectionOf(bodies: readonly PlacedBody[], L: number, force: number, fixed = 0): Deflection | undefined {
  if (!(L > fixed)) return undefined;
  const step = (L - fixed) / STATIONS;
  const heights = Float64Array.from({ length: STATIONS }, (_, i) => fixed + (i + 0.5) * step);
  // Of all bodies at each height: E A, E times the first moment, E times the second, in N, N mm, N mm2.
  const sums = new Float64Array(3 * STATIONS);
  for (const { component, body, gaugeFromFile } of bodies) {
    const e = MATERIALS[materialOf(component, body.id)].modulus * 1000;
    const moments = sectionMoments(body.mesh, gaugeFromFile, heights);
    for (let i = 0; i < sums.length; i++) sums[i] += e * moments[i];
  }
  let value = 0;
  for (let i = 0; i < STATIONS; i++) {
    const [ea, es, ei] = [sums[3 * i], sums[3 * i + 1], sums[3 * i + 2]];
    // E I about the neutral axis. Nothing there: a corner that stands out over its own edge carries no bending.
    const stiff = ea > 0 ? ei - (es * es) / ea : 0;
    const x = L - heights[i];
    if (stiff > 0) value += (force * x * x * step) / stiff;
  }
  return { force, value, formula: FORMULA };
}

/**
 * Area (mm2), first moment (mm3) and second moment (mm4) about X of a mesh's sections at rising heights (evenly apart) of the gauge frame, three numbers each:
 * sums over the directed pieces of their borders (Green's theorem), which need not be in order. One pass over the triangles.
 */
export function sectionMoments({ positions: p, triangles: t }: TriMesh, { r, t: shift }: Motion, heights: Float64Array): Float64Array {
  const out = new Float64Array(3 * heights.length);
  const [first, step] = [heights[0], heights.length > 1 ? heights[1] - heights[0] : 1];
  const c = new Float64Array(9);
  const cut = new Float64Array(4);
  for (let k = 0; k < t.length; k += 3) {
    let [low, high] = [Infinity, -Infinity];
    for (let e = 0; e < 3; e++) {
      const [a, b, d] = [p[3 * t[k + e]], p[3 * t[k + e] + 1], p[3 * t[k + e] + 2]];
      c[3 * e] = r[0] * a + r[1] * b + r[2] * d + shift[0];
      c[3 * e + 1] = r[3] * a + r[4] * b + r[5] * d + shift[1];
      const z = r[6] * a + r[7] * b + r[8] * d + shift[2];
      c[3 * e + 2] = z;
      if (z < low) low = z;
      if (z > high) high = z;
    }
    const to = Math.min(heights.length - 1, Math.floor((high - first) / step));
    for (let h = Math.max(0, Math.ceil((low - first) / step)); h <= to; h++) if (cutAt(c, heights[h], cut)) addPiece(out, 3 * h, cut);
  }
  // Whichever way round the material was gone about.
  for (let h = 0; h < out.length; h += 3) if (out[h] < 0) for (let k = 0; k < 3; k++) out[h + k] = -out[h + k];
  return out;
}

// Where a triangle (corners in c) comes up through a height, and where it goes down, going round it: x y x y.
function cutAt(c: Float64Array, z: number, cut: Float64Array): boolean {
  let found = 0;
  for (let e = 0; e < 3; e++) {
    const [a, b] = [3 * e, 3 * ((e + 1) % 3)];
    const isUp = c[a + 2] >= z;
    if (isUp === c[b + 2] >= z) continue;
    const s = (z - c[a + 2]) / (c[b + 2] - c[a + 2]);
    const at = isUp ? 2 : 0;
    cut[at] = c[a] + s * (c[b] - c[a]);
    cut[at + 1] = c[a + 1] + s * (c[b + 1] - c[a + 1]);
    found++;
  }
  return found === 2;
}

function addPiece(out: Float64Array, at: number, [x0, y0, x1, y1]: Float64Array): void {
  const w = x0 * y1 - x1 * y0;
  out[at] += w / 2;
  out[at + 1] += (w * (y0 + y1)) / 6;
  out[at + 2] += (w * (y0 * y0 + y0 * y1 + y1 * y1)) / 12;
}
