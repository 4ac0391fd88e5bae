import { PLANE_SIZE } from '#core/mesh';
import { type HullMesh, triangleAt } from './hull-mesh.ts';

// mm. How far a new corner may be behind a plane: rounding of the projections, far below what the proof allows.
const ON_PLANE = 1e-9;
// Cost of an edge for its length alone, mm3 per mm3: of edges that add nothing, short ones go first.
const PER_LONG = 1e-7;
// The same before it is looked at: long edges are looked at late, when most of them are gone (more makes no difference on dense blocks, less a tenth of the time).
const GUESS = 1e-5;
/** Planes around an edge at most. */
export const MOST_AROUND = 512;
const PLANE = PLANE_SIZE;

/** The planes of the triangles around an edge, and the place outside of all of them that an edge would best collapse to. */
export class CollapsePlace {
  /** The triangles around the edge, and their planes. */
  readonly near = new Int32Array(MOST_AROUND);
  readonly planes = new Float64Array(PLANE * MOST_AROUND);
  count = 0;
  readonly place = new Float64Array(3);
  private readonly mesh: HullMesh;

  constructor(mesh: HullMesh) {
    this.mesh = mesh;
  }

  /** Takes the planes around an edge; false where there are too many. */
  gather(a: number, b: number): boolean {
    this.count = 0;
    return this.gatherAround(a, -1) && this.gatherAround(b, a);
  }

  // But for those of another corner: they were met from there.
  private gatherAround(v: number, other: number): boolean {
    const { mesh, planes, near } = this;
    const { planeOf } = mesh;
    for (let h = mesh.first(v); h >= 0; h = mesh.following(h)) {
      const f = triangleAt(h);
      if ((other >= 0 && mesh.has(f, other)) || planeOf[PLANE * f + 4] === 0) continue;
      if (this.count >= MOST_AROUND) return false;
      near[this.count] = f;
      const at = PLANE * this.count++;
      const from = PLANE * f;
      planes[at] = planeOf[from];
      planes[at + 1] = planeOf[from + 1];
      planes[at + 2] = planeOf[from + 2];
      planes[at + 3] = planeOf[from + 3];
      planes[at + 4] = planeOf[from + 4];
    }
    return true;
  }

  /** Puts the best place for an edge in `place` and gives its cost: the volume that it adds (mm3), and a little for long ways; Infinity where there is none. */
  find(a: number, b: number): number {
    if (!this.gather(a, b)) return Infinity;
    const { place } = this;
    const { p } = this.mesh;
    const [ax, ay, az] = [p[3 * a], p[3 * a + 1], p[3 * a + 2]];
    const [bx, by, bz] = [p[3 * b], p[3 * b + 1], p[3 * b + 2]];
    const long = Math.sqrt((ax - bx) * (ax - bx) + (ay - by) * (ay - by) + (az - bz) * (az - bz));
    let best = Infinity;
    let [fx, fy, fz] = [0, 0, 0];
    for (let way = 0; way < 3; way++) {
      const share = way === 2 ? 0.5 : way;
      place[0] = ax + share * (bx - ax);
      place[1] = ay + share * (by - ay);
      place[2] = az + share * (bz - az);
      const isEnd = way < 2;
      if (isEnd ? !this.isOutside() : !this.pushOut()) continue;
      if (!isEnd) this.slideIn();
      const volume = this.volumeAdded();
      if (volume < best) {
        best = volume;
        fx = place[0];
        fy = place[1];
        fz = place[2];
      }
      // An end that costs nothing is not bettered.
      if (isEnd && volume < 1e-12 * long) break;
    }
    if (best === Infinity) return Infinity;
    place[0] = fx;
    place[1] = fy;
    place[2] = fz;
    return Math.max(0, best) + PER_LONG * long * long * long;
  }

  /** About what an edge costs, before it is looked at: by its length. */
  guess(a: number, b: number): number {
    const { p } = this.mesh;
    const x = p[3 * a] - p[3 * b];
    const y = p[3 * a + 1] - p[3 * b + 1];
    const z = p[3 * a + 2] - p[3 * b + 2];
    const square = x * x + y * y + z * z;
    return GUESS * square * Math.sqrt(square);
  }

