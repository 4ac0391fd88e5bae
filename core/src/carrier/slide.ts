import { roundTo } from '#core/math';

/** What a slide's tool is to be called by where it is measured from a reference face; mm, X on diameter. */
export interface SlideGeometry {
  /** The geometry value with which the tool passes the centre by the overlap at the smallest position. */
  readonly wanted: number;
  /** What the model has: the distance from the reference to the tip, on diameter. */
  readonly model: number;
  readonly difference: number;
  /** How far the model's tip passes the centre at the smallest position, on diameter; negative where it does not get there. */
  readonly overlap: number;
  /** The diameter that the model's tip stands on with the slide at its largest position. */
  readonly largestDiameter: number;
}

/**
 * Geometry of a tool on a slide that is measured from a reference (domain): the slide's position p, on diameter, lies in `positions` between reference and spindle
 * axis; at p the tip stands on diameter p - g. `tipX`: the tip in the slide's own turning plane about its reference, on radius; negative towards the axis.
 */
export function slideGeometry([least, most]: readonly [number, number], tipX: number, overlap: number): SlideGeometry {
  const [wanted, model] = [least + overlap, -2 * tipX];
  return {
    wanted: roundTo(wanted, 6),
    model: roundTo(model, 6),
    difference: roundTo(model - wanted, 6),
    overlap: roundTo(model - least, 6),
    largestDiameter: roundTo(most - model, 6),
  };
}
