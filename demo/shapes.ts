// Shapes that several demo models share. All are made in the tool's own mount frame: Z towards the work, X radial, Y up.
import { draw, drawPolysides, makeBaseBox, makeCylinder, makePlane, type Plane, type Shape3D, type Solid } from 'replicad';

export type P2 = [number, number];

/** A closed polygon through points. */
export function polygon(points: readonly P2[]) {
  const pen = draw(points[0]);
  for (const p of points.slice(1)) pen.lineTo(p);
  return pen.close();
}

/** A prism over a polygon in (x, z), from y = top down to y = top - depth. */
export const prismXZ = (points: readonly P2[], top: number, depth: number): Solid => polygon(points).sketchOnPlane('XZ', [0, top, 0]).extrude(depth) as Solid;

/** A solid of revolution about Z from a half profile in (r, z). */
export const turned = (points: readonly P2[]): Solid => polygon(points).sketchOnPlane('XZ').revolve([0, 0, 1]) as Solid;

/** A serrated shank 40 below the contact face: teeth of pitch 3.175 at 90 degrees on a flat. */
export function serratedShank(): Solid {
  const shank = turned([
    [0, -63],
    [18, -63],
    [20, -61],
    [20, -3],
    [19.4, -2.6],
    [19.4, 0.5],
    [0, 0.5],
  ]);
  const teeth: P2[] = [[14, -58]];
  for (let z = -56; z < -12; z += 3.175) teeth.push([15.2, z], [16.8, z + 1.6]);
  teeth.push([14, -10], [30, -10], [30, -58]);
  return shank.cut(prismXZ(teeth, 25, 50).intersect(makeBaseBox(40, 50, 60).translate([34, 0, -62])));
}

/** A screw along -Y with its head's top at y = 0: head with a six-sided socket, and rings where the thread would be. */
export function screw(headDiameter: number, shankDiameter: number, length: number, at: [number, number, number]): Solid {
  const [rh, rs] = [headDiameter / 2, shankDiameter / 2];
  const headHeight = headDiameter * 0.35;
  const profile: P2[] = [
    [0, 0],
    [rh, 0],
    [rh, -headHeight * 0.4],
    [rs, -headHeight],
  ];
  const pitch = Math.max(0.5, shankDiameter * 0.16);
  for (let y = -headHeight - pitch; y > -length + pitch; y -= pitch) profile.push([rs, y], [rs * 0.86, y - pitch / 2]);
  profile.push([rs * 0.86, -length], [0, -length]);
  const body = polygon(profile).sketchOnPlane('XY').revolve([0, 1, 0]) as Solid;
  const socket = drawPolysides(rh * 0.5, 6)
    .sketchOnPlane(makePlane('XZ'))
    .extrude(headHeight * 0.7) as Solid;
  return body.cut(socket).translate(at);
}

/** A block's clamping screw along Y, its head's top at a place. */
export const clampScrew = (x: number, y: number, z: number, length: number): Solid =>
  screw(9, 8, length, [0, 0, 0]).rotate(180, [0, 0, 0], [0, 0, 1]).translate([x, y, z]);

// Strokes of seven-line letters: [x0, y0, x1, y1] in units of half a letter's width.
const STROKES: Record<string, P2[][]> = {
  '0': [
    [
      [0, 0],
      [2, 0],
    ],
    [
      [2, 0],
      [2, 4],
    ],
    [
      [2, 4],
      [0, 4],
    ],
    [
      [0, 4],
      [0, 0],
    ],
  ],
  '1': [
    [
      [1, 0],
      [1, 4],
    ],
  ],
  '2': [
    [
      [0, 4],
      [2, 4],
    ],
    [
      [2, 4],
      [2, 2],
    ],
    [
      [0, 2],
      [2, 2],
    ],
    [
      [0, 2],
      [0, 0],
    ],
    [
      [0, 0],
      [2, 0],
    ],
  ],
  '5': [
    [
      [0, 4],
      [2, 4],
    ],
    [
      [0, 4],
      [0, 2],
    ],
    [
      [0, 2],
      [2, 2],
    ],
    [
      [2, 2],
      [2, 0],
    ],
    [
      [0, 0],
      [2, 0],
    ],
  ],
  '6': [
    [
      [0, 4],
      [0, 0],
    ],
    [
      [0, 2],
      [2, 2],
    ],
    [
      [2, 2],
      [2, 0],
    ],
    [
      [0, 0],
      [2, 0],
    ],
  ],
  H: [
    [
      [0, 0],
      [0, 4],
    ],
    [
      [2, 0],
      [2, 4],
    ],
    [
      [0, 2],
      [2, 2],
    ],
  ],
  L: [
    [
      [0, 0],
      [0, 4],
    ],
    [
      [0, 0],
      [2, 0],
    ],
  ],
  F: [
    [
      [0, 0],
      [0, 4],
    ],
    [
      [0, 4],
      [2, 4],
    ],
    [
      [0, 2],
      [2, 2],
    ],
  ],
  '-': [
    [
      [0, 2],
      [2, 2],
    ],
  ],
};

/** Cuts letters into a flat face: `plane` lies on it with its normal outwards; strokes are `depth` deep. */
export function engrave(solid: Shape3D, text: string, plane: Plane, height: number, depth: number): Shape3D {
  const unit = height / 4;
  const wide = height / 12;
  let result = solid;
  [...text].forEach((letter, i) => {
    for (const [[x0, y0], [x1, y1]] of (STROKES[letter] ?? []) as [P2, P2][]) {
      const x = i * unit * 3.4;
      const [ax, bx] = [x + Math.min(x0, x1) * unit - wide, x + Math.max(x0, x1) * unit + wide];
      const [ay, by] = [Math.min(y0, y1) * unit - wide, Math.max(y0, y1) * unit + wide];
      const cutter = polygon([
        [ax, ay],
        [bx, ay],
        [bx, by],
        [ax, by],
      ])
        .sketchOnPlane(plane.clone())
        .extrude(-depth) as Solid;
      result = result.cut(cutter);
    }
  });
  return result;
}

/** A round hole from a point along a direction. */
export const hole = (radius: number, length: number, at: [number, number, number], along: [number, number, number]): Solid =>
  makeCylinder(radius, length, at, along);
