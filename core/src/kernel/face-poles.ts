// Places of a face where one of its two coordinates does not matter.
import type { Surface } from '#core/mesh';
import type { PutPoint } from './surface-points.ts';

// mm. A place that moves by less when one of its coordinates changes by much is a pole.
const AT_POLE = 1e-9;
// Of a range: nodes as near to its end are at its end.
const AT_END = 1e-9;

/**
 * By node, 1 where the first coordinate does not matter (the tip of a cone, the poles of a ball), 2 where the second does not. `uv` has two coordinates a node. A
 * face ends at its poles: nodes within its ranges have none.
 */
export function polesOf(put: PutPoint, surface: Surface, uv: Float64Array): Uint8Array {
  const out = new Uint8Array(uv.length / 2);
  if (surface.kind === 'plane' || surface.kind === 'cylinder') return out;
  const [u0, u1, v0, v1] = rangesOf(uv);
  const [here, there] = [new Float64Array(3), new Float64Array(3)];
  const isThere = (u: number, v: number) => {
    put(u, v, there, 0);
    return Math.hypot(there[0] - here[0], there[1] - here[1], there[2] - here[2]) < AT_POLE;
  };
  const nearU = AT_END * (u1 - u0);
  const nearV = AT_END * (v1 - v0);
  for (let i = 0; i < out.length; i++) {
    const u = uv[2 * i];
    const v = uv[2 * i + 1];
    const isEndOfU = u - u0 <= nearU || u1 - u <= nearU;
    const isEndOfV = v - v0 <= nearV || v1 - v <= nearV;
    if (!isEndOfU && !isEndOfV) continue;
    put(u, v, here, 0);
    // Towards the far end of the range, by a part of it that is no whole turn.
    const awayU = u + 0.31 * (u - u0 < u1 - u ? u1 - u0 : u0 - u1);
    const awayV = v + 0.31 * (v - v0 < v1 - v ? v1 - v0 : v0 - v1);
    if (u1 > u0 && isEndOfV && isThere(awayU, v)) out[i] = 1;
    else if (v1 > v0 && isEndOfU && isThere(u, awayV)) out[i] = 2;
  }
  return out;
}

function rangesOf(uv: Float64Array): [number, number, number, number] {
  let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    u0 = Math.min(u0, uv[i]);
    u1 = Math.max(u1, uv[i]);
    v0 = Math.min(v0, uv[i + 1]);
    v1 = Math.max(v1, uv[i + 1]);
  }
  return [u0, u1, v0, v1];
}

/** A coordinate (0 or 1) of a triangle's corners, given by where they are in `uv`. At a pole it is what the other two have: the node's own may be on the other side of the face. */
export function coordinatesAt(uv: Float64Array, poles: Uint8Array, a: number, b: number, c: number, which: 0 | 1): [number, number, number] {
  const at = [uv[a + which], uv[b + which], uv[c + which]] as [number, number, number];
  if ((poles[a / 2] | poles[b / 2] | poles[c / 2]) === 0) return at;
  const free = [a, b, c].map((i) => poles[i / 2] === which + 1);
  const held = at.filter((_, k) => !free[k]);
  if (held.length === 0) return at;
  const mean = held.reduce((s, x) => s + x, 0) / held.length;
  return [free[0] ? mean : at[0], free[1] ? mean : at[1], free[2] ? mean : at[2]];
}
