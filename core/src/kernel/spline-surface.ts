/** A B-spline surface as its numbers: knots with repetition, poles row by row (along u) as x y z, weights in the same order where it is rational. */
export interface SplineSurface {
  readonly degreeU: number;
  readonly degreeV: number;
  readonly knotsU: Float64Array;
  readonly knotsV: Float64Array;
  readonly countU: number;
  readonly countV: number;
  readonly poles: Float64Array;
  readonly weights?: Float64Array;
}

/** Evaluates a B-spline surface at places of it: basis functions by Cox and de Boor (Piegl and Tiller, The NURBS Book, algorithms A2.1, A2.2 and A4.3). */
export class SplinePoints {
  private readonly surface: SplineSurface;
  private readonly u: Basis;
  private readonly v: Basis;

  constructor(surface: SplineSurface) {
    this.surface = surface;
    this.u = new Basis(surface.knotsU, surface.degreeU, surface.countU);
    this.v = new Basis(surface.knotsV, surface.degreeV, surface.countV);
  }

  /** Puts the place with these coordinates into `out`, from `at` on. */
  put(u: number, v: number, out: Float64Array, at: number): void {
    const { degreeU, degreeV, countV, poles, weights } = this.surface;
    const firstU = this.u.find(u);
    const firstV = this.v.find(v);
    const inU = this.u.values;
    const inV = this.v.values;
    let x = 0;
    let y = 0;
    let z = 0;
    let w = 0;
    for (let i = 0; i <= degreeU; i++) {
      const row = (firstU + i) * countV + firstV;
      for (let j = 0; j <= degreeV; j++) {
        const pole = row + j;
        const share = inU[i] * inV[j] * (weights ? weights[pole] : 1);
        x += share * poles[3 * pole];
        y += share * poles[3 * pole + 1];
        z += share * poles[3 * pole + 2];
        w += share;
      }
    }
    out[at] = x / w;
    out[at + 1] = y / w;
    out[at + 2] = z / w;
  }
}

// The basis functions that are not zero at a place, of one of the two directions.
class Basis {
  readonly values: Float64Array;
  private readonly knots: Float64Array;
  private readonly degree: number;
  private readonly count: number;
  private readonly left: Float64Array;
  private readonly right: Float64Array;
  private span: number;

  constructor(knots: Float64Array, degree: number, count: number) {
    this.knots = knots;
    this.degree = degree;
    this.count = count;
    this.values = new Float64Array(degree + 1);
    this.left = new Float64Array(degree + 1);
    this.right = new Float64Array(degree + 1);
    this.span = degree;
  }

  /** Puts their values into `values` and gives the index of the first one. */
  find(t: number): number {
    const { knots, degree, values, left, right } = this;
    const span = this.spanOf(t);
    values[0] = 1;
    for (let j = 1; j <= degree; j++) {
      left[j] = t - knots[span + 1 - j];
      right[j] = knots[span + j] - t;
      let saved = 0;
      for (let r = 0; r < j; r++) {
        const share = values[r] / (right[r + 1] + left[j - r]);
        values[r] = saved + right[r + 1] * share;
        saved = left[j - r] * share;
      }
      values[j] = saved;
    }
    return span - degree;
  }

  // The last knot that is not above the place; beyond the ends the outermost stretch goes on. Places come one beside the other.
  private spanOf(t: number): number {
    const { knots, degree, count } = this;
    if (knots[this.span] <= t && t < knots[this.span + 1]) return this.span;
    let low = degree;
    let high = count;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (knots[middle] <= t) low = middle;
      else high = middle;
    }
    // Of the last knot, which is repeated, the stretch before it.
    while (low > degree && knots[low] === knots[low + 1]) low--;
    this.span = low;
    return low;
  }
}
