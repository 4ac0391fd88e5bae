// Where a model stands in its file: turned by steps about the file's axes, then shifted.
import type { Shape3D } from 'replicad';
import { compose, IDENTITY, type Motion, moveFrame, rotationAbout, roundTo, translation, type Vec3 } from '#core/math';
import type { MarkedPlace } from './corpus-model.ts';

export interface Pose {
  readonly steps: readonly { readonly deg: number; readonly axis: [number, number, number] }[];
  readonly by: [number, number, number];
}

export const FILE_AXES: readonly [number, number, number][] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** The motion from a model's mount frame into its file. */
export const motionOf = ({ steps, by }: Pose): Motion =>
  compose(
    translation(by),
    steps.reduce((m, s) => compose(rotationAbout([0, 0, 0], s.axis, (s.deg * Math.PI) / 180), m), IDENTITY),
  );

/** A shape in its place in the file. */
export const posed = (shape: Shape3D, { steps, by }: Pose): Shape3D => steps.reduce((s: Shape3D, t) => s.rotate(t.deg, [0, 0, 0], t.axis), shape).translate(by);

/** A point as the truth has it, to a nanometre. */
export const tidy = (v: Vec3): Vec3 => [roundTo(v[0], 6), roundTo(v[1], 6), roundTo(v[2], 6)];
const unit = (v: Vec3): Vec3 => [roundTo(v[0], 10), roundTo(v[1], 10), roundTo(v[2], 10)];

/** A marked place of a model as the truth has it, in the file. */
export function placeIn(fileFromMount: Motion, p: MarkedPlace): MarkedPlace {
  const f = moveFrame(fileFromMount, p.frame);
  return { connection: p.connection, frame: { origin: tidy(f.origin), z: unit(f.z), x: unit(f.x) } };
}
