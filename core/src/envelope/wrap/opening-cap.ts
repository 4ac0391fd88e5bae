import { nextHalf, triangulateFlat } from '#core/mesh';
import type { OpeningLoop } from './opening-loops.ts';

// mm. A cap's edge that spans no more of a bore than this more than its border does is as good as that.
const SPAN_SLACK = 1e-3;

/**
 * The triangles that close an opening, looking out, by corners of the mesh whose triangles are `t`; undefined where its border cannot be filled. On a
 * cylinder or cone they run along straight lines of it, so that they follow the face as closely as the opening's border does.
 */
export function capOf(t: Uint32Array, { halves, flat, unroller }: OpeningLoop): number[] | undefined {
  // The face has the loop clockwise, its cap the other way.
  const corners = halves.map((h) => t[h]).reverse();
  const places = [...flat].reverse();
  const triangles = Uint32Array.from(triangulateFlat(places.flat()));
  if (triangles.length !== 3 * (corners.length - 2)) return undefined;
  if (unroller.round > 0) {
    flipAlong(triangles, places);
    const spanOf = (a: number, b: number) => Math.abs(places[a][0] - places[b][0]);
    const most = places.reduce((m, _, i) => Math.max(m, spanOf(i, (i + 1) % places.length)), 0) + SPAN_SLACK;
    // A chord across a bore would stand out into it, one across a shank would lie below its own hole's rim.
    if (triangles.some((v, h) => spanOf(v, triangles[nextHalf(h)]) > most)) return undefined;
  }
  return Array.from(triangles, (v) => corners[v]);
}

type Places = readonly (readonly [number, number])[];

const crossOf = (places: Places, a: number, b: number, c: number): number =>
  (places[b][0] - places[a][0]) * (places[c][1] - places[a][1]) - (places[b][1] - places[a][1]) * (places[c][0] - places[a][0]);

// Flips inner edges of a triangulated polygon as long as one gets shorter along s.
function flipAlong(t: Uint32Array, places: Places): void {
  const key = (a: number, b: number) => a * places.length + b;
  const halfOf = new Map<number, number>();
  t.forEach((v, h) => halfOf.set(key(v, t[nextHalf(h)]), h));
  const queue = Array.from(t, (_, h) => h);
  for (let i = 0; i < queue.length && i < 200 * t.length; i++) {
    const h = queue[i];
    const [a, b] = [t[h], t[nextHalf(h)]];
    const other = halfOf.get(key(b, a));
    if (other === undefined) continue;
    const [c, d] = [t[nextHalf(nextHalf(h))], t[nextHalf(nextHalf(other))]];
    if (Math.abs(places[c][0] - places[d][0]) > Math.abs(places[a][0] - places[b][0]) - 1e-9) continue;
    // Around the two triangles: a, d, b, c. The new edge runs from d to c.
    if (crossOf(places, a, d, c) <= 0 || crossOf(places, d, b, c) <= 0) continue;
    halfOf.delete(key(a, b));
    halfOf.delete(key(b, a));
    const [one, two] = [h - (h % 3), other - (other % 3)];
    t.set([a, d, c], one);
    t.set([d, b, c], two);
    for (const base of [one, two])
      for (let k = 0; k < 3; k++) {
        halfOf.set(key(t[base + k], t[nextHalf(base + k)]), base + k);
        queue.push(base + k);
      }
  }
}
