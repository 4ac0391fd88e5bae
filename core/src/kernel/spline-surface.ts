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
  private readonly degreeU: number;
  private readonly degreeV: number;
  private readonly countV: number;
  private readonly u: Basis;
  private readonly v: Basis;
  /** Of each pole x, y, z, times its weight, and the weight. */
  private readonly poles: Float64Array;

  constructor({ degreeU, degreeV, knotsU, knotsV, countU, countV, poles, weights }: SplineSurface) {
    [this.degreeU, this.degreeV, this.countV] = [degreeU, degreeV, countV];
    this.u = new Basis(knotsU, degreeU, countU);
    this.v = new Basis(knotsV, degreeV, countV);
    this.poles = new Float64Array(4 * countU * countV);
    for (let i = 0; i < countU * countV; i++) {
      const weight = weights ? weights[i] : 1;
      for (let k = 0; k < 3; k++) this.poles[4 * i + k] = weight * poles[3 * i + k];
      this.poles[4 * i + 3] = weight;
    }
  }

  /** Puts the place with these coordinates into `out`, from `at` on. */
  put(u: number, v: number, out: Float64Array, at: number): void {
    const { degreeU, degreeV, countV, poles } = this;
    const firstU = this.u.find(u);
    const firstV = this.v.find(v);
    const inU = this.u.values;
    const inV = this.v.values;
    let x = 0;
    let y = 0;
    let z = 0;
    let w = 0;
    for (let i = 0; i <= degreeU; i++) {
      // Along a row first: a third of the products.
      let rx = 0;
      let ry = 0;
      let rz = 0;
      let rw = 0;
      let pole = 4 * ((firstU + i) * countV + firstV);
      for (let j = 0; j <= degreeV; j++, pole += 4) {
        const share = inV[j];
        rx += share * poles[pole];
        ry += share * poles[pole + 1];
        rz += share * poles[pole + 2];
        rw += share * poles[pole + 3];
      }
      const share = inU[i];
      x += share * rx;
      y += share * ry;
      z += share * rz;
      w += share * rw;
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
  private readonly shares: Float64Array[] = [];

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
    const shares = (this.shares[span] ??= this.sharesOf(span));
    values[0] = 1;
    for (let j = 1, at = 0; j <= degree; j++) {
      left[j] = t - knots[span + 1 - j];
      right[j] = knots[span + j] - t;
      let saved = 0;
      for (let r = 0; r < j; r++) {
        const share = values[r] * shares[at++];
        values[r] = saved + right[r + 1] * share;
        saved = left[j - r] * share;
      }
      values[j] = saved;
    }
    return span - degree;
  }

  // Of a stretch between knots, one over what its functions are divided by, in the order of use: the same for all places of it.
  private sharesOf(span: number): Float64Array {
    const { knots, degree } = this;
    const shares = new Float64Array((degree * (degree + 1)) / 2);
    for (let j = 1, at = 0; j <= degree; j++) for (let r = 0; r < j; r++) shares[at++] = 1 / (knots[span + r + 1] - knots[span + 1 - j + r]);
    return shares;
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
