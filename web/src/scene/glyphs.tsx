import { Matrix4, Quaternion, Vector3 } from 'three';
import { useMemo } from 'react';
import { FatLine } from './fat-line.tsx';
import type { StageLabel } from './labels.tsx';
import { addScaled, type Frame, type Vec3, worldFromFrame, yOf } from '#core/math';

/** A frame that is drawn on the stage, in stage coordinates. */
export interface StageFrame {
  readonly key: string;
  readonly kind: 'mount' | 'seat';
  readonly frame: Frame;
  readonly label: string;
  readonly quiet?: boolean;
  /** What is true of its third axis; without it, that it goes across. */
  readonly third?: string;
}

export interface StageTip {
  readonly key: string;
  readonly noseCentre: Vec3;
  readonly noseRadius: number;
  readonly virtualTip: Vec3;
  /** The plane of the nose circle: X and Z of the tool's mount. */
  readonly frame: Frame;
  readonly label: string;
}

/** A point that is being made, or where something is wrong. */
export interface StageMark {
  readonly key: string;
  readonly at: Vec3;
  readonly direction?: Vec3;
  readonly label?: string;
  readonly wrong?: boolean;
}

const ACCENT = '#1c766c';
const WRONG = '#a43b2d';

const matrixOf = (frame: Frame) => {
  const { r, t } = worldFromFrame(frame);
  return new Matrix4().set(r[0], r[1], r[2], t[0], r[3], r[4], r[5], t[1], r[6], r[7], r[8], t[2], 0, 0, 0, 1);
};

function Arrow({ from, along, length, colour }: { from: Vec3; along: Vec3; length: number; colour: string }) {
  const end = addScaled(from, along, length);
  const rotation = useMemo(() => new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...along)), [along]);
  return (
    <>
      <FatLine points={[from, end]} colour={colour} width={1.6} renderOrder={5} />
      <mesh position={end} quaternion={rotation} renderOrder={5}>
        <coneGeometry args={[length * 0.05, length * 0.16, 14]} />
        <meshBasicMaterial color={colour} depthTest={false} />
      </mesh>
    </>
  );
}

/** Words beside the glyphs, each with its place on the stage. */
export function labelsOf(frames: readonly StageFrame[], tips: readonly StageTip[], marks: readonly StageMark[], size: number): StageLabel[] {
  const half = size * 0.45;
  return [
    ...frames.flatMap(({ key, frame, label, quiet, third = 'across' }): StageLabel[] => [
      { key: `${key} name`, text: label, kind: 'strong', at: addScaled(addScaled(frame.origin, frame.x, -half * 1.15), frame.z, -half * 0.3) },
      ...(quiet
        ? []
        : [
            { key: `${key} z`, text: 'towards work', at: addScaled(frame.origin, frame.z, size * 1.2) },
            { key: `${key} x`, text: 'radial', at: addScaled(frame.origin, frame.x, size * 0.96) },
            { key: `${key} y`, text: third, at: addScaled(frame.origin, yOf(frame), size * 0.96) },
          ]),
    ]),
    ...tips.map(
      ({ key, label, virtualTip, frame }): StageLabel => ({
        key: `${key} tip`,
        text: label,
        kind: 'tip',
        at: addScaled(addScaled(virtualTip, frame.x, size * 0.25), frame.z, size * 0.12),
      }),
    ),
    ...marks.flatMap(({ key, at, label, wrong }): StageLabel[] => (label ? [{ key: `${key} mark`, text: label, kind: wrong ? 'wrong' : 'strong', at }] : [])),
  ];
}

/** Mount: a flat ring; seat: an open square bracket; each with its three axes and what they mean. */
export function FrameGlyph({ frame, kind, size, quiet }: StageFrame & { size: number }) {
  const matrix = useMemo(() => matrixOf(frame), [frame]);
  const half = size * 0.45;
  const bracket: Vec3[] = [
    [half * 0.35, half, 0],
    [half, half, 0],
    [half, -half, 0],
    [half * 0.35, -half, 0],
  ];
  const other: Vec3[] = bracket.map(([x, y, z]) => [-x, y, z]);
  return (
    <>
      <group matrix={matrix} matrixAutoUpdate={false}>
        {kind === 'mount' ? (
          <mesh renderOrder={4}>
            <ringGeometry args={[half * 0.92, half, 64]} />
            <meshBasicMaterial color={ACCENT} side={2} transparent opacity={quiet ? 0.45 : 0.95} depthTest={false} />
          </mesh>
        ) : (
          <>
            <FatLine points={bracket} colour={ACCENT} width={2.5} renderOrder={4} opacity={quiet ? 0.5 : 1} />
            <FatLine points={other} colour={ACCENT} width={2.5} renderOrder={4} opacity={quiet ? 0.5 : 1} />
          </>
        )}
      </group>
      <Arrow from={frame.origin} along={frame.z} length={size} colour={ACCENT} />
      {!quiet && <Arrow from={frame.origin} along={frame.x} length={size * 0.8} colour={ACCENT} />}
      {!quiet && <Arrow from={frame.origin} along={yOf(frame)} length={size * 0.8} colour={ACCENT} />}
    </>
  );
}

/** A small cross-hair on the nose circle, with the virtual tip marked. */
export function TipGlyph({ noseCentre, noseRadius, virtualTip, frame, size }: StageTip & { size: number }) {
  const circle = useMemo(
    () =>
      Array.from({ length: 49 }, (_, i): Vec3 => {
        const a = (i / 48) * 2 * Math.PI;
        return addScaled(addScaled(noseCentre, frame.x, noseRadius * Math.cos(a)), frame.z, noseRadius * Math.sin(a));
      }),
    [noseCentre, noseRadius, frame],
  );
  const arm = Math.max(noseRadius * 1.8, size * 0.06);
  const cross = (along: Vec3): [Vec3, Vec3] => [addScaled(noseCentre, along, -arm), addScaled(noseCentre, along, arm)];
  return (
    <>
      <FatLine points={circle} colour="#b4173f" width={2} renderOrder={6} />
      <FatLine points={cross(frame.x)} colour="#b4173f" width={1.2} renderOrder={6} />
      <FatLine points={cross(frame.z)} colour="#b4173f" width={1.2} renderOrder={6} />
      <mesh position={virtualTip} renderOrder={6}>
        <sphereGeometry args={[size * 0.012, 12, 8]} />
        <meshBasicMaterial color="#b4173f" depthTest={false} />
      </mesh>
    </>
  );
}

/** A point as a small ball with three short arms, and its direction as an arrow. */
export function MarkGlyph({ at, direction, wrong, size }: StageMark & { size: number }) {
  const colour = wrong ? WRONG : '#e0a32e';
  const arm = size * 0.09;
  const arms: Vec3[] = [
    [arm, 0, 0],
    [0, arm, 0],
    [0, 0, arm],
  ];
  return (
    <>
      {arms.map((a) => (
        <FatLine key={a.join()} points={[addScaled(at, a, -1), addScaled(at, a, 1)]} colour={colour} width={1.6} renderOrder={7} />
      ))}
      <mesh position={at} renderOrder={7}>
        <sphereGeometry args={[size * (wrong ? 0.045 : 0.025), 16, 10]} />
        <meshBasicMaterial color={colour} depthTest={false} />
      </mesh>
      {direction && <Arrow from={at} along={direction} length={size * 0.9} colour={colour} />}
    </>
  );
}
