import type { Unfitted } from './fit-surfaces.ts';

/**
 * Corners of a mesh against one surface at a time: whether each lies on it, and the surface's own normal there. Each corner is measured once,
 * however many triangles share it; this is the inner loop of growing faces.
 */
export class SurfaceProbe {
  private readonly positions: Float64Array;
  // Of which surface a corner's answer is, and what it was.
  private readonly asked: Uint32Array;
  private readonly on: Uint8Array;
  private readonly normals: Float64Array;
  private turn = 0;
  private readonly kind = new Map<Unfitted['kind'], number>([
    ['sphere', SPHERE],
    ['cylinder', CYLINDER],
    ['cone', CONE],
    ['torus', TORUS],
  ]);
  private which = SPHERE;
  // Origin, axis, radius, then slope or major radius, tolerance.
  private readonly s = new Float64Array(9);

  constructor(positions: Float64Array) {
    this.positions = positions;
    this.asked = new Uint32Array(positions.length / 3);
    this.on = new Uint8Array(positions.length / 3);
    this.normals = new Float64Array(positions.length);
  }

  /** From now on corners are asked against this surface, within `tolerance` mm of it. */
  begin(surface: Unfitted, tolerance: number): void {
    this.turn++;
    this.which = this.kind.get(surface.kind) as number;
    const { s } = this;
    s.set(surface.origin, 0);
    if (surface.kind !== 'sphere') s.set(surface.axis, 3);
    s[6] = surface.radius;
    s[7] = surface.kind === 'cone' ? surface.slope : surface.kind === 'torus' ? surface.majorRadius : 0;
    s[8] = tolerance;
  }

  /** Whether a corner lies on the surface, and a unit normal there leans from the surface's own by less than `leanCos` says. */
  lies(corner: number, nx: number, ny: number, nz: number, leanCos: number): boolean {
    if (this.asked[corner] !== this.turn) this.measure(corner);
    if (this.on[corner] === 0) return false;
    const { normals: n } = this;
    return nx * n[3 * corner] + ny * n[3 * corner + 1] + nz * n[3 * corner + 2] >= leanCos;
  }

  private measure(corner: number): void {
    const { s, positions: p, normals: n, which } = this;
    this.asked[corner] = this.turn;
    this.on[corner] = 0;
    const c = 3 * corner;
    const dx = p[c] - s[0];
    const dy = p[c + 1] - s[1];
    const dz = p[c + 2] - s[2];
    if (which === SPHERE) {
      const l = Math.sqrt(dx * dx + dy * dy + dz * dz);
      if (l < NOWHERE || Math.abs(l - s[6]) > s[8]) return;
      this.put(corner, dx / l, dy / l, dz / l);
      return;
    }
    const along = dx * s[3] + dy * s[4] + dz * s[5];
    const rx = dx - along * s[3];
    const ry = dy - along * s[4];
    const rz = dz - along * s[5];
    const r = Math.sqrt(rx * rx + ry * ry + rz * rz);
    if (r < NOWHERE) return;
    // The normal as shares of the radial direction and of the axis.
    let out = 1;
    let up = 0;
    if (which === CYLINDER) {
      if (Math.abs(r - s[6]) > s[8]) return;
    } else if (which === CONE) {
      const l = Math.sqrt(1 + s[7] * s[7]);
      if (Math.abs(r - s[6] - s[7] * along) > s[8] * l) return;
      out = 1 / l;
      up = -s[7] / l;
    } else {
      const across = r - s[7];
      const l = Math.sqrt(across * across + along * along);
      if (l < NOWHERE || Math.abs(l - s[6]) > s[8]) return;
      out = across / l;
      up = along / l;
    }
    const share = out / r;
    this.on[corner] = 1;
    n[c] = rx * share + s[3] * up;
    n[c + 1] = ry * share + s[4] * up;
    n[c + 2] = rz * share + s[5] * up;
  }

  private put(corner: number, x: number, y: number, z: number): void {
    this.on[corner] = 1;
    this.normals[3 * corner] = x;
    this.normals[3 * corner + 1] = y;
    this.normals[3 * corner + 2] = z;
  }
}

const SPHERE = 0;
const CYLINDER = 1;
const CONE = 2;
const TORUS = 3;
// mm. Nearer than this to an axis, a centre or a ring there is no normal.
const NOWHERE = 1e-12;
