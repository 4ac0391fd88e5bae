import { type FlatPoint, flatDistance, type HalfProfile, type PathPiece, reversePath, type RevolvedShape, splitProfile, boxOfPath } from '#core/outline';

/** The outside of what is turned, drawn from the machine's end to the work: corners, and arcs about a centre. */
export class Outside {
  private readonly pieces: PathPiece[] = [];
  private at: FlatPoint;

  constructor(start: FlatPoint) {
    this.at = start;
  }

  /** A line to a place; nothing where it is there already. */
  to(z: number, r: number): this {
    const to: FlatPoint = [z, r];
    if (flatDistance(this.at, to) > 1e-9) this.pieces.push({ kind: 'line', from: this.at, to });
    this.at = to;
    return this;
  }

  /** A round that bulges to the outside, about a centre. */
  round(z: number, r: number, centre: FlatPoint): this {
    const to: FlatPoint = [z, r];
    if (flatDistance(this.at, to) > 1e-9) this.pieces.push({ kind: 'arc', from: this.at, to, centre, ccw: false });
    this.at = to;
    return this;
  }

  /** Closed back to where it began: along the axis, or along a bore that was drawn. Material lies on its left then. */
  close(): HalfProfile {
    const [first] = this.pieces;
    this.to(first.from[0], first.from[1]);
    return [reversePath(this.pieces)];
  }
}

/** The half profile of what is turned from solid: its corners as z and diameter, from the machine's end to the work, closed along its axis. */
export const stepped = (corners: readonly (readonly [z: number, diameter: number])[]): HalfProfile => {
  const outside = new Outside([corners[0][0], 0]);
  for (const [z, diameter] of corners) outside.to(z, diameter / 2);
  return outside.to(corners[corners.length - 1][0], 0).close();
};

/** What is turned as bodies: the stretch that cuts, counted from the work end, apart from the shank. */
export function turnedShape(profile: HalfProfile, cutting: number, name: string): RevolvedShape {
  const [low, , high] = boxOfPath(profile.flat());
  const base = { format: 'ruota-shape', version: 1, form: 'revolved' } as const;
  if (cutting <= 0) return { ...base, bodies: [{ name, role: 'tool body', profile }] };
  if (cutting >= high - low - 1e-9) return { ...base, bodies: [{ name: 'Cutting part', role: 'cutting', profile }] };
  const { below, above } = splitProfile(profile, high - cutting);
  return {
    ...base,
    bodies: [
      { name: 'Shank', role: 'tool body', profile: below },
      { name: 'Cutting part', role: 'cutting', profile: above },
    ],
  };
}
