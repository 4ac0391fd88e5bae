import earcut from 'earcut';

/**
 * The triangles of a flat polygon, by the numbers of its corners, all counter-clockwise whichever way it runs. `flat` has x and y of each corner; `holes` are the
 * numbers of the corners at which rings of holes begin. Of one whose rim crosses itself there may be fewer than its corners say.
 */
export function triangulateFlat(flat: ArrayLike<number>, holes?: readonly number[]): number[] {
  const cut = earcut(flat, holes);
  for (let i = 0; i < cut.length; i += 3) {
    const [a, b, c] = [2 * cut[i], 2 * cut[i + 1], 2 * cut[i + 2]];
    const area = (flat[b] - flat[a]) * (flat[c + 1] - flat[a + 1]) - (flat[b + 1] - flat[a + 1]) * (flat[c] - flat[a]);
    if (area < 0) [cut[i + 1], cut[i + 2]] = [cut[i + 2], cut[i + 1]];
  }
  return cut;
}
