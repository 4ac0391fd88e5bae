import type { Motion } from '#core/math';

/** Puts the box along the axes around a moved box into `into`; boxes are six numbers, low x y z and high x y z, from `at` on. */
export function movedBox(box: Float64Array, at: number, { r, t }: Motion, into: Float64Array): void {
  for (let k = 0; k < 3; k++) {
    let middle = t[k];
    let half = 0;
    for (let j = 0; j < 3; j++) {
      middle += (r[3 * k + j] * (box[at + j] + box[at + 3 + j])) / 2;
      half += (Math.abs(r[3 * k + j]) * (box[at + 3 + j] - box[at + j])) / 2;
    }
    into[k] = middle - half;
    into[3 + k] = middle + half;
  }
}