  private isOutside(): boolean {
    const { planes, count } = this;
    const x = this.place[0];
    const y = this.place[1];
    const z = this.place[2];
    for (let i = 0; i < PLANE * count; i += PLANE) if (planes[i] * x + planes[i + 1] * y + planes[i + 2] * z - planes[i + 3] < -ON_PLANE) return false;
    return true;
  }

  private volumeAdded(): number {
    const { planes, count } = this;
    const x = this.place[0];
    const y = this.place[1];
    const z = this.place[2];
    let six = 0;
    for (let i = 0; i < PLANE * count; i += PLANE) six += (planes[i] * x + planes[i + 1] * y + planes[i + 2] * z - planes[i + 3]) * planes[i + 4];
    return six / 6;
  }

  // To a place outside all planes, by going straight out of the one that it is furthest behind, again and again.
  private pushOut(): boolean {
    const { planes, count, place } = this;
    let x = place[0];
    let y = place[1];
    let z = place[2];
    let isOut = false;
    for (let round = 0; round < 40 && !isOut; round++) {
      let worst = ON_PLANE / 2;
      let at = -1;
      for (let i = 0; i < PLANE * count; i += PLANE) {
        const behind = planes[i + 3] - planes[i] * x - planes[i + 1] * y - planes[i + 2] * z;
        if (behind <= worst) continue;
        worst = behind;
        at = i;
      }
      isOut = at < 0;
      if (isOut) break;
      const way = 1.0000001 * worst;
      x += way * planes[at];
      y += way * planes[at + 1];
      z += way * planes[at + 2];
    }
    place[0] = x;
    place[1] = y;
    place[2] = z;
    return isOut || this.isOutside();
  }

  private readonly down = new Float64Array(3);
  private readonly way = new Float64Array(3);
  private readonly held = new Float64Array(9);

  // From an outside place towards less volume, along up to two planes, to where three of them meet: a walk over the corners' neighbourhood of
  // the linear programme, not its optimum in all cases.
  private slideIn(): void {
    const { planes, count, place, down, way, held } = this;
    let sx = 0;
    let sy = 0;
    let sz = 0;
    for (let i = 0; i < PLANE * count; i += PLANE) {
      const area = planes[i + 4];
      sx -= planes[i] * area;
      sy -= planes[i + 1] * area;
      sz -= planes[i + 2] * area;
    }
    down[0] = sx;
    down[1] = sy;
    down[2] = sz;
    const steepest = Math.sqrt(sx * sx + sy * sy + sz * sz);
    for (let step = 0; step < 3; step++) {
      way.set(down);
      for (let h = 0; h < 3 * step; h += 3) {
        const s = way[0] * held[h] + way[1] * held[h + 1] + way[2] * held[h + 2];
        for (let k = 0; k < 3; k++) way[k] -= s * held[h + k];
      }
      const l = Math.sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2]);
      if (l < 1e-9 * steepest || l === 0) return;
      const wx = way[0] / l;
      const wy = way[1] / l;
      const wz = way[2] / l;
      const x = place[0];
      const y = place[1];
      const z = place[2];
      let reach = Infinity;
      let at = -1;
      for (let i = 0; i < PLANE * count; i += PLANE) {
        const along = planes[i] * wx + planes[i + 1] * wy + planes[i + 2] * wz;
        if (along > -1e-6) continue;
        const room = Math.max(0, planes[i] * x + planes[i + 1] * y + planes[i + 2] * z - planes[i + 3]);
        if (room < -along * reach) {
          reach = room / -along;
          at = i;
        }
      }
      if (at < 0 || reach > 1e3) return;
      place[0] += reach * wx;
      place[1] += reach * wy;
      place[2] += reach * wz;
      // The plane that was reached joins those that are held, made square to them.
      const own = 3 * step;
      for (let k = 0; k < 3; k++) held[own + k] = planes[at + k];
      for (let h = 0; h < own; h += 3) {
        const s = held[own] * held[h] + held[own + 1] * held[h + 1] + held[own + 2] * held[h + 2];
        for (let k = 0; k < 3; k++) held[own + k] -= s * held[h + k];
      }
      const m = Math.sqrt(held[own] * held[own] + held[own + 1] * held[own + 1] + held[own + 2] * held[own + 2]);
      if (m === 0) return;
      for (let k = 0; k < 3; k++) held[own + k] /= m;
    }
  }
}
