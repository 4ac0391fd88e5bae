// The corners of a triangle that is clipped: place across the direction that is looked along, and height. And what is left of it after each side.
const CLIP = new Float64Array(3 * 16);

const CLIPPED = new Float64Array(3 * 16);

/**
 * The greatest height of a triangle over a counter-clockwise other one, 0 where it lies lower or beside it: its corners' places are in `q` from `b`, the
 * other's in `p` from `a`. It is clipped by the other's sides (Sutherland, Hodgman, Reentrant polygon clipping, 1974).
 */
export function greatestOver(p: Float64Array, a: number, q: Float64Array, b: number, h0: number, h1: number, h2: number): number {
  if (isBeside(q, b, p, a) || isBeside(p, a, q, b)) return 0;
  let from = CLIP;
  let to = CLIPPED;
  let count = 3;
  for (let k = 0; k < 3; k++) {
    from[3 * k] = q[b + 2 * k];
    from[3 * k + 1] = q[b + 2 * k + 1];
  }
  from[2] = h0;
  from[5] = h1;
  from[8] = h2;
  for (let k = 0; k < 6 && count > 0; k += 2) {
    const x = p[a + k];
    const y = p[a + k + 1];
    const next = a + ((k + 2) % 6);
    const dx = p[next] - x;
    const dy = p[next + 1] - y;
    const slack = 1e-9 * (dx * dx + dy * dy);
    let kept = 0;
    for (let i = 0; i < count; i++) {
      const u = 3 * i;
      const w = 3 * ((i + 1) % count);
      const s = dx * (from[u + 1] - y) - dy * (from[u] - x);
      const r = dx * (from[w + 1] - y) - dy * (from[w] - x);
      if (s > slack) {
        to[3 * kept] = from[u];
        to[3 * kept + 1] = from[u + 1];
        to[3 * kept + 2] = from[u + 2];
        kept++;
      }
      if (s > slack !== r > slack) {
        const share = s / (s - r);
        for (let m = 0; m < 3; m++) to[3 * kept + m] = from[u + m] + share * (from[w + m] - from[u + m]);
        kept++;
      }
    }
    count = kept;
    [from, to] = [to, from];
  }
  let most = 0;
  for (let i = 0; i < count; i++) {
    if (from[3 * i + 2] > most) most = from[3 * i + 2];
  }
  return most;
}

// Whether a side of a counter-clockwise triangle has all of another one beyond it.
function isBeside(p: Float64Array, a: number, q: Float64Array, b: number): boolean {
  for (let k = 0; k < 6; k += 2) {
    const x = p[a + k];
    const y = p[a + k + 1];
    const next = k === 4 ? a : a + k + 2;
    const dx = p[next] - x;
    const dy = p[next + 1] - y;
    const slack = 1e-9 * (dx * dx + dy * dy);
    if (dx * (q[b + 1] - y) - dy * (q[b] - x) > slack) continue;
    if (dx * (q[b + 3] - y) - dy * (q[b + 2] - x) > slack) continue;
    if (dx * (q[b + 5] - y) - dy * (q[b + 4] - x) > slack) continue;
    return true;
  }
  return false;
}
